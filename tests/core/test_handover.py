"""What is handed over: cameras as numbers, shots by themselves, names by a pattern, and whole scenes as packages."""

import csv
import io
import json
import struct
import zipfile
from pathlib import Path

import numpy as np
import pytest
import trimesh
from pxr import Usd, UsdGeom
from scipy.spatial.transform import Rotation

from heron.bake import Bake
from heron.cli import main
from heron.commands import parse_commands, run
from heron.demo import slack_tide
from heron.errors import BadInput, NotFound
from heron.formats.camera_data import write_camera_csv, write_camera_json
from heron.formats.gltf import write_stage
from heron.formats.span import of_shot, whole
from heron.formats.usd import write_usd
from heron.handover.package import read_package, write_package
from heron.handover.parts import ALL, RECIPIENTS, Source
from heron.handover.plan import HandOverRequest, plan, written
from heron.model import changed as with_other
from heron.scene import find, find_named, read_scene, write_scene

SCENE = slack_tide()
BAKE = Bake(SCENE)
SHOT = find_named(SCENE, "shots", "020")
#: With a sound and a board.
HEARD, _ = run(
    SCENE,
    parse_commands(
        json.dumps(
            [
                {"kind": "sound.add", "name": "Gulls", "file": "5" * 24, "samples": 96000, "on": "cut", "lane": "bed", "first": 0},
                {"kind": "shot.set", "shot": SHOT.id, "board": "b" * 24},
            ]
        )
    ),
)  # fmt: skip


