"""Movers: their keyed pose."""

from typing import Any

import numpy as np

from heron.bake.kind import Baking
from heron.bake.samples import Floats, between
from heron.bake.standing import by_keys_alone, opened, stood
from heron.curves import evaluate
from heron.curves import jumps as channel_jumps
from heron.rigs import base_pose
from heron.scene.camera import POSE
from heron.scene.links import Aspect
from heron.stage.acts.hands import Hold
from heron.stage.grip import size_of
from heron.stage.jointed import JOINTED, MOST_JOINTS, Going
from heron.stage.mover import MIDDLE, Mover
from heron.stage.reference import OnMover
from heron.stage.turning import angles_of, pan_tilt_roll
from heron.timebase import Frames, parse_rate

#: The pose; then, of a shape with joints, how far its body is sunk and each joint's rotation in its parent's frame; then, of
#: a lamp, how bright it is and the angle of its cone.
COLUMNS = (
    "x", "y", "z", "pan", "tilt", "roll", "sink", *(f"joint{i}.{c}" for i in range(MOST_JOINTS) for c in "xyzw"),
    "stops", "cone_deg",
)  # fmt: skip
_STILL = np.tile([0.0, 0.0, 0.0, 1.0], MOST_JOINTS)


def content(mover: Mover, aspect: str) -> str:
    """The fingerprint of its own content."""
    return mover.digest


def reads(bake: Baking, mover: Mover, aspect: str) -> tuple[Any, ...]:
    """What of the scene it depends on: what it is made of, and through whose hands it goes."""
    parts = [piece.digest for piece in bake.parts(mover)]
    been = bake.journey(mover.id)
    legs = [(leg.frame, leg.act.digest, leg.by.id) for leg in been.legs]
    opens = [(figure.id, act.digest) for figure, act in been.opens]
    # What has joints moves them by the second, a rigid thing depends on its keys alone.
    rate = bake.scene.rate if mover.shape in JOINTED else ""
    return (bake.scene.frames, rate, parts, legs, opens)


def _joints(bake: Baking, mover: Mover, t: np.ndarray[Any, Any]) -> tuple[Floats, Floats]:
    """The joints of a shape that has them at moments, (n, J, 4), and how far its body is sunk, (n,) metres."""
    fps = float(parse_rate(bake.scene.rate))
    frames = bake.scene.frames

    def where(at: Floats) -> Floats:
        if by_keys_alone(bake, mover):
            return np.stack([evaluate(channel, at) for channel in (mover.x, mover.y, mover.z)], axis=-1)
        return pose_of(bake, mover, at)[:, :3]

    def gone(at: Floats) -> Floats:
        return np.asarray(np.interp(at, frames.array(), _gone(bake, mover)))

    going = Going(mover.id, where, gone, fps)
    turns, sink = JOINTED[mover.shape].turns(going, np.asarray(t, dtype=np.float64))
    return turns, sink


def _gone(bake: Baking, mover: Mover) -> Floats:
    """(n,) metres that it has gone the way it faces, over the scene's frames."""

    def made() -> Floats:
        pose = pose_of(bake, mover, bake.scene.frames.array())
        turn = np.radians((pose[1:, 3] + pose[:-1, 3]) / 2)
        step = np.diff(pose[:, [0, 2]], axis=0)
        return np.concatenate([[0.0], np.cumsum(-step[:, 0] * np.sin(turn) - step[:, 1] * np.cos(turn))])

    found: Floats = bake.cache.get("gone", bake.key(mover), made)
    return found


def rows(bake: Baking, mover: Mover, t: np.ndarray[Any, Any]) -> Floats:
    """(n, columns): its pose, metres and degrees, and its joints."""
    pose, n = pose_of(bake, mover, t), len(t)
    joints, sink = np.tile(_STILL, (n, 1)), np.zeros(n)
    if mover.shape in JOINTED:
        turns, sink = _joints(bake, mover, t)
        joints[:, : 4 * turns.shape[1]] = turns.reshape(n, -1)
    lit = mover.light
    shines = [evaluate(lit.stops, t), evaluate(lit.cone_deg, t)] if lit else [np.zeros(n), np.zeros(n)]
    return np.column_stack([pose, sink, joints, *shines])


