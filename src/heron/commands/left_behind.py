"""Keys that stood on the start or the end of an act before the act was moved, to be brought along."""

from typing import Any

from heron.commands.keys import KeyAt
from heron.model import Model
from heron.scene import Scene
from heron.scene.document import called
from heron.stage.acts.base import Act
from heron.stage.figure import Figure

_WORDS = {"first": ("start", "starts"), "last": ("end", "ends")}


class LeftBehind(Model):
    """Keys of one thing at one frame, how many frames to move them, and that in words."""

    thing: str
    frame: int
    by: int
    keys: tuple[KeyAt, ...]
    sentence: str


def left_behind(before: Scene, after: Scene) -> list[LeftBehind]:
    """Keys that stand where an act began or ended before a change, and no longer does."""
    out: list[LeftBehind] = []
    for figure in after.figures:
        was = next((f for f in before.figures if f.id == figure.id), None)
        if was is None or was.acts == figure.acts:
            continue
        for old, new in _pairs(was, figure):
            for end in ("first", "last"):
                frame, to = getattr(old.frames, end), getattr(new.frames, end)
                if frame == to:
                    continue
                for thing in _keyed(after):
                    found = _at(thing, frame, before)
                    if found:
                        out.append(_said(thing, figure, old, end, frame, to, found))
    return out


def _pairs(was: Figure, now: Figure) -> list[tuple[Act, Act]]:
    """Acts that are there before and after."""
    then = {act.id: act for act in was.acts}
    return [(then[act.id], act) for act in now.acts if act.id in then]


def _keyed(scene: Scene) -> tuple[Any, ...]:
    return (*scene.cameras, *scene.movers)


def _at(thing: Any, frame: int, before: Scene) -> tuple[KeyAt, ...]:
    """Its unbound keys at a frame, where it had them before the change too."""
    old = next((one for one in _keyed(before) if one.id == thing.id), None)
    if old is None or frame not in old.key_frames():
        return ()
    keys = []
    for spec in thing.specs():
        key = thing.channel(spec.name).key_at(frame)
        if key is not None and key.bound is None:
            keys.append(KeyAt(thing=thing.id, channel=spec.name, frame=frame))
    return tuple(keys)


def _said(
    thing: Any, figure: Figure, act: Any, end: str, frame: int, to: int, keys: tuple[KeyAt, ...]
) -> LeftBehind:
    by = to - frame
    word, verb = _WORDS[end]
    late = "early" if by > 0 else "late"
    sentence = (
        f"{len(keys)} key{'s' if len(keys) != 1 else ''} of {called(thing)} stood on the {word} of {figure.name}'s "
        f"{act.LABEL.lower()}, which now {verb} at {to}: at {frame} {'they are' if len(keys) != 1 else 'it is'} "
        f"{abs(by)} frame{'s' if abs(by) != 1 else ''} {late}"
    )
    return LeftBehind(thing=thing.id, frame=frame, by=by, keys=keys, sentence=sentence)
