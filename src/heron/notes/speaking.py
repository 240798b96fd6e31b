"""Which notes of a scene are said: those that its thresholds find, less what is silent or was put aside."""

from heron.bake import Bake
from heron.cut import Placed, lay_out
from heron.errors import BadInput
from heron.notes.kinds import KINDS, Kind
from heron.notes.note import Note
from heron.notes.of_camera import notes_of_camera
from heron.notes.of_cut import notes_of_cut
from heron.scene import Camera, Scene, find
from heron.scene.noting import Aside
from heron.scene.own import dressed
from heron.timebase import Frames


def kind_named(name: str) -> Kind:
    """A kind of note.

    Raises:
        BadInput: there is none of that name.
    """
    if name not in KINDS:
        raise BadInput(f"There is no note of the kind “{name}”.", f"Take one of {', '.join(KINDS)}.")
    return KINDS[name]


def said_of_camera(bake: Bake, camera: Camera, frames: Frames, everything: bool = False) -> list[Note]:
    """The notes of a camera's frames that are said, heaviest first; `everything`: what was put aside too."""
    scene = bake.scene
    quiet = [
        (one.note, one.frames or scene.frames)
        for one in scene.noting.aside
        if one.camera in (None, camera.id) and one.joint is None and not everything
    ]
    found = notes_of_camera(bake, camera, frames, scene.noting.thresholds, quiet)
    return [note for note in found if everything or note.kind not in scene.noting.silent]


def said_of_shots(bake: Bake, everything: bool = False) -> list[tuple[Placed, list[Note]]]:
    """The notes of each shot's frames, in the order of the cut; of a slate there are none."""
    return [
        (
            one,
            []
            if one.shot.camera is None
            else said_of_camera(_dressed(bake, one), _camera(bake, one), one.shot.stage, everything),
        )
        for one in lay_out(bake.scene)
    ]


def _dressed(bake: Bake, one: Placed) -> Bake:
    """The stage as a shot has it for itself."""
    return Bake(dressed(bake.scene, one.shot), bake.cache) if one.shot.own else bake


def _camera(bake: Bake, one: Placed) -> Camera:
    camera: Camera = find(_dressed(bake, one).scene, "cameras", one.shot.camera or "")
    return camera


def said_of_cut(bake: Bake, everything: bool = False) -> list[Note]:
    """The notes of the cut that are said, in its order."""
    scene = bake.scene
    return [
        note
        for note in notes_of_cut(bake, scene.noting.thresholds)
        if everything or (note.kind not in scene.noting.silent and aside_of(scene, note) is None)
    ]


def aside_of(scene: Scene, note: Note) -> Aside | None:
    """What all of a note was put aside by."""
    letters = {camera.letter: camera.id for camera in scene.cameras}
    shots = {shot.name: shot.id for shot in scene.shots}
    camera = letters.get(note.camera or "")
    joint = None if note.joint is None else tuple(shots.get(name, "") for name in note.joint)
    for one in scene.noting.aside:
        if one.note != note.kind or (one.camera is not None and one.camera != camera):
            continue
        if one.joint is not None and one.joint != joint:
            continue
        if one.frames is None or (one.frames.first <= note.first and note.last <= one.frames.last):
            return one
    return None
