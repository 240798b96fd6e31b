"""When the shutter is open for a frame."""

from collections.abc import Sequence
from typing import Any

import numpy as np

from heron.timebase import Frames

Floats = np.ndarray[Any, np.dtype[np.float64]]


def open_over(
    t: np.ndarray[Any, Any], angle_deg: float, jumps: Sequence[int], scene: Frames
) -> tuple[Floats, Floats]:
    """Before and after each frame, how long the shutter is open for it: centred on the frame.

    Angle / 360 of a frame long, as on any rotary shutter. It never reaches across a jump within a camera, which is
    suddenly elsewhere on the frame that is named: on both sides a frame is blurred by what lies on its own side. Nor
    does it reach out of the scene.

    Args:
        t: (n,) stage frames.
        jumps: frames on which the camera is suddenly elsewhere, in order.

    Returns:
        (n,) frames before, 0 or more, and (n,) after: it opens at `t` − before and closes at `t` + after.
    """
    at = np.asarray(t, dtype=np.float64)
    half = angle_deg / 720.0
    edges = np.array([-np.inf, *jumps, np.inf])
    last = np.searchsorted(edges, at, side="right") - 1
    before = np.minimum(half, at - np.maximum(edges[last], float(scene.first)))
    after = np.minimum(half, np.minimum(edges[last + 1], float(scene.last)) - at)
    return np.maximum(before, 0.0), np.maximum(after, 0.0)
