"""A figure's acts as joint rotations over frames."""

from dataclasses import dataclass
from typing import Any

import numpy as np
from scipy.ndimage import gaussian_filter1d

from heron.stage.body.feet import Foot, foot_over, turned
from heron.stage.body.gestures import UPPER, Pointing, upper_body
from heron.stage.body.legs import bend_leg, pelvis_height
from heron.stage.body.travel import Ground, Where, travel
from heron.stage.figure import Figure
from heron.stage.skeleton import INDEX, JOINTS, LANDMARKS, OFFSETS
from heron.stage.turning import Turns, about, by_component, dotted, pan_tilt_roll, shortest, slerp, unit
from heron.timebase import Frames

Floats = np.ndarray[Any, np.dtype[np.float64]]


@dataclass(frozen=True)
class Performance:
    """A figure over frames.

    Attributes:
        root: (n, 3) float64 metres, the floor under it, stage.
        pelvis: (n, 3) float64 metres, in the root's frame.
        turns: (n, J, 4) float64, each joint's rotation in its parent's frame, x y z w.
        places: (n, J, 3) float64 metres, each joint on the stage.
        poses: (n, J, 4) float64, each joint's rotation on the stage.
        feet: each foot's own track, for checks.
        facts: for each act, what it amounts to (speed, steps, degrees).
    """

    root: Floats
    pelvis: Floats
    turns: Floats
    places: Floats
    poses: Floats
    feet: dict[str, Foot]
    facts: list[dict[str, float]]

    def landmark(self, name: str, stature: float) -> Floats:
        """(n, 3) metres: a landmark or a joint by name, on the stage."""
        if name in INDEX:
            return self.places[:, INDEX[name]]
        joint, offset = LANDMARKS[name]
        i = INDEX[joint]
        turned = Turns(self.poses[:, i]).apply(np.array(offset) * stature)
        return np.asarray(self.places[:, i] + turned)


def perform(figure: Figure, ground: Ground, frames: Frames, fps: float, where: Where) -> Performance:
    """Bake a figure's performance.

    Args:
        ground: height under (n, 2) points.
        where: (n, 3) place of something else on the stage over the frames.

    The same figure on the same ground gives the same arrays to the bit.
    """
    t = frames.array().astype(np.float64)
    n, tall = len(t), figure.stature
    way = travel(figure, frames, fps, where)
    feet = {side: foot_over(way.feet[side], side, tall, t, ground, fps) for side in "rl"}

    facing = about("Y", way.heading)
    forward = facing.apply([0.0, 0.0, -1.0])
    floor = gaussian_filter1d(ground(way.place), 0.12 * fps, mode="nearest")
    root = by_component(3, n)
    root[:, 0], root[:, 1], root[:, 2] = way.place[:, 0], floor, way.place[:, 1]
    hips = {side: OFFSETS[INDEX[f"hip_{side}"]] * tall for side in "rl"}
    side_at = {side: (root + facing.apply(hips[side]))[:, [0, 2]] for side in "rl"}
    height = pelvis_height(feet, floor, side_at, tall, fps)
    ahead = {side: np.sum((feet[side].ankle - root) * forward, axis=-1) / tall for side in "rl"}
    swing = ahead["l"] - ahead["r"]

    local = by_component(4, len(JOINTS), n).swapaxes(0, 1)
    local[..., :3], local[..., 3] = 0.0, 1.0
    local[:, INDEX["root"]] = facing.as_quat()
    local[:, INDEX["pelvis"]] = about("Y", 9.0 * swing).as_quat()
    chest = root + np.array([0.0, 0.8 * tall, 0.0])
    angles, pointing = upper_body(figure, t, fps, way.walking, swing, chest, way.heading, where)
    for k, name in enumerate(UPPER):
        pitch, yaw, roll = (_still(angles[:, k, axis]) for axis in range(3))
        local[:, INDEX[name]] = pan_tilt_roll(yaw, pitch, roll).quat

    lift = np.zeros((n, 3))
    lift[:, 1] = height - floor
    tree = _Tree(local, root, lift, tall)
    tree.carry(_TRUNK)
    for arm in pointing:
        _aim(tree, arm)
    tree.carry(_ARMS)
    pelvis_turn = Turns(tree.poses[:, INDEX["pelvis"]])
    across = pelvis_turn.apply([1.0, 0.0, 0.0])
    for side in "rl":
        foot, names = feet[side], [f"{j}_{side}" for j in ("hip", "knee", "ankle", "ball")]
        sole = turned(foot)
        # A knee goes between where the hips and the foot point.
        toes = about("Y", foot.yaw).apply([1.0, 0.0, 0.0])
        right = 0.55 * across + 0.45 * toes
        right = unit(right)
        hip = tree.places[:, INDEX["pelvis"]] + pelvis_turn.apply(hips[side])
        thigh, shank = bend_leg(hip, foot.ankle, right, tall)
        ball = about("X", -np.minimum(foot.pitch, 0.0))
        turns = (pelvis_turn.inv() * thigh, thigh.inv() * shank, shank.inv() * sole, ball)
        for name, turn in zip(names, turns, strict=True):
            local[:, INDEX[name]] = turn.as_quat()
    tree.carry(_LEGS)
    return Performance(root, lift, local, tree.places, tree.poses, feet, way.facts)


