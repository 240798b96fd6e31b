"""What a camera sees of one figure or two at a frame, for starting rigs to be solved against."""

from typing import Any

import numpy as np

from heron.bake import Samples, draft
from heron.curves import evaluate
from heron.framing.shot_size import EYES_AT, cut_at, eyes_and_cut, pair_off
from heron.model import Id
from heron.optics import gate_size
from heron.scene import Camera, Scene, find
from heron.scene.links import links
from heron.stage.figure import Figure
from heron.stage.reference import OnFigure
from heron.stage.skeleton import EYE
from heron.timebase import Frames

Floats = np.ndarray[Any, np.dtype[np.float64]]


def on_floor(place: Floats) -> tuple[float, float]:
    """x and z, metres, of a place (3,)."""
    return float(place[0]), float(place[2])


class FiguresInFrame:
    """A camera, whom it is of, and what it sees of them at a frame."""

    def __init__(self, scene: Scene, camera: Id, figures: list[Figure], of: Figure, frame: int) -> None:
        self.scene, self.camera, self.figures, self.of, self.frame = scene, camera, figures, of, frame
        self.bake, self.when = draft(scene), Frames(first=frame, last=frame)
        item: Camera = find(scene, "cameras", camera)
        focal = float(evaluate(item.focal, np.array([frame]))[0])
        wide, high = gate_size(item.lens, scene.delivery.aspect)
        #: How far away the frame is a metre high, and the tangent of half the field across.
        self.per_m, self.half = focal / high, wide * item.lens.squeeze / 2 / focal
        #: How far away a medium of whom it is of is shot from.
        self.usual_m = (EYE * of.stature - cut_at("medium", of.stature)) * 2 / (1 + EYES_AT) * self.per_m

    def at(self, spot: OnFigure) -> Floats:
        """(3,) metres: where something is at the frame."""
        return np.asarray(self.bake.place(spot, self.when.array())[0])

    def heads(self) -> tuple[Floats, Floats]:
        """(3,) metres each: the middle of the near one's head, and the far one's eyes."""
        near, far = self.figures
        return self.at(OnFigure(figure=near.id, joint="head")), self.at(OnFigure(figure=far.id, joint="eyes"))

    def _samples(self, scene: Scene) -> Samples:
        return draft(scene).samples(find(scene, "cameras", self.camera), self.when)

    def place(self, scene: Scene) -> Floats:
        """(3,) metres: where the lens is."""
        return np.asarray(self._samples(scene).values[0, :3])

    def focal(self, scene: Scene) -> float:
        """Millimetres."""
        return float(self._samples(scene).at(self.frame)["focal_mm"])

    def away(self, scene: Scene) -> float:
        """Metres from the lens to the eyes of whom it is of."""
        eyes = self.at(OnFigure(figure=self.of.id, joint="eyes"))
        return float(np.linalg.norm(self.place(scene) - eyes))

    def _found(self, scene: Scene, figure: Figure, size: str) -> tuple[Floats, Floats]:
        eyes = self.at(OnFigure(figure=figure.id, joint="eyes"))
        return eyes_and_cut(self._samples(scene), eyes, figure.stature, size)

    def one(self, scene: Scene, x: float, size: str) -> tuple[float, float, float]:
        """How far to the right and up the eyes must go, and by what factor the distance is to grow."""
        eyes, cut = self._found(scene, self.of, size)
        return x - float(eyes[0]), EYES_AT - float(eyes[1]), float(eyes[1] - cut[1]) / (1 + EYES_AT)

    def pair(self, scene: Scene, size: str) -> tuple[float, float]:
        """How far up two people must go, the higher eyes on the upper third, and how the distance is to grow."""
        _, up, grow = pair_off([self._found(scene, f, size) for f in self.figures])
        return up, grow

    def side(self) -> int:
        """On which side of the line from the first to the second figure: 1 to its right as seen from above.

        The side of another camera that depends on both, else the one this camera is on.
        """
        a, b = (on_floor(self.at(OnFigure(figure=f.id, joint="head"))) for f in self.figures)
        ids = {figure.id for figure in self.figures}

        def on(camera: Camera) -> float:
            x, _, z = self.bake.rows(camera, self.when.array())[0, :3]
            return (b[0] - a[0]) * (float(z) - a[1]) - (b[1] - a[1]) * (float(x) - a[0])

        for other in self.scene.cameras:
            by = {link.id for one in other.layers if not one.off for link in links(one)}
            if other.id != self.camera and ids <= by and abs(on(other)) > 1e-3:
                return 1 if on(other) > 0 else -1
        return 1 if on(find(self.scene, "cameras", self.camera)) >= 0 else -1
