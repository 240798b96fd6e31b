"""Eyes, head and chest that look at something, beside whatever else the body does.

The chest comes round a little, then the head within what a neck can do, and the eyes do the rest, each for itself:
they meet on what is near.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from scipy.ndimage import gaussian_filter1d

from heron.stage.acts.look import LookAt
from heron.stage.body.arms import put_arms
from heron.stage.body.perform import Performance
from heron.stage.body.tree import ARMS, Tree
from heron.stage.body.weights import eased
from heron.stage.figure import Figure
from heron.stage.reference import Spot
from heron.stage.skeleton import INDEX
from heron.stage.turning import Turns, about, angles_of, pan_tilt_roll, slerp

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: Range of motion of the neck, degrees: rotation each way, extension (up) and flexion (down), American Academy of
#: Orthopaedic Surgeons (1965), from memory.
NECK_ROUND, NECK_UP, NECK_DOWN = 60.0, 45.0, 45.0
#: Range of an eye: to either side, up and down, as measured on healthy adults (ophthalmological means, from memory).
EYE_ROUND, EYE_UP, EYE_DOWN = 44.0, 28.0, 47.0
#: How far a chest comes round to look, of the 45° that a spine allows (the same source as the neck).
CHEST_ROUND = 30.0
#: Eyes go first, then the head, then the chest: seconds after the look begins, and seconds each takes (common practice).
EYES_S, HEAD_S, CHEST_S = (0.0, 0.12), (0.05, 0.45), (0.15, 0.8)
#: A head does not follow every twitch of what it looks at: seconds over which its way is evened; the eyes make it good.
_EVEN_S = 0.08
#: Of a head's turn so much is in the neck's own joint.
_IN_NECK = 0.4
#: Off by more than this the look does not reach it, degrees.
_MISSED = 1.0
#: Nearer than this to an eye no direction to look in is defined, metres.
_NEAREST = 0.02
_CHEST, _NECK, _HEAD = INDEX["chest"], INDEX["neck"], INDEX["head"]
_EYES = [INDEX["eye_r"], INDEX["eye_l"]]
_PAIR = slice(_EYES[0], _EYES[1] + 1)
#: What goes with a chest that turns, each after the one above it.
_WITH_CHEST = [INDEX[n] for n in ("chest", "neck", "head", "clavicle_r", "clavicle_l")]


@dataclass(frozen=True)
class _Now:
    """A stretch of frames: t (n,), and how to work on them."""

    t: Floats
    fps: float
    tree: Tree
    target: Floats
    #: (n, 2) degrees a head is raised and turned by what else it does.
    nodded: Floats


def gaze(
    done: Performance, figure: Figure, t: Floats, fps: float, where: Callable[[Spot, Floats], Floats]
) -> Performance:
    """A performance whose eyes, head and chest look.

    Args:
        done: without gazes; it is left as it is.
        where: (k, 3) metres at (k,) frames.
    """
    turns, places, poses = (np.copy(v, order="K") for v in (done.turns, done.places, done.poses))
    missed: list[int | None] = []
    nodded = np.zeros((len(t), 2)) if done.nodded is None else done.nodded
    for one in figure.gazes:
        part = _span(one, t, fps)
        if part is None:
            missed.append(None)
            continue
        tree = Tree(turns[part], done.root[part], done.pelvis[part], done.physique)
        tree.places[:], tree.poses[:] = places[part], poses[part]
        off, came_round = _look(one, _Now(t[part], fps, tree, where(one.at, t[part]), nodded[part]))
        if came_round:
            if done.arms is not None:
                tree.local[:, ARMS] = done.arms[part]
            put_arms(tree, [goal.part(part) for goal in done.goals])
            tree.carry(ARMS)
        turns[part], places[part], poses[part] = tree.local, tree.places, tree.poses
        missed.append(int(t[part][int(np.argmax(off))]) if off.any() else None)
    return replace(done, turns=turns, places=places, poses=poses, missed=tuple(missed))


def _span(one: LookAt, t: Floats, fps: float) -> slice | None:
    """The frames on which a gaze counts, with those in which it lets go."""
    first = int(max(one.frames.first - t[0], 0))
    stop = int(min(one.frames.stop - t[0] + sum(CHEST_S) * fps + 1, len(t)))
    return slice(first, stop) if stop > first else None


def _share(one: LookAt, now: _Now, timing: tuple[float, float], amount: float) -> Floats:
    """(n,) how far a part of the body has come to look: it begins at the first frame and lets go after the last."""
    after, takes = timing
    rise = eased((now.t - one.frames.first - after * now.fps) / (takes * now.fps))
    fall = eased((one.frames.stop + (after + takes) * now.fps - now.t) / (takes * now.fps))
    return np.asarray(one.weight * amount * rise * fall)


def _look(one: LookAt, now: _Now) -> tuple[np.ndarray[Any, np.dtype[np.bool_]], bool]:
    """Turn chest, head and eyes; (n,) where the eyes do not reach it though they should, and if the chest turned."""
    tree = now.tree
    came_round = _turn_chest(one, now)
    head = _share(one, now, HEAD_S, one.head)
    neck = Turns(tree.local[:, _NECK]) * Turns(tree.local[:, _HEAD])
    was = angles_of(neck.quat)
    # Turned towards it, the eyes lie ahead of the head's pivot and above it: from over the pivot the way is theirs.
    chest = Turns(tree.poses[:, _CHEST])
    over = tree.places[:, _HEAD] + chest.apply([0.0, tree.physique.landmark("eyes")[1][1], 0.0])
    yaw, rise = _towards(chest, now.target - over)
    yaw = np.clip(was[0] + head * (yaw - was[0]), -NECK_ROUND, NECK_ROUND)
    rise = np.clip(was[1] + head * (rise - was[1]), -NECK_DOWN, NECK_UP)
    # What the acts do with the head is theirs to say; only what is added is evened.
    yaw, rise = (b + _evened(a - b, now.fps) for a, b in ((yaw, was[0]), (rise, was[1])))
    yaw, rise = np.clip(yaw, -NECK_ROUND, NECK_ROUND), np.clip(rise, -NECK_DOWN, NECK_UP)
    # A nod is a nod, whatever is looked at.
    yaw, rise = yaw + head * now.nodded[:, 1], rise + head * now.nodded[:, 0]
    turned = pan_tilt_roll(yaw, rise, was[2])
    still = np.broadcast_to(np.array([0.0, 0.0, 0.0, 1.0]), turned.quat.shape)
    low = Turns(slerp(still, turned.quat, np.full(len(yaw), _IN_NECK)))
    tree.local[:, _NECK], tree.local[:, _HEAD] = low.quat, (low.inv() * turned).quat
    tree.carry([_NECK, _HEAD])
    return _turn_eyes(one, now), came_round


def _turn_chest(one: LookAt, now: _Now) -> bool:
    share = _share(one, now, CHEST_S, one.chest)
    if not share.any():
        return False
    tree = now.tree
    yaw, _ = _towards(Turns(tree.poses[:, INDEX["spine"]]), now.target - _eyes(tree))
    by = _evened(np.clip(share * yaw, -CHEST_ROUND, CHEST_ROUND), now.fps)
    tree.local[:, _CHEST] = (about("Y", by) * Turns(tree.local[:, _CHEST])).quat
    tree.carry(_WITH_CHEST)
    return True


def _turn_eyes(one: LookAt, now: _Now) -> np.ndarray[Any, np.dtype[np.bool_]]:
    tree, share = now.tree, _share(one, now, EYES_S, one.eyes)
    tree.carry(_EYES)
    head = Turns(tree.poses[:, _HEAD, None])
    yaw, rise = _towards(head, now.target[:, None] - tree.places[:, _PAIR], unwrap=False)
    to = np.clip(yaw, -EYE_ROUND, EYE_ROUND), np.clip(rise, -EYE_DOWN, EYE_UP)
    missed = ((np.abs(to[0] - yaw) > _MISSED) | (np.abs(to[1] - rise) > _MISSED)).any(axis=1)
    was = angles_of(tree.local[:, _PAIR])
    pan, tilt = (b + share[:, None] * (a - b) for a, b in zip(to, was, strict=False))
    tree.local[:, _PAIR] = pan_tilt_roll(pan, tilt, np.zeros_like(pan)).quat
    tree.carry(_EYES)
    inside = (now.t >= one.frames.first + sum(HEAD_S) * now.fps) & (now.t < one.frames.stop)
    return missed & inside & (one.eyes * one.weight == 1.0)


def _eyes(tree: Tree) -> Floats:
    """(n, 3) metres: between the eyes."""
    _, offset = tree.physique.landmark("eyes")
    return np.asarray(tree.places[:, _HEAD] + Turns(tree.poses[:, _HEAD]).apply(offset))


def _towards(frame: Turns, line: Floats, *, unwrap: bool = True) -> tuple[Floats, Floats]:
    """(n,) degrees to the left of, and above, the way a part of the body faces, of a direction on the stage.

    What passes behind is looked for over the shoulder over which it went, not over either in turn.
    """
    x, y, z = np.moveaxis(frame.inv().apply(line), -1, 0)
    level = np.maximum(np.hypot(x, z), _NEAREST)
    yaw = np.degrees(np.arctan2(-x, -z))
    if unwrap:
        yaw = np.degrees(np.unwrap(np.radians(yaw)))
        yaw -= 360.0 * np.round(yaw[len(yaw) // 2] / 360.0)
    return yaw, np.degrees(np.arctan2(y, level))


def _evened(angles: Floats, fps: float) -> Floats:
    return np.asarray(gaussian_filter1d(angles, _EVEN_S * fps, mode="nearest"))
