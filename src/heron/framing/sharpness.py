"""Which figures are sharp at a frame."""

from typing import Any

import numpy as np

from heron.bake import Bake
from heron.framing.project import project
from heron.model import Model
from heron.optics import blur_mm, gate_size
from heron.scene.camera import Camera
from heron.stage.reference import OnFigure
from heron.timebase import Frames


class FigureFocus(Model):
    """How sharp a figure's eyes are, for a picture `width` pixels wide."""

    figure: str
    distance_m: float
    blur_mm: float
    blur_px: float
    sharp: bool
    #: Nearer or farther than what is in focus, when it is not sharp.
    side: str


def figures_in_focus(bake: Bake, camera: Camera, frame: int, width: int) -> list[FigureFocus]:
    """Every figure whose eyes are in the frame, nearest first."""
    scene = bake.scene
    one = Frames(first=frame, last=frame)
    here = bake.samples(camera, one)
    at: dict[str, Any] = here.at(frame)
    confusion = here.facts["confusion_mm"]
    found = []
    for figure in scene.visible.figures:
        seen = project(here, bake.place(OnFigure(figure=figure.id, joint="eyes"), one.array()))
        if not seen.inside[0]:
            continue
        depth = float(seen.depth[0])
        blur = float(
            blur_mm(
                np.array([at["focal_mm"]]), np.array([at["aperture"]]),
                np.array([at["focus_per_m"]]), np.array([1 / depth]),
            )[0]
        )  # fmt: skip
        pixels = blur / gate_size(camera.lens, scene.delivery.aspect)[1] * width / scene.delivery.aspect
        sharp = blur <= confusion
        side = "" if sharp else "nearer" if 1 / depth > at["focus_per_m"] else "farther"
        found.append(
            FigureFocus(
                figure=figure.name, distance_m=depth, blur_mm=blur, blur_px=pixels, sharp=sharp, side=side
            )
        )
    return sorted(found, key=lambda f: f.distance_m)


def in_words(found: list[FigureFocus]) -> str:
    """Which figures are sharp, as one sentence."""
    if not found:
        return "No figure's eyes are in the frame."
    sharp = [f"{f.figure}" for f in found if f.sharp]
    soft = [f"{f.figure} ({f.side}, {f.blur_px:.0f} px)" for f in found if not f.sharp]
    parts = []
    if sharp:
        parts.append(f"Sharp: {', '.join(sharp)}")
    if soft:
        parts.append(f"Soft: {', '.join(soft)}")
    return ". ".join(parts) + "."
