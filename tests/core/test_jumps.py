"""Cuts by keys within one camera, and what it does while it is off air: facts of the trade, marked so."""

import json

import numpy as np
import pytest
from test_moves import bare

from heron.bake import Bake
from heron.commands import parse_commands, run
from heron.cut.air import off_air, on_air, runs_on
from heron.errors import HeronError
from heron.model import changed

VIEW = {"x": 4.0, "y": 2.0, "z": -3.0, "pan": 40.0, "tilt": -10.0, "roll": 0.0}


def do(scene, **command):
    scene, said = run(scene, parse_commands(json.dumps(command)))
    return scene, said[0]


def moving():
    """Camera A moved by keys from 1020 to 1100, in two shots: 1001–1060 and 1081–1140."""
    scene = bare()
    for what, amount in (("boom", 2.0), ("pan", 50.0)):
        scene, _ = do(
            scene, kind="camera.move", camera="cam-a", what=what, amount=amount, first=1020, last=1100
        )
    for first, last in ((1001, 1060), (1081, 1140)):
        scene, _ = do(scene, kind="shot.add", camera="cam-a", stage={"first": first, "last": last})
    return scene


def pose(scene):
    return Bake(scene).rows(scene.cameras[0], scene.frames.array())[:, :6]


def test_a_jump_holds_the_old_view_up_to_the_frame_before_and_stands_on_it():
    was = pose(moving())
    scene, said = do(moving(), kind="camera.jump", camera="cam-a", frame=1050, to=VIEW)
    assert said == "Camera A jumps to another view at 1050"
    rows = pose(scene)
    # Common practice: the old pose up to N−1, the new one on N. Before it nothing changes.
    np.testing.assert_allclose(rows[:49], was[:49], atol=1e-9)
    np.testing.assert_allclose(rows[49], [VIEW[n] for n in ("x", "y", "z", "pan", "tilt", "roll")], atol=1e-9)
    # Between two frames nothing glides: half a frame before it still is where it was.
    half = Bake(scene).rows(scene.cameras[0], np.array([1049.5]))[0, :6]
    np.testing.assert_allclose(half, was[48], atol=1e-9)
    assert 1050 in Bake(scene).jumps(scene.cameras[0])
    # Later keys stay: by 1100 it is where it was to be.
    np.testing.assert_allclose(rows[99, [1, 3]], was[99, [1, 3]], atol=1e-9)
    assert rows[99, 0] == 4.0


def test_all_that_comes_later_moves_with_the_new_view_when_it_is_to():
    was = pose(moving())
    scene, said = do(moving(), kind="camera.jump", camera="cam-a", frame=1050, to=VIEW, later="move")
    rows = pose(scene)
    by = rows[49] - was[49]
    np.testing.assert_allclose(rows[99:] - was[99:], np.tile(by, (len(rows) - 99, 1)), atol=1e-9)
    assert said.endswith("and all that comes later moves with it")
    scene, _ = do(scene, kind="perch.add", id="per-a", name="There", view=VIEW, frame=1001)
    scene, said = do(scene, kind="camera.jump", camera="cam-a", frame=1120, perch="per-a")
    assert said == "Camera A jumps to the perch “There” at 1120" and pose(scene)[119, 0] == pytest.approx(4.0)
    with pytest.raises(HeronError, match="no frame before"):
        do(scene, kind="camera.jump", camera="cam-a", frame=1001, to=VIEW)
    aim = {"kind": "aim", "at": [{"kind": "figure", "figure": "fig-bram", "joint": "head"}]}
    aimed, _ = do(bare(), kind="rig.add", camera="cam-a", layer=aim)
    with pytest.raises(HeronError, match="is moved by its aim"):
        do(aimed, kind="camera.jump", camera="cam-a", frame=1050, to=VIEW)


def test_where_no_shot_uses_a_camera_it_is_off_air():
    scene = moving()
    assert [str(f) for f in on_air(scene, "cam-a")] == ["1001–1060", "1081–1140"]
    assert [str(f) for f in off_air(scene, "cam-a")] == ["1061–1080", "1141–1320"]
    # Shots that touch or overlap are one stretch on air; a camera in no shot has no air to be off.
    more, _ = do(scene, kind="shot.add", camera="cam-a", stage={"first": 1050, "last": 1082})
    assert [str(f) for f in off_air(more, "cam-a")] == ["1141–1320"]
    assert off_air(changed(scene, shots=()), "cam-a") == []


def test_off_air_it_goes_at_once_to_where_its_next_shot_begins():
    scene = moving()
    was = pose(scene)
    (run_on,) = runs_on(scene, scene.cameras[0])
    assert (run_on.first, run_on.last, run_on.shot) == (1020, 1100, scene.shots[1].name)
    assert "already on the move as shot" in run_on.sentence
    after, said = do(scene, kind="camera.off_air", camera="cam-a", frame=1070)
    assert said == "Camera A waits off air from 1061 where its next shot begins at 1081"
    rows = pose(after)
    # On air nothing has changed; off air it stands where it must be.
    np.testing.assert_allclose(rows[:60], was[:60], atol=1e-9)
    np.testing.assert_allclose(rows[80:], was[80:], atol=1e-9)
    np.testing.assert_allclose(rows[60:80], np.tile(was[80], (20, 1)), atol=1e-9)
    assert runs_on(after, after.cameras[0]) == []
    with pytest.raises(HeronError, match="is on air at 1050"):
        do(scene, kind="camera.off_air", camera="cam-a", frame=1050)
    with pytest.raises(HeronError, match="no later shot"):
        do(scene, kind="camera.off_air", camera="cam-a", frame=1200)
    with pytest.raises(HeronError, match="stands where its next shot begins already"):
        do(after, kind="camera.off_air", camera="cam-a", frame=1070)


def test_the_film_does_not_glide_across_a_jump_when_it_is_halved_between_frames():
    scene, _ = do(moving(), kind="camera.jump", camera="cam-a", frame=1050, to=VIEW)
    # Each side by its own motion: a shutter open from 1049.5 to 1050 sees the old view alone.
    inside = Bake(scene).rows(scene.cameras[0], np.array([1049.0, 1049.25, 1049.99]))[:, 0]
    assert np.ptp(inside) < 1e-9
