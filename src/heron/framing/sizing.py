"""Keeping a figure's size in the frame through another lens, and what that does to the picture."""

from dataclasses import dataclass
from typing import Any

import numpy as np
from scipy.optimize import brentq

from heron.bake import Bake, Samples
from heron.curves import Channel
from heron.errors import Refused
from heron.framing.project import project
from heron.model import changed
from heron.scene.camera import POSE, Camera
from heron.scene.document import Scene
from heron.scene.lookup import find
from heron.stage.figure import Figure
from heron.stage.reference import OnFigure
from heron.stage.turning import pan_tilt_roll
from heron.timebase import Frames

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: Feet farther out of the frame than this (1 is its edge) say that the head is what is framed.
FEET_OUT = 1.25
#: How flat a lens reads is told by how large a thing this far behind the figure is beside it.
BEHIND_M = 2.0
MOST_LENSES = 4
#: A wide, a normal and a long lens on a back near 36 mm wide: common practice.
USUAL_MM = (24.0, 50.0, 100.0)


@dataclass(frozen=True)
class Measure:
    """The part of a figure whose size is kept, over frames.

    Attributes:
        figure: whose.
        part: `body` from crown to sole, or `head` from crown to chin when the feet are out of frame.
        top, bottom: (n, 3) metres on the stage.
    """

    figure: Figure
    part: str
    top: Floats
    bottom: Floats


def measure(bake: Bake, camera: Camera, frame: int, frames: Frames, figure: str | None) -> Measure:
    """The figure meant, and its part that the frame holds at `frame`.

    Args:
        figure: its id; left out, the one focused on, else the one nearest the middle of the frame.

    Raises:
        Refused: no figure is in the frame.
    """
    one = Frames(first=frame, last=frame)
    here = bake.samples(camera, one)
    who = _meant(bake, camera, here, frame, figure)

    def at(joint: str, there: Frames) -> Floats:
        return bake.place(OnFigure(figure=who.id, joint=joint), there.array())

    def soles(there: Frames) -> Floats:
        return np.asarray((at("sole_r", there) + at("sole_l", there)) / 2)

    feet = project(here, soles(one))
    part = "body" if feet.depth[0] > 0 and abs(feet.y[0]) < FEET_OUT else "head"
    return Measure(who, part, at("crown", frames), soles(frames) if part == "body" else at("chin", frames))


def _meant(bake: Bake, camera: Camera, here: Samples, frame: int, figure: str | None) -> Figure:
    scene = bake.scene
    on = camera.focus.in_force(frame)
    if figure is None and isinstance(on, OnFigure):
        figure = on.figure
    best: tuple[float, Figure] | None = None
    for one in scene.figures if figure is None else [find(scene, "figures", figure)]:
        seen = project(here, bake.place(OnFigure(figure=one.id, joint="eyes"), np.array([frame])))
        off = float(np.hypot(seen.x[0], seen.y[0])) if seen.depth[0] > 0 else np.inf
        if off < (2.0 if figure is None else np.inf) and (best is None or off < best[0]):
            best = (off, one)
    if best is None:
        raise Refused(
            f"No figure is in camera {camera.letter}'s frame, so there is no size to keep.",
            "Frame one first, or keep the camera's place.",
            field="figure",
        )
    return best[1]


def step_back(pose: Floats, top: Floats, bottom: Floats, focal: float, other: float) -> float:
    """How far a camera goes back along its axis so that a span keeps its size through another lens.

    Args:
        pose: (6,) x, y, z, pan, tilt, roll.
        top, bottom: (3,) the span's ends on the stage.
    """
    turn = pan_tilt_roll(pose[3:4], pose[4:5], pose[5:6]).inv()
    ends = turn.apply(np.stack([top, bottom]) - pose[:3])
    flat, deep = ends[:, :2], -ends[:, 2]

    def size(back: float, f: float) -> float:
        seen = f * flat / (deep + back)[:, None]
        return float(np.hypot(*(seen[0] - seen[1])))

    nearest = 1e-3 - float(deep.min())
    want = size(0.0, focal)
    far = float(deep.max()) * max(other / focal, 1.0) * 4
    return float(brentq(lambda back: size(back, other) - want, nearest, far, xtol=1e-9))


