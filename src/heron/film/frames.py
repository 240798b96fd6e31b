"""Scenes one after the other: frames of a film and the frames of each scene's cut that they show, in whole numbers."""

from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import Any, Literal

import numpy as np

from heron.errors import BadInput, Refused

Fit = Literal["time", "frames"]
Ints = np.ndarray[Any, np.dtype[np.int64]]


@dataclass(frozen=True)
class Reel:
    """A scene in a film: so many frames of its cut, from a first one, and its rate; how it is fitted to the film's."""

    name: str
    count: int
    rate: Fraction
    fit: Fit | None = None
    first: int = 0


class Film:
    """Reels in order at one rate.

    Raises:
        Refused: a reel has another rate, and nobody said how to fit it.
    """

    def __init__(self, reels: Sequence[Reel], rate: Fraction) -> None:
        self.reels, self.rate = tuple(reels), rate
        self._tables: dict[int, Ints] = {}
        #: The first film frame of each reel, and of what would come after the last.
        self.begins = [0]
        for place, reel in enumerate(reels, 1):
            if reel.rate != rate and reel.fit is None:
                raise Refused(
                    f"Scene {place} ({reel.name}) runs at {_told(reel.rate)}, the film at {_told(rate)}.",
                    "Say how to fit it: time keeps how long it takes, frames plays it frame for frame.",
                    field="rate",
                )
            self.begins.append(self.begins[-1] + self._length(reel))

    @property
    def length(self) -> int:
        """Frames of the film."""
        return self.begins[-1]

    def _same(self, reel: Reel) -> bool:
        return reel.fit == "frames" or reel.rate == self.rate

    def _length(self, reel: Reel) -> int:
        return reel.count if self._same(reel) else -(-reel.count * self.rate // reel.rate)

    def shows(self, frame: int) -> tuple[int, int]:
        """Which reel a film frame shows, and which frame of its cut: what is on screen in the middle of the film frame.

        Raises:
            BadInput: the film has no such frame.
        """
        if not 0 <= frame < self.length:
            raise BadInput(
                f"The film has no frame {frame}: it is {self.length} frames long.",
                f"Ask for 0 to {self.length - 1}." if self.length else "Add a scene with a cut.",
                field="at",
            )
        place = bisect_right(self.begins, frame) - 1
        reel, k = self.reels[place], frame - self.begins[place]
        if self._same(reel):
            return place, reel.first + k
        return place, reel.first + min((2 * k + 1) * reel.rate // (2 * self.rate), reel.count - 1)

    def shown_at(self, place: int, cut: int) -> int | None:
        """The first film frame that shows a frame of a reel's cut; none where the film skips it."""
        reel = self.reels[place]
        k = cut - reel.first
        if not 0 <= k < reel.count:
            return None
        if self._same(reel):
            return self.begins[place] + k
        ratio = self.rate / reel.rate
        frame = self.begins[place] + max(0, -((-(k * ratio - Fraction(1, 2))) // 1))
        return frame if frame < self.begins[place + 1] and self.shows(frame) == (place, cut) else None

    def table(self, place: int) -> Ints:
        """(n,) for each film frame of a reel, the frame of its cut that is shown: `shows` for all of them at once."""
        found = self._tables.get(place)
        if found is None:
            reel, k = (
                self.reels[place],
                np.arange(self.begins[place + 1] - self.begins[place], dtype=np.int64),
            )
            if not self._same(reel):
                ratio = reel.rate / (2 * self.rate)
                k = np.minimum((2 * k + 1) * ratio.numerator // ratio.denominator, reel.count - 1)
            found = self._tables[place] = k + reel.first
        return found

    def plain(self, place: int) -> bool:
        """Whether a reel's film frames show the frames of its cut one by one."""
        return self._same(self.reels[place])

    def span(self, place: int, first: int, last: int) -> tuple[int, int] | None:
        """The first and last film frame that show some frames of a reel's cut; none where the film shows none of them."""
        begin, reel = self.begins[place], self.reels[place]
        if self._same(reel):
            low, high = begin + max(first - reel.first, 0), begin + min(last - reel.first, reel.count - 1)
        else:
            table = self.table(place)
            low = begin + int(np.searchsorted(table, first))
            high = begin + int(np.searchsorted(table, last, side="right")) - 1
        return (low, high) if low <= high else None


def _told(rate: Fraction) -> str:
    return f"{float(rate):g}" if rate.denominator == 1 else f"{float(rate):.3f}"
