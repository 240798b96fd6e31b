"""Pinhole projection into the delivery frame."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from heron.bake import Samples
from heron.stage.turning import pan_tilt_roll

Floats = np.ndarray[Any, np.dtype[np.float64]]


@dataclass(frozen=True)
class Seen:
    """Points in a camera over frames.

    Attributes:
        x, y: (n,) image placement, −1 to 1 inside the frame, Y up; NaN behind the camera.
        depth: (n,) metres along the camera's axis, negative behind it.
    """

    x: Floats
    y: Floats
    depth: Floats

    @property
    def inside(self) -> np.ndarray[Any, np.dtype[np.bool_]]:
        """(n,) whether the point is in front and within the frame."""
        with np.errstate(invalid="ignore"):
            return np.asarray((self.depth > 0) & (np.abs(self.x) <= 1) & (np.abs(self.y) <= 1))


def project(camera: Samples, points: Floats) -> Seen:
    """Where a camera sees points, frame by frame.

    Args:
        camera: n frames of camera samples.
        points: (n, 3) metres on the stage, one for each frame; or (k, n, 3), k of them, for (k, n) of each number.
    """
    v = camera.values
    local = pan_tilt_roll(v[:, 3], v[:, 4], v[:, 5]).inv().apply(points - v[:, :3])
    depth = -local[..., 2]
    ahead = np.where(depth > 1e-9, depth, np.nan)
    half = np.tan(np.radians(camera.values[:, 7:9]) / 2)
    return Seen(local[..., 0] / ahead / half[:, 0], local[..., 1] / ahead / half[:, 1], depth)
