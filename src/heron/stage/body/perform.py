"""A figure's acts as joint rotations over frames."""

from collections.abc import Iterable
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
from heron.stage.turning import Turns, about, pan_tilt_roll, shortest, slerp
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
    root = np.stack([way.place[:, 0], floor, way.place[:, 1]], axis=-1)
    hips = {side: OFFSETS[INDEX[f"hip_{side}"]] * tall for side in "rl"}
    side_at = {side: (root + facing.apply(hips[side]))[:, [0, 2]] for side in "rl"}
    height = pelvis_height(feet, floor, side_at, tall, fps)
    ahead = {side: np.sum((feet[side].ankle - root) * forward, axis=-1) / tall for side in "rl"}
    swing = ahead["l"] - ahead["r"]

    local = np.zeros((n, len(JOINTS), 4))
    local[..., 3] = 1.0
    local[:, INDEX["root"]] = facing.as_quat()
    local[:, INDEX["pelvis"]] = about("Y", 9.0 * swing).as_quat()
    chest = root + np.array([0.0, 0.8 * tall, 0.0])
    angles, pointing = upper_body(figure, t, fps, way.walking, swing, chest, way.heading, where)
    local[:, [INDEX[name] for name in UPPER]] = pan_tilt_roll(
        angles[..., 1], angles[..., 0], angles[..., 2]
    ).quat

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
        right /= np.linalg.norm(right, axis=-1, keepdims=True)
        hip = tree.places[:, INDEX["pelvis"]] + pelvis_turn.apply(hips[side])
        thigh, shank = bend_leg(hip, foot.ankle, right, tall)
        ball = about("X", -np.minimum(foot.pitch, 0.0))
        turns = (pelvis_turn.inv() * thigh, thigh.inv() * shank, shank.inv() * sole, ball)
        for name, turn in zip(names, turns, strict=True):
            local[:, INDEX[name]] = turn.as_quat()
    tree.carry(_LEGS)
    return Performance(root, lift, local, tree.places, tree.poses, feet, way.facts)


def _depth(i: int) -> int:
    return 0 if JOINTS[i].parent < 0 else 1 + _depth(JOINTS[i].parent)


def _levels(names: Iterable[str]) -> list[list[int]]:
    """Joints by how deep they hang, so that all of one depth are carried at once."""
    found: dict[int, list[int]] = {}
    for name in names:
        found.setdefault(_depth(INDEX[name]), []).append(INDEX[name])
    return [found[depth] for depth in sorted(found)]


_LEG_JOINTS = [f"{j}_{side}" for side in "rl" for j in ("hip", "knee", "ankle", "ball")]
_ARM_JOINTS = [f"{j}_{side}" for side in "rl" for j in ("shoulder", "elbow", "wrist", "knuckle")]
_LEGS, _ARMS = _levels(_LEG_JOINTS), _levels(_ARM_JOINTS)
_TRUNK = _levels(joint.name for joint in JOINTS if joint.name not in {*_LEG_JOINTS, *_ARM_JOINTS})


class _Tree:
    """Rotations carried down the joints: `places` (n, J, 3) metres and `poses` (n, J, 4) on the stage."""

    def __init__(self, local: Floats, root: Floats, lift: Floats, tall: float) -> None:
        self.local = local
        self.places, self.poses = np.empty((*local.shape[:2], 3)), np.empty(local.shape)
        self._root, self._lift, self.offsets = root, lift, OFFSETS * tall

    def carry(self, levels: list[list[int]]) -> None:
        """Carry some joints, those nearest the root first."""
        for joints in levels:
            if JOINTS[joints[0]].parent < 0:
                self.places[:, joints[0]], self.poses[:, joints[0]] = self._root, self.local[:, joints[0]]
                continue
            above = [JOINTS[i].parent for i in joints]
            turn = Turns(self.poses[:, above])
            offset = np.broadcast_to(self.offsets[joints], (len(self.local), len(joints), 3))
            if INDEX["pelvis"] in joints:
                offset = self._lift[:, None]
            self.places[:, joints] = self.places[:, above] + turn.apply(offset)
            self.poses[:, joints] = (turn * Turns(self.local[:, joints])).quat


def _aim(tree: _Tree, arm: Pointing) -> None:
    """Raise an arm straight at what it points at, as far as its weight says; the hand follows."""
    if not arm.weight.any():
        return
    shoulder = INDEX[f"shoulder_{arm.side}"]
    above = Turns(tree.poses[:, JOINTS[shoulder].parent])
    place = tree.places[:, JOINTS[shoulder].parent] + above.apply(tree.offsets[shoulder])
    way = arm.target - place
    way /= np.maximum(np.linalg.norm(way, axis=-1, keepdims=True), 1e-9)
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
