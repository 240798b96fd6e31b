"""What moved in each camera's picture when the stage changed under it: placement, size, focus, what is in the way."""

from typing import Any, Literal

import numpy as np

from heron.bake import Bake
from heron.framing.project import Seen, project
from heron.model import Model
from heron.optics import blur_mm
from heron.scene.camera import Camera
from heron.scene.layers import Aim
from heron.stage.figure import Figure
from heron.stage.rays import meets
from heron.stage.reference import OnFigure

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: Less than this is not reported: of half the frame, of the size, and of the circle of confusion.
PLACEMENT, SIZE, BLUR = 0.02, 0.03, 1.0
#: What is in the way is looked for every so many frames.
_EVERY = 4

What = Literal["placement", "size", "focus", "in the way"]


class Moved(Model):
    """One thing that is otherwise in a camera's picture, at the frame where it is so most.

    `was` and `now` are across the frame for a placement, shares of the frame for a size, and the blur at the eyes in
    circles of confusion for the focus.
    """

    camera: str
    what: What
    figure: str
    frame: int
    was: float
    now: float
    sentence: str


def moved(before: Bake, after: Bake) -> list[Moved]:
    """All that moved in cameras which were not changed themselves, while they are on air, else at any time.

    Each camera is asked about whom it watches, else whom it is focused on, else who was nearest its middle.
    """
    out: list[Moved] = []
    old = {camera.id: camera for camera in before.scene.cameras}
    if before.scene.frames != after.scene.frames:
        return out
    # Most changes are to one camera: then nothing that others see has changed, which their keys say at once.
    people = {f.id: after.key(f) for f in after.scene.figures}
    same = _solids(before) == _solids(after) and people == {f.id: before.key(f) for f in before.scene.figures}
    for camera in after.scene.cameras:
        was = old.get(camera.id)
        if was is None or was.digest != camera.digest:
            continue
        if same and before.key(was) == after.key(camera):
            continue
        spot = _of(before, was)
        figure = next((f for f in after.scene.figures if spot and f.id == spot.figure), None)
        if spot is None or figure is None:
            continue
        older = next((f for f in before.scene.figures if f.id == figure.id), figure)
        out += _compared(before, after, (was, camera), (older, figure), spot)
    return out


def _solids(bake: Bake) -> list[str]:
    return [piece.digest for piece in bake.scene.pieces]


def _of(bake: Bake, camera: Camera) -> OnFigure | None:
    """Whom a camera is of, and which place on them it puts in the frame."""
    figures = {figure.id for figure in bake.scene.figures}
    watched = [s for layer in camera.layers if isinstance(layer, Aim) and not layer.off for s in layer.at]
    focused = [camera.focus.on, *(mark.on for mark in camera.focus.marks)]
    for spot in [*watched, *focused]:
        if isinstance(spot, OnFigure) and spot.figure in figures:
            return spot
    best: tuple[float, OnFigure] | None = None
    for figure in bake.scene.figures:
        eyes = OnFigure(figure=figure.id, joint="eyes")
        seen = project(bake.samples(camera), _place(bake, eyes))
        if seen.inside.any():
            off = float(np.hypot(seen.x[seen.inside], seen.y[seen.inside]).min())
            if best is None or off < best[0]:
                best = (off, eyes)
    return best[1] if best else None


def _place(bake: Bake, spot: OnFigure) -> Floats:
    return bake.place(spot, bake.scene.frames.array())


def _on_air(bake: Bake, camera: Camera) -> np.ndarray[Any, np.dtype[np.bool_]]:
    """(n,) the scene's frames on which the cut shows it; all of them where it never does."""
    frames = bake.scene.frames
    out = np.zeros(frames.count, dtype=bool)
    for shot in bake.scene.shots:
        if shot.camera == camera.id:
            first, stop = max(shot.stage.first, frames.first), min(shot.stage.stop, frames.stop)
            out[max(first - frames.first, 0) : max(stop - frames.first, 0)] = True
    return out if out.any() else ~out


