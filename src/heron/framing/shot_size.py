"""How large a shot is, as the trade says it: by the lowest part of the figure that is in the frame."""

import numpy as np

from heron.bake import Bake
from heron.framing.project import project
from heron.scene.camera import Camera
from heron.stage.reference import OnFigure
from heron.stage.skeleton import EYE
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


#: Where the lower edge of the frame cuts a body, in shares of stature from the floor, by the size of the shot: never at
#: a joint, but at the bust, the waist, the shin (common practice).
CUT_AT: dict[str, float] = {
    "extreme close-up": 0.858, "close-up": 0.755, "medium close-up": 0.65, "medium": 0.56, "medium full": 0.2,
}  # fmt: skip
#: Short, squat figures are cut at the hips in a medium (common practice): shorter than this, metres, and where.
SQUAT_M, AT_HIPS = 1.45, 0.50
#: Sizes that hold all of a figure: how much of the frame's height it takes.
TAKES: dict[str, float] = {"full": 0.7, "wide": 0.38, "extreme wide": 0.13}
#: The eyes are put on the upper third (common practice).
EYES_AT = 1 / 3


def cut_at(size: str, stature: float) -> float:
    """How high above the floor the frame's lower edge is for a size, metres; below nought where there is floor in it."""
    if size == "medium" and stature < SQUAT_M:
        return AT_HIPS * stature
    if size in CUT_AT:
        return CUT_AT[size] * stature
    # The eyes stay on the upper third: below them two thirds of the frame.
    return (EYE - (1 + EYES_AT) / 2 / TAKES[size]) * stature
