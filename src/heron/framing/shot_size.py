"""How large a shot is, as the trade says it: by the lowest part of the figure that is in the frame."""

from collections.abc import Sequence
from typing import Any

import numpy as np

from heron.bake import Bake, Samples
from heron.framing.project import Seen, project
from heron.scene.camera import Camera
from heron.stage.reference import OnFigure
from heron.stage.skeleton import EYE
from heron.timebase import Frames

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: From the head down: parts of a body, and what a shot is called whose lowest visible part it is (common practice).
BY_LOWEST: tuple[tuple[tuple[str, ...], str], ...] = (
    (("eyes", "chin"), "extreme close-up"),
    (("neck", "shoulder_r", "shoulder_l"), "close-up"),
    (("chest",), "medium close-up"),
    (("spine", "hip_r", "hip_l"), "medium"),
    (("thigh_r", "thigh_l"), "mid-thigh"),
    (("knee_r", "knee_l"), "medium full"),
)
#: Halfway between two joints, where no joint is.
_HALFWAY = {"thigh_r": ("hip_r", "knee_r"), "thigh_l": ("hip_l", "knee_l")}
#: With the feet in it a shot is called by how much of the frame's height the figure takes.
FULL, WIDE = 0.6, 0.2


#: From the closest to the widest.
SIZES = (*(size for _, size in BY_LOWEST), "full", "wide", "extreme wide")


def with_article(size: str) -> str:
    """`a medium`, `an extreme close-up`."""
    return f"an {size}" if size[0] in "aeiou" else f"a {size}"


def seen_of(bake: Bake, here: Samples, figure: str, joints: Sequence[str]) -> Seen:
    """Where (k,) joints of a figure are in a camera, (k, n) for its frames."""
    t = here.frames.array()

    def place(joint: str) -> Floats:
        at = [bake.place(OnFigure(figure=figure, joint=one), t) for one in _HALFWAY.get(joint, (joint,))]
        return at[0] if len(at) == 1 else np.asarray(np.mean(at, axis=0))

    return project(here, np.array([place(joint) for joint in joints]))


def sizes_of(bake: Bake, here: Samples, figure: str) -> np.ndarray[Any, np.dtype[np.int64]]:
    """(n,) how large a camera has a figure whose eyes are in its frame, frame by frame, as places in `SIZES`."""
    parts = [(k, joint) for k, (joints, _) in enumerate(BY_LOWEST) for joint in joints]
    seen = seen_of(bake, here, figure, [*(joint for _, joint in parts), "crown", "sole_r", "sole_l"])
    inside = seen.inside
    size = np.zeros(here.frames.count, dtype=np.int64)
    for (k, _), there in zip(parts, inside[:-3], strict=True):
        size[there] = k
    crown, right, left = seen.y[-3:]
    # A heel that is up behind somebody who walks makes no full shot: the foot that is down counts.
    low = np.where(right <= left, inside[-2], inside[-1])
    share = np.abs(crown - (right + left) / 2) / 2
    whole = np.select(
        [share >= FULL, share >= WIDE], [len(BY_LOWEST), len(BY_LOWEST) + 1], len(BY_LOWEST) + 2
    )
    return np.where(low, whole, size)


def shot_size(bake: Bake, camera: Camera, frame: int) -> tuple[str, str] | None:
    """(the figure's name, the size) of the figure that is focused on, else of the one nearest the frame's middle.

    None when no figure's head is in the frame.
    """
    here = bake.samples(camera, Frames(first=frame, last=frame))
    focused = camera.focus.in_force(frame)
    best: tuple[float, str, str] | None = None
    for figure in bake.scene.visible.figures:
        eyes = seen_of(bake, here, figure.id, ["eyes"])
        if not eyes.inside[0, 0]:
            continue
        aimed = isinstance(focused, OnFigure) and focused.figure == figure.id
        off = -1.0 if aimed else float(np.hypot(eyes.x[0, 0], eyes.y[0, 0]))
        if best is None or off < best[0]:
            best = (off, figure.id, figure.name)
    if best is None:
        return None
    return best[2], SIZES[sizes_of(bake, here, best[1])[0]]


#: Where the lower edge of the frame cuts a body, in shares of stature from the floor, by the size of the shot: never at
#: a joint, but at the bust, the waist, mid-thigh, the shin (common practice).
CUT_AT: dict[str, float] = {
    "extreme close-up": 0.858, "close-up": 0.755, "medium close-up": 0.65, "medium": 0.56, "mid-thigh": 0.41,
    "medium full": 0.2,
}  # fmt: skip
#: Short, squat figures are cut at the hips in a medium (common practice): shorter than this, metres, and where.
SQUAT_M, AT_HIPS = 1.45, 0.50
#: Sizes that hold all of a figure: how much of the frame's height it takes.
TAKES: dict[str, float] = {"full": 0.7, "wide": 0.38, "extreme wide": 0.13}
#: The eyes are put on the upper third (common practice).
EYES_AT = 1 / 3


def cut_at(size: str, stature: float) -> float:
    """How high above the floor the frame's lower edge is for a size, metres; below zero where there is floor in it."""
    if size == "medium" and stature < SQUAT_M:
        return AT_HIPS * stature
    if size in CUT_AT:
        return CUT_AT[size] * stature
    # The eyes stay on the upper third: below them two thirds of the frame.
    return (EYE - (1 + EYES_AT) / 2 / TAKES[size]) * stature


#: Two people framed together stay within this share of half the frame's width: common practice.
PAIR_WITHIN = 0.62


def eyes_and_cut(here: Samples, eyes: Floats, stature: float, size: str) -> tuple[Floats, Floats]:
    """(2,) each: where somebody's eyes are in the frame, and where the lower edge is to cut the body of that size.

    Args:
        here: one frame of a camera.
        eyes: (3,) metres on the stage.
    """
    # Who walks is a little lower than who stands: the cut goes with the eyes.
    under = eyes - np.array([0.0, EYE * stature - cut_at(size, stature), 0.0])
    seen = [project(here, point[None]) for point in (eyes, under)]
    a, b = (np.array([one.x[0], one.y[0]]) for one in seen)
    return a, b


def pair_off(found: list[tuple[Floats, Floats]]) -> tuple[float, float, float]:
    """How two people are off being framed together: their middle across, what the higher eyes lack to the upper third,
    and by what factor the camera must be farther, so that the larger one has the size and both are well inside."""
    xs = [float(eyes[0]) for eyes, _ in found]
    top = max(float(eyes[1]) for eyes, _ in found)
    tallest = max(float(eyes[1] - cut[1]) for eyes, cut in found) / (1 + EYES_AT)
    return (max(xs) + min(xs)) / 2, EYES_AT - top, max(tallest, (max(xs) - min(xs)) / 2 / PAIR_WITHIN)
