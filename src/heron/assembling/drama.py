"""Who matters when, how close it should be, and the moments at which a cut to somebody falls well."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np

from heron.assembling.people import Said, longest_last, speaking
from heron.assembling.wishes import Wishes
from heron.lines.moments import bare

Floats = np.ndarray[Any, np.dtype[np.float64]]
Ints = np.ndarray[Any, np.dtype[np.int64]]
Flags = np.ndarray[Any, np.dtype[np.bool_]]

#: What a speaker is worth looking at, who hears it, anyone else, and everyone where nobody has spoken for a while.
_SPEAKS, _HEARS, _BESIDE, _EVERYONE = 1.0, 0.3, 0.1, 0.6
#: In the silence after a line: who heard it, and who said it; and for how long, seconds.
_AFTER, _AFTER_SAID, _AFTER_S = 0.9, 0.45, 3.0
#: A long line, seconds: from then on who hears it gains, and who says it loses, over so long.
_LONG_S, _FROM_S, _OVER_S, _GAINS, _LOSES = 2.5, 2.2, 1.5, 0.75, 0.35
#: The end of a line, frames, and what who hears it gains there.
_END_F, _END = 8, 0.35
#: A word that lands: what who hears it is worth, for how long, and how far into a silence, seconds.
_LANDS, _LANDS_S, _SILENT_S = 1.5, 1.6, 2.0
#: Who moves: faster than this, m/s, over so long, seconds; what they are worth more.
_MOVES, _FOR_S, _MOVING = 0.35, 0.5, 0.5
#: Good frames for a cut: so many before a line's end, after a word lands, into a silence of at least so many, into a walk.
_BEFORE_END_F, _LANDED_F, _INTO_F, _SILENT_F, _WALKING_F = 4, 8, 8, 16, 3
#: Whose scene it is, and the others in it.
_FAVOURED, _OTHERS = 1.35, 0.8
#: From tension to size: `SIZES` at none, and at that much; and what a word that lands adds.
_WIDEST, _CLOSEST, _MOST, _LANDED = 6.0, 1.0, 0.85, 0.15
#: How bad a frame is for a cut: inside a word, between two, in a silence; and how much worse each frame off a good one is.
_IN_WORD, _BETWEEN, _QUIET, _OFF = 0.9, 0.6, 0.5, 0.12


@dataclass(frozen=True)
class Moment:
    """A frame on which a cut to somebody falls well; `told`: why, in words."""

    frame: int
    to: int
    told: str


@dataclass(frozen=True)
class Drama:
    """n frames of p people.

    Attributes:
        worth: (p, n) how much each is worth looking at.
        size: (n,) how close it should be, as a place in `SIZES`.
        pair: (2, n) who talk: whom the line of action lies between.
        speaks: (n,) who does; −1, nobody; −2, a voice off.
        moment: (p + 2, n) how bad each frame is for a cut to a subject, 0 to 1 (`Angles.subject`).
    """

    worth: Floats
    size: Floats
    pair: Ints
    speaks: Ints
    moment: Floats
    moments: tuple[Moment, ...]


def drama(
    lines: list[Said], names: list[str], feet: Floats, fps: float, wishes: Wishes, favoured: int | None
) -> Drama:
    """Work it out.

    Args:
        feet: (p, n, 2) x and z of the people, metres.
    """
    p, n = feet.shape[:2]
    worth = np.full((p, n), _EVERYONE)
    heard = 2 * wishes.reaction
    pair = np.zeros((2, n), dtype=np.int64)
    pair[1] = min(1, p - 1)
    speaks = speaking(lines, n)
    landed = np.zeros(n, dtype=bool)
    for one in longest_last(lines):
        _lay(one, worth, pair, fps, heard)
    for one in lines:
        if one.speaker is not None and one.hearer is not None:
            stop = min(one.stop + round(_AFTER_S * fps), one.until)
            worth[:, one.stop : stop] = _BESIDE
            worth[one.speaker, one.stop : stop] = _AFTER_SAID
            worth[one.hearer, one.stop : stop] = _AFTER * heard
            pair[:, one.stop : one.until] = [[one.speaker], [one.hearer]]
        for at, _ in one.lands:
            end = min(at + round(_LANDS_S * fps), one.stop + round(_SILENT_S * fps), one.until)
            landed[at:end] = True
            if one.hearer is not None:
                worth[one.hearer, at:end] = np.maximum(worth[one.hearer, at:end], _LANDS * heard)
    moving = _moving(feet, fps)
    worth += _MOVING * moving * np.where(speaks < 0, 1.0, 0.3)
    if favoured is not None:
        worth *= np.where(np.arange(p) == favoured, _FAVOURED, _OTHERS)[:, None]
    begins = min((one.first for one in lines), default=0)
    ends = max((one.stop for one in lines), default=n)
    along = np.clip((np.arange(n) - begins) / max(ends - begins, 1), 0, 1)
    tension = np.clip(wishes.close * (0.3 + 0.9 * along + _LANDED * landed), 0, _MOST)
    size = _WIDEST - (_WIDEST - _CLOSEST) * tension / _MOST
    moments = tuple(sorted(_moments(lines, names, moving, wishes.lead), key=lambda m: m.frame))
    moment = np.full((p + 2, n), _QUIET)
    moment[:, speaks != -1] = _IN_WORD
    words = sorted({at for one in lines for at, _ in one.words})
    moment[:, words] = np.minimum(moment[:, words], _BETWEEN)
    for good in moments:
        for d in range(-4, 5):
            if 0 <= (at := good.frame + d) < n:
                moment[good.to, at] = min(moment[good.to, at], _OFF * abs(d))
    return Drama(worth, size, pair, speaks, moment, moments)


def _lay(one: Said, worth: Floats, pair: Ints, fps: float, heard: float) -> None:
    """A line over what was laid before it: what everyone is worth meanwhile, and who talk."""
    span = slice(one.first, one.stop)
    if one.speaker is None:
        worth[:, span] = _EVERYONE
        return
    worth[:, span] = _BESIDE
    worth[one.speaker, span] = _SPEAKS
    if one.hearer is None:
        return
    pair[:, span] = [[one.speaker], [one.hearer]]
    worth[one.hearer, span] = _HEARS * heard
    t = np.arange(one.stop - one.first) / fps
    if (one.stop - one.first) / fps > _LONG_S:
        ramp = np.clip((t - _FROM_S) / _OVER_S, 0, 1)
        worth[one.hearer, span] += _GAINS * heard * ramp
        worth[one.speaker, span] -= _LOSES * ramp
    worth[one.hearer, max(one.stop - _END_F, one.first) : one.stop] += _END * heard


def _moving(feet: Floats, fps: float) -> Flags:
    """(p, n) who moves from the spot, over half a second."""
    step = max(round(_FOR_S * fps), 1)
    went = np.zeros(feet.shape[:2])
    if feet.shape[1] > step:
        far = np.linalg.norm(feet[:, step:] - feet[:, :-step], axis=2)
        went[:, :-step] = far * fps / step
        went[:, -step:] = far[:, -1:] * fps / step
    return np.asarray(went > _MOVES)


def _moments(lines: list[Said], names: list[str], moving: Flags, lead: int) -> Iterator[Moment]:
    several = len(names)
    for one in lines:
        said = one.line.line.words
        last = bare(said[-1])
        if one.speaker is not None:
            name = names[one.speaker]
            how = (
                f"{-lead} f before {name} speaks"
                if lead < 0
                else f"{lead} f into {name}'s line"
                if lead
                else f"as {name} speaks"
            )
            yield Moment(one.first + lead, one.speaker, how)
        whose = f"{names[one.speaker]}'s " if one.speaker is not None else ""
        silent = one.until - one.stop >= _SILENT_F
        for to in [several] if one.hearer is None else [one.hearer, several]:
            if one.hearer == to:
                yield Moment(one.stop - _BEFORE_END_F, to, f"on {whose}“{last}”")
                yield from (Moment(at + _LANDED_F, to, f"on {whose}“{bare(word)}”") for at, word in one.lands)
            if silent:
                yield Moment(one.stop + _INTO_F, to, f"in the silence after {whose}“{last}”")
    for k, one_moves in enumerate(moving):
        starts = np.flatnonzero(one_moves[1:] & ~one_moves[:-1]) + 1
        for at in starts:
            for to in (k, several):
                yield Moment(int(at) + _WALKING_F, to, f"as {names[k]} begins to move")
