"""A pony 1.25 m high at the withers: it walks, and trots when it goes faster; its hoofs stand while they are down.

Order of footfalls and shares of the stride: Hildebrand (1965), from memory: a walk sets down left hind, left fore, right
hind, right fore, a quarter of a stride apart, each foot down for some 0.6 of it; a trot sets down diagonal pairs.
"""

import numpy as np

from heron.stage.jointed.base import Floats, Going, Jointed
from heron.stage.skeleton import Joint
from heron.stage.turning import about

#: The body's joint over the ground, where legs begin, and each half of a leg, metres.
_BODY_UP, _LEG_DOWN, HALF = 0.90, 0.10, 0.415
_FORE, _HIND, _ASIDE = -0.40, 0.42, 0.13
#: A hoof's own height under the leg's end, metres.
HOOF = 0.03
#: Metres a stride, and the share of it that a foot is down, at a walk and at a trot; the speeds between which one goes
#: over into the other, metres a second.
_STRIDE, _DOWN = (1.05, 1.5), (0.62, 0.42)
_WALKS, _TROTS = 1.5, 2.1
#: When each foot comes down, shares of a stride, at a walk and at a trot.
FALLS = {"hl": (0.0, 0.0), "fl": (0.25, 0.5), "hr": (0.5, 0.5), "fr": (0.75, 1.0)}
#: How high a hoof is lifted, metres.
_LIFT = 0.11
#: The moments by which a stride is counted up, frames.
_STEP = 1.0


def _joints() -> tuple[Joint, ...]:
    joints = [
        Joint("root", -1, (0.0, 0.0, 0.0)),
        Joint("body", 0, (0.0, _BODY_UP, 0.0)),
        Joint("neck", 1, (0.0, 0.13, -0.47)),
        Joint("head", 2, (0.0, 0.41, -0.20)),
        Joint("tail", 1, (0.0, 0.14, 0.58)),
    ]
    for leg in FALLS:
        along = _FORE if leg[0] == "f" else _HIND
        at = len(joints)
        joints += [
            Joint(f"leg_{leg}", 1, ((1 if leg[1] == "r" else -1) * _ASIDE, -_LEG_DOWN, along)),
            Joint(f"shin_{leg}", at, (0.0, -HALF, 0.0)),
        ]
    return tuple(joints)


_JOINTS = _joints()
_INDEX = {joint.name: i for i, joint in enumerate(_JOINTS)}


def trotting(speed: Floats) -> Floats:
    """(n,) how much of its gait is a trot, 0 to 1, at speeds in metres a second."""
    u = np.clip((np.abs(speed) - _WALKS) / (_TROTS - _WALKS), 0.0, 1.0)
    return np.asarray(u * u * (3 - 2 * u))


def _strides(going: Going, t: Floats) -> Floats:
    """(n,) strides since the scene began: each as long as its gait has it."""
    if not len(t):
        return np.zeros(0)
    first = 0.0
    grid = np.arange(np.floor(first), np.ceil(max(float(t.max()), first)) + 2 * _STEP, _STEP)
    long = _STRIDE[0] + (_STRIDE[1] - _STRIDE[0]) * trotting(going.speed(grid))
    went = np.diff(going.gone(grid))
    counted = np.r_[0.0, np.cumsum(went / (0.5 * (long[1:] + long[:-1])))]
    return np.asarray(np.interp(t, grid, counted))


def _turns(going: Going, t: Floats) -> tuple[Floats, Floats]:
    speed = going.speed(t)
    trot, goes = trotting(speed), np.clip(np.abs(speed) / 0.25, 0.0, 1.0)
    goes = goes * goes * (3 - 2 * goes)
    strides = _strides(going, t)
    down = _DOWN[0] + (_DOWN[1] - _DOWN[0]) * trot
    long = _STRIDE[0] + (_STRIDE[1] - _STRIDE[0]) * trot
    bob = 0.012 * goes * np.cos(4 * np.pi * strides) * (0.6 + trot)
    sink = 0.022 * goes + 0.02 * goes * trot + bob
    turns = np.tile([0.0, 0.0, 0.0, 1.0], (len(t), len(_JOINTS), 1))
    nod = 3.5 * goes * (1 - trot) * np.sin(4 * np.pi * strides + 0.6)
    rests = 6.0 * (1 - goes) * np.sin(2 * np.pi * 0.05 * t / going.fps)
    turns[:, _INDEX["neck"]] = about("X", nod - 0.6 * rests).quat
    turns[:, _INDEX["head"]] = about("X", -0.6 * nod + rests).quat
    turns[:, _INDEX["tail"]] = about("Z", 7.0 * np.sin(2 * np.pi * (0.6 * t / going.fps))).quat
    for leg, (walk, trots) in FALLS.items():
        u = np.mod(strides - walk - (trots - walk) * trot, 1.0)
        along, lift = _hoof(u, down, long)
        upper, lower = _bent(goes * along, goes * lift, sink, hind=leg[0] == "h")
        turns[:, _INDEX[f"leg_{leg}"]] = about("X", upper).quat
        turns[:, _INDEX[f"shin_{leg}"]] = about("X", lower).quat
    return turns, sink


def _hoof(u: Floats, down: Floats, long: Floats) -> tuple[Floats, Floats]:
    """How far ahead of its hip a hoof is, and how high, metres: down it goes back as the body goes on; then it swings."""
    half = long * down / 2
    stands = half - long * u
    s = np.clip((u - down) / (1 - down), 0.0, 1.0)
    swing = -half + 2 * half * (s * s * (3 - 2 * s))
    lift = _LIFT * np.sin(np.pi * s) ** 2
    return np.where(u < down, stands, swing), np.where(u < down, 0.0, lift)


def _bent(along: Floats, lift: Floats, sink: Floats, *, hind: bool) -> tuple[Floats, Floats]:
    """Degrees of a leg's two joints for its hoof to be so far ahead and so high; a knee bends ahead, a hock behind."""
    deep = _BODY_UP - _LEG_DOWN - HOOF - sink - lift
    far = np.minimum(np.hypot(along, deep), 2 * HALF * 0.999)
    fold = np.degrees(2 * np.arccos(far / (2 * HALF)))
    way = np.degrees(np.arctan2(along, deep))
    sign = -1.0 if hind else 1.0
    return way + sign * fold / 2, -sign * fold


PONY = Jointed(_JOINTS, _turns, looks_at=("head", (0.0, 0.05, -0.05)))
