"""The joints of a face: where they are in the head's frame, and how the ten numbers move and turn them.

One table for the core, for what is handed over and for what the desk draws: it is sent with the catalogue.
Places and moves are shares of stature; a number with a sign behind it counts only as far as it is more, or less, than 0.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from heron.stage.face.numbers import NUMBERS

Floats = np.ndarray[Any, np.dtype[np.float64]]
Vector = tuple[float, float, float]


@dataclass(frozen=True)
class FaceJoint:
    """A joint of a face.

    Attributes:
        at: its place in the head's frame with the face at rest.
        moves: how far it goes for each number at 1.
        turns: degrees about `axis` for each number at 1.
        left: whether it is of the left half of the upper face, which follows less as `side` grows.
    """

    name: str
    at: Vector
    moves: dict[str, Vector] = field(default_factory=dict)
    turns: dict[str, float] = field(default_factory=dict)
    axis: Vector = (1.0, 0.0, 0.0)
    left: bool = False


#: The middle of the white of an eye, and how far it is turned outwards, degrees.
WHITE, OUTWARDS = (0.0190, 0.0560, -0.0478), 20.0
#: The mouth at rest: half its width, the height of its corners, of the upper and the lower lip, and how far ahead it is.
HALF_MOUTH, CORNER_UP, UPPER_UP, LOWER_UP = 0.0140, 0.0200, 0.0206, 0.0192
MOUTH_Z, CORNER_Z = -0.0472, -0.0443
_BROW_IN, _BROW_OUT = (0.0080, 0.0685, -0.0525), (0.0305, 0.0692, -0.0465)


def _side(sign: int) -> list[FaceJoint]:
    name, left = ("r", False) if sign > 0 else ("l", True)
    turn = np.radians(OUTWARDS)
    axis = (float(np.cos(turn)), 0.0, float(sign * np.sin(turn)))

    def of(place: Vector) -> Vector:
        return (sign * place[0], place[1], place[2])

    w = HALF_MOUTH
    return [
        FaceJoint(
            f"brow_in_{name}", of(_BROW_IN), {"brow_in": (0.0, 0.0046, 0.0), "knit": (-sign * 0.0022, -0.0014, 0.0)}, left=left
        ),
        FaceJoint(f"brow_out_{name}", of(_BROW_OUT), {"brow_out": (0.0, 0.0042, 0.0)}, left=left),
        FaceJoint(f"lid_up_{name}", of(WHITE), {}, {"lid_up+": 16.0, "lid_up-": 60.0}, axis, left),
        FaceJoint(f"lid_low_{name}", of(WHITE), {}, {"lid_low": 32.0}, axis, left),
        FaceJoint(
            f"corner_{name}", (sign * w, CORNER_UP, CORNER_Z),
            {
                "wide+": (sign * 0.32 * w, 0.0, 0.0014), "wide-": (sign * 0.48 * w, 0.0, 0.0014),
                "corner": (sign * 0.16 * w, 0.0052, -0.0018),
            },
        ),
    ]  # fmt: skip


FACE: tuple[FaceJoint, ...] = (
    *_side(1),
    *_side(-1),
    FaceJoint(
        "lip_up", (0.0, UPPER_UP, MOUTH_Z), {"lip_up": (0.0, 0.0014, -0.0006), "corner": (0.0, -0.0012, 0.0)}
    ),
    FaceJoint(
        "lip_low", (0.0, LOWER_UP, MOUTH_Z), {"open": (0.0, -0.0150, 0.0070), "corner": (0.0, -0.0010, 0.0)}
    ),
    FaceJoint("jaw", (0.0, 0.001, -0.0285), {"open": (0.0, -0.0060, 0.0)}),
)
FACE_INDEX = {joint.name: i for i, joint in enumerate(FACE)}


def part(numbers: Floats, name: str, *, left: bool) -> Floats:
    """(n,) a number, or its part above or below 0, as one half of a face has it."""
    value = numbers[:, NUMBERS.index(name.rstrip("+-"))]
    if left:
        value = value * (1 - numbers[:, NUMBERS.index("side")])
    return (
        np.maximum(value, 0.0)
        if name.endswith("+")
        else np.minimum(value, 0.0)
        if name.endswith("-")
        else value
    )


def numbered(name: str) -> tuple[int, int]:
    """Which number a part of a face goes by, and which side of 0: 1 above, −1 below, 0 all of it."""
    sign = 1 if name.endswith("+") else -1 if name.endswith("-") else 0
    return NUMBERS.index(name.rstrip("+-")), sign


#: What each part of a face at its full is called where it is handed over: words that others read (common practice).
CALLED = {
    "brow_in+": "Brow Inner Up", "brow_in-": "Brow Inner Down", "brow_out+": "Brow Outer Up", "brow_out-": "Brow Outer Down", "knit": "Brow Knit",
    "lid_up+": "Eye Wide", "lid_up-": "Eye Blink", "lid_low": "Eye Squint", "open": "Jaw Open", "wide+": "Mouth Stretch", "wide-": "Mouth Pucker",
    "corner+": "Mouth Smile", "corner-": "Mouth Frown", "lip_up": "Upper Lip Raise",
}  # fmt: skip


def called(part_name: str) -> str:
    """What a part of a face, or of one side of it, is called where it is handed over."""
    name, _, side = part_name.partition(".")
    return CALLED[name] + {"": "", "r": " Right", "l": " Left"}[side]


def half(part_name: str) -> tuple[str, bool]:
    """A part that may be of one side, `lid_up-.l`, without it, and whether it is of the left."""
    name, _, side = part_name.partition(".")
    return name, side == "l"


def shares(numbers: Floats, parts: Sequence[str]) -> Floats:
    """(n, m) how far each part of a face is at its full, 0 to 1, for (n, 10) numbers."""
    out = np.zeros((len(numbers), len(parts)))
    for i, one in enumerate(parts):
        name, left = half(one)
        out[:, i] = np.abs(part(numbers, name, left=left))
    return out


def face_pose(numbers: Floats) -> tuple[Floats, Floats]:
    """Where the joints of a face are for (n, 10) numbers: (n, F, 3) shares of stature in the head's frame, and their turns (n, F, 4)."""
    n = len(numbers)
    places, turns = np.zeros((n, len(FACE), 3)), np.zeros((n, len(FACE), 4))
    turns[..., 3] = 1.0
    for i, joint in enumerate(FACE):
        places[:, i] = joint.at
        for name, by in joint.moves.items():
            places[:, i] += part(numbers, name, left=joint.left)[:, None] * np.array(by)
        degrees = sum(
            (part(numbers, name, left=joint.left) * by for name, by in joint.turns.items()), np.zeros(n)
        )
        half = np.radians(degrees) / 2
        turns[:, i, :3], turns[:, i, 3] = np.sin(half)[:, None] * np.array(joint.axis), np.cos(half)
    return places, turns
