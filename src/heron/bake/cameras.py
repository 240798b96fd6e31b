"""Cameras: pose, lens, field of view, focus and exposure."""

from typing import TYPE_CHECKING, Any

import numpy as np

from heron.bake.samples import Floats
from heron.curves import evaluate
from heron.curves import jumps as channel_jumps
from heron.model import fingerprint
from heron.optics import (
    KitLens,
    circle_of_confusion,
    drawn_pupil,
    exposure_value,
    field_of_view,
    hyperfocal,
    sharp_limits,
    shutter_seconds,
)
from heron.optics.focus import nearest_possible
from heron.optics.view import back_over_gate
from heron.rigs import base_pose, pull_focus
from heron.scene.camera import POSE, Camera
from heron.scene.focus import AtDistance, FocusOn
from heron.scene.limits import breaches, mounted_lens
from heron.stage.reference import OnCamera
from heron.stage.turning import pan_tilt_roll
from heron.timebase import Frames, parse_rate

if TYPE_CHECKING:
    from heron.bake.graph import Bake

COLUMNS = (
    "x",
    "y",
    "z",
    "pan",
    "tilt",
    "roll",
    "focal_mm",
    "horizontal_deg",
    "vertical_deg",
    "diagonal_deg",
    # Glass. Distances marked per_m are reciprocals, so that infinity is 0.
    "aperture",
    "focus_per_m",
    "sharp_near_per_m",
    "sharp_far_per_m",
    "hyperfocal_m",
    "exposure_ev",
    "offset_ev",
    "gain",
    "pupil_across_m",
    "pupil_up_m",
    "near_m",
    "far_m",
    # Where the axis meets the planes that bound what is sharp, as seen from above: 1/m along the floor.
    "band_near_per_m",
    "band_far_per_m",
)


def content(camera: Camera, aspect: str) -> str:
    """The fingerprint of its own content; of its pose alone when only its place counts."""
    if aspect == "place":
        return fingerprint([camera.channel(name) for name in POSE])
    return camera.digest


def reads(bake: "Bake", camera: Camera, aspect: str) -> tuple[Any, ...]:
    """What of the scene it depends on."""
    scene = bake.scene
    if aspect == "place":
        return (scene.frames,)
    return (scene.frames, scene.delivery.aspect, scene.rate, scene.surround.light_ev)


def pose(bake: "Bake", camera: Camera, t: np.ndarray[Any, Any]) -> Floats:
    """(n, 6): x, y, z in metres on the stage, then pan, tilt, roll in degrees, unwrapped."""
    return base_pose(camera, t)


def stops(camera: Camera, t: np.ndarray[Any, Any]) -> Floats:
    """(n,) f-number; between keys it goes evenly in stops."""
    return np.asarray(np.exp2(evaluate(camera.aperture, t) / 2))


def rows(bake: "Bake", camera: Camera, t: np.ndarray[Any, Any]) -> Floats:
    """(n, columns) at moments of the scene."""
    scene = bake.scene
    where = pose(bake, camera, t)
    focal = evaluate(camera.focal, t)
    view = field_of_view(camera.lens, scene.delivery.aspect, focal)
    aperture = stops(camera, t)
    focus = np.minimum(_asked(bake, camera, where, t), 1 / nearest_possible(1.0) / focal)
    confusion = circle_of_confusion(camera.lens.back, camera.confusion_mm)
    near, far = sharp_limits(focal, aperture, focus, confusion)
    seconds = shutter_seconds(camera.shutter_deg, float(parse_rate(scene.rate)))
    ev = exposure_value(aperture, seconds, camera.iso)
    offset = evaluate(camera.exposure, t)
    gain = np.exp2(scene.surround.light_ev - ev + offset)
    pupil = drawn_pupil(focal, aperture, focus)
    n = len(t)
    # A camera that looks straight down has no band to be seen from above: it is at its own foot.
    level = np.maximum(np.abs(np.cos(np.radians(where[:, 4]))), 1e-6)
    return np.column_stack(
        [
            where, focal, view, aperture, focus, near, far, hyperfocal(focal, aperture, confusion), ev, offset, gain,
            # An anamorphic's bright spots stand upright: narrower across by the squeeze. Common practice.
            pupil / camera.lens.squeeze, pupil, np.full(n, camera.near_m), np.full(n, camera.far_m), near / level, far / level,
        ]
    )  # fmt: skip


def facts(bake: "Bake", camera: Camera, frames: Frames, values: Floats) -> dict[str, Any]:
    """What it says about itself: its keys, what was forced, where its focus is nearer than it can be."""
    scene = bake.scene
    lens = mounted_lens(scene, camera)
    focus, focal = values[:, COLUMNS.index("focus_per_m")], values[:, COLUMNS.index("focal_mm")]
    return {
        "keys": camera.key_frames(),
        # From which frame on each of the focus marks is in force.
        "focus_from": [mark.frame - mark.over for mark in camera.focus.marks],
        "confusion_mm": circle_of_confusion(camera.lens.back, camera.confusion_mm),
        "blades": lens.blades if lens else 0,
        "back_over_gate": back_over_gate(camera.lens, scene.delivery.aspect),
        "forced": breaches(scene, camera),
        "too_near": _too_near(lens, focal, focus, frames),
    }


def place(bake: "Bake", camera: Camera, spot: OnCamera, t: np.ndarray[Any, Any]) -> Floats:
    """(n, 3) metres: where its lens is."""
    return pose(bake, camera, t)[:, :3]


def jumps(camera: Camera) -> list[int]:
    """Frames on which a held key of any of its channels gives way to another."""
    return [frame for spec in camera.specs() for frame in channel_jumps(camera.channel(spec.name))]


def _asked(bake: "Bake", camera: Camera, where: Floats, t: np.ndarray[Any, Any]) -> Floats:
    """(n,) what the focus is asked for, 1/m; of things beside or behind the camera, nearer than can be."""
    ahead = pan_tilt_roll(where[:, 3], where[:, 4], where[:, 5]).apply([0.0, 0.0, -1.0])

    def per_m(on: FocusOn) -> Floats:
        if isinstance(on, AtDistance):
            return np.full(len(where), 1 / on.metres if on.metres else 0.0)
        along = np.sum((bake.place(on, t) - where[:, :3]) * ahead, axis=-1)
        return np.asarray(1 / np.maximum(along, 1e-3))

    return pull_focus(camera.focus, t, per_m)


def _too_near(lens: KitLens | None, focal: Floats, focus: Floats, frames: Frames) -> list[int]:
    """First and last frame at which the focus is nearer than the lens can; empty when never.

    A focus asked for nearer than can be stands at the nearest possible.
    """
    near = focus * (lens.nearest_m if lens else 0.0) > 1 + 1e-9
    found = np.flatnonzero(near | (focus * nearest_possible(1.0) * focal >= 1 - 1e-12))
    return [frames.first + int(found[0]), frames.first + int(found[-1])] if len(found) else []
