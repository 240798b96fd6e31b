"""Commands on lines: written, brought in, moved, and their words held at a moment."""

from collections.abc import Callable
from typing import Annotated, Literal

from pydantic import Field

from heron.commands.base import Command, Outcome, free_name, listed
from heron.commands.figures import AddFigure
from heron.errors import BadInput, NotFound, Refused
from heron.lines import TimedLine, speaker, timed
from heron.lines.any_text import read_any
from heron.lines.brought import Brought, BroughtLine
from heron.lines.fountain import TURN_S, read_fountain
from heron.lines.moments import bare
from heron.lines.subtitles import read_srt, read_vtt
from heron.lines.timing import in_order, lay_out_lines, next_speaker
from heron.model import Id, Name, changed, new_id
from heron.scene import Scene, find, replace
from heron.scene.line import HeldWord, Line, Spoken
from heron.timebase import parse_rate
from heron.timebase.frames import MAX_FRAME_NUMBER, FrameNumber

Pause = Annotated[int, Field(ge=-MAX_FRAME_NUMBER, le=MAX_FRAME_NUMBER)]
TextForm = Literal["fountain", "vtt", "srt", "any"]
_READ: dict[TextForm, Callable[[str], Brought]] = {
    "fountain": read_fountain, "vtt": read_vtt, "srt": read_srt, "any": read_any,
}  # fmt: skip
MOST = 5000
#: Figures that are made for speakers stand so far apart, metres.
_APART_M = 1.2


class AddLine(Command):
    """Write a line for a figure or a voice off; where neither is named, for whoever would speak next.

    Without a first frame it follows the line it comes after, or the last one.
    """

    kind: Literal["line.add"] = "line.add"
    id: Id = Field(default_factory=lambda: new_id("line"))
    figure: Id | None = None
    who: Name | None = None
    text: Spoken
    first: FrameNumber | None = None
    pause: Pause | None = None
    after: Id | None = None

    def apply(self, scene: Scene) -> Outcome:
        _figure_is_there(scene, self.figure)
        figure = self.figure or (None if self.who else next_speaker(scene))
        if self.after is not None:
            find(scene, "lines", self.after)
        pause = (
            usual_pause(scene) if self.pause is None and self.first is None and scene.lines else self.pause
        )
        line = Line(
            id=self.id, figure=figure, who="" if figure else self.who or "Voice", text=self.text,
            first=self.first, pause=pause or 0,
        )  # fmt: skip
        ids = [one.id for one in scene.lines]
        at = ids.index(self.after) + 1 if self.after else len(ids)
        lines = (*scene.lines[:at], line, *scene.lines[at:])
        if self.first is not None:
            # It is put where it belongs in time, and nothing else moves.
            lines = in_order(scene, (*lay_out_lines(scene, (line,)), *timed(scene)))
        return _kept(scene, lines, f"{speaker(scene, line)} says {line.name}")


class SetLine(Command):
    """Change who says a line, its words, when it begins, or the pause before it; `follows` ties it to the line before."""

    kind: Literal["line.set"] = "line.set"
    line: Id
    figure: Id | None = None
    who: Name | None = None
    text: Spoken | None = None
    first: FrameNumber | None = None
    pause: Pause | None = None
    follows: bool | None = None

    def apply(self, scene: Scene) -> Outcome:
        line: Line = find(scene, "lines", self.line)
        said = []
        if self.figure is not None or self.who is not None:
            _figure_is_there(scene, self.figure)
            line = changed(line, figure=self.figure, who="" if self.figure else self.who)
            said.append(f"{speaker(scene, line)} says {line.name} now")
        if self.text is not None and self.text != line.text:
            line, lost = _with_text(line, self.text)
            said.append(f"It says {line.name} now" + lost)
        if self.first is not None or (self.follows is False and line.first is None):
            here = self.first if self.first is not None else _time_of(scene, line.id).first
            line = changed(line, first=here, pause=0)
            said.append(f"{line.name} begins at {here}")
        if self.pause is not None or (self.follows and line.first is not None):
            pause = self.pause if self.pause is not None else _pause_before(scene, line.id)
            line = changed(line, first=None, pause=pause)
            said.append(f"{line.name} comes {_after(pause)}")
        if not said and self.text is None:
            raise BadInput("Nothing about the line was named.", "Give its words, who says it, or when.")
        after = tuple(line if one.id == line.id else one for one in scene.lines)
        if self.first is not None:
            after = in_order(scene, lay_out_lines(scene, after))
        return _kept(scene, after, "; ".join(said) or f"{line.name} stays as it is")


