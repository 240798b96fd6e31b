"""Arms, back and head: angles for each thing a figure does, blended by weight.

Angles are pitch, yaw and roll in degrees about a joint's own X, Y and Z. Positive pitch
raises a hanging arm forward, bends an elbow, and lifts the face.
"""

import hashlib
from dataclasses import replace
from typing import Any

import numpy as np

from heron.stage.acts.base import Act
from heron.stage.acts.body import Talk
from heron.stage.acts.hands import PointAt, Reach
from heron.stage.body.arms import ArmGoal, PalmOn, Pointing
from heron.stage.body.hands import gesture
from heron.stage.body.heads import IN_HEAD
from heron.stage.body.postures import Posture
from heron.stage.body.travel import Travel, Where, pointing_side
from heron.stage.body.weights import eased, lane_weights
from heron.stage.characters import physique_of
from heron.stage.figure import Figure

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: Joints above the hips that bend, in the order of the tree.
UPPER = (
    "spine", "chest", "neck", "head", "clavicle_r", "shoulder_r", "elbow_r", "wrist_r", "knuckle_r",
    "clavicle_l", "shoulder_l", "elbow_l", "wrist_l", "knuckle_l",
)  # fmt: skip
_AT = {name: i for i, name in enumerate(UPPER)}
#: Who turns to point turns eyes and head first, the shoulder after, then the feet: seconds of each (common practice).
HEAD_S, ARM_AFTER_S, ARM_S = 0.45, 0.15, 0.6
#: The upper arm of a walker swings through 32°, 24 back and 8 forward, at a free speed; the elbow bends from
#: about 20° behind to 45° ahead: Murray, Sepic and Barnard (1967), from memory.
SHOULDER_SWING, SHOULDER_MIDDLE = 32.0, -8.0
ELBOW_SWING, ELBOW_MIDDLE = 25.0, 32.0
#: In a run the arms are bent and swing farther, and the trunk leans ahead, degrees (ours, by eye).
RUN_SHOULDER, RUN_ELBOW, RUN_LEAN = 36.0, 14.0, 4.0
#: The step length, in shares of stature, at that speed.
_FREE_STEP = 0.44


def _for(act: Act, t: Floats, fps: float, after: float, takes: float) -> Floats:
    """(n,) a weight that rises `after` seconds into an act over so many, and falls as it ends."""
    rise = (t - act.frames.first - after * fps) / max(takes * fps, 1e-6)
    return np.asarray(eased(rise) * eased((act.frames.stop - t) / max(takes * fps, 1e-6)))


