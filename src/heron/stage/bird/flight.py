"""How a heron holds itself, from how it moves: it stands and looks round, crouches, opens its wings and flies.

All of it is a function of the moment alone, so that scrubbing equals playing.
"""

import hashlib
from collections.abc import Callable
from typing import Any

import numpy as np

from heron.stage.bird.joints import BIRD, BIRD_INDEX, TARSUS, TIBIA
from heron.stage.turning import pan_tilt_roll

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: Beats a second of a grey heron: Pennycuick (2001) gives about 2.5 in level flight, from memory. It beats
#: deeper as it climbs or is slow.
BEAT_HZ = 2.4
#: It has left its perch when it goes as fast as this, metres a second.
_GOES, _FLIES = 0.25, 1.6
#: Tenths of a second before it goes that it crouches, and that its wings open (common practice: an action is
#: prepared); and after it has gone that its legs trail.
_CROUCH, _OPEN, _TRAILS = 4, 2, 3
#: The moments it goes by, tenths of a second around it.
_TAPS = (-3, -2, -1, 0, 1, 2)
#: How far it crouches, metres.
_CROUCH_M = 0.12
#: Pitches, degrees: of the body standing and flying, and of each part of the neck from upright, forward positive.
_BODY = (30.0, 5.0)
_NECK_STAND, _NECK_FLY = (34.0, -26.0, 8.0), (62.0, -118.0, 74.0)
_LEG_FLY = -84.0


def _smooth(u: Floats) -> Floats:
    u = np.clip(u, 0.0, 1.0)
    return np.asarray(u * u * (3 - 2 * u))


def bird_at(name: str, where: Callable[[Floats], Floats], t: Floats, fps: float) -> tuple[Floats, Floats]:
    """Its joints at moments.

    Args:
        where: (n, 3) metres, its place at moments (n,) in frames.

    Returns:
        turns: (n, J, 4) float64, each joint's rotation in its parent's frame, x y z w.
        sink: (n,) metres its body is lower than on straight legs.
    """

    half = 0.08 * fps
    kept: dict[int, Floats] = {}

    def step(at: Floats) -> Floats:
        """(n, 3) metres a second."""
        return np.asarray((where(at + half) - where(at - half)) / (2 * half) * fps)

    def goes(tenths: int) -> Floats:
        """How much it is on its way, so many tenths of a second from now."""
        if tenths not in kept:
            fast = np.linalg.norm(step(t + 0.1 * tenths * fps), axis=-1)
            kept[tenths] = _smooth((fast - _GOES) / (_FLIES - _GOES))
        return kept[tenths]

    def flying(tenths: int) -> Floats:
        # Over a few moments, so that nothing snaps where it stops as suddenly as a key can.
        return np.asarray(sum(goes(tenths + tap) for tap in _TAPS) / len(_TAPS))

    now = flying(0)
    crouch = np.maximum(flying(_CROUCH), flying(_CROUCH // 2)) * (1 - now)
    open_ = np.maximum.reduce([now, flying(_OPEN), 0.8 * flying(_OPEN // 2)])
    # It lands with open wings, and folds them a little after.
    open_ = np.maximum(open_, flying(-_OPEN))
    velocity = step(t)
    climb = _smooth(velocity[:, 1] / 2.5) * now
    slow = _smooth((4.0 - np.linalg.norm(velocity, axis=-1)) / 3.0)
    effort = np.maximum(climb, 0.7 * slow)
    seed = int(hashlib.sha256(name.encode()).hexdigest()[:8], 16) % 1000 / 1000 * 20
    seconds = t / fps
    angles = np.zeros((len(t), len(BIRD), 3))

    def put(joint: str, pitch: Any = 0.0, yaw: Any = 0.0, roll: Any = 0.0) -> None:
        row = angles[:, BIRD_INDEX[joint]]
        row[:, 0], row[:, 1], row[:, 2] = pitch, yaw, roll

    def mix(stand: Any, fly: Any) -> Floats:
        return np.asarray(stand + now * (fly - stand))

    # Legs stay under it until it has left, and come down before it lands.
    trail = flying(-_TRAILS) * now

    def trailed(stand: Any, fly: Any) -> Floats:
        return np.asarray(stand + trail * (fly - stand))

    body = mix(_BODY[0], _BODY[1] + 14.0 * climb) - 16.0 * crouch
    phase = 2 * np.pi * BEAT_HZ * seconds
    beat = np.sin(phase)
    put("body", body + 2.0 * now * np.cos(phase))
    # It looks about in quick turns with long pauses: a step of noise, eased.
    look = _glance(seconds + seed) * (1 - now) * (1 - crouch)
    above = body
    for joint, stand, fly in zip(("neck1", "neck2", "neck3"), _NECK_STAND, _NECK_FLY, strict=True):
        lean = -mix(stand + (12.0 if joint == "neck1" else -6.0) * crouch, fly)
        put(joint, lean - above, 0.25 * look)
        above = lean
    put("head", -above - 4.0 * (1 - now), 0.5 * look)

    deep = 24.0 + 22.0 * effort
    inner = open_ * (8.0 + deep * beat * np.maximum(now, 0.5 * open_))
    outer = open_ * (-4.0 + 1.15 * deep * np.sin(phase - 0.9) * now)
    shut = 1 - open_
    for side, sign in (("r", 1.0), ("l", -1.0)):
        # Folded, a wing lies back along the body with its feathers hanging beside it.
        put(f"wing_{side}", 82.0 * shut, -sign * 84.0 * shut, sign * (inner - 4.0 * shut))
        put(
            f"tip_{side}",
            0.0,
            -sign * (6.0 * shut + 14.0 * open_ * np.maximum(0.0, np.cos(phase)) * now),
            sign * outer,
        )
    sink = _CROUCH_M * crouch
    # Its heel points backwards: the shank goes back, the foot's long bone forward again.
    height = np.clip((TIBIA + TARSUS - sink) / (TIBIA + TARSUS), 0.2, 1.0)
    fold = np.degrees(np.arccos(height))
    for side in "rl":
        put(f"leg_{side}", trailed(-body - fold - 5.0, _LEG_FLY))
        put(f"shin_{side}", trailed(2 * fold + 9.0, 4.0))
        put(f"toes_{side}", trailed(-fold - 4.0, -58.0))
    turns = pan_tilt_roll(angles[..., 1], angles[..., 0], angles[..., 2]).quat
    return np.asarray(turns), sink


def _glance(s: Floats) -> Floats:
    """(n,) degrees: one way for some seconds, then another, each turn taking a third of one."""
    hold, turn = 1.7, 0.34
    k = np.floor(s / hold)

    def side(n: Floats) -> Floats:
        # A fixed shuffle of whole numbers, the same wherever playback starts.
        return np.asarray(((np.sin(n * 12.9898) * 43758.5453) % 1.0 - 0.5) * 150.0)

    return np.asarray(side(k - 1) + (side(k) - side(k - 1)) * _smooth((s - k * hold) / turn))
