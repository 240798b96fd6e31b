"""A camera that does not answer while its subject stays within a zone of the frame."""

import math
from typing import Any

import numpy as np

from heron.rigs.aiming import turn_to

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: A roll of less than this is none, degrees.
_LEVEL = 1e-9


def calm(
    v: tuple[Floats, Floats, Floats], zone: tuple[Floats, Floats, Floats, Floats], half: tuple[Floats, Floats],
    pan: float, tilt: float, roll: Floats,
) -> tuple[Floats, Floats]:  # fmt: skip
    """Pan and tilt, (n,) degrees: as they were, and only as far on as keeps the subject within the zone.

    The bounds of one depend on the other, so each frame settles them in turn; of a rolled camera, whose zone leans, the
    subject is brought to the nearest place of the zone.

    Args:
        v: the unit direction of the subject, by component.
        zone: left, right, below, above: placements −1…1.
        half: tangents of half the field of view, across and up.
        pan, tilt: before the first frame.
        roll: (n,) degrees.
    """
    n = len(v[0])
    out = np.empty((2, n))
    p, t = math.radians(pan), math.radians(tilt)
    for i in range(n):
        vx, vy, vz = float(v[0][i]), float(v[1][i]), float(v[2][i])
        left, right, below, above = (float(edge[i]) for edge in zone)
        wide, high = float(half[0][i]), float(half[1][i])
        if abs(roll[i]) > _LEVEL:
            p, t = _leaning(
                (vx, vy, vz), (left, right, below, above), (wide, high), p, t, math.radians(roll[i])
            )
            out[0, i], out[1, i] = p, t
            continue
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


def _leaning(
    v: tuple[float, float, float], zone: tuple[float, float, float, float], half: tuple[float, float],
    p: float, t: float, roll: float,
) -> tuple[float, float]:  # fmt: skip
    """Pan and tilt of a rolled camera, radians: as they were, or so that it sits at the zone's nearest place."""
    x, z = math.cos(p) * v[0] - math.sin(p) * v[2], math.sin(p) * v[0] + math.cos(p) * v[2]
    y, z = math.cos(t) * v[1] + math.sin(t) * z, math.cos(t) * z - math.sin(t) * v[1]
    x, y = math.cos(roll) * x + math.sin(roll) * y, math.cos(roll) * y - math.sin(roll) * x
    ahead = max(-z, 1e-6)
    at = x / ahead / half[0], y / ahead / half[1]
    to = min(max(at[0], zone[0]), zone[1]), min(max(at[1], zone[2]), zone[3])
    if to == at and z < 0:
        return p, t
    own = np.array([to[0]]), np.array([to[1]])
    arrays = np.array([v[0]]), np.array([v[1]]), np.array([v[2]])
    turned = turn_to(arrays, *own, np.degrees([roll]), (np.array([half[0]]), np.array([half[1]])))
    pan, tilt = math.radians(turned[0][0]), math.radians(turned[1][0])
    return pan + 2 * math.pi * round((p - pan) / (2 * math.pi)), tilt


def _off(edge: float, level: float, up: float, tilt: float) -> float:
    """How far to the left of a direction a camera pans, so that it stands at tan(edge) to the right."""
    a, b, c = level, edge * level * math.cos(tilt), edge * up * math.sin(tilt)
    return math.asin(min(max(c / max(math.hypot(a, b), 1e-12), -1.0), 1.0)) + math.atan2(b, a)
