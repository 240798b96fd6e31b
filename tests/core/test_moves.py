"""Moves said in a sentence: each against the geometry it names, by scipy where a turn is asked."""

import json

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from heron.bake import Bake
from heron.commands import parse_commands, run
from heron.curves import evaluate
from heron.demo import slack_tide
from heron.errors import HeronError
from heron.framing import project
from heron.model import changed
from heron.scene import find
from heron.scene.camera import POSE
from heron.stage.reference import OnFigure

BRAM = {"kind": "figure", "figure": "fig-bram", "joint": "head"}


def do(scene, **command):
    scene, said = run(scene, parse_commands(json.dumps(command)))
    return scene, said[0]


def bare():
    """The demo with one camera, without keys or layers, at a place and direction that are no round numbers."""
    scene = slack_tide()
    camera = changed(
        scene.cameras[0],
        layers=(),
        mounted=None,
        focal=changed(scene.cameras[0].focal, keys=(), rest=35.0),
        **{
            name: changed(scene.cameras[0].channel(name), keys=(), rest=rest)
            for name, rest in zip(POSE, (-3.1, 1.4, -7.3, -62.0, -4.0, 2.5), strict=True)
        },
    )
    return changed(scene, cameras=(camera,), shots=())


def move(scene, what, amount=0.0, **more):
    frames = {"first": 1010, "last": 1058, **more}
    return do(scene, kind="camera.move", camera="cam-a", what=what, amount=amount, **frames)


def pose(scene, frame=None):
    rows = Bake(scene).rows(scene.cameras[0], scene.frames.array())[:, :6]
    return rows if frame is None else rows[frame - scene.frames.first]


def ahead(row):
    turn = Rotation.from_euler("YXZ", row[3:], degrees=True)
    return turn.apply([0, 0, -1]), turn.apply([1, 0, 0])


@pytest.mark.parametrize("axis, k", [("pan", 3), ("tilt", 4), ("roll", 5)])
def test_turns_add_their_degrees_and_nothing_else(axis, k):
    scene, said = move(bare(), axis, -8.5)
    off = pose(scene, 1058) - pose(bare(), 1010)
    assert off[k] == pytest.approx(-8.5) and np.abs(np.delete(off, k)).max() < 1e-9
    assert [len(scene.cameras[0].channel(n).keys) for n in POSE] == [2 if n == axis else 0 for n in POSE]
    # Before it and after it the camera stands.
    assert (pose(scene)[:10] == pose(scene)[0]).all() and (pose(scene)[58:] == pose(scene)[57]).all()
    assert said.endswith("from 1010 to 1058, soft at both ends")


def test_a_dolly_goes_level_where_it_looks_and_a_truck_to_the_right():
    start = pose(bare(), 1010)
    forward, right = ahead([*start[:3], start[3], 0.0, 0.0])
    for what, way in (("dolly", forward), ("truck", right), ("boom", np.array([0, 1, 0]))):
        scene, _ = move(bare(), what, 1.5)
        np.testing.assert_allclose(pose(scene, 1058)[:3] - start[:3], 1.5 * way, atol=1e-9)
        assert (pose(scene, 1058)[3:] == start[3:]).all()
    # In Bram's directions: by his heading.
    heading = Bake(bare()).rows(bare().figures[1], np.array([1010]))[0, 3]
    assert bare().figures[1].id == "fig-bram"
    scene, said = move(bare(), "dolly", 2.0, by={**BRAM, "joint": "root"})
    his = Rotation.from_euler("Y", heading, degrees=True).apply([0, 0, -1])
    np.testing.assert_allclose(pose(scene, 1058)[:3] - start[:3], 2 * his, atol=1e-9)
    assert said.startswith("Camera A dollies 2 m in in Bram's directions from 1010 to 1058")


