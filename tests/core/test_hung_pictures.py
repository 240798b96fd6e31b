"""Pictures on the sides of pieces: where they hang, against plain trigonometry by scipy."""

import json

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from heron.commands import parse_commands, run
from heron.errors import Refused
from heron.scene import empty_scene

KEY = "ab" * 32
#: A picture twice as wide as high.
PART = {"part": 0, "name": "Picture", "x": 0, "base": 0, "z": 0, "width": 6.0, "height": 3.0, "depth": 0.001}
SIZE = {"width": 4.0, "depth": 2.0, "height": 3.0}
HEADING, AT, BASE = 30.0, np.array([2.0, 0.0, -1.0]), 0.5


def stage(*commands, kind="box", **more):
    piece = {"kind": "piece.add", "id": "pc", "name": "Crate", "shape": kind, "x": AT[0], "z": AT[2], "base": BASE, "heading": HEADING, **SIZE, **more}  # fmt: skip
    return run(empty_scene("Slack Tide"), parse_commands(json.dumps([piece, *commands])))[0]


def hang(**more):
    return {
        "kind": "picture.hang",
        "id": "pic",
        "piece": "pc",
        "file": KEY,
        "part": PART,
        "name": "View",
        **more,
    }


def outwards(side):
    """(3,) the way a side of the piece faces on the stage; a heading turns to the left, seen from above."""
    own = {"front": [0, 0, 1], "right": [1, 0, 0], "back": [0, 0, -1], "left": [-1, 0, 0]}[side]
    return Rotation.from_euler("Y", HEADING, degrees=True).apply(own)


@pytest.mark.parametrize("side", ["front", "right", "back", "left"])
@pytest.mark.parametrize("named", [True, False])
def test_it_hangs_in_the_middle_of_its_side_as_large_as_goes_on_it(side, named):
    way = outwards(side)
    seen = AT + 9 * way + 2.5 * np.cross(way, [0, 1, 0])
    where = {"side": side} if named else {"x": float(seen[0]), "z": float(seen[2])}
    scene = stage(hang(**where))
    piece, hung = scene.pieces
    deep, wide = (1.0, 4.0) if side in ("front", "back") else (2.0, 2.0)
    # The whole picture, its own shape kept.
    assert (hung.width, hung.height) == (pytest.approx(wide), pytest.approx(wide / 2))
    assert hung.base + hung.height / 2 == pytest.approx(BASE + SIZE["height"] / 2)
    away = np.array([hung.x, 0, hung.z]) - AT
    np.testing.assert_allclose(away, way * (deep + 0.005), atol=1e-5)
    # A picture faces +Z in its own frame.
    faces = Rotation.from_euler("Y", hung.heading, degrees=True).apply([0, 0, 1])
    np.testing.assert_allclose(faces, way, atol=1e-9)
    assert piece.group == hung.group == "Crate" and scene.files == (KEY,)
    assert not hung.source.stood_on and hung.name == "View"


def test_one_that_is_high_for_its_side_is_as_high_as_that():
    tall = PART | {"width": 1.0, "height": 4.0}
    hung = stage(hang(part=tall, side="front")).pieces[1]
    assert (hung.width, hung.height, hung.base) == (
        pytest.approx(0.75),
        pytest.approx(3.0),
        pytest.approx(BASE),
    )


def test_in_a_group_it_joins_that_and_on_something_that_moves_it_moves_too():
    assert (
        stage({"kind": "pieces.group", "ids": ["pc"], "group": "Set"}, hang(side="left")).pieces[1].group
        == "Set"
    )
    mover = {"kind": "mover.make", "id": "mov", "ids": ["pc"], "name": "Cart"}
    scene = stage(mover, hang(side="front"))
    assert scene.pieces[1].part_of == "mov"
    with pytest.raises(Refused, match="moves") as error:
        stage(mover, hang(x=0.0, z=9.0))
    assert error.value.remedy == "Name a side."


@pytest.mark.parametrize("kind", ["post", "ramp", "reeds"])
def test_what_has_no_flat_sides_takes_none(kind):
    with pytest.raises(Refused, match="no flat sides"):
        stage(hang(side="front"), kind=kind)
    with pytest.raises(Refused, match="locked"):
        stage({"kind": "things.lock", "ids": ["pc"], "locked": True}, hang(side="front"))
