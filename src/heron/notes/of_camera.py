"""The notes of a camera's frames."""

from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np

from heron.bake import Bake
from heron.model import changed, fingerprint
from heron.notes.body import body_notes
from heron.notes.kinds import KINDS
from heron.notes.measured import Measured
from heron.notes.note import Note
from heron.notes.sight import sight_notes
from heron.notes.spans import spans
from heron.notes.standing import camera_notes
from heron.notes.subject import Subject, subject
from heron.notes.views import Person, Views, person, views
from heron.scene import Camera
from heron.stage.figure import Figure
from heron.stage.skeleton import INDEX
from heron.timebase import Frames

#: Kept notes are of this version of the rules.
_VERSION = 4
#: Kinds that say the same: the stronger is said, and names the others.
_ALIKE = (
    ("headroom-low", "touching-edge", "thirds"), ("headroom-high", "touching-edge", "thirds"), ("joint-cut", "feet-cut"),
    ("face-hidden", "foreground"), ("heads-overlap", "touching-edge"), ("inside", "near-plane", "foreground", "face-hidden"),
    ("heads-overlap", "face-hidden"), ("merges", "separation"),
)  # fmt: skip
#: Farther outside the frame than this, as a share of it, people are left out.
_NEAR_FRAME = 3.0


def notes_of_camera(
    bake: Bake, camera: Camera, frames: Frames, thresholds: Mapping[str, float] | None = None,
    without: Sequence[tuple[str, Frames]] = (), silent: Sequence[str] = (),
) -> list[Note]:  # fmt: skip
    """What a careful eye says of a camera over some stage frames, heaviest first.

    Args:
        thresholds: instead of the usual ones, by kind.
        without: kinds, and frames on which neither they are said nor what says the same.
        silent: kinds that are not judged.
    """
    seen = bake.scene.visible
    ends = [shot.stage.last for shot in bake.scene.shots if shot.camera == camera.id]
    depends: list[Any] = [
        bake.key(camera), camera.letter, frames, ends, sorted((thresholds or {}).items()), list(without), list(silent),
        [one.name for table in seen for one in table], [bake.key(one) for one in (*seen.figures, *seen.movers)],
        # How things are painted and lit takes no part in how they move, and is judged.
        [one.look for one in seen.figures], [one.digest for one in seen.pieces],
        [one.colour for one in seen.pieces], [one.colour for one in seen.movers], bake.scene.surround,
    ]  # fmt: skip
    key = fingerprint("notes", _VERSION, *depends)
    limits = thresholds or {}

    def make() -> list[Note]:
        about = judged(bake, camera, frames)
        measured = (*body_notes(about), *camera_notes(bake, about, ends), *sight_notes(bake, about))
        heard = [one for one in measured if one.kind not in silent]
        whole = _without_doubles(
            [note for one in heard for note in _said(one, about, limits.get(one.kind), ())]
        )
        if not without:
            return whole
        rest = _without_doubles(
            [note for one in heard for note in _said(one, about, limits.get(one.kind), without)]
        )
        meant = [
            note for note in whole if any(kind == note.kind and _meet(there, note) for kind, there in without)
        ]
        return [note for note in rest if not any(note.kind in one.also and _says(one, note) for one in meant)]

    found: list[Note] = bake.cache.get("notes", key, make)
    return found


def _meet(frames: Frames, note: Note) -> bool:
    return frames.first <= note.last and note.first <= frames.last


def judged(bake: Bake, camera: Camera, frames: Frames) -> Subject:
    """A camera over some frames, and whom they are about."""
    seen = views(bake, camera, frames)
    near = [figure for figure in bake.scene.visible.figures if _near(bake, figure, seen)]
    people: list[Person] = [person(bake, figure, seen.t) for figure in near]
    return subject(bake.scene.delivery.aspect, camera, seen, people)


def weight(note: Note) -> float:
    """What a note weighs beside others."""
    return KINDS[note.kind].weight(note.severity)


def _near(bake: Bake, figure: Figure, seen: Views) -> bool:
    """Whether somebody is ever in or near the frame."""
    rows = seen.t - bake.scene.frames.first
    head = seen.local(bake.performance(figure).places[rows, INDEX["head"]])
    at = seen.framed(head)
    with np.errstate(invalid="ignore"):
        return bool((np.abs(at) < _NEAR_FRAME).all(axis=1).any()) or bool((np.abs(head[:, 2]) < 1).any())


def _said(
    one: Measured, about: Subject, threshold: float | None, without: Sequence[tuple[str, Frames]]
) -> list[Note]:
    kind = KINDS[one.kind]
    severity = kind.severity(one.measure, threshold, one.usual)
    first = int(about.seen.t[0])
    for there in (frames for name, frames in without if name == one.kind):
        severity[max(there.first - first, 0) : max(there.stop - first, 0)] = 0
    found = []
    for begins, ends in spans(kind, severity):
        worst = begins + int(np.argmax(severity[begins : ends + 1]))
        x, y = one.at[worst]
        limit = (kind.threshold if threshold is None else threshold) * np.broadcast_to(
            one.usual, severity.shape
        )[worst]
        found.append(
            Note(
                kind=kind.name, camera=about.camera.letter, of=(about.camera.id,), first=first + begins, last=first + ends,
                worst=first + worst, measure=round(float(one.measure[worst]), 5), threshold=round(float(limit), 5),
                unit=kind.unit, severity=round(float(severity[worst]), 4), sentence=f"{one.say(worst)}.",
                at=(round(float(np.clip(x, -1, 1)), 4), round(float(np.clip(y, -1, 1)), 4)) if np.isfinite(x + y) else None,
                who=tuple(about.names(worst) if one.who is None else one.who(worst)), by=tuple(one.by(worst)),
            )
        )  # fmt: skip
    return found


def _without_doubles(notes: list[Note]) -> list[Note]:
    """Of notes that say the same of the same frames the heaviest, with the others' kinds; the heaviest first."""
    kept: list[Note] = []
    for note in sorted(notes, key=lambda one: (-weight(one), one.first)):
        for k, other in enumerate(kept):
            if _says(other, note):
                if note.kind not in (other.kind, *other.also):
                    kept[k] = changed(other, also=(*other.also, note.kind))
                break
        else:
            kept.append(note)
    return kept


def _says(other: Note, note: Note) -> bool:
    """Whether a heavier note says what another would, of the same person and most of its frames."""
    alike = other.kind == note.kind or any({note.kind, other.kind} <= set(kinds) for kinds in _ALIKE)
    same = not note.who or not other.who or note.who[0] == other.who[0]
    overlap = min(note.last, other.last) - max(note.first, other.first) + 1
    return alike and same and overlap > 0.5 * (note.last - note.first + 1)
