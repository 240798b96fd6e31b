"""Sound played more slowly at the same pitch: grains of it laid farther apart than they lay.

Each grain is taken where it goes on best from the one before (waveform similarity overlap-add, after Verhelst and Roelands,
ICASSP 1993, from memory), and cross-faded with it. The first and the last grain of a stretch are taken exactly where they
belong, so that stretches made apart join without a seam and never drift from the picture.
"""

from typing import Any

import numpy as np
from scipy.signal import correlate

from heron.sound.samples import RATE

Floats = np.ndarray[Any, np.dtype[np.float64]]

#: How far apart grains are laid, and how far from its place one may be taken, samples.
HOP = RATE // 25
SEEK = RATE // 80
#: Samples that `stretched` needs before its sound and after it.
MARGIN = HOP + SEEK


def stretched(sound: Floats, count: int) -> Floats:
    """(count, 2): a sound as long as that at its own pitch.

    Args:
        sound: (n, 2), at 48 kHz, with `MARGIN` samples before and after what is meant.
    """
    length = len(sound) - 2 * MARGIN
    if count == length:
        return sound[MARGIN : MARGIN + length]
    mono = sound.mean(axis=1)
    steps = max(round(count / HOP), 1)
    laid = np.rint(np.arange(steps + 1) * count / steps).astype(int)
    taken = np.rint(laid * (length / count)).astype(int) + MARGIN
    out = np.empty((count, 2))
    for j in range(steps):
        a, b = laid[j], laid[j + 1]
        wide = b - a
        if j + 1 < steps:
            taken[j + 1] += _shift(mono, taken[j], taken[j + 1], wide)
        fade = np.sin(np.pi / 2 * (np.arange(wide) + 0.5) / wide)[:, None] ** 2
        goes_on = sound[taken[j] : taken[j] + wide]
        comes = sound[taken[j + 1] - wide : taken[j + 1]]
        out[a:b] = (1 - fade) * goes_on + fade * comes
    return out


def _shift(mono: Floats, before: int, at: int, wide: int) -> int:
    """By how much later a grain is best taken: where what lies before it is most like what the one before goes on with."""
    goes_on = mono[before : before + wide]
    around = mono[at - wide - SEEK : at + SEEK]
    alike = correlate(around, goes_on, mode="valid", method="fft")
    power = np.cumsum(np.concatenate(([0.0], around**2)))
    loud = np.sqrt(np.maximum(power[wide:] - power[:-wide], 0.0))
    # Where nothing is heard any place is as good as its own.
    return int(np.argmax(alike / (loud + 1e-9 + 1e-3 * loud.max()))) - SEEK if loud.max() > 1e-6 else 0
