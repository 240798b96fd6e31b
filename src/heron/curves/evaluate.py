"""Values of a channel over many frames at once.

A segment between two keys is a cubic Hermite whose end slopes follow from the kind on
that side. Straight: the slope of the chord, so two straight sides give a line. Eased: the
monotone slope of Fritsch and Carlson as scipy's PchipInterpolator computes it, and zero
at an extreme and at the first and last key, so a move starts and ends at rest and never
overshoots. Held after a key: the value stands until the next key's frame.

A segment with a shaped side is a cubic Bézier in frames and value. Handles longer than the segment are shortened to it,
so that time never runs back; a side that is not shaped has a handle a third as long, along its slope.
"""

import itertools
from dataclasses import dataclass
from typing import Any

import numpy as np

from heron.curves.channel import Channel

Floats = np.ndarray[Any, np.dtype[np.float64]]


@dataclass(frozen=True, eq=False)
class _Prepared:
    """A channel's keys as arrays: (k,) frames and values, (k − 1,) of each segment.

    One is never compared with another: channels are, by what they hold.
    """

    x: Floats
    y: Floats
    width: Floats
    rise: Floats
    leave: Floats
    arrive: Floats
    shaped: "_Shaped | None" = None


@dataclass(frozen=True, eq=False)
class _Shaped:
    """Bézier segments: which are, (k − 1,) bool; handles' lengths as shares of the segment, and their values."""

    on: np.ndarray[Any, np.dtype[np.bool_]]
    out: Floats
    back: Floats
    up: Floats
    down: Floats


#: Rounds in which a moment is found on a curve, and within how many frames.
_ROUNDS, _FOUND = 60, 1e-10
#: Beside a channel's fields, where no field can be called so.
_KEPT = "prepared for evaluation"


def _prepared(channel: Channel) -> _Prepared:
    """Made once for each channel: a channel never changes."""
    found: _Prepared | None = channel.__dict__.get(_KEPT)
    if found is None:
        keys = channel.keys
        x = np.array([k.frame for k in keys], dtype=np.float64)
        y = np.array([k.value for k in keys])
        held = np.array([k.after == "held" for k in keys[:-1]])
        width = np.diff(x)
        chord = np.where(held, 0.0, np.diff(y) / width)
        eased = _eased_slopes(width, chord, held)
        leave = np.where([k.after == "straight" for k in keys[:-1]], chord, eased[:-1])
        arrive = np.where([k.before == "straight" for k in keys[1:]], chord, eased[1:])
        found = channel.__dict__[_KEPT] = _Prepared(
            x,
            y,
            width,
            np.where(held, 0.0, np.diff(y)),
            np.where(held, 0.0, leave),
            np.where(held, 0.0, arrive),
            _shaped(channel, width, eased, leave, arrive),
        )
    return found


def _shaped(channel: Channel, width: Floats, eased: Floats, leave: Floats, arrive: Floats) -> _Shaped | None:
    keys = channel.keys
    on = np.array(
        [
            a.after == "shaped" or (b.before == "shaped" and a.after != "held")
            for a, b in itertools.pairwise(keys)
        ]
    )
    if not on.any():
        return None
    n = len(width)
    out, back, up, down = np.full(n, 1 / 3), np.full(n, 1 / 3), leave * width / 3, -arrive * width / 3
    for i in range(n):
        after, before = keys[i], keys[i + 1]
        for handle, share, value, is_shaped in (
            (after.handle_after, out, up, after.after == "shaped"),
            (before.handle_before, back, down, before.before == "shaped"),
        ):
            if is_shaped and handle is not None:
                long = abs(handle[0]) / width[i]
                by = 1.0 if long <= 1 else 1 / long
                share[i], value[i] = long * by, handle[1] * by
    return _Shaped(on, out, back, up, down)


def _bezier(p: _Prepared, s: _Shaped, i: Any, part: Floats) -> Floats:
    """(n,) values on segments i at shares of their time; each is found by itself, so that company changes nothing."""
    a, b = s.out[i], 1 - s.back[i]
    low, high, u = np.zeros(len(part)), np.ones(len(part)), part.copy()
    near = _FOUND / p.width[i]
    going = np.ones(len(part), dtype=bool)
    for _ in range(_ROUNDS):
        w = 1 - u
        off = 3 * a * u * w * w + 3 * b * u * u * w + u * u * u - part
        going &= np.abs(off) > near
        if not going.any():
            break
        low, high = np.where(off < 0, np.maximum(low, u), low), np.where(off > 0, np.minimum(high, u), high)
        speed = 3 * (a * w * w + 2 * (b - a) * u * w + (1 - b) * u * u)
        with np.errstate(all="ignore"):
            newton = u - off / speed
        inside = (newton > low) & (newton < high) & (speed > 1e-12)
        u = np.where(going, np.where(inside, newton, (low + high) / 2), u)
    w, rise = 1 - u, p.rise[i]
    return np.asarray(
        p.y[i] + 3 * u * w * w * s.up[i] + 3 * u * u * w * (rise + s.down[i]) + u * u * u * rise
    )


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
    p = _prepared(channel)
    x, y = p.x, p.y
    i = np.clip(np.searchsorted(x, t, side="right") - 1, 0, len(keys) - 2)
    w = p.width[i]
    u = np.clip((t - x[i]) / w, 0.0, 1.0)
    # Written around the first value so that equal keys give it back to the bit.
    value = y[i] + p.rise[i] * u * u * (3 - 2 * u)
    value += w * (u * (1 - u) ** 2 * p.leave[i] - u * u * (1 - u) * p.arrive[i])
    if p.shaped is not None:
        bent = p.shaped.on[i] & (t > x[0]) & (t < x[-1])
        if bent.any():
            value[bent] = _bezier(p, p.shaped, i[bent], u[bent])
    return np.where(t >= x[-1], y[-1], np.where(t <= x[0], y[0], value))


def _eased_slopes(width: Floats, chord: Floats, held: np.ndarray[Any, Any]) -> Floats:
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


def jumps(channel: Channel) -> list[int]:
    """Frames on which the value is suddenly another: where a held key gives way to a different one."""
    return [b.frame for a, b in itertools.pairwise(channel.keys) if a.after == "held" and a.value != b.value]
