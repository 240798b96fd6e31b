"""Content written by earlier versions, brought to today's: whole documents, rows and stored edits alike.

1   no lens kit, stop, focus or exposure: the defaults say what it meant
2   a stop was kept as its f-number; a figure pointed at a place given by x, y and z; names could
    hold characters that cannot be seen; the start of the cut could be written loosely
3   what a figure looks at was a list of its own beside its acts; acts had no ids unless something went with them
4   today's
"""

import math
import unicodedata
from collections.abc import Callable
from typing import Any, Final

from heron.model import legible

VERSION: Final = 4
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


_STEPS: dict[int, tuple[Callable[[str, Content], Content], ...]] = {
    2: (_stops, _pointing, _names, _start),
    3: (_lanes,),
}
