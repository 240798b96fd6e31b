"""Walks whose pace is keyed, starts and sudden stops, and people who walk in step."""

import json

import numpy as np
import pytest
from acting import FPS, frames, performed, slide

from heron.bake import Bake
from heron.commands import parse_commands, run
from heron.curves import Channel, Key
from heron.errors import HeronError
from heron.scene import empty_scene, find
from heron.stage.acts.body import Start, StopShort, Walk


def speeds(done):
    return np.linalg.norm(np.diff(done.root[:, [0, 2]], axis=0), axis=1) * FPS


def paced(*keys):
    return Channel(rest=1, keys=tuple(Key(frame=f, value=v) for f, v in keys))


def do(scene, *commands):
    return run(scene, parse_commands(json.dumps(list(commands))))


def stage(*commands):
    return do(
        empty_scene("Walks"),
        {"kind": "figure.add", "id": "o", "name": "Odile", "stature": 1.68, "x": 0, "z": 0},
        {"kind": "figure.add", "id": "b", "name": "Bram", "stature": 1.74, "x": 0.9, "z": 0},
        *commands,
    )


def act(figure, kind, first, last, **more):
    return {"kind": "figure.act", "figure": figure, "act": {"kind": kind, "frames": {"first": first, "last": last}, **more}}  # fmt: skip


@pytest.mark.parametrize("points", [((0, -5),), ((0, -3), (2.5, -3))])
def test_a_keyed_pace_is_kept_against_the_rest_of_the_way(points):
    way = Walk(frames=frames(1001, 1150), points=points, pace=paced((1040, 0.5), (1100, 1.5)))
    done = performed(way, last=1170)
    speed = speeds(done)
    np.testing.assert_allclose(done.root[-1, [0, 2]], points[-1], atol=1e-6)
    # Speeds are as the numbers of the keys are; the corner has a pause of its own.
    assert speed[105:112].mean() / speed[33:40].mean() == pytest.approx(
        3.0, rel=0.06 if len(points) == 1 else 0.2
    )
    assert max(slide(done, "r") + slide(done, "l")) < 0.02
    even = performed(Walk(frames=frames(1001, 1150), points=points), last=1170)
    unkeyed = performed(Walk(frames=frames(1001, 1150), points=points, pace=paced()), last=1170)
    np.testing.assert_array_equal(even.turns, unkeyed.turns)


def test_who_starts_is_at_speed_within_three_steps_and_goes_on_without_a_jolt():
    """Steady speed is reached within two to three steps (Brenière and Do 1986, from memory)."""
    walk = Walk(frames=frames(1034, 1110), points=((0, -4.2),), soft_start=False)
    done = performed(Start(frames=frames(1010, 1033), walks_at=1.3), walk, last=1130)
    speed = speeds(done)
    assert speed[32] == pytest.approx(1.3, abs=0.06) and np.abs(np.diff(speed)).max() < 0.2
    landed = [f for side in "rl" for f in np.flatnonzero(np.diff(done.feet[side].planted.astype(int)) == 1)]
    assert sum(9 < f <= 33 for f in landed) <= 3
    alone = performed(Start(frames=frames(1010, 1040), walks_at=1.3), last=1060)
    assert speeds(alone)[-12:].max() < 0.01 and max(slide(alone, "r") + slide(alone, "l")) < 0.02


def test_a_start_of_one_frame_goes_nowhere():
    scene, _ = stage(act("o", "start", 1010, 1010))
    root = Bake(scene).root(find(scene, "figures", "o"))[0]
    np.testing.assert_array_equal(root[:, [0, 2]], 0)


@pytest.mark.parametrize("far", [0.3, 0.6, 1.0])
def test_who_stops_short_brakes_evenly_over_its_way(far):
    """Braking evenly from v within d takes 2·d/v (kinematics)."""
    walk = Walk(frames=frames(1010, 1069), points=((0, -3),), soft_stop=False)
    done = performed(walk, StopShort(frames=frames(1070, 1120), far=far), last=1130)
    speed = speeds(done)
    v = speed[60]
    stands = int(np.flatnonzero(speed[69:] < 0.02)[0])
    assert stands == pytest.approx(2 * far / v * FPS, abs=1.6)
    assert done.root[-1, 2] == pytest.approx(-3 - far, abs=0.03)
    assert max(slide(done, "r") + slide(done, "l")) < 0.02
    # The trunk goes on when the feet stand, then comes back: ahead of where it rests, and behind.
    head = done.landmark("eyes")[:, 2] - done.root[:, 2]
    after = head[69 + stands : 69 + stands + 24] - head[-1]
    assert after.min() < -0.02


def test_stopping_short_ends_the_walk_that_is_under_way_and_needs_one():
    scene, _ = stage(act("o", "walk", 1010, 1110, points=[[0, -5]], id="w"))
    there = Bake(scene).root(find(scene, "figures", "o"))[0]
    after, said = do(scene, act("o", "stop_short", 1060, 1098))
    assert said == ["Had Odile stop short at 1060–1098 (39 f); the walk ends there"]
    now = Bake(after).root(find(after, "figures", "o"))[0]
    # Up to there it is the same walk, within the width of a foot.
    np.testing.assert_allclose(now[:57], there[:57], atol=0.06)
    assert now[-1, 2] == pytest.approx(there[59, 2] - 0.5, abs=0.08)
    with pytest.raises(HeronError, match="isn't walking right before 1150"):
        do(after, act("o", "stop_short", 1150, 1180))
    begun, _ = stage(act("o", "start", 1010, 1033), act("o", "walk", 1034, 1110, points=[[0, -5]]))
    assert [a.soft_start for a in find(begun, "figures", "o").acts if a.kind == "walk"] == [False]


