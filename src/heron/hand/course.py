"""A course over the floor that a hand drove, read as walks: from where it set off to where it stood again."""

from dataclasses import dataclass
from typing import Any

import numpy as np

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: Slower than this somebody stands, metres a second; shorter than this is not a stop, seconds.
STANDS_BELOW, SHORTEST_STOP_S = 0.12, 0.4
#: A walk that comes to less is none, metres.
LEAST_M = 0.15
#: A walk's points leave the course by no more than this, metres.
OFF_M = 0.05


@dataclass(frozen=True)
class Stretch:
    """One walk.

    Attributes:
        first, last: rows of the course.
        points: (k, 2) x and z in metres, without the place where it begins.
    """

    first: int
    last: int
    points: Floats


def stretches(course: Floats, fps: float) -> list[Stretch]:
    """The walks in a course.

    Args:
        course: (n, 2) x and z in metres, one row for each frame.
    """
    if len(course) < 2:
        return []
    speed = np.hypot(*np.diff(course, axis=0).T) * fps
    goes = _without_short_stops(speed > STANDS_BELOW, round(SHORTEST_STOP_S * fps))
    edges = np.flatnonzero(np.diff(np.concatenate([[0], goes.astype(int), [0]])))
    found = []
    for first, last in edges.reshape(-1, 2):
        part = course[first : last + 1]
        if np.hypot(*np.diff(part, axis=0).T).sum() >= LEAST_M:
            found.append(Stretch(int(first), int(last), part[_kept(part)][1:]))
    return found


def _without_short_stops(goes: Any, least: int) -> Any:
    out = goes.copy()
    edges = np.flatnonzero(np.diff(goes.astype(int))) + 1
    for a, b in zip(edges, edges[1:], strict=False):
        if not goes[a] and b - a < least:
            out[a:b] = True
    return out


def _kept(part: Floats) -> list[int]:
    """Which rows to keep so that straight lines between them stay near all: Ramer, Douglas and Peucker."""
    keep, todo = {0, len(part) - 1}, [(0, len(part) - 1)]
    while todo:
        a, b = todo.pop()
        if b - a < 2:
            continue
        way = part[b] - part[a]
        off = part[a + 1 : b] - part[a]
        along = np.clip(off @ way / max(float(way @ way), 1e-12), 0.0, 1.0)
        far = np.hypot(*(off - along[:, None] * way).T)
        i = int(np.argmax(far))
        if far[i] > OFF_M:
            keep.add(a + 1 + i)
            todo += [(a, a + 1 + i), (a + 1 + i, b)]
    return sorted(keep)
