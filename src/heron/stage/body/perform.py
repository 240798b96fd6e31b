"""A figure's acts as joint rotations over frames."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from scipy.ndimage import gaussian_filter1d

from heron.stage.body.gestures import upper_body
from heron.stage.body.legs import Foot, bend_leg, foot_from_steps, pelvis_height
from heron.stage.body.travel import Ground, travel
from heron.stage.figure import Figure
from heron.stage.reference import Spot
from heron.stage.skeleton import INDEX, JOINTS, LANDMARKS, OFFSETS
from heron.stage.turning import Turns, about, pan_tilt_roll
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


def perform(
    figure: Figure, ground: Ground, frames: Frames, fps: float, where: Callable[[Spot], Floats]
) -> Performance:
    """Bake a figure's performance.

    Args:
        ground: height under (n, 2) points.
        where: (n, 3) place of something else on the stage over the frames.

    The same figure on the same ground gives the same arrays to the bit.
    """
    t = frames.array().astype(np.float64)
    n, tall = len(t), figure.stature
    way = travel(figure, frames, fps)
    feet = {side: foot_from_steps(way.feet[side], side, tall, t, ground, fps) for side in "rl"}

    facing = about("Y", way.heading)
    forward = facing.apply([0.0, 0.0, -1.0])
    floor = gaussian_filter1d(ground(way.place), 0.12 * fps, mode="nearest")
    root = np.stack([way.place[:, 0], floor, way.place[:, 1]], axis=-1)
    hips = {side: OFFSETS[INDEX[f"hip_{side}"]] * tall for side in "rl"}
    side_at = {side: (root + facing.apply(hips[side]))[:, [0, 2]] for side in "rl"}
    height = pelvis_height(feet, floor, side_at, tall, fps)
    ahead = {side: np.sum((feet[side].ankle - root) * forward, axis=-1) / tall for side in "rl"}
    swing = ahead["l"] - ahead["r"]

    turns: dict[str, Turns] = {"root": facing}
    turns["pelvis"] = about("Y", 9.0 * swing)
    chest = root + np.array([0.0, 0.8 * tall, 0.0])
    for name, angles in upper_body(figure, t, fps, way.walking, swing, chest, way.heading, where).items():
        turns[name] = pan_tilt_roll(angles[:, 1], angles[:, 0], angles[:, 2])

    pelvis_turn = facing * turns["pelvis"]
    pelvis = root.copy()
    pelvis[:, 1] = height
    for side in "rl":
        foot = feet[side]
        thigh, shank = bend_leg(pelvis + pelvis_turn.apply(hips[side]), foot.ankle, forward, tall)
        sole = about("Y", foot.yaw) * about("X", foot.pitch)
        turns[f"hip_{side}"] = pelvis_turn.inv() * thigh
        turns[f"knee_{side}"] = thigh.inv() * shank
        turns[f"ankle_{side}"] = shank.inv() * sole
        turns[f"ball_{side}"] = about("X", -np.minimum(foot.pitch, 0.0))

    lift = np.zeros((n, 3))
    lift[:, 1] = height - floor
    places, poses, local = _forward(turns, root, lift, tall, n)
    return Performance(root, lift, local, places, poses, feet, way.facts)


def _forward(
    turns: dict[str, Turns], root: Floats, lift: Floats, tall: float, n: int
) -> tuple[Floats, Floats, Floats]:
    """Carry rotations down the tree: (places, poses, local rotations)."""
    still = Turns(np.tile([0.0, 0.0, 0.0, 1.0], (n, 1)))
    places, poses, local = (
        np.empty((n, len(JOINTS), 3)),
        np.empty((n, len(JOINTS), 4)),
        np.empty((n, len(JOINTS), 4)),
    )
    world: list[Turns] = []
    for i, joint in enumerate(JOINTS):
        turn = turns.get(joint.name, still)
        if joint.parent < 0:
            world.append(turn)
            places[:, i] = root
        else:
            offset = lift if joint.name == "pelvis" else OFFSETS[i] * tall
            above = world[joint.parent]
            places[:, i] = places[:, joint.parent] + above.apply(offset)
            world.append(above * turn)
        poses[:, i] = world[i].as_quat()
        local[:, i] = turn.as_quat()
    return places, poses, local
