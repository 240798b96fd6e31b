"""Values and slopes of a channel over many frames at once; each is found by itself, so that company changes nothing."""

import itertools
from typing import Any

import numpy as np

from heron.curves.channel import Channel
from heron.curves.segments import CELLS, Floats, Ints, Segments, segments, solved

#: A step of u leaves its square of the error, the more of it the slower time goes there; this much may be left.
_LEFT = 1e-12
_HAIR = 1e-12


def evaluate(channel: Channel, frames: np.ndarray[Any, Any]) -> Floats:
    """The channel's value at each frame.

    Args:
        frames: (n,) int or float frames, in any order.

    Returns:
        (n,) float64, in the channel's unit. Before the first key and after the last the
        value stands.
    """
    t = np.asarray(frames, dtype=np.float64)
    keys = channel.keys
    if len(keys) < 2:
        return np.full(t.shape, keys[0].value if keys else channel.rest)
    s = segments(channel)
    along = _Along(s, t)
    c0, c1, c2, c3 = along.of(s.value)
    u = along.u
    value = c3 * u
    for c in (c2, c1):
        value += c
        value *= u
    value += c0
    value[t >= s.x[-1]] = s.y[-1]
    return np.asarray(value)


def slope(channel: Channel, frames: np.ndarray[Any, Any]) -> Floats:
    """(n,) how fast the value changes at each frame, in its unit a frame, in closed form; zero where it stands.

    At a key it is that of the side that goes out. Where a handle is upright it is ±infinity.
    """
    t = np.asarray(frames, dtype=np.float64)
    if len(channel.keys) < 2:
        return np.zeros(t.shape)
    s = segments(channel)
    along = _Along(s, t)
    u = along.u
    _, c1, c2, c3 = along.of(s.value)
    rises = c1 + u * (2 * c2 + 3 * u * c3)
    d1, d2, d3 = along.of(s.time)
    with np.errstate(all="ignore"):
        found = rises / ((d1 + u * (2 * d2 + 3 * u * d3)) * along.of(s.width))
    outside = (t < s.x[0]) | (t >= s.x[-1])
    return np.where(outside | (rises == 0), 0.0, found)


def parameter(channel: Channel, frames: np.ndarray[Any, Any]) -> Floats:
    """(n,) where each frame is in its segment's own parameter, 0 to 1; of a channel of two keys or more."""
    return _Along(segments(channel), np.asarray(frames, dtype=np.float64)).u


def jumps(channel: Channel) -> list[int]:
    """Frames on which the value is suddenly another: where a held key is followed by a different value."""
    return [b.frame for a, b in itertools.pairwise(channel.keys) if a.after == "held" and a.value != b.value]


class _Along:
    """Which segment each of (n,) frames is in, and the u there."""

    def __init__(self, s: Segments, t: Floats) -> None:
        most = len(s.width) - 1
        self.runs: Ints | None = None
        if len(t) > 1 and bool((t[1:] >= t[:-1]).all()):
            # In order, as frames mostly are: each segment has a run of them.
            ends = np.searchsorted(t, s.x[1:-1], side="left")
            self.runs = np.diff(np.concatenate(([0], ends, [len(t)])))
        else:
            self.index = np.clip(np.searchsorted(s.x, t, side="right") - 1, 0, most)
        share = t - self.of(s.x[:-1])
        share /= self.of(s.width)
        np.clip(share, 0.0, 1.0, out=share)
        if s.any_bent:
            self.u = self._parameter(s, share)
            # On a key it is the key: an upright handle leaves u loose beside it.
            self.u[share <= 0.0], self.u[share >= 1.0] = 0.0, 1.0
        else:
            self.u = share

    def of(self, each: Any) -> Any:
        """(…, n) from (…, k − 1): what belongs to the segment that each frame is in."""
        if self.runs is None:
            return each[..., self.index]
        return np.repeat(each, self.runs, axis=-1)

    def _parameter(self, s: Segments, share: Floats) -> Floats:
        if s.all_bent:
            return _solved(s, self.of(s.table), self.of(s.time), share)
        bent = self.of(s.bent)
        if not bent.any():
            return share
        u, part = share.copy(), share[bent]
        if self.runs is None:
            i = self.index[bent]
            u[bent] = _solved(s, s.table[i], s.time[:, i], part)
        else:
            runs = np.where(s.bent, self.runs, 0)
            u[bent] = _solved(s, np.repeat(s.table, runs), np.repeat(s.time, runs, axis=-1), part)
        return u


def _solved(s: Segments, begins: Ints, time: Floats, share: Floats) -> Floats:
    """(n,) u at shares of the time of bent segments: read from the cells, then by two of Newton's steps."""
    c1, c2, c3 = time
    place = share * CELLS
    cell = place.astype(np.intp)
    np.minimum(cell, CELLS - 1, out=cell)
    place -= cell
    cell += begins
    if not len(s.cells):
        return solved(time, share)
    e0, e1, e2, e3 = np.take(s.cells, cell, axis=0, mode="clip").T
    u = e3 * place
    for e in (e2, e1):
        u += e
        u *= place
    u += e0
    step, speed = _step(c1, c2, c3, u, share)
    u -= step
    # Most are there; what is not takes one more step, and what is not then is closed in on.
    more = np.flatnonzero(_far(step, speed) | (begins < 0))
    if not len(more):
        return np.asarray(u)
    again, part = u[more], share[more]
    step, speed = _step(c1[more], c2[more], c3[more], again, part)
    again -= step
    far = np.flatnonzero(_far(step, speed) | (begins[more] < 0))
    if len(far):
        hard = more[far]
        # A hair more than the cell, whose ends are found to the last digit or so.
        low, high = e0[hard] - _HAIR, (e0 + e1 + e2 + e3)[hard] + _HAIR
        unknown = begins[hard] < 0
        low[unknown], high[unknown] = 0.0, 1.0
        again[far] = solved(time[:, hard], share[hard], (low, high))
    u[more] = again
    return np.asarray(u)


def _step(c1: Floats, c2: Floats, c3: Floats, u: Floats, share: Floats) -> tuple[Floats, Floats]:
    """Newton's step of u towards where the time is a share, and how fast time goes there."""
    speed = 3 * c3
    speed *= u
    step = c3 * u
    step += c2
    speed += 2 * c2
    speed *= u
    speed += c1
    step *= u
    step += c1
    step *= u
    step -= share
    with np.errstate(all="ignore"):
        step /= speed
    return step, speed


def _far(step: Floats, speed: Floats) -> Any:
    """(n,) whether a step may have left too much: of what it was it leaves the square."""
    with np.errstate(all="ignore"):
        return ~(6 * step * step <= _LEFT * speed)
