"""Scene to samples, by content: what has not changed is not computed again.

The cache key of a thing's samples is the fingerprint of everything they depend on, so
moving one key of a camera bakes that camera and nothing else.
"""

import json
import math
import struct
from collections import Counter, OrderedDict, deque
from dataclasses import dataclass
from typing import Any

import numpy as np

from heron.curves import evaluate
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
from heron.scene.camera import Camera
from heron.scene.document import Scene
from heron.scene.focus import AtDistance, AtPoint, FocusOn, OnMover, OnPiece, OnThing
from heron.scene.limits import breaches, mounted_lens
from heron.scene.lookup import find
from heron.stage.body import INDEX, JOINTS, Performance, perform
from heron.stage.figure import Figure
from heron.stage.mover import MIDDLE, Mover
from heron.stage.piece import WALKABLE, Piece, place_on, walkable_height
from heron.stage.turning import pan_tilt_roll
from heron.timebase import Frames, parse_rate

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: Raise it when a computation changes, so that caches outside the process are dropped.
BAKE_VERSION = 2
CAMERA_COLUMNS = (
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
)
MOVER_COLUMNS = ("x", "y", "z", "pan", "tilt", "roll")
FIGURE_COLUMNS = (
    "x", "y", "z", "heading", "lift", *(f"{j.name}.{c}" for j in JOINTS for c in "xyzw"),
)  # fmt: skip


@dataclass(frozen=True)
class Samples:
    """A thing over frames: (n, columns) float64, and what it says about itself."""

    columns: tuple[str, ...]
    frames: Frames
    values: Floats
    facts: dict[str, Any]

    def at(self, frame: int) -> dict[str, float]:
        """The values at a frame by column name."""
        row = self.values[frame - self.frames.first]
        return {name: float(v) for name, v in zip(self.columns, row, strict=True)}

    def packed(self) -> bytes:
        """Wire form: header length (uint32), JSON header padded to 4 bytes, float32 rows.

        Columns that never change are said once, in the header's `still`; rows hold the others.
        """
        values = self.values.astype("<f4")
        moving = np.flatnonzero(np.any(values != values[0], axis=0))
        still = {i: float(v) for i, v in enumerate(values[0]) if i not in set(moving.tolist())}
        header = {
            "still": still,
            "columns": self.columns, "first": self.frames.first, "last": self.frames.last, "facts": self.facts,
        }  # fmt: skip
        text = json.dumps(header).encode()
        text += b" " * (-len(text) % 4)
        return struct.pack("<I", len(text)) + text + np.ascontiguousarray(values[:, moving]).tobytes()


def camera_samples(scene: Scene, camera: Camera, frames: Frames, baker: "Baker | None" = None) -> Samples:
    """Pose, lens, field of view, focus and exposure of a camera at each frame.

    Args:
        frames: within the scene's.
        baker: where the figures it is focused on may already be baked.
    """
    t = frames.array()
    pose = base_pose(camera, t)
    focal = evaluate(camera.focal, t)
    view = field_of_view(camera.lens, scene.delivery.aspect, focal)
    aperture = stops(camera, t)
    asked = _focus(scene, camera, pose, frames, baker or Baker())
    focus = np.minimum(asked, 1 / nearest_possible(1.0) / focal)
    confusion = circle_of_confusion(camera.lens.back, camera.confusion_mm)
    near, far = sharp_limits(focal, aperture, focus, confusion)
    seconds = shutter_seconds(camera.shutter_deg, float(parse_rate(scene.rate)))
    ev = exposure_value(aperture, seconds, camera.iso)
    offset = evaluate(camera.exposure, t)
    gain = np.exp2(scene.surround.light_ev - ev + offset)
    pupil = drawn_pupil(focal, aperture, focus)
    lens = mounted_lens(scene, camera)
    n = len(t)
    values = np.column_stack(
        [
            pose, focal, view, aperture, focus, near, far, hyperfocal(focal, aperture, confusion), ev, offset, gain,
            # An anamorphic's bright spots stand upright: narrower across by the squeeze. Common practice.
            pupil / camera.lens.squeeze, pupil, np.full(n, camera.near_m), np.full(n, camera.far_m),
        ]
    )  # fmt: skip
    facts = {
        "keys": camera.key_frames(), "confusion_mm": confusion, "blades": lens.blades if lens else 0,
        "back_over_gate": back_over_gate(camera.lens, scene.delivery.aspect),
        "forced": breaches(scene, camera), "too_near": _too_near(lens, focal, asked, frames),
    }  # fmt: skip
    return Samples(CAMERA_COLUMNS, frames, values, facts)


