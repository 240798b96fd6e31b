"""A hand's movements brought on whole frames, and made smooth."""

from typing import Any

import numpy as np
from scipy.ndimage import gaussian_filter1d

Floats = np.ndarray[Any, np.dtype[np.float64]]
Ints = np.ndarray[Any, np.dtype[np.intp]]
#: Beyond this many widths a Gaussian weighs nothing that is seen.
_REACH = 4.0


def on_frames(at: Floats, values: Floats, frames: Ints) -> Floats:
    """(n,) values at whole frames, straight between the moments at which they were taken; outside them they stand.

    Args:
        at: (k,) stage frames, with fractions, in any order; of two at one moment the later one counts.
        values: (k,) what the hand had there.
    """
    order = np.argsort(at, kind="stable")
    last = np.append(np.diff(at[order]) > 0, True)
    return np.asarray(np.interp(frames, at[order][last], values[order][last]))


def smoothed(values: Floats, sigma: float) -> Floats:
    """(n,) values frame by frame through a Gaussian, the first and the last as they were.

    Beyond its ends the course is turned about them (odd reflection), so that it begins and ends where it did, and
    one that is straight stays as it is.

    Args:
        sigma: the Gaussian's standard deviation, frames; less than a thousandth leaves all as it is.
    """
    n = len(values)
    if sigma < 1e-3 or n < 3:
        return values
    reach = min(int(np.ceil(_REACH * sigma)), n - 1)
    before = 2 * values[0] - values[reach:0:-1]
    after = 2 * values[-1] - values[-2 : -reach - 2 : -1]
    whole = np.concatenate([before, values, after])
    made = gaussian_filter1d(whole, sigma, radius=reach, mode="nearest")
    return np.asarray(made[reach : reach + n])
