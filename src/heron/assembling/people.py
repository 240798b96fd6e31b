"""Who a conversation is between, and who speaks to whom."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from heron.bake import Bake
from heron.lines import TimedLine, timed
from heron.stage.figure import Figure
from heron.stage.reference import OnFigure
from heron.timebase import Frames, parse_rate

Ints = np.ndarray[Any, np.dtype[np.int64]]


@dataclass(frozen=True)
class Said:
    """A line in frames from where an assembly begins.

    Attributes:
        speaker, hearer: places among the people; None, a voice off, and nobody else is there.
        first, stop: its first frame, and the one after its last.
        until: until when nobody speaks after it; `stop`, where somebody does.
        words: frames on which its words begin, with the words.
        lands: frames on which a word lands, with the word.
    """

    line: TimedLine
    speaker: int | None
    hearer: int | None
    first: int
    stop: int
    until: int
    words: tuple[tuple[int, str], ...]
    lands: tuple[tuple[int, str], ...]


#: A word lands that is the last before a silence as long as this, seconds, or one that something hangs on.
_SILENCE_S = 0.5


def talkers(bake: Bake, frames: Frames) -> list[Figure]:
    """Visible figures with lines within some frames, in the order in which they speak; whoever stands nearest, if there is but one."""
    there = {figure.id: figure for figure in bake.scene.visible.figures}
    spoken = [one for one in timed(bake.scene) if one.first <= frames.last and one.last >= frames.first]
    found = [there[id_] for id_ in dict.fromkeys(one.line.figure for one in spoken) if id_ in there]
    if len(found) == 1 and len(there) > 1:
        at = np.array([min(max(spoken[0].first, frames.first), frames.last)])

        def place(figure: Figure) -> np.ndarray[tuple[int], np.dtype[np.float64]]:
            return np.asarray(bake.place(OnFigure(figure=figure.id, joint="head"), at)[0])

        here = place(found[0])
        others = [figure for figure in there.values() if figure.id != found[0].id]
        found.append(min(others, key=lambda one: float(np.linalg.norm(place(one) - here))))
    return found


def said(bake: Bake, frames: Frames, people: list[Figure]) -> list[Said]:
    """The lines within some frames, in order of time."""
    index = {figure.id: i for i, figure in enumerate(people)}
    lines = sorted(
        (one for one in timed(bake.scene) if one.first <= frames.last and one.last >= frames.first),
        key=lambda one: one.first,
    )
    speakers = [index.get(one.line.figure or "") for one in lines]
    hung, n = _hung(bake), frames.count
    ends = [min(one.last + 1 - frames.first, n) for one in lines]
    spoken = [(one.first - frames.first, end) for one, end in zip(lines, ends, strict=True)]
    out = []
    for i, one in enumerate(lines):
        others = [k for k in [*speakers[i + 1 :], *reversed(speakers[:i]), *index.values()] if k is not None]
        hearer = next((k for k in others if k != speakers[i]), None)
        # A line that ends within another one has no silence after it.
        within = any(first < ends[i] < end for first, end in spoken)
        later = min((first for first, _ in spoken if first >= ends[i]), default=n)
        until = ends[i] if within else later
        lands = {word for line, word in hung if line == one.line.id and word < len(one.words)}
        if until - ends[i] >= _SILENCE_S * float(parse_rate(bake.scene.rate)):
            lands.add(len(one.words) - 1)
        words = [(at - frames.first, word) for at, word in zip(one.words, one.line.words, strict=True)]
        out.append(
            Said(
                one, speakers[i], hearer, max(one.first - frames.first, 0), ends[i], until,
                tuple(pair for pair in words if 0 <= pair[0] < n),
                tuple(words[k] for k in sorted(lands) if 0 <= words[k][0] < n),
            )
        )  # fmt: skip
    return out


def speaking(lines: Sequence[Said], n: int) -> Ints:
    """(n,) who speaks on each frame; −1, nobody; −2, a voice off. Of two who speak at once, whoever has the longer line."""
    who = np.full(n, -1)
    for one in longest_last(lines):
        who[one.first : one.stop] = -2 if one.speaker is None else one.speaker
    return who


def longest_last(lines: Sequence[Said]) -> list[Said]:
    """Lines in the order in which they are laid over each other: of two at once the longer one counts."""
    return sorted(lines, key=lambda one: one.stop - one.first)


def _hung(bake: Bake) -> set[tuple[str, int]]:
    """Lines and the words of theirs that acts of others hang on."""
    lines = {line.id: line for line in bake.scene.lines}
    return {
        (act.bound.line, act.bound.word)
        for figure in bake.scene.figures
        for act in figure.acts
        if act.bound is not None and act.bound.line in lines and lines[act.bound.line].figure != figure.id
    }
