"""Postures of the body: what a crouch, a laugh or a seat does to the pelvis, the trunk, the arms and the heels.

Numbers without a source are ours: found by looking at figures that do it. Angles as in `gestures`.
"""

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from heron.stage.acts.base import Act, content_count, content_frames, shaped
from heron.stage.acts.body import Crouch, Flinch, Kneel, Laugh, Lean, Sit, Stand, StandUp, StopShort
from heron.stage.body.travel import KNEEL_S, Seated

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: Joints in the middle of a body, and the share of a lean that each takes; neck and head take it back.
_LEAN = {"pelvis": 0.40, "spine": 0.30, "chest": 0.30}
_UPRIGHT = {"neck": 0.35, "head": 0.25}
#: Hips of somebody who sits are so far above the seat, shares of stature.
OVER_SEAT = 0.048
#: Somebody who stops short comes from about this speed, metres a second.
_STOPS_FROM = 1.3
#: Kneeling, the pelvis is so far behind where it stood, shares of stature.
_KNEEL_BACK = 0.12


@dataclass
class Posture:
    """What an act does to a body over frames.

    Attributes:
        pelvis: (n, 3) shares of stature, from where it is when standing, in the root's frame.
        turns: (n, 3) degrees each, added to joints.
        arms: (n, 3) degrees each, in place of what the arms do.
        heels: (n,) degrees each, how far a heel comes up; by side.
    """

    pelvis: Floats
    turns: dict[str, Floats] = field(default_factory=dict)
    arms: dict[str, Floats] = field(default_factory=dict)
    heels: dict[str, Floats] = field(default_factory=dict)


def at(n: int, pitch: Any = 0.0, yaw: Any = 0.0, roll: Any = 0.0) -> Floats:
    """(n, 3) degrees: pitch, yaw and roll over frames."""
    out = np.empty((n, 3))
    out[:, 0], out[:, 1], out[:, 2] = pitch, yaw, roll
    return out


def soft(u: Any) -> Floats:
    """0 to 1 without a kick at either end."""
    return shaped(np.asarray(u, dtype=np.float64), "soft")


def held(s: Floats, total: float, comes: float, goes: float, *, stays: bool) -> Floats:
    """(n,) 0 to 1 within so many seconds, held, and back again at the end of the content unless it stays."""
    fits = min(1.0, total / max(comes + goes, 1e-6))
    up = soft(s / max(comes * fits, 1e-6))
    return up if stays else up * soft((total - s) / max(goes * fits, 1e-6))


def leaning(degrees: Floats) -> dict[str, Floats]:
    """A trunk that leans forward, with the face kept up."""
    n = len(degrees)
    down = {name: at(n, -share * degrees) for name, share in _LEAN.items()}
    return down | {name: at(n, share * degrees) for name, share in _UPRIGHT.items()}


def _keys(u: Floats, *keys: tuple[float, float]) -> Floats:
    """(n,) values between keys (share, value), each eased into the next."""
    out = np.full(len(u), keys[0][1])
    for (a, one), (b, two) in zip(keys, keys[1:], strict=False):
        out = out + (two - one) * soft((u - a) / (b - a))
    return out


def _stand(act: Act, s: Floats, total: float, seated: Seated | None, t: Floats) -> Posture:
    """The weight goes over from one leg to the other now and then: every 8 to 20 s (common practice)."""
    over = np.zeros(len(s))
    for k, (begins, side) in enumerate(((0.4, 1.0), (10.5, -1.0), (21.0, 1.0), (35.5, -1.0))):
        over += (side - (0.0 if k == 0 else -side)) * soft((s % 44.0 - begins) / 1.6)
    over *= held(s, total, 0.6, 0.9, stays=act.hold)
    pelvis = np.zeros((len(s), 3))
    pelvis[:, 0], pelvis[:, 1] = 0.015 * over, -0.002 * np.abs(over)
    n = len(s)
    turns = {
        "pelvis": at(n, roll=3.0 * over),
        "spine": at(n, roll=-3.6 * over),
        "head": at(n, roll=1.0 * over),
    }
    return Posture(pelvis, turns)


def _crouch(act: Crouch, s: Floats, total: float, seated: Seated | None, t: Floats) -> Posture:
    down = held(s, total, 0.95, 0.9, stays=act.hold)
    # A little the other way first, and a little past it.
    e = down - 0.03 * np.exp(-(((s - 0.12) / 0.09) ** 2)) + 0.03 * np.exp(-(((s - 0.95) / 0.12) ** 2))
    e *= act.depth / 0.30
    n = len(s)
    pelvis = np.zeros((n, 3))
    pelvis[:, 1], pelvis[:, 2] = -0.30 * e, 0.05 * e
    up = np.clip((e - 0.45) / 0.55, 0.0, 1.0)
    arms: dict[str, Floats] = {}
    for side, sign in (("r", 1.0), ("l", -1.0)):
        arms[f"shoulder_{side}"] = at(n, 5.0 + 38.0 * e, 0.0, sign * (8.0 + 6.0 * e))
        arms[f"elbow_{side}"] = at(n, 12.0 + 48.0 * e)
    return Posture(pelvis, leaning(36.0 * e), arms, {"l": 34.0 * up, "r": 27.0 * up})


