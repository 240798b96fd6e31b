"""Points spread evenly over the opening of a lens, for adding up pictures through it."""

import math
from typing import Any

import numpy as np

Floats = np.ndarray[Any, np.dtype[np.float64]]
MOST_POINTS = 1024


def aperture_points(blades: int, count: int) -> Floats:
    """(count, 2) float64 points in the opening, whose corners lie on the unit circle.

    A Halton sequence kept where it falls inside, so any first part of it is spread evenly too.

    Args:
        blades: straight edges of the opening, 0 for round; the first corner points up.
    """
    from scipy.stats import qmc  # slow to load, and only the desk asks for this

    drawn = 2 * qmc.Halton(2, scramble=False).random(4 * count + 64) - 1
    # The sequence begins in a corner of the square; it is turned so that its mean is the middle.
    drawn = drawn[1:]
    if blades == 0:
        inside = np.hypot(*drawn.T) <= 1
    else:
        middles = math.pi / 2 + 2 * math.pi * (np.arange(blades) + 0.5) / blades
        normals = np.stack([np.cos(middles), np.sin(middles)])
        inside = np.max(drawn @ normals, axis=1) <= math.cos(math.pi / blades)
    return np.asarray(drawn[inside][:count])
