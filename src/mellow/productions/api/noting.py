"""Notes: what a careful eye says of cameras and of the cut."""

from ninja import Query, Router
from pydantic import BaseModel, Field

from heron.commands.note_remedies import remedies_of
from heron.commands.registry import AnyCommand, parse
from heron.errors import BadInput, NotFound
from heron.notes import KINDS, Note, weight
from heron.notes.speaking import aside_of, differing, said_of_camera, said_of_cut, said_of_shots
from heron.scene import Camera, Scene, find
from heron.scene.noting import Aside
from heron.timebase import Frames
from mellow.actors import Request
from mellow.productions import log, rows
from mellow.productions.api.opened import looked_at, row_for
from mellow.productions.api.shapes import REFUSALS
from mellow.productions.baking import bake_of

router = Router()


class NoteOut(Note):
    """A note, as people call its kind; `weight`: beside others; `aside`: what it was put aside by; `cut`: its worst frame in the cut."""

    label: str
    weight: float
    aside: str | None
    cut: int | None


class ShotNotesOut(BaseModel):
    """The notes of a shot's frames, and those of the cut before it."""

    shot: str
    cut: list[NoteOut]
    frames: list[NoteOut]


class AsideOut(Aside):
    """What was put aside: what it is called, and where."""

    label: str
    where: str


class RemedyOut(BaseModel):
    """A change that takes a note away, in words and as commands."""

    sentence: str
    commands: list[AnyCommand]


class KindOut(BaseModel):
    """A kind of note: from which number on it speaks, in its unit, and whether it does."""

    name: str
    label: str
    of: str
    unit: str
    usual: float
    threshold: float
    least: float
    most: float
    speaks: bool
    source: str


class CutNotesOut(BaseModel):
    """All notes of the cut, by shot, what was put aside, and how strictly each kind speaks."""

    shots: list[ShotNotesOut]
    aside: list[AsideOut]
    kinds: list[KindOut]


def _out(scene: Scene, note: Note, cut: int | None = None) -> NoteOut:
    by = aside_of(scene, note)
    return NoteOut(
        **note.model_dump(),
        label=KINDS[note.kind].label,
        weight=round(weight(note), 4),
        aside=by.id if by else None,
        cut=cut,
    )


@router.get("{int:scene_id}/notes", response={200: CutNotesOut, **REFUSALS})
def of_cut(request: Request, scene_id: int) -> CutNotesOut:
    """The notes of the cut and of its shots' frames that are said."""
    scene = looked_at(request, scene_id)
    baked = bake_of(scene)
    joints = said_of_cut(baked)
    names = {shot.id: shot.name for shot in scene.shots}
    letters = {camera.id: camera.letter for camera in scene.cameras}
    return CutNotesOut(
        shots=[
            ShotNotesOut(
                shot=placed.shot.id,
                # A note of a joint is told with the shot after it.
                cut=[_out(scene, note, note.worst) for note in joints if note.of[:2][-1] == placed.shot.id],
                frames=[_out(scene, note, placed.cut_first + note.worst - placed.shot.stage.first) for note in found],
            )
            for placed, found in said_of_shots(baked)
        ],
        aside=[
            AsideOut(
                **one.model_dump(), label=KINDS[one.note].label if one.note in KINDS else one.note,
                where=" to ".join(names.get(id_, "a shot that is gone") for id_ in one.joint)
                if one.joint
                else "everywhere"
                if one.camera is None
                else f"camera {letters.get(one.camera, 'that is gone')}",
            )
            for one in scene.noting.aside
        ],
        kinds=[
            KindOut(
                name=kind.name, label=kind.label, of=kind.of, unit=kind.unit, usual=kind.threshold,
                threshold=scene.noting.thresholds.get(kind.name, kind.threshold), least=kind.least, most=kind.most,
                speaks=kind.name not in scene.noting.silent, source=kind.source,
            )
            for kind in KINDS.values()
        ],
    )  # fmt: skip


class DifferingOut(BaseModel):
    """What the last change did to the notes of the cut: those that are new, and those that are gone."""

    sentence: str
    new: list[NoteOut]
    gone: list[NoteOut]


@router.get("{int:scene_id}/notes_changed", response={200: DifferingOut, **REFUSALS})
def since_last(request: Request, scene_id: int) -> DifferingOut:
    """Which notes of the cut the last change brought, and which it took away."""
    row = row_for(request, scene_id)
    change = row.changes.filter(revision=row.revision).first()
    if change is None:
        return DifferingOut(sentence="", new=[], gone=[])
    now, before = rows.load(row), log.as_of(row, row.revision - 1)
    new, gone = differing(_all_notes(before), _all_notes(now))
    return DifferingOut(
        sentence=change.sentence,
        new=[_out(now, one) for one in new],
        gone=[_out(before, one) for one in gone],
    )


def _all_notes(scene: Scene) -> list[Note]:
    bake = bake_of(scene)
    return [*said_of_cut(bake), *(note for _, found in said_of_shots(bake) for note in found)]


@router.get("{int:scene_id}/notes/{camera_id}", response={200: list[NoteOut], **REFUSALS})
def of_camera(request: Request, scene_id: int, camera_id: str) -> list[NoteOut]:
    """The notes of a camera's frames that are said, heaviest first, over all of the stage."""
    scene = looked_at(request, scene_id)
    found = said_of_camera(bake_of(scene), _camera(scene, camera_id), scene.frames)
    return [_out(scene, note) for note in found]


class NoteAsked(BaseModel):
    """A note: its kind, its camera's id or the ids of its shots, and frames of the stage, of a cut not looked at.

    Attributes:
        shot: of whose frames it is, in the cut's list; left out, of the camera's.
    """

    kind: str
    of: list[str] = Field(min_length=1, max_length=100)
    first: int
    last: int
    shot: str | None = None


@router.get("{int:scene_id}/remedies", response={200: list[RemedyOut], **REFUSALS})
def remedies(request: Request, scene_id: int, asked: Query[NoteAsked]) -> list[RemedyOut]:
    """What takes a note away: tried, the smallest change first. Empty where nothing does, or it has gone."""
    scene = looked_at(request, scene_id)
    bake = bake_of(scene)
    if any(shot.id == asked.of[0] for shot in scene.shots):
        found = [note for note in said_of_cut(bake) if note.of == tuple(asked.of)]
    else:
        camera = _camera(scene, asked.of[0])
        if not scene.frames.first <= asked.first <= asked.last <= scene.frames.last:
            stage = f"{scene.frames.first} to {scene.frames.last}"
            raise BadInput(
                f"The stage has no frames {asked.first} to {asked.last}.",
                f"Give frames within {stage}.",
                field="first",
            )
        found = said_of_camera(bake, camera, Frames(first=asked.first, last=asked.last))
        if asked.shot is not None:
            found = [
                note
                for placed, notes in said_of_shots(bake)
                if placed.shot.id == asked.shot
                for note in notes
            ]
    for note in sorted(found, key=lambda one: abs(one.first - asked.first)):
        if asked.kind in (note.kind, *note.also):
            return [
                RemedyOut(sentence=one.sentence, commands=parse(list(one.commands)))
                for one in remedies_of(scene, note, shot=asked.shot)
            ]
    return []


def _camera(scene: Scene, id_: str) -> Camera:
    if all(camera.id != id_ for camera in scene.cameras):
        raise NotFound("There is no such camera.", "Look at the list of cameras.")
    camera: Camera = find(scene, "cameras", id_)
    return camera
