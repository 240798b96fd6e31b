"""Shutter, stop, sensitivity and exposure value.

EV = log2(N²/t) − log2(ISO/100), with t = shutter angle/360/fps (ISO 2721 as handbooks print it,
from memory).
"""

from typing import Any

import numpy as np

Floats = np.ndarray[Any, np.dtype[np.float64]]
SMALLEST_SHUTTER, LARGEST_SHUTTER = 1.0, 360.0
SLOWEST_ISO, FASTEST_ISO = 6.0, 102_400.0
WIDEST_STOP, NARROWEST_STOP = 0.5, 64.0


def shutter_seconds(angle_deg: float, rate: float) -> float:
    """How long each frame is exposed; 180° at 24 frames a second is 1/48 s."""
    return angle_deg / 360.0 / rate


def exposure_value(aperture: Floats, seconds: float, iso: float) -> Floats:
    """(n,) exposure value at ISO 100; each full stop of the aperture is one."""
    return np.asarray(np.log2(aperture**2 / seconds) - np.log2(iso / 100.0))


def stops_between(aperture: float, other: float) -> float:
    """How many stops less light `other` lets through."""
    return float(2 * np.log2(other / aperture))
