"""Pictures on the sides of set pieces."""

from typing import Literal

from pydantic import Field, model_validator

from heron.commands.base import Command, Outcome, unlocked, unused
from heron.commands.bringing import OWN_COLOUR, PartIn
from heron.errors import Refused
from heron.model import FileKey, Id, Metres, Name, changed, new_id
from heron.scene import Scene, find, replace
from heron.stage.piece import FromFile, Piece, into, place_on

Side = Literal["front", "back", "left", "right"]
#: Of each side: which way it lies across and along the piece, and how a picture on it is turned, degrees.
_SIDES: dict[Side, tuple[int, int, float]] = {
    "front": (0, 1, 0.0),
    "right": (1, 0, 90.0),
    "back": (0, -1, 180.0),
    "left": (-1, 0, -90.0),
}
#: How far in front of its side a picture hangs, metres: nearer, the two could not be told apart from far away.
OFF_M = 0.005
#: What has no flat sides.
_ROUND = ("post", "ramp", "reeds")


class HangPicture(Command):
    """Put a picture on a side of a set piece: as large as goes on it, in its middle, in one group with it.

    On the side that is named, else on the one that faces a place on the stage.
    """

    kind: Literal["picture.hang"] = "picture.hang"
    id: Id = Field(default_factory=lambda: new_id("pic"))
    piece: Id
    file: FileKey
    part: PartIn
    name: Name
    side: Side | None = None
    x: Metres | None = None
    z: Metres | None = None

    @model_validator(mode="after")
    def _somewhere(self) -> "HangPicture":
        if self.side is None and (self.x is None or self.z is None):
            raise ValueError("a side, or a place that it faces")
        return self

    def apply(self, scene: Scene) -> Outcome:
        piece: Piece = find(scene, "pieces", self.piece)
        unlocked(piece)
        if piece.kind in _ROUND or piece.finish == "trees":
            raise Refused(
                f"{piece.name} has no flat sides.", "Choose a box, a wall, a platform or a backdrop.", field="piece"
            )  # fmt: skip
        side = self.side or _facing(piece, self.x or 0.0, self.z or 0.0)
        across, along, turn = _SIDES[side]
        wide = piece.width if along else piece.depth
        share = min(wide / self.part.width, piece.height / self.part.height)
        high = share * self.part.height
        x, base, z = place_on(
            piece,
            across * (0.5 + OFF_M / piece.width),
            (1 - high / piece.height) / 2,
            along * (0.5 + OFF_M / piece.depth),
        )
        group = piece.group or unused(piece.name, {one.group for one in scene.pieces})
        hung = Piece(
            id=self.id, name=unused(self.name, {one.name for one in scene.pieces}), kind="model", x=round(float(x), 6), z=round(float(z), 6),
            base=round(float(base), 6), heading=piece.heading + turn, width=share * self.part.width, height=high, depth=self.part.depth,
            colour=OWN_COLOUR, source=FromFile(file=self.file, part=self.part.part, stood_on=False), group=group, part_of=piece.part_of,
        )  # fmt: skip
        after = replace(scene, "pieces", changed(piece, group=group))
        return after.having(pieces=(*after.pieces, hung)), f"Put {hung.name} on {piece.name}"


def _facing(piece: Piece, x: float, z: float) -> Side:
    """The side of a piece that faces a place: the one in front of which that lies farthest.

    Raises:
        Refused: the piece is part of something that moves, and may face anywhere.
    """
    if piece.part_of is not None:
        raise Refused(f"{piece.name} moves, and faces no place for good.", "Name a side.", field="side")
    across, along = (float(one) for one in into(piece, x, z))

    def before(side: Side) -> float:
        a, b, _ = _SIDES[side]
        return a * across + b * along - (piece.depth if b else piece.width) / 2

    return max(_SIDES, key=before)
