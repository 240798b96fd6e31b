"""Rotations from angles in degrees, many at once."""

from typing import Any

import numpy as np
from scipy.spatial.transform import Rotation


def about(axis: str, degrees: np.ndarray[Any, Any]) -> Rotation:
    """(n,) degrees about one axis, `X` `Y` or `Z`, right-handed."""
    return Rotation.from_euler(axis, np.asarray(degrees)[:, None], degrees=True)


def pan_tilt_roll(
    pan: np.ndarray[Any, Any], tilt: np.ndarray[Any, Any], roll: np.ndarray[Any, Any]
) -> Rotation:
    """(n,) degrees each: pan about world up, then tilt about right, then roll about the axis."""
    return Rotation.from_euler("YXZ", np.stack([pan, tilt, roll], axis=-1), degrees=True)
