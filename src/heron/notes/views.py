"""What cameras see of people, as flat arrays: one view for each frame."""

from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np

from heron.bake import Bake
from heron.optics import gate_size
from heron.scene import Camera
from heron.stage.body import Performance
from heron.stage.figure import Figure
from heron.stage.skeleton import INDEX
from heron.stage.turning import Turns, pan_tilt_roll
from heron.timebase import Frames

Floats = np.ndarray[Any, np.dtype[np.float64]]
Ints = np.ndarray[Any, np.dtype[np.int64]]
Flags = np.ndarray[Any, np.dtype[np.bool_]]
#: Places on a body that are looked at, each at most as far from a joint as `Performance.landmark` knows.
MARKS = (
    "crown", "eyes", "chin", "neck", "chest", "spine", "pelvis",
    *(f"{joint}_{side}" for side in "rl" for joint in ("shoulder", "elbow", "wrist", "fingertips", "hip", "knee", "ankle", "sole")),
)  # fmt: skip
AT = {name: k for k, name in enumerate(MARKS)}
#: The middle of a head over the joint it turns on, and its top over that middle by what it wears, shares of stature: measured on
#: the lay figure.
MIDDLE = 0.054
TOP = {"none": 0.067, "scarf": 0.071, "bun": 0.077, "cap": 0.084}
#: Half of a head across, shares of stature.
HEAD_HALF = 0.058


@dataclass(frozen=True)
class Views:
    """n views.

    Attributes:
        t: (n,) frames of the stage; place: (n, 3) metres; axes: (n, 3, 3), rows to the right, up and back.
        half: (n, 2) tangents of half the field across and up.
        focal, aperture, focus: (n,) millimetres, f-number, 1/m; near: (n,) metres.
        watched: (n, 3) metres, what is aimed at; NaN where nothing is.
    """

    t: Ints
    place: Floats
    axes: Floats
    half: Floats
    focal: Floats
    aperture: Floats
    focus: Floats
    near: Floats
    watched: Floats
    gate_mm: float

    def local(self, points: Floats) -> Floats:
        """(n, …, 3) metres to the right, up and ahead, of places (n, …, 3)."""
        n = len(self.place)
        off = points.reshape(n, -1, 3) - self.place[:, None]
        out = np.einsum("nmk,njk->nmj", off, self.axes)
        out[..., 2] *= -1
        return np.asarray(out.reshape(points.shape))

    def ways(self, ways: Floats) -> Floats:
        """(n, 3) the same of directions; the last is towards the camera."""
        return np.asarray(np.einsum("nk,njk->nj", ways, self.axes))

    def framed(self, local: Floats) -> Floats:
        """(n, …, 2) where such places are in the frame, −1 to 1, Y up; NaN behind the camera."""
        shape = (len(self.place), *[1] * (local.ndim - 2))
        deep = np.where(local[..., 2] > 1e-3, local[..., 2], np.nan)
        half = self.half.reshape(*shape, 2)
        return np.asarray(local[..., :2] / deep[..., None] / half)


def views(bake: Bake, camera: Camera, frames: Frames) -> Views:
    """Read a camera over some frames."""
    here = bake.samples(camera, frames)
    v = here.values
    turned = pan_tilt_roll(v[:, 3], v[:, 4], v[:, 5])
    n = len(v)
    axes = np.stack([turned.apply(np.tile(one, (n, 1))) for one in np.eye(3)], axis=1)
    watched = np.stack([here.column(f"subject_{axis}") for axis in "xyz"], axis=1)
    watched = np.where(here.column("watches")[:, None] > 0, watched, np.nan)
    return Views(
        frames.array(), v[:, :3], axes, np.tan(np.radians(v[:, 7:9]) / 2), here.column("focal_mm"),
        here.column("aperture"), here.column("focus_per_m"), here.column("near_m"), watched,
        gate_size(camera.lens, bake.scene.delivery.aspect)[1],
    )  # fmt: skip


@dataclass(frozen=True)
class Person:
    """Somebody on the stage over n frames.

    Attributes:
        marks: (n, len(MARKS), 3) metres; middle: (n, 3) the middle of the head.
        gaze: (n, 3) the way both eyes look, of length one.
    """

    figure: Figure
    marks: Floats
    middle: Floats
    gaze: Floats

    @cached_property
    def speed(self) -> Floats:
        """(n, 3) of the pelvis a frame, metres."""
        place = self.marks[:, AT["pelvis"]]
        return np.gradient(place, axis=0) if len(place) > 1 else np.zeros_like(place)

    @property
    def top(self) -> Floats:
        """(n, 3) the top of the head and of what it wears, upright over its middle."""
        return np.asarray(
            self.middle + np.array([0.0, TOP[self.figure.look.headwear] * self.figure.stature, 0.0])
        )


def person(bake: Bake, figure: Figure, t: Ints) -> Person:
    """Read a figure at (n,) frames of the stage."""
    done = bake.performance(figure)
    rows = t - bake.scene.frames.first
    marks = np.stack([done.landmark(name, rows) for name in MARKS], axis=1)
    head = INDEX["head"]
    up = np.array([0.0, MIDDLE * figure.stature, 0.0])
    middle = done.places[rows, head] + Turns(done.poses[rows, head]).apply(up)
    return Person(figure, marks, middle, gaze_of(done, rows))


def gaze_of(done: Performance, rows: Any) -> Floats:
    """(n, 3) the way somebody's eyes look at some of the frames, of length one."""
    ahead = np.array([0.0, 0.0, -1.0])
    looks = sum(Turns(done.poses[rows, INDEX[f"eye_{side}"]]).apply(ahead) for side in "rl")
    return np.asarray(np.asarray(looks) / np.linalg.norm(looks, axis=-1, keepdims=True))
