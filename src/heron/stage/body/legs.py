"""Legs that put the feet where they are wanted."""

from typing import Any

import numpy as np
from scipy.ndimage import gaussian_filter1d, minimum_filter1d

from heron.stage.body.feet import Foot
from heron.stage.skeleton import HIP, INDEX, OFFSETS
from heron.stage.turning import Turns, crossed, dotted, unit

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: A knee is never quite straight, so that it never snaps.
_STRAIGHTEST = 0.985


def pelvis_height(
    feet: dict[str, Foot], floor: Floats, side_at: dict[str, Floats], stature: float, fps: float
) -> Floats:
    """(n,) metres: as high as both legs reach, eased over time.

    Args:
        floor: (n,) height under the root.
        side_at: the horizontal place of each hip, (n, 2).
    """
    reach = _STRAIGHTEST * sum(leg_lengths(stature))
    limit = floor + HIP * stature - 0.006 * stature
    for side, foot in feet.items():
        away = np.hypot(*(foot.ankle[:, [0, 2]] - side_at[side]).T)
        limit = np.minimum(
            limit, foot.ankle[:, 1] + np.sqrt(np.maximum(reach**2 - away**2, (0.3 * reach) ** 2))
        )
    # The least of the frames around, smoothed over as many: never more than the legs reach.
    wide = max(1, round(0.12 * fps))
    least = minimum_filter1d(limit, 2 * wide + 1, mode="nearest")
    return np.asarray(gaussian_filter1d(least, wide / 2.5, truncate=2.5, mode="nearest"))


def leg_lengths(stature: float) -> tuple[float, float]:
    """Thigh and shank, metres."""
    thigh = -OFFSETS[INDEX["knee_r"], 1] * stature
    shank = -OFFSETS[INDEX["ankle_r"], 1] * stature
    return float(thigh), float(shank)


def bend_leg(hip: Floats, ankle: Floats, right: Floats, stature: float) -> tuple[Turns, Turns]:
    """World rotations of thigh and shank that put the ankle where it is wanted.

    Args:
        hip, ankle: (n, 3) metres, stage.
        right: (n, 3) the axis the knee bends about, near enough level, so that it never flips
            however far the leg reaches ahead or behind.
    """
    thigh, shank = leg_lengths(stature)
    line = ankle - hip
    length = np.sqrt(dotted(line, line))
    far = np.clip(length, abs(thigh - shank) + 1e-6, (thigh + shank) * 0.9999)
    along = line / length[:, None]
    cos = (thigh**2 + far**2 - shank**2) / (2 * thigh * far)
    out = unit(crossed(right, along))
    knee = hip + thigh * (cos[:, None] * along + np.sqrt(np.maximum(1 - cos**2, 0.0))[:, None] * out)
    end = hip + far[:, None] * along
    return _hanging(hip - knee, right), _hanging(knee - end, right)


def _hanging(up: Floats, right: Floats) -> Turns:
    """The rotation whose +Y is `up` and whose +X is as near `right` as can be."""
    y = unit(up)
    x = unit(right - dotted(right, y)[:, None] * y)
    return Turns.from_axes(x, y, crossed(x, y))