class CastVoice(Command):
    """Give all lines of a voice off to a figure; where none is named, to one of that name who is put on the stage."""

    kind: Literal["voice.cast"] = "voice.cast"
    #: The id of a figure that is made.
    id: Id = Field(default_factory=lambda: new_id("fig"))
    who: Name
    figure: Id | None = None

    def apply(self, scene: Scene) -> Outcome:
        _figure_is_there(scene, self.figure)
        mine = [one for one in scene.lines if one.who.casefold() == self.who.casefold()]
        if not mine:
            raise NotFound(f"No voice off is called {self.who}.", "Choose one that has lines.", field="who")
        figure, made = self.figure, ""
        if figure is None:
            scene, figure = _made(scene, self.who, self.id)
            made = f"Put {scene.figures[-1].name} on the stage; "
        name = next(one.name for one in scene.figures if one.id == figure)
        after = replace(scene, "lines", *(changed(one, figure=figure, who="") for one in mine)).lines
        count = f"{len(mine)} line{'s' if len(mine) > 1 else ''}"
        return _kept(scene, after, f"{made}{name} says the {count} of {self.who}")


class MoveLines(Command):
    """Move lines by frames. One that follows another has another pause before it; lines that follow come along."""

    kind: Literal["lines.move"] = "lines.move"
    ids: Annotated[tuple[Id, ...], Field(min_length=1, max_length=MOST)]
    by: int = Field(ge=-MAX_FRAME_NUMBER, le=MAX_FRAME_NUMBER)

    def apply(self, scene: Scene) -> Outcome:
        chosen = [_time_of(scene, id_) for id_ in self.ids]
        wanted = {one.line.id: one.first + self.by for one in chosen}
        early = [one for one in chosen if wanted[one.line.id] < scene.frames.first]
        if early:
            room = min(one.first for one in chosen) - scene.frames.first
            raise Refused(
                f"{early[0].line.name} would begin before the stage does ({scene.frames.first}).",
                f"Move it at most {room} f earlier.",
                field="by",
            )
        ends, new = scene.frames.first - 1, []
        for one in timed(scene):
            line, count = one.line, one.last - one.first + 1
            if line.id in wanted:
                to = wanted[line.id]
                line = (
                    changed(line, first=to) if line.first is not None else changed(line, pause=to - ends - 1)
                )
            ends = (line.first if line.first is not None else ends + 1 + line.pause) + count - 1
            new.append(line)
        what = chosen[0].line.name if len(chosen) == 1 else f"{len(chosen)} lines"
        sentence = f"Moved {what} {abs(self.by)} f {'later' if self.by > 0 else 'earlier'}"
        return _kept(scene, in_order(scene, lay_out_lines(scene, tuple(new))), sentence)


