"""A range of frames."""

from collections.abc import Iterator
from typing import Annotated, Any

import numpy as np
from pydantic import Field, model_validator

from heron.errors import BadInput
from heron.model import Model

#: The longest range a scene or a request may cover: over an hour at 24 frames a second.
MAX_FRAMES = 100_000
MAX_FRAME_NUMBER = 10_000_000
FrameNumber = Annotated[int, Field(ge=0, le=MAX_FRAME_NUMBER)]


class Frames(Model):
    """Frames `first` to `last`, both included; `stop` is one past the last."""

    first: FrameNumber
    last: FrameNumber

    @model_validator(mode="after")
    def _in_order(self) -> "Frames":
        if self.last < self.first:
            raise ValueError(f"the range {self.first}–{self.last} ends before it starts")
        if self.last - self.first + 1 > MAX_FRAMES:
            raise ValueError(
                f"the range {self.first}–{self.last} is longer than {MAX_FRAMES:,} frames; use a shorter one"
            )
        return self

    @property
    def stop(self) -> int:
        """One past the last frame."""
        return self.last + 1

    @property
    def count(self) -> int:
        """How many frames, both ends included."""
        return self.last - self.first + 1

    def __contains__(self, frame: object) -> bool:
        return isinstance(frame, int) and self.first <= frame <= self.last

    def each(self) -> Iterator[int]:
        """Every frame in turn."""
        return iter(range(self.first, self.stop))

    def array(self) -> np.ndarray[Any, np.dtype[np.int64]]:
        """(n,) int64, every frame."""
        return np.arange(self.first, self.stop, dtype=np.int64)

    def __str__(self) -> str:
        return f"{self.first}–{self.last}"


def parse_frames(text: str) -> Frames:
    """Read `1001-1096`, or one frame `1001`.

    Raises:
        BadInput: not two whole numbers in order, or too long.
    """
    first, _, last = text.replace("–", "-").partition("-")
    try:
        a = int(first)
        b = int(last) if last else a
        return Frames(first=a, last=b)
    except ValueError:
        raise BadInput(
            f"{text!r:.40} is not a range of frames.",
            f"Write it as 1001-1096, first to last, at most {MAX_FRAMES:,} frames.",
            field="frames",
        ) from None
