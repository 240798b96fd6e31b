"""Moves as people say them: what pose a camera comes to when it pans, dollies, goes round, or looks at something.

Poses are (6,) x, y, z in metres on the stage, then pan, tilt, roll in degrees. A level camera moves level: a dolly goes
where it looks along the floor, a truck to its right.
"""

from typing import Any

import numpy as np

from heron.model import wrap_degrees
from heron.rigs.aiming import directions, turn_to
from heron.stage.turning import Turns

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: Nearer to what it goes towards than this a camera does not come, metres.
NEAREST_M = 0.05


def turned(pose: Floats, axis: str, degrees: float) -> Floats:
    """Panned to the left, tilted up or rolled counter-clockwise by degrees."""
    out = pose.copy()
    out[{"pan": 3, "tilt": 4, "roll": 5}[axis]] += degrees
    return out


def shifted(pose: Floats, way: str, metres: float, heading_deg: float) -> Floats:
    """Dollied in, trucked to the right or boomed up, in the directions of something that faces `heading_deg`."""
    out = pose.copy()
    if way == "boom":
        out[1] += metres
        return out
    h = np.radians(heading_deg)
    along = np.array([-np.sin(h), -np.cos(h)]) if way == "dolly" else np.array([np.cos(h), -np.sin(h)])
    out[[0, 2]] += along * metres
    return out


def nearer(pose: Floats, to: Floats, metres: float) -> Floats:
    """Straight towards a place, or with less than nothing away from it; it looks as it did.

    Raises:
        ValueError: it would come nearer than `NEAREST_M`, or go through it.
    """
    gap = to - pose[:3]
    far = float(np.linalg.norm(gap))
    if far - metres < NEAREST_M:
        raise ValueError(f"It is only {far:.2f} m away")
    out = pose.copy()
    out[:3] += gap / max(far, 1e-12) * metres
    return out


def round_it(pose: Floats, centre: Floats, degrees: Floats) -> Floats:
    """(n, 6) poses on a circle round a place, turned by (n,) degrees to the right as the camera sees it: it keeps its
    distance, its height, and the place's place in its frame.
    """
    # To the right of a camera that looks at the middle is counter-clockwise seen from above: bearings grow.
    turn = np.radians(degrees)
    gap = pose[[0, 2]] - centre[[0, 2]]
    out = np.tile(pose, (len(turn), 1))
    c, s = np.cos(turn), np.sin(turn)
    out[:, 0] = centre[0] + c * gap[0] + s * gap[1]
    out[:, 2] = centre[2] - s * gap[0] + c * gap[1]
    out[:, 3] = pose[3] + degrees
    return out


def looking_at(pose: Floats, at: Floats) -> Floats:
    """Turned the short way so that a place is in the middle of the frame; it keeps its roll."""
    v = directions(at[None, :], [pose[i : i + 1] for i in range(6)])[:3]
    zero = np.zeros(1)
    pan, tilt, missed = turn_to(v, zero, zero, pose[5:6], (np.ones(1), np.ones(1)))
    out = pose.copy()
    out[3] = pose[3] if missed[0] else pose[3] + wrap_degrees(float(pan[0]) - pose[3])
    out[4] = float(tilt[0])
    return out


def looking_as(pose: Floats, quat: Floats) -> Floats:
    """Turned the short way so that it looks where something that is turned so looks; it keeps its roll.

    Args:
        quat: (4,) of something whose own way ahead is −z, x y z w.
    """
    ahead = Turns(quat[None, :]).apply([0.0, 0.0, -1.0])[0]
    return looking_at(pose, pose[:3] + ahead)