def keep_size(
    bake: Bake, camera: Camera, focal: float, frame: int, figure: str | None
) -> tuple[Camera, Measure]:
    """The camera with another focal length, moved along its axis so that the figure keeps its size.

    A keyed camera is moved at each of its keys, by what each needs.

    Raises:
        Refused: no figure is in the frame, or the camera would have to go through it.
    """
    if camera.layers:
        raise Refused(
            f"Camera {camera.letter} is carried by its layers, so it cannot step back by its keys.",
            "Keep its place, or put a size hold on it.",
            field="keep",
        )
    keys = camera.key_frames("pose")
    within = [f for f in keys if f in bake.scene.frames] or [frame]
    span = Frames(first=min(within), last=max(within))
    kept = measure(bake, camera, frame, span, figure)
    before = bake.samples(camera, span)
    was = before.columns.index("focal_mm")
    channels: dict[str, Channel] = {name: getattr(camera, name) for name in ("x", "y", "z")}
    for at in within:
        i = at - span.first
        pose = before.values[i, :6]
        try:
            back = step_back(pose, kept.top[i], kept.bottom[i], float(before.values[i, was]), focal)
        except ValueError:
            raise Refused(
                f"Through {focal:g} mm camera {camera.letter} would have to stand inside {kept.figure.name}.",
                "Take a longer lens, or keep the camera's place.",
                field="focal",
            ) from None
        away = pan_tilt_roll(pose[3:4], pose[4:5], pose[5:6]).apply([0.0, 0.0, 1.0])[0] * back
        for name, delta in zip(channels, away, strict=True):
            channels[name] = _moved(channels[name], at if keys else None, float(delta))
    return changed(camera, focal=camera.focal.at_rest(focal), **channels), kept


def _moved(channel: Channel, frame: int | None, delta: float) -> Channel:
    if frame is None:
        return channel.shifted(delta)
    key = channel.key_at(frame)
    return channel.with_keys(changed(key, value=key.value + delta)) if key else channel


@dataclass(frozen=True)
class Compared:
    """One lens of a comparison.

    Attributes:
        row: camera samples to draw it with, in `CAMERA_COLUMNS` order.
        distance_m: from the lens to the middle of what is measured, along the axis.
        behind: how large a thing `BEHIND_M` behind the figure is beside the same thing at the figure.
    """

    focal_mm: float
    row: list[float]
    distance_m: float
    behind: float
    figure: str
    part: str


def usual_lenses(scene: Scene) -> list[float]:
    """Focal lengths to compare before anyone chooses: the kit's primes nearest to a wide, a normal and a long one."""
    primes = [lens.shortest_mm for lens in scene.lenses if lens.prime]
    near = [min(primes, key=lambda mm: abs(mm - wanted), default=wanted) for wanted in USUAL_MM]
    return list(dict.fromkeys(near))


def compare(
    bake: Bake, camera: Camera, focals: list[float], frame: int, figure: str | None
) -> list[Compared]:
    """The same figure at the same size through several lenses.

    Raises:
        Refused: as `keep_size`.
    """
    one, out = Frames(first=frame, last=frame), []
    here = bake.samples(camera, one).at(frame)
    pose = {n: Channel(rest=here[n]) for n in POSE}
    still = changed(camera, focal=Channel(rest=here["focal_mm"]), layers=(), **pose)
    for focal in focals:
        moved, kept = keep_size(bake, still, focal, frame, figure)
        samples = bake.samples(moved, one)
        deep = float(project(samples, (kept.top + kept.bottom) / 2).depth[0])
        share = deep / (deep + BEHIND_M)
        out.append(Compared(focal, samples.values[0].tolist(), deep, share, kept.figure.name, kept.part))
    return out
