"""The parts of a scene: set, acting, cameras, light and the cut; each can be locked as a whole."""

from typing import TYPE_CHECKING, Any, Literal, get_args

from heron.stage.reference import Tables

if TYPE_CHECKING:
    from heron.scene.document import Scene
    from heron.scene.patch import Patch

Part = Literal["set", "acting", "cameras", "light", "cut"]
PARTS: tuple[Part, ...] = get_args(Part)
PART_CALLED: dict[Part, str] = {
    "set": "the set", "acting": "the acting", "cameras": "the cameras", "light": "the light", "cut": "the cut",
}  # fmt: skip
_OF_TABLE: dict[Tables, Part] = {
    "pieces": "set", "figures": "acting", "movers": "acting", "cameras": "cameras", "perches": "cameras",
    "lenses": "cameras", "passes": "cameras", "shots": "cut", "cues": "cut",
    "lines": "acting", "sounds": "cut",
}  # fmt: skip
_OF_SETTING: dict[str, Part] = {
    "surround": "light", "first_lens": "cameras", "cut_name": "cut", "cuts": "cut", "cut_start": "cut",
}  # fmt: skip


def seen_of(scene: "Scene", part: Part) -> list[tuple[Tables, Any]]:
    """What can be seen, or gives light, of a part of a scene: each thing with its table. There is none of the cut."""
    lamp: dict[Part, bool] = {"acting": False, "light": True}
    found: list[tuple[Tables, Any]] = []
    if part == "set":
        found += [("pieces", piece) for piece in scene.pieces if piece.part_of is None]
    if part == "acting":
        found += [("figures", figure) for figure in scene.figures]
    if part in lamp:
        found += [("movers", mover) for mover in scene.movers if (mover.light is not None) == lamp[part]]
    if part == "cameras":
        found += [("cameras", camera) for camera in scene.cameras]
    return found


def parts_of(patch: "Patch", inverse: "Patch") -> set[Part]:
    """The parts that a change belongs to. What a shot has for itself is of the set; a lamp is of the light."""
    found = {_OF_SETTING[name] for name in patch.settings if name in _OF_SETTING}
    for table in {*patch.items, *patch.order}:
        new, old = patch.items.get(table, {}), inverse.items.get(table, {})
        if table in patch.order and not new:
            found.add(_OF_TABLE[table])  # type: ignore[index]
        for id_ in new:
            found.add(_part(table, new[id_] or {}, old.get(id_) or {}))
    return found


def _part(table: str, new: dict[str, Any], old: dict[str, Any]) -> Part:
    if table == "movers" and (new.get("light") or old.get("light")):
        return "light"
    if table == "shots" and new and old and {**new, "own": old.get("own")} == old:
        return "set"
    return _OF_TABLE[table]  # type: ignore[index]
