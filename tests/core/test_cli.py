"""The command line: the names it promises, and one clear line for bad input."""

import json
import subprocess
import sys
from pathlib import Path

import pytest
from scipy.spatial.transform import Rotation

import heron
from heron.cli import main
from heron.demo import slack_tide
from heron.scene import read_scene


@pytest.fixture
def scene(tmp_path, capsys):
    path = tmp_path / "scene.json"
    assert main(["demo", "--out", str(path)]) == 0
    capsys.readouterr()
    return str(path)


def ask(capsys, *words):
    assert main(list(words)) == 0
    return json.loads(capsys.readouterr().out)


def test_lens_and_timecode(capsys):
    answer = ask(capsys, "lens", "--back", "36x24", "--focal", "40", "--delivery", "16:9")
    assert answer["gate_mm"] == pytest.approx([36, 20.25])
    # 2·atan(36/80), 2·atan(20.25/80): by a pocket calculator.
    assert (answer["horizontal_deg"], answer["vertical_deg"]) == pytest.approx((48.4555, 28.4093), abs=1e-4)
    assert answer["diagonal_deg"] > answer["horizontal_deg"]
    assert ask(capsys, "timecode", "17982", "--rate", "30000/1001", "--drop") == {"timecode": "00:10:00;00"}
    assert ask(capsys, "timecode", "00:10:00;00", "--rate", "30000/1001") == {"frame": 17982}
    # An hour of 24 frames a second, by a pocket calculator.
    assert ask(capsys, "timecode", "01:00:00:00", "--rate", "24") == {"frame": 86400}


def test_depth_of_field_is_the_handbooks(capsys):
    # The handbook's worked example: 50 mm at f/2.8, circle of confusion 0.025 mm, focused at 3 m.
    asked = ("dof", "--back", "36x24", "--focal", "50", "--aperture", "2.8", "--coc", "0.025")
    answer = ask(capsys, *asked, "--focus", "3")
    assert answer["hyperfocal_m"] == pytest.approx(35.76, abs=0.01)
    assert (answer["near_m"], answer["far_m"]) == pytest.approx((2.77, 3.27), abs=0.005)
    assert answer["total_m"] == pytest.approx(answer["far_m"] - answer["near_m"])
    # (f/N)·(f/(s−f))·|d−s|/d, by a pocket calculator.
    answer = ask(capsys, *asked, "--focus", "3", "--at", "6", "--width", "3600")
    assert answer["blur_mm"] == pytest.approx(50 / 2.8 * 50 / 2950 * 3 / 6, rel=1e-6)
    assert answer["blur_px"] == pytest.approx(answer["blur_mm"] * 100)
    assert ask(capsys, *asked, "--focus", "40")["far_m"] is None


def test_frames_outside_the_scene_at_either_end_are_refused(capsys, scene):
    for first, last in (("1000", "1010"), ("1310", "1330")):
        assert main(["bake", scene, "--camera", "A", "--frames", f"{first}-{last}"]) == 2
        assert "outside the scene's range 1001–1320" in capsys.readouterr().err


def rows_of(capsys, scene, letter, frame):
    return ask(capsys, "bake", scene, "--camera", letter, "--frames", str(frame))[0]


def backwards(pan, tilt):
    """The camera's own +Z on the stage: scipy's rotations, pan about Y and then tilt about X."""
    return Rotation.from_euler("YX", [pan, tilt], degrees=True).apply([0, 0, 1])


def test_list_bake_and_project(capsys, scene):
    listed = ask(capsys, "list", scene)
    assert set(listed) >= {"rate", "first", "last", "cameras", "figures", "shots"}
    # The flight that opens it, and then the first wide.
    assert [shot["name"] for shot in listed["shots"]] == ["005", "010", "020", "030", "040"]
    assert listed["shots"][1] == {
        "name": "010",
        "camera": "A",
        "first": 1064,
        "last": 1164,
        "cut_first": 63,
        "cut_last": 163,
    }
    rows = ask(capsys, "bake", scene, "--camera", "B", "--frames", "1001-1096")
    assert [r["frame"] for r in rows] == list(range(1001, 1097))
    assert {"frame", "position", "pan_deg", "tilt_deg", "roll_deg", "focal_mm"} <= set(rows[0])
    assert {"aperture", "focus_m", "exposure_ev", "near_m", "far_m"} <= set(rows[0])
    joint = ask(
        capsys,
        "project",
        scene,
        "--camera",
        "A",
        "--frame",
        "1140",
        "--size",
        "1920x1080",
        "--joint",
        "Odile/head",
    )
    again = ask(
        capsys, "project", scene, "--camera", "A", "--frame", "1140", "--size", "1920x1080",
        "--point", ",".join(map(str, joint["world"])),
    )  # fmt: skip
    assert again == joint
    assert joint["in_frame"] is True and joint["depth_m"] > 0
    # In the middle of the picture is what lies on the camera's axis: geometry.
    row = rows_of(capsys, scene, "A", 1140)
    ahead = [
        p - 7 * s for p, s in zip(row["position"], backwards(row["pan_deg"], row["tilt_deg"]), strict=True)
    ]
    point = ",".join(map(str, ahead))
    middle = ask(
        capsys, "project", scene, "--camera", "A", "--frame", "1140", "--size", "1920x1080", "--point", point
    )
    assert (middle["x"], middle["y"], middle["depth_m"]) == pytest.approx((960, 540, 7), abs=1e-6)
    behind = ask(
        capsys,
        "project",
        scene,
        "--camera",
        "A",
        "--frame",
        "1140",
        "--size",
        "1920x1080",
        "--point",
        "-20,1,0",
    )
    assert behind["x"] is None and behind["in_frame"] is False


