"""The exact difference between two versions of a scene."""

from typing import Any

from pydantic import Field

from heron.model import Model
from heron.scene.document import TABLES, Scene
from heron.scene.upgrades import SETTINGS, upgrade


class Patch(Model):
    """What turns one scene into another.

    `settings` holds scene-level fields that differ; `items` for each table the new content
    by id, None where the item goes; `order` the new order of ids of tables whose members or
    order differ.
    """

    settings: dict[str, Any] = Field(default_factory=dict)
    items: dict[str, dict[str, dict[str, Any] | None]] = Field(default_factory=dict)
    order: dict[str, list[str]] = Field(default_factory=dict)

    @property
    def empty(self) -> bool:
        """Whether it changes nothing."""
        return not (self.settings or self.items or self.order)


class FinePatch(Patch):
    """A patch that names, of things that stay, the fields that are others: short enough to be sent while a hand drags.

    `parts` holds by table and id the new content of those fields; such things are not in `items`.
    """

    parts: dict[str, dict[str, dict[str, Any]]] = Field(default_factory=dict)


def fine(patch: Patch, before: Scene) -> FinePatch:
    """A patch of `before` with only the fields that differ."""
    items: dict[str, dict[str, dict[str, Any] | None]] = {}
    parts: dict[str, dict[str, dict[str, Any]]] = {}
    for table, found in patch.items.items():
        was = {item.id: item.plain for item in getattr(before, table)}
        for id_, content in found.items():
            if content is None or id_ not in was or content.get("kind") != was[id_].get("kind"):
                items.setdefault(table, {})[id_] = content
            else:
                old = was[id_]
                parts.setdefault(table, {})[id_] = {
                    name: value for name, value in content.items() if old.get(name) != value
                }
    return FinePatch(settings=patch.settings, items=items, order=patch.order, parts=parts)


def touched(patch: Patch, inverse: Patch) -> set[str]:
    """All that a change touches, by name: ids, `settings/rate`, and `order/shots` where things change places.

    Putting something in or taking it out changes nobody else's place.
    """
    out = {id_ for table in patch.items.values() for id_ in table}
    out |= {f"settings/{name}" for name in patch.settings}
    for table, new in patch.order.items():
        old = inverse.order.get(table, [])
        if [i for i in new if i in set(old)] != [i for i in old if i in set(new)]:
            out.add(f"order/{table}")
    return out


def _same(one: Any, other: Any) -> bool:
    """Whether two values are written alike: 0 and −0 are equal, and are not."""
    return one is other or (one == other and repr(_plain(one)) == repr(_plain(other)))


def _plain(value: Any) -> Any:
    return value.plain if isinstance(value, Model) else value


_SETTINGS = tuple(name for name in Scene.model_fields if name not in TABLES)


def diff(before: Scene, after: Scene) -> Patch:
    """The patch that turns `before` into `after`."""
    settings = {}
    for name in _SETTINGS:
        new = getattr(after, name)
        if not _same(new, getattr(before, name)):
            settings[name] = _plain(new)
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
            if id_ not in was or not _same(item, was[id_]):
                changed[id_] = item.plain
        if changed:
            items[table] = changed
        if list(was) != list(now):
            order[table] = list(now)
    return Patch(settings=settings, items=items, order=order)


def read_patch(content: dict[str, Any], version: int) -> Patch:
    """A stored patch as today's: whole items, with the fields that have come since it was stored."""
    patch = Patch.model_validate(content)
    items = {
        table: {id_: c if c is None else _as_now(table, c, version) for id_, c in found.items()}
        for table, found in patch.items.items()
    }
    return Patch(settings=upgrade(SETTINGS, patch.settings, version), items=items, order=patch.order)


def _as_now(table: str, content: dict[str, Any], version: int) -> dict[str, Any]:
    full: dict[str, Any] = (
        kind_of(table).model_validate(upgrade(table, content, version)).model_dump(mode="json")
    )
    return full


def in_order(wanted: list[str] | None, now: list[str]) -> list[str]:
    """Ids in a wanted order; those it does not name stay behind the one they stood behind."""
    if wanted is None:
        return now
    there, named = set(now), set(wanted)
    out = [id_ for id_ in wanted if id_ in there]
    for before, id_ in zip([None, *now], now, strict=False):
        if id_ not in named:
            out.insert(0 if before is None else out.index(before) + 1, id_)
    return out


def kind_of(table: str) -> type[Model]:
    """The model of the things in a table."""
    found: type[Model] = Scene.model_fields[table].annotation.__args__[0]  # type: ignore[union-attr]
    return found


def apply_patch(scene: Scene, patch: Patch) -> Scene:
    """A draft with a patch applied; the parts it does not name are the same objects."""
    update: dict[str, Any] = {}
    for name, value in patch.settings.items():
        field = Scene.model_fields[name].annotation
        is_model = isinstance(field, type) and issubclass(field, Model)
        update[name] = field.model_validate(value) if is_model else value  # type: ignore[union-attr]
    parts = patch.parts if isinstance(patch, FinePatch) else {}
    for table in {*patch.items, *patch.order, *parts}:
        kind = kind_of(table)
        now: dict[str, Any] = {item.id: item for item in getattr(scene, table)}
        for id_, fields in parts.get(table, {}).items():
            now[id_] = kind.model_validate({**now[id_].plain, **fields})
        for id_, content in patch.items.get(table, {}).items():
            if content is None:
                now.pop(id_, None)
            else:
                now[id_] = kind.model_validate(content)
        update[table] = tuple(now[id_] for id_ in in_order(patch.order.get(table), list(now)))
    return scene.having(**update)
