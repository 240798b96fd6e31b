"""What moved in each camera's picture when the stage changed under it: placement, size, focus, what is in the way."""

from typing import Any, Literal

import numpy as np

from heron.bake import Bake
from heron.framing.project import Seen, project
from heron.model import Model
from heron.optics import blur_mm
from heron.scene.camera import Camera
from heron.scene.layers import Aim
from heron.scene.links import Aspect
from heron.stage.rays import meets
from heron.stage.reference import OnFigure, OnMover

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: Less than this is not reported: of half the frame, of the size, and of the circle of confusion.
PLACEMENT, SIZE, BLUR = 0.02, 0.03, 1.0
#: What is in the way is looked for every so many frames.
_EVERY = 4

Subject = OnFigure | OnMover
What = Literal["placement", "size", "focus", "in the way"]


class Moved(Model):
    """One thing that is otherwise in a camera's picture, at the frame where it is so most.

    `was` and `now` are across the frame for a placement, shares of the frame for a size, and the blur at the eyes in
    circles of confusion for the focus.
    """

    camera: str
    what: What
    #: The id of the figure or the mover.
    subject: str
    frame: int
    was: float
    now: float
    sentence: str


def moved(before: Bake, after: Bake) -> list[Moved]:
    """All that moved in cameras which were not changed themselves, while they are on air, else at any time.

    Each camera is asked about what it watches, else what it is focused on, else who was nearest its middle; and besides
    about every mover that goes otherwise than before.
    """
    out: list[Moved] = []
    old = {camera.id: camera for camera in before.scene.cameras}
    if before.scene.frames != after.scene.frames:
        return out
    # Most changes are to one camera: then nothing that others see has changed, which their keys say at once.
    people, things = (_changed(before, after, table) for table in ("figures", "movers"))
    same = _solids(before) == _solids(after) and not people and not things
    for camera in after.scene.cameras:
        was = old.get(camera.id)
        if was is None or was.digest != camera.digest:
            continue
        if same and before.key(was) == after.key(camera):
            continue
        subject = _of(before, was)
        for spot in [*([subject] if subject else []), *(one for one in things if one != subject)]:
            found = _compared(before, after, (was, camera), spot)
            # Of what merely passes through its picture it is enough to say where that is now.
            out += found if spot == subject else [one for one in found if one.what == "placement"]
    return out


def _changed(before: Bake, after: Bake, table: Any) -> list[Subject]:
    """Figures or movers that were there before and go otherwise now; what is only held goes with whoever holds it."""
    aspect: Aspect = "rest" if table == "movers" else "whole"
    was = {one.id: before.key(one, aspect) for one in getattr(before.scene, table)}
    there = [
        one for one in getattr(after.scene, table) if was.get(one.id) not in (None, after.key(one, aspect))
    ]
    return [OnMover(mover=one.id) if table == "movers" else OnFigure(figure=one.id) for one in there]


def _solids(bake: Bake) -> list[str]:
    return [piece.digest for piece in bake.scene.pieces]


def _of(bake: Bake, camera: Camera) -> Subject | None:
    """What a camera is of, and which place on it it puts in the frame."""
    there = bake.scene.items()
    watched = [s for layer in camera.layers if isinstance(layer, Aim) and not layer.off for s in layer.at]
    focused = [camera.focus.on, *(mark.on for mark in camera.focus.marks)]
    for spot in [*watched, *focused]:
        if isinstance(spot, OnFigure | OnMover) and _id(spot) in there:
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


def _id(spot: Subject) -> str:
    return spot.mover if isinstance(spot, OnMover) else spot.figure


def _place(bake: Bake, spot: Subject) -> Floats:
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


def _compared(before: Bake, after: Bake, pair: tuple[Camera, Camera], spot: Subject) -> list[Moved]:
    camera, subject = pair[1], after.scene.items().get(_id(spot))
    if subject is None:
        return []
    name = str(subject.name)  # type: ignore[attr-defined]
    first = after.scene.frames.first
    air = _on_air(after, camera)
    old, new = (_seen(bake, one, spot) for bake, one in zip((before, after), pair, strict=True))
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
                    camera=camera.id, what=what, subject=_id(spot), frame=first + i,
                    was=round(a, 3), now=round(b, 3) if np.isfinite(b) else 0.0, sentence=words(i, a, b),
                )
            )  # fmt: skip

    a, b = old["seen"], new["seen"]
    gone = there & ~b.inside
    by = np.hypot(b.x - a.x, b.y - a.y)
    by = np.where(gone, 10.0, by)

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
    eyes, verb = ("'s eyes", "are") if isinstance(spot, OnFigure) else ("", "is")
    softer = np.where(b.inside & (new["blur"] > BLUR), new["blur"] - old["blur"], 0.0)
    add("focus", softer, 0.25, "blur", lambda i, *_: f"{name}{eyes} {verb} no longer sharp at {first + i}")
    _in_the_way(before, after, old, new, there & b.inside, add, name + eyes, first)
    return found


def _seen(bake: Bake, camera: Camera, spot: Subject) -> dict[str, Any]:
    here = bake.samples(camera)
    seen: Seen = project(here, _place(bake, spot))
    # A figure is sharp where its eyes are, and as large as it is tall; a mover does not change its size.
    eyes, tall = seen, 1.0
    place = _place(bake, spot)
    if isinstance(spot, OnFigure):
        place = _place(bake, OnFigure(figure=spot.figure, joint="eyes"))
        eyes, tall = project(here, place), next(f.stature for f in bake.scene.figures if f.id == spot.figure)
    deep = np.maximum(eyes.depth, 1e-3)
    high = np.tan(np.radians(here.column("vertical_deg")) / 2) * 2 * deep
    blur = blur_mm(here.column("focal_mm"), here.column("aperture"), here.column("focus_per_m"), 1 / deep)
    return {
        "seen": seen, "eyes": place, "at": here.values[:, :3], "x": seen.x, "size": tall / high,
        "blur": blur / here.facts["confusion_mm"],
    }  # fmt: skip


def _in_the_way(
    before: Bake, after: Bake, old: Any, new: Any, there: Any, add: Any, name: str, first: int
) -> None:
    """What a line from the lens to the eyes meets now and did not before."""
    looked = np.zeros(len(there), dtype=bool)
    looked[::_EVERY] = True
    found: dict[int, str] = {}
    for i in np.flatnonzero(there & looked):
        now = first_met(after, new["at"][i], new["eyes"][i])
        if now is not None and first_met(before, old["at"][i], old["eyes"][i]) is None:
            found[int(i)] = now
    if found:
        blocked = np.array([float(i in found) for i in range(len(there))])
        add("in the way", blocked, 0.5, "x", lambda i, *_: f"{found[i]} hides {name} at {first + i}")


def first_met(bake: Bake, at: Floats, eyes: Floats) -> str | None:
    """The name of the set piece that a line between two places, (3,) metres, meets first."""
    way = eyes - at
    hits = [
        (far, piece.name)
        for piece in bake.scene.visible.pieces
        if (far := meets(piece, at, way)) is not None and far < 1
    ]
    return min(hits)[1] if hits else None
