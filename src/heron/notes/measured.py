"""One measure over the frames of a camera, before it is a note."""

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from heron.notes.views import Floats


@dataclass(frozen=True)
class Measured:
    """What a kind of note measures over n frames.

    Attributes:
        measure: (n,); NaN where there is nothing to judge.
        at: (n, 2) where in the frame.
        say: the sentence for a frame, by its place.
        usual: what the threshold is multiplied by.
        by: what causes it, at a place; who: whom it is about, where that is not the picture's subject.
    """

    kind: str
    measure: Floats
    at: Floats
    say: Callable[[int], str]
    usual: Any = 1.0
    by: Callable[[int], list[str]] = field(default=lambda _: [])
    who: Callable[[int], list[str]] | None = None
