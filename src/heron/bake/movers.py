"""Movers: their keyed pose."""

from typing import TYPE_CHECKING, Any

import numpy as np

from heron.bake.samples import Floats
from heron.curves import jumps as channel_jumps
from heron.rigs import base_pose
from heron.scene.camera import POSE
from heron.stage.mover import MIDDLE, Mover
from heron.stage.reference import OnMover
from heron.stage.turning import pan_tilt_roll
from heron.timebase import Frames

if TYPE_CHECKING:
    from heron.bake.graph import Bake

COLUMNS = ("x", "y", "z", "pan", "tilt", "roll")


def content(mover: Mover, aspect: str) -> str:
    """The fingerprint of its own content."""
    return mover.digest


def reads(bake: "Bake", aspect: str) -> tuple[Any, ...]:
    """What of the scene it depends on."""
    return (bake.scene.frames,)


def rows(bake: "Bake", mover: Mover, t: np.ndarray[Any, Any]) -> Floats:
    """(n, 6): its pose, metres and degrees."""
    return base_pose(mover, t)


def facts(bake: "Bake", mover: Mover, frames: Frames, values: Floats) -> dict[str, Any]:
    """What it says about itself."""
    return {"keys": mover.key_frames()}


def place(bake: "Bake", mover: Mover, spot: OnMover, t: np.ndarray[Any, Any]) -> Floats:
    """(n, 3) metres: the middle of it."""
    pose = base_pose(mover, t)
    turned = pan_tilt_roll(pose[:, 3], pose[:, 4], pose[:, 5]).apply(MIDDLE[mover.shape])
    return np.asarray(pose[:, :3] + turned)


def jumps(mover: Mover) -> list[int]:
    """Frames on which a held key of its pose gives way to another."""
    return [frame for name in POSE for frame in channel_jumps(mover.channel(name))]
