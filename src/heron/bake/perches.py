"""Perches: where they are, on the stage or on what they ride on."""

from typing import Any

import numpy as np

from heron.bake.kind import Baking
from heron.bake.samples import Floats
from heron.optics import field_of_view
from heron.stage.perch import Perch
from heron.stage.reference import OnPerch
from heron.stage.turning import pan_tilt_roll
from heron.timebase import Frames

#: The pose, and the angle that is seen upright through the lens that was kept; 0 where none was.
COLUMNS = ("x", "y", "z", "pan", "tilt", "roll", "vertical_deg")


def content(perch: Perch, aspect: str) -> str:
    """The fingerprint of its own content."""
    return perch.digest


def reads(bake: Baking, perch: Perch, aspect: str) -> tuple[Any, ...]:
    """What of the scene it depends on."""
    return (bake.scene.frames, bake.scene.delivery.aspect, bake.scene.first_lens.on)


def rows(bake: Baking, perch: Perch, t: np.ndarray[Any, Any]) -> Floats:
    """(n, columns): x, y, z in metres on the stage, pan, tilt, roll in degrees, and the angle seen upright."""
    angle = 0.0
    if perch.focal is not None:
        seen = field_of_view(bake.scene.first_lens.on, bake.scene.delivery.aspect, np.array([perch.focal]))
        angle = float(seen[0, 1])
    return np.column_stack([pose(bake, perch, t), np.full(len(t), angle)])


def pose(bake: Baking, perch: Perch, t: np.ndarray[Any, Any]) -> Floats:
    """(n, 6): x, y, z in metres on the stage, then pan, tilt, roll in degrees."""
    own = np.tile([perch.x, perch.y, perch.z, perch.pan, perch.tilt, perch.roll], (len(t), 1))
    if perch.rides is None:
        return np.asarray(own, dtype=np.float64)
    track = bake.track(perch.rides)
    frames = bake.scene.frames.array()
    heading = np.interp(t, frames, track.heading)
    place = np.stack([np.interp(t, frames, track.place[:, i]) for i in range(3)], axis=-1)
    return on_stage(own, place, heading)


def on_stage(own: Floats, place: Floats, heading: Floats) -> Floats:
    """(n, 6) poses on the stage of poses that are given from something, in the directions it faces."""
    out = own.copy()
    c, s = np.cos(np.radians(heading)), np.sin(np.radians(heading))
    out[:, 0] = place[:, 0] + c * own[:, 0] + s * own[:, 2]
    out[:, 1] = place[:, 1] + own[:, 1]
    out[:, 2] = place[:, 2] - s * own[:, 0] + c * own[:, 2]
    out[:, 3] = own[:, 3] + heading
    return out


def from_it(pose: Floats, place: Floats, heading: Floats) -> Floats:
    """The same backwards: (n, 6) poses from something of poses on the stage."""
    out = pose.copy()
    c, s = np.cos(np.radians(heading)), np.sin(np.radians(heading))
    away = pose[:, :3] - place
    out[:, 0] = c * away[:, 0] - s * away[:, 2]
    out[:, 1] = away[:, 1]
    out[:, 2] = s * away[:, 0] + c * away[:, 2]
    out[:, 3] = pose[:, 3] - heading
    return out


def facts(bake: Baking, perch: Perch, frames: Frames, values: Floats) -> dict[str, Any]:
    """Nothing besides where it is."""
    return {}


def place(bake: Baking, perch: Perch, spot: OnPerch, t: np.ndarray[Any, Any]) -> Floats:
    """(n, 3) metres."""
    return pose(bake, perch, t)[:, :3]


def stance(bake: Baking, perch: Perch, spot: OnPerch) -> tuple[Floats, Floats | None]:
    """How it is turned over the scene: (n,) pan in degrees, and (n, 4) all of it."""
    where = pose(bake, perch, bake.scene.frames.array())
    return where[:, 3], pan_tilt_roll(where[:, 3], where[:, 4], where[:, 5]).quat


def jumps(bake: Baking, perch: Perch) -> list[int]:
    """Never of itself."""
    return []
