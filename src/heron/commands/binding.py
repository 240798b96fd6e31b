"""Keys, cues, acts and cuts that go with the start or the end of what a figure does, or with a word."""

from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError

from heron.commands.acts import act_of, put
from heron.commands.base import Command, Outcome, listed
from heron.commands.cut_edits import MoveEdges
from heron.commands.cutting import EditCut
from heron.commands.keys import Found, KeysAt, each_key, found_keys, told
from heron.curves import Channel
from heron.curves.channel import Bound, Key, OnWord
from heron.errors import BadInput, HeronError, NotFound
from heron.lines.moments import spoken_at
from heron.model import Id, changed
from heron.scene import Scene, find, replace
from heron.scene.cue import Cue
from heron.scene.line import Line
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


def _all_bound(scene: Scene, found: Found, bound: Bound | OnWord | None) -> Scene:
    def change(channel: Channel, keys: list[Key]) -> Channel:
        return channel.with_keys(*(changed(key, bound=bound) for key in keys))

    return each_key(scene, found, change)


class Hang(Command):
    """Have keys, cues, acts and cuts hang on a word: they move in time with it, and keep their distance to it.

    The word past a line's last is its end. Without a line, let go of them.
    """

    kind: Literal["word.hang"] = "word.hang"
    line: Id | None = None
    word: int = Field(default=0, ge=0, le=2000)
    #: Where the word begins, or where it ends and what comes after it is silent.
    end: Literal["first", "last"] = "first"
    keys: KeysAt | None = None
    cues: Annotated[tuple[Id, ...], Field(max_length=5000)] = ()
    #: Figures and their acts.
    acts: Annotated[tuple[tuple[Id, Id], ...], Field(max_length=5000)] = ()
    #: Shots whose beginnings hang.
    shots: Annotated[tuple[Id, ...], Field(max_length=5000)] = ()

    def apply(self, scene: Scene) -> Outcome:
        bound, on = None, ""
        if self.line is not None:
            line: Line = find(scene, "lines", self.line)
            if self.word > len(line.words):
                raise NotFound(
                    f"{line.name} has {len(line.words)} words.", "Count them from 0.", field="word"
                )
            bound = OnWord(line=self.line, word=self.word, end=self.end)
            on = spoken_at(scene)[line.id].called(self.word, self.end)
        what = []
        if self.keys:
            found = found_keys(scene, self.keys)
            what.append(told(scene, self.keys, found))
            scene = _all_bound(scene, found, bound)
        for id_ in self.cues:
            cue: Cue = find(scene, "cues", id_)
            what.append(f"the cue “{cue.name}”")
            scene = replace(scene, "cues", changed(cue, bound=bound))
        for figure_id, act_id in self.acts:
            figure: Figure = find(scene, "figures", figure_id)
            act = act_of(figure, act_id)
            what.append(f"{figure.name}'s {act.LABEL.lower()}")
            acts = tuple(changed(one, bound=bound) if one is act else one for one in figure.acts)
            scene = replace(scene, "figures", changed(figure, acts=acts))
        for id_ in self.shots:
            shot = find(scene, "shots", id_)
            what.append(f"the cut to {shot.name}")
            scene = replace(scene, "shots", changed(shot, bound=bound))
        if not what:
            raise BadInput("Nothing to hang was named.", "Give keys, cues, acts or shots.")
        named = listed(what)
        return scene, f"Hung {named} on {on}" if bound else f"Let {named} stay where they are in time"


class Moves:
    """By how many frames moments have moved, to which things are bound, from one scene to another."""

    def __init__(self, before: Scene, after: Scene) -> None:
        self._acts: dict[tuple[str, str | None], Act] = {
            (f.id, act.id): act for f in before.figures for act in f.acts
        }
        self._now: dict[tuple[str, str | None], Act] = {
            (f.id, act.id): act for f in after.figures for act in f.acts
        }
        self._was_said, self._is_said = spoken_at(before), spoken_at(after)

    def __bool__(self) -> bool:
        """Whether anything has."""
        return self._acts != self._now or self._was_said != self._is_said

    def of(self, bound: Bound | OnWord | None) -> int:
        """Frames later; 0 where what it is bound to is gone."""
        if bound is None:
            return 0
        if isinstance(bound, OnWord):
            was, now = self._was_said.get(bound.line), self._is_said.get(bound.line)
            if was is None or now is None:
                return 0
            word = self.word(bound)
            return now.at(word, bound.end) - was.at(min(bound.word, len(was.words)), bound.end)
        old, new = self._acts.get((bound.figure, bound.act)), self._now.get((bound.figure, bound.act))
        if old is None or new is None:
            return 0
        return int(getattr(new.frames, bound.end) - getattr(old.frames, bound.end))

    def word(self, bound: OnWord) -> int:
        """Which word it is now, where a line's words are others: counted from its beginning, else from its end."""
        was, now = self._was_said.get(bound.line), self._is_said.get(bound.line)
        if was is None or now is None or was.words == now.words:
            return bound.word
        same = 0
        while same < min(len(was.words), len(now.words)) and was.words[same] == now.words[same]:
            same += 1
        if bound.word < same:
            return bound.word
        from_end = len(was.words) - bound.word
        tail = len(was.words) - from_end
        if was.words[tail:] == now.words[max(len(now.words) - from_end, 0) :]:
            return max(len(now.words) - from_end, 0)
        return min(bound.word, len(now.words))

    def then(self, bound: Any) -> Any:
        """The binding, on the same word among those that are there now."""
        if not isinstance(bound, OnWord) or (word := self.word(bound)) == bound.word:
            return bound
        return changed(bound, word=word)


