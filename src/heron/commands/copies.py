"""Copies of things beside themselves, with all that is part of them."""

from typing import Literal

from pydantic import Field

from heron.commands.base import Command, Outcome, copy_name, refuse_taken
from heron.commands.things import Ids, MoveThings, chosen_things, things_called
from heron.errors import BadInput
from heron.model import Id, Metres, Name, changed, new_id
from heron.scene import Scene, letter_after
from heron.scene.document import called
from heron.scene.links import renamed
from heron.stage.figure import Figure
from heron.stage.fresh import empty_handed
from heron.stage.piece import Piece
from heron.stage.reference import Tables

#: How far beside the original a copy stands, (x, z) in metres; a camera's copy sees what it saw.
BESIDE: dict[Tables, tuple[float, float]] = {
    "cameras": (0.0, 0.0), "figures": (0.8, 0.0), "movers": (0.8, 0.0), "pieces": (0.5, 0.5),
}  # fmt: skip


class DuplicateThings(Command):
    """Copy things beside themselves; `copies` are the new ids, in order. A camera gets the next free letter."""

    kind: Literal["things.duplicate"] = "things.duplicate"
    ids: Ids
    copies: tuple[Id, ...] = Field(default=(), max_length=5000)
    dx: Metres | None = None
    dz: Metres | None = None
    #: For one copy; left out, the name with the next free number.
    name: Name | None = None

    def apply(self, scene: Scene) -> Outcome:
        chosen = chosen_things(scene, self.ids)
        new_ids = self.copies or tuple(new_id(table[:3]) for table, _ in chosen)
        if len(new_ids) != len(chosen):
            raise BadInput(
                "There must be one new id for each thing.", "Give as many, or none.", field="copies"
            )
        names, copied = [], dict(zip((item.id for _, item in chosen), new_ids, strict=True))
        for (table, old), id_ in zip(chosen, new_ids, strict=True):
            there = getattr(scene, table)
            name = (
                self.name
                if self.name and len(chosen) == 1
                else copy_name(old.name, {i.name for i in there}, says=table == "cameras")
            )
            if table != "cameras":
                refuse_taken(scene, table, name)
            more = (
                {"letter": letter_after({c.letter for c in there}), "locked": False}
                if table == "cameras"
                else {}
            )
            copy = changed(old, id=id_, name=name, **more)
            if isinstance(copy, Figure):
                # What is copied along is handled, and handed, by the copies.
                copy = empty_handed(renamed(copy, copied), set(new_ids))
            dx, dz = BESIDE[table]
            dx, dz = dx if self.dx is None else self.dx, dz if self.dz is None else self.dz
            if isinstance(copy, Piece) and copy.part_of is not None:
                # One more part, beside the other in what they are part of.
                scene = scene.having(pieces=(*there, changed(copy, x=copy.x + dx, z=copy.z + dz)))
            else:
                by = MoveThings(ids=(id_,), dx=dx, dz=dz)
                scene = by.apply(scene.having(**{table: (*there, copy)}))[0]
            names.append(called(getattr(scene, table)[-1]))
            if table == "movers":
                scene = _with_copies_of_parts(scene, old.id, id_)
        olds = [item for _, item in chosen]
        said = f" as {names[0]}" if len(names) == 1 else ""
        return scene, f"Duplicated {things_called(olds)}{said}"


def _with_copies_of_parts(scene: Scene, old: str, new: str) -> Scene:
    """Copies of all that is part of a mover, or rides on it, on its copy."""
    pieces = [changed(p, id=new_id("set"), part_of=new) for p in scene.pieces if p.part_of == old]
    names = {p.name for p in scene.pieces}
    for i, piece in enumerate(pieces):
        pieces[i] = changed(piece, name=copy_name(piece.name, names))
        names.add(pieces[i].name)
    scene = scene.having(pieces=(*scene.pieces, *pieces))
    for rider in [m for m in scene.movers if m.on == old]:
        name = copy_name(rider.name, {m.name for m in scene.movers})
        copy = changed(rider, id=new_id("mov"), name=name, on=new)
        scene = scene.having(movers=(*scene.movers, copy))
        scene = _with_copies_of_parts(scene, rider.id, copy.id)
    return scene