def pose_of(bake: Baking, mover: Mover, t: np.ndarray[Any, Any], aspect: Aspect = "pose") -> Floats:
    """(n, 6): x, y, z in metres on the stage, then pan, tilt, roll in degrees, unwrapped, at moments (n,)."""
    if by_keys_alone(bake, mover):
        return base_pose(mover, t)
    frames = bake.scene.frames

    def whole() -> Floats:
        place, turn = stood(bake, mover, frames.array(), aspect)
        return np.column_stack([place, *angles_of(turn.quat)])

    # Angles are unwrapped over the whole scene, so that a frame has the same ones in whatever company it is asked for.
    kept: Floats = bake.cache.get("mover pose", bake.key(mover, aspect), whole)
    return between(kept, frames.first, t, bake.jumps(mover))


def facts(bake: Baking, mover: Mover, frames: Frames, values: Floats) -> dict[str, Any]:
    """What it says about itself: its keys, how far it is open at each frame, and who holds it or put it down from when."""
    told: dict[str, Any] = {"keys": mover.key_frames()}
    if mover.hinge is not None:
        told["open"] = opened(bake, mover, frames.array().astype(np.float64)).round(4).tolist()
    legs = bake.journey(mover.id).legs
    if legs:
        told["held"] = [
            {
                "frame": leg.frame,
                "by": (leg.holder or leg.by).id,
                "act": leg.act.id,
                "down": leg.holder is None,
            }
            for leg in legs
        ]
    return told


def place(
    bake: Baking, mover: Mover, spot: OnMover, t: np.ndarray[Any, Any], *, bare: bool = False
) -> Floats:
    """(n, 3) metres: the middle of it; of an animal its head."""
    aspect: Aspect = "place" if bare else "pose"
    frames, at = bake.scene.frames, np.asarray(t)
    whole = at.dtype.kind == "i" or bool((at == np.floor(at)).all())
    if not whole or len(at) == 0 or at.min() < frames.first or at.max() > frames.last:
        return _place(bake, mover, at, aspect)
    # Many depend on it while they themselves are dragged: on whole frames it is computed once.
    kept: Floats = bake.cache.get(
        "mover place", bake.key(mover, aspect), lambda: _place(bake, mover, frames.array(), aspect)
    )
    return np.asarray(kept[at.astype(np.int64) - frames.first])


def _place(bake: Baking, mover: Mover, t: np.ndarray[Any, Any], aspect: Aspect) -> Floats:
    pose = pose_of(bake, mover, t, aspect)
    own: Any = MIDDLE.get(mover.shape)
    jointed = JOINTED.get(mover.shape)
    if jointed is not None and jointed.looks_at is not None:
        own = jointed.place(*jointed.looks_at, *_joints(bake, mover, t))
    elif own is None:
        own = size_of(mover, bake.parts(mover)).middle
    turned = pan_tilt_roll(pose[:, 3], pose[:, 4], pose[:, 5]).apply(own)
    return np.asarray(pose[:, :3] + turned)


def stance(bake: Baking, mover: Mover, spot: OnMover) -> tuple[Floats, Floats | None]:
    """How it is turned over the scene: (n,) pan in degrees, and (n, 4) all of it."""
    pose = pose_of(bake, mover, bake.scene.frames.array())
    return pose[:, 3], pan_tilt_roll(pose[:, 3], pose[:, 4], pose[:, 5]).quat


def jumps(bake: Baking, mover: Mover) -> list[int]:
    """Frames on which a held key of its pose is followed by another value, or of what it is on, or somebody has it at once."""
    own = [frame for name in POSE for frame in channel_jumps(mover.channel(name))]
    own += [
        frame for part in mover.parts().values() for _, one in part.each() for frame in channel_jumps(one)
    ]
    own += [leg.frame for leg in bake.journey(mover.id).legs if isinstance(leg.act, Hold)]
    under = (
        bake.mover(mover.on) if mover.on else bake.camera(mover.with_camera) if mover.with_camera else None
    )
    return own + (bake.jumps(under) if under else [])
