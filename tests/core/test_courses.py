"""Courses of movers: the way, the speed, the frame of arrival, and how they lean."""

import json

import numpy as np
import pytest

from heron.bake import Bake
from heron.commands import parse_commands, run
from heron.errors import HeronError
from heron.scene import empty_scene, find

FPS, FIRST = 24, 1001


def stage(shape="cart", *more):
    commands = [
        {"kind": "scene.set", "frames": {"first": 1001, "last": 1480}},
        {"kind": "mover.add", "id": "m", "shape": shape, "name": "M", "pose": {"x": 1, "y": 0.5, "z": 2, "pan": 0, "tilt": 0, "roll": 0}},
        *more,
    ]  # fmt: skip
    return run(empty_scene("Way"), parse_commands(json.dumps(commands)))[0]


def go(scene, **more):
    command = {"kind": "mover.course", "mover": "m", "first": 1010, **more}
    scene, (said,) = run(scene, parse_commands(json.dumps([command])))
    return Bake(scene).samples(find(scene, "movers", "m")).values[:, :6], said, scene


CIRCLE = [
    [1 - 10 + 10 * float(np.cos(a)), 2 - 10 * float(np.sin(a))] for a in np.radians(np.arange(10, 271, 10))
]


def test_it_arrives_at_the_frame_at_the_last_point_and_passes_the_others_facing_its_way():
    rows, said, scene = go(stage(), points=[[1, -4], [6, -8]], arrive=1200)
    np.testing.assert_allclose(rows[1200 - FIRST, [0, 2]], [6, -8], atol=0.011)
    np.testing.assert_array_equal(rows[:9, :3], np.tile(rows[0, :3], (9, 1)))
    np.testing.assert_allclose(rows[:, 1], 0.5)
    assert np.linalg.norm(rows[:, [0, 2]] - [1, -4], axis=1).min() < 0.05
    way = np.diff(rows[:, [0, 2]], axis=0)
    fast = np.linalg.norm(way, axis=1) > 0.02
    faces = np.stack([-np.sin(np.radians(rows[1:, 3])), -np.cos(np.radians(rows[1:, 3]))], axis=1)
    along = np.sum(way * faces, axis=1)[fast] / np.linalg.norm(way, axis=1)[fast]
    assert np.degrees(np.arccos(along.clip(-1, 1))).max() < 12
    # As few keys as will do: it can be changed by hand afterwards.
    assert len(find(scene, "movers", "m").x.keys) < 20 and "from 1010 to 1200" in said


def test_at_a_speed_it_goes_evenly_but_for_its_start_and_stop():
    rows, _, _ = go(stage(), points=CIRCLE, speed=4.0)
    speed = np.linalg.norm(np.diff(rows[:, [0, 2]], axis=0), axis=1) * FPS
    going = np.flatnonzero(speed > 0.01)
    middle = speed[going[0] + FPS : going[-1] - FPS]
    # The keys stay within a centimetre of the way: so much is a frame's speed off by at the most.
    assert abs(middle - 4.0).max() < 0.4 and middle.mean() == pytest.approx(4.0, rel=0.02)
    # A circle of 10 m by 270 degrees: 47.1 m.
    assert speed.sum() / FPS == pytest.approx(10 * np.radians(270), rel=0.01)


@pytest.mark.parametrize(("bank", "shape"), [(1.0, "cart"), (None, "heron"), (0.5, "cart"), (None, "cart")])
def test_it_leans_into_a_bend_as_a_balanced_turn_does(bank, shape):
    """Handbook mechanics: tan of the bank is v squared over g times the radius; here to the left."""
    rows, _, _ = go(stage(shape), points=CIRCLE, speed=6.0, **({} if bank is None else {"bank": bank}))
    expected = np.degrees(np.arctan(6.0**2 / (9.81 * 10)))
    share = (1.0 if shape == "heron" else 0.0) if bank is None else bank
    middle = slice(1010 - FIRST + 60, 1010 - FIRST + 140)
    assert rows[middle, 5] == pytest.approx(share * expected, abs=2.0)
    assert np.diff(rows[middle, 3]).min() > 0


@pytest.mark.parametrize(
    ("more", "says"),
    [
        ({"points": [[1, -4]], "arrive": 1005}, "before it sets out"),
        ({"points": [[1, 2]]}, "is there already"),
        ({"points": [[1, -400]]}, "would go on until"),
        ({"points": [[1, -4]], "arrive": 1100, "speed": 2}, "not both"),
        ({"points": [[1, -4]], "arrive": 5000}, "outside the scene"),
    ],
)  # fmt: skip
def test_what_cannot_be_gone_is_refused(more, says):
    with pytest.raises(HeronError, match=says) as refused:
        go(stage(), **more)
    assert refused.value.remedy


def test_what_rides_or_is_held_takes_no_course_of_its_own():
    held = stage(
        "oar",
        {"kind": "figure.add", "id": "f", "name": "Odile", "x": 0, "z": 0},
        {
            "kind": "figure.act",
            "figure": "f",
            "act": {"kind": "hold", "frames": {"first": 1001, "last": 1010}, "what": "m"},
        },
    )
    with pytest.raises(HeronError, match="Odile holds M at 1010"):
        go(held, points=[[1, -4]])
    riding = stage(
        "oar",
        {"kind": "mover.add", "id": "c", "shape": "cart", "pose": {"x": 0, "y": 0, "z": 0}},
        {"kind": "mover.ride", "ids": ["m"], "on": "c", "frame": 1001},
    )
    with pytest.raises(HeronError, match="M rides on something"):
        go(riding, points=[[1, -4]])
