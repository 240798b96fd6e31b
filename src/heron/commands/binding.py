"""Keys that go with the start or the end of what a figure does."""

from typing import Literal

from heron.commands.acts import act_of
from heron.commands.base import Command, Outcome
from heron.commands.keys import Found, KeysAt, each_key, found_keys, told
from heron.curves import Channel
from heron.curves.channel import Bound, Key
from heron.model import Id, changed
from heron.scene import Scene, find, replace
from heron.scene.cue import Cue
from heron.stage.acts.base import Act
from heron.stage.figure import Figure

_WORDS = {"first": "start", "last": "end"}


class BindKeys(Command):
    """Have keys move in time with the start or the end of an act; without an act, let go of it."""

    kind: Literal["keys.bind"] = "keys.bind"
    keys: KeysAt
    figure: Id | None = None
    #: Which of its acts.
    act: Id | None = None
    end: Literal["first", "last"] = "first"

    def apply(self, scene: Scene) -> Outcome:
        found = found_keys(scene, self.keys)
        what = told(scene, self.keys, found)
        if self.figure is None or self.act is None:
            return _all_bound(scene, found, None), f"Let {what} stay where they are in time"
        figure: Figure = find(scene, "figures", self.figure)
        act = act_of(figure, self.act)
        bound = Bound(figure=figure.id, act=self.act, end=self.end)
        return (
            _all_bound(scene, found, bound),
            f"Bound {what} to the {_WORDS[self.end]} of {figure.name}'s {act.LABEL.lower()}",
        )

    def reads(self) -> frozenset[str]:
        return frozenset({self.figure} if self.figure else ())


def _all_bound(scene: Scene, found: Found, bound: Bound | None) -> Scene:
    def change(channel: Channel, keys: list[Key]) -> Channel:
        return channel.with_keys(*(changed(key, bound=bound) for key in keys))

    return each_key(scene, found, change)


def brought_along(before: Scene, after: Scene) -> tuple[Scene, str]:
    """The scene with bound keys moved as the acts moved that they go with, and what is said of it.

    Keys that would land on another one stay, all of that channel's, and that is said.
    """
    if before.figures is after.figures:
        return after, ""
    by = _moves(before, after)
    if not by:
        return after, ""
    moved, stayed = 0, []
    cues = [_cue(after, cue, by) for cue in after.cues]
    followed = sum(new is not old for new, old in zip(cues, after.cues, strict=True))
    if followed:
        after = after.having(cues=tuple(sorted(cues, key=lambda one: one.frame)))
    for table in ("cameras", "movers", "figures"):
        for thing in getattr(after, table):
            update = {}
            if not any(channel.is_bound for _, channel in thing.each()):
                continue
            for name in (spec.name for spec in thing.specs()):
                channel = thing.channel(name)
                new = _moved(channel, by)
                if new is None:
                    stayed.append(thing)
                elif new is not channel:
                    moved += sum(_shift(key, by) != 0 for key in channel.keys)
                    update[name] = new
            if update:
                after = replace(after, table, thing.with_channels(update))
    said = f"; {moved} bound key{'s' if moved != 1 else ''} moved along" if moved else ""
    if followed:
        said += f"; {followed} cue{'s' if followed != 1 else ''} moved along"
    if stayed:
        who = " and ".join(dict.fromkeys(one.name for one in stayed))
        said += f"; bound keys of {who} stayed, for others are in the way"
    return after, said


#: By figure, act and end: frames later.
_Moves = dict[tuple[str, str, str], int]


def _moves(before: Scene, after: Scene) -> _Moves:
    found: _Moves = {}
    was: dict[tuple[str, str], Act] = {
        (f.id, act.id): act for f in before.figures for act in f.acts if act.id
    }
    for figure in after.figures:
        for act in figure.acts:
            old = was.get((figure.id, act.id)) if act.id else None
            if act.id and old is not None and old.frames != act.frames:
                found[figure.id, act.id, "first"] = act.frames.first - old.frames.first
                found[figure.id, act.id, "last"] = act.frames.last - old.frames.last
    return found


def _cue(scene: Scene, cue: Cue, by: _Moves) -> Cue:
    """A cue moved as its act moved, within the scene."""
    bound = cue.bound
    shift = 0 if bound is None else by.get((bound.figure, bound.act, bound.end), 0)
    to = min(max(cue.frame + shift, scene.frames.first), scene.frames.last)
    return changed(cue, frame=to) if shift else cue


def _shift(key: Key, by: _Moves) -> int:
    bound = key.bound
    return 0 if bound is None else by.get((bound.figure, bound.act, bound.end), 0)


def _moved(channel: Channel, by: _Moves) -> Channel | None:
    shifts = [_shift(key, by) for key in channel.keys]
    if not any(shifts):
        return channel
    frames = [key.frame + shift for key, shift in zip(channel.keys, shifts, strict=True)]
    if len(set(frames)) < len(frames):
        return None
    keys = [changed(key, frame=frame) for key, frame in zip(channel.keys, frames, strict=True)]
    return changed(channel, keys=tuple(sorted(keys, key=lambda key: key.frame)))
