"""What hands do: angles of arms, palms that go somewhere, and arms that point.

Numbers without a source are ours: found by looking at figures that do it. Angles as in `gestures`.
"""

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from heron.stage.acts.base import Act, content_count, content_frames
from heron.stage.acts.hands import Beckon, FoldArms, HandToMouth, Reach, Shrug, Wave
from heron.stage.body.arms import PalmOn, coming
from heron.stage.body.postures import at, held, soft
from heron.stage.physique import Physique

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: A hand that reaches takes so long, seconds, and so much more for each metre (Fitts-like times of reaching, from memory).
_REACH_S, _REACH_S_A_METRE = 0.35, 0.5


@dataclass
class Gesture:
    """What an act does to arms over its frames: angles in place of theirs and added ones, (n, 3) degrees each, and palms."""

    arms: dict[str, Floats] = field(default_factory=dict)
    turns: dict[str, Floats] = field(default_factory=dict)
    palms: list[PalmOn] = field(default_factory=list)


@dataclass(frozen=True)
class Now:
    """The frames of an act: seconds into its content (n,), how long that is, the stature, and frames a second."""

    s: Floats
    total: float
    physique: Physique
    fps: float
    #: (n, 3) metres: what is reached for.
    target: Floats


def _wave(act: Wave, now: Now) -> Gesture:
    side, sign = _side(act.hand)
    up = held(now.s, now.total, 0.45, 0.5, stays=act.hold)
    n, big = len(now.s), act.energy
    swing = up * np.sin(2 * np.pi * 2.0 * (now.s - 0.35))
    late = up * np.sin(2 * np.pi * 2.0 * (now.s - 0.41))
    return Gesture(
        {
            f"shoulder_{side}": at(n, 4.0 + 56.0 * up, 0.0, sign * (8.0 + 42.0 * up)),
            f"elbow_{side}": at(n, 12.0 + 95.0 * up, sign * (24.0 * big * swing - 16.0 * up)),
            f"wrist_{side}": at(n, 4.0, 0.0, sign * 14.0 * big * late),
            f"knuckle_{side}": at(n, 10.0 - 6.0 * up),
        },
        {"chest": at(n, yaw=sign * 3.0 * up), f"clavicle_{side}": at(n, roll=sign * 8.0 * up)},
    )


def _beckon(act: Beckon, now: Now) -> Gesture:
    side, sign = _side(act.hand)
    up = held(now.s, now.total, 0.4, 0.5, stays=act.hold)
    n, big = len(now.s), act.energy
    scoop = up * (0.5 - 0.5 * np.cos(2 * np.pi * 1.5 * np.maximum(now.s - 0.35, 0.0)))
    return Gesture(
        {
            f"shoulder_{side}": at(
                n, 4.0 + (42.0 - 12.0 * big * scoop / max(big, 1.0)) * up, 0.0, sign * (8.0 + 8.0 * up)
            ),
            f"elbow_{side}": at(n, 12.0 + 48.0 * up + 46.0 * big * scoop, sign * 8.0 * up),
            f"wrist_{side}": at(n, 4.0 - 14.0 * up + 40.0 * big * scoop),
            f"knuckle_{side}": at(n, 10.0 + 30.0 * big * scoop),
        }
    )


def _shrug(act: Shrug, now: Now) -> Gesture:
    dip = -0.12 * np.exp(-(((now.s - 0.06) / 0.05) ** 2))
    e = act.energy * (
        dip + soft((now.s - 0.05) / 0.28) * (1.0 if act.hold else soft((now.total - now.s) / 0.6))
    )
    n = len(now.s)
    arms, turns = {}, {"head": at(n, 2.0 * e, 0.0, 7.0 * e)}
    for side, sign, size in (("r", 1.0, 1.0), ("l", -1.0, 0.9)):
        turns[f"clavicle_{side}"] = at(n, roll=sign * 20.0 * size * e)
        arms[f"shoulder_{side}"] = at(n, 4.0 + 8.0 * e, 0.0, sign * (8.0 + 4.0 * e))
        arms[f"elbow_{side}"] = at(n, 12.0 + 68.0 * size * e, -sign * 32.0 * size * e)
        arms[f"wrist_{side}"] = at(n, 4.0 - 20.0 * e, 0.0, sign * 10.0 * e)
    return Gesture(arms, turns)


def _fold_arms(act: FoldArms, now: Now) -> Gesture:
    """Each hand on the other upper arm, the left one under the right one."""
    n, h = len(now.s), now.physique.tall
    palms = []
    for side, sign, late, (x, y, z) in (
        ("l", -1.0, 0.0, (0.082, -0.016, -0.098)),
        ("r", 1.0, 0.09, (0.092, 0.014, -0.112)),
    ):
        s = np.maximum(now.s - late, 0.0)
        come, weight = coming(s, 0.75, now.total - late, now.fps, stays=act.hold)
        place = np.tile(np.array([-sign * x, y, z]) * h + now.physique.shoulders_off, (n, 1))
        palms.append(PalmOn(side, place, come, weight, within="chest", out=1.1, back=-0.25))
    return Gesture({}, {"spine": at(n, 1.5 * palms[0].come)}, palms)


def _hand_to_mouth(act: HandToMouth, now: Now) -> Gesture:
    side, sign = _side(act.hand)
    come, weight = coming(now.s, 0.55, now.total, now.fps, stays=act.hold)
    mouth = now.physique.landmark("chin")[1] + np.array([sign * 0.004, 0.022, -0.016]) * now.physique.tall
    return Gesture(
        palms=[PalmOn(side, np.tile(mouth, (len(now.s), 1)), come, weight, within="head", out=0.5, back=0.0)]
    )


def _reach(act: Reach, now: Now) -> Gesture:
    takes = _REACH_S + _REACH_S_A_METRE * 0.6
    come, weight = coming(now.s, takes + 0.18, now.total, now.fps, stays=act.hold)
    return Gesture(palms=[PalmOn(_side(act.hand)[0], now.target, come, weight)])


_GESTURES: dict[type[Act], Callable[[Any, Now], Gesture]] = {
    Wave: _wave, Beckon: _beckon, Shrug: _shrug, FoldArms: _fold_arms, HandToMouth: _hand_to_mouth, Reach: _reach,
}  # fmt: skip


def _side(hand: str) -> tuple[str, float]:
    return (hand[0], 1.0 if hand == "right" else -1.0)


def gesture(
    act: Act, part: slice, t: Floats, physique: Physique, fps: float, target: Floats
) -> Gesture | None:
    """What an act of the hands does over some frames; none where it is no gesture of its own."""
    make = _GESTURES.get(type(act))
    if make is None:
        return None
    s = content_frames(act, t[part]) / fps
    return make(act, Now(s, content_count(act) / fps, physique, fps, target[part]))
