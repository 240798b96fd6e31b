"""What a shot has for itself: a piece moved or hidden, a figure hidden, the light and the haze, for this shot alone.

Changes are kept as the values of a few fields, so that the scene with them applied is a scene like any other: it is
baked, drawn and rendered as all else, and what they do not touch has the same content keys.
"""

from collections.abc import Iterator, Mapping
from typing import Annotated, Any

from pydantic import Field, JsonValue, field_validator

from heron.model import Id, Model, Name, changed
from heron.stage.reference import LinkTo, Role, Tables

_GOES = Role("has a change of its own to", goes=True, left="what was changed on {} for one shot goes with it")
#: By table, the fields that a shot can have for itself.
OWN_FIELDS: Mapping[Tables, tuple[str, ...]] = {
    "pieces": ("x", "z", "base", "heading", "width", "depth", "height", "colour", "hidden"),
    "figures": ("hidden",),
    "movers": ("hidden", "light"),
}
#: The same of the surround: its light and its haze.
OWN_SURROUND = ("haze_m", "sun_bearing", "sun_height", "light_ev", "fill", "rim")
_BY_TABLE: Mapping[Tables, str] = {"pieces": "piece", "figures": "figure", "movers": "mover"}


class Own(Model):
    """Fields of one thing as a shot alone has them; of the surround, where no thing is named."""

    piece: Annotated[Id | None, LinkTo("pieces"), _GOES] = None
    figure: Annotated[Id | None, LinkTo("figures"), _GOES] = None
    mover: Annotated[Id | None, LinkTo("movers"), _GOES] = None
    fields: dict[Name, JsonValue] = Field(max_length=20)

    @field_validator("fields")
    @classmethod
    def _some(cls, fields: dict[str, Any]) -> dict[str, Any]:
        if not fields:
            raise ValueError("a shot's own change names at least one field")
        return fields

    @property
    def of(self) -> tuple[Tables, str] | None:
        """The table and id of what is changed; None of the surround."""
        for table, name in _BY_TABLE.items():
            if (id_ := getattr(self, name)) is not None:
                return table, id_
        return None


def misfit(own: Own) -> str:
    """What of a change no shot can have for itself; nothing where all is well."""
    known = OWN_SURROUND if own.of is None else OWN_FIELDS[own.of[0]]
    wrong = [name for name in own.fields if name not in known]
    return f"cannot have “{wrong[0]}” for itself; it can have {', '.join(known)}" if wrong else ""


def dressed(scene: Any, shot: Any) -> Any:
    """A draft of the scene as a shot has it; the scene itself where the shot has nothing of its own.

    The same object is given again for the same scene and changes.

    Raises:
        ValidationError: a value is out of its range.
    """
    if not shot.own:
        return scene
    kept: dict[Any, Any] = scene.__dict__.setdefault(_KEPT, {})
    key = repr(shot.own)
    if key not in kept:
        kept[key] = _dressed(scene, shot.own)
    return kept[key]


#: Beside a document's fields, where no field can be called so.
_KEPT = "scene as shots have it"


def _dressed(scene: Any, own: tuple[Own, ...]) -> Any:
    by_table: dict[Tables, dict[str, dict[str, Any]]] = {}
    surround = scene.surround
    for one in own:
        if one.of is None:
            surround = changed(surround, **one.fields)
        else:
            by_table.setdefault(one.of[0], {})[one.of[1]] = one.fields
    tables = {
        table: tuple(changed(i, **fields[i.id]) if i.id in fields else i for i in getattr(scene, table))
        for table, fields in by_table.items()
    }
    return scene.having(surround=surround, **tables)


def differences(scene: Any, other: Any) -> tuple[Own, ...]:
    """What a shot must have for itself for `scene` to look as `other` does, in the order of the tables."""
    return tuple(_differences(scene, other))


def _differences(scene: Any, other: Any) -> Iterator[Own]:
    if fields := _other_fields(scene.surround, other.surround, OWN_SURROUND):
        yield Own(fields=fields)
    for table, names in OWN_FIELDS.items():
        was = {item.id: item for item in getattr(scene, table)}
        for item in getattr(other, table):
            if item.id in was and (fields := _other_fields(was[item.id], item, names)):
                yield Own(**{_BY_TABLE[table]: item.id}, fields=fields)


def _other_fields(was: Model, now: Model, names: tuple[str, ...]) -> dict[str, Any]:
    if was is now:
        return {}
    return {name: now.plain[name] for name in names if getattr(was, name) != getattr(now, name)}