def test_an_arc_keeps_its_distance_and_its_subject_in_place_at_every_frame():
    scene = bare()
    # Round his root, and the head only says whom: a camera hung on a head would bob.
    centre = Bake(scene).place(OnFigure(figure="fig-bram", joint="root"), scene.frames.array())
    scene, said = move(scene, "arc", 70.0, of=BRAM)
    assert said == "Camera A goes 70° round Bram's head to the right from 1010 to 1058, soft at both ends"
    rows = pose(scene)
    span = slice(1010 - 1001, 1059 - 1001)
    far = np.linalg.norm((rows[:, :3] - centre)[span], axis=1)
    # Two keys would make a chord of it, 18 % nearer in the middle: 1 - cos 35°.
    np.testing.assert_allclose(far, far[0], atol=0.003)
    gap = (rows[:, [0, 2]] - centre[:, [0, 2]])[span]
    turned = np.degrees(np.unwrap(np.arctan2(gap[:, 0], gap[:, 1])))
    assert turned[-1] - turned[0] == pytest.approx(70.0, abs=0.02) and (np.diff(turned) > -0.01).all()
    seen = project(Bake(scene).samples(scene.cameras[0]), centre)
    assert np.ptp(seen.x[span]) < 0.004 and np.ptp(seen.y[span]) < 0.004
    assert max(len(scene.cameras[0].channel(n).keys) for n in POSE) <= 8
    assert np.ptp(rows[:, 1]) == 0 and scene.cameras[0].y.keys == ()
    # Round somebody who walks, at her side all the way and level.
    walks, _ = move(bare(), "arc", 40.0, of={**BRAM, "figure": "fig-odile"}, first=1040, last=1100)
    root = Bake(walks).place(OnFigure(figure="fig-odile", joint="root"), walks.frames.array())
    beside = np.hypot(*(pose(walks)[:, [0, 2]] - root[:, [0, 2]])[39:100].T)
    np.testing.assert_allclose(beside, beside[0], atol=0.003)
    # To the right is to the right: the camera's own right, at first.
    first = pose(bare(), 1010)
    step = rows[1020 - 1001, :3] - first[:3]
    assert step @ ahead(first)[1] > 0


def test_it_swings_on_to_what_is_named_and_looks_as_they_look():
    scene, said = move(bare(), "swing onto", of=BRAM)
    centre = Bake(scene).place(OnFigure(figure="fig-bram", joint="head"), scene.frames.array())
    seen = project(Bake(scene).samples(scene.cameras[0]), centre)
    assert abs(seen.x[57]) < 1e-6 and abs(seen.y[57]) < 1e-6
    assert pose(scene, 1058)[5] == pytest.approx(2.5) and said.startswith("Camera A swings onto Bram's head")
    scene, _ = move(bare(), "look as", of=BRAM)
    head = Bake(scene).track(OnFigure(figure="fig-bram", joint="head"))
    his = Rotation.from_quat(head.turn[57]).apply([0, 0, -1])
    np.testing.assert_allclose(ahead(pose(scene, 1058))[0], his, atol=1e-9)
    scene, _ = move(bare(), "straighten")
    assert pose(scene, 1058)[5] == 0
    # The short way round.
    view = {"x": 0, "y": 1, "z": 0, "pan": 350.0 - 62.0, "tilt": 0, "roll": 0}
    scene, _ = move(bare(), "view", to=view)
    assert pose(scene, 1058)[3] == pytest.approx(-72.0)


def test_closing_in_goes_straight_to_the_subject_and_never_through_it():
    start = pose(bare(), 1010)
    centre = Bake(bare()).place(OnFigure(figure="fig-bram", joint="head"), np.array([1058]))[0]
    gap = centre - start[:3]
    for metres in (1.25, -2.0):
        scene, said = move(bare(), "close in", metres, of=BRAM)
        moved = pose(scene, 1058)[:3] - start[:3]
        np.testing.assert_allclose(moved, metres * gap / np.linalg.norm(gap), atol=1e-9)
        assert ("closes in on" in said) == (metres > 0)
    with pytest.raises(HeronError, match="would go through Bram's head"):
        move(bare(), "close in", np.linalg.norm(gap), of=BRAM)


