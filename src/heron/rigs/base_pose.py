"""The pose a camera or a mover has by its keys alone."""

from typing import Any

import numpy as np

from heron.curves import evaluate
from heron.scene.camera import POSE, Camera
from heron.stage.mover import Mover


def base_pose(thing: Camera | Mover, frames: np.ndarray[Any, Any]) -> np.ndarray[Any, np.dtype[np.float64]]:
    """(n, 6) float64: x, y, z in metres on the stage, then pan, tilt, roll in degrees, unwrapped."""
    return np.stack([evaluate(getattr(thing, name), frames) for name in POSE], axis=-1)
