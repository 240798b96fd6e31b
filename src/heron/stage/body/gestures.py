"""Arms, back and head: angles for each thing a figure does, blended by weight.

Angles are pitch, yaw and roll in degrees about a joint's own X, Y and Z. Positive pitch
raises a hanging arm forward, bends an elbow, and lifts the face.
"""

import hashlib
from collections.abc import Callable
from typing import Any

import numpy as np

from heron.stage.figure import Act, Figure, PointAt, Talk
from heron.stage.reference import Spot

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: Angles of some joints over frames: (n, 3) degrees each.
Angles = dict[str, Floats]
#: Seconds in which one gesture gives way to another.
BLEND_S = 0.35


def weight(act: Act, t: Floats, fps: float) -> Floats:
    """(n,) how far an act is under way: 0 outside, 1 well inside."""
    blend = min(BLEND_S * fps, act.frames.count / 2)
    u = np.clip(np.minimum(t - act.frames.first + 1, act.frames.stop - t) / max(blend, 1e-6), 0.0, 1.0)
    return u * u * (3 - 2 * u)


def upper_body(
    figure: Figure,
    t: Floats,
    fps: float,
    walking: Floats,
    swing: Floats,
    chest: Floats,
    heading: Floats,
    where: Callable[[Spot], Floats],
) -> Angles:
    """Angles of every joint above the hips.

    Args:
        walking: (n,) weight of walking.
        swing: (n,) how far the left foot is ahead of the right, in shares of stature.
        chest: (n, 3) place of the shoulders, metres.
        heading: (n,) degrees.
        where: (n, 3) place of something else on the stage, metres.
    """
    seconds = t / fps
    seed = int(hashlib.sha256(figure.id.encode()).hexdigest()[:8], 16) % 1000 / 1000 * 20
    stand = _standing(seconds + seed, swing, walking)
    talk_w, talk = np.zeros(len(t)), _talking(seconds + seed)
    point_w, point = np.zeros(len(t)), _pointing(np.zeros(len(t)), np.zeros(len(t)))
    for act in figure.acts:
        w = weight(act, t, fps)
        if isinstance(act, Talk):
            talk_w = np.maximum(talk_w, w)
        elif isinstance(act, PointAt):
            yaw, rise = _towards(where(act.at) - chest, heading)
            new = _pointing(yaw, rise)
            share = (w > point_w)[:, None]
            point = {k: np.where(share, new.get(k, 0.0), point.get(k, 0.0)) for k in {*point, *new}}
            point_w = np.maximum(point_w, w)
    if figure.idle != "stand":
        free = np.clip(1 - walking - talk_w - point_w, 0.0, 1.0)
        if figure.idle == "talk":
            talk_w = talk_w + free
        else:
            point_w = point_w + free
    out = dict(stand)
    for w, gesture in ((talk_w, talk), (point_w, point)):
        for name, angles in gesture.items():
            out[name] = out[name] + w[:, None] * (angles - out[name])
    if figure.holds == "oar":
        out |= _gripping(len(t))
    return out


def _rows(n: int, pitch: Any = 0.0, yaw: Any = 0.0, roll: Any = 0.0) -> Floats:
    return np.stack(
        [np.broadcast_to(np.asarray(v, dtype=np.float64), (n,)) for v in (pitch, yaw, roll)], axis=-1
    )


def _standing(s: Floats, swing: Floats, walking: Floats) -> Angles:
    n = len(s)
    breath = np.sin(2 * np.pi * 0.24 * s)
    sway = np.sin(2 * np.pi * 0.11 * s) * (1 - walking)
    arm = 95.0 * swing
    return {
        "spine": _rows(n, 0.6 * breath - 2.5 * walking, 0.0, 0.8 * sway),
        "chest": _rows(n, 0.8 * breath, -14.0 * swing, -0.6 * sway),
        "neck": _rows(n, 1.5 * walking, 8.0 * swing, 0.0),
        "head": _rows(n, 0.5 * breath, 5.0 * swing + 1.5 * sway, 0.0),
        "clavicle_r": _rows(n),
        "clavicle_l": _rows(n),
        "shoulder_r": _rows(n, 2.0 + arm, 0.0, 8.0),
        "shoulder_l": _rows(n, 2.0 - arm, 0.0, -8.0),
        "elbow_r": _rows(n, 12.0 + np.maximum(arm, -8.0) * 0.6 + 6.0 * walking),
        "elbow_l": _rows(n, 12.0 + np.maximum(-arm, -8.0) * 0.6 + 6.0 * walking),
        "wrist_r": _rows(n, 4.0, 0.0, 0.0),
        "wrist_l": _rows(n, 4.0, 0.0, 0.0),
        "knuckle_r": _rows(n, 10.0),
        "knuckle_l": _rows(n, 10.0),
    }


