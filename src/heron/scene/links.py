"""Everything that names something else: found by one walk, from the marks on the models' fields.

From it follow the check that what is named exists, what is let go when something is deleted, the
content key of a thing, the order of baking, and the refusal of loops.
"""

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from functools import cache
from typing import Annotated, Any, Literal, get_args, get_origin, get_type_hints

from heron.model import Model, changed
from heron.stage.reference import LinkTo, Needs, Reference, Role, Tables

_NO_ROLE = Role("goes with")


@dataclass(frozen=True)
class Link:
    """One thing named by another.

    Attributes:
        frame: from which it counts, where the thing says so.
        needs: what of the other it goes by.
    """

    table: Tables
    id: str
    role: Role
    frame: int | None
    needs: Needs = "place"

    def asks(self, aspect: "Aspect") -> "Aspect":
        """What of the other counts where so much of the one that names it is asked for."""
        if aspect == "rest" and self.table == "figures":
            return "root"
        if aspect == "root" and self.table == "figures":
            # Whoever turns to somebody turns to where that one stands.
            return "root"
        if self.needs == "same":
            return "pose" if aspect == "whole" else aspect
        return self.needs


@dataclass(frozen=True)
class _Field:
    name: str
    link: LinkTo | None
    role: Role | None
    may_be_none: bool
    #: Whether the model says from which frame its links count.
    framed: bool
    #: Whether it may hold several.
    several: bool


def _scan(hint: Any) -> Iterator[Any]:
    """Marks and classes anywhere in an annotation."""
    yield hint
    yield from getattr(hint, "__metadata__", ())
    for part in get_args(hint):
        if part is not hint:
            yield from _scan(part)


def _origin(hint: Any) -> Any:
    """What a field holds, without the marks on it."""
    return get_origin(get_args(hint)[0] if get_origin(hint) is Annotated else hint)


@cache
def _fields(kind: type[Model]) -> tuple[_Field, ...]:
    """The fields of a model that hold links, or models that do."""
    found = []
    for name, hint in get_type_hints(kind, include_extras=True).items():
        if name not in kind.model_fields:
            continue
        parts = list(_scan(hint))
        link = next((p for p in parts if isinstance(p, LinkTo)), None)
        role = next((p for p in parts if isinstance(p, Role)), None)
        inner = [p for p in parts if isinstance(p, type) and issubclass(p, Model) and p is not kind]
        if link or any(_fields(p) for p in inner):
            found.append(
                _Field(
                    name, link, role, type(None) in parts, hasattr(kind, "frame_of"), _origin(hint) is tuple
                )
            )
    return tuple(found)


@dataclass(frozen=True)
class SubjectField:
    """The field of a layer that holds its subject, and whether it may have several."""

    name: str
    several: bool


def subject_field(kind: type[Model]) -> SubjectField | None:
    """The field of a kind of layer that holds its subject; none where it has none, or only its parts have."""
    return next((SubjectField(one.name, one.several) for one in _fields(kind) if one.role), None)


def has_links(kind: type[Model]) -> bool:
    """Whether things of a kind can name others at all."""
    return bool(_fields(kind))


def links(item: Model) -> tuple[Link, ...]:
    """Every thing that an item names, anywhere in it; found once for each item."""
    kept: dict[str, Any] = item.__dict__
    found: tuple[Link, ...] | None = kept.get(_KEPT)
    if found is None:
        found = kept[_KEPT] = tuple(_walk(item, _NO_ROLE, None))
    return found


#: Beside an item's fields, where no field can be called so.
_KEPT = "links of"


def _walk(item: Model, role: Role, frame: int | None) -> Iterator[Link]:
    for field in _fields(type(item)):
        value = getattr(item, field.name)
        here = field.role or role
        at = item.frame_of(field.name) if field.framed else frame  # type: ignore[attr-defined]
        for one in value if isinstance(value, tuple) else (value,):
            if isinstance(one, Model):
                yield from _walk(one, here, at)
            elif field.link and one is not None:
                needs = item.needs(here) if isinstance(item, Reference) else here.needs
                yield Link(field.link.table, one, here, at, needs)


#: What is asked of something: all of it, where it is, or where it is and how it is turned.
#: Of a figure: where it stands, its joints without its looks, with them. Of a thing: where it is while nobody holds it.
Aspect = Literal["whole", "rest", "root", "place", "pose"]


