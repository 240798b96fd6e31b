"""Frames in samples, exactly."""

from collections.abc import Callable
from fractions import Fraction
from typing import Any

import numpy as np

#: Samples a second everywhere in here.
RATE = 48_000
Floats = np.ndarray[Any, np.dtype[np.float64]]
#: Gives stereo samples of a file, by its key: (n, 2) from one sample to before another, fewer where it ends.
Files = Callable[[str, int, int], "np.ndarray[Any, Any]"]


def sample_of(frame: int, fps: Fraction) -> int:
    """The sample nearest to where a frame begins, counted from frame 0; never added up, so nothing drifts."""
    return round(Fraction(frame * RATE) / fps)


def frames_for(samples: int, fps: Fraction) -> int:
    """How many frames hold so many samples; at least one."""
    return max(-(-samples * fps.numerator // (RATE * fps.denominator)), 1)
