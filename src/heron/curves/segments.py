"""A channel's keys as segments, prepared once: what each is between its two keys.

Every segment is a cubic in a parameter u from 0 to 1. Where time runs evenly in u it is a Hermite whose end slopes follow
from the kind on that side. Straight: the slope of the chord, so two straight sides give a line. Eased: the monotone slope
of Fritsch and Carlson as scipy's PchipInterpolator computes it, and zero at an extreme and at the first and last key,
so a move starts and ends at rest and never overshoots. Held after a key: the value stands until the next key's frame.

With a shaped side it is a cubic Bézier in frames and value, whose time is a cubic in u as well. Handles longer than the
segment are shortened to it, so that time never runs back; a side that is not shaped has a handle a third as long,
along its slope.
"""

import itertools
from dataclasses import dataclass
from typing import Any

import numpy as np

from heron.curves.channel import Channel

Floats = np.ndarray[Any, np.dtype[np.float64]]
Bools = np.ndarray[Any, np.dtype[np.bool_]]
Ints = np.ndarray[Any, np.dtype[np.intp]]

#: Cells of the table from which u is first read, and the least frames of a segment that has one.
CELLS = 64
_WORTH_FRAMES = 16
#: Handles this near a third of the segment leave time even.
_THIRD = 1e-12
_ROUNDS = 100
#: Of the segment's time, and of u: nothing nearer can be distinguished.
_FOUND = 1e-16
_KEPT = "segments of its keys"


@dataclass(frozen=True, eq=False)
class Segments:
    """(k,) frames and values of the keys, and of each of the (k − 1) segments what follows.

    One is never compared with another: channels are, by what they hold.

    Attributes:
        width: frames.
        value: (4, k − 1) the cubic of the value in u, from the constant up.
        bent: (k − 1,) whether time is uneven in u.
        time: (3, k − 1) the cubic of the share of the time in u, from the linear term up.
        table: (k − 1,) where its cells begin in `cells`; −1 without.
        cells: (cells, 4) cubics of u in the place within a cell, from the constant up.
        out, back: (k − 1, 2) the handles that count, at its first and at its last key: frames and value from the key.
        cut: (k − 1, 2) whether the first key's or the last key's handle had to be shortened.
    """

    x: Floats
    y: Floats
    width: Floats
    value: Floats
    bent: Bools
    time: Floats
    table: Ints
    cells: Floats
    out: Floats
    back: Floats
    cut: Bools
    any_bent: bool
    all_bent: bool


def segments(channel: Channel) -> Segments:
    """A channel of two keys or more as segments; found once for each channel."""
    found: Segments | None = channel.__dict__.get(_KEPT)
    if found is None:
        found = channel.__dict__[_KEPT] = _segments(channel)
    return found


def _segments(channel: Channel) -> Segments:
    keys = channel.keys
    x = np.array([k.frame for k in keys], dtype=np.float64)
    y = np.array([k.value for k in keys])
    held = np.array([k.after == "held" for k in keys[:-1]])
    width = np.diff(x)
    rise = np.where(held, 0.0, np.diff(y))
    chord = rise / width
    eased = _eased_slopes(width, chord, held)
    leave = np.where([k.after == "straight" for k in keys[:-1]], chord, eased[:-1])
    arrive = np.where([k.before == "straight" for k in keys[1:]], chord, eased[1:])
    leave, arrive = np.where(held, 0.0, leave), np.where(held, 0.0, arrive)
    out = np.column_stack([width / 3, leave * width / 3])
    back = np.column_stack([width / -3, arrive * width / -3])
    cut = np.zeros((len(width), 2), dtype=bool)
    own = _own_handles(channel, width, out, back, cut)
    a, b = out[:, 0] / width, 1 + back[:, 0] / width
    bent = own & ((np.abs(a - 1 / 3) > _THIRD) | (np.abs(b - 2 / 3) > _THIRD))
    up, down = out[:, 1], back[:, 1]
    # Written around the first value, so that equal keys give it back to the bit.
    value = np.stack(
        [y[:-1], 3 * up, 3 * (rise + down) - 6 * up, 3 * up - 3 * (rise + down) + rise],
    )
    time = np.stack([3 * a, 3 * b - 6 * a, 1 + 3 * a - 3 * b])
    time[:, ~bent] = np.array([1.0, 0.0, 0.0])[:, None]
    table, cells = _tables(time, bent, width)
    return Segments(
        x, y, width, value, bent, time, table, cells, out, back, cut, bool(bent.any()), bool(bent.all())
    )


