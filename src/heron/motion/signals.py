"""What a move is made of, frame by frame: the subject in the frame, and the camera itself."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from heron.bake import Bake
from heron.framing.project import project
from heron.model import changed
from heron.scene.camera import Camera
from heron.stage.reference import OnFigure, Spot

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: Signals of place in the frame are in pixels of a picture this high.
HIGH = 1080


@dataclass(frozen=True)
class Signals:
    """(n,) each over the scene's frames; NaN where the subject is behind the camera.

    Attributes:
        first: the frame of the first value.
        size: natural logarithm of the subject's size in the frame: of its stature, or of a metre where it is.
        x, y: where it is, pixels of a picture `HIGH` pixels high.
        place: (n, 3) metres, the camera's.
        pan, tilt: degrees, unwrapped.
        focal: natural logarithm of the focal length in mm.
        away: metres from the camera to the subject.
        subject: (n, 3) metres, where the subject is.
        breaks: frames on which something is suddenly elsewhere: the camera's jumps, and the cuts of its shots.
    """

    first: int
    size: Floats
    x: Floats
    y: Floats
    place: Floats
    pan: Floats
    tilt: Floats
    focal: Floats
    away: Floats
    subject: Floats
    breaks: tuple[int, ...]


def root_of(spot: Spot) -> Spot:
    """What a subject is judged by: of a figure its root, which no nod and no step moves."""
    return OnFigure(figure=spot.figure, joint="root") if isinstance(spot, OnFigure) else spot


def signals(bake: Bake, camera: Camera, spot: Spot) -> Signals:
    """A camera's move and what it makes of a subject; breath is left out where a layer breathes.

    Raises:
        NotFound: the subject is not in the scene.
    """
    scene = bake.scene
    frames = scene.frames
    here = bake.samples(_steady(camera))
    at = bake.place(root_of(spot), frames.array())
    seen = project(here, at)
    upright = np.tan(np.radians(here.column("vertical_deg")) / 2)
    with np.errstate(all="ignore"):
        size = -np.log(2 * upright * np.where(seen.depth > 1e-6, seen.depth, np.nan))
    v = here.values
    joints = [
        f for shot in scene.shots if shot.camera == camera.id for f in (shot.stage.first, shot.stage.last + 1)
    ]
    breaks = sorted({f for f in [*joints, *bake.jumps(camera)] if f in frames})
    return Signals(
        frames.first, size, seen.x * scene.delivery.aspect * HIGH / 2, seen.y * HIGH / 2, v[:, :3], v[:, 3], v[:, 4],
        np.log(here.column("focal_mm")), np.linalg.norm(at - v[:, :3], axis=1), at, tuple(breaks),
    )  # fmt: skip


def _steady(camera: Camera) -> Camera:
    """Without breath: an operator's hand is not a hitch."""
    kept = tuple(layer for layer in camera.layers if layer.kind != "breath")
    return changed(camera, layers=kept) if len(kept) < len(camera.layers) else camera