def brought_along(before: Scene, after: Scene) -> tuple[Scene, str]:
    """The scene with all moved that is bound to what has moved: acts, then keys and cues, then cuts; and what is said of it.

    What cannot follow stays where it is, and that is said.
    """
    if before.figures is after.figures and not _lines_changed(before, after):
        return after, ""
    after, told = _acts_along(Moves(before, after), after)
    moves = Moves(before, after)
    if not moves:
        return after, ""
    moved, stayed = 0, []
    cues = [_cue(after, cue, moves) for cue in after.cues]
    followed = sum(new.frame != old.frame for new, old in zip(cues, after.cues, strict=True))
    if any(new is not old for new, old in zip(cues, after.cues, strict=True)):
        after = after.having(cues=tuple(sorted(cues, key=lambda one: one.frame)))
    for table in ("cameras", "movers", "figures"):
        for thing in getattr(after, table):
            update = {}
            if not any(channel.is_bound for _, channel in thing.each()):
                continue
            for name in (spec.name for spec in thing.specs()):
                channel = thing.channel(name)
                new = _moved(channel, moves)
                if new is None:
                    stayed.append(thing)
                elif new is not channel:
                    moved += sum(moves.of(key.bound) != 0 for key in channel.keys)
                    update[name] = new
            if update:
                after = replace(after, table, thing.with_channels(update))
    told += f"; {moved} bound key{'s' if moved != 1 else ''} moved along" if moved else ""
    if followed:
        told += f"; {followed} cue{'s' if followed != 1 else ''} moved along"
    if stayed:
        who = " and ".join(dict.fromkeys(one.name for one in stayed))
        told += f"; bound keys of {who} stayed, for others are in the way"
    after, more = _cuts_along(moves, after)
    return after, told + more


def _lines_changed(before: Scene, after: Scene) -> bool:
    return (before.lines, before.sounds, before.rate) != (after.lines, after.sounds, after.rate)


def _acts_along(moves: Moves, after: Scene) -> tuple[Scene, str]:
    """Acts that hang on words, moved with them."""
    by = [
        (figure.id, act, moves.of(act.bound))
        for figure in after.figures
        for act in figure.acts
        if act.bound is not None
    ]
    moved, stayed = 0, []
    # From the side they go to, so that they do not push each other.
    for id_, act, shift in sorted(by, key=lambda one: one[1].frames.first * (-1 if one[2] > 0 else 1)):
        figure: Figure = find(after, "figures", id_)
        new: Act = changed(act, bound=moves.then(act.bound))
        others = [one for one in figure.acts if one.id != act.id]
        if not shift:
            if new is not act and new != act:
                after = replace(after, "figures", changed(figure, acts=(*others, new)))
            continue
        try:
            after, _ = put(after, figure, others, new.later(shift))
            moved += 1
        except (HeronError, ValidationError) as why:
            reason = why.reason if isinstance(why, HeronError) else "it would begin before frame 0"
            stayed.append(f"{figure.name}'s {act.LABEL.lower()} stays: {reason.rstrip('.')}")
    told = f"; {moved} act{'s' if moved != 1 else ''} moved along" if moved else ""
    return after, told + "".join(f"; {one}" for one in stayed)


def _cuts_along(moves: Moves, after: Scene) -> tuple[Scene, str]:
    """Cuts that hang on words, moved with them: rolled where the shots touch, trimmed where they do not."""
    by = [(shot, moves.of(shot.bound)) for shot in after.shots if shot.bound is not None]
    moved, stayed = 0, []
    for shot, shift in sorted(by, key=lambda one: one[0].stage.first * (-1 if one[1] > 0 else 1)):
        bound = moves.then(shot.bound)
        if bound is not shot.bound:
            after = replace(after, "shots", changed(find(after, "shots", shot.id), bound=bound))
        if not shift:
            continue
        at = next(i for i, one in enumerate(after.shots) if one.id == shot.id)
        touches = at > 0 and after.shots[at].gap_before == 0
        edit = MoveEdges(
            edit="roll" if touches else "trim_in", shots=(shot.id,), by=shift, leaving=not touches
        )
        try:
            after, _ = EditCut(do=edit).apply(after)
            moved += 1
        except HeronError as why:
            stayed.append(f"the cut to {shot.name} stays: {why.reason.rstrip('.')}")
    told = f"; {moved} cut{'s' if moved != 1 else ''} moved along" if moved else ""
    return after, told + "".join(f"; {one}" for one in stayed)


def _cue(scene: Scene, cue: Cue, moves: Moves) -> Cue:
    """A cue moved as what it is bound to moved, within the scene."""
    shift, bound = moves.of(cue.bound), moves.then(cue.bound)
    to = min(max(cue.frame + shift, scene.frames.first), scene.frames.last)
    return changed(cue, frame=to, bound=bound) if shift or bound is not cue.bound else cue


def _moved(channel: Channel, moves: Moves) -> Channel | None:
    shifts = [moves.of(key.bound) for key in channel.keys]
    bounds = [moves.then(key.bound) for key in channel.keys]
    if not any(shifts) and all(b is key.bound for b, key in zip(bounds, channel.keys, strict=True)):
        return channel
    frames = [key.frame + shift for key, shift in zip(channel.keys, shifts, strict=True)]
    if len(set(frames)) < len(frames):
        return None
    keys = [
        changed(key, frame=frame, bound=bound)
        for key, frame, bound in zip(channel.keys, frames, bounds, strict=True)
    ]
    return changed(channel, keys=tuple(sorted(keys, key=lambda key: key.frame)))