class HoldWord(Command):
    """Have a word of a line begin at a frame; the one past the last word is the line's end. Without a frame, let go of it."""

    kind: Literal["line.word"] = "line.word"
    line: Id
    word: int = Field(ge=0, le=2000)
    frame: FrameNumber | None = None

    def apply(self, scene: Scene) -> Outcome:
        one = _time_of(scene, self.line)
        line, words = one.line, one.line.words
        if self.word > len(words):
            raise NotFound(f"{line.name} has {len(words)} words.", "Count them from 0.", field="word")
        called = "the end" if self.word == len(words) else f"“{bare(words[self.word])}”"
        others = tuple(held for held in line.held if held.word != self.word)
        if self.frame is None:
            line = changed(line, held=others)
            return _kept(scene, _with(scene, line), f"Let go of {called} of {line.name}")
        at = self.frame - one.first
        if self.word == 0:
            raise Refused(
                "The first word begins with its line.", "Drag the line, or another word.", field="word"
            )
        before = max((held for held in others if held.word < self.word), key=lambda h: h.word, default=None)
        behind = min((held for held in others if held.word > self.word), key=lambda h: h.word, default=None)
        least = (before.at + self.word - before.word) if before else self.word
        most = behind.at - (behind.word - self.word) if behind else None
        if at < least or (most is not None and at > most):
            room = f"from {one.first + least}" + ("" if most is None else f" to {one.first + most}")
            raise Refused(
                f"{called[:1].upper()}{called[1:]} would run into the words beside it.",
                f"It can begin {room}.",
                field="frame",
            )
        held = sorted((*others, HeldWord(word=self.word, at=at)), key=lambda held: held.word)
        line = changed(line, held=tuple(held))
        verb = "Held" if self.word < len(words) else "Put"
        return _kept(scene, _with(scene, line), f"{verb} {called} of {line.name} at {self.frame}")


class BringLines(Command):
    """Bring in dialogue from a screenplay or from subtitles. Speakers are figures of that name, or voices off."""

    kind: Literal["lines.bring"] = "lines.bring"
    #: Begins the ids of the lines that come.
    id: Id = Field(default_factory=lambda: new_id("lines"))
    form: TextForm
    text: Annotated[str, Field(max_length=4_000_000)]
    #: The stage frame that is the text's beginning. Left out, the scene's first; a text without times follows the last line.
    at: FrameNumber | None = None
    #: Where a text without times begins while there is no line to follow.
    playhead: FrameNumber | None = None
    #: Have a figure made for each speaker who is none yet.
    make: bool = False
    #: Of texts that name nobody, whose the lines are.
    figure: Id | None = None

    def apply(self, scene: Scene) -> Outcome:
        found = _READ[self.form](self.text)
        timeless = self.at is None and found.lines[0].start is None
        follows = timeless and bool(scene.lines)
        at = self.playhead if timeless and self.playhead is not None else self.at
        at = scene.frames.first if at is None else at
        if at < scene.frames.first:
            raise Refused(
                f"Frame {at} is before the stage begins ({scene.frames.first}).",
                "Choose a later one.",
                field="at",
            )
        _figure_is_there(scene, self.figure)
        if len(scene.lines) + len(found.lines) > MOST:
            raise Refused(
                f"That would be {len(scene.lines) + len(found.lines):,} lines.",
                f"A scene holds {MOST:,} at most.",
            )
        said = list(found.said)
        names = list(dict.fromkeys(one.who for one in found.lines if one.who))
        by_name = {figure.name.casefold(): figure.id for figure in scene.figures}
        unknown = [who for who in names if who.casefold() not in by_name]
        if self.make:
            for who in unknown:
                id_ = f"{self.id[:30]}-f{len(scene.figures) + 1}"
                scene, by_name[who.casefold()] = _made(scene, who, id_)
            said += [f"{listed(unknown)} put on the stage"] if unknown else []
        elif unknown:
            said.append(f"{listed(unknown)} {'is a voice' if len(unknown) == 1 else 'are voices'} off")
        new = [self._line(scene, i, one, at, by_name) for i, one in enumerate(found.lines)]
        if follows:
            new[0] = changed(new[0], first=None, pause=usual_pause(scene))
            lines = (*scene.lines, *new)
        else:
            lines = in_order(scene, (*timed(scene), *lay_out_lines(scene, tuple(new))))
        late = sum(one.last > scene.frames.last for one in lay_out_lines(scene, lines))
        if late:
            said.append(f"{late} of them {'ends' if late == 1 else 'end'} after the stage does")
        count = len(new)
        tail = "".join(f"; {one}" for one in said)
        return _kept(scene, lines, f"Brought in {count} line{'s' if count > 1 else ''}{tail}")

    def _line(self, scene: Scene, i: int, one: BroughtLine, at: int, by_name: dict[str, str]) -> Line:
        fps = float(parse_rate(scene.rate))
        figure = by_name.get(one.who.casefold()) if one.who else self.figure
        text = one.text if len(one.text) <= 2000 else one.text[:1999] + "…"
        words = len(text.split())
        held: tuple[HeldWord, ...] = ()
        if one.start is not None and one.end is not None:
            count = max(round(one.end * fps) - round(one.start * fps), words, 1)
            held = (HeldWord(word=words, at=count),)
        first = at if i == 0 else None
        return Line(
            id=f"{self.id[:30]}-{i + 1}", figure=figure, who="" if figure else (one.who[:80] or "Voice"), text=text,
            first=first if one.start is None else at + round(one.start * fps),
            pause=0 if one.start is not None or i == 0 else round(one.pause * fps), held=held,
        )  # fmt: skip