def counts(item: Model, link: Link, aspect: Aspect) -> bool:
    """Whether a link counts for what is asked of the thing that has it."""
    if aspect == "root":
        return link.role.root
    if aspect == "rest":
        return link.role.moves
    if aspect == "whole" or link.role.moves:
        return True
    return link.role.turns and (aspect == "pose" or bool(getattr(item, "goes_by_sight", False)))


class CannotBeWithout(Exception):
    """An item names what is to go, and is nothing without it."""


def without(
    item: Model, gone: set[str], to_point: Callable[[Reference, int | None], Model], frame: int | None = None
) -> Model:
    """The item with every link to what is to go let go of: places by what `to_point` makes of them.

    Raises:
        CannotBeWithout: it cannot do without one of them.
    """
    update: dict[str, Any] = {}
    for field in _fields(type(item)):
        value = getattr(item, field.name)
        at = item.frame_of(field.name) if field.framed else frame  # type: ignore[attr-defined]
        many = isinstance(value, tuple)
        new: list[Any] = []
        for one in value if many else (value,):
            if isinstance(one, Reference) and any(link.id in gone for link in links(one)):
                new.append(to_point(one, at))
            elif isinstance(one, Model):
                try:
                    new.append(without(one, gone, to_point, at))
                except CannotBeWithout:
                    # One of several goes; the item is there without it.
                    if not many:
                        raise
            elif field.link and one in gone:
                if not field.may_be_none or (field.role and field.role.goes):
                    raise CannotBeWithout
                new.append(None)
            else:
                new.append(one)
        was = value if many else (value,)
        if len(new) < len(was) or any(a is not b for a, b in zip(new, was, strict=True)):
            update[field.name] = tuple(new) if many else new[0]
    return changed(item, **update) if update else item


def renamed(item: Model, names: dict[str, str]) -> Any:
    """The item with other things in place of those it names, anywhere in it: `names` says which for which."""
    update: dict[str, Any] = {}
    for field in _fields(type(item)):
        value = getattr(item, field.name)
        many = isinstance(value, tuple)
        new = [
            renamed(one, names) if isinstance(one, Model) else names.get(one, one) if field.link else one
            for one in (value if many else (value,))
        ]
        if any(a is not b for a, b in zip(new, value if many else (value,), strict=True)):
            update[field.name] = tuple(new) if many else new[0]
    return changed(item, **update) if update else item


def returned(items: Iterable[Model]) -> dict[str, tuple[Link, ...]]:
    """By the id of what is named: the links that lead back from it, since what it does follows from who names it."""
    found: dict[str, list[Link]] = {}
    for item in items:
        for link in links(item) if _gives_back(type(item)) else ():
            if link.role.back:
                role = Role(link.role.back, moves=True)
                table, id_ = _TABLE_OF_HOLDERS, str(getattr(item, "id", ""))
                found.setdefault(link.id, []).append(Link(table, id_, role, link.frame, link.role.back_needs))
    return {id_: tuple(some) for id_, some in found.items()}


#: Only figures do something with things that those depend on.
_TABLE_OF_HOLDERS: Tables = "figures"


@cache
def _gives_back(kind: type[Model]) -> bool:
    """Whether a kind has a link anywhere that leads back."""
    for hint in get_type_hints(kind, include_extras=True).values():
        for part in _scan(hint):
            if isinstance(part, Role) and part.back:
                return True
            if isinstance(part, type) and issubclass(part, Model) and part is not kind and _gives_back(part):
                return True
    return False


def loops(items: dict[str, Model]) -> Iterator[list[tuple[Model, Role]]]:
    """Rings of things each of which must be known to compute the next, as (thing, what it does to the next).

    Two cameras that merely watch each other are none: each depends on where the other is, not by how it is turned.
    """
    done: set[tuple[str, Aspect]] = set()
    back = returned(items.values())
    linked = {
        id_: (*links(item), *back.get(id_, ()))
        for id_, item in items.items()
        if id_ in back or has_links(type(item))
    }

    def walk(
        at: tuple[str, Aspect], way: list[tuple[tuple[str, Aspect], Role]]
    ) -> Iterator[list[tuple[Model, Role]]]:
        seen = next((i for i, (one, _) in enumerate(way) if one == at), None)
        if seen is not None:
            yield [(items[one[0]], role) for one, role in way[seen:]]
            return
        if at in done:
            return
        id_, aspect = at
        for link in linked.get(id_, ()):
            if link.id in items and counts(items[id_], link, aspect):
                yield from walk((link.id, link.asks(aspect)), [*way, (at, link.role)])
        done.add(at)

    for id_ in linked:
        yield from walk((id_, "place"), [])
        yield from walk((id_, "pose"), [])
