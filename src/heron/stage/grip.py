"""Where a thing is taken hold of, and how it is carried, by its size."""

from dataclasses import dataclass
from typing import Any, Literal

import numpy as np

from heron.stage.acts.hands import Hands
from heron.stage.mover import AXES, Hinge, Mover
from heron.stage.piece import Piece, corners_of

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: An oar is 2.7 m long, held upright, its handle below; metres, its foot at the origin.
OAR_M, OAR_GRIP_M = 2.4, 1.02
#: Up to so wide a thing is held round its middle; a wider one by its top, or with both hands by its sides, metres.
_ROUND_M = 0.13
#: As long as this, something is carried upright beside the body, metres.
_LONG_M = 0.8
#: Nobody lifts what is wider, metres.
WIDEST_M = 1.2
#: The hand of who is given something takes it so far from the giver's, metres: a long thing below it, for its foot to clear
#: the floor whoever is shorter, else a little above.
_BELOW_M, _ABOVE_M = -0.14, 0.05
#: Shapes that nobody holds.
TOO_BIG = ("boat", "cart", "pony", "heron")

Carried = Literal["upright", "before", "hanging"]


@dataclass(frozen=True)
class Size:
    """The box round a thing in its own frame, (3,) metres each."""

    low: Floats
    high: Floats

    @property
    def wide(self) -> float:
        """The larger of its width and depth."""
        return float(max((self.high - self.low)[[0, 2]]))

    @property
    def tall(self) -> float:
        """Its height."""
        return float((self.high - self.low)[1])

    @property
    def middle(self) -> Floats:
        """(3,) metres."""
        return np.asarray((self.low + self.high) / 2)


def size_of(mover: Mover, parts: tuple[Piece, ...]) -> Size:
    """How large a thing is; one without parts is taken as small."""
    if mover.shape == "oar":
        return Size(np.array([-0.08, 0.0, -0.03]), np.array([0.08, OAR_M, 0.03]))
    if mover.shape == "lamp":
        return Size(np.array([-0.09, -0.16, -0.09]), np.array([0.09, 0.16, 0.09]))
    points = np.concatenate([corners_of(part) for part in parts]) if parts else np.zeros((1, 3))
    return Size(points.min(axis=0), points.max(axis=0))


def grips(mover: Mover, size: Size, hands: Hands) -> tuple[Floats, Floats | None]:
    """(3,) metres in the thing's frame: where a palm takes it, and where the other one does, of two."""
    if mover.hinge is not None:
        return _handle(mover, size), None
    x, y, z = size.middle
    if mover.shape == "oar":
        return np.array([0.0, OAR_GRIP_M, 0.0]), np.array(
            [0.0, OAR_GRIP_M + 0.35, 0.0]
        ) if hands == "both" else None
    if hands == "both":
        return np.array([size.high[0], y, z]), np.array([size.low[0], y, z])
    if size.wide <= _ROUND_M:
        share = 0.45 if size.tall > _LONG_M else 0.5
        return np.array([x, size.low[1] + share * size.tall, z]), None
    return np.array([x, size.high[1], z]), None


def _handle(mover: Mover, size: Size) -> Floats:
    """The middle of the edge farthest from a hinge's axis; of what slides, of the face it slides towards."""
    hinge = mover.hinge
    assert hinge is not None
    axis = np.array(AXES[hinge.axis])
    at = size.middle.copy()
    if isinstance(hinge, Hinge):
        flat = [i for i in range(3) if not axis[i]]
        # The wider of the two ways across the axis is the way to the handle.
        i = max(flat, key=lambda k: max(abs(size.low[k]), abs(size.high[k])))
    else:
        i = int(np.argmax(axis))
    at[i] = size.high[i] if abs(size.high[i]) >= abs(size.low[i]) else size.low[i]
    return at


def how_carried(size: Size) -> Carried:
    """How one hand carries a thing."""
    if size.tall > _LONG_M:
        return "upright"
    return "before" if size.wide <= _ROUND_M else "hanging"


def taken_at(size: Size) -> float:
    """How much higher than the giver's the hand is that takes a thing, metres."""
    return _BELOW_M if size.tall > _LONG_M else min(_ABOVE_M, 0.3 * size.tall)
