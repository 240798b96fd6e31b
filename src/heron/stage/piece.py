"""Set pieces: simple solids placed by their footprint."""

import math
from typing import Annotated, Any, ClassVar, Literal

import numpy as np
from pydantic import Field, model_validator

from heron.model import Colour, Degrees, FileKey, Id, Label, Metres, Model, Name, Size
from heron.stage.reference import LinkTo, Role

DrawnKind = Literal["box", "post", "wall", "platform", "ramp", "backdrop", "reeds"]
#: Drawn here, or part of a file that was brought in.
PieceKind = DrawnKind | Literal["model"]
#: How a surface looks: even, of boards laid side by side, ending above like trees, or shining by itself.
Finish = Literal["plain", "boards", "trees", "lit"]
#: Kinds a figure can stand on, whichever way they are.
WALKABLE: frozenset[PieceKind] = frozenset({"platform", "ramp"})


class FromFile(Model):
    """Which part of which file a piece is: the SHA-256 of the file as it is kept here, and the place of the part in it."""

    file: FileKey
    part: int = Field(default=0, ge=0, le=9999)
    #: Whether figures can stand on it.
    stood_on: bool = True


class Piece(Model):
    """A solid on the stage.

    `x`, `z` are the middle of its footprint and `base` the height of its underside, metres;
    `heading` turns it about world up, degrees, positive to the left. A ramp rises towards
    its own −Z, from its underside to its full height. Of a piece that is part of a mover all
    this is meant in the mover's frame.
    """

    NOT_HASHED: ClassVar[frozenset[str]] = frozenset(
        {"id", "name", "colour", "group", "finish", "locked", "hidden"}
    )

    id: Id
    name: Name
    kind: PieceKind
    x: Metres
    z: Metres
    base: Metres = 0.0
    heading: Degrees = 0.0
    width: Size
    depth: Size
    height: Size
    colour: Colour = "#b8a88a"
    finish: Finish = "plain"
    #: What it is made of where it was brought in; its own box is then what holds that part.
    source: FromFile | None = None
    group: Label = ""
    part_of: Annotated[
        Id | None,
        LinkTo("movers"),
        Role("is part of", moves=True, needs="same", goes=True, left="{} goes with it"),
    ] = None
    #: Not to be touched.
    locked: bool = False
    #: Not seen in pictures; figures stand on it all the same.
    hidden: bool = False

    @model_validator(mode="after")
    def _of_a_file(self) -> "Piece":
        if (self.kind == "model") != (self.source is not None):
            raise ValueError("a piece that was brought in names its file, and no other does")
        return self


def place_on(piece: Piece, across: float, up: float, along: float) -> np.ndarray[Any, np.dtype[np.float64]]:
    """(3,) metres on the stage: a place on a piece, in shares of its size from the middle of its foot."""
    turn = math.radians(piece.heading)
    x, z = across * piece.width, along * piece.depth
    return np.array(
        [
            piece.x + x * math.cos(turn) + z * math.sin(turn),
            piece.base + up * piece.height,
            piece.z - x * math.sin(turn) + z * math.cos(turn),
        ]
    )


def corners_of(piece: Piece) -> np.ndarray[Any, np.dtype[np.float64]]:
    """(8, 3) metres: the corners of the box round a piece."""
    shares = [(x, y, z) for x in (-0.5, 0.5) for y in (0.0, 1.0) for z in (-0.5, 0.5)]
    return np.array([place_on(piece, *one) for one in shares])


def footprint(piece: Piece) -> tuple[float, float, float, float]:
    """The upright square of the floor that holds a piece: x and z from, x and z to, metres."""
    turn = math.radians(piece.heading)
    c, s = abs(math.cos(turn)), abs(math.sin(turn))
    wide, deep = (c * piece.width + s * piece.depth) / 2, (s * piece.width + c * piece.depth) / 2
    return piece.x - wide, piece.z - deep, piece.x + wide, piece.z + deep


def into(piece: Piece, x: Any, z: Any) -> tuple[Any, Any]:
    """Metres across and along a piece from the middle of its footprint, of places on the stage."""
    turn = math.radians(piece.heading)
    dx, dz = x - piece.x, z - piece.z
    return dx * math.cos(turn) - dz * math.sin(turn), dx * math.sin(turn) + dz * math.cos(turn)


def shares_on(piece: Piece, x: float, y: float, z: float) -> tuple[float, float, float]:
    """The inverse of `place_on`: across, up and along, of the place on or in the piece nearest to this one."""
    across, along = into(piece, x, z)
    return (
        min(max(across / piece.width, -0.5), 0.5),
        min(max((y - piece.base) / piece.height, 0.0), 1.0),
        min(max(along / piece.depth, -0.5), 0.5),
    )
