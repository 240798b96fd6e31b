"""Commands on set pieces."""

from typing import Any, Literal

from pydantic import Field

from heron.commands.base import Command, Outcome, free_name, unlocked
from heron.commands.things import Ids, chosen_things, things_called
from heron.errors import BadInput
from heron.model import Colour, Degrees, Id, Label, Metres, Name, Size, changed, new_id
from heron.scene import Scene, find, replace
from heron.stage.acts.body import Point2
from heron.stage.floors import support
from heron.stage.fresh import FRESH, drawn, sized
from heron.stage.piece import DrawnKind, Finish, Piece


class AddPiece(Command):
    """Put up a set piece."""

    kind: Literal["piece.add"] = "piece.add"
    id: Id = Field(default_factory=lambda: new_id("set"))
    name: Name | None = None
    shape: DrawnKind
    x: Metres
    z: Metres
    base: Metres = 0.0
    heading: Degrees = 0.0
    width: Size
    depth: Size
    height: Size
    colour: Colour = "#b8a88a"
    finish: Finish = "plain"
    group: Label = ""

    def apply(self, scene: Scene) -> Outcome:
        name = self.name or free_name(self.shape.capitalize(), {p.name for p in scene.pieces})
        content = {
            f: getattr(self, f) for f in Piece.model_fields if hasattr(self, f) and f not in ("kind", "name")
        }
        piece = Piece(name=name, kind=self.shape, **content)
        return scene.having(pieces=(*scene.pieces, piece)), f"Put up {name}"


class DrawPiece(Command):
    """Put up a set piece drawn on the plan from one point to another; its other sizes are the usual ones.

    It stands on what lies under its middle.
    """

    kind: Literal["piece.draw"] = "piece.draw"
    id: Id = Field(default_factory=lambda: new_id("set"))
    shape: DrawnKind
    start: Point2
    end: Point2

    def apply(self, scene: Scene) -> Outcome:
        height, _, colour = FRESH[self.shape]
        place = drawn(self.shape, self.start, self.end)
        add = AddPiece.model_validate(
            {
                "id": self.id,
                "shape": self.shape,
                "height": height,
                "colour": colour,
                "base": round(support(scene.pieces, place["x"], place["z"]), 4),
                **place,
            }
        )
        return add.apply(scene)


class SetPiece(Command):
    """Change a set piece."""

    kind: Literal["piece.set"] = "piece.set"
    piece: Id
    name: Name | None = None
    x: Metres | None = None
    z: Metres | None = None
    base: Metres | None = None
    heading: Degrees | None = None
    width: Size | None = None
    depth: Size | None = None
    height: Size | None = None
    colour: Colour | None = None
    finish: Finish | None = None

    def apply(self, scene: Scene) -> Outcome:
        piece: Piece = unlocked(find(scene, "pieces", self.piece))
        update: dict[str, Any] = {
            f: getattr(self, f)
            for f in type(self).model_fields
            if f not in ("kind", "piece") and getattr(self, f) is not None
        }
        if not update:
            raise BadInput("Nothing to set was named.", "Give a size, a place, a name or a colour.")
        return replace(
            scene, "pieces", changed(piece, **update)
        ), f"Changed {piece.name}'s {' and '.join(update)}"


class SizePiece(Command):
    """Size a piece by one of its corners, dragged to a place on the plan; the opposite corner stays."""

    kind: Literal["piece.size"] = "piece.size"
    piece: Id
    #: Which corner, of its own across and along.
    corner: tuple[Literal[-1, 1], Literal[-1, 1]]
    to: Point2

    def apply(self, scene: Scene) -> Outcome:
        piece: Piece = unlocked(find(scene, "pieces", self.piece))
        after = changed(piece, **sized(piece, self.corner, self.to))
        said = f"Sized {piece.name} to {after.width:g} × {after.depth:g} m"
        return replace(scene, "pieces", after), said


class GroupPieces(Command):
    """Give set pieces a group by name; an empty name takes them out of theirs."""

    kind: Literal["pieces.group"] = "pieces.group"
    ids: Ids
    group: Label

    def apply(self, scene: Scene) -> Outcome:
        chosen = [item for _, item in chosen_things(scene, self.ids, ("pieces",))]
        what = things_called(chosen)
        said = f"Grouped {what} as “{self.group}”" if self.group else f"Ungrouped {what}"
        return replace(scene, "pieces", *(changed(p, group=self.group) for p in chosen)), said