def test_run_is_all_or_nothing_and_export_writes(capsys, scene, tmp_path):
    commands, out = tmp_path / "commands.json", tmp_path / "out.json"
    commands.write_text('[{"kind": "camera.set", "camera": "cam-a", "focal": 50}]')
    ask(capsys, "run", scene, str(commands), "--out", str(out))
    assert read_scene(out.read_text()).cameras[0].focal.rest == 50
    commands.write_text(
        '[{"kind": "camera.set", "camera": "cam-a", "focal": 50}, {"kind": "camera.delete", "camera": "x"}]'
    )
    missing = tmp_path / "missing.json"
    assert main(["run", scene, str(commands), "--out", str(missing)]) == 2
    assert not missing.exists()
    for kind in ("otio", "glb"):
        path = tmp_path / f"x.{kind}"
        ask(capsys, "export", scene, "--to", kind, "--out", str(path))
        assert path.stat().st_size > 1000


@pytest.mark.parametrize(
    "words",
    [
        ["lens", "--back", "36x24", "--focal", "0", "--delivery", "16:9"],
        ["lens", "--back", "36x24", "--focal", "nan", "--delivery", "16:9"],
        ["lens", "--back", "36x24", "--focal", "40"],
        ["timecode", "10", "--rate", "23"],
        ["timecode", "-3", "--rate", "24"],
        ["list", "/nowhere/at/all.json"],
        ["bake", "SCENE", "--camera", "Z", "--frames", "1001"],
        ["bake", "SCENE", "--camera", "A", "--frames", "1096-1001"],
        ["bake", "SCENE", "--camera", "A", "--frames", "1-10000000"],
        ["project", "SCENE", "--camera", "A", "--frame", "1040", "--size", "1920x700", "--point", "0,0,0"],
        [
            "project",
            "SCENE",
            "--camera",
            "A",
            "--frame",
            "1040",
            "--size",
            "1920x1080",
            "--joint",
            "Odile/wing",
        ],
        ["project", "SCENE", "--camera", "A", "--frame", "1040", "--size", "1920x1080", "--point", "0,nan,0"],
        ["export", "SCENE", "--to", "docx", "--out", "x"],
        ["whatever"],
        [],
    ],
)
def test_bad_input_is_one_line_and_exit_two(capsys, scene, words):
    assert main([scene if w == "SCENE" else w for w in words]) == 2
    out, err = capsys.readouterr()
    assert out == ""
    assert len(err.strip().splitlines()) == 1 and err.strip().endswith(".")


def test_the_core_runs_without_the_server():
    code = "import sys, heron.cli, heron.formats.gltf; assert not [m for m in sys.modules if m.startswith(('django', 'mellow'))]"
    subprocess.run([sys.executable, "-c", code], check=True)


def test_the_demo_is_the_same_every_time():
    assert slack_tide() == slack_tide()


def test_the_readmes_example_runs_and_the_api_is_ten_names():
    """What the README promises: Ann's eyes are in the middle of the frame across, and above it."""
    text = (Path(__file__).parents[2] / "README.md").read_text()
    example = text.split("```python\n")[1].split("```")[0]
    told = subprocess.run([sys.executable, "-c", example], capture_output=True, text=True, check=True).stdout
    *_, x, y = told.split()
    assert abs(float(x)) < 0.01 and -1 < float(y) < 1 and "Made camera A" in told
    assert len(heron.__all__) == 10 and all(hasattr(heron, name) for name in heron.__all__)
    version = subprocess.run([sys.executable, "-m", "heron.cli", "--version"], capture_output=True, text=True)
    assert version.stdout.strip() == f"heron {heron.__version__}"
