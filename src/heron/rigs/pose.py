"""A pose over frames as separate arrays, and what is done to poses."""

from typing import Any

import numpy as np

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: x, y, z in metres, then pan, tilt, roll in degrees: (n,) each.
Pose = list[Floats]


def smooth(u: Floats) -> Floats:
    """0 to 1 with no jump in speed or acceleration at either end (quintic)."""
    u = np.clip(u, 0.0, 1.0)
    return u * u * u * (u * (u * 6 - 15) + 10)


def unwrapped(angles: Floats, period: float) -> Floats:
    """Angles without jumps of half a period or more; most have none, which is quickly seen."""
    if len(angles) < 2 or np.abs(np.diff(angles)).max() < period / 2:
        return angles
    return np.unwrap(angles, period=period)


def difference(to: Floats, was: Floats) -> Floats:
    """(n,) degrees from one run of angles to another, without jumps, the shorter way at the first frame."""
    found = unwrapped(to - was, 360.0)
    return found - 360.0 * np.round(found[0] / 360.0) if len(found) else found


def ahead(heading: Floats) -> tuple[Floats, Floats]:
    """x and z of a level step of one metre at a heading, degrees: 0 towards −Z, positive to the left."""
    turn = np.radians(heading)
    return -np.sin(turn), -np.cos(turn)


def to_camera(px: Floats, py: Floats, pz: Floats, pose: Pose) -> tuple[Floats, Floats, Floats]:
    """A place on the stage in a camera's own axes: right, up, and behind it (what it sees has z < 0)."""
    x, y, z, pan, tilt, roll = pose
    dx, dy, dz = px - x, py - y, pz - z
    c, s = np.cos(np.radians(pan)), np.sin(np.radians(pan))
    dx, dz = c * dx - s * dz, s * dx + c * dz
    c, s = np.cos(np.radians(tilt)), np.sin(np.radians(tilt))
    dy, dz = c * dy + s * dz, -s * dy + c * dz
    c, s = np.cos(np.radians(roll)), np.sin(np.radians(roll))
    return c * dx + s * dy, -s * dx + c * dy, dz
