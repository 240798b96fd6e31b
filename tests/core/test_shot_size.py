"""Shot sizes against similar triangles: a level camera whose frame ends at a height of the body we choose."""

import json

import pytest

from heron.bake import Bake, ResultCache
from heron.commands import parse_commands, run
from heron.framing import shot_size
from heron.scene.document import empty_scene

TALL = 1.8


def framed(low, high):
    """A figure in a level camera whose frame goes from one height to another, shares of stature, at the figure."""
    middle, span = (low + high) / 2 * TALL, (high - low) * TALL
    # A back 24 mm high behind 50 mm: so far away the frame is `span` high, by similar triangles.
    away = span * 50 / (36 * 9 / 16)
    commands = [
        {"kind": "figure.add", "id": "f", "name": "Ada", "stature": TALL, "x": 0, "z": 0, "heading": 180},
        {"kind": "camera.add", "id": "c", "focal": 50, "frame": 1001, "pose": {"x": 0, "y": middle, "z": away, "pan": 0, "tilt": 0, "roll": 0}},
    ]  # fmt: skip
    scene = run(empty_scene("S"), parse_commands(json.dumps(commands)))[0]
    return shot_size(Bake(scene, ResultCache()), scene.cameras[0], 1001)


@pytest.mark.parametrize(
    ("low", "high", "size"),
    [
        # Heights of Drillis and Contini, from memory: chin 0.870, shoulder 0.818, hip 0.530, knee 0.285.
        (0.88, 1.02, "extreme close-up"), (0.78, 1.05, "close-up"), (0.66, 1.06, "medium close-up"),
        (0.45, 1.08, "medium"), (0.12, 1.1, "medium full"), (-0.1, 1.15, "full"), (-1.0, 1.8, "wide"), (-4.0, 4.0, "extreme wide"),
    ],
)  # fmt: skip
def test_a_shot_is_called_by_the_lowest_part_in_it(low, high, size):
    assert framed(low, high) == ("Ada", size)


def test_a_heel_that_is_up_makes_no_full_shot_of_a_walker():
    """Cut at the shin, a walk is a medium full on each of its frames, whichever foot leaves the floor."""
    commands = [
        {"kind": "figure.add", "id": "f", "name": "Ada", "stature": TALL, "x": 0, "z": 0, "heading": 180},
        {"kind": "figure.walk", "figure": "f", "first": 1001, "points": [[0, 4]]},
        {"kind": "camera.add", "id": "c", "focal": 50, "frame": 1001, "pose": {"x": 0, "y": 1, "z": 9, "pan": 0, "tilt": 0, "roll": 0}},
        {"kind": "rig.start", "camera": "c", "shot": "front lead", "figures": ["f"], "frame": 1001},
    ]  # fmt: skip
    scene = run(empty_scene("S"), parse_commands(json.dumps(commands)))[0]
    bake = Bake(scene, ResultCache())
    assert {shot_size(bake, scene.cameras[0], frame) for frame in range(1030, 1075)} == {
        ("Ada", "medium full")
    }


def test_without_a_head_in_it_a_shot_is_of_nobody():
    assert framed(1.1, 1.5) is None
    assert framed(0.0, 0.5) is None
