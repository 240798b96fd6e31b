"""When lines are said: each after the one before it, or at its own frame, and its words within it."""

from collections.abc import Collection
from dataclasses import dataclass

import numpy as np

from heron.lines.law import onsets, seconds
from heron.model import changed
from heron.scene import Scene
from heron.scene.line import Line
from heron.stage.figure import PACE
from heron.timebase import Frames, parse_rate

_KEPT = "lines in time"


@dataclass(frozen=True)
class TimedLine:
    """A line on the stage's ruler.

    Attributes:
        first, last: its frames, inclusive.
        words: of each word its first frame.
    """

    line: Line
    first: int
    last: int
    words: tuple[int, ...]


def timed(scene: Scene) -> tuple[TimedLine, ...]:
    """Every line with its frames, in the order of the table; asked again for the same scene, the same."""
    kept = scene.__dict__.get(_KEPT)
    if kept is None:
        kept = scene.__dict__[_KEPT] = lay_out_lines(scene, scene.lines)
    out: tuple[TimedLine, ...] = kept
    return out


def lay_out_lines(scene: Scene, lines: tuple[Line, ...]) -> tuple[TimedLine, ...]:
    """Lines with their frames, one after the other from the scene's first frame."""
    rate, ends = float(parse_rate(scene.rate)), scene.frames.first - 1
    sounds = {one.line: one.frames for one in scene.sounds if one.line is not None}
    paces = {one.id: one.voice.pace for one in scene.figures}
    out = []
    for line in lines:
        first = line.first if line.first is not None else ends + 1 + line.pause
        words, count = word_frames(line, rate, sounds.get(line.id), paces.get(line.figure or "", PACE))
        ends = first + count - 1
        out.append(TimedLine(line, first, ends, tuple(first + at for at in words)))
    return tuple(out)


def in_order(scene: Scene, lines: tuple[TimedLine, ...], gone: Collection[str] = ()) -> tuple[Line, ...]:
    """Lines in order of their frames, less some. One that follows, and has another line before it now, keeps its frame."""
    before = {b.line.id: a.line.id for a, b in zip(lines, lines[1:], strict=False)}
    ends, last = scene.frames.first - 1, None
    out: list[Line] = []
    for one in sorted(lines, key=lambda one: one.first):
        line = one.line
        if line.id in gone:
            continue
        if line.first is None and before.get(line.id) != last:
            line = changed(line, pause=one.first - ends - 1)
        out.append(line)
        ends, last = one.last, line.id
    return tuple(out)


def word_frames(
    line: Line, fps: float, heard: int | None = None, pace: float = PACE
) -> tuple[list[int], int]:
    """Of each word how many frames after the line's first it begins, and how many frames the line has.

    `pace` is in words a minute; `heard` is how many frames the line's sound has, where there is one: the line is as long as that.

    Held words are where they are held; words between them share the time as they did, and those after the last one
    keep their own lengths.
    """
    words = line.words
    count = heard or max(round(seconds(line.text, pace) * fps), 1)
    own = np.array(onsets(words)) * count
    at = own
    pins = [
        (one.word, one.at) for one in line.held if heard is None or (one.word < len(words) and one.at < heard)
    ]
    if heard is not None:
        pins.append((len(words), heard))
    if pins:
        held = [0, *(word for word, _ in pins)]
        to = [0, *(frame for _, frame in pins)]
        at = np.interp(own, own[held], to) + np.maximum(own - own[held[-1]], 0)
    frames = [int(one) for one in np.rint(at)]
    return frames[:-1], max(frames[-1], 1)


def speaker(scene: Scene, line: Line) -> str:
    """Who says a line, by name."""
    return next((f.name for f in scene.figures if f.id == line.figure), line.who)


def said_over(scene: Scene, frames: Frames) -> list[str]:
    """What is said over some frames, in order: `Odile: You've missed the tide.`"""
    return [
        f"{speaker(scene, one.line)}: {one.line.text}"
        for one in timed(scene)
        if one.first <= frames.last and one.last >= frames.first
    ]


def next_speaker(scene: Scene) -> str | None:
    """The figure who would say the next line, as talk goes to and fro: the last one who spoke before the last speaker."""
    last = scene.lines[-1].figure if scene.lines else None
    spoke = (line.figure for line in reversed(scene.lines) if line.figure not in (None, last))
    others = (figure.id for figure in scene.figures if figure.id != last)
    return next(spoke, None) or next(others, None) or last
