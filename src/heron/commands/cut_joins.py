"""Fades, dissolves and versions: what is kept of shots beside their places in the cut."""

from dataclasses import replace
from typing import Any

from heron.commands.cut_editor import Editor
from heron.commands.cut_edits import AddVersion, Choose, Dissolve, DropVersion, Fade
from heron.errors import NotFound, Refused
from heron.model import changed
from heron.scene.joins import Part
from heron.scene.shot import Shot, Version

Edited = tuple[list[Part], str]


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
    for i in chosen if frames else ():
        name, gap = cut.parts[i].shot.name, cut.parts[i].gap
        if i == 0 or gap:
            raise Refused(
                f"Shot {name} can't dissolve in: {f'{gap} black frames lie' if gap else 'no shot lies'} before it.",
                "Fade it in instead, or close the gap.",
                field="shots",
            )
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
    for i in chosen:
        shot = parts[i].done
        if edit.name in (shot.version, *(one.name for one in shot.versions)):
            raise Refused(
                f"Shot {shot.name} has a version called {edit.name} already.",
                "Give it another name.",
                field="name",
            )
        version = Version(
            name=edit.name, camera=shot.camera if camera is None else camera.id, stage=stage or shot.stage
        )
        if version.camera is not None:
            cut.inside(version.stage)
        parts[i] = replace(parts[i], shot=changed(parts[i].shot, versions=(*shot.versions, version)))
    return parts, f"Kept a version “{edit.name}” of {cut.told(chosen)}"


def choose(cut: Editor, edit: Choose) -> Edited:
    """Shots as another of their versions has them; what was chosen is kept in its place.

    Raises:
        NotFound: a shot has no version of that name.
    """
    chosen, parts = cut.chosen(edit.shots), list(cut.parts)
    for i in chosen:
        parts[i] = _chosen(parts[i], _place(parts[i].shot, edit.version))
    return parts, f"Chose “{edit.version}” for {cut.told(chosen)}"


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


def _chosen(part: Part, at: int) -> Part:
    """A shot with another of its versions chosen."""
    shot, new = part.done, part.shot.versions[at]
    taken = {one.name for one in shot.versions}
    name = shot.version or next(str(n) for n in range(1, 200) if str(n) not in taken)
    old = Version(name=name, camera=shot.camera, stage=shot.stage)
    versions = (*shot.versions[:at], old, *shot.versions[at + 1 :])
    made = changed(shot, camera=new.camera, stage=new.stage, version=new.name, versions=versions)
    return replace(part, shot=made, first=new.stage.first, count=new.stage.count)
