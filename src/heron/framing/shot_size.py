"""How large a shot is, as the trade says it: by the lowest part of the figure that is in the frame."""

import numpy as np

from heron.bake import Bake
from heron.framing.project import project
from heron.scene.camera import Camera
from heron.stage.reference import OnFigure
from heron.timebase import Frames

#: From the head down: parts of a body, and what a shot is called whose lowest visible part it is (common practice).
BY_LOWEST: tuple[tuple[tuple[str, ...], str], ...] = (
    (("eyes", "chin"), "extreme close-up"),
    (("neck", "shoulder_r", "shoulder_l"), "close-up"),
    (("chest",), "medium close-up"),
    (("spine", "hip_r", "hip_l"), "medium"),
    (("knee_r", "knee_l"), "medium full"),
)
#: With the feet in it a shot is called by how much of the frame's height the figure takes.
FULL, WIDE = 0.6, 0.2


def shot_size(bake: Bake, camera: Camera, frame: int) -> tuple[str, str] | None:
    """(the figure's name, the size) of the figure that is focused on, else of the one nearest the frame's middle.

    None when no figure's head is in the frame.
    """
    one = Frames(first=frame, last=frame)
    here = bake.samples(camera, one)

    def seen(figure: str, joint: str) -> tuple[float, float, bool]:
        found = project(here, bake.place(OnFigure(figure=figure, joint=joint), np.array([frame])))
        return float(found.x[0]), float(found.y[0]), bool(found.inside[0])

    focused = camera.focus.in_force(frame)
    best: tuple[float, str, str] | None = None
    for figure in bake.scene.figures:
        x, y, inside = seen(figure.id, "eyes")
        if not inside:
            continue
        off = -1.0 if isinstance(focused, OnFigure) and focused.figure == figure.id else float(np.hypot(x, y))
        if best is None or off < best[0]:
            best = (off, figure.id, figure.name)
    if best is None:
        return None
    _, id_, name = best
    soles = [seen(id_, joint) for joint in ("sole_r", "sole_l")]
    if any(inside for *_, inside in soles):
        share = abs(seen(id_, "crown")[1] - (soles[0][1] + soles[1][1]) / 2) / 2
        return name, "full" if share >= FULL else "wide" if share >= WIDE else "extreme wide"
    size = BY_LOWEST[0][1]
    for joints, called in BY_LOWEST:
        if any(seen(id_, joint)[2] for joint in joints):
            size = called
    return name, size
