"""Content written by earlier versions, brought to today's: whole documents, rows and stored edits alike.

1   no lens kit, stop, focus or exposure: the defaults say what it meant
2   a stop was kept as its f-number; a figure pointed at a place given by x, y and z; names could
    hold characters that cannot be seen; the start of the cut could be written loosely
3   what a figure looks at was a list of its own beside its acts; acts had no ids unless something went with them
4   what a figure held was a word on the figure, and only an oar; now it is a thing that its acts hold
5   today's
"""

import math
import unicodedata
from collections.abc import Callable
from typing import Any, Final

from heron.model import legible

VERSION: Final = 5
#: The scene's own fields, beside its tables.
SETTINGS = "settings"
Content = dict[str, Any]


def upgrade(table: str, content: Content, version: int) -> Content:
    """One thing's content (or the scene's settings) of an earlier version as today's.

    Nothing is checked: reading does that. Content of today's version comes back as it is.
    """
    for step in range(version, VERSION):
        for change in _STEPS.get(step, ()):
            content = change(table, dict(content))
    return content


def upgrade_document(data: Content) -> Content:
    """A whole document of an earlier version as today's."""
    version = data.get("version")
    if not isinstance(version, int) or version not in range(1, VERSION):
        return data
    tables = {
        k: [upgrade(k, item, version) if isinstance(item, dict) else item for item in v]
        for k, v in data.items()
        if isinstance(v, list | tuple)
    }
    if version < 5:
        frames = data.get("frames")
        first = frames.get("first") if isinstance(frames, dict) else None
        figures, movers = held_oars(
            list(data.get("figures") or ()),
            list(data.get("movers") or ()),
            first if isinstance(first, int) else 0,
        )
        tables |= {
            "figures": [
                upgrade("figures", one, version) if isinstance(one, dict) else one for one in figures
            ],
            "movers": [upgrade("movers", one, version) if isinstance(one, dict) else one for one in movers],
        }
    settings = {k: v for k, v in data.items() if k not in tables}
    return {**upgrade(SETTINGS, settings, version), **tables, "version": VERSION}


def _stops(table: str, content: Content) -> Content:
    channel = content.get("aperture")
    if table != "cameras" or not isinstance(channel, dict):
        return content

    def kept(value: Any) -> Any:
        return 2 * math.log2(value) if isinstance(value, int | float) and value > 0 else value

    keys = [{**k, "value": kept(k.get("value"))} for k in channel.get("keys", ())]
    return {**content, "aperture": {**channel, "rest": kept(channel.get("rest", 4.0)), "keys": keys}}


def _pointing(table: str, content: Content) -> Content:
    if table != "figures":
        return content

    def at(act: Any) -> Any:
        if not isinstance(act, dict) or act.get("kind") != "point" or "at" in act:
            return act
        place = {axis: act[axis] for axis in "xyz" if axis in act}
        rest = {k: v for k, v in act.items() if k not in place}
        return {**rest, "at": {"kind": "point", **place}}

    return {**content, "acts": [at(act) for act in content.get("acts", ())]}


def _names(table: str, content: Content) -> Content:
    for field, otherwise in (("name", "Nameless"), ("group", "")):
        if isinstance(content.get(field), str):
            content[field] = legible(content[field], otherwise)
    return content


def _start(table: str, content: Content) -> Content:
    if table == SETTINGS and isinstance(content.get("cut_start"), str):
        text = content["cut_start"].strip()
        content["cut_start"] = "".join(str(unicodedata.digit(c, c)) for c in text)
    return content


def _lanes(table: str, content: Content) -> Content:
    if table == "figures" and "gazes" in content:
        gazes = content.pop("gazes")
        looks = [{"kind": "look_at", **one} if isinstance(one, dict) else one for one in gazes]
        content["acts"] = [*content.get("acts", ()), *looks]
    return content


def held_oars(figures: list[Any], movers: list[Any], first: int) -> tuple[list[Any], list[Any]]:
    """Figures and movers of a scene of version 4 or earlier, with an oar as a mover for each figure that held one.

    Args:
        first: the scene's first frame, from which on it is held.
    """
    out, more = [], list(movers)
    names = {one.get("name") for one in movers if isinstance(one, dict)}
    for figure in figures:
        if not isinstance(figure, dict) or figure.get("holds") != "oar":
            out.append(figure)
            continue
        name = next(n for k in range(1, 1000) if (n := "Oar" if k == 1 else f"Oar {k}") not in names)
        names.add(name)
        id_ = f"oar-{figure.get('id', '')}"[:40]
        place = {axis: {"rest": figure.get(axis, 0.0)} for axis in "xz"}
        turned = {"pan": {"rest": figure.get("heading", 0.0)}}
        more.append({"id": id_, "name": name, "shape": "oar", "colour": "#c08a4a", **place, **turned})
        acts = list(figure.get("acts", ()))
        # It begins before whatever its hands do first.
        hands = ("point", "reach", "wave", "beckon", "shrug", "fold_arms", "hand_to_mouth")
        begins = [a["frames"]["first"] for a in acts if isinstance(a, dict) and a.get("kind") in hands]
        last = min([first + 11, *(b - 1 for b in begins)])
        if last >= first:
            acts.append(
                {"kind": "hold", "what": id_, "hand": "left", "frames": {"first": first, "last": last}}
            )
        out.append({k: v for k, v in figure.items() if k != "holds"} | {"acts": acts})
    return out, more


def _held(table: str, content: Content) -> Content:
    if table == "figures":
        content.pop("holds", None)
    return content


_STEPS: dict[int, tuple[Callable[[str, Content], Content], ...]] = {
    2: (_stops, _pointing, _names, _start),
    3: (_lanes,),
    4: (_held,),
}