def test_camera_data_puts_the_camera_where_usd_has_it(tmp_path):
    """Place, turn, lens and focus of rows against usd-core's reading of the camera; angles by scipy."""
    span = of_shot(SCENE, SHOT)
    rows = list(csv.DictReader(write_camera_csv(span).splitlines()))
    assert [int(row["stage_frame"]) for row in rows] == list(SHOT.stage.array())
    _, (node,) = usd_cameras(span, tmp_path)
    for row in (rows[0], rows[len(rows) // 2], rows[-1]):
        time = int(row["stage_frame"])
        matrix = np.array(UsdGeom.XformCache(time).GetLocalToWorldTransform(node)).T
        np.testing.assert_allclose([float(row[k]) for k in ("x_m", "y_m", "z_m")], matrix[:3, 3], atol=2e-5)
        angles = [float(row[k]) for k in ("pan_deg", "tilt_deg", "roll_deg")]
        np.testing.assert_allclose(
            Rotation.from_euler("YXZ", angles, degrees=True).as_matrix(), matrix[:3, :3], atol=1e-5
        )
        seen = UsdGeom.Camera(node).GetCamera(time)
        assert float(row["focal_mm"]) == pytest.approx(seen.focalLength * 100, abs=1e-3)
        assert float(row["vertical_deg"]) == pytest.approx(seen.GetFieldOfView(seen.FOVVertical), abs=1e-3)
        assert float(row["focus_m"]) == pytest.approx(seen.focusDistance, rel=1e-4)
    # On air from its place in the cut: frames that follow each other, as timecode too.
    cuts = [int(row["cut_frame"]) for row in rows]
    assert cuts == list(range(cuts[0], cuts[0] + len(rows))) and {row["shot"] for row in rows} == {"020"}
    second = divmod(cuts[0], 24)
    assert rows[0]["timecode"] == f"01:00:{second[0]:02d}:{second[1]:02d}"


def usd_cameras(span, tmp_path):
    (tmp_path / "shot.usdc").write_bytes(write_usd(span))
    stage = Usd.Stage.Open(str(tmp_path / "shot.usdc"))
    return stage, [prim for prim in stage.Traverse() if prim.IsA(UsdGeom.Camera)]


def test_a_shot_by_itself_has_its_camera_its_frames_and_spare_ones_as_far_as_the_scene_goes(tmp_path):
    span = of_shot(SCENE, SHOT, 8)
    stage, cameras = usd_cameras(span, tmp_path)
    assert len(cameras) == 1
    assert (stage.GetStartTimeCode(), stage.GetEndTimeCode()) == (SHOT.stage.first - 8, SHOT.stage.last + 8)
    edge = of_shot(SCENE, SHOT, 400)
    assert (edge.frames.first, edge.frames.last) == (SCENE.frames.first, SCENE.frames.last)
    # A figure stands where it stands then in the whole scene, not where it began.
    loaded = trimesh.load_scene(io.BytesIO(write_stage(of_shot(SCENE, SHOT))), file_type="glb")
    root = BAKE.performance(find_named(SCENE, "figures", "Odile")).root[SHOT.stage.first - SCENE.frames.first]
    np.testing.assert_allclose(loaded.graph.get("Odile/root")[0][:3, 3], root, atol=1e-5)
    told = json.loads(write_camera_json(span))
    assert told["first"] == SHOT.stage.first - 8 and len(told["cameras"][0]["rows"]) == SHOT.stage.count + 16


def test_focus_at_infinity_is_left_empty_and_json_has_no_infinity():
    for one in json.loads(write_camera_json(whole(BAKE)))["cameras"]:
        assert len(one["rows"]) == SCENE.frames.count
        assert all(value is None or np.isfinite(value) for row in one["rows"] for value in row)


def test_files_are_called_as_the_pattern_says():
    shots = HandOverRequest(
        recipient="animation",
        by="shots",
        parts=("usd", "csv", "bvh"),
        names="{shot}/{scene}_{camera}_{revision}",
    )
    paths = [one.path for one in plan(Source(whole(BAKE), 7), shots)]
    with_camera = [shot for shot in SCENE.shots if shot.camera is not None]
    assert (
        paths[0]
        == f"{with_camera[0].name}/Slack_Tide_{find(SCENE, 'cameras', with_camera[0].camera).letter}_r7.usdc"
    )
    assert sum(path.endswith(".usdc") for path in paths) == len(with_camera)
    assert any(path.endswith("_cameras.csv") for path in paths) and "Slack_Tide_Odile.bvh" in paths
    for recipient in RECIPIENTS:
        found = plan(Source(whole(BAKE), movie=Path("cut.mp4")), HandOverRequest(recipient=recipient))
        assert {one.part.name for one in found} <= {part.name for part in ALL if recipient in part.recipients}
        assert {"edit": "movie", "animation": "usd", "everybody": "shots"}[recipient] in {
            one.part.name for one in found
        }
        assert len({one.path for one in found}) == len(found)


@pytest.mark.parametrize(
    "asked, says",
    [
        ({"by": "shots", "parts": ("usd",), "names": "{scene}"}, "Two files"),
        ({"parts": ("usd",), "names": "{take}"}, "stands for nothing"),
        ({"parts": ("usd",), "names": "///"}, "nothing of a name"),
        ({"parts": ()}, "Nothing is chosen"),
        ({"parts": ("wishes",)}, "nothing called"),
    ],
)
def test_names_that_cannot_be_are_refused(asked, says):
    with pytest.raises(BadInput, match=says) as error:
        plan(Source(whole(BAKE)), HandOverRequest(**asked))
    assert error.value.remedy


def test_no_name_leaves_the_folder():
    out = plan(Source(whole(BAKE)), HandOverRequest(parts=("otio",), names="../..//{scene}/..\\x"))
    assert out[0].path == "Slack_Tide/x.otio"


def test_a_set_of_its_own_is_referred_to_and_stands_where_it_stood(tmp_path):
    """As usd-core composes it: the stage of each shot with the set, against the stage with the set in it."""
    asked = HandOverRequest(recipient="animation", by="shots", parts=("usd",), set_apart=True)
    source = Source(whole(BAKE))
    paths = [one.path for one in plan(source, asked)]
    assert paths[0] == "Slack_Tide_set.usdc" and len(paths) > 3
    for path, content in written(asked, source):
        (tmp_path / path).parent.mkdir(exist_ok=True)
        (tmp_path / path).write_bytes(content)
    (tmp_path / "whole.usdc").write_bytes(write_usd(BAKE))

    def of_set(path):
        stage = Usd.Stage.Open(str(path))
        cache = UsdGeom.XformCache()
        return {
            str(prim.GetPath()): (
                np.array(cache.GetLocalToWorldTransform(prim)), np.array(UsdGeom.Mesh(prim).GetPointsAttr().Get())
            )
            for prim in stage.Traverse() if prim.IsA(UsdGeom.Mesh) and str(prim.GetPath()).startswith("/World/Set/")
        }  # fmt: skip

    there = of_set(tmp_path / "whole.usdc")
    assert len(there) > 3
    for path in paths[1:3]:
        found = of_set(tmp_path / path)
        assert found.keys() == there.keys()
        for name, (matrix, points) in found.items():
            np.testing.assert_allclose(matrix, there[name][0], atol=1e-9)
            np.testing.assert_array_equal(points, there[name][1])
        # The set itself is in one file alone.
        assert (tmp_path / path).stat().st_size < (tmp_path / "whole.usdc").stat().st_size
    assert not [p for p in plan(source, with_other(asked, parts=("csv",))) if p.part.name == "set"]


def test_a_shot_that_is_dressed_for_itself_has_its_own_set_in_it(tmp_path):
    piece = next(one for one in SCENE.pieces if one.part_of is None)
    dress = {
        "kind": "shot.dress",
        "shot": SHOT.id,
        "command": {"kind": "things.hide", "ids": [piece.id], "hidden": True},
    }
    scene, _ = run(SCENE, parse_commands(json.dumps([dress])))
    asked = HandOverRequest(
        recipient="animation", by="shots", parts=("usd",), set_apart=True, shots=(SHOT.id,)
    )
    for path, content in written(asked, Source(whole(Bake(scene)))):
        (tmp_path / path).parent.mkdir(exist_ok=True)
        (tmp_path / path).write_bytes(content)
        if not path.endswith("_set.usdc"):
            stage = Usd.Stage.Open(str(tmp_path / path))
            below = stage.GetPrimAtPath("/World/Set")
            assert not below.HasAuthoredReferences()
            names = {one.GetName() for one in below.GetChildren()}
            assert names and piece.name.replace(" ", "_") not in names


def test_what_is_not_there_is_left_out_of_all_but_said_of_what_was_chosen():
    source = Source(whole(BAKE), 3)
    names = {path for path, _ in written(HandOverRequest(recipient="edit"), source)}
    assert "Slack_Tide.otio" in names and not any(name.endswith(".mp4") for name in names)
    with pytest.raises(NotFound, match="no movie"):
        list(written(HandOverRequest(parts=("movie",)), source))


def packed():
    return write_package(HEARD, lambda folder, key: b"fLaC" + key.encode())


def test_a_package_is_a_zip_that_brings_the_same_scene_back():
    content = packed()
    assert content == packed()
    with zipfile.ZipFile(io.BytesIO(content)) as sheet:
        assert sheet.testzip() is None and "scene.json" in sheet.namelist()
    back = read_package(content)
    assert back.scene == HEARD and not back.lost
    assert back.sounds == {"5" * 24: b"fLaC" + b"5" * 24} and set(back.boards) == {"b" * 24}
    assert write_scene(back.scene) == write_scene(HEARD)
    lost = read_package(write_package(HEARD, lambda folder, key: None))
    assert lost.lost == (f"sounds/{'5' * 24}.flac", f"boards/{'b' * 24}.jpg")


def changed(content, name, to, mark=True):
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(content)) as sheet, zipfile.ZipFile(out, "w") as new:
        for one in sheet.namelist():
            new.writestr(one, to if one == name else sheet.read(one))
        if name not in sheet.namelist():
            new.writestr(name, to)
    return out.getvalue()


@pytest.mark.parametrize(
    "bad, says",
    [
        (lambda c: b"", "not a package"),
        (lambda c: c[:-80], "not a package"),
        (lambda c: changed(c, "scene.json", b"{}"), "damaged"),
        (lambda c: changed(c, "manifest.json", b'{"format": "heron-package", "version": 9, "files": {}}'), "newer"),
        (lambda c: changed(c, "manifest.json", b'{"format": "else", "version": 1, "files": {}}'), "not a package"),
        (
            lambda c: changed(changed(c, "../evil", b"x"), "manifest.json", json.dumps({
                "format": "heron-package", "version": 1,
                "files": {"../evil": {"sha256": "2d711642b726b04401627ca9fbac32f5c8530fb1903cc4db02258717921a4881"}},
            }).encode()),
            "no scene is made of",
        ),
    ],
)  # fmt: skip
def test_a_bad_package_is_refused(bad, says):
    with pytest.raises(BadInput, match=says) as error:
        read_package(bad(packed()), "scene.zip")
    assert error.value.remedy


def test_a_bomb_is_not_unpacked(monkeypatch):
    monkeypatch.setattr("heron.handover.package._MOST_BYTES", 2**20)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as sheet:
        sheet.writestr("files/big", bytes(2**21))
    with pytest.raises(BadInput, match="unpacks to more"):
        read_package(out.getvalue())
    # One that holds more than it says.
    content = packed()
    lie = content.replace(struct.pack("<I", len(write_scene(HEARD).encode())), struct.pack("<I", 10))
    with pytest.raises(BadInput):
        read_package(lie)


def test_the_command_line_writes_a_shot_and_takes_a_package_apart(tmp_path, capsys):
    (tmp_path / "scene.json").write_text(write_scene(HEARD))

    def heron(*words):
        code = main([str(word) for word in words])
        return code, capsys.readouterr()

    code, _ = heron(
        "export", tmp_path / "scene.json", "--to", "csv", "--shot", "020", "--out", tmp_path / "c.csv"
    )
    assert code == 0 and len((tmp_path / "c.csv").read_text().splitlines()) == SHOT.stage.count + 1
    code, said = heron(
        "export", tmp_path / "scene.json", "--to", "edl", "--shot", "020", "--out", tmp_path / "c.edl"
    )
    assert code == 2 and "--shot" in said.err and not (tmp_path / "c.edl").exists()
    code, said = heron("export", tmp_path / "scene.json", "--to", "package", "--out", tmp_path / "s.zip")
    assert code == 0 and json.loads(said.out)["lost"]
    code, said = heron("unpack", tmp_path / "s.zip", "--out", tmp_path / "there" / "again.json")
    assert code == 0 and read_scene((tmp_path / "there" / "again.json").read_text()) == HEARD
