"""Finding and replacing things in a scene."""

from typing import Any

from heron.errors import NotFound, Refused
from heron.model import Model
from heron.scene.document import Scene, Tables, problems

_SINGULAR = {
    "figures": "figure",
    "movers": "mover",
    "pieces": "set piece",
    "cameras": "camera",
    "shots": "shot",
    "lenses": "lens",
}


def find(scene: Scene, table: Tables, id_: str) -> Any:
    """The item of a table with an id.

    Raises:
        NotFound: it is not in the scene.
    """
    for item in getattr(scene, table):
        if item.id == id_:
            return item
    raise NotFound(
        f"There is no {_SINGULAR[table]} {id_} in this scene.",
        "It may have been deleted; choose another.",
        field=_SINGULAR[table],
    )


def find_named(scene: Scene, table: Tables, name: str) -> Any:
    """The item of a table by letter, name or id, as a person would type it.

    Raises:
        NotFound: no such thing; the message lists what there is.
    """
    items = getattr(scene, table)
    for field in ("letter", "name", "id"):
        for item in items:
            if getattr(item, field, "").lower() == name.lower():
                return item
    there = ", ".join(getattr(i, "letter", i.name) for i in items) or "none"
    raise NotFound(
        f"There is no {_SINGULAR[table]} {name!r:.60}.", f"There is: {there}.", field=_SINGULAR[table]
    )


def replace(scene: Scene, table: Tables, *items: Model) -> Scene:
    """The scene with items of a table replaced by their id; nothing else is copied."""
    new = {item.id: item for item in items}  # type: ignore[attr-defined]
    return scene.model_copy(update={table: tuple(new.get(old.id, old) for old in getattr(scene, table))})


def whole(scene: Scene) -> Scene:
    """The scene, if its parts fit together.

    Raises:
        Refused: naming the first rule that is broken.
    """
    for problem in problems(scene):
        raise Refused(f"{problem[0].upper()}{problem[1:]}.", "Change that first; nothing was done.")
    return scene
