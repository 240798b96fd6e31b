"""A focus distance with keys: where the focus is against plain optics, and when its keys would do nothing."""

import json

import numpy as np
import pytest

from heron.bake import Bake
from heron.bake.cameras import COLUMNS
from heron.commands import parse_commands, run
from heron.demo import slack_tide
from heron.errors import BadInput, BeyondLens, Refused
from heron.scene import find

CAM = "cam-a"


def do(scene, *commands):
    return run(scene, parse_commands(json.dumps(list(commands))))[0]


def metres(scene, *frames):
    rows = Bake(scene).rows(find(scene, "cameras", CAM), np.array(frames))
    return 1 / rows[:, COLUMNS.index("focus_per_m")]


def key(frame, value=None, **more):
    return {"kind": "focus.key", "camera": CAM, "frame": frame, **({} if value is None else {"metres": value}), **more}  # fmt: skip


def test_a_pull_runs_evenly_in_the_reciprocal_of_the_distance():
    scene = do(
        slack_tide(),
        key(1010, 2.0),
        key(1030, 8.0),
        {
            "kind": "keys.shape",
            "keys": [{"thing": CAM, "channel": "focus.distance", "frame": f} for f in (1010, 1030)],
            "before": "straight",
            "after": "straight",
        },
    )
    # By hand: half way between 1/2 and 1/8 is 5/16. An even turn of the ring is even in 1/distance: common practice.
    assert metres(scene, 1001, 1010, 1020, 1030, 1200) == pytest.approx([2, 2, 16 / 5, 8, 8])


def test_the_first_key_is_where_the_focus_was():
    before = slack_tide()
    was = metres(before, 1100)
    scene = do(before, key(1100))
    assert metres(scene, 1100) == pytest.approx(was)
    assert find(scene, "cameras", CAM).focus.on.kind == "pulled"
    # Infinity is as far as the stage reaches, and no further.
    scene = do(before, {"kind": "focus.set", "camera": CAM, "on": {"kind": "distance"}}, key(1100))
    assert metres(scene, 1100) == pytest.approx(10_000.0)


def test_from_a_curve_it_racks_to_a_thing_and_back():
    odile = {"kind": "figure", "figure": "fig-odile", "joint": "eyes"}
    scene = do(
        slack_tide(),
        key(1010, 3.0),
        {"kind": "focus.rack", "camera": CAM, "frame": 1100, "on": odile, "over": 10},
    )
    assert metres(scene, 1090) == pytest.approx([3.0])
    assert metres(scene, 1100) == pytest.approx(metres(slack_tide(), 1100))
    back = do(
        scene, {"kind": "focus.rack", "camera": CAM, "frame": 1150, "on": {"kind": "pulled"}, "over": 0}
    )
    assert metres(back, 1149, 1150) == pytest.approx([metres(scene, 1149)[0], 3.0])
    # Without keys it stands where the focus was as the rack was asked for.
    plain = slack_tide()
    rack = {"kind": "focus.rack", "camera": CAM, "frame": 1150, "on": {"kind": "pulled"}, "over": 0}
    assert metres(do(plain, rack), 1150, 1300) == pytest.approx([metres(plain, 1150)[0]] * 2)


def test_keys_that_would_do_nothing_and_distances_the_lens_cannot_are_refused():
    scene = slack_tide()
    put = {"thing": CAM, "channel": "focus.distance", "frame": 1100, "value": 3.0}
    with pytest.raises(Refused, match="focused on other things"):
        do(scene, {"kind": "keys.set", "keys": [put]})
    with pytest.raises(Refused, match="focused on other things"):
        do(scene, {"kind": "keys.here", "thing": CAM, "frame": 1100, "channel": "focus.distance"})
    # All of a camera's channels are keyed without it.
    all_ = find(
        do(scene, {"kind": "keys.here", "thing": CAM, "frame": 1100, "channel": "all"}), "cameras", CAM
    )
    assert all_.keyed("focal") and not all_.keyed("focus.distance")
    nearest = next(lens for lens in scene.lenses if lens.id == find(scene, "cameras", CAM).mounted).nearest_m
    with pytest.raises(BeyondLens, match="focuses no nearer"):
        do(scene, key(1100, nearest * 0.9))
    assert metres(do(scene, key(1100, nearest * 0.9, force=True)), 1100) == pytest.approx([nearest * 0.9])
    with pytest.raises(BadInput, match=r"from 0\.05 m to 10000 m"):
        do(scene, key(1100, 0.0))