def _talking(s: Floats) -> Angles:
    n = len(s)

    def wave(hertz: float, shift: float) -> Floats:
        return np.sin(2 * np.pi * hertz * s + shift)

    lift = np.clip(0.5 + 0.6 * wave(0.37, 0.4) + 0.2 * wave(0.9, 1.0), 0.0, 1.0)
    other = np.clip(0.5 + 0.6 * wave(0.31, 2.6) + 0.2 * wave(1.1, 0.3), 0.0, 1.0)
    return {
        "chest": _rows(n, 1.0 * wave(0.3, 0.0), 3.0 * wave(0.23, 0.5)),
        "head": _rows(
            n, 2.5 * wave(0.8, 0.2) + 1.5 * wave(1.3, 0.9), 4.0 * wave(0.29, 1.1), 2.0 * wave(0.41, 0.0)
        ),
        "shoulder_r": _rows(n, 12.0 + 16.0 * lift, -6.0, 14.0 + 6.0 * wave(0.7, 0.0)),
        "elbow_r": _rows(n, 55.0 + 38.0 * lift + 6.0 * wave(1.6, 0.0), 14.0),
        "wrist_r": _rows(n, 10.0 * wave(1.2, 0.5), 20.0),
        "shoulder_l": _rows(n, 10.0 + 13.0 * other, 6.0, -12.0 + 5.0 * wave(0.6, 1.0)),
        "elbow_l": _rows(n, 40.0 + 40.0 * other + 5.0 * wave(1.4, 1.0), -14.0),
        "wrist_l": _rows(n, 10.0 * wave(1.0, 2.0), -20.0),
    }


#: Pitch of shoulder, elbow and wrist with something upright in the hand, degrees.
GRIP = (16.0, 74.0, 0.0)


def _gripping(n: int) -> Angles:
    """The right arm with something long held upright in front of it."""
    shoulder, elbow, wrist = GRIP
    return {
        "clavicle_r": _rows(n),
        "shoulder_r": _rows(n, shoulder, 0.0, 10.0),
        "elbow_r": _rows(n, elbow),
        "wrist_r": _rows(n, wrist),
        "knuckle_r": _rows(n, 70.0),
    }


def _towards(line: Floats, heading: Floats) -> tuple[Floats, Floats]:
    """Yaw from the heading and rise above level, (n,) degrees each, of a direction (n, 3)."""
    yaw = np.degrees(np.arctan2(-line[:, 0], -line[:, 2])) - heading
    yaw = (yaw + 180.0) % 360.0 - 180.0
    rise = np.degrees(np.arctan2(line[:, 1], np.hypot(line[:, 0], line[:, 2])))
    return yaw, rise


def _pointing(yaw: Floats, rise: Floats) -> Angles:
    """The nearer arm straight at it, the back and head turned part of the way."""
    n = len(yaw)
    twist = np.clip(yaw * 0.3, -30.0, 30.0)
    reach = np.clip(yaw - twist, -110.0, 110.0)
    right = yaw <= 0
    out: Angles = {
        "chest": _rows(n, 0.0, twist),
        "head": _rows(n, np.clip(rise, -30, 40) * 0.6, np.clip(yaw - twist, -65, 65) * 0.8),
    }
    for side, chosen in (("r", right), ("l", ~right)):
        out[f"shoulder_{side}"] = np.where(
            chosen[:, None], _rows(n, 90.0 + rise, reach), _rows(n, 2.0, 0.0, 8.0 if side == "r" else -8.0)
        )
        out[f"elbow_{side}"] = np.where(chosen[:, None], _rows(n, 3.0), _rows(n, 14.0))
        out[f"wrist_{side}"] = _rows(n)
        out[f"knuckle_{side}"] = np.where(chosen[:, None], _rows(n, 0.0), _rows(n, 10.0))
    return out
