"""The moments of a line: where each of its words begins and ends, for things that hang on them."""

from dataclasses import dataclass
from typing import Literal

from heron.lines.mouth import word_spans
from heron.lines.timing import timed
from heron.scene import Scene

_KEPT = "moments of lines"


@dataclass(frozen=True)
class SaidAt:
    """A line's words, and the stage frames on which each begins and is over; last, those of the line's end."""

    words: tuple[str, ...]
    begins: tuple[int, ...]
    over: tuple[int, ...]

    def at(self, word: int, end: Literal["first", "last"]) -> int:
        """The frame of a moment."""
        return (self.begins if end == "first" else self.over)[min(word, len(self.words))]

    def called(self, word: int, end: Literal["first", "last"]) -> str:
        """How a moment is called in a sentence."""
        if word >= len(self.words):
            return f"the end of “{self.words[0]}…”"
        said = bare(self.words[word])
        return f"“{said}”" if end == "first" else f"the end of “{said}”"


def spoken_at(scene: Scene) -> dict[str, SaidAt]:
    """By their ids, the moments of every line; asked again for the same scene, the same."""
    kept: dict[str, SaidAt] | None = scene.__dict__.get(_KEPT)
    if kept is None:
        kept = {}
        for one in timed(scene):
            over = tuple(one.first + round(b) for _, _, b in word_spans(scene, one))
            kept[one.line.id] = SaidAt(
                tuple(one.line.words), (*one.words, one.last + 1), (*over, one.last + 1)
            )
        scene.__dict__[_KEPT] = kept
    return kept


def bare(word: str) -> str:
    """A word without the marks beside it."""
    return word.strip(".,;:!?…“”\"'()") or word
