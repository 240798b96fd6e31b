"""Feet from steps: on the ground as it lies under them, and over what lies between two steps."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from scipy.ndimage import gaussian_filter1d, maximum_filter1d

from heron.stage.body.steps import Steps
from heron.stage.physique import Physique
from heron.stage.skeleton import FOOT, INDEX
from heron.stage.turning import Turns, about, pan_tilt_roll

Floats = np.ndarray[Any, np.dtype[np.float64]]
Ground = Callable[[Floats], Floats]
Ints = np.ndarray[Any, np.dtype[np.intp]]
#: A foot leaves the floor up on its toes, and comes down heel first with the toes up, degrees; a stride of this many
#: statures uses the whole roll (Perry 1992 and Winter 1991, from memory: heel strike at 15 to 25°, toe-off at 55 to 70°;
#: less is kept here, for the toes of a lay figure are stiff).
_HEEL_UP, _TOE_UP, _WHOLE_ROLL = -62.0, 20.0, 0.75
#: Just after it has left, the heel comes up farther and the foot is tucked up, so that the knee folds: degrees, statures.
_FOLD, _TUCK = -10.0, 0.022
#: Toes are down a tenth of a second after the heel; the last third of a stance rolls up, over so long at most.
_SLAP_S, _ROLL_SHARE, _ROLL_S = 0.1, 0.38, 0.28
#: How high a foot is lifted, shares of stature: toes clear the floor by 1 to 3 cm (Winter 1992, from memory).
_LIFT, _LIFT_A_STRIDE = 0.009, 0.006
#: A foot that runs is lifted so high, statures, and so much more for each metre a second; highest at 0.4 of its swing,
#: where the heel is up by so many degrees; it comes down flatter, and goes on with so much of the way (ours, by eye).
_RUN_LIFT, _RUN_LIFT_A_SPEED, _RUN_PEAK = 0.07, 0.016, 0.756
_RUN_FOLD, _FLATTER, _STILL_GOES = -74.0, 0.7, 0.34
#: The sole, in shares of stature from under the ankle: heel behind, toes ahead, half as wide.
HEEL, TOE, HALF_WIDE = 0.25 * FOOT, -0.75 * FOOT, 0.022
#: Ground that bends less than this under a sole is flat enough to be stood on, metres.
_EVEN_M = 0.008
#: Nobody stands on what is steeper, degrees.
_STEEPEST = 38.0
#: How far along a foot looks for an even place, metres, the nearest first.
_ALONG = np.array([0.0, 0.04, -0.04, 0.08, -0.08, 0.12, -0.12, 0.16, -0.16, 0.2, -0.2])
#: A foot in the air keeps so far from what it passes over, shares of stature.
_CLEAR = 0.012


@dataclass(frozen=True)
class Foot:
    """A foot over frames: ankle (n, 3) metres, its whole turn (n, 4), yaw and roll-up of the heel (n,) degrees,
    planted (n,) bool.
    """

    ankle: Floats
    turn: Floats
    yaw: Floats
    pitch: Floats
    planted: np.ndarray[Any, np.dtype[np.bool_]]


@dataclass(frozen=True)
class _Stances:
    """Steps set down on the ground: (k,) each, metres and degrees; the place is under the ankle."""

    lift: Floats
    land: Floats
    x: Floats
    y: Floats
    z: Floats
    yaw: Floats
    tilt: Floats
    roll: Floats
    run: Floats


def _facing(yaw: Floats) -> tuple[Floats, Floats]:
    """Cosine and sine of (k,) degrees."""
    turn = np.radians(yaw)
    return np.cos(turn), np.sin(turn)


def _under(
    x: Floats, z: Floats, facing: tuple[Floats, Floats], back: Floats | float, aside: Floats | float
) -> Floats:
    """(…, k, 2) places on the floor, so far behind and to the right of others, (…, 1) metres."""
    cos, sin = facing
    return np.stack([x + aside * cos + back * sin, z - aside * sin + back * cos], axis=-1)


def _set_down(steps: Steps, physique: Physique, ground: Ground) -> _Stances:
    """Where the steps come down: along a slope, or flat on a tread, moved on or back to an even place near by."""
    x, z, yaw = (np.array(v) for v in (steps.x, steps.z, steps.yaw))
    foot = physique.foot_share * physique.tall
    heel, toe, wide = HEEL * foot, TOE * foot, HALF_WIDE * foot
    corners = np.array(
        [(heel, -wide), (heel, wide), (toe, -wide), (toe, wide), ((heel + toe) / 2, 0.0), (0.0, 0.0)]
    )
    many = len(x)
    facing = _facing(yaw)
    tries = _under(x, z, facing, -_ALONG[:, None], 0.0)
    points = _under(tries[:, None, :, 0], tries[:, None, :, 1], facing, corners[:, :1], corners[:, 1:])
    height = ground(points.reshape(-1, 2)).reshape(len(_ALONG), len(corners), many)
    hl, hr, tl, tr, mid, own = np.moveaxis(height, 1, 0)
    bent = np.maximum.reduce([np.abs(mid - (hl + hr + tl + tr) / 4), np.abs(hl + tr - hr - tl) / 2])
    tilt = np.degrees(np.arctan2((tl + tr - hl - hr) / 2, heel - toe))
    roll = np.degrees(np.arctan2((hr + tr - hl - tl) / 2, 2 * wide))
    even = (bent < _EVEN_M) & (np.abs(tilt) < _STEEPEST) & (np.abs(roll) < _STEEPEST)
    first = np.where(even.any(axis=0), even.argmax(axis=0), 0)
    k = np.arange(many)
    found = even[first, k]
    place = tries[first, k]
    top = height[:, :5].max(axis=1)[first, k]
    return _Stances(
        np.array(steps.lift), np.array(steps.land), place[:, 0], np.where(found, own[first, k], top), place[:, 1],
        yaw, np.where(found, tilt[first, k], 0.0), np.where(found, roll[first, k], 0.0), np.array(steps.run),
    )  # fmt: skip


def foot_over(steps: Steps, side: str, physique: Physique, t: Floats, ground: Ground, fps: float) -> Foot:
    """Where a foot is at each frame: planted, rolling up on its ball, or in the air over what lies there.

    Args:
        t: (n,) frames.
        ground: height under (n, 2) points.
    """
    stature = physique.tall
    s = _set_down(steps, physique, ground)
    now = np.clip(np.searchsorted(s.lift, t, side="right") - 1, 0, None)
    was = np.maximum(now - 1, 0)
    nxt = np.minimum(now + 1, len(s.lift) - 1)
    u = np.clip((t - s.lift[now]) / (s.land[now] - s.lift[now]), 0.0, 1.0)
    run = s.run[now]
    # A foot that runs is still on its way when it comes down.
    e = u * u * (3 - 2 * u) + _STILL_GOES * run * u * u * (u - 1)

    def between(values: Floats) -> Floats:
        return np.asarray(values[was] + e * (values[now] - values[was]))

    x, z, yaw, tilt, roll = (between(v) for v in (s.x, s.z, s.yaw, s.tilt, s.roll))
    stride, ahead = _forward(s, was, now) / stature, _forward(s, now, nxt) / stature
    swing = u < 1
    arch = np.sin(np.pi * u)
    across = np.minimum(np.hypot(s.x[now] - s.x[was], s.z[now] - s.z[was]) / stature, 1.0)
    lifted = (_LIFT + _LIFT_A_STRIDE * across) * arch + _TUCK * _share(stride) * _early(u)
    if run.any():
        quick = (
            np.hypot(s.x[now] - s.x[was], s.z[now] - s.z[was])
            * fps
            / np.maximum(s.land[now] - s.land[was], 1.0)
        )
        lifted += run * ((_RUN_LIFT + _RUN_LIFT_A_SPEED * quick) * np.sin(np.pi * u**_RUN_PEAK) - lifted)
    y = between(s.y) + np.where(swing, lifted * stature, 0.0)
    y = np.maximum(y, _over(x, z, yaw, y, u, physique, ground, fps))
    pitch = np.where(
        swing, _in_air(s, was, now, u, stride, run, fps), _on_floor(s, now, nxt, t, stride, ahead, fps)
    )
    flat = pan_tilt_roll(yaw, tilt, roll)
    lean = pan_tilt_roll(yaw, tilt + pitch, roll)
    # The ball stays where it is while the heel comes up, and the heel while the toes come down.
    ball = physique.offsets[INDEX[f"ball_{side}"]]
    heel = np.array([0.0, -physique.ankle, HEEL * physique.foot_share * stature])
    about = np.where((pitch < 0)[:, None], ball, heel)
    sole = np.stack([x, y, z], axis=-1)
    ankle = sole + flat.apply(np.array([0.0, physique.ankle, 0.0]))
    ankle = ankle + flat.apply(about) - lean.apply(about)
    return Foot(ankle, lean.as_quat(), yaw, pitch, ~swing)


def _forward(s: _Stances, a: Ints, b: Ints) -> Floats:
    """(n,) metres from one stance to another the way the foot points there; nothing aside and backwards."""
    cos, sin = _facing(s.yaw[b])
    return np.maximum(-(s.x[b] - s.x[a]) * sin - (s.z[b] - s.z[a]) * cos, 0.0)


def _share(stride: Floats) -> Floats:
    """How much of a whole roll from heel to toes a stride in shares of stature takes."""
    return np.minimum(stride / _WHOLE_ROLL, 1.0)


def _pushed(stood: Floats, stride: Floats, fps: float) -> Floats:
    """Degrees that the heel comes up before a stride; hardly down, a foot has had no time to come up on its ball."""
    return _HEEL_UP * _share(stride) * np.clip(stood / (_ROLL_S * fps), 0.0, 1.0)


def _in_air(s: _Stances, was: Ints, now: Ints, u: Floats, stride: Floats, run: Floats, fps: float) -> Floats:
    """(n,) degrees of a foot in the air: from up on its toes to toes up for the heel to come down first."""
    pushed = _pushed(s.lift[now] - s.land[was], stride, fps)
    toes = _TOE_UP * _share(stride) * (1 - _FLATTER * run)
    # The knee goes on bending for a while after the toes have left.
    walk = pushed * (1 - _soft(u / 0.7)) + _share(stride) * _FOLD * _early(u) + toes * _soft((u - 0.3) / 0.7)
    tucked = pushed + (_RUN_FOLD - pushed) * _soft(u / 0.3)
    return walk + run * (tucked + (toes - tucked) * _soft((u - 0.3) / 0.6) - walk)


def _on_floor(
    s: _Stances, now: Ints, nxt: Ints, t: Floats, stride: Floats, ahead: Floats, fps: float
) -> Floats:
    """(n,) degrees of a foot that is down: the toes come down on it, it stands flat, and rolls up on its ball."""
    down = 1 - _soft((t - s.land[now]) / (_SLAP_S * fps))
    stood = s.lift[nxt] - s.land[now]
    rolls = np.maximum(np.minimum(_ROLL_SHARE * stood, _ROLL_S * fps), 1e-6)
    rise = np.where(nxt > now, np.clip(1 - (s.lift[nxt] - t) / rolls, 0.0, 1.0), 0.0)
    return (
        _TOE_UP * _share(stride) * (1 - _FLATTER * s.run[now]) * down + _pushed(stood, ahead, fps) * rise**1.5
    )


def _early(u: Floats) -> Floats:
    """(n,) 0 to 1 and back within the first half of a swing."""
    return np.asarray(np.sin(2 * np.pi * np.minimum(u, 0.5)) ** 2)


def _soft(u: Floats) -> Floats:
    u = np.clip(u, 0.0, 1.0)
    return np.asarray(u * u * (3 - 2 * u))


def _over(
    x: Floats, z: Floats, yaw: Floats, y: Floats, u: Floats, physique: Physique, ground: Ground, fps: float
) -> Floats:
    """(n,) how high a foot must be to pass over what lies under it; no more than it is when it is down."""
    if not (u < 1).any():
        return y
    facing = _facing(yaw)
    spots = _under(x, z, facing, np.array([[HEEL], [0.0], [TOE]]) * physique.foot_share * physique.tall, 0.0)
    need = np.max(ground(spots.reshape(-1, 2)).reshape(3, -1), axis=0)
    reach = max(1, round(0.08 * fps))
    # The most of the frames around, smoothed over as many: never less than what is needed.
    high = gaussian_filter1d(maximum_filter1d(need, 2 * reach + 1), reach / 2.5, truncate=2.5, mode="nearest")
    open_ = np.clip(np.minimum(u, 1 - u) / 0.18, 0.0, 1.0)
    bump = open_ * open_ * (3 - 2 * open_)
    return np.asarray(y + bump * np.maximum(high + _CLEAR * physique.tall - y, 0.0))


def turned(foot: Foot) -> Turns:
    """The foot's whole turn on the stage."""
    return Turns(foot.turn)


def on_toes(foot: Foot, side: str, up: Floats, physique: Physique) -> Foot:
    """The foot with its heel up by so many degrees, (n,); its ball stays where it is."""
    ball = physique.offsets[INDEX[f"ball_{side}"]]
    flat = Turns(foot.turn)
    lean = flat * about("X", -up)
    ankle = foot.ankle + flat.apply(ball) - lean.apply(ball)
    return replace(foot, ankle=ankle, turn=lean.quat, pitch=foot.pitch - up)
