"""A thin lens traced ray by ray; it knows no formula for blur or depth of field."""

import numpy as np
from scipy.optimize import brentq

RNG = np.random.default_rng(11)


def traced_blur(focal, aperture, focus_m, at_m, rays=4000):
    """Millimetres across of the spot on the film, by sending rays through a thin lens.

    A ray leaves a point on the axis, meets the lens at height y, and is bent by −y/f; the film
    stands where rays from the focus distance meet again, found by tracing and not by 1/f = 1/s + 1/v.
    """
    f, edge = focal / 1000, focal / 1000 / aperture / 2

    def spot(distance, film):
        y = np.sqrt(RNG.uniform(size=rays)) * edge
        y[0] = edge
        slope = y / distance - y / f
        return y + slope * film

    film = brentq(lambda v: float(spot(focus_m, v)[0]), f * 0.9, f * 3)
    return 2000 * float(np.abs(spot(at_m, film)).max())
