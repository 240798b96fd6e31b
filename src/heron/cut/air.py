"""On air and off air: where a camera is used by a shot of the cut, and where it is free to go elsewhere."""

from dataclasses import dataclass

import numpy as np

from heron.curves import evaluate
from heron.scene.camera import POSE, Camera
from heron.scene.document import Scene
from heron.timebase import Frames

#: A camera that moves by less than this a frame stands still: metres, and ten times as many degrees.
_STILL_M = 1e-4


@dataclass(frozen=True)
class RunsOn:
    """A move that begins where a camera is off air and runs on into a shot.

    Attributes:
        first, last: the frames of the move.
        shot: the name of the shot it runs on into.
    """

    first: int
    last: int
    shot: str

    @property
    def sentence(self) -> str:
        """That in plain words."""
        return f"It is already on the move as shot {self.shot} begins: from {self.first}, off air, to {self.last}"


def on_air(scene: Scene, camera: str) -> list[Frames]:
    """The stage frames on which a camera is used, in order, joined where they touch."""
    spans = sorted((s.stage.first, s.stage.last) for s in scene.shots if s.camera == camera)
    out: list[Frames] = []
    for first, last in spans:
        if out and first <= out[-1].last + 1:
            out[-1] = Frames(first=out[-1].first, last=max(out[-1].last, last))
        else:
            out.append(Frames(first=first, last=last))
    return out


def off_air(scene: Scene, camera: str) -> list[Frames]:
    """The frames of the scene on which no shot uses a camera; none where no shot ever does."""
    used = on_air(scene, camera)
    if not used:
        return []
    edges = [
        scene.frames.first - 1,
        *(f for span in used for f in (span.first, span.last)),
        scene.frames.stop,
    ]
    gaps = [(edges[i] + 1, edges[i + 1] - 1) for i in range(0, len(edges), 2)]
    return [Frames(first=first, last=last) for first, last in gaps if first <= last]


def next_on_air(scene: Scene, off: Frames) -> int | None:
    """The frame on which a camera that is off air is used again; None where that is never."""
    return None if off.last == scene.frames.last else off.stop


def runs_on(scene: Scene, camera: Camera) -> list[RunsOn]:
    """Moves by keys that begin off air and run on into a shot, in order."""
    found = []
    starts = {shot.stage.first: shot.name for shot in reversed(scene.shots) if shot.camera == camera.id}
    for span in on_air(scene, camera.id):
        if span.first == scene.frames.first or span.first not in starts:
            continue
        spans = [
            (a.frame, b.frame)
            for name in POSE
            for a, b in zip(camera.channel(name).keys, camera.channel(name).keys[1:], strict=False)
            if a.frame < span.first < b.frame and a.after != "held" and _moves(camera, name, span.first)
        ]
        if spans:
            found.append(RunsOn(min(a for a, _ in spans), max(b for _, b in spans), starts[span.first]))
    return found


def _moves(camera: Camera, name: str, frame: int) -> bool:
    least = _STILL_M if name in POSE[:3] else 10 * _STILL_M
    values = evaluate(camera.channel(name), np.array([frame - 1, frame]))
    return abs(float(values[1] - values[0])) > least
