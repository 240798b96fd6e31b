"""Commands on set pieces; those that move things take several at once."""

import math
from typing import Annotated, Any, Literal

from pydantic import Field

from heron.commands.base import Command, Outcome, copy_name
from heron.commands.focusing import let_go, stays
from heron.errors import BadInput, Refused
from heron.model import Colour, Degrees, Id, Label, Metres, Name, Size, changed, new_id
from heron.scene import Scene, find, replace
from heron.stage.piece import Piece, PieceKind

Ids = Annotated[tuple[Id, ...], Field(min_length=1, max_length=5000)]


class AddPiece(Command):
    """Put up a set piece."""

    kind: Literal["piece.add"] = "piece.add"
    id: Id = Field(default_factory=lambda: new_id("set"))
    name: Name | None = None
    shape: PieceKind
    x: Metres
    z: Metres
    base: Metres = 0.0
    heading: Degrees = 0.0
    width: Size
    depth: Size
    height: Size
    colour: Colour = "#b8a88a"
    group: Label = ""

    def apply(self, scene: Scene) -> Outcome:
        name = self.name or _free_name(scene, self.shape)
        content = {f: getattr(self, f) for f in Piece.model_fields if f not in ("kind", "name")}
        piece = Piece(name=name, kind=self.shape, **content)
        return scene.model_copy(update={"pieces": (*scene.pieces, piece)}), f"Put up {name}"


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

    def apply(self, scene: Scene) -> Outcome:
        piece: Piece = find(scene, "pieces", self.piece)
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


class MovePieces(Command):
    """Move set pieces, and turn them about their common middle."""

    kind: Literal["pieces.move"] = "pieces.move"
    ids: Ids
    dx: Metres = 0.0
    dy: Metres = 0.0
    dz: Metres = 0.0
    turn: Degrees = 0.0

    def apply(self, scene: Scene) -> Outcome:
        chosen = _chosen(scene, self.ids)
        mx = sum(p.x for p in chosen) / len(chosen)
        mz = sum(p.z for p in chosen) / len(chosen)
        cos, sin = math.cos(math.radians(self.turn)), math.sin(math.radians(self.turn))
        moved = [
            changed(
                p,
                x=mx + (p.x - mx) * cos + (p.z - mz) * sin + self.dx,
                z=mz - (p.x - mx) * sin + (p.z - mz) * cos + self.dz,
                base=p.base + self.dy,
                heading=p.heading + self.turn,
            )
            for p in chosen
        ]
        word = "Turned" if self.turn and not (self.dx or self.dz or self.dy) else "Moved"
        return replace(scene, "pieces", *moved), f"{word} {_called(chosen)}"


class DuplicatePieces(Command):
    """Copy set pieces beside themselves; the copies' ids are `id` and a number."""

    kind: Literal["pieces.duplicate"] = "pieces.duplicate"
    ids: Ids
    id: Annotated[str, Field(pattern=r"^[A-Za-z0-9_-]{1,30}$")] = Field(default_factory=lambda: new_id("set"))
    dx: Metres = 0.5
    dz: Metres = 0.5

    def apply(self, scene: Scene) -> Outcome:
        chosen = _chosen(scene, self.ids)
        taken = {p.name for p in scene.pieces}
        copies = []
        for number, piece in enumerate(chosen):
            name = copy_name(piece.name, taken)
            taken.add(name)
            copies.append(
                changed(piece, id=f"{self.id}-{number}", name=name, x=piece.x + self.dx, z=piece.z + self.dz)
            )
        return scene.model_copy(update={"pieces": (*scene.pieces, *copies)}), f"Duplicated {_called(chosen)}"


class DeletePieces(Command):
    """Take set pieces down."""

    kind: Literal["pieces.delete"] = "pieces.delete"
    ids: Ids

    def apply(self, scene: Scene) -> Outcome:
        chosen = _chosen(scene, self.ids)
        gone, letters = {p.id for p in chosen}, set()
        for one in chosen:
            scene, watching = let_go(scene, one.id)
            letters |= set(watching)
        kept = tuple(p for p in scene.pieces if p.id not in gone)
        return (
            scene.model_copy(update={"pieces": kept}),
            f"Took down {_called(chosen)}{stays(sorted(letters))}",
        )


class GroupPieces(Command):
    """Give set pieces a group by name; an empty name takes them out of theirs."""

    kind: Literal["pieces.group"] = "pieces.group"
    ids: Ids
    group: Label

    def apply(self, scene: Scene) -> Outcome:
        chosen = _chosen(scene, self.ids)
        said = (
            f"Grouped {_called(chosen)} as “{self.group}”" if self.group else f"Ungrouped {_called(chosen)}"
        )
        return replace(scene, "pieces", *(changed(p, group=self.group) for p in chosen)), said


def _chosen(scene: Scene, ids: tuple[str, ...]) -> list[Piece]:
    if len(set(ids)) != len(ids):
        raise Refused("A set piece is named twice.", "Name each once.", field="ids")
    return [find(scene, "pieces", id_) for id_ in ids]


def _called(pieces: list[Piece]) -> str:
    groups = {p.group for p in pieces}
    if len(pieces) == 1:
        return pieces[0].name
    if len(groups) == 1 and "" not in groups:
        return f"the group “{pieces[0].group}”"
    return f"{len(pieces)} set pieces"


def _free_name(scene: Scene, kind: str) -> str:
    taken = {p.name for p in scene.pieces}
    number = 1
    while f"{kind.capitalize()} {number}" in taken:
        number += 1
    return f"{kind.capitalize()} {number}"
