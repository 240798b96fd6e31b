"""Starting points: each is framed for whom it is of, by the trade's habits."""

import json

import numpy as np
import pytest
from test_rigs import DEMO, place, pose, samples

from heron.bake import Bake, Keeper
from heron.commands import parse_commands, run
from heron.errors import Refused
from heron.framing import project, shot_size
from heron.scene import find_named


def started(shot, *figures, frame=1100):
    command = {"kind": "rig.start", "camera": "cam-b", "shot": shot, "figures": list(figures), "frame": frame}
    return run(DEMO, parse_commands(json.dumps(command)))


@pytest.mark.parametrize(
    ("shot", "size"),
    [
        ("single", "medium"),
        ("front lead", "medium full"),
        ("from behind", "medium full"),
        ("side track", "full"),
    ],
)
def test_a_start_is_the_size_it_says_and_holds_her_all_along(shot, size):
    scene, said = started(shot, "fig-odile")
    assert said == [f"Camera B is a {shot} of Odile"]
    camera = find_named(scene, "cameras", "B")
    assert shot_size(Bake(scene, Keeper()), camera, 1100) == ("Odile", size)
    # As near as its size asks at that frame, though it follows late: by similar triangles through 50 mm the frame, on a
    # back 36 wide, is so many of her statures high there.
    away = np.hypot(*(pose(scene)[99, [0, 2]] - place(scene)[99, [0, 2]]))
    high = away * (36 * 9 / 16) / 50 / 1.68
    assert high == pytest.approx({"medium": 0.56, "medium full": 0.95, "full": 1.3}[size], rel=0.02)
    seen = project(samples(scene), place(scene, "head"))
    # Eyes on the upper third (common practice), whatever she does.
    np.testing.assert_allclose(seen.y, 1 / 3, atol=1e-6)


def test_from_the_side_she_has_room_where_she_goes():
    scene, _ = started("side track", "fig-odile")
    seen, root = project(samples(scene), place(scene, "head")), place(scene)
    ahead = project(samples(scene), place(scene, "head") + (root[1130 - 1001] - root[1100 - 1001]))
    assert (ahead.x[99] - seen.x[99]) * seen.x[99] < 0


def test_over_the_shoulder_and_two_shot_hold_both():
    scene, _ = started("over the shoulder", "fig-odile", "fig-bram", frame=1200)
    both = [project(samples(scene), place(scene, "head", who)) for who in ("Odile", "Bram")]
    i = 1200 - 1001
    assert both[0].depth[i] < both[1].depth[i] and both[0].x[i] < both[1].x[i]
    assert both[1].inside[i]
    scene, _ = started("two-shot", "fig-odile", "fig-bram", frame=1200)
    both = [project(samples(scene), place(scene, "head", who)) for who in ("Odile", "Bram")]
    assert all(one.inside[i] for one in both) and abs(both[0].depth[i] - both[1].depth[i]) < 0.5
    np.testing.assert_allclose(np.arctan(both[0].x[i]) + np.arctan(both[1].x[i]), 0, atol=0.15)
    assert np.isfinite(pose(scene)).all()
    with pytest.raises(Refused, match="outside the scene"):
        started("single", "fig-odile", frame=900)
    with pytest.raises(Refused, match="two figures"):
        started("two-shot", "fig-odile")