def stops(camera: Camera, frames: np.ndarray[Any, Any]) -> Floats:
    """(n,) f-number at each frame; between keys it goes evenly in stops."""
    return np.asarray(np.exp2(evaluate(camera.aperture.mapped(math.log2), frames)))


def _focus(scene: Scene, camera: Camera, pose: Floats, frames: Frames, baker: "Baker") -> Floats:
    """(n,) what the focus is asked for, 1/m; of things beside or behind the camera, nearer than can be."""
    ahead = pan_tilt_roll(pose[:, 3], pose[:, 4], pose[:, 5]).apply([0.0, 0.0, -1.0])

    def per_m(on: FocusOn) -> Floats:
        if isinstance(on, AtDistance):
            return np.full(len(pose), 1 / on.metres if on.metres else 0.0)
        along = np.sum((baker.place(scene, on, frames) - pose[:, :3]) * ahead, axis=-1)
        return np.asarray(1 / np.maximum(along, 1e-3))

    return pull_focus(camera.focus, frames.array(), per_m)


def _too_near(lens: KitLens | None, focal: Floats, asked: Floats, frames: Frames) -> list[int]:
    """First and last frame at which the focus is nearer than the lens can; empty when never."""
    nearest = np.maximum(lens.nearest_m if lens else 0.0, nearest_possible(1.0) * focal)
    found = np.flatnonzero(asked * nearest > 1 + 1e-9)
    return [frames.first + int(found[0]), frames.first + int(found[-1])] if len(found) else []


def mover_samples(mover: Mover, frames: Frames) -> Samples:
    """Pose of a mover at each frame."""
    return Samples(MOVER_COLUMNS, frames, base_pose(mover, frames.array()), {})


def _bytes(result: Any) -> int:
    """How much memory a result's arrays take."""
    arrays = [result] if isinstance(result, np.ndarray) else vars(result).values()
    return sum(v.nbytes for v in arrays if isinstance(v, np.ndarray))