def test_feels_are_what_they_say():
    def values(**more):
        scene, _ = move(bare(), "boom", 2.0, **more)
        return evaluate(scene.cameras[0].y, np.arange(1010, 1058 + 20)) - 1.4

    u = np.arange(49) / 48
    # Hermites of slopes 0 and 1, by hand.
    for feel, curve in (
        ("constant", u),
        ("soft start", 2 * u**2 - u**3),
        ("soft end", u + u**2 - u**3),
        ("soft", 3 * u**2 - 2 * u**3),
    ):
        np.testing.assert_allclose(values(feel=feel)[:49], 2 * curve, atol=1e-9)
    # Common practice: an overshoot settles, 3 frames down and 4 up.
    far = values(over=0.1, settle=7)
    assert far.argmax() == 48 and far.max() == pytest.approx(2.2)
    assert far[51] == far[48:56].min() < 2.0 and far[55:] == pytest.approx(2.0)


def test_it_makes_ordinary_keys_and_leaves_what_comes_before_and_after():
    scene, _ = move(bare(), "boom", 1.0)
    scene, _ = move(scene, "boom", 0.5, first=1100, last=1120)
    scene, _ = move(scene, "boom", -0.2, first=1050, last=1080)
    y = scene.cameras[0].y
    assert [k.frame for k in y.keys] == [1010, 1050, 1080, 1100, 1120]
    assert y.by_frame[1120].value == pytest.approx(1.4 + 1.5)
    one, _ = move(bare(), "boom", 1.0)
    np.testing.assert_allclose(
        evaluate(y, np.arange(1001, 1050)), evaluate(one.cameras[0].y, np.arange(1001, 1050)), atol=1e-9
    )
    # Without frames it is placed, with a key only where it has some.
    scene, said = move(bare(), "boom", 1.0, last=None)
    assert scene.cameras[0].y.keys == () and scene.cameras[0].y.rest == pytest.approx(2.4)
    assert said == "Camera A booms 1 m up"
    scene, said = move(one, "pan", 10, first=1070, last=None)
    assert scene.cameras[0].pan.keys[0].frame == 1070
    scene, said = move(bare(), "zoom", 15)
    assert [k.value for k in scene.cameras[0].focal.keys] == [35, 50]
    assert said == "Camera A zooms 15 mm in, 35 to 50 mm from 1010 to 1058, soft at both ends"


def test_a_hold_puts_off_what_comes_later_and_drifts_as_it_is_told():
    scene, _ = move(bare(), "boom", 1.0)
    scene, said = do(scene, kind="camera.hold", camera="cam-a", first=1034, seconds=2)
    y = evaluate(scene.cameras[0].y, np.arange(1001, 1150))
    assert np.ptp(y[33 : 33 + 49]) < 1e-9 and y[-1] == pytest.approx(2.4)
    assert scene.cameras[0].y.keys[-1].frame == 1058 + 48 and said == "Camera A stands for 2 s from 1034"
    # A moving hold: 5 cm in and a degree to the left in 2 s, at one speed.
    scene, said = do(
        bare(), kind="camera.hold", camera="cam-a", first=1034, seconds=2, drift_m=0.05, drift_deg=1
    )
    rows = pose(scene)
    went = np.linalg.norm(np.diff(rows[33:82, :3], axis=0), axis=1)
    np.testing.assert_allclose(went, 0.05 / 48, atol=1e-9)
    assert rows[81, 3] - rows[33, 3] == pytest.approx(1.0) and "drifting 0.05 m in and 1° to the left" in said


def test_a_carried_camera_is_held_on_what_carries_it():
    # The boat goes 2 m along while camera A rides in it and booms; held for a second, it drifts 10 cm in the boat.
    scene, _ = do(bare(), kind="keys.set", keys=[
        {"thing": "mov-boat", "channel": "z", "frame": frame, "value": value} for frame, value in ((1010, -9.0), (1090, -11.0))
    ])  # fmt: skip
    ride = {"kind": "carrier", "on": {"kind": "mover", "mover": "mov-boat"}, "how": "all"}
    scene, _ = do(scene, kind="rig.add", camera="cam-a", layer=ride, at=1010)
    scene, _ = move(scene, "boom", 1.0)
    before = pose(scene)
    scene, said = do(scene, kind="camera.hold", camera="cam-a", first=1034, seconds=1, drift_m=0.1)
    boat = Bake(scene).samples(find(scene, "movers", "mov-boat")).values
    turned = Rotation.from_euler("YXZ", boat[:, 3:6], degrees=True)
    went = turned.inv().apply(pose(scene)[:, :3] - boat[:, :3])[33:58]
    steps = np.linalg.norm(np.diff(went, axis=0), axis=1)
    np.testing.assert_allclose(steps, 0.1 / 24, atol=1e-6)
    np.testing.assert_allclose(pose(scene)[[9, 33]], before[[9, 33]], atol=1e-9)
    # Afterwards the boom goes on, a second later.
    layer = find(scene, "cameras", "cam-a").layers[0]
    assert [key.frame for key in layer.y_m.keys] == [1010, 1034, 1058, 1082]
    assert said == "Camera A all but stands, drifting 0.1 m in, for 1 s from 1034"


