"""A figure's acts as joint rotations over frames."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from types import MappingProxyType
from typing import Any

import numpy as np
from scipy.ndimage import gaussian_filter1d

from heron.stage.acts.body import Spin
from heron.stage.body.arms import ArmGoal, PalmOn, put_arms
from heron.stage.body.feet import Foot, foot_over, on_toes, turned
from heron.stage.body.gestures import UPPER, upper_body
from heron.stage.body.handling import Carry, Task, bending, handling
from heron.stage.body.heads import head_gestures
from heron.stage.body.legs import bend_leg, pelvis_height, reachable
from heron.stage.body.posing import posed
from heron.stage.body.postures import folded
from heron.stage.body.reaching import lean_to_reach
from heron.stage.body.recorded import mixed, replays
from heron.stage.body.running import running_height
from heron.stage.body.travel import Ground, Travel, Where, travel
from heron.stage.body.tree import ARMS, LEGS, TRUNK, Tree
from heron.stage.body.weights import lane_weights
from heron.stage.characters import physique_of
from heron.stage.figure import Figure
from heron.stage.physique import Physique
from heron.stage.piece import Piece
from heron.stage.skeleton import INDEX, JOINTS
from heron.stage.turning import Turns, about, by_component, pan_tilt_roll, unit
from heron.timebase import Frames

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: Joints that a recording turns; legs are bent to where its feet are.
_CARRIED = [i for i in (*TRUNK, *ARMS) if JOINTS[i].name not in ("root", "eye_r", "eye_l")]
_NONE: Mapping[str, Piece] = MappingProxyType({})
#: The pelvis goes ahead with the leg that does, degrees for feet a stature apart: 4° to either side at a free speed
#: (Saunders, Inman and Eberhart 1953, from memory).
_PELVIS_YAW = -9.0
#: On one leg the other side of the pelvis drops, degrees, and the weight comes over the leg, statures (the same; the
#: body's middle goes 2 cm to either side).
_PELVIS_LIST, _ASIDE = 4.0, 0.011
#: Whoever sets off leans ahead, and back to stop: degrees for a metre a second² (common practice).
_LEAN = 2.0


@dataclass(frozen=True)
class Performance:
    """A figure over frames.

    Attributes:
        root: (n, 3) float64 metres, the floor under it, stage.
        pelvis: (n, 3) float64 metres, in the root's frame.
        turns: (n, J, 4) float64, each joint's rotation in its parent's frame, x y z w.
        places: (n, J, 3) float64 metres, each joint on the stage.
        poses: (n, J, 4) float64, each joint's rotation on the stage.
        feet: each foot's own track, for checks; on a turntable, as on its plate.
        physique: how long its parts are.
        facts: for each act, what it amounts to (speed, steps, degrees).
    """

    root: Floats
    pelvis: Floats
    turns: Floats
    places: Floats
    poses: Floats
    feet: dict[str, Foot]
    facts: list[dict[str, float]]
    physique: Physique
    #: Arms that go somewhere, whichever way the chest turns.
    goals: tuple[ArmGoal, ...] = ()
    #: (n, 2) degrees a head is raised and turned by what it does, whatever it looks at.
    nodded: Floats | None = None
    #: (n, 8, 4) how the arms are turned without those goals; in the order of `ARMS`.
    arms: Floats | None = None
    #: For each gaze the first frame on which it does not reach; None where it does.
    missed: tuple[int | None, ...] = ()

    def landmark(self, name: str, rows: Any = slice(None)) -> Floats:
        """(n, 3) metres: a landmark or a joint by name, on the stage; of some of the frames alone, by their places."""
        if name in INDEX:
            return np.asarray(self.places[rows, INDEX[name]])
        i, offset = self.physique.landmark(name)
        turned = Turns(self.poses[rows, i]).apply(offset)
        return np.asarray(self.places[rows, i] + turned)


def perform(
    figure: Figure,
    ground: Ground,
    frames: Frames,
    fps: float,
    where: Where,
    pieces: Mapping[str, Piece] = _NONE,
    *,
    way: Travel | None = None,
    tasks: Sequence[Task | Carry] = (),
) -> Performance:
    """Bake a figure's performance.

    Args:
        ground: height under (n, 2) points.
        where: (n, 3) place of something else on the stage over the frames.
        pieces: what it sits on, by id.
        way: where its root and its feet go, where that is known.
        tasks: what its hands do with things.

    The same figure on the same ground gives the same arrays to the bit.
    """
    t = frames.array().astype(np.float64)
    n, physique = len(t), physique_of(figure)
    tall = physique.tall
    way = way or travel(figure, frames, fps, where, ground, pieces)
    lane = lane_weights(figure.acts, "body", t, fps)
    body = [*lane, *bending(tasks, way.seats, t, tall)]
    posture = folded(body, way.seats, t, fps)
    pose = posture[0]
    if not way.trod:
        way.trod |= {side: foot_over(way.feet[side], side, physique, t, ground, fps) for side in "rl"}
    feet = dict(way.trod)
    for side, up in pose.heels.items():
        feet[side] = on_toes(feet[side], side, up, physique)

    facing = about("Y", way.heading)
    by_hand = posed(figure, t, fps)
    if by_hand is not None:
        feet = {side: by_hand.moved(foot, side, facing) for side, foot in feet.items()}
        pose.pelvis += by_hand.vector("hips") / tall
    forward = facing.apply([0.0, 0.0, -1.0])
    root = _under(way, ground, t, fps)
    floor = root[:, 1]
    hips = {side: physique.offsets[INDEX[f"hip_{side}"]] for side in "rl"}
    ahead = {side: np.sum((feet[side].ankle - root) * forward, axis=-1) / tall for side in "rl"}
    swing = (ahead["l"] - ahead["r"]) * np.where(
        way.walking > 0, 1.0, np.exp(-20 * np.abs(pose.pelvis[:, 1]))
    )
    bears = gaussian_filter1d(_bears(feet), 0.08 * fps, mode="nearest")
    tipped = pose.turns.get("pelvis", np.zeros((n, 3)))
    hip_turn = pan_tilt_roll(
        _PELVIS_YAW * swing + tipped[:, 1], tipped[:, 0], _PELVIS_LIST * bears + tipped[:, 2]
    )
    aside = tall * pose.pelvis
    aside[:, 0] += _ASIDE * tall * bears
    aside[:, 1] = 0.0
    joints = {side: root + facing.apply(aside + hip_turn.apply(hips[side])) for side in "rl"}
    height = pelvis_height(feet, floor, joints, physique, fps)
    height = np.minimum(height, floor + physique.hip + (pose.pelvis[:, 1] - 0.002) * tall)
    if way.running.any():
        height += way.running * (floor + running_height(way, t, physique, fps) - height)
    height = np.minimum(height, reachable(feet, joints, physique))

    local = by_component(4, n, len(JOINTS))
    local[..., :3], local[..., 3] = 0.0, 1.0
    local[:, INDEX["root"]] = facing.as_quat()
    local[:, INDEX["pelvis"]] = hip_turn.as_quat()
    chest = root + np.array([0.0, 0.8 * tall, 0.0])
    head = head_gestures(figure, t, fps)
    angles, goals = upper_body(figure, t, fps, way, swing, chest, where, body, posture, head)
    angles[:, UPPER.index("spine"), 0] -= np.clip(_LEAN * _quickens(way.place, way.heading, fps), -4.0, 4.0)
    # The back stays upright over it.
    angles[:, UPPER.index("spine"), 2] -= _PELVIS_LIST * bears
    if by_hand is not None:
        for name, by in by_hand.turns().items():
            angles[:, UPPER.index(name)] += by
        for side, hand in (("r", "right_hand"), ("l", "left_hand")):
            to = facing.apply(by_hand.vector(hand))
            if to.any():
                goals.append(
                    PalmOn(side, to, np.ones(n), np.ones(n) * (np.abs(to).max(axis=1) > 0), within="by")
                )
    by_joint = {name: angles[:, k] for k, name in enumerate(UPPER)} if tasks else {}
    goals = handling(by_joint, goals, tasks, t, physique, fps)
    for k, name in enumerate(UPPER):
        pitch, yaw, roll = (_still(angles[:, k, axis]) for axis in range(3))
        local[:, INDEX[name]] = pan_tilt_roll(yaw, pitch, roll).quat

    lift = aside
    lift[:, 1] = height - floor
    plays = replays(lane, t, fps, physique)
    for play in plays:
        local[:, _CARRIED] = mixed(local[:, _CARRIED], play.own.turns[:, _CARRIED], play.weight)
        lift += play.weight[:, None] * (play.pelvis() - lift)
        feet = {side: play.foot(foot, side, root, facing, ground) for side, foot in feet.items()}
    tree = Tree(local, root, lift, physique)
    tree.carry(TRUNK)
    lean_to_reach(tree, goals)
    hang = local[:, ARMS].copy() if goals else None
    put_arms(tree, goals)
    tree.carry(ARMS)
    pelvis_turn = Turns(tree.poses[:, INDEX["pelvis"]])
    across = pelvis_turn.apply([1.0, 0.0, 0.0])
    for side in "rl":
        foot, names = feet[side], [f"{j}_{side}" for j in ("hip", "knee", "ankle", "ball")]
        sole = turned(foot)
        # A knee goes between where the hips and the foot point.
        toes = about("Y", foot.yaw).apply([1.0, 0.0, 0.0])
        right = 0.55 * across + 0.45 * toes
        right = unit(right)
        for play in plays:
            right = unit(right + play.weight[:, None] * (play.knee(side, facing) - right))
        hip = tree.places[:, INDEX["pelvis"]] + pelvis_turn.apply(hips[side])
        thigh, shank = bend_leg(hip, foot.ankle, right, physique)
        ball = about("X", -np.minimum(foot.pitch, 0.0))
        for play in plays:
            toe = np.broadcast_to(ball.as_quat(), (n, 4))
            ball = Turns(mixed(toe, play.own.turns[:, INDEX[names[3]]], play.weight))
        turns = (pelvis_turn.inv() * thigh, thigh.inv() * shank, shank.inv() * sole, ball)
        for name, turn in zip(names, turns, strict=True):
            local[:, INDEX[name]] = turn.as_quat()
    tree.carry(LEGS)
    spun = _spun(figure, t)
    if spun is not None:
        _spin(tree, root, spun)
    facts = [way.facts.get(act.id or "", {}) for act in figure.placed_by]
    return Performance(
        root,
        lift,
        local,
        tree.places,
        tree.poses,
        feet,
        facts,
        physique,
        tuple(goals),
        nodded=head,
        arms=hang,
    )


def rooted(figure: Figure, way: Travel, ground: Ground, t: Floats, fps: float) -> tuple[Floats, Floats]:
    """Where a figure stands, (n, 3) metres, and the way it faces, (n,) degrees, unwrapped."""
    spun = _spun(figure, t)
    facing = about("Y", way.heading if spun is None else way.heading + spun).quat
    heading = np.degrees(np.unwrap(2 * np.arctan2(facing[:, 1], facing[:, 3])))
    return _under(way, ground, t, fps), heading


def _under(way: Travel, ground: Ground, t: Floats, fps: float) -> Floats:
    """(n, 3) metres: the floor under it."""
    root = by_component(3, len(t))
    root[:, 0], root[:, 2] = way.place[:, 0], way.place[:, 1]
    root[:, 1] = _floor(gaussian_filter1d(ground(way.place), 0.12 * fps, mode="nearest"), way, t)
    return root


def _floor(floor: Floats, way: Travel, t: Floats) -> Floats:
    """(n,) height under the root; under somebody who sits, that of the floor where the feet are."""
    for seat in way.seats.values():
        on = (t > seat.goes) & (t < seat.rises)
        if on.any():
            before, after = int(np.argmax(on)), len(on) - 1 - int(np.argmax(on[::-1]))
            end = floor[min(after + 1, len(t) - 1)] if np.isfinite(seat.rises) else floor[before]
            floor[on] = np.linspace(floor[before], end, int(on.sum()))
    return floor


def _quickens(place: Floats, heading: Floats, fps: float) -> Floats:
    """(n,) metres a second², how quickly a body gathers speed the way it faces; less than nothing as it stops."""
    if len(place) < 2:
        return np.zeros(len(place))
    ahead = np.radians(heading)
    speed = np.gradient(place, axis=0) * fps
    along = -speed[:, 0] * np.sin(ahead) - speed[:, 1] * np.cos(ahead)
    return np.asarray(np.gradient(gaussian_filter1d(along, 0.12 * fps, mode="nearest")) * fps)


def _bears(feet: dict[str, Foot]) -> Floats:
    """(n,) which leg bears the weight: 1 the right one alone, −1 the left one, 0 both."""
    return np.asarray(feet["r"].planted.astype(float) - feet["l"].planted.astype(float))


def _spun(figure: Figure, t: Floats) -> Floats | None:
    """(n,) degrees it has been turned by on a turntable; None when never."""
    spins = [act for act in figure.acts if isinstance(act, Spin)]
    if not spins:
        return None
    shares = [a.turns * np.clip((t - a.frames.first) / a.frames.count, 0.0, 1.0) for a in spins]
    return np.asarray(360.0 * np.sum(shares, axis=0))


def _spin(tree: Tree, root: Floats, angle: Floats) -> None:
    """All of it, feet and all, turned about the upright through its root."""
    by = about("Y", angle)
    tree.local[:, 0] = (by * Turns(tree.local[:, 0])).quat
    for i in range(tree.places.shape[1]):
        tree.places[:, i] = root + by.apply(tree.places[:, i] - root)
        tree.poses[:, i] = (by * Turns(tree.poses[:, i])).quat


def _still(angles: Floats) -> Floats:
    """Angles over frames, or one where they are all the same: much of a body keeps still."""
    return angles if (angles != angles[0]).any() else angles[:1]
