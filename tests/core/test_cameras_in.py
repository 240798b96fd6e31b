"""Cameras that come in: written by glTF and USD and back, and by trimesh, numpy and usd-core, against what was written."""

import json
import struct

import numpy as np
import pytest
from pxr import Gf, Usd, UsdGeom
from scipy.spatial.transform import Rotation

from heron.bake import Bake
from heron.cli import main
from heron.commands import parse_commands, run
from heron.commands.cameras_in import BringCameras
from heron.demo import slack_tide
from heron.errors import HeronError
from heron.formats.bringing.cameras_in import tracks_of
from heron.formats.bringing.recognise import inspected, read_found
from heron.formats.gltf import write_stage
from heron.formats.usd import write_usd
from heron.scene import empty_scene, read_scene, write_scene

SCENE = slack_tide()
BAKE = Bake(SCENE)


def along(name):
    return None


def brought(content, name, scene=SCENE, rate=24.0, **more):
    tracks = tracks_of(read_found(content, name, along), name, rate)
    return BringCameras(id="in", cameras=tuple(tracks), **more).apply(scene)


@pytest.mark.parametrize(("form", "few"), [("glb", False), ("usdc", False), ("usdc", True)])
def test_cameras_go_out_and_come_back_the_same(form, few):
    content = write_stage(BAKE) if form == "glb" else write_usd(BAKE)
    after, said = brought(content, f"stage.{form}", few=few)
    new = [one for one in after.cameras if one.id.startswith("in-")]
    assert len(new) == len(SCENE.cameras) and said.startswith(f"Brought in {len(new)} cameras")
    there = Bake(after)
    # Of few keys each number is within 5 mm and 0.05°: three of them together by the root of three.
    metres, degrees, lens = (0.0088, 0.088, 0.11) if few else (1e-4, 0.01, 0.01)
    for old, back in zip(SCENE.cameras, new, strict=True):
        was, now = BAKE.samples(old), there.samples(back)
        assert np.abs(now.values[:, :3] - was.values[:, :3]).max() < metres
        one, other = (Rotation.from_euler("YXZ", s.values[:, 3:6], degrees=True) for s in (was, now))
        assert np.degrees((one.inv() * other).magnitude()).max() < degrees
        assert np.abs(now.column("focal_mm") - was.column("focal_mm")).max() < lens
        assert np.abs(now.column("vertical_deg") - was.column("vertical_deg")).max() < (0.2 if few else 0.01)
        assert np.abs(now.column("focus_per_m") - was.column("focus_per_m")).max() < (0.003 if few else 1e-4)
        assert np.abs(now.column("aperture") / was.column("aperture") - 1).max() < 0.01
    keys = [sum(len(channel.keys) for _, channel in one.each()) for one in new]
    if few:
        assert max(keys) < 200


def centimetres(path, moves=True):
    """A camera by usd-core: Z up, in centimetres, 50 mm on a back of 24.89 × 18.67 mm, that goes along +Y and looks along −Y… at 25 a second."""
    stage = Usd.Stage.CreateNew(str(path))
    UsdGeom.SetStageMetersPerUnit(stage, 0.01)
    UsdGeom.SetStageUpAxis(stage, UsdGeom.Tokens.z)
    stage.SetTimeCodesPerSecond(25)
    stage.SetStartTimeCode(101)
    stage.SetEndTimeCode(151)
    camera = UsdGeom.Camera.Define(stage, "/Crane/Eye")
    move = UsdGeom.Xformable(camera).AddTransformOp()
    for time in (101, 151) if moves else (101,):
        # It looks along the file's +Y: its own −Z turned up by 90° about X.
        matrix = Gf.Matrix4d().SetRotate(Gf.Rotation(Gf.Vec3d(1, 0, 0), 90))
        matrix.SetTranslateOnly(Gf.Vec3d(100, (time - 101) * 4, 180))
        move.Set(matrix, time)
    camera.CreateFocalLengthAttr(50.0)
    camera.CreateHorizontalApertureAttr(24.89)
    camera.CreateVerticalApertureAttr(18.67)
    camera.CreateFocusDistanceAttr(350.0)
    camera.CreateFStopAttr(2.8)
    stage.Save()
    return path.read_bytes()


