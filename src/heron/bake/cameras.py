"""Cameras: pose, lens, field of view, focus and exposure."""

from typing import Any

import numpy as np

from heron.bake.kind import Baking
from heron.bake.samples import Floats, between
from heron.curves import evaluate
from heron.curves import jumps as channel_jumps
from heron.model import changed, fingerprint
from heron.optics import (
    KitLens,
    circle_of_confusion,
    drawn_pupil,
    exposure_value,
    field_of_view,
    hyperfocal,
    open_over,
    sharp_limits,
    shutter_seconds,
)
from heron.optics.focus import nearest_possible
from heron.optics.view import LONGEST_MM, SHORTEST_MM, back_over_gate, gate_size
from heron.rigs import base_pose, pull_focus
from heron.rigs.context import RigContext
from heron.rigs.describe import clause
from heron.rigs.rigged import Rigged
from heron.rigs.stack import run
from heron.scene.camera import POSE, Camera
from heron.scene.document import called, spot_called
from heron.scene.focus import AtDistance, FocusOn, Pulled
from heron.scene.layers import STAGES, Carrier, in_order
from heron.scene.limits import breaches, mounted_lens
from heron.scene.links import links
from heron.scene.lookup import find
from heron.stage.reference import OnCamera, OnFigure
from heron.stage.turning import pan_tilt_roll
from heron.timebase import Frames, parse_rate

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
    # How far the sun has gone round with it, in its own picture alone.
    "sun_turn_deg",
    # What it watches, metres on the stage; `watches` is 1 where an aim acts, else 0.
    "watches",
    "subject_x",
    "subject_y",
    "subject_z",
    # For how many frames before and after each the shutter is open for it.
    "open_before",
    "open_after",
)


def content(camera: Camera, aspect: str) -> str:
    """The fingerprint of its own content; of its pose alone when only its place counts."""
    if aspect == "place" and not camera.goes_by_sight:
        places = [layer for layer in camera.layers if STAGES[layer.kind] == 0 and not layer.off]
        return fingerprint([camera.channel(name) for name in POSE], places)
    return camera.digest


def reads(bake: Baking, camera: Camera, aspect: str) -> tuple[Any, ...]:
    """What of the scene it depends on."""
    scene = bake.scene
    if aspect == "place" and not camera.goes_by_sight:
        return (scene.frames, scene.rate) if camera.layers else (scene.frames,)
    # The names of what it depends on are in its sentence.
    names = [called(item) for link in links(camera) if (item := bake.item(link)) and camera.layers]
    return (scene.frames, scene.delivery.aspect, scene.rate, scene.surround.light_ev, names)


def pose(bake: Baking, camera: Camera, t: np.ndarray[Any, Any]) -> Floats:
    """(n, 6): x, y, z in metres on the stage, then pan, tilt, roll in degrees, unwrapped."""
    if not camera.layers:
        return base_pose(camera, t)
    return _rigged(bake, camera, t)[:, :6]


def _rigged(bake: Baking, camera: Camera, t: np.ndarray[Any, Any]) -> Floats:
    """(n, 12): pose under its layers, focal length, turn of the sun, whether it watches, and what (x, y, z)."""
    whole = bake.cache.get("rig rows", bake.key(camera), lambda: _columns(bake.made(camera)))
    return between(whole, bake.scene.frames.first, t, jumps(bake, camera))


def _columns(rigged: Rigged) -> Floats:
    return np.column_stack([*rigged.pose, rigged.focal, rigged.sun, rigged.watches, rigged.subject])


def make(bake: Baking, camera: Camera) -> Rigged:
    """Its keys and layers over the scene: what has a past runs from its own first frame."""
    return run(camera, rig_context(bake, camera))


def rig_context(bake: Baking, camera: Camera) -> RigContext:
    """What its layers go by."""
    scene = bake.scene
    wide, high = gate_size(camera.lens, scene.delivery.aspect)
    lens = mounted_lens(scene, camera)
    return RigContext(
        scene.frames,
        float(parse_rate(scene.rate)),
        (wide * camera.lens.squeeze, high),
        (lens.shortest_mm, lens.longest_mm) if lens else (SHORTEST_MM, LONGEST_MM),
        bake.track,
        lambda figure: float(find(scene, "figures", figure).stature),
    )


def stops(camera: Camera, t: np.ndarray[Any, Any]) -> Floats:
    """(n,) f-number; between keys it goes evenly in stops."""
    return np.asarray(np.exp2(evaluate(camera.aperture, t) / 2))