def _compared(
    before: Bake,
    after: Bake,
    pair: tuple[Camera, Camera],
    figures: tuple[Figure, Figure],
    spot: OnFigure,
) -> list[Moved]:
    camera, figure = pair[1], figures[1]
    first = after.scene.frames.first
    air = _on_air(after, camera)
    old, new = (_seen(b, c, f, spot) for b, c, f in zip((before, after), pair, figures, strict=True))
    # Only where it was in the picture: what was never seen cannot be seen to move.
    there = air & old["seen"].inside
    found: list[Moved] = []

    def add(what: What, by: Floats, least: float, values: str, words: Any) -> None:
        off = np.where(there & np.isfinite(by), by, 0.0)
        i = int(np.argmax(off))
        if off[i] > least:
            a, b = float(old[values][i]), float(new[values][i])
            found.append(
                Moved(
                    camera=camera.id, what=what, figure=figure.id, frame=first + i,
                    was=round(a, 3), now=round(b, 3) if np.isfinite(b) else 0.0, sentence=words(i, a, b),
                )
            )  # fmt: skip

    a, b = old["seen"], new["seen"]
    gone = there & ~b.inside
    by = np.hypot(b.x - a.x, b.y - a.y)
    by = np.where(gone, 10.0, by)
    name = figure.name

    def placed(i: int, _: float, __: float) -> str:
        if gone[i]:
            return f"{name} is no longer in the frame at {first + i}"
        return (
            f"{name} sits at {b.x[i]:.2f} across, {b.y[i]:.2f} up at {first + i}, "
            f"not at {a.x[i]:.2f}, {a.y[i]:.2f}"
        )

    add("placement", by, PLACEMENT, "x", placed)
    ratio = new["size"] / old["size"]
    both = np.where(b.inside, np.abs(np.log(ratio)), 0.0)
    add(
        "size", both, SIZE, "size",
        lambda i, *_: (
            f"{name} is {abs(ratio[i] - 1) * 100:.0f} % {'larger' if ratio[i] > 1 else 'smaller'} at {first + i}"
        ),
    )  # fmt: skip
    softer = np.where(b.inside & (new["blur"] > BLUR), new["blur"] - old["blur"], 0.0)
    add("focus", softer, 0.25, "blur", lambda i, *_: f"{name}'s eyes are no longer sharp at {first + i}")
    _in_the_way(before, after, old, new, there & b.inside, add, name, first)
    return found


def _seen(bake: Bake, camera: Camera, figure: Figure, spot: OnFigure) -> dict[str, Any]:
    here = bake.samples(camera)
    seen: Seen = project(here, _place(bake, spot))
    eyes = _place(bake, OnFigure(figure=figure.id, joint="eyes"))
    deep = np.maximum(project(here, eyes).depth, 1e-3)
    high = np.tan(np.radians(here.column("vertical_deg")) / 2) * 2 * deep
    per_m = 1 / deep
    blur = blur_mm(here.column("focal_mm"), here.column("aperture"), here.column("focus_per_m"), per_m)
    return {
        "seen": seen, "eyes": eyes, "at": here.values[:, :3], "x": seen.x,
        "size": figure.stature / high, "blur": blur / here.facts["confusion_mm"],
    }  # fmt: skip


def _in_the_way(
    before: Bake, after: Bake, old: Any, new: Any, there: Any, add: Any, name: str, first: int
) -> None:
    """What a line from the lens to the eyes meets now and did not before."""
    looked = np.zeros(len(there), dtype=bool)
    looked[::_EVERY] = True
    found: dict[int, str] = {}
    for i in np.flatnonzero(there & looked):
        now = _first_met(after, new["at"][i], new["eyes"][i])
        if now is not None and _first_met(before, old["at"][i], old["eyes"][i]) is None:
            found[int(i)] = now
    if found:
        blocked = np.array([float(i in found) for i in range(len(there))])
        add("in the way", blocked, 0.5, "x", lambda i, *_: f"{found[i]} hides {name}'s eyes at {first + i}")


def _first_met(bake: Bake, at: Floats, eyes: Floats) -> str | None:
    way = eyes - at
    hits = [
        (far, piece.name)
        for piece in bake.scene.pieces
        if (far := meets(piece, at, way)) is not None and far < 1
    ]
    return min(hits)[1] if hits else None