def _own_handles(channel: Channel, width: Floats, out: Floats, back: Floats, cut: Bools) -> Bools:
    """(k − 1,) which segments have handles given by hand; they are put into `out` and `back`, `cut` to the segment."""
    own = np.zeros(len(width), dtype=bool)
    for i, (first, last) in enumerate(itertools.pairwise(channel.keys)):
        if first.after == "held":
            continue
        for k, (kind, handle, into) in enumerate(
            ((first.after, first.handle_after, out), (last.before, last.handle_before, back))
        ):
            if kind != "shaped" or handle is None:
                continue
            own[i] = True
            long = abs(handle[0])
            by = 1.0 if long <= width[i] else float(width[i]) / long
            into[i] = handle[0] * by, handle[1] * by
            cut[i, k] = by < 1
    return own


def _eased_slopes(width: Floats, chord: Floats, held: Bools) -> Floats:
    """(k,) slope at each key: weighted harmonic mean inside, zero at ends and extremes."""
    slopes = np.zeros(len(width) + 1)
    before, after = chord[:-1], chord[1:]
    same = (before * after > 0) & ~held[:-1] & ~held[1:]
    w1 = 2 * width[1:] + width[:-1]
    w2 = width[1:] + 2 * width[:-1]
    with np.errstate(all="ignore"):
        mean = (w1 + w2) * (before * after) / (w1 * after + w2 * before)
    slopes[1:-1] = np.where(same, mean, 0.0)
    return slopes


def _tables(time: Floats, bent: Bools, width: Floats) -> tuple[Ints, Floats]:
    """Where each long bent segment's cells begin, and the cells: u as a cubic of the share of the time, whose slopes
    are limited to three chords so that it never turns back.
    """
    wide = np.flatnonzero(bent & (width > _WORTH_FRAMES))
    table = np.full(len(width), -1, dtype=np.intp)
    if not len(wide):
        return table, np.zeros((0, 4))
    table[wide] = np.arange(len(wide)) * CELLS
    share = np.tile(np.linspace(0, 1, CELLS + 1), len(wide))
    u = solved(time[:, np.repeat(wide, CELLS + 1)], share).reshape(len(wide), CELLS + 1)
    _, c1, c2, c3 = (np.zeros(1), *(row[wide, None] for row in time))
    chord = np.diff(u, axis=1)
    with np.errstate(all="ignore"):
        slope = 1 / (CELLS * (c1 + u * (2 * c2 + 3 * u * c3)))
    most = 3 * np.minimum(np.c_[chord[:, :1], chord], np.c_[chord, chord[:, -1:]])
    slope = np.where(np.isfinite(slope) & (slope >= 0), np.minimum(slope, most), most)
    m0, m1 = slope[:, :-1], slope[:, 1:]
    cells = np.stack([u[:, :-1], m0, 3 * chord - 2 * m0 - m1, m0 + m1 - 2 * chord], axis=-1)
    return table, cells.reshape(-1, 4)


def solved(time: Floats, share: Floats, within: tuple[Floats, Floats] | None = None) -> Floats:
    """(n,) u at which each (3, n) cubic of time is a share of it: by Newton's steps between closing bounds.

    Args:
        within: (n,) bounds of u that are known already.
    """
    c1, c2, c3 = time
    low, high = (np.zeros(len(share)), np.ones(len(share))) if within is None else within
    u = share.copy() if within is None else (low + high) / 2
    out = u.copy()
    left = np.arange(len(share))
    for _ in range(_ROUNDS):
        off = u * (c1 + u * (c2 + u * c3)) - share
        low, high = np.where(off < 0, u, low), np.where(off > 0, u, high)
        with np.errstate(all="ignore"):
            newton = u - off / (c1 + u * (2 * c2 + 3 * u * c3))
        new = np.where((newton > low) & (newton < high), newton, (low + high) / 2)
        on = (np.abs(off) > _FOUND) & (np.abs(new - u) > _FOUND)
        out[left] = u
        if not on.any():
            break
        left, u, low, high, c1, c2, c3, share = (one[on] for one in (left, new, low, high, c1, c2, c3, share))
    return out
