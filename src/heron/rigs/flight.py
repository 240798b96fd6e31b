"""A flight along perches: each leg from one to the next, straight or swung round something, turning the short way."""

from collections.abc import Callable
from typing import Any

import numpy as np

from heron.curves.feel import progress
from heron.rigs.pose import Floats, Pose
from heron.rigs.track import Track
from heron.scene.layers import Flight, Leg
from heron.stage.reference import Spot
from heron.stage.turning import angles_of


def flown(layer: Flight, count: int, track: Callable[[Spot], Track]) -> Pose:
    """The pose over (count,) frames from the flight's first one; after its last leg it stays on its last perch."""
    poses = [_on(track(leg.to)) for leg in layer.legs]
    out = [v.copy() for v in poses[0]]
    at = layer.legs[0].wait
    for i, leg in enumerate(layer.legs[1:], 1):
        if at >= count:
            break
        done = np.ones(count - at)
        going = progress(leg.frames + 1, leg.feel)[: count - at]
        done[: len(going)] = going
        a, b = ([v[at:] for v in pose] for pose in (poses[i - 1], poses[i]))
        made = _between(a, b, done, leg, lambda spot, start=at: track(spot).place[start:])  # type: ignore[misc]
        # A pan goes on from where the leg before it left it, however often that went round.
        made[3] = made[3] + 360.0 * np.round((out[3][at] - made[3][0]) / 360.0)
        for k in range(6):
            out[k][at:] = made[k]
        at += leg.frames + leg.wait
    return out


def _on(track: Track) -> Pose:
    x, y, z = track.place.T
    if track.turn is None:
        zero = np.zeros(len(x))
        return [x, y, z, track.heading, zero, zero]
    pan, tilt, roll = angles_of(track.turn)
    return [x, y, z, pan, tilt, roll]


def _between(a: Pose, b: Pose, done: Floats, leg: Leg, place: Callable[[Spot], Floats]) -> Pose:
    """(n,) between two poses, which may both move: angles the short way from where the leg begins, never past it."""
    out: list[Any] = [p + (q - p) * done for p, q in zip(a[:3], b[:3], strict=True)]
    if leg.round is not None:
        centre = place(leg.round)
        out[0], out[2] = _round(a, b, done, centre)
    for p, q in zip(a[3:], b[3:], strict=True):
        gap = q - p
        short = gap - 360.0 * np.round(gap[0] / 360.0)
        out.append(p + short * done)
    return out


def _round(a: Pose, b: Pose, done: Floats, centre: Floats) -> tuple[Floats, Floats]:
    """x and z on an arc round a place: bearing the short way and distance, each by as much as is done."""
    bearings, fars = [], []
    for pose in (a, b):
        dx, dz = pose[0] - centre[:, 0], pose[2] - centre[:, 2]
        bearings.append(np.unwrap(np.arctan2(dx, dz)))
        fars.append(np.hypot(dx, dz))
    gap = bearings[1] - bearings[0]
    gap = gap - 2 * np.pi * np.round(gap[0] / (2 * np.pi))
    bearing = bearings[0] + gap * done
    far = fars[0] + (fars[1] - fars[0]) * done
    return centre[:, 0] + far * np.sin(bearing), centre[:, 2] + far * np.cos(bearing)
