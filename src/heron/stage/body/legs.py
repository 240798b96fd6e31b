"""Legs that put the feet where they are wanted."""

from typing import Any

import numpy as np
from scipy.ndimage import gaussian_filter1d, grey_erosion, minimum_filter1d

from heron.stage.body.feet import Foot
from heron.stage.physique import Physique
from heron.stage.turning import Turns, crossed, dotted, unit

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: A knee is never quite straight, so that it never snaps.
_STRAIGHTEST = 0.996
#: The most that hips rise and sink, statures a second, and for how long at most.
_RISES, _SETTLES_S = 0.34, 0.5


def pelvis_height(
    feet: dict[str, Foot], floor: Floats, hips: dict[str, Floats], physique: Physique, fps: float
) -> Floats:
    """(n,) metres: as high as both legs reach, eased over time.

    Args:
        floor: (n,) height under the root.
        hips: the place of each hip joint were the pelvis on the floor, (n, 3).
    """
    reach = _STRAIGHTEST * sum(leg_lengths(physique))
    limit = floor + physique.hip - 0.002 * physique.tall
    for side, foot in feet.items():
        away = foot.ankle - hips[side]
        high = np.sqrt(np.maximum(reach**2 - away[:, 0] ** 2 - away[:, 2] ** 2, (0.3 * reach) ** 2))
        limit = np.minimum(limit, floor + away[:, 1] + high)
    # It rises and sinks no quicker than this, then is smoothed over the least of as many frames: never more than they reach.
    around = np.arange(-round(_SETTLES_S * fps), round(_SETTLES_S * fps) + 1)
    least = grey_erosion(limit, structure=-_RISES * physique.tall * np.abs(around) / fps, mode="nearest")
    wide = max(1, round(0.05 * fps))
    least = minimum_filter1d(least, 2 * wide + 1, mode="nearest")
    return np.asarray(gaussian_filter1d(least, wide / 2.5, truncate=2.5, mode="nearest"))


def reachable(feet: dict[str, Foot], hips: dict[str, Floats], physique: Physique) -> Floats:
    """(n,) metres: as high as the hips may be for a foot that is down to stay where it is."""
    reach = _STRAIGHTEST * sum(leg_lengths(physique))
    most = np.full(len(hips["r"]), np.inf)
    for side, foot in feet.items():
        away = foot.ankle - hips[side]
        high = foot.ankle[:, 1] + np.sqrt(
            np.maximum(reach**2 - away[:, 0] ** 2 - away[:, 2] ** 2, (0.3 * reach) ** 2)
        )
        most = np.where(foot.planted, np.minimum(most, high), most)
    return most


def leg_lengths(physique: Physique) -> tuple[float, float]:
    """Thigh and shank, metres."""
    return physique.drop("knee_r"), physique.drop("ankle_r")


def bend_leg(hip: Floats, ankle: Floats, right: Floats, physique: Physique) -> tuple[Turns, Turns]:
    """World rotations of thigh and shank that put the ankle where it is wanted.

    Args:
        hip, ankle: (n, 3) metres, stage.
        right: (n, 3) the axis the knee bends about, near enough level, so that it never flips
            however far the leg reaches ahead or behind.
    """
    thigh, shank = leg_lengths(physique)
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
