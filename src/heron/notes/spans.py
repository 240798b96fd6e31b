"""From severities frame by frame to notes that do not flicker."""

from typing import Any

import numpy as np

from heron.notes.kinds import Kind

Floats = np.ndarray[Any, np.dtype[np.float64]]


def spans(kind: Kind, severity: Floats) -> list[tuple[int, int]]:
    """The first and last places of each note: it begins at 0.5, lasts until it is well below, and short ones go.

    Args:
        severity: (n,) frames that follow each other.
    """
    alive = np.r_[False, severity >= min(kind.ends, 0.5), False]
    begins, ends = np.flatnonzero(alive[1:] & ~alive[:-1]), np.flatnonzero(~alive[1:] & alive[:-1])
    found: list[tuple[int, int]] = []
    for first, stop in zip(begins.tolist(), ends.tolist(), strict=True):
        over = np.flatnonzero(severity[first:stop] >= 0.5)
        if len(over) == 0:
            continue
        first += int(over[0])
        if found and first - found[-1][1] - 1 <= kind.joins:
            found[-1] = (found[-1][0], stop - 1)
        else:
            found.append((first, stop - 1))
    shortest = min(kind.shortest, len(severity))
    return [(first, last) for first, last in found if last - first + 1 >= shortest]
