"""Changes that take a note of a cut away: of the camera that is cut to, or of where the cut is; tried before they are offered."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np

from heron.bake import Bake, draft
from heron.commands.cut_edits import Change, MoveEdges
from heron.commands.cutting import EditCut
from heron.commands.tried import Floats, Tried, nearer, offered, pan_tilt, put
from heron.cut import Placed, lay_out
from heron.framing.composing import aimed, swung
from heron.notes.joints import Side, eyes_at, pair, side
from heron.notes.note import Note, Remedy
from heron.notes.of_camera import notes_of_camera, weight
from heron.notes.of_cut import notes_of_cut
from heron.notes.views import AT
from heron.scene import Scene, find

#: At most this much of other notes may come with it.
_BRINGS = 0.15
#: Degrees round whom the picture is about, the least first; and by what factor the distance changes to another size.
_SWINGS = (12, -12, 18, -18, 24, -24, 30, -30, 40, -40)
_SIZES = (0.62, 1.6, 0.5, 2.0)
#: Where attention goes to, from where it was: shares of half the width, for one person and between two.
_ONE, _TWO = 0.6, 0.8
#: Height angles of a camera that is brought to where eyes meet, degrees.
_LEVELS = (0, 4, -4, 8, -8, 14, -14)
#: A cut is moved so far at most, frames; before the end of a movement by so many.
_FURTHEST_F, _BEFORE_END_F = 24, 4


def remedies_of_cut(scene: Scene, note: Note, most: int) -> list[Remedy]:
    """What takes a note of a cut away, the least change first."""
    shots = set(note.of)
    cameras = {shot.camera for shot in scene.shots if shot.id in shots}
    around = shots | {shot.id for shot in scene.shots if shot.camera in cameras}
    allowed = sum(_weights(scene, around, note).values()) + _BRINGS

    def left(after: Scene) -> dict[str, float] | None:
        weights = _weights(after, around, None)
        if any(kind == note.kind and of == note.of for kind, of, _ in weights):
            return None
        by_kind: dict[str, float] = {}
        for (kind, _, _), value in weights.items():
            by_kind[kind] = by_kind.get(kind, 0.0) + value
        return by_kind

    return offered(scene, _candidates(scene, note), left, allowed, most)


def _weights(
    scene: Scene, around: set[str], without: Note | None
) -> dict[tuple[str, tuple[str, ...], int], float]:
    """What each note of some shots weighs, of their joints and of their frames next to those."""
    bake = draft(scene)
    loud = scene.noting
    found = notes_of_cut(bake, loud.thresholds, loud.silent, around)
    for shot in scene.shots:
        if shot.id in around and shot.camera is not None:
            camera = find(scene, "cameras", shot.camera)
            found += notes_of_camera(bake, camera, shot.stage, loud.thresholds, silent=loud.silent)
    same = without and (without.kind, without.of)
    return {(one.kind, one.of, one.first): weight(one) for one in found if (one.kind, one.of) != same}


@dataclass(frozen=True)
class _Cut:
    """A joint, and who comes after it, seen by the camera that is cut to."""

    bake: Bake
    a: Side
    b: Side

    @property
    def frame(self) -> int:
        return int(self.b.shot.shot.stage.first)

    @property
    def axes(self) -> Floats:
        return np.asarray(self.b.about.seen.axes[self.b.i])

    @property
    def half(self) -> Floats:
        return np.asarray(self.b.about.seen.half[self.b.i])

    def mark(self, name: str) -> Floats:
        return np.asarray(self.b.about.people[self.b.who].marks[self.b.i, AT[name]])

    def put(self, place: Floats, pan: float | None = None, tilt: float | None = None) -> list[Any]:
        turned: dict[str, Any] = {} if pan is None else {"pan": pan}
        turned |= {} if tilt is None else {"tilt": tilt}
        return [put(self.b.about.camera, self.frame, x=place[0], y=place[1], z=place[2], **turned)]

    def mirrored(self, through: Floats, way: Floats, further: float = 0.0) -> list[Any]:
        """The camera on the other side of an upright plane through a place along a way, as far off; then on round its subject."""
        level = way * [1, 0, 1]
        normal = np.array([level[2], 0.0, -level[0]]) / max(float(np.linalg.norm(level)), 1e-9)
        place = self.b.place - 2 * float((self.b.place - through) @ normal) * normal
        back = self.axes[2] - 2 * float(self.axes[2] @ normal) * normal
        pan = float(np.degrees(np.arctan2(back[0], back[2]))) + further
        return self.put(swung(place, self.mark("eyes"), further), pan)


def _edit(edit: Literal["trim_in", "trim_out", "roll", "slip"], shot: str, by: int) -> list[Any]:
    return [EditCut(do=MoveEdges(edit=edit, shots=(shot,), by=by))]


def _candidates(scene: Scene, note: Note) -> Iterator[Tried]:
    by_id = {one.shot.id: one for one in lay_out(scene)}
    placed = [by_id[one] for one in note.of]
    last = placed[-1]
    if note.kind == "short":
        missing = int(np.ceil(note.threshold)) - last.shot.stage.count
        yield f"{missing} frames more at its end", _edit("trim_out", last.shot.id, missing)
        yield f"{missing} frames more at its beginning", _edit("trim_in", last.shot.id, -missing)
    elif note.kind == "gap":
        yield "Close the gap", [EditCut(do=Change(edit="close_gap", shots=(last.shot.id,)))]
    elif note.kind == "same-size":
        yield from _other_size(scene, placed[1])
    else:
        bake = draft(scene)
        cut = _Cut(bake, side(bake, placed[0], True), side(bake, last, False))
        yield from _of_joint(cut, note)


def _other_size(scene: Scene, placed: Placed) -> Iterator[Tried]:
    here = side(draft(scene), placed, False)
    if here.who >= 0:
        eyes = here.about.people[here.who].marks[here.i, AT["eyes"]]
        yield from nearer(here.about.camera, placed.shot.stage.first, here.place, eyes, _SIZES)


def _of_joint(cut: _Cut, note: Note) -> Iterator[Tried]:
    shot = cut.b.shot.shot
    before = cut.a.shot.shot
    if note.kind == "time":
        skipped = shot.stage.first - before.stage.last - 1
        word = "Begin" if skipped > 0 else "Show it once: begin"
        yield (
            f"{word} {shot.name} {abs(skipped)} frames {'earlier' if skipped > 0 else 'later'}",
            _edit("trim_in", shot.id, -skipped),
        )
        yield f"Slip {shot.name} by {-skipped} frames", _edit("slip", shot.id, -skipped)
        yield f"End {before.name} {abs(skipped)} frames {'later' if skipped > 0 else 'earlier'}", _edit("trim_out", before.id, skipped)  # fmt: skip
    elif note.kind == "late":
        rest = round(note.measure)
        for by in (rest + _BEFORE_END_F, rest + 2, rest + 8):
            yield f"Cut {by} frames earlier", _edit("roll", shot.id, -by)
    elif note.kind == "unsettled":
        for by in sorted({*range(1, _FURTHEST_F + 1), *range(-_FURTHEST_F, 0)}, key=lambda n: (abs(n), -n)):
            yield f"Cut {abs(by)} frames {'later' if by > 0 else 'earlier'}", _edit("roll", shot.id, by)
    elif cut.b.who >= 0:
        yield from _of_camera(cut, note)


def _of_camera(cut: _Cut, note: Note) -> Iterator[Tried]:
    letter, eyes, at = cut.b.about.camera.letter, cut.mark("eyes"), cut.b.eyes
    line = pair(cut.bake, cut.a, cut.b)
    if note.kind in ("line-of-action", "eye-lines") and line is not None:
        one, two = (
            eyes_at(cut.bake, figure, cut.frame) for figure in cut.bake.scene.figures if figure.id in line
        )
        yield f"Put camera {letter} on the other side of the line, as far off", cut.mirrored(one, two - one)
    if note.kind == "eye-lines":
        yield from _levels(cut, eyes, at)
    elif note.kind == "direction":
        way = cut.b.about.people[cut.b.who].speed[cut.b.i]
        for further in (0, 30, -30, 45, -45):
            on = f", and {abs(further)}° on" if further else ""
            yield (
                f"Put camera {letter} on the other side of the way{on}",
                cut.mirrored(cut.mark("pelvis"), way, further),
            )
    elif note.kind == "jump":
        for degrees in _SWINGS:
            pan = pan_tilt(cut.axes)[0] + degrees
            yield (
                f"Swing camera {letter} {abs(degrees)}° {'left' if degrees < 0 else 'right'} round {cut.b.name}",
                cut.put(swung(cut.b.place, eyes, degrees), pan),
            )
        yield from nearer(cut.b.about.camera, cut.frame, cut.b.place, eyes, _SIZES)
    elif note.kind == "eye-jump":
        far = _ONE if cut.a.id == cut.b.id else _TWO
        x = float(cut.a.eyes[0] + np.sign(at[0] - cut.a.eyes[0]) * far)
        found = aimed(cut.b.place, eyes, (x, float(at[1])), cut.half)
        if found is not None:
            yield (
                f"Pan camera {letter} to {cut.b.name} nearer to where eyes are",
                cut.put(cut.b.place, *found),
            )
    elif note.kind == "singles":
        large = [one.about.share[one.i] / one.about.stature[one.i] for one in (cut.a, cut.b)]
        place = eyes + float(large[1] / large[0]) * (cut.b.place - eyes)
        found = aimed(place, eyes, (float(at[0]), float(cut.a.eyes[1])), cut.half)
        if found is not None:
            yield f"Make {cut.b.name} as large, the eyes as high, as {cut.a.name}", cut.put(place, *found)


def _levels(cut: _Cut, eyes: Floats, at: Floats) -> Iterator[Tried]:
    """As far off and on the same side, higher or lower."""
    off = cut.b.place - eyes
    far, level = float(np.linalg.norm(off)), off * [1, 0, 1]
    level = level / max(float(np.linalg.norm(level)), 1e-9)
    now = float(np.degrees(np.arcsin(np.clip(off[1] / max(far, 1e-9), -1, 1))))
    for degrees in sorted(_LEVELS, key=lambda one: abs(one - now)):
        up = np.radians(degrees)
        place = eyes + far * (np.cos(up) * level + np.array([0, np.sin(up), 0]))
        found = aimed(place, eyes, (float(at[0]), float(at[1])), cut.half)
        if found is not None:
            word = "up" if degrees > now else "down"
            yield (
                f"Move {word} to {place[1]:.2f} m, {cut.b.name} where they are in the frame",
                cut.put(place, *found),
            )
