"""The way of somebody who walks beside or behind something that goes somewhere."""

from typing import Any

import numpy as np
from scipy.ndimage import gaussian_filter1d

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: Slower than this it stands, metres a second.
_STANDS = 0.15


def way_along(target: Floats, place: str, aside: float, far: float, fps: float) -> Floats:
    """(n, 2) metres: so far `beside` or `behind` something, (n, 2); `aside` is 1 to its right and −1 to its left."""
    speed = gaussian_filter1d(np.gradient(target, axis=0) * fps, 0.25 * fps, axis=0, mode="nearest")
    heading = way_of(speed)
    if place == "beside":
        turn = np.radians(gaussian_filter1d(heading, 0.4 * fps, mode="nearest"))
        return np.asarray(target + aside * far * np.stack([np.cos(turn), -np.sin(turn)], axis=-1))
    gone = np.r_[0.0, np.cumsum(np.hypot(*np.diff(target, axis=0).T))]
    turn = np.radians(heading[0])
    before = target[0] + far * np.array([np.sin(turn), np.cos(turn)])
    # Where it stands for a while its way does not go on: the first frame there counts.
    moved = np.r_[True, np.diff(gone) > 1e-9]
    at, path = np.r_[-far, gone[moved]], np.vstack([before, target[moved]])
    return np.stack([np.interp(gone - far, at, path[:, i]) for i in (0, 1)], axis=-1)


def way_of(speed: Floats, otherwise: float = 0.0) -> Floats:
    """(n,) degrees, unwrapped: the way something goes by its speed, (n, 2); while it stands, the way it went or will go."""
    goes = np.hypot(*speed.T) > _STANDS
    if not goes.any():
        return np.full(len(speed), otherwise)
    known = np.flatnonzero(goes)
    bare = np.degrees(np.unwrap(np.arctan2(-speed[known, 0], -speed[known, 1])))
    return np.asarray(np.interp(np.arange(len(speed)), known, bare))
