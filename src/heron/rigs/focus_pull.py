"""The focus of a camera over frames, racks and all."""

from collections.abc import Callable
from typing import Any

import numpy as np

from heron.scene.focus import Focus, FocusOn

Floats = np.ndarray[Any, np.dtype[np.float64]]


def pull_focus(focus: Focus, frames: np.ndarray[Any, Any], per_m: Callable[[FocusOn], Floats]) -> Floats:
    """(n,) reciprocal of the focus distance, 1/m; 0 is infinity.

    A rack goes evenly in the reciprocal, which is even in how far the lens turns and in how blur
    grows and shrinks; metres would rush through the near end and crawl at the far one. While it
    is under way both ends may move.

    Args:
        per_m: the reciprocal of each thing's distance along the axis over the same frames, (n,).
    """
    t = np.asarray(frames, dtype=np.float64)
    out = np.array(per_m(focus.on), dtype=np.float64)
    for mark in focus.marks:
        u = np.clip((t - mark.frame + mark.over) / max(mark.over, 1), 0.0, 1.0)
        if mark.over == 0:
            u = (t >= mark.frame).astype(np.float64)
        elif mark.shape == "eased":
            u = u * u * (3 - 2 * u)
        out = out + u * (per_m(mark.on) - out) if np.any(u > 0) else out
    return out