def upper_body(
    figure: Figure, t: Floats, fps: float, way: Travel, swing: Floats, chest: Floats, where: Where,
    body: list[tuple[Act, Floats]], posture: tuple[Posture, dict[str, Floats]], nodded: Floats,
) -> tuple[Floats, list[ArmGoal]]:  # fmt: skip
    """(n, 14, 3) angles of `UPPER`, and the arms that go somewhere.

    Args:
        way: how much it walks and runs, and the way it faces.
        swing: (n,) how far the left foot is ahead of the right, in shares of stature.
        chest: (n, 3) place of the shoulders, metres.
        body: the acts of the body and how far each is under way.
        posture: what they do to trunk and arms, and how much of it counts in the arms.
        nodded: (n, 2) degrees a head is raised and turned by what it does.
    """
    heading, walking = way.heading, way.walking
    # By the time since the scene began: a scene that begins at another number looks the same.
    seconds = (t - t[0]) / fps
    seed = int(hashlib.sha256(figure.id.encode()).hexdigest()[:8], 16) % 1000 / 1000 * 20
    out = _standing(seconds + seed, swing, walking, way.running)
    talk, points = np.zeros(len(t)), np.zeros(len(t))
    goals: list[ArmGoal] = []
    looks: list[tuple[Floats, Floats, Floats]] = []
    side = pointing_side(figure)
    easy = out.copy()
    talks = any(isinstance(act, Talk) for act, _ in body)
    for act, share in body if talks else ():
        if isinstance(act, Talk):
            # Hands follow their own act, wherever it is moved to.
            said = np.maximum(t - act.frames.first, 0.0) * act.speed / fps
            _blend(out, _talking(said + seed, act.energy), share)
            talk += share * (1 - talk)
        elif talk.any():
            out += share[:, None, None] * (easy - out)
            talk *= 1 - share
    for act in figure.acts:
        if isinstance(act, PointAt):
            target = where(act.at)
            yaw, rise = _towards(target - chest, heading, int(np.clip(act.frames.last - t[0], 0, len(t) - 1)))
            # An arm goes up once the body has come round far enough for it.
            near = eased((135.0 - np.abs(yaw)) / 45.0)
            arm = _for(act, t, fps, ARM_AFTER_S, ARM_S) * near
            goals.append(Pointing(side, target, arm))
            points = np.maximum(points, arm)
            looks.append((_for(act, t, fps, 0.0, HEAD_S), yaw, rise))
    free = np.clip(1 - walking - talk - points, 0.0, 1.0)
    if figure.idle == "talk" and free.any():
        _blend(out, _talking(seconds + seed, 1.0), free)
    elif figure.idle == "point":
        turn = np.radians(heading)
        ahead = chest + 20.0 * np.stack([-np.sin(turn), np.zeros(len(t)), -np.cos(turn)], axis=-1)
        goals.append(Pointing(side, ahead, free))
    _posed(out, *posture)
    goals += _handled(out, figure, t, fps, where)
    for share, yaw, rise in looks:
        twist = np.clip(yaw * 0.25, -22.0, 22.0)
        head = np.clip(yaw - twist, -70.0, 70.0)
        up = np.clip(rise, -35.0, 45.0)
        _blend(
            out,
            {"chest": _rows(len(t), 0.0, twist), "neck": _rows(len(t), 0.3 * up, 0.35 * head),
             "head": _rows(len(t), 0.5 * up, 0.6 * head)},
            share,
        )  # fmt: skip
    for i, axis in ((0, 0), (1, 1)):
        out[:, _AT["head"], axis] += IN_HEAD * nodded[:, i]
        out[:, _AT["neck"], axis] += (1 - IN_HEAD) * nodded[:, i]
    return out, goals


def _posed(out: Floats, posture: Posture, counts: dict[str, Floats]) -> None:
    """Trunk and arms as a posture has them."""
    for name, angles in posture.arms.items():
        out[:, _AT[name]] += counts[name][:, None] * (angles - out[:, _AT[name]])
    for name, angles in posture.turns.items():
        if name in _AT:
            out[:, _AT[name]] += angles


def _handled(out: Floats, figure: Figure, t: Floats, fps: float, where: Where) -> list[ArmGoal]:
    """Arms as the acts of the hands have them, laid over each other in order; the palms that go somewhere."""
    goals: list[ArmGoal] = []
    for act, share in lane_weights(figure.acts, "hands", t, fps):
        span = np.flatnonzero(share > 0)
        if isinstance(act, PointAt) or not len(span):
            continue
        part = slice(int(span[0]), int(span[-1]) + 1)
        target = where(act.at) if isinstance(act, Reach) else np.zeros((len(t), 3))
        one = gesture(act, part, t, physique_of(figure), fps, target)
        if one is None:
            continue
        w = share[part, None]
        for name, angles in one.arms.items():
            row = out[part, _AT[name]]
            row += w * (angles - row)
        for name, angles in one.turns.items():
            out[part, _AT[name]] += w * angles
        for palm in one.palms:
            goals.append(_spread(palm, part, share))
    return goals


def _spread(palm: PalmOn, part: slice, share: Floats) -> PalmOn:
    """A palm that goes somewhere over part of the frames, over all of them."""
    n = len(share)
    target, come, weight = np.zeros((n, 3)), np.zeros(n), np.zeros(n)
    target[part], come[part] = palm.target, palm.come
    weight[part] = palm.weight * share[part]
    target[: part.start], target[part.stop :] = palm.target[0], palm.target[-1]
    return replace(palm, target=target, come=come, weight=weight)


def _blend(out: Floats, gesture: dict[str, Floats], share: Floats) -> None:
    for name, angles in gesture.items():
        i = _AT[name]
        out[:, i] += share[:, None] * (angles - out[:, i])


