"""A subject as the audience sees it: its height, place and speed in a camera's frame, frame by frame."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from heron.bake import Bake, Samples
from heron.framing.project import project
from heron.scene.camera import Camera
from heron.scene.lookup import find
from heron.stage.reference import OnFigure, Spot

Floats = np.ndarray[Any, np.dtype[np.float64]]


@dataclass(frozen=True)
class SeenStrip:
    """A subject in a camera over the scene's frames; NaN behind the camera.

    Attributes:
        x, y: (n,) where it is in the delivery frame, −1…1.
        height: (n,) share of the frame's height between a figure's root and what stands its stature above it, as the
            picture has them; None for what has none.
        speed: (n,) shares of the frame's height that it went since the frame before; zero on the first frame and
            where the camera itself jumps.
    """

    x: Floats
    y: Floats
    height: Floats | None
    speed: Floats


def seen_strip(bake: Bake, camera: Camera, spot: Spot) -> SeenStrip:
    """What the audience sees of a subject.

    Raises:
        NotFound: it is not in the scene.
    """
    frames = bake.scene.frames
    here = bake.samples(camera)
    at = project(here, bake.place(spot, frames.array()))
    aspect = bake.scene.delivery.aspect
    went = np.hypot(np.diff(at.x) * aspect / 2, np.diff(at.y) / 2)
    speed = np.r_[0.0, went]
    for jump in bake.jumps(camera):
        if jump in frames:
            speed[jump - frames.first] = 0.0
    height = _height(bake, here, spot) if isinstance(spot, OnFigure) else None
    return SeenStrip(at.x, at.y, height, speed)


def size_seen(bake: Bake, here: Samples, spot: Spot) -> Floats:
    """(n,) share of the frame's height of a subject over the scene's frames: a figure's stature, else of a metre there.

    Args:
        here: a camera over those frames; NaN where the subject is behind it.
    """
    if isinstance(spot, OnFigure):
        return _height(bake, here, spot)
    deep = project(here, bake.place(spot, bake.scene.frames.array())).depth
    high = 2 * np.tan(np.radians(here.column("vertical_deg")) / 2)
    return np.asarray(1 / (high * np.where(deep > 1e-6, deep, np.nan)))


def _height(bake: Bake, here: Samples, spot: OnFigure) -> Floats:
    """An upright of its stature on its root: a nod or a step does not make a figure taller."""
    root = bake.place(OnFigure(figure=spot.figure, joint="root"), bake.scene.frames.array())
    stature = find(bake.scene, "figures", spot.figure).stature
    foot, top = project(here, root), project(here, root + np.array([0.0, stature, 0.0]))
    return np.asarray(np.hypot((top.x - foot.x) * bake.scene.delivery.aspect, top.y - foot.y) / 2)