def _kneel(act: Kneel, s: Floats, total: float, seated: Seated | None, t: Floats) -> Posture:
    e = held(s, total, KNEEL_S, KNEEL_S, stays=act.hold)
    n = len(s)
    pelvis = np.zeros((n, 3))
    pelvis[:, 1], pelvis[:, 2] = -0.252 * e, _KNEEL_BACK * e
    arms = {}
    for side, sign in (("r", 1.0), ("l", -1.0)):
        arms[f"shoulder_{side}"] = at(n, 4.0 + 22.0 * e, 0.0, sign * 8.0)
        arms[f"elbow_{side}"] = at(n, 12.0 + 40.0 * e)
    return Posture(pelvis, leaning(14.0 * np.sin(np.pi * e) + 4.0 * e), arms, {act.side[0]: 74.0 * e})


def _lean(act: Lean, s: Floats, total: float, seated: Seated | None, t: Floats) -> Posture:
    e = held(s, total, 0.7, 0.7, stays=act.hold)
    pelvis = np.zeros((len(s), 3))
    # Hips go the other way, so that the weight stays over the feet.
    pelvis[:, 2] = 0.14 * np.sin(np.radians(act.angle)) * e
    return Posture(pelvis, leaning(act.angle * e))


def _laugh(act: Laugh, s: Floats, total: float, seated: Seated | None, t: Floats) -> Posture:
    """In bursts 0.21 s apart that die down (4.8 a second: Bachorowski and others 2001, from memory)."""
    e = act.energy * held(s, total, 0.35, 0.8, stays=act.hold)
    shake = act.energy * np.exp(-s / 1.6) * soft(s / 0.2)

    def beat(late: float) -> Floats:
        return np.sin(2 * np.pi * 4.8 * (s - late))

    n = len(s)
    back = e - 1.25 * act.energy * np.exp(-(((s - 0.16) / 0.1) ** 2)) * 0.25
    turns = {
        "spine": at(n, 3.0 * back + 1.6 * shake * beat(0.0)), "chest": at(n, 3.0 * back + 1.8 * shake * beat(0.04)),
        "neck": at(n, 4.0 * back), "head": at(n, 9.0 * back + 1.2 * shake * beat(0.08), 2.0 * e),
    }  # fmt: skip
    for side, sign in (("r", 1.0), ("l", -1.0)):
        turns[f"clavicle_{side}"] = at(n, roll=sign * 2.2 * shake * (1 + beat(0.05)))
        turns[f"elbow_{side}"] = at(n, 14.0 * e)
    return Posture(np.zeros((n, 3)), turns)


def _stop_short(act: StopShort, s: Floats, total: float, seated: Seated | None, t: Floats) -> Posture:
    """Once the feet stand the trunk goes on a little, and settles at 1.5 Hz, damped by half; arms swing ahead."""
    brakes = 2 * act.far / _STOPS_FROM
    after = np.maximum(s - 0.75 * brakes, 0.0)
    e = act.energy * np.sin(2 * np.pi * 1.3 * after) * np.exp(-4.7 * after)
    pelvis = np.zeros((len(s), 3))
    pelvis[:, 2] = -0.020 * e
    turns = leaning(16.0 * e)
    for side in "rl":
        turns[f"shoulder_{side}"] = at(len(s), 26.0 * e)
        turns[f"elbow_{side}"] = at(len(s), 20.0 * np.maximum(e, 0.0))
    return Posture(pelvis, turns)


def _flinch(act: Flinch, s: Floats, total: float, seated: Seated | None, t: Floats) -> Posture:
    e = act.energy * soft(s / 0.17) * (np.exp(-np.maximum(s - 0.2, 0.0) / 0.42) if not act.hold else 1.0)
    n = len(s)
    pelvis = np.zeros((n, 3))
    pelvis[:, 1], pelvis[:, 2] = -0.018 * e, 0.028 * e
    turns = {
        "spine": at(n, -6.0 * e, -5.0 * e), "chest": at(n, -4.0 * e, -7.0 * e), "neck": at(n, 7.0 * e),
        "head": at(n, 2.0 * e, -14.0 * e, 4.0 * e),
    }  # fmt: skip
    for side, sign, size in (("r", 1.0, 1.0), ("l", -1.0, 0.87)):
        turns[f"clavicle_{side}"] = at(n, roll=sign * 14.0 * e)
        turns[f"shoulder_{side}"] = at(n, 30.0 * size * e, 0.0, sign * 8.0 * e)
        turns[f"elbow_{side}"] = at(n, 78.0 * size * e)
    return Posture(pelvis, turns)