def _rows(n: int, pitch: Any = 0.0, yaw: Any = 0.0, roll: Any = 0.0) -> Floats:
    out = np.empty((n, 3))
    out[:, 0], out[:, 1], out[:, 2] = pitch, yaw, roll
    return out


def _standing(s: Floats, swing: Floats, walking: Floats, running: Floats) -> Floats:
    """Standing easy; and as far as feet are apart, the arms against them, more so and bent in a run."""
    n = len(s)
    out = np.zeros((n, len(UPPER), 3))
    breath = np.sin(2 * np.pi * 0.24 * s)
    sway = np.sin(2 * np.pi * 0.11 * s) * (1 - walking)
    stride = np.clip(swing / _FREE_STEP, -1.3, 1.3)

    def put(name: str, pitch: Any = 0.0, yaw: Any = 0.0, roll: Any = 0.0) -> None:
        row = out[:, _AT[name]]
        row[:, 0], row[:, 1], row[:, 2] = pitch, yaw, roll

    put("spine", 0.6 * breath - 2.5 * walking - RUN_LEAN * running, 0.0, 0.8 * sway)
    put("chest", 0.8 * breath, 8.0 * stride, -0.6 * sway)
    put("neck", 1.5 * walking, -2.0 * stride)
    put("head", 0.5 * breath, -2.0 * stride + 1.5 * sway)
    # The shoulders go against the hips, and the head keeps the way.
    for side, sign in (("r", 1.0), ("l", -1.0)):
        # The arm goes forward with the other leg.
        ahead = sign * stride
        put(
            f"shoulder_{side}", 2.0 * (1 - walking) + walking * (SHOULDER_MIDDLE + SHOULDER_SWING / 2 * ahead),
            0.0, sign * (8.0 - 3.0 * walking),
        )  # fmt: skip
        put(f"elbow_{side}", 12.0 * (1 - walking) + walking * (ELBOW_MIDDLE + ELBOW_SWING / 2 * ahead))
        for name, middle, swings in (
            (f"shoulder_{side}", -10.0, RUN_SHOULDER),
            (f"elbow_{side}", 88.0, RUN_ELBOW),
        ):
            row = out[:, _AT[name], 0]
            row += running * (middle + swings * ahead - row)
        put(f"wrist_{side}", 4.0)
        put(f"knuckle_{side}", 10.0 + 6.0 * walking)
    return out


def _talking(s: Floats, energy: float) -> dict[str, Floats]:
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
        "shoulder_r": _rows(n, 12.0 + 16.0 * energy * lift, -6.0, 14.0 + 6.0 * wave(0.7, 0.0)),
        "elbow_r": _rows(n, 55.0 + 38.0 * energy * lift + 6.0 * wave(1.6, 0.0), 14.0),
        "wrist_r": _rows(n, 10.0 * wave(1.2, 0.5), 20.0),
        "shoulder_l": _rows(n, 10.0 + 13.0 * energy * other, 6.0, -12.0 + 5.0 * wave(0.6, 1.0)),
        "elbow_l": _rows(n, 40.0 + 40.0 * energy * other + 5.0 * wave(1.4, 1.0), -14.0),
        "wrist_l": _rows(n, 10.0 * wave(1.0, 2.0), -20.0),
    }


def _towards(line: Floats, heading: Floats, done: int) -> tuple[Floats, Floats]:
    """Yaw from the heading and rise above level, (n,) degrees each, of a direction (n, 3).

    What lies right behind is looked for over one shoulder, not over either in turn: over the one by which
    the body has come round to it at frame `done`.
    """
    yaw = np.degrees(np.arctan2(-line[:, 0], -line[:, 2])) - heading
    yaw = (yaw + 180.0) % 360.0 - 180.0
    yaw = np.degrees(np.unwrap(np.radians(yaw)))
    yaw -= 360.0 * np.round(yaw[done] / 360.0)
    rise = np.degrees(np.arctan2(line[:, 1], np.hypot(line[:, 0], line[:, 2])))
    return yaw, rise
