"""What things are like before anyone says otherwise: sizes, colours, and what is drawn from one point to another."""

import math
from collections.abc import Container

from heron.model import changed
from heron.stage.acts.body import Point2
from heron.stage.acts.hands import Handling
from heron.stage.figure import Figure, Look
from heron.stage.piece import DrawnKind, Piece, into, place_on

#: Height, thickness (of what is drawn along its length, or a post's least width), metres, and colour.
FRESH: dict[DrawnKind, tuple[float, float, str]] = {
    "box": (1.0, 0.05, "#b8a88a"),
    "post": (2.0, 0.2, "#6a5f52"),
    "wall": (2.6, 0.15, "#a89b86"),
    "platform": (0.3, 0.05, "#a58a66"),
    "ramp": (0.5, 0.05, "#a58a66"),
    "backdrop": (4.0, 0.1, "#93a09b"),
    "reeds": (1.7, 0.6, "#9a8c54"),
}
_COATS = (
    ("#3f6f7a", "#d9b85f"), ("#8a4a34", "#e0d3b8"), ("#5c6a3f", "#d8cfa0"), ("#5a4a78", "#cbb8d8"), ("#93682c", "#efe3c2"),
)  # fmt: skip
_HEADWEAR = ("scarf", "cap", "bun", "none")
_GARMENTS = ("skirt", "coat", "plain")
#: A mover's usual name and colour.
MOVERS = {
    "boat": ("Boat", "#4f6f8a"), "heron": ("Heron", "#7d8a96"), "cart": ("Cart", "#8a6a44"),
    "pony": ("Pony", "#8b6b4d"), "oar": ("Oar", "#c08a4a"), "lamp": ("Lamp", "#4a4640"),
}  # fmt: skip
#: The least a drawn thing is long, metres.
_LEAST = 0.1
#: What a press without a drag puts up: across and along, metres, square to the plan.
USUAL: dict[DrawnKind, tuple[float, float]] = {
    "box": (1.0, 1.0), "post": (0.2, 0.2), "wall": (3.0, 0.15), "platform": (2.0, 2.0), "ramp": (1.5, 2.0), "backdrop": (6.0, 0.1), "reeds": (2.5, 0.8),
}  # fmt: skip
#: A drag shorter than this is a press, metres.
_PRESS = 0.03


def drawn(shape: DrawnKind, start: Point2, end: Point2) -> dict[str, float]:
    """The footprint of a piece drawn from one point on the floor to another.

    A press without a drag puts up one of the usual size. A wall or backdrop runs from one to the other; a post stands on the first, as wide as twice the
    way to the second; any other has them as opposite corners.

    Returns:
        x, z, width, depth in metres and heading in degrees, to the millimetre.
    """
    dx, dz = end[0] - start[0], end[1] - start[1]
    if math.hypot(dx, dz) < _PRESS:
        width, depth = USUAL[shape]
        return {
            "x": round(start[0], 3),
            "z": round(start[1], 3),
            "width": width,
            "depth": depth,
            "heading": 0.0,
        }
    x, z = (start[0] + end[0]) / 2, (start[1] + end[1]) / 2
    thick = FRESH[shape][1]
    heading = 0.0
    if shape in ("wall", "backdrop", "reeds"):
        width, depth = max(math.hypot(dx, dz), _LEAST), thick
        # Along the line, the way round that is turned less.
        heading = (math.degrees(math.atan2(-dx, -dz)) + 90 + 270) % 180 - 90
    elif shape == "post":
        width = depth = max(2 * math.hypot(dx, dz), thick)
        x, z = start
    else:
        width, depth = max(abs(dx), thick), max(abs(dz), thick)
    return {
        "x": round(x, 3), "z": round(z, 3), "width": round(width, 3), "depth": round(depth, 3), "heading": round(heading, 3),
    }  # fmt: skip


def sized(piece: Piece, corner: tuple[int, int], to: Point2) -> dict[str, float]:
    """A piece's footprint with one corner dragged somewhere and the opposite one left where it is.

    Returns:
        x, z, width and depth in metres, to the millimetre; never thinner than 5 cm.
    """
    across, along = into(piece, *to)
    fixed = (-corner[0] * piece.width / 2, -corner[1] * piece.depth / 2)
    width, depth = max(abs(across - fixed[0]), 0.05), max(abs(along - fixed[1]), 0.05)
    middle = (fixed[0] + corner[0] * width / 2, fixed[1] + corner[1] * depth / 2)
    x, _, z = place_on(piece, middle[0] / piece.width, 0.0, middle[1] / piece.depth)
    return {"x": round(x, 3), "z": round(z, 3), "width": round(width, 3), "depth": round(depth, 3)}


def look_of(number: int) -> Look:
    """How the next figure of several looks, so that neighbours are recognised at a glance."""
    coat, trim = _COATS[number % len(_COATS)]
    return Look.model_validate(
        {"coat": coat, "trim": trim, "headwear": _HEADWEAR[number % 4], "garment": _GARMENTS[number % 3]}
    )


def empty_handed(figure: Figure, but: Container[str] = ()) -> Figure:
    """The figure without what it does with things, but for some: a copy has none of those that its original handles."""
    acts = tuple(act for act in figure.acts if not isinstance(act, Handling) or act.what in but)
    return figure if len(acts) == len(figure.acts) else changed(figure, acts=acts)
