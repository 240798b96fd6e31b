"""Commands of every kind, drawn from the schema that the registry gives: most of them possible, some not."""

from functools import cache
from typing import Any

from hypothesis import strategies as st
from pydantic import TypeAdapter

from heron.commands import AnyCommand, parse_commands, run
from heron.demo import slack_tide_film

#: The film with a cue and a pass: something for every command to be about.
SCENE = run(
    slack_tide_film(),
    parse_commands(
        """[{"kind": "cue.add", "id": "cue-1", "name": "The hand drops", "frame": 1268},
        {"kind": "pass.record", "id": "pas-1", "thing": "cam-e", "at": [1200, 1201, 1202, 1203],
         "hand": [{"channel": "pan", "by": [0, 1, 3, 4]}]}]"""
    ),
)[0]
SCHEMA = TypeAdapter(AnyCommand).json_schema()
KINDS = tuple(SCHEMA["discriminator"]["mapping"])
TABLES = ("figures", "movers", "pieces", "cameras", "lenses", "perches", "shots", "cues", "passes")
#: Which table a field's id is of, where its name does not say it.
OF = {
    "mounted": "lenses", "playhead": "frames", "before": "shots", "thing": "cameras", "id": "new", "copies": "new",
    "also": "figures", "to": "cameras", "layer": "layers", "act": "acts", "ids": "acts_or_things", "perches": "perches",
}  # fmt: skip
#: Fields that hold a stage frame.
FRAMES = {"frame", "first", "last", "playhead", "to", "at"}


@cache
def ids(table: str) -> tuple[str, ...]:
    """Ids of the film's things, by table; of all of them for a table that there is not."""
    if table == "layers":
        return tuple(layer.id for camera in SCENE.cameras for layer in camera.layers)
    if table in ("acts", "acts_or_things"):
        acts = tuple(act.id or "" for figure in SCENE.figures for act in figure.acts)
        return acts if table == "acts" else (*acts, *ids("all"))
    if table == "new":
        return ("new-1", "new-2", "pas-1")
    tables = (table,) if table in TABLES else TABLES
    return tuple(item.id for one in tables for item in getattr(SCENE, one)) or ("none",)


@cache
def keys() -> list[dict[str, Any]]:
    """Every key of the film, as a command names it."""
    return [
        {"thing": thing.id, "channel": name, "frame": key.frame}
        for thing in (*SCENE.cameras, *SCENE.movers)
        for name in (spec.name for spec in thing.specs())
        for key in thing.channel(name).keys
    ]


def _table(field: str) -> str:
    if field in OF:
        return OF[field]
    plural = {"lens": "lenses", "pass": "passes", "perch": "perches"}.get(field, f"{field}s")
    return plural if plural in TABLES else field


def _text(field: str, schema: dict[str, Any]) -> st.SearchStrategy[Any]:
    pattern = schema.get("pattern", "")
    if "A-Za-z0-9" in pattern:
        return st.sampled_from([*ids(_table(field)) * 4, "none"])
    if "#[0-9" in pattern:
        return st.sampled_from(["#336699", "#000000"])
    if field in ("channel", "channels"):
        return st.sampled_from(["x", "pan", "focal", "aperture", "exposure", "pose", "all", "nothing"])
    if field == "rate":
        return st.sampled_from(["24", "24000/1001", "30", "x"])
    return st.sampled_from(["Third", "A", "On the walk", "01:00:00:00", "x" * 81])


def _number(field: str, schema: dict[str, Any], whole: bool) -> st.SearchStrategy[Any]:
    # Of ordinary size, at a bound, or anything that it may be.
    low, high = (schema.get(k, schema.get(x, d)) for k, x, d in (
        ("minimum", "exclusiveMinimum", -1e9), ("maximum", "exclusiveMaximum", 1e9),
    ))  # fmt: skip
    if whole:
        usual = st.integers(max(low, -40), min(high, 60))
        if field in FRAMES:
            usual = st.one_of(
                st.integers(1001, 1325), st.sampled_from([1266, *(key["frame"] for key in keys())])
            )
        return _mostly(usual, st.sampled_from([int(low), int(high)]))
    usual = st.floats(max(low, -30), min(high, 60)).map(lambda v: round(v, 3))
    return _mostly(usual, st.one_of(st.sampled_from([low, high]), st.floats(low, high)))


def _mostly(usual: st.SearchStrategy[Any], rare: st.SearchStrategy[Any]) -> st.SearchStrategy[Any]:
    return st.integers(0, 11).flatmap(lambda n: rare if n == 11 else usual)


def values(schema: dict[str, Any], field: str, deep: int = 0) -> st.SearchStrategy[Any]:
    """What a part of the schema allows."""
    if schema.get("$ref", "").endswith("/KeyAt"):
        return st.sampled_from(keys())
    if "$ref" in schema:
        return values(SCHEMA["$defs"][schema["$ref"].rsplit("/", 1)[-1]], field, deep)
    if "const" in schema:
        return st.just(schema["const"])
    if "enum" in schema:
        return st.sampled_from(schema["enum"])
    several = schema.get("anyOf") or schema.get("oneOf")
    if several:
        return st.one_of([values(one, field, deep) for one in several])
    kind = schema.get("type")
    if kind == "null":
        return st.none()
    if kind == "boolean":
        return st.booleans()
    if kind in ("integer", "number"):
        return _number(field, schema, kind == "integer")
    if kind == "string":
        return _text(field, schema)
    if kind == "array":
        if "prefixItems" in schema:
            return st.tuples(*(values(one, field, deep + 1) for one in schema["prefixItems"]))
        low = schema.get("minItems", 0)
        return st.lists(values(schema["items"], field, deep + 1), min_size=low, max_size=max(low, 3))
    if "properties" in schema:
        return things(schema, deep)
    if kind == "object":
        named = schema.get("propertyNames", {"type": "string"})
        inner = schema.get("additionalProperties")
        inside = values(inner, field, deep + 1) if isinstance(inner, dict) else st.integers(-5, 60)
        return st.dictionaries(values(named, field, deep + 1), inside, max_size=2)
    return st.integers(-5, 60)


def things(schema: dict[str, Any], deep: int) -> st.SearchStrategy[dict[str, Any]]:
    """An object: all that it needs, and some of what it may have."""
    needs = {"kind", *schema.get("required", ())}
    fields = {
        name: st.deferred(lambda n=name, s=one: values(s, n, deep + 1))
        for name, one in schema["properties"].items()
    }
    if "camera" in fields and schema["properties"].get("layer", {}).get("type") == "string":
        both = [(c.id, one.id) for c in SCENE.cameras for one in c.layers]
        fields["camera"] = st.shared(st.sampled_from(both), key="layer").map(lambda pair: pair[0])
        fields["layer"] = st.shared(st.sampled_from(both), key="layer").map(lambda pair: pair[1])
    return st.fixed_dictionaries(
        {n: f for n, f in fields.items() if n in needs},
        optional={n: f for n, f in fields.items() if n not in needs} if deep < 4 else {},
    )


def commands_of(kind: str) -> st.SearchStrategy[dict[str, Any]]:
    """Commands of one kind."""
    return values({"$ref": SCHEMA["discriminator"]["mapping"][kind]}, kind)