def beside_in_step(first, last):
    """The second figure walks 0.9 m to the right of the first, in step."""
    beside = {"kind": "figure", "figure": "o", "joint": "root"}
    with_ = act("b", "walk_with", first, last, at=beside, side="right", far=0.9)
    with_["act"]["in_step"] = True
    return with_


def test_two_who_walk_in_step_set_the_same_foot_down_together():
    with_ = beside_in_step(1010, 1190)
    scene, _ = stage(act("o", "walk", 1020, 1170, points=[[0, -7]]), with_)
    bake = Bake(scene)
    done = {id_: bake.performance(find(scene, "figures", id_)) for id_ in "ob"}
    for side in "rl":
        lands = {
            id_: np.flatnonzero(np.diff(one.feet[side].planted.astype(int)) == 1) for id_, one in done.items()
        }
        assert len(lands["o"]) > 3
        np.testing.assert_allclose(lands["b"][: len(lands["o"])], lands["o"], atol=1)
    assert max(slide(done["b"], "r") + slide(done["b"], "l")) < 0.02
    end = done["b"].root[-1] - done["o"].root[-1]
    assert np.hypot(end[0], end[2]) == pytest.approx(0.9, abs=0.03)


def test_who_has_no_time_to_brake_stands_by_the_end_and_without_a_walk_nothing_moves():
    walk = Walk(frames=frames(1010, 1069), points=((0, -3),), soft_stop=False)
    done = performed(walk, StopShort(frames=frames(1070, 1081), far=2.0), last=1110)
    # Half of the way that it would have gone at its speed.
    v = speeds(done)[60]
    assert (
        done.root[-1, 2] == pytest.approx(-3 - v * 12 / FPS / 2, abs=0.04) and speeds(done)[82:].max() < 0.01
    )
    alone = performed(StopShort(frames=frames(1010, 1050)), last=1060)
    assert np.ptp(alone.root[:, [0, 2]], axis=0).max() == 0.0


def test_put_where_a_walk_ends_it_is_not_shortened_but_runs_on():
    scene, _ = stage(act("o", "walk", 1010, 1110, points=[[0, -5]], id="w"))
    after, said = do(scene, act("o", "stop_short", 1111, 1150))
    (walk,) = [a for a in find(after, "figures", "o").acts if a.kind == "walk"]
    assert said == ["Had Odile stop short at 1111–1150 (40 f)"]
    assert (walk.frames.last, walk.points, walk.soft_stop) == (1110, ((0.0, -5.0),), False)
    assert Bake(after).root(find(after, "figures", "o"))[0][-1, 2] == pytest.approx(-5.5, abs=0.05)
    # Free again only when the walk is over: put later it would begin in the middle of nothing.
    with pytest.raises(HeronError, match="isn't walking right before 1116"):
        do(scene, act("o", "stop_short", 1116, 1150))


def test_who_stops_keeping_step_closes_up_beside_the_last_foot():
    with_ = beside_in_step(1010, 1110)
    scene, _ = stage(act("o", "walk", 1020, 1170, points=[[0, -7]]), with_)
    done = Bake(scene).performance(find(scene, "figures", "b"))
    feet = {side: done.feet[side].ankle[-1] for side in "rl"}
    middle = (feet["r"] + feet["l"]) / 2 - done.root[-1]
    assert np.hypot(middle[0], middle[2]) < 0.05
    # Feet stand 0.112 statures apart (half of a foot's width on either side; Drillis and Contini, from memory).
    apart = feet["r"] - feet["l"]
    assert np.hypot(apart[0], apart[2]) == pytest.approx(0.112 * 1.74, abs=0.03)


def test_who_has_stood_for_long_begins_the_next_walk_from_standing():
    """A step is begun with the weight over the other foot for about a quarter of a second (Brenière and Do, from memory)."""
    one = Walk(frames=frames(1010, 1070), points=((0, -2),))
    two = Walk(frames=frames(1150, 1230), points=((0, -5),), pace=paced((1160, 0.8), (1200, 1.2)))
    done = performed(one, two, last=1250)
    down = done.feet["r"].planted & done.feet["l"].planted
    assert down[80 : 1150 - 1001 + 4].all() and not down[1150 - 1001 + 4 : 1150 - 1001 + 24].all()
    # A step of the first length of the way, not of the whole stand.
    lifted = np.flatnonzero(~down[149:])[0]
    assert 4 <= lifted <= 14


def test_who_sets_off_after_closing_up_takes_a_whole_first_step():
    short = Walk(frames=frames(1005, 1040), points=((0.0, -0.2),))
    done = performed(short, Start(frames=frames(1041, 1077)), last=1107)
    # A planted foot stands still (2 cm): it had to be dragged along by a stride counted as under way.
    assert max(slide(done, "l") + slide(done, "r")) < 0.02
