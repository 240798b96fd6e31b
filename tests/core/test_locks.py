"""What is locked is not touched: cameras, pieces and perches, one by one or by group."""

import json

import pytest

from heron.commands import parse_commands, run
from heron.demo import slack_tide_film
from heron.errors import HeronError


def do(scene, **command):
    scene, said = run(scene, parse_commands(json.dumps(command)))
    return scene, said[0]


def test_a_group_is_locked_whole_whatever_is_in_it():
    scene = slack_tide_film()
    scene, _ = do(scene, kind="pieces.group", ids=["set-03", "set-06"], group="Opening")
    scene, said = do(scene, kind="things.lock", group="opening", locked=True)
    assert said == "Locked the group “opening”"
    # The film's four perches are in it too.
    assert all(p.locked for p in scene.perches) and [p.id for p in scene.pieces if p.locked] == [
        "set-03",
        "set-06",
    ]
    for command in (
        {"kind": "piece.set", "piece": "set-03", "height": 2},
        {"kind": "piece.size", "piece": "set-03", "corner": [1, 1], "to": [3, 3]},
        {"kind": "things.move", "ids": ["set-06"], "dx": 1},
        {"kind": "things.delete", "ids": ["set-06"]},
        {"kind": "perch.set", "perch": "per-reeds", "y": 3},
    ):
        with pytest.raises(HeronError, match="is locked"):
            do(scene, **command)
    free, _ = do(scene, kind="things.lock", group="Opening", locked=False)
    assert do(free, kind="things.move", ids=["set-06"], dx=1)[1].startswith("Moved")


def test_cameras_are_locked_with_the_rest_of_their_group_and_nothing_else_is():
    scene, _ = do(slack_tide_film(), kind="things.lock", group="On the walk", locked=True)
    assert [c.letter for c in scene.cameras if c.locked] == ["F", "G", "H", "I"]
    with pytest.raises(HeronError, match="Camera F “Odile, leading her” is locked"):
        do(scene, kind="camera.set", camera="cam-f", name="Else")
    one, said = do(scene, kind="things.lock", ids=["set-03"], locked=True)
    assert said == f"Locked {scene.pieces[2].name}" and sum(p.locked for p in one.pieces) == 1
    for wrong, says in (
        (({"group": "Nowhere"}), "Nothing is in a group called Nowhere"),
        ({}, "Nothing was named"),
    ):
        with pytest.raises(HeronError, match=says):
            do(scene, kind="things.lock", locked=True, **wrong)
