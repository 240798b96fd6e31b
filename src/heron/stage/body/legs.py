"""Feet from steps, and legs from feet."""

from dataclasses import dataclass
from typing import Any

import numpy as np
from scipy.ndimage import gaussian_filter1d

from heron.stage.body.travel import Ground, Step
from heron.stage.skeleton import BALL_UP, HIP, INDEX, OFFSETS
from heron.stage.turning import Turns, about

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: A knee is never quite straight, so that it never snaps.
_STRAIGHTEST = 0.995
_HEEL_UP, _TOE_UP = -32.0, 16.0


@dataclass(frozen=True)
class Foot:
    """A foot over frames: ankle (n, 3) metres, yaw and pitch (n,) degrees, planted (n,) bool."""

    ankle: Floats
    yaw: Floats
    pitch: Floats
    planted: np.ndarray[Any, np.dtype[np.bool_]]


def foot_from_steps(
    steps: list[Step], side: str, stature: float, t: Floats, ground: Ground, fps: float
) -> Foot:
    """Where a foot is at each frame: planted, rolling up on its ball, or in the air."""
    n = len(t)
    places = np.array([(s.x, s.z) for s in steps])
    height = ground(places)
    x, z = np.full(n, places[0, 0]), np.full(n, places[0, 1])
    y, yaw, pitch = np.full(n, height[0]), np.full(n, steps[0].yaw), np.zeros(n)
    planted = np.ones(n, dtype=bool)
    for i in range(1, len(steps)):
        was, now = steps[i - 1], steps[i]
        u = np.clip((t - now.lift) / max(now.land - now.lift, 1e-6), 0.0, 1.0)
        live = t > now.lift
        e = u * u * (3 - 2 * u)
        stride = float(np.hypot(now.x - was.x, now.z - was.z)) / stature
        x = np.where(live, was.x + e * (now.x - was.x), x)
        z = np.where(live, was.z + e * (now.z - was.z), z)
        rise = (0.02 + 0.06 * min(stride, 1.0)) * stature + 0.6 * abs(height[i] - height[i - 1])
        y = np.where(live, height[i - 1] + e * (height[i] - height[i - 1]) + rise * np.sin(np.pi * u), y)
        yaw = np.where(live, was.yaw + e * (now.yaw - was.yaw), yaw)
        roll = min(1.0, stride / 0.5)
        # Up on the ball just before the lift, toes up just before the landing, then flat.
        before = np.clip(1 - (now.lift - t) / (0.16 * fps), 0.0, 1.0) * (t <= now.lift)
        in_air = _HEEL_UP * (1 - u) ** 2 + _TOE_UP * 4 * u**2 * (1 - u)
        pitch = np.where(
            live & (u < 1),
            roll * in_air,
            np.where(before > 0, roll * _HEEL_UP * before**2, np.where(live, 0.0, pitch)),
        )
        planted = np.where(live, u >= 1, planted)
    ball = np.stack([x, y, z], axis=-1)
    offset = OFFSETS[INDEX[f"ball_{side}"]] * stature
    # Steps name the place under the ankle; the ball lies ahead of it on the same floor.
    turn = about("Y", yaw)
    flat = turn.apply(np.array([0.0, 0.0, offset[2]]))
    ball = ball + flat + np.array([0.0, BALL_UP * stature, 0.0])
    ankle = ball - (turn * about("X", pitch)).apply(offset)
    return Foot(ankle=ankle, yaw=yaw, pitch=pitch, planted=planted)


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
    smooth = gaussian_filter1d(limit, 0.07 * fps, mode="nearest")
    return np.asarray(np.minimum(limit, smooth))


def leg_lengths(stature: float) -> tuple[float, float]:
    """Thigh and shank, metres."""
    thigh = -OFFSETS[INDEX["knee_r"], 1] * stature
    shank = -OFFSETS[INDEX["ankle_r"], 1] * stature
    return float(thigh), float(shank)


def bend_leg(hip: Floats, ankle: Floats, forward: Floats, stature: float) -> tuple[Turns, Turns]:
    """World rotations of thigh and shank that put the ankle where it is wanted.

    Args:
        hip, ankle: (n, 3) metres, stage.
        forward: (n, 3) unit, the way the knee points.
    """
    thigh, shank = leg_lengths(stature)
    line = ankle - hip
    far = np.clip(np.linalg.norm(line, axis=-1), abs(thigh - shank) + 1e-6, (thigh + shank) * 0.9999)
    along = line / np.linalg.norm(line, axis=-1, keepdims=True)
    cos = (thigh**2 + far**2 - shank**2) / (2 * thigh * far)
    out = forward - np.sum(forward * along, axis=-1, keepdims=True) * along
    out /= np.linalg.norm(out, axis=-1, keepdims=True)
    knee = hip + thigh * (cos[:, None] * along + np.sqrt(np.maximum(1 - cos**2, 0.0))[:, None] * out)
    end = hip + far[:, None] * along
    return _hanging(hip - knee, forward), _hanging(knee - end, forward)


def _hanging(up: Floats, forward: Floats) -> Turns:
    """The rotation whose +Y is `up` and whose −Z is as near `forward` as can be."""
    y = up / np.linalg.norm(up, axis=-1, keepdims=True)
    z = -(forward - np.sum(forward * y, axis=-1, keepdims=True) * y)
    z /= np.linalg.norm(z, axis=-1, keepdims=True)
    return Turns.from_matrix(np.stack([np.cross(y, z), y, z], axis=-1))