def _seat(act: Act, s: Floats, total: float, seated: Seated | None, t: Floats) -> Posture:
    """Down onto a seat, leaning so that the weight stays over the feet, and up from it again."""
    n = len(t)
    pelvis = np.zeros((n, 3))
    if seated is None:
        return Posture(pelvis)
    u = (t - seated.goes) / max(seated.sits - seated.goes, 1e-6)
    away = (
        (t - seated.leaves) / max(seated.rises - seated.leaves, 1e-6)
        if np.isfinite(seated.leaves)
        else -np.ones(n)
    )
    share = soft((u - 0.12) / 0.62) * (1 - soft((away - 0.36) / 0.46))
    pelvis[:, 1] = (seated.height / seated.stature + OVER_SEAT - seated.hip) * share
    lean = _keys(u, (0.0, 0.0), (0.45, 38.0), (0.62, 38.0), (0.95, 4.0))
    rise = _keys(away, (0.0, 0.0), (0.34, 42.0), (0.42, 42.0), (0.86, -6.5), (1.0, -4.0))
    rests = soft((u - 0.55) / 0.4) * (1 - soft((away - 0.1) / 0.3))
    arms = {}
    for side, sign in (("r", 1.0), ("l", -1.0)):
        arms[f"shoulder_{side}"] = at(
            n, 6.0 + 0.9 * np.maximum(lean + rise - 4.0, 0.0) * (1 - rests) + 14.0 * rests, 0.0, sign * 7.0
        )
        arms[f"elbow_{side}"] = at(n, 12.0 + 32.0 * rests)
    glance = 24.0 * (soft(u / 0.12) - soft((u - 0.2) / 0.2))
    turns = leaning(np.maximum(lean + rise, -6.0))
    turns["head"] = turns["head"] + at(n, -0.5 * glance, 0.8 * glance)
    return Posture(pelvis, turns, arms)


Maker = Callable[[Any, Floats, float, Seated | None, Floats], Posture]
_POSTURES: dict[type[Act], Maker] = {
    Stand: _stand, Crouch: _crouch, Kneel: _kneel, Lean: _lean, Laugh: _laugh, Flinch: _flinch, StopShort: _stop_short, Sit: _seat, StandUp: _seat,
}  # fmt: skip


def folded(
    weights: list[tuple[Act, Floats]], seats: dict[str, Seated], t: Floats, fps: float
) -> tuple[Posture, dict[str, Floats]]:
    """The postures of a body's acts laid over each other in order.

    Returns:
        the posture; and of each joint in its `arms` how much of it counts, (n,).
    """
    n = len(t)
    out, counts = Posture(np.zeros((n, 3))), dict[str, Floats]()
    seated: Seated | None = None
    for act, w in weights:
        seated = seats.get(act.id or "", seated if isinstance(act, StandUp) else None)
        if isinstance(act, Sit) and seated is not None:
            # It stays until it has risen, whatever is next.
            w = soft((t + 1 - act.frames.first) / (0.3 * fps)) * (t < seated.rises)
        elif isinstance(act, StandUp):
            continue
        make = _POSTURES.get(type(act))
        span = np.flatnonzero(w > 0)
        if make is None or not len(span):
            _laid(out, counts, Posture(np.zeros((n, 3))), w, slice(0, n))
            continue
        part = slice(int(span[0]), int(span[-1]) + 1)
        s = content_frames(act, t[part]) / fps
        _laid(out, counts, make(act, s, content_count(act) / fps, seated, t[part]), w[part], part)
    return out, counts


def _laid(out: Posture, counts: dict[str, Floats], one: Posture, w: Floats, part: slice) -> None:
    n, column = len(out.pelvis), w[:, None]
    out.pelvis[part] += column * (one.pelvis - out.pelvis[part])
    for name in {**out.turns, **one.turns}:
        was = out.turns.setdefault(name, np.zeros((n, 3)))[part]
        was += column * (one.turns.get(name, 0.0) - was)
    for side in {**out.heels, **one.heels}:
        up = out.heels.setdefault(side, np.zeros(n))[part]
        up += w * (one.heels.get(side, 0.0) - up)
    for name, angles in one.arms.items():
        there = out.arms.setdefault(name, np.zeros((n, 3)))[part]
        share = counts.setdefault(name, np.zeros(n))[part]
        new = np.maximum(share, w)
        there += np.where(share > 0, w, 1.0)[:, None] * (angles - there)
        share[:] = new
    for name in out.arms.keys() - one.arms.keys():
        counts[name][part] *= 1 - w
