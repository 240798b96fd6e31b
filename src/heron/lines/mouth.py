"""How a mouth moves while its figure speaks.

Where nothing is recorded the sounds of the words are known: each shapes the mouth in its time, and lips that meet always
do. A recording opens the mouth by its level, and its words shape it.
"""

from typing import Any

import numpy as np

from heron.lines.spelling import Phone, phones
from heron.lines.timing import TimedLine, timed
from heron.scene import Scene
from heron.scene.line import Line
from heron.scene.sound import LEVELS, LEVELS_PER_S
from heron.stage.figure import PACE
from heron.timebase import parse_rate

Floats = np.ndarray[Any, np.dtype[np.float64]]

#: A word fills so much of the time until the next one, and lasts no longer than so many seconds a letter.
_FILLS, _LETTER_S = 0.94, 0.11
#: A mouth is looked at so often a frame, so that no short sound is missed.
_FINE = 8
#: It moves so many frames before it is heard (common practice: picture leads sound).
_AHEAD = 1
#: Over three frames, so that it does not chatter.
_SMOOTH = (0.2, 0.6, 0.2)
#: An expression makes way for speech, and comes back after it, over so many seconds.
_EASE_S = 0.25


def pace_of(scene: Scene, line: Line) -> float:
    """How fast a line is spoken, words a minute."""
    return next((one.voice.pace for one in scene.figures if one.id == line.figure), PACE)


def word_spans(scene: Scene, one: TimedLine) -> list[tuple[str, float, float]]:
    """Each word of a line and where it is spoken: frames after the line's first, from and to."""
    fps = float(parse_rate(scene.rate))
    begins = [float(at - one.first) for at in (*one.words, one.last + 1)]
    pace = pace_of(scene, one.line)
    out = []
    for word, a, b in zip(one.line.words, begins, begins[1:], strict=False):
        longest = (sum(c.isalnum() for c in word) + 1) * _LETTER_S * PACE / pace * fps
        out.append((word, a, a + min(_FILLS * (b - a), longest)))
    return out


def phone_spans(word: str, a: float, b: float) -> list[tuple[Phone, float, float]]:
    """The sounds of a word that is spoken from one moment to another, each with its own."""
    sounds = phones(word)
    shares = np.cumsum([0.0, *(one.length for one in sounds)])
    at = a + (b - a) * shares / max(shares[-1], 1e-9)
    return [(one, float(x), float(y)) for one, x, y in zip(sounds, at, at[1:], strict=False)]


def spoken(scene: Scene, figure: str) -> list[tuple[object, ...]]:
    """All that the mouth of a figure depends on."""
    if not scene.lines:
        return []
    sounds = {one.line: (one.level, one.slip) for one in scene.sounds if one.line is not None}
    return [
        (one.first, one.last, one.words, one.line.text, pace_of(scene, one.line), sounds.get(one.line.id))
        for one in timed(scene)
        if one.line.figure == figure
    ]


def mouth(scene: Scene, figure: str, t: Floats) -> Floats | None:
    """(n, 3) over whole frames (n,): how far open, how wide, and how much it speaks, 0 to 1; None where it says nothing."""
    mine = [one for one in timed(scene) if one.line.figure == figure]
    if not mine or not len(t):
        return None
    first, count = int(t[0]), len(t)
    out = np.zeros((count, 3))
    sounds = {one.line: one for one in scene.sounds if one.line is not None}
    fps = float(parse_rate(scene.rate))
    for one in mine:
        begin, end = max(one.first - _AHEAD - 1, first), min(one.last + 2, first + count)
        if begin >= end:
            continue
        moments = begin + _AHEAD - one.first + (np.arange((end - begin) * _FINE) + 0.5) / _FINE
        shaped, shut = _shapes(scene, one, moments)
        sound = sounds.get(one.line.id)
        if sound is not None and sound.level:
            heard = _levels(sound.level, moments / fps + sound.slip / 48_000)
            shaped[:, 0] = heard
            shaped[:, 1] *= np.minimum(heard * 2, 1)
            shut[:] = False
        each = shaped.reshape(-1, _FINE, 2).mean(axis=1)
        padded = np.pad(each, ((1, 1), (0, 0)))
        rows = np.zeros_like(each)
        for k, share in enumerate(_SMOOTH):
            rows += share * padded[k : k + len(rows)]
        rows[shut.reshape(-1, _FINE).mean(axis=1) > 0.3, 0] = 0.0
        speaks = ((moments > 0) & (moments < one.last + 1 - one.first)).reshape(-1, _FINE).any(axis=1)
        there = slice(begin - first, end - first)
        out[there, :2] = np.where(np.abs(rows) > np.abs(out[there, :2]), rows, out[there, :2])
        out[there, 2] = np.maximum(out[there, 2], speaks)
    whole, eased = out[:, 2].copy(), max(round(_EASE_S * fps), 1)
    for k in range(1, eased + 1):
        share = 1 - k / (eased + 1)
        out[k:, 2] = np.maximum(out[k:, 2], share * whole[:-k])
        out[:-k, 2] = np.maximum(out[:-k, 2], share * whole[k:])
    return out


def _shapes(scene: Scene, one: TimedLine, moments: Floats) -> tuple[Floats, np.ndarray[Any, Any]]:
    """(m, 2) how far open and how wide at moments, frames after the line's first; (m,) whether the lips meet."""
    shape, shut = np.zeros((len(moments), 2)), np.zeros(len(moments), dtype=bool)
    for word, a, b in word_spans(scene, one):
        for phone, x, y in phone_spans(word, a, b):
            now = (moments >= x) & (moments < y)
            shape[now] = phone.open, phone.wide
            shut[now] = phone.shut
    return shape, shut


def _levels(level: str, seconds: Floats) -> Floats:
    """(m,) how far a recording opens a mouth, 0 to 1, at moments of its file."""
    steps = np.array([LEVELS.index(one) for one in level]) / (len(LEVELS) - 1)
    at = (np.arange(len(steps)) + 0.5) / LEVELS_PER_S
    return np.asarray(np.interp(seconds, at, steps, left=0.0, right=0.0))
