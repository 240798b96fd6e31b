"""An operator's small movements: noise of a narrow band, a function of time alone."""

from functools import lru_cache
from typing import Any

import numpy as np

Floats = np.ndarray[Any, np.dtype[np.float64]]
AXES = 6
_WAVES = 16
#: How wide the band is: the standard deviation of the frequencies' logarithm.
_SPREAD = 0.45


@lru_cache(maxsize=256)
def _waves(seed: int) -> tuple[Floats, Floats]:
    """(axes, waves) radians for each cycle of the pace, and phases: one frequency in each band of equal probability."""
    from scipy.special import ndtri

    rng = np.random.Generator(np.random.PCG64(seed))
    share = (np.arange(_WAVES) + rng.uniform(0.02, 0.98, (AXES, _WAVES))) / _WAVES
    return 2 * np.pi * np.exp(_SPREAD * ndtri(share)), rng.uniform(0, 2 * np.pi, (AXES, _WAVES))


def breath(seed: int, cycles: Floats) -> Floats:
    """(6, n) of RMS 1: along the camera's right, up and back, then pan, tilt and roll.

    Args:
        cycles: (n,) how often it has breathed by each moment: the pace in hertz times seconds, where that is constant.
    """
    return _noise(seed, np.ascontiguousarray(cycles).tobytes())


# While a hand changes anything else of a rig, its breath over the scene stays as it is.
@lru_cache(maxsize=16)
def _noise(seed: int, cycles: bytes) -> Floats:
    speed, phase = _waves(seed)
    moments = np.frombuffer(cycles)
    out = np.zeros((AXES, len(moments)))
    for wave in range(_WAVES):
        out += np.sin(speed[:, wave, None] * moments + phase[:, wave, None])
    out *= np.sqrt(2 / _WAVES)
    out.setflags(write=False)
    return out
