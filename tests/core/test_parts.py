"""Parts of a scene: what belongs to which, and that nothing of a locked one changes."""

import json

import pytest

from heron.commands import parse_commands, run
from heron.demo import slack_tide
from heron.errors import Refused
from heron.scene import diff
from heron.scene.parts import PARTS, parts_of

#: A change of each part, named as the trade does: set dressing, blocking, camera, lighting, edit (common practice).
OF = {
    "set": [
        {"kind": "part.hide", "part": "set", "hidden": True},
        {"kind": "piece.set", "piece": "set-20", "x": 1.0},
        {"kind": "shot.dress", "shot": "shot-020", "command": {"kind": "piece.set", "piece": "set-20", "x": 1.0}},
        {"kind": "things.delete", "ids": ["set-21"]},
    ],
    "acting": [
        {"kind": "part.hide", "part": "acting", "hidden": True},
        {"kind": "things.move", "ids": ["fig-odile"], "dx": 0.1},
        {"kind": "things.hide", "ids": ["mov-heron"], "hidden": True},
    ],
    "cameras": [
        {"kind": "part.hide", "part": "cameras", "hidden": True},
        {"kind": "camera.set", "camera": "cam-a", "name": "Wide"},
        {"kind": "scene.set", "first_focal": 35},
    ],
    "light": [
        {"kind": "part.hide", "part": "light", "hidden": True},
        {"kind": "scene.set", "sun_height": 30},
        {"kind": "things.hide", "ids": ["mov-lamp"], "hidden": True},
    ],
    "cut": [
        {"kind": "cut.edit", "do": {"edit": "slip", "shots": ["020"], "by": 1}},
        {"kind": "cut.edit", "do": {"edit": "move", "shots": ["040"], "before": "shot-010"}},
        {"kind": "scene.set", "cut_start": "02:00:00:00"},
    ],
}  # fmt: skip


def do(scene, *commands):
    return run(scene, parse_commands(json.dumps(list(commands))))[0]


@pytest.mark.parametrize(("part", "command"), [(part, one) for part, all_ in OF.items() for one in all_])
def test_a_locked_part_stays_as_it_is_and_the_others_do_not(part, command):
    scene = slack_tide()
    after = do(scene, command)
    assert parts_of(diff(scene, after), diff(after, scene)) == {part}
    with pytest.raises(Refused, match="locked"):
        do(do(scene, {"kind": "part.lock", "part": part, "locked": True}), command)
    others = [{"kind": "part.lock", "part": one, "locked": True} for one in PARTS if one != part]
    open_ = do(scene, *others, command)
    assert open_.having(locked=()) == after and len(open_.locked) == len(PARTS) - 1


def test_a_part_is_unlocked_again():
    locked = do(slack_tide(), *({"kind": "part.lock", "part": one, "locked": True} for one in PARTS))
    assert do(locked, *({"kind": "part.lock", "part": one, "locked": False} for one in PARTS)) == slack_tide()
    assert do(locked, {"kind": "scene.set", "name": "Slack Tide, blocking"}).name == "Slack Tide, blocking"


def test_a_part_is_hidden_and_shown_as_a_whole():
    scene = slack_tide()
    bare = do(
        scene,
        *(
            {"kind": "part.hide", "part": one, "hidden": True}
            for one in ("set", "acting", "light", "cameras")
        ),
    )
    assert all(one.hidden for one in (*bare.figures, *bare.movers, *bare.cameras))
    assert all(one.hidden == (one.part_of is None) for one in bare.pieces)
    with pytest.raises(Refused, match="nothing of the cut"):
        do(scene, {"kind": "part.hide", "part": "cut", "hidden": True})
    shown = do(
        bare,
        *(
            {"kind": "part.hide", "part": one, "hidden": False}
            for one in ("set", "acting", "light", "cameras")
        ),
    )
    assert shown == scene