def test_another_unit_axis_and_rate(tmp_path):
    content = centimetres(tmp_path / "crane.usda")
    assert inspected(content, "crane.usda", along)["kind"] == "cameras"
    scene = empty_scene("Slack Tide")
    after, _ = brought(content, "crane.usda", scene, at=1001)
    (camera,) = after.cameras
    rows = Bake(after).samples(camera)
    # The file's +Y is the stage's −Z. Two seconds at 25 are 48 frames at 24.
    np.testing.assert_allclose(rows.values[0, :3], [1.0, 1.8, 0.0], atol=1e-6)
    np.testing.assert_allclose(rows.values[48, :3], [1.0, 1.8, -2.0], atol=1e-5)
    np.testing.assert_allclose(rows.values[:, 3:6], 0, atol=1e-5)
    assert rows.column("focal_mm")[0] == pytest.approx(50) and camera.lens.back.width_mm == pytest.approx(
        24.89
    )
    assert rows.column("focus_per_m")[0] == pytest.approx(1 / 3.5) and rows.column("aperture")[
        0
    ] == pytest.approx(2.8)
    # Without another word it begins where the scene does: its own frames are none of these.
    first = brought(content, "crane.usda", scene)[0].cameras[0].x
    assert first == camera.x


def glb(camera, node):
    doc = {
        "asset": {"version": "2.0"},
        "scene": 0,
        "scenes": [{"nodes": [0]}],
        "nodes": [{"camera": 0, **node}],
        "cameras": [camera],
    }
    text = json.dumps(doc).encode()
    text += b" " * (-len(text) % 4)
    return struct.pack("<4sII", b"glTF", 2, 20 + len(text)) + struct.pack("<I4s", len(text), b"JSON") + text


def test_a_field_of_view_alone_is_a_lens_on_a_back_of_36_mm():
    """2·atan(h / 2f) by hand: 20.25 mm high at 16:9, 40° upright."""
    content = glb(
        {"type": "perspective", "perspective": {"yfov": np.radians(40), "aspectRatio": 16 / 9, "znear": 0.1}},
        {"name": "Loft", "translation": [1, 2, 3]},
    )
    after, said = brought(content, "loft.glb", empty_scene("Slack Tide"))
    (camera,) = after.cameras
    assert (
        camera.focal.rest == pytest.approx(20.25 / 2 / np.tan(np.radians(20)), abs=1e-4)
        and not camera.focal.keys
    )
    assert (camera.x.rest, camera.y.rest, camera.z.rest) == (1, 2, 3) and "“Loft”, 0 keys" in said
    assert Bake(after).samples(camera).column("vertical_deg")[0] == pytest.approx(40, abs=1e-3)


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (
            glb({"type": "orthographic", "orthographic": {"xmag": 1, "ymag": 1, "zfar": 9, "znear": 0}}, {}),
            "no cameras",
        ),
        (glb({"type": "perspective", "perspective": {"yfov": 0.0005, "znear": 0.1}}, {}), "no cameras"),
        (
            glb(
                {"type": "perspective", "perspective": {"yfov": 0.7, "znear": 0.1}},
                {"translation": [1e7, 0, 0]},
            ),
            "leaves the stage",
        ),
        (
            glb({"type": "perspective", "perspective": {"yfov": 0.7, "znear": 0.1}}, {"scale": [1, 1, -1]}),
            "mirrored",
        ),
    ],
)
def test_what_is_no_camera_of_a_stage_is_refused(content, says):
    with pytest.raises(HeronError, match=says) as error:
        brought(content, "x.glb", empty_scene("Slack Tide"))
    assert error.value.remedy


def test_the_command_line_and_one_undo(tmp_path, capsys):
    (tmp_path / "crane.usda").write_bytes(centimetres(tmp_path / "made.usda"))
    (tmp_path / "scene.json").write_text(write_scene(SCENE))
    code = main(
        [
            str(one)
            for one in (
                "bring",
                tmp_path / "scene.json",
                tmp_path / "crane.usda",
                "--as",
                "cameras",
                "--at",
                1300,
                "--out",
                tmp_path / "out.json",
            )
        ]
    )
    told = json.loads(capsys.readouterr().out)
    assert (
        code == 0
        and told["said"].endswith("past the scene's end is left out")
        and told["cameras"][0]["name"] == "Eye"
    )
    after = read_scene((tmp_path / "out.json").read_text())
    assert after.cameras[-1].z.keys[-1].frame == SCENE.frames.last
    late = json.dumps(
        [
            {
                "kind": "cameras.bring",
                "cameras": [
                    json.loads(
                        tracks_of(
                            read_found(centimetres(tmp_path / "again.usda"), "a.usda", along), "a", 24.0
                        )[0].model_dump_json()
                    )
                ],
                "at": 4000,
            }
        ]
    )
    with pytest.raises(HeronError, match="after the scene's end"):
        run(SCENE, parse_commands(late))
