"""The exact difference between two versions of a scene."""

from typing import Any

from pydantic import Field

from heron.model import Model
from heron.scene.document import TABLES, Scene


class Patch(Model):
    """What turns one scene into another.

    `settings` holds scene-level fields that differ; `items` for each table the new content
    by id, None where the item goes; `order` the new order of ids of tables whose members or
    order differ.
    """

    settings: dict[str, Any] = Field(default_factory=dict)
    items: dict[str, dict[str, dict[str, Any] | None]] = Field(default_factory=dict)
    order: dict[str, list[str]] = Field(default_factory=dict)

    def touched(self) -> set[str]:
        """Ids of all things it adds, changes or takes away."""
        return {id_ for table in self.items.values() for id_ in table}


_SETTINGS = tuple(name for name in Scene.model_fields if name not in TABLES)


def diff(before: Scene, after: Scene) -> Patch:
    """The patch that turns `before` into `after`."""
    settings = {}
    for name in _SETTINGS:
        new = getattr(after, name)
        if new != getattr(before, name):
            settings[name] = new.model_dump(mode="json") if isinstance(new, Model) else new
    items: dict[str, dict[str, dict[str, Any] | None]] = {}
    order: dict[str, list[str]] = {}
    for table in TABLES:
        old, new = getattr(before, table), getattr(after, table)
        if old is new:
            continue
        was = {item.id: item for item in old}
        now = {item.id: item for item in new}
        changed: dict[str, dict[str, Any] | None] = {id_: None for id_ in was if id_ not in now}
        for id_, item in now.items():
            if id_ not in was or (item is not was[id_] and item != was[id_]):
                changed[id_] = item.model_dump(mode="json")
        if changed:
            items[table] = changed
        if list(was) != list(now):
            order[table] = list(now)
    return Patch(settings=settings, items=items, order=order)


def as_now(table: str, content: dict[str, Any] | None) -> dict[str, Any] | None:
    """An item's stored content with the fields that have come since it was stored."""
    if content is None:
        return None
    kind = Scene.model_fields[table].annotation.__args__[0]  # type: ignore[union-attr]
    full: dict[str, Any] = kind.model_validate(content).model_dump(mode="json")
    return full


def apply_patch(scene: Scene, patch: Patch) -> Scene:
    """The scene with a patch applied; the parts it does not name are the same objects."""
    update: dict[str, Any] = {}
    for name, value in patch.settings.items():
        field = Scene.model_fields[name].annotation
        is_model = isinstance(field, type) and issubclass(field, Model)
        update[name] = field.model_validate(value) if is_model else value  # type: ignore[union-attr]
    for table in {*patch.items, *patch.order}:
        kind = Scene.model_fields[table].annotation.__args__[0]  # type: ignore[union-attr]
        now = {item.id: item for item in getattr(scene, table)}
        for id_, content in patch.items.get(table, {}).items():
            if content is None:
                now.pop(id_, None)
            else:
                now[id_] = kind.model_validate(content)
        # Things the patch's author had not seen keep their place at the end.
        wanted = dict.fromkeys([*patch.order.get(table, []), *now])
        update[table] = tuple(now[id_] for id_ in wanted if id_ in now)
    return scene.model_copy(update=update)
