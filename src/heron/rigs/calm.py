"""A camera that does not answer while its subject stays within a zone of the frame."""

import math
from typing import Any

import numpy as np

Floats = np.ndarray[Any, np.dtype[np.float64]]


def calm(
    v: tuple[Floats, Floats, Floats], zone: tuple[Floats, Floats, Floats, Floats], half: tuple[Floats, Floats],
    pan: float, tilt: float,
) -> tuple[Floats, Floats]:  # fmt: skip
    """Pan and tilt, (n,) degrees: as they were, and only as far on as keeps the subject within the zone.

    The bounds of one depend on the other, so each frame settles them in turn. A roll is left out of it.

    Args:
        v: the unit direction of the subject, by component.
        zone: left, right, below, above: placements −1…1.
        half: tangents of half the field of view, across and up.
        pan, tilt: before the first frame.
    """
    n = len(v[0])
    out = np.empty((2, n))
    p, t = math.radians(pan), math.radians(tilt)
    for i in range(n):
        vx, vy, vz = float(v[0][i]), float(v[1][i]), float(v[2][i])
        left, right, below, above = (float(edge[i]) for edge in zone)
        wide, high = float(half[0][i]), float(half[1][i])
        level = math.hypot(vx, vz)
        towards = math.atan2(-vx, -vz)
        towards += 2 * math.pi * round((p - towards) / (2 * math.pi))
        for _ in range(3):
            # Up the frame: with the subject's elevation e as the pan leaves it, y = tan(e − t) / high.
            e = math.atan2(vy, max(level * math.cos(p - towards), 1e-9))
            t = min(max(t, e - math.atan(above * high)), e - math.atan(below * high))
            low, most = (towards + _off(edge * wide, level, vy, t) for edge in ((left), (right)))
            p = min(max(p, low), most)
        out[0, i], out[1, i] = p, t
    return np.degrees(out[0]), np.degrees(out[1])


def _off(edge: float, level: float, up: float, tilt: float) -> float:
    """How far to the left of a direction a camera pans, so that it stands at tan(edge) to the right."""
    a, b, c = level, edge * level * math.cos(tilt), edge * up * math.sin(tilt)
    return math.asin(min(max(c / max(math.hypot(a, b), 1e-12), -1.0), 1.0)) + math.atan2(b, a)