class Baker:
    """Bakes things of scenes and keeps the newest results.

    Attributes:
        baked: how often each kind of thing was really computed.
    """

    def __init__(self, keep_bytes: int = 1_500_000_000) -> None:
        self._kept: OrderedDict[str, Any] = OrderedDict()
        self._most, self._held = keep_bytes, 0
        self.baked: Counter[str] = Counter()

    def _once(self, kind: str, key: str, make: Any) -> Any:
        if key in self._kept:
            self._kept.move_to_end(key)
            return self._kept[key]
        self.baked[kind] += 1
        result = self._kept[key] = make()
        self._held += _bytes(result)
        while self._held > self._most and len(self._kept) > 1:
            self._held -= _bytes(self._kept.popitem(last=False)[1])
        return result

    def camera(self, scene: Scene, camera: Camera) -> Samples:
        """A camera over the scene's frames."""
        made: Samples = self._once(
            "camera", camera_key(scene, camera), lambda: camera_samples(scene, camera, scene.frames, self)
        )
        return made

    def mover(self, scene: Scene, mover: Mover) -> Samples:
        """A mover over the scene's frames."""
        made: Samples = self._once(
            "mover", mover_key(scene, mover), lambda: mover_samples(mover, scene.frames)
        )
        return made

    def performance(self, scene: Scene, figure: Figure) -> Performance:
        """A figure over the scene's frames."""

        def make() -> Performance:
            return perform(
                figure,
                lambda p: walkable_height(scene.pieces, p),
                scene.frames,
                float(parse_rate(scene.rate)),
            )

        made: Performance = self._once("figure", figure_key(scene, figure), make)
        return made

    def place(self, scene: Scene, on: AtPoint | OnThing, frames: Frames) -> Floats:
        """(n, 3) metres on the stage: where a thing is over frames of the scene."""
        if isinstance(on, AtPoint):
            return np.tile([on.x, on.y, on.z], (frames.count, 1))
        if isinstance(on, OnPiece):
            spot = place_on(find(scene, "pieces", on.piece), on.across, on.up, on.along)
            return np.tile(spot, (frames.count, 1))
        if isinstance(on, OnMover):
            mover = find(scene, "movers", on.mover)
            pose = base_pose(mover, frames.array())
            turned = pan_tilt_roll(pose[:, 3], pose[:, 4], pose[:, 5]).apply(MIDDLE[mover.shape])
            return np.asarray(pose[:, :3] + turned)
        figure = find(scene, "figures", on.figure)
        there: Floats = self._once(
            "landmark", f"{figure_key(scene, figure)}/{on.joint}",
            lambda: self.performance(scene, figure).landmark(on.joint, figure.stature),
        )  # fmt: skip
        return there[frames.first - scene.frames.first : frames.stop - scene.frames.first]

    def figure(self, scene: Scene, figure: Figure) -> Samples:
        """A figure over the scene's frames, as the desk draws it."""
        done = self.performance(scene, figure)
        turns = done.turns.reshape(len(done.turns), -1)
        pose = done.poses[:, INDEX["root"]]
        heading = np.degrees(np.unwrap(2 * np.arctan2(pose[:, 1], pose[:, 3])))
        values = np.column_stack([done.root, heading, done.pelvis[:, 1], turns])
        return Samples(FIGURE_COLUMNS, scene.frames, values, {"acts": done.facts})


def camera_key(scene: Scene, camera: Camera) -> str:
    """The fingerprint of all a camera's samples depend on."""
    own = camera.model_dump(mode="json", exclude={"name", "letter", "hidden", "locked"})
    things = camera.focus.things()
    followed = [figure_key(scene, f) for f in scene.figures if f.id in things]
    followed += [mover_key(scene, m) for m in scene.movers if m.id in things]
    followed += [fingerprint(p) for p in scene.pieces if p.id in things]
    lens = mounted_lens(scene, camera)
    return fingerprint(
        "camera", BAKE_VERSION, own, scene.frames, scene.delivery.aspect, scene.rate,
        scene.surround.light_ev, lens, followed,
    )  # fmt: skip


def mover_key(scene: Scene, mover: Mover) -> str:
    """The fingerprint of all a mover's samples depend on."""
    return fingerprint(
        "mover", BAKE_VERSION, mover.model_dump(mode="json", exclude={"name", "colour"}), scene.frames
    )


def figure_key(scene: Scene, figure: Figure) -> str:
    """The fingerprint of all a figure's samples depend on: itself and the floor it can meet."""
    own = figure.model_dump(mode="json", exclude={"name", "look"})
    return fingerprint("figure", BAKE_VERSION, own, _floor_key(scene.pieces), scene.frames, scene.rate)


#: The newest sets of pieces with the fingerprint of the floor in them; scenes share what did not change.
_FLOORS: deque[tuple[tuple[Piece, ...], str]] = deque(maxlen=8)


def _floor_key(pieces: tuple[Piece, ...]) -> str:
    for known, key in tuple(_FLOORS):
        if known is pieces:
            return key
    floor = [
        p.model_dump(mode="json", exclude={"name", "colour", "group"}) for p in pieces if p.kind in WALKABLE
    ]
    key = fingerprint("floor", floor)
    _FLOORS.appendleft((pieces, key))
    return key
