"""Turning a camera so that something sits where it should in the frame.

The direction d of the placement in the camera's own space, rolled, is brought on to the direction v of the subject:
tilt from d_y·cos t − d_z·sin t = v_y, pan from what is left in the level plane.
"""

from typing import Any

import numpy as np

from heron.rigs.pose import Pose, to_camera, unwrapped

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: Nearer to straight above or below than this, a direction has no bearing of its own: shares of its length.
_LEVEL = 1e-7


def directions(place: Floats, pose: Pose) -> tuple[Floats, Floats, Floats, Floats]:
    """Unit vectors from a camera to places, (n, 3), by component, and how far they are; zero stays zero."""
    d = [place[:, i] - pose[i] for i in range(3)]
    far = np.sqrt(d[0] ** 2 + d[1] ** 2 + d[2] ** 2)
    safe = np.maximum(far, 1e-12)
    return d[0] / safe, d[1] / safe, d[2] / safe, far


def turn_to(
    v: tuple[Floats, Floats, Floats], x: Floats, y: Floats, roll: Floats, half: tuple[Floats, Floats]
) -> tuple[Floats, Floats, np.ndarray[Any, np.dtype[np.bool_]]]:
    """Pan and tilt, (n,) degrees, that put a direction on a placement.

    Args:
        v: the unit direction on the stage, by component.
        x, y: the placement, −1…1 across the frame.
        roll: degrees, kept as it is.
        half: tangents of half the field of view, across and up.

    Returns:
        pan (unwrapped), tilt on the principal branch, and where there was no exact answer, (n,) bool: there the
        nearest tilt is taken, and where the direction has no bearing the pan of the frames around it.
    """
    dx, dy = x * half[0], y * half[1]
    long = np.sqrt(dx * dx + dy * dy + 1.0)
    dx, dy, dz = dx / long, dy / long, -1.0 / long
    c, s = np.cos(np.radians(roll)), np.sin(np.radians(roll))
    dx, dy = c * dx - s * dy, s * dx + c * dy
    reach = np.hypot(dy, dz)
    sine = v[1] / reach
    tilt = np.arcsin(np.clip(sine, -1.0, 1.0)) - np.arctan2(dy, -dz)
    behind = dy * np.sin(tilt) + dz * np.cos(tilt)
    pan = np.arctan2(v[0], v[2]) - np.arctan2(dx, behind)
    level = np.hypot(v[0], v[2])
    none = level < _LEVEL
    missed = (np.abs(sine) > 1.0) | none
    found = np.degrees(unwrapped(pan, 2 * np.pi))
    if none.any() and not none.all():
        i = np.arange(len(pan))
        found = np.interp(i, i[~none], np.degrees(np.unwrap(pan[~none])))
    return found, np.degrees(tilt), missed


def seen(
    v: tuple[Floats, Floats, Floats], pose: Pose, half: tuple[Floats, Floats]
) -> tuple[Floats, Floats, Floats]:
    """Where a direction stands in the frame, −1…1, and how far ahead it points (cosine); behind it is nowhere."""
    zero = np.zeros(len(v[0]))
    x, y, z = to_camera(*v, [zero, zero, zero, *pose[3:]])
    ahead = np.maximum(-z, 1e-9)
    return x / ahead / half[0], y / ahead / half[1], -z


def middle(many: list[tuple[Floats, Floats, Floats]]) -> tuple[Floats, Floats, Floats]:
    """The mean of unit directions, one unit long: a near thing does not draw it to itself."""
    total = [sum(v[i] for v in many) for i in range(3)]
    long = np.maximum(np.sqrt(total[0] ** 2 + total[1] ** 2 + total[2] ** 2), 1e-12)
    return total[0] / long, total[1] / long, total[2] / long


def middle_of_box(
    many: list[tuple[Floats, Floats, Floats]],
    x: Floats,
    y: Floats,
    roll: Floats,
    half: tuple[Floats, Floats],
    rounds: int = 4,
) -> tuple[Floats, Floats, Floats]:
    """The direction that is the middle of the box which holds several in the frame.

    The box depends on how the camera is turned, so it is found and turned to in turn; its middle halves the angle.
    """
    v = middle(many)
    zero = np.zeros(len(v[0]))
    for _ in range(rounds):
        pan, tilt, _ = turn_to(v, x, y, roll, half)
        pose = [zero, zero, zero, pan, tilt, roll]
        spots = [seen(one, pose, half) for one in many]
        at = []
        for axis in (0, 1):
            angles = [np.arctan(spot[axis] * half[axis]) for spot in spots]
            at.append(np.tan((np.minimum.reduce(angles) + np.maximum.reduce(angles)) / 2))
        v = _out(at[0], at[1], pan, tilt, roll)
    return v


def _out(x: Floats, y: Floats, pan: Floats, tilt: Floats, roll: Floats) -> tuple[Floats, Floats, Floats]:
    """A direction of the camera's own, through (x, y, −1), on the stage."""
    long = np.sqrt(x * x + y * y + 1.0)
    x, y, z = x / long, y / long, -1.0 / long
    c, s = np.cos(np.radians(roll)), np.sin(np.radians(roll))
    x, y = c * x - s * y, s * x + c * y
    c, s = np.cos(np.radians(tilt)), np.sin(np.radians(tilt))
    y, z = c * y - s * z, s * y + c * z
    c, s = np.cos(np.radians(pan)), np.sin(np.radians(pan))
    return c * x + s * z, y, -s * x + c * z