def rows(bake: Baking, camera: Camera, t: np.ndarray[Any, Any]) -> Floats:
    """(n, columns) at moments of the scene."""
    scene = bake.scene
    if camera.layers:
        rigged = _rigged(bake, camera, t)
        where, focal, sun, watched = rigged[:, :6], rigged[:, 6], rigged[:, 7], rigged[:, 8:12]
    else:
        where, focal = base_pose(camera, t), evaluate(camera.focal, t)
        sun, watched = np.zeros(len(t)), np.zeros((len(t), 4))
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
    before, after = open_over(t, camera.shutter_deg, bake.jumps(camera), scene.frames)
    # A camera that looks straight down has no band to be seen from above: it is at its own foot.
    level = np.maximum(np.abs(np.cos(np.radians(where[:, 4]))), 1e-6)
    return np.column_stack(
        [
            where, focal, view, aperture, focus, near, far, hyperfocal(focal, aperture, confusion), ev, offset, gain,
            # An anamorphic's bright spots stand upright: narrower across by the squeeze. Common practice.
            pupil / camera.lens.squeeze, pupil, np.full(n, camera.near_m), np.full(n, camera.far_m), near / level, far / level, sun,
            watched, before, after,
        ]
    )  # fmt: skip


def facts(bake: Baking, camera: Camera, frames: Frames, values: Floats) -> dict[str, Any]:
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
        "notes": [list(note) for note in bake.made(camera).notes] if camera.layers else [],
        # Through whose eyes it looks, and from when to when: their own head is not in its picture.
        "eyes": _eyes(camera, scene.frames),
        # The sentence of its layers, each part with the layer it is of.
        "rig": [
            [layer.id, clause(layer, lambda spot: spot_called(scene, spot))]
            for layer in in_order(camera.layers)
        ],
    }


def place(bake: Baking, camera: Camera, spot: OnCamera, t: np.ndarray[Any, Any]) -> Floats:
    """(n, 3) metres: where its lens is."""
    if not camera.layers:
        return base_pose(camera, t)[:, :3]
    # By its place alone, so that two cameras which watch each other do not wait for each other.
    still = changed(
        camera, layers=tuple(one for one in camera.layers if camera.goes_by_sight or STAGES[one.kind] == 0)
    )
    if not still.layers:
        return base_pose(camera, t)[:, :3]
    whole = bake.cache.get(
        "rig place", bake.key(camera, "place"), lambda: _columns(run(still, rig_context(bake, camera)))
    )
    return between(whole, bake.scene.frames.first, t, jumps(bake, camera))[:, :3]


def stance(bake: Baking, camera: Camera, spot: OnCamera) -> tuple[Floats, Floats | None]:
    """How it is turned over the scene: (n,) pan in degrees, and (n, 4) all of it."""
    where = pose(bake, camera, bake.scene.frames.array())
    return where[:, 3], pan_tilt_roll(where[:, 3], where[:, 4], where[:, 5]).quat


def _eyes(camera: Camera, frames: Frames) -> list[list[Any]]:
    """(figure, first frame, last frame) of each layer through somebody's eyes."""
    layers = [one for one in camera.layers if isinstance(one, Carrier) and one.eyes and not one.off]
    return [
        [
            one.on.figure,
            frames.first if one.first is None else one.first,
            frames.last if one.last is None else one.last,
        ]
        for one in layers
        if isinstance(one.on, OnFigure)
    ]


def jumps(bake: Baking, camera: Camera) -> list[int]:
    """Frames on which a held key of any of its channels is followed by another value."""
    own = [frame for _, channel in camera.each() for frame in channel_jumps(channel)]
    # A layer that comes or goes without a blend may take the camera elsewhere from one frame to the next.
    comes = [one.first for one in camera.layers if one.first is not None and not one.blend_in and not one.off]
    return own + comes


def _asked(bake: Baking, camera: Camera, where: Floats, t: np.ndarray[Any, Any]) -> Floats:
    """(n,) what the focus is asked for, 1/m; of things beside or behind the camera, nearer than can be."""
    ahead = pan_tilt_roll(where[:, 3], where[:, 4], where[:, 5]).apply([0.0, 0.0, -1.0])

    def per_m(on: FocusOn) -> Floats:
        if isinstance(on, AtDistance):
            return np.full(len(where), 1 / on.metres if on.metres else 0.0)
        if isinstance(on, Pulled):
            return evaluate(camera.focus.distance, t)
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
