"""Where a camera must look, and stand, for eyes to sit at a place of the frame."""

import math
from typing import Any

import numpy as np

Floats = np.ndarray[Any, np.dtype[np.float64]]


def aimed(place: Floats, eyes: Floats, at: tuple[float, float], half: Floats) -> tuple[float, float] | None:
    """Pan and tilt, degrees, with which a level camera sees a place at (x, y) of its frame, −1 to 1; None where it cannot.

    The ray of that place of the frame is turned on to the way there: its height gives the tilt, its bearing the pan.

    Args:
        place, eyes: (3,) metres; half: (2,) tangents of half the field across and up.
    """
    v = np.array([at[0] * half[0], at[1] * half[1], -1.0])
    v /= np.linalg.norm(v)
    way = eyes - place
    way = way / max(float(np.linalg.norm(way)), 1e-9)
    reach = math.hypot(v[1], v[2])
    if abs(way[1]) > reach:
        return None
    tilt = math.asin(way[1] / reach) - math.atan2(v[1], -v[2])
    deep = v[1] * math.sin(tilt) + v[2] * math.cos(tilt)
    pan = math.atan2(way[0], way[2]) - math.atan2(v[0], deep)
    return math.degrees(math.remainder(pan, 2 * math.pi)), math.degrees(tilt)


def swung(place: Floats, eyes: Floats, degrees: float) -> Floats:
    """(3,) metres: a place gone round an upright through the eyes, to the left as seen from there."""
    a = math.radians(degrees)
    x, y, z = place - eyes
    gone = np.array([x * math.cos(a) + z * math.sin(a), y, z * math.cos(a) - x * math.sin(a)])
    return np.asarray(eyes + gone)
