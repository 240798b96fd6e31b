"""Fades, dissolves and versions: what is kept of shots beside their places in the cut."""

import re
from dataclasses import replace
from itertools import count
from typing import Any

from heron.commands.cut_editor import Editor
from heron.commands.cut_edits import AddVersion, Choose, Dissolve, DropVersion, Fade
from heron.cut import edits
from heron.errors import NotFound, Refused
from heron.model import changed
from heron.scene.joins import Part, misfits
from heron.scene.shot import Shot, Version
from heron.timebase import parse_rate

Edited = tuple[list[Part], str]
#: A dissolve is so long to either side unless asked otherwise, seconds (common practice: half a second in all).
_USUAL_S = 0.25


def fade(cut: Editor, edit: Fade) -> Edited:
    """Shots that fade in or out."""
    chosen = cut.chosen(edit.shots)
    update: dict[str, Any] = {edit.edit: edit.frames}
    if edit.colour is not None and edit.frames:
        update["fade_colour"] = edit.colour
    end = "in" if edit.edit == "fade_in" else "out"
    said = f"Faded {cut.told(chosen)} {end} over {edit.frames} f"
    if not edit.frames:
        said = f"Took the fade {end} off {cut.told(chosen)}"
    return _with(cut, chosen, **update), said


def dissolve(cut: Editor, edit: Dissolve) -> Edited:
    """Shots that dissolve from those before them.

    Raises:
        Refused: there is no shot right before one of them.
    """
    chosen = cut.chosen(edit.shots)
    frames = edit.frames if edit.frames and sum(edit.frames) else None
    if edit.usual:
        side = max(round(_USUAL_S * float(parse_rate(cut.scene.rate))), 1)
        frames = (side, side)
    for i in chosen if frames else ():
        name, gap = cut.parts[i].shot.name, cut.parts[i].gap
        if i == 0 or gap:
            raise Refused(
                f"Shot {name} can't dissolve in: {f'{gap} black frames lie' if gap else 'no shot lies'} before it.",
                "Fade it in instead, or close the gap.",
                field="shots",
            )
    while edit.usual and frames and frames[0] > 1:
        mixed = [part.done for part in _with(cut, chosen, dissolve=frames)]
        if next(misfits(mixed, cut.scene.frames), None) is None:
            break
        frames = (frames[0] // 2, frames[1] // 2)
    if frames is None:
        return _with(cut, chosen, dissolve=None), f"Made a plain cut to {cut.told(chosen)}"
    told = f"over {sum(frames)} f ({frames[0]} before the cut, {frames[1]} after)"
    return _with(cut, chosen, dissolve=frames), f"Dissolved to {cut.told(chosen)} {told}"


def add_version(cut: Editor, edit: AddVersion) -> Edited:
    """Shots with another version kept beside them.

    Raises:
        Refused: a version has that name already, or the frames are not in the scene.
    """
    chosen, stage = cut.chosen(edit.shots), cut.stage_of(edit.stage)
    camera = None if edit.camera is None else cut.camera(edit.camera)
    parts = list(cut.parts)
    said = ""
    for i in chosen:
        shot = parts[i].done
        on = shot.camera if camera is None else camera.id
        taken = {shot.version, *(one.name for one in shot.versions)}
        name = edit.name or _free_name(cut, on, taken)
        if name in taken:
            raise Refused(
                f"Shot {shot.name} has a version called {name} already.",
                "Give it another name.",
                field="name",
            )
        version = Version(name=name, camera=on, stage=stage or shot.stage)
        if version.camera is not None:
            cut.inside(version.stage)
        parts[i] = replace(parts[i], shot=changed(parts[i].shot, versions=(*shot.versions, version)))
        if edit.choose:
            parts[i] = _chosen(parts[i], _place(parts[i].shot, name))
        said = said or name
    return parts, f"Kept a version “{said}” of {cut.told(chosen)}{', and chose it' if edit.choose else ''}"


def _free_name(cut: Editor, camera: str | None, taken: set[str]) -> str:
    """What a version is called by its camera: `on B`, `on B, 2`."""
    stem = "slate" if camera is None else f"on {cut.camera(camera).letter}"
    return next(name for n in count(1) if (name := stem if n == 1 else f"{stem}, {n}") not in taken)


def choose(cut: Editor, edit: Choose) -> Edited:
    """Shots as another of their versions has them; what was chosen is kept in its place.

    Raises:
        NotFound: a shot has no version of that name.
    """
    chosen, parts = cut.chosen(edit.shots), list(cut.parts)
    for i in chosen:
        was = parts[i].count
        shot = parts[i].shot
        parts[i] = _chosen(
            parts[i], _beside(shot, edit.step) if edit.version is None else _place(shot, edit.version)
        )
        if edit.keep_place:
            parts = _in_its_place(cut, parts, i, was)
    told = ", the rest of the cut in its place" if edit.keep_place else ""
    names = dict.fromkeys(f"“{parts[i].shot.version}”" for i in chosen)
    return parts, f"Chose {', '.join(names)} for {cut.told(chosen)}{told}"


def _in_its_place(cut: Editor, parts: list[Part], i: int, was: int) -> list[Part]:
    """Shots of which one has another count now, with all behind it where it was.

    Raises:
        Refused: the next shot is too short for that.
    """
    grows = parts[i].count - was
    parts[i] = replace(parts[i], count=was)
    for vector, by in edits.overwriting(parts, i, head=False, by=grows):
        stop = edits.stops(parts, vector, cut.scene.frames)[by > 0]
        if stop.by is not None and abs(by) > abs(stop.by):
            raise Refused(
                f"That version of shot {parts[i].shot.name} is {grows} f longer than there is room for: {stop.why}.",
                "Choose it and let the rest of the cut follow.",
                field="version",
            )
        parts = edits.moved(parts, vector, by)
    return parts


def drop_version(cut: Editor, edit: DropVersion) -> Edited:
    """Shots without a version.

    Raises:
        NotFound: a shot has no version of that name.
        Refused: it is the only one.
    """
    chosen, parts, said = cut.chosen(edit.shots), list(cut.parts), ""
    for i in chosen:
        shot = parts[i].shot
        if edit.version == shot.version:
            if not shot.versions:
                raise Refused(
                    f"“{edit.version}” is the only version of shot {shot.name}.",
                    "Delete the shot, or keep another version first.",
                    field="version",
                )
            parts[i] = _chosen(parts[i], 0)
            said += f"; shot {shot.name} is “{parts[i].shot.version}” now"
        at = _place(parts[i].shot, edit.version)
        rest = tuple(one for k, one in enumerate(parts[i].shot.versions) if k != at)
        parts[i] = replace(parts[i], shot=changed(parts[i].shot, versions=rest))
    return parts, f"Deleted version “{edit.version}” of {cut.told(chosen)}{said}"


def without_chosen(shot: Shot, gone: set[str]) -> Shot | None:
    """A shot whose camera goes, on the first of its versions that can stay; None when no version can stay."""
    kept = tuple(one for one in shot.versions if one.camera not in gone)
    if not kept:
        return None
    first, rest = kept[0], kept[1:]
    return changed(shot, camera=first.camera, stage=first.stage, version=first.name, versions=rest)


def _with(cut: Editor, chosen: list[int], **update: Any) -> list[Part]:
    parts = list(cut.parts)
    for i in chosen:
        parts[i] = replace(parts[i], shot=changed(parts[i].shot, **update))
    return parts


def _place(shot: Shot, name: str) -> int:
    for i, one in enumerate(shot.versions):
        if one.name == name:
            return i
    raise NotFound(
        f"Shot {shot.name} has no other version called {name}.", "Choose one that it has.", field="version"
    )


def _beside(shot: Shot, by: int) -> int:
    """The next version, or the one before, in the order of their names; after the last comes the first. Numbers go by size."""
    names = sorted((_own_name(shot), *(one.name for one in shot.versions)), key=_by_number)
    if len(names) < 2:
        raise Refused(f"Shot {shot.name} has one version.", "Keep another one on its card.", field="shots")
    return _place(shot, names[(names.index(_own_name(shot)) + by) % len(names)])


def _by_number(name: str) -> list[int | str]:
    return [int(part) if part.isdecimal() else part.casefold() for part in re.split(r"(\d+)", name)]


def _own_name(shot: Shot) -> str:
    """What the version that is chosen is called, also one that was never given a name."""
    taken = {one.name for one in shot.versions}
    return shot.version or next(name for n in count(1) if (name := str(n)) not in taken)


def _chosen(part: Part, at: int) -> Part:
    """A shot with another of its versions chosen."""
    shot, new = part.done, part.shot.versions[at]
    old = Version(name=_own_name(shot), camera=shot.camera, stage=shot.stage)
    versions = (*shot.versions[:at], old, *shot.versions[at + 1 :])
    made = changed(shot, camera=new.camera, stage=new.stage, version=new.name, versions=versions)
    return replace(part, shot=made, first=new.stage.first, count=new.stage.count)
