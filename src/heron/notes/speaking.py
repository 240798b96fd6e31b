"""Which notes of a scene are said: those that its thresholds find, less what is silent or was put aside."""

from heron.bake import Bake
from heron.cut import Placed, lay_out
from heron.errors import BadInput
from heron.notes.kinds import KINDS, Kind
from heron.notes.note import Note
from heron.notes.of_camera import notes_of_camera
from heron.notes.of_cut import notes_of_cut
from heron.scene import Camera, Scene, Shot, find
from heron.scene.noting import Aside
from heron.scene.own import dressed
from heron.timebase import Frames


def kind_named(name: str) -> Kind:
    """A kind of note.

    Raises:
        BadInput: there is none of that name.
    """
    if name not in KINDS:
        raise BadInput(f"“{name}” isn't a kind of note.", f"Take one of {', '.join(KINDS)}.")
    return KINDS[name]


def said_of_camera(bake: Bake, camera: Camera, frames: Frames, everything: bool = False) -> list[Note]:
    """The notes of a camera's frames that are said, heaviest first; `everything`: what was put aside too."""
    scene = bake.scene
    quiet = [
        (one.note, one.frames or scene.frames)
        for one in scene.noting.aside
        if one.camera in (None, camera.id) and one.joint is None and not everything
    ]
    silent = () if everything else scene.noting.silent
    return notes_of_camera(bake, camera, frames, scene.noting.thresholds, quiet, silent)


def said_of_shots(bake: Bake, everything: bool = False) -> list[tuple[Placed, list[Note]]]:
    """The notes of each shot's frames, in the order of the cut; of a slate there are none."""
    return [(one, _of_shot(bake, one.shot, everything)) for one in lay_out(bake.scene)]


def _of_shot(bake: Bake, shot: Shot, everything: bool) -> list[Note]:
    if shot.camera is None:
        return []
    there = Bake(dressed(bake.scene, shot), bake.cache) if shot.own else bake
    return said_of_camera(there, find(there.scene, "cameras", shot.camera), shot.stage, everything)


def said_of_cut(bake: Bake, everything: bool = False) -> list[Note]:
    """The notes of the cut that are said, in its order."""
    scene = bake.scene
    silent = () if everything else scene.noting.silent
    found = notes_of_cut(bake, scene.noting.thresholds, silent)
    return [note for note in found if everything or aside_of(scene, note) is None]


def differing(before: list[Note], now: list[Note]) -> tuple[list[Note], list[Note]]:
    """Which notes are new and which are gone: told apart by their kind, what they are of, and whom they are about."""

    def marks(notes: list[Note]) -> set[tuple[object, ...]]:
        return {(one.kind, one.of, one.who) for one in notes}

    was, is_ = marks(before), marks(now)
    new = [one for one in now if (one.kind, one.of, one.who) not in was]
    return new, [one for one in before if (one.kind, one.of, one.who) not in is_]


def aside_of(scene: Scene, note: Note) -> Aside | None:
    """What all of a note was put aside by."""
    for one in scene.noting.aside:
        if one.note != note.kind or (one.joint is not None and one.joint != note.of):
            continue
        if one.camera is not None and (one.camera,) != note.of:
            continue
        if one.frames is None or (one.frames.first <= note.first and note.last <= one.frames.last):
            return one
    return None
