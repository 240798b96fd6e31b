"""Finding and replacing things in a scene."""

from typing import Any

from annotated_types import MaxLen
from pydantic import ValidationError

from heron.errors import NotFound, Refused, from_validation
from heron.model import Model
from heron.scene.document import PLURAL, SINGULAR, TABLES, Scene, problems
from heron.stage.reference import Tables


def find(scene: Scene, table: Tables, id_: str) -> Any:
    """The item of a table with an id.

    Raises:
        NotFound: it is not in the scene.
    """
    for item in getattr(scene, table):
        if item.id == id_:
            return item
    raise NotFound(
        f"There is no {SINGULAR[table]} {id_} in this scene.",
        "It may have been deleted; choose another.",
        field=SINGULAR[table],
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
        f"There is no {SINGULAR[table]} {name!r:.60}.", f"There is: {there}.", field=SINGULAR[table]
    )


def replace(scene: Scene, table: Tables, *items: Model) -> Scene:
    """A draft with items of a table replaced by their id; nothing else is copied."""
    new = {item.id: item for item in items}  # type: ignore[attr-defined]
    return scene.having(**{table: tuple(new.get(old.id, old) for old in getattr(scene, table))})


def validate_scene(scene: Scene) -> Scene:
    """A draft as a scene that can be kept: it satisfies all that reading asks of a document.

    Its parts were checked when they were made, each by its own rules; here are checked how many there
    are, the scene's own fields, and the rules across parts.

    Raises:
        Refused: naming the first rule that is broken.
    """
    for table in TABLES:
        count, most = len(getattr(scene, table)), _most(table)
        if count > most:
            raise Refused(
                f"A scene holds at most {most:,} {PLURAL[table]}; this would make {count:,}.",
                "Delete some that are not needed first; nothing was done.",
                field=table,
            )
    try:
        own = {name: getattr(scene, name) for name in Scene.model_fields if name not in TABLES}
        bare = Scene.model_validate(own)
    except ValidationError as error:
        refusal = from_validation(error, "The scene")
        raise Refused(refusal.reason, "Change that first; nothing was done.", field=refusal.field) from None
    for problem in problems(scene):
        raise Refused(
            f"{problem[0].upper()}{problem[1:]}.", "Change that first; nothing was done.", field="scene"
        )
    return scene.having(**{name: getattr(bare, name) for name in own})


def _most(table: Tables) -> int:
    (limit,) = (m.max_length for m in Scene.model_fields[table].metadata if isinstance(m, MaxLen))
    return int(limit)
