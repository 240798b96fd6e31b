"""Patches: exact, small, and named by what they touch."""

import json

import pytest

from heron.commands import parse_commands, run_one
from heron.demo import slack_tide
from heron.scene import Patch, apply_patch, diff, read_patch, touched
from heron.scene.patch import in_order

DEMO = slack_tide()


def change(**command):
    after = run_one(DEMO, parse_commands(json.dumps(command))[0])[0]
    return after, diff(DEMO, after), diff(after, DEMO)


@pytest.mark.parametrize(
    ("command", "names"),
    [
        ({"kind": "camera.set", "camera": "cam-a", "focal": 50}, {"cam-a"}),
        ({"kind": "scene.set", "name": "X", "light_ev": 8}, {"settings/name", "settings/surround"}),
        ({"kind": "shot.move", "shot": "shot-040", "before": "shot-010"}, {"order/shots"}),
        # Putting in and taking out change nobody else's place.
        ({"kind": "shot.add", "camera": "cam-a", "id": "new", "before": "shot-010"}, {"new"}),
        ({"kind": "shot.delete", "shot": "shot-010", "leave_gap": False}, {"shot-010", "shot-020"} - {"shot-020"}),
        ({"kind": "things.delete", "ids": ["cam-b"]}, {"cam-b", "shot-020", "shot-030"}),
        ({"kind": "lens.add", "id": "new", "shortest_mm": 28}, {"new"}),
    ],
)  # fmt: skip
def test_a_change_names_what_it_touches(command, names):
    after, patch, inverse = change(**command)
    assert touched(patch, inverse) == touched(inverse, patch) == names
    assert apply_patch(DEMO, patch) == after and apply_patch(after, inverse) == DEMO
    assert not patch.empty


def test_no_change_is_an_empty_patch():
    assert diff(DEMO, DEMO).empty and touched(Patch(), Patch()) == set()
    assert diff(DEMO, slack_tide()).empty


def test_what_a_patch_does_not_name_is_the_same_object():
    after, patch, _ = change(kind="camera.set", camera="cam-a", focal=50)
    again = apply_patch(DEMO, patch)
    assert again.pieces is DEMO.pieces and all(
        a is b for a, b in zip(again.cameras[1:], DEMO.cameras[1:], strict=True)
    )
    assert (
        list(patch.items) == ["cameras"] and list(patch.items["cameras"]) == ["cam-a"] and patch.order == {}
    )
    assert after.cameras[0].focal.rest == 50


def test_an_old_patch_is_read_as_todays():
    _, patch, _ = change(kind="camera.set", camera="cam-a", name="Else")
    old = patch.model_dump(mode="json")
    old["items"]["cameras"]["cam-a"]["aperture"]["rest"] = 8.0
    del old["items"]["cameras"]["cam-a"]["iso"]
    old["items"]["cameras"]["gone"] = None
    new = read_patch(old, 2)
    # f/8 is six stops from f/1: handbook arithmetic.
    assert new.items["cameras"]["cam-a"]["aperture"]["rest"] == 6.0
    assert new.items["cameras"]["cam-a"]["iso"] == 100.0 and new.items["cameras"]["gone"] is None
    assert read_patch(patch.model_dump(mode="json"), 3) == patch


def test_order_keeps_what_it_does_not_name_behind_its_neighbour():
    assert in_order(None, ["b", "a"]) == ["b", "a"]
    assert in_order(["c", "a"], ["a", "new", "c"]) == ["c", "a", "new"]
    assert in_order(["b", "a"], ["first", "a", "x", "y", "b"]) == ["first", "b", "a", "x", "y"]
    assert in_order(["gone", "a"], ["a"]) == ["a"]
