"""What the near and far distances take out of the picture, and how far is far enough."""

import math
from typing import Any

import numpy as np

from heron.bake import Bake, Samples
from heron.model import Model
from heron.scene.camera import Camera
from heron.stage.piece import corners_of
from heron.stage.reference import OnFigure, OnMover
from heron.stage.turning import pan_tilt_roll
from heron.timebase import Frames

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: Kept beyond the farthest thing: common practice is only as far as the set needs.
MARGIN = 1.1
#: A figure or mover is taken as a ball of this radius round its middle, metres.
BALL_M = 1.0
#: Frames looked at for a suggestion.
LOOKED_AT = 120


class Clipped(Model):
    """Names of what is beyond the far distance or nearer than the near one, and a far distance that would do."""

    beyond: list[str]
    partly_beyond: list[str]
    nearer: list[str]
    suggested_far_m: float | None


def clipping(bake: Bake, camera: Camera, frame: int) -> Clipped:
    """What is clipped at a frame, and the far distance the whole scene needs."""
    one = Frames(first=frame, last=frame)
    here = bake.samples(camera, one)
    beyond, partly, nearer = [], [], []
    for name, points in _things(bake, one):
        deep = _depths_in_view(here, points)[0]
        if not np.any(np.isfinite(deep)):
            continue
        low, high = float(np.nanmin(deep)), float(np.nanmax(deep))
        if low > camera.far_m:
            beyond.append(name)
        elif high > camera.far_m:
            partly.append(name)
        if 0 < low < camera.near_m:
            nearer.append(name)
    return Clipped(
        beyond=beyond, partly_beyond=partly, nearer=nearer, suggested_far_m=_suggested(bake, camera)
    )


def _suggested(bake: Bake, camera: Camera) -> float | None:
    frames = bake.scene.frames
    whole = bake.samples(camera)
    pick = np.unique(np.linspace(0, frames.count - 1, LOOKED_AT).astype(int))
    some = Samples(whole.columns, whole.frames, whole.values[pick], whole.facts)
    farthest = 0.0
    for _, points in _things(bake, frames):
        deep = _depths_in_view(some, points[pick] if len(points) > 1 else points)
        if np.any(np.isfinite(deep)):
            farthest = max(farthest, float(np.nanmax(deep)))
    if farthest <= camera.near_m:
        return None
    far = farthest * MARGIN
    step = 10.0 ** (math.floor(math.log10(far)) - 1)
    return math.ceil(far / step) * step


def _things(bake: Bake, frames: Frames) -> list[tuple[str, Floats]]:
    """Each thing's name and the points round it: (1 or n, k, 3)."""
    scene, t = bake.scene, frames.array()
    out: list[tuple[str, Floats]] = [(piece.name, corners_of(piece)[None]) for piece in scene.pieces]
    ball = BALL_M * np.array([(0, 0, 0), (1, 0, 0), (-1, 0, 0), (0, 1, 0), (0, -1, 0), (0, 0, 1), (0, 0, -1)])
    for figure in scene.figures:
        middle = bake.place(OnFigure(figure=figure.id, joint="pelvis"), t)
        out.append((figure.name, middle[:, None] + ball))
    for mover in scene.movers:
        out.append((mover.name, bake.place(OnMover(mover=mover.id), t)[:, None] + ball))
    return out


def _depths_in_view(camera: Samples, points: Floats) -> Floats:
    """(n, k) metres along the axis, NaN where the thing is behind the camera or its outline misses the frame."""
    v = camera.values
    turn = pan_tilt_roll(v[:, 3], v[:, 4], v[:, 5]).inv().as_matrix()
    local = np.einsum("nij,nkj->nki", turn, points - v[:, None, :3])
    deep = -local[..., 2]
    half = np.tan(np.radians(v[:, 7:9]) / 2)[:, None]
    ahead = np.maximum(deep, 1e-3)[..., None]
    flat = local[..., :2] / ahead / half
    seen = (deep.max(axis=1) > 0) & np.all((flat.min(axis=1) <= 1) & (flat.max(axis=1) >= -1), axis=-1)
    return np.where(seen[:, None] & (deep > 0), deep, np.nan)
