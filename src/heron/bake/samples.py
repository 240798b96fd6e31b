"""Samples: a thing over frames as rows of numbers, and their wire form."""

import json
import struct
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from heron.timebase import Frames

Floats = np.ndarray[Any, np.dtype[np.float64]]


@dataclass(frozen=True)
class Samples:
    """A thing over frames: (n, columns) float64, and what it says about itself."""

    columns: tuple[str, ...]
    frames: Frames
    values: Floats
    facts: dict[str, Any]

    def column(self, name: str) -> Floats:
        """(n,) one column by name."""
        return np.asarray(self.values[:, self.columns.index(name)])

    def at(self, frame: int) -> dict[str, float]:
        """The values at a frame by column name."""
        row = self.values[frame - self.frames.first]
        return {name: float(v) for name, v in zip(self.columns, row, strict=True)}

    def only(self, columns: Sequence[str]) -> "Samples":
        """Some of the columns, in their own order."""
        kept = tuple(name for name in self.columns if name in columns)
        values = self.values[:, [self.columns.index(name) for name in kept]]
        return Samples(kept, self.frames, values, self.facts)

    def since(self, before: "Samples") -> "Samples":
        """The frames from the first to the last that are others than before; all, where that is most of them."""
        if (before.columns, before.frames) != (self.columns, self.frames):
            return self
        differ = np.flatnonzero((self.values != before.values).any(axis=1))
        first, end = (int(differ[0]), int(differ[-1]) + 1) if len(differ) else (0, 1)
        if 2 * (end - first) > len(self.values):
            return self
        frames = Frames(first=self.frames.first + first, last=self.frames.first + end - 1)
        return Samples(self.columns, frames, self.values[first:end], self.facts)

    def packed(self, onto: str = "") -> bytes:
        """Wire form: header length (uint32), JSON header padded to 4 bytes, float32 rows.

        Columns that never change are said once, in the header's `still`; rows hold the others.

        Args:
            onto: the key of samples that these are laid over; what these say of the thing counts.
        """
        values = self.values.astype("<f4")
        moves = np.any(values != values[0], axis=0)
        header = {
            "still": {int(i): float(values[0, i]) for i in np.flatnonzero(~moves)},
            "columns": self.columns, "first": self.frames.first, "last": self.frames.last, "facts": self.facts,
            **({"onto": onto} if onto else {}),
        }  # fmt: skip
        text = json.dumps(header, allow_nan=False).encode()
        text += b" " * (-len(text) % 4)
        return struct.pack("<I", len(text)) + text + np.ascontiguousarray(values[:, moves]).tobytes()


def between(values: Floats, first: int, t: np.ndarray[Any, Any], jumps: Sequence[int] = ()) -> Floats:
    """Rows at moments that may lie between frames, straight from one frame to the next.

    Args:
        values: (n, …) at frames `first`, `first` + 1 and so on.
        t: (m,) moments; before the first frame and after the last the value stands.
        jumps: frames on which the thing is suddenly elsewhere: just before one, it is still where it was.

    Returns:
        (m, …) float64; at a whole frame its row to the bit.
    """
    at = np.clip(np.asarray(t, dtype=np.float64) - first, 0, len(values) - 1)
    low = np.floor(at).astype(np.int64)
    if (at == low).all():
        return np.asarray(values[low])
    high = np.minimum(low + 1, len(values) - 1)
    share = np.where(np.isin(high + first, np.asarray(jumps, dtype=np.int64)), 0.0, at - low)
    share = share.reshape(-1, *[1] * (values.ndim - 1))
    return np.asarray(np.where(share == 0, values[low], values[low] + share * (values[high] - values[low])))
