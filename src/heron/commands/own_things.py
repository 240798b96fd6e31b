"""Things of a scene kept for other scenes: a group of pieces, a dressed figure with what it does, movers, cameras with their rigs."""

from typing import Any, Literal

from pydantic import Field

from heron.commands.base import Command, Outcome, copy_name
from heron.commands.deletion import delete
from heron.commands.things import MoveThings, chosen_things, things_called
from heron.errors import Refused
from heron.model import Id, Metres, changed, new_id
from heron.scene import Scene, letter_after
from heron.scene.document import TABLES
from heron.scene.links import links, renamed
from heron.scene.lookup import validate_scene
from heron.scene.noting import Noting

#: What is kept, in an order in which each comes after what it is part of.
_KEPT = ("lenses", "movers", "pieces", "figures", "cameras")


def kept_things(scene: Scene, ids: tuple[str, ...]) -> Scene:
    """A scene of these things alone, named after them, with all that is part of them; what they did by others is as if those
    were deleted.

    Raises:
        NotFound, Refused: there are none, one is not on the stage, or is named twice.
    """
    if not ids:
        raise Refused("Nothing is selected.", "Select figures, things, set pieces or cameras.", field="ids")
    chosen = [item for _, item in chosen_things(scene, ids)]
    kept = {item.id for item in chosen}
    while True:
        riders: list[Any] = [*scene.movers, *scene.pieces]
        more = {one.id for one in riders if any(k.role.goes and k.id in kept for k in links(one))} - kept
        more |= {one.mounted for one in scene.cameras if one.id in kept and one.mounted is not None} - kept
        if not more:
            break
        kept |= more
    bare: dict[str, Any] = {table: () for table in TABLES if table not in _KEPT}
    alone = scene.having(**bare, cut_name="", cuts=(), locked=(), noting=Noting(), name=_name_of(chosen))
    others = [item for table in _KEPT for item in getattr(alone, table) if item.id not in kept]
    after, _ = delete(alone, others) if others else (alone, "")
    return validate_scene(after)


def _name_of(items: list[Any]) -> str:
    """What things are called together: by their group, else by the first of them."""
    groups = {getattr(item, "group", "") for item in items}
    if len(groups) == 1 and "" not in groups:
        return str(groups.pop())
    first = str(items[0].name)
    return first if len(items) == 1 else f"{first[:60]} and {len(items) - 1} more"


class BringThings(Command):
    """Put things that were kept on the stage, under new ids and free names; their acts and keys keep their frames."""

    kind: Literal["things.bring"] = "things.bring"
    id: Id = Field(default_factory=lambda: new_id("own"))
    kept: Scene
    #: Where their middle comes to stand; left out, they stand where they were kept.
    x: Metres | None = None
    z: Metres | None = None

    def apply(self, scene: Scene) -> Outcome:
        items = [(table, item) for table in _KEPT for item in getattr(self.kept, table)]
        if all(table == "lenses" for table, _ in items):
            raise Refused(
                "There is nothing to put up in it.",
                "Keep figures, things, set pieces or cameras.",
                field="kept",
            )
        names = {item.id: f"{self.id[:34]}-{k}" for k, (_, item) in enumerate(items)}
        for table, item in items:
            same = next(
                (one for one in scene.lenses if table == "lenses" and changed(one, id=item.id) == item), None
            )
            if same is not None:
                # A lens that is in the kit already is that one.
                names[item.id] = same.id
        groups: dict[str, str] = {}
        new = []
        for table, item in items:
            there = getattr(scene, table)
            if any(one.id == names[item.id] for one in there):
                continue
            taken = {one.name.lower() for one in there}
            name = (
                copy_name(item.name, {one.name for one in there}, says=table == "cameras")
                if item.name.lower() in taken
                else item.name
            )
            more: dict[str, Any] = {"id": names[item.id], "name": name}
            if table == "cameras":
                more["letter"] = letter_after({one.letter for one in there})
            if group := getattr(item, "group", ""):
                used = {getattr(one, "group", "") for one in getattr(scene, table)}
                more["group"] = groups.setdefault(group, copy_name(group, used) if group in used else group)
            made = changed(renamed(item, names), **more)
            scene = scene.having(**{table: (*there, made)})
            new.append((table, made))
        free = [
            one
            for table, one in new
            if table in ("figures", "movers", "cameras") or (table == "pieces" and one.part_of is None)
        ]
        if free and (self.x is not None or self.z is not None):
            at = [(_at(one.x), _at(one.z)) for one in free]
            dx = 0.0 if self.x is None else self.x - sum(x for x, _ in at) / len(at)
            dz = 0.0 if self.z is None else self.z - sum(z for _, z in at) / len(at)
            scene, _ = MoveThings(ids=tuple(one.id for one in free), dx=dx, dz=dz).apply(scene)
        return scene, f"Put up {things_called([one for _, one in new])} from the library"


def _at(value: Any) -> float:
    """A number, or where a channel is at first."""
    if isinstance(value, int | float):
        return float(value)
    return float(value.keys[0].value if value.keys else value.rest)
