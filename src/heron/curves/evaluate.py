"""Values of a channel over many frames at once.

A segment between two keys is a cubic Hermite whose end slopes follow from the kind on
that side. Straight: the slope of the chord, so two straight sides give a line. Eased: the
monotone slope of Fritsch and Carlson as scipy's PchipInterpolator computes it, and zero
at an extreme and at the first and last key, so a move starts and ends at rest and never
overshoots. Held after a key: the value stands until the next key's frame.
"""

from typing import Any

import numpy as np

from heron.curves.channel import Channel

Floats = np.ndarray[Any, np.dtype[np.float64]]


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
    if not keys:
        return np.full(t.shape, channel.rest)
    x = np.array([k.frame for k in keys], dtype=np.float64)
    y = np.array([k.value for k in keys])
    if len(keys) == 1:
        return np.full(t.shape, y[0])
    held = np.array([k.after == "held" for k in keys[:-1]])
    width = np.diff(x)
    chord = np.where(held, 0.0, np.diff(y) / width)
    eased = _eased_slopes(width, chord, held)
    leave = np.where([k.after == "straight" for k in keys[:-1]], chord, eased[:-1])
    arrive = np.where([k.before == "straight" for k in keys[1:]], chord, eased[1:])

    i = np.clip(np.searchsorted(x, t, side="right") - 1, 0, len(keys) - 2)
    w = width[i]
    u = np.clip((t - x[i]) / w, 0.0, 1.0)
    rise = np.where(held[i], 0.0, y[i + 1] - y[i])
    # Written around the first value so that equal keys give it back to the bit.
    value = y[i] + rise * u * u * (3 - 2 * u)
    value += w * (
        u * (1 - u) ** 2 * np.where(held[i], 0.0, leave[i])
        - u * u * (1 - u) * np.where(held[i], 0.0, arrive[i])
    )
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
