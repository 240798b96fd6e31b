"""Few keys that give values frame by frame within an error."""

from typing import Any

import numpy as np

from heron.curves.channel import Channel, Key
from heron.curves.evaluate import evaluate

Floats = np.ndarray[Any, np.dtype[np.float64]]


def simplified(first: int, values: Floats, error: float) -> Channel:
    """A channel that is within an error of values at every frame; with none, of a key on every frame.

    Keys are put where the curve through those there are is farthest off, in every stretch at once, until none is.

    Args:
        first: the frame of the first value.
        values: (n,) one for each frame.
        error: in the values' unit.
    """
    n = len(values)
    if (np.ptp(values) <= error and error > 0) or n == 1:
        return Channel(rest=float(values[0]))
    if error <= 0:
        return _through(first, values, list(range(n)))
    frames = np.arange(first, first + n)
    at = [0, n - 1]
    while True:
        channel = _through(first, values, at)
        off = np.abs(evaluate(channel, frames) - values)
        new = []
        for a, b in zip(at, at[1:], strict=False):
            if b - a > 1:
                worst = a + 1 + int(np.argmax(off[a + 1 : b]))
                if off[worst] > error:
                    new.append(worst)
        if not new:
            return channel
        at = sorted([*at, *new])


def _through(first: int, values: Floats, at: list[int]) -> Channel:
    keys = [Key(frame=first + i, value=float(values[i])) for i in at]
    # The ends go on as they go: eased they would start and stop at rest.
    keys[0] = Key(frame=keys[0].frame, value=keys[0].value, after="straight")
    keys[-1] = Key(frame=keys[-1].frame, value=keys[-1].value, before="straight")
    return Channel(rest=keys[0].value, keys=tuple(keys))
