"""Movers: their keyed pose."""

from typing import Any

import numpy as np

from heron.bake.kind import Baking
from heron.bake.samples import Floats
from heron.curves import evaluate
from heron.curves import jumps as channel_jumps
from heron.rigs import base_pose
from heron.scene.camera import POSE
from heron.stage.bird import BIRD, bird_at, bird_head
from heron.stage.mover import MIDDLE, Mover
from heron.stage.reference import OnMover
from heron.stage.turning import pan_tilt_roll
from heron.timebase import Frames, parse_rate

#: The pose; then, of a bird, how far its body is sunk and each joint's rotation in its parent's frame.
COLUMNS = (
    "x", "y", "z", "pan", "tilt", "roll", "sink", *(f"{j.name}.{c}" for j in BIRD for c in "xyzw"),
)  # fmt: skip
_STILL = np.tile([0.0, 0.0, 0.0, 1.0], len(BIRD))


def content(mover: Mover, aspect: str) -> str:
    """The fingerprint of its own content."""
    return mover.digest


def reads(bake: Baking, mover: Mover, aspect: str) -> tuple[Any, ...]:
    """What of the scene it depends on."""
    # A bird beats its wings by the second, a rigid thing depends on its keys alone.
    return (bake.scene.frames, bake.scene.rate) if mover.shape == "heron" else (bake.scene.frames,)


def _joints(bake: Baking, mover: Mover, t: np.ndarray[Any, Any]) -> tuple[Floats, Floats]:
    """A bird's joints at moments, (n, J, 4), and how far its body is sunk, (n,) metres."""
    fps = float(parse_rate(bake.scene.rate))

    def where(at: Floats) -> Floats:
        return np.stack([evaluate(channel, at) for channel in (mover.x, mover.y, mover.z)], axis=-1)

    return bird_at(mover.id, where, np.asarray(t, dtype=np.float64), fps)


def rows(bake: Baking, mover: Mover, t: np.ndarray[Any, Any]) -> Floats:
    """(n, columns): its pose, metres and degrees, and its joints."""
    pose, n = base_pose(mover, t), len(t)
    if mover.shape != "heron":
        return np.column_stack([pose, np.zeros(n), np.tile(_STILL, (n, 1))])
    turns, sink = _joints(bake, mover, t)
    return np.column_stack([pose, sink, turns.reshape(n, -1)])


def facts(bake: Baking, mover: Mover, frames: Frames, values: Floats) -> dict[str, Any]:
    """What it says about itself."""
    return {"keys": mover.key_frames()}


def place(bake: Baking, mover: Mover, spot: OnMover, t: np.ndarray[Any, Any]) -> Floats:
    """(n, 3) metres: the middle of it; of a bird its head."""
    frames, at = bake.scene.frames, np.asarray(t)
    whole = at.dtype.kind == "i" or bool((at == np.floor(at)).all())
    if not whole or len(at) == 0 or at.min() < frames.first or at.max() > frames.last:
        return _place(bake, mover, at)
    # Many depend on it while they themselves are dragged: on whole frames it is computed once.
    kept: Floats = bake.cache.get("mover place", bake.key(mover), lambda: _place(bake, mover, frames.array()))
    return np.asarray(kept[at.astype(np.int64) - frames.first])


def _place(bake: Baking, mover: Mover, t: np.ndarray[Any, Any]) -> Floats:
    pose = base_pose(mover, t)
    own: Any = MIDDLE.get(mover.shape)
    if own is None:
        own = bird_head(*_joints(bake, mover, t))
    turned = pan_tilt_roll(pose[:, 3], pose[:, 4], pose[:, 5]).apply(own)
    return np.asarray(pose[:, :3] + turned)


def stance(bake: Baking, mover: Mover, spot: OnMover) -> tuple[Floats, Floats | None]:
    """How it is turned over the scene: (n,) pan in degrees, and (n, 4) all of it."""
    pose = base_pose(mover, bake.scene.frames.array())
    return pose[:, 3], pan_tilt_roll(pose[:, 3], pose[:, 4], pose[:, 5]).quat


def jumps(mover: Mover) -> list[int]:
    """Frames on which a held key of its pose is followed by another value."""
    return [frame for name in POSE for frame in channel_jumps(mover.channel(name))]