def usual_pause(scene: Scene) -> int:
    """Frames between one speaker and the next."""
    return round(TURN_S * float(parse_rate(scene.rate)))


def _kept(scene: Scene, lines: tuple[Line, ...], sentence: str) -> Outcome:
    """The scene with its lines, each beginning on the stage, and what is said of those who say two at once.

    Raises:
        Refused: one would begin before the stage does.
    """
    was, now = timed(scene), lay_out_lines(scene, lines)
    early = next((one for one in now if one.first < scene.frames.first), None)
    if early is not None:
        raise Refused(
            f"{early.line.name} would begin before the stage does ({scene.frames.first}).",
            "Give it a later frame, or a longer pause.",
        )
    known = _at_once(was)
    for a, b in _at_once(now):
        if (a, b) not in known:
            name = speaker(scene, next(one.line for one in now if one.line.id == a))
            sentence += f"; {name} says two lines at once there"
            break
    return scene.having(lines=lines), sentence


def _at_once(lines: tuple[TimedLine, ...]) -> list[tuple[str, str]]:
    """Ids of two lines of one speaker that overlap."""
    found: list[tuple[str, str]] = []
    last: dict[str, TimedLine] = {}
    for one in sorted(lines, key=lambda one: one.first):
        who = one.line.figure or one.line.who
        if who in last and one.first <= last[who].last:
            found.append((last[who].line.id, one.line.id))
        if who not in last or one.last > last[who].last:
            last[who] = one
    return found


def _with(scene: Scene, line: Line) -> tuple[Line, ...]:
    return replace(scene, "lines", line).lines


def _time_of(scene: Scene, id_: str) -> TimedLine:
    find(scene, "lines", id_)
    return next(one for one in timed(scene) if one.line.id == id_)


def _pause_before(scene: Scene, id_: str) -> int:
    """The pause with which a line would follow the one before it where it is."""
    ends = scene.frames.first - 1
    for one in timed(scene):
        if one.line.id == id_:
            return one.first - ends - 1
        ends = one.last
    return 0


def _with_text(line: Line, text: str) -> tuple[Line, str]:
    """A line with other words; words that are still there are held as they were, and what is said of the others."""
    new, old = text.split(), line.words
    same = 0
    while same < min(len(new), len(old)) and new[same] == old[same]:
        same += 1
    kept = tuple(held for held in line.held if held.word < same)
    lost = len(line.held) - len(kept)
    said = f"; {lost} of its words {'is' if lost == 1 else 'are'} no longer held" if lost else ""
    return changed(line, text=text, held=kept), said


def _after(pause: int) -> str:
    if pause == 0:
        return "at once after the line before it"
    return (
        f"{pause} f after the line before it" if pause > 0 else f"{-pause} f before the line before it ends"
    )


def _figure_is_there(scene: Scene, figure: str | None) -> None:
    if figure is not None:
        find(scene, "figures", figure)


def _made(scene: Scene, who: str, id_: str) -> tuple[Scene, str]:
    """A figure for a speaker, beside those that are there."""
    name = who[:80].title() if who.isupper() else who[:80]
    if any(one.name.casefold() == name.casefold() for one in scene.figures):
        name = free_name(name, {one.name for one in scene.figures})
    x = max((one.x for one in scene.figures), default=-_APART_M) + _APART_M
    z = scene.figures[-1].z if scene.figures else 0.0
    return AddFigure(id=id_, name=name, x=x, z=z).apply(scene)[0], id_