def _still(angles: Floats) -> Floats:
    """Angles over frames, or one where they are all the same: much of a body keeps still."""
    return angles if (angles != angles[0]).any() else angles[:1]


_LEGS = [INDEX[f"{j}_{side}"] for side in "rl" for j in ("hip", "knee", "ankle", "ball")]
_ARMS = [INDEX[f"{j}_{side}"] for side in "rl" for j in ("shoulder", "elbow", "wrist", "knuckle")]
_TRUNK = [i for i in range(len(JOINTS)) if i not in {*_LEGS, *_ARMS}]


class _Tree:
    """Rotations carried down the joints: `places` (n, J, 3) metres and `poses` (n, J, 4) on the stage."""

    def __init__(self, local: Floats, root: Floats, lift: Floats, tall: float) -> None:
        self.local = local
        n, joints = local.shape[:2]
        self.places = by_component(3, joints, n).swapaxes(0, 1)
        self.poses = by_component(4, joints, n).swapaxes(0, 1)
        self._root, self._lift, self.offsets = root, lift, OFFSETS * tall

    def carry(self, joints: list[int]) -> None:
        """Carry some joints, each after the one it hangs on."""
        for i in joints:
            above = JOINTS[i].parent
            if above < 0:
                self.places[:, i], self.poses[:, i] = self._root, self.local[:, i]
                continue
            turn = Turns(self.poses[:, above])
            offset = self._lift if i == INDEX["pelvis"] else self.offsets[i]
            self.places[:, i] = self.places[:, above] + turn.apply(offset)
            self.poses[:, i] = (turn * Turns(self.local[:, i])).quat


def _aim(tree: _Tree, arm: Pointing) -> None:
    """Raise an arm straight at what it points at, as far as its weight says; the hand follows."""
    if not arm.weight.any():
        return
    shoulder = INDEX[f"shoulder_{arm.side}"]
    above = Turns(tree.poses[:, JOINTS[shoulder].parent])
    place = tree.places[:, JOINTS[shoulder].parent] + above.apply(tree.offsets[shoulder])
    way = arm.target - place
    way /= np.maximum(np.sqrt(dotted(way, way)), 1e-9)[:, None]
    chest = Turns(tree.poses[:, INDEX["chest"]])
    # By the shortest way from where it hangs, so that it never turns about itself, whichever way it points.
    aimed = above.inv() * (shortest(chest.apply([0.0, -1.0, 0.0]), way) * chest)
    w = arm.weight[:, None]
    tree.local[:, shoulder] = slerp(tree.local[:, shoulder], aimed.quat, arm.weight)
    for joint in ("elbow", "wrist", "knuckle"):
        i = INDEX[f"{joint}_{arm.side}"]
        straight = tree.local[:, i] * (1 - w)
        straight[:, 3] += w[:, 0]
        tree.local[:, i] = straight / np.linalg.norm(straight, axis=-1, keepdims=True)
