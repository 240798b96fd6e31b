"""Scene to samples, by content: what has not changed is not computed again.

The cache key of a thing's samples is the fingerprint of everything they depend on, so
moving one key of a camera bakes that camera and nothing else.
"""

import json
import struct
from collections import Counter, OrderedDict
from dataclasses import dataclass
from typing import Any

import numpy as np

from heron.curves import evaluate
from heron.model import fingerprint
from heron.optics import field_of_view
from heron.rigs import base_pose
from heron.scene.camera import Camera
from heron.scene.document import Scene
from heron.stage.body import INDEX, JOINTS, Performance, perform
from heron.stage.figure import Figure
from heron.stage.mover import Mover
from heron.stage.piece import WALKABLE, walkable_height
from heron.timebase import Frames, parse_rate

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: Raise it when a computation changes, so that caches outside the process are dropped.
BAKE_VERSION = 1
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
        """Wire form: header length (uint32), JSON header padded to 4 bytes, float32 rows."""
        header = {
            "columns": self.columns, "first": self.frames.first, "last": self.frames.last, "facts": self.facts,
        }  # fmt: skip
        text = json.dumps(header).encode()
        text += b" " * (-len(text) % 4)
        return struct.pack("<I", len(text)) + text + self.values.astype("<f4").tobytes()


def camera_samples(scene: Scene, camera: Camera, frames: Frames) -> Samples:
    """Pose, lens and field of view of a camera at each frame."""
    t = frames.array()
    focal = evaluate(camera.focal, t)
    view = field_of_view(camera.lens, scene.delivery.aspect, focal)
    values = np.column_stack([base_pose(camera, t), focal, view])
    return Samples(CAMERA_COLUMNS, frames, values, {"keys": camera.key_frames()})


def mover_samples(mover: Mover, frames: Frames) -> Samples:
    """Pose of a mover at each frame."""
    return Samples(MOVER_COLUMNS, frames, base_pose(mover, frames.array()), {})


class Baker:
    """Bakes things of scenes and keeps the newest results.

    Attributes:
        baked: how often each kind of thing was really computed.
    """

    def __init__(self, keep: int = 512) -> None:
        self._kept: OrderedDict[str, Any] = OrderedDict()
        self._keep = keep
        self.baked: Counter[str] = Counter()

    def _once(self, kind: str, key: str, make: Any) -> Any:
        if key in self._kept:
            self._kept.move_to_end(key)
            return self._kept[key]
        self.baked[kind] += 1
        result = self._kept[key] = make()
        if len(self._kept) > self._keep:
            self._kept.popitem(last=False)
        return result

    def camera(self, scene: Scene, camera: Camera) -> Samples:
        """A camera over the scene's frames."""
        made: Samples = self._once(
            "camera", camera_key(scene, camera), lambda: camera_samples(scene, camera, scene.frames)
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
    return fingerprint("camera", BAKE_VERSION, own, scene.frames, scene.delivery.aspect)


def mover_key(scene: Scene, mover: Mover) -> str:
    """The fingerprint of all a mover's samples depend on."""
    return fingerprint(
        "mover", BAKE_VERSION, mover.model_dump(mode="json", exclude={"name", "colour"}), scene.frames
    )


def figure_key(scene: Scene, figure: Figure) -> str:
    """The fingerprint of all a figure's samples depend on: itself and the floor it can meet."""
    floor = [
        p.model_dump(mode="json", exclude={"name", "colour", "group"})
        for p in scene.pieces
        if p.kind in WALKABLE
    ]
    own = figure.model_dump(mode="json", exclude={"name", "look"})
    return fingerprint("figure", BAKE_VERSION, own, floor, scene.frames, scene.rate)