@pytest.mark.parametrize("what, more, says", [
    ("pan", {}, "moves nothing"), ("arc", {"amount": 5}, "takes a subject"), ("view", {}, "a view to go to"),
    ("boom", {"amount": 1, "last": 1010}, "takes no time"), ("zoom", {"amount": -40}, "only 35 mm"),
    ("boom", {"amount": 1, "over": 0.1, "last": 1319}, "outside the scene"),
    ("tilt", {"amount": 120}, "Tilt must be from"), ("look as", {"of": {"kind": "point", "x": 0, "y": 0, "z": 0}}, "looks nowhere"),
])  # fmt: skip
def test_what_cannot_be_is_said(what, more, says):
    with pytest.raises(HeronError, match=says):
        move(bare(), what, **more)


def test_under_a_layer_the_layers_own_numbers_are_keyed():
    # Round an arm the arc is the arm's bearing: two keys, and no chord.
    scene = bare()
    arm = {"kind": "arm", "round": [BRAM]}
    scene, _ = do(scene, kind="rig.add", camera="cam-a", layer=arm, at=1010)
    scene, _ = move(scene, "arc", 60.0, of=BRAM)
    layer = scene.cameras[0].layers[0]
    assert len(layer.bearing_deg.keys) == 2 and scene.cameras[0].x.keys == ()
    centre = Bake(scene).place(OnFigure(figure="fig-bram", joint="head"), scene.frames.array())
    far = np.linalg.norm((pose(scene)[:, :3] - centre)[9:58], axis=1)
    # He breathes: his head is a millimetre or so elsewhere at the end.
    np.testing.assert_allclose(far, far[0], atol=3e-3)
    riding = {"kind": "carrier", "on": {**BRAM, "joint": "root"}}
    scene, _ = do(bare(), kind="rig.add", camera="cam-a", layer=riding, at=1010)
    with pytest.raises(HeronError, match="Put an arm on the camera"):
        move(scene, "arc", 60.0, of=BRAM)


def test_a_dolly_zoom_keeps_the_subject_as_large():
    """The lens goes in and the camera back: of something upright the height goes with focal length over depth."""
    scene, said = move(bare(), "dolly zoom", 30, of=BRAM)
    assert said.startswith(
        "Camera A dolly-zooms 30 mm in, keeping Bram's head as large, 35 to 65 mm from 1010 to 1058"
    )
    there = Bake(scene).samples(scene.cameras[0])
    root = Bake(scene).place(OnFigure(figure="fig-bram", joint="root"), scene.frames.array())
    rows = slice(1010 - 1001, 1059 - 1001)
    foot, top = (project(there, root + np.array([0, up, 0])).y[rows] for up in (0.0, 1.86))
    np.testing.assert_allclose(top - foot, top[0] - foot[0], rtol=2e-3)
    assert there.column("focal_mm")[rows][-1] == pytest.approx(65)
    with pytest.raises(HeronError, match="takes time"):
        move(bare(), "dolly zoom", 30, of=BRAM, last=None)


def test_level_takes_out_roll_and_upright_takes_out_tilt_too():
    for what, tilt in (("straighten", -4.0), ("upright", 0.0)):
        scene, _ = move(bare(), what)
        assert pose(scene, 1058)[4:].tolist() == [tilt, 0.0]
