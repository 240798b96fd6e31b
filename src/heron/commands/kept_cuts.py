"""Commands on cuts that are kept under a name."""

from typing import Literal, Self

from pydantic import Field

from heron.commands.base import Command, Outcome
from heron.errors import NotFound, Refused
from heron.model import Id, Label, Name, changed, new_id
from heron.scene import Scene, Shot
from heron.scene.joins import misfits, parted
from heron.scene.kept_cut import KeptCut
from heron.timebase import Frames

#: As many cuts are kept of a scene.
MOST_CUTS = 50


def kept_cut(scene: Scene, id_: str) -> KeptCut:
    """A kept cut by its id.

    Raises:
        NotFound: there is none.
    """
    for one in scene.cuts:
        if one.id == id_:
            return one
    raise NotFound("That cut is not kept here.", "It may have been deleted; choose another.", field="cut")


class Signed(Command):
    """What keeps a cut, with its author."""

    by: Label = ""
    when: Label = ""

    def signed(self, by: str, when: str) -> Self:
        return changed(self, by=by, when=when)


def whole_cut(scene: Scene, shots: tuple[Shot, ...], remedy: str, field: str) -> tuple[tuple[Shot, ...], str]:
    """Shots as a cut that holds together, and what is said of dissolves that they part.

    Raises:
        Refused: one of them lacks the frames that its dissolves or fades take.
    """
    shots, parting = parted(scene.shots, shots)
    if (wrong := next(misfits(shots, scene.frames), None)) is not None:
        raise Refused(f"The cut can't be made so: {wrong}.", remedy, field=field)
    return shots, parting


def before_kept(scene: Scene, command: "Signed") -> tuple[tuple[KeptCut, ...], str, str]:
    """The kept cuts with the one that plays now among them, for a command that makes another one play; no name for that one,
    and the name that this one is kept under.

    Raises:
        Refused: there are too many.
    """
    if len(scene.cuts) >= MOST_CUTS:
        raise Refused("There are fifty kept cuts.", "Delete one first: the cut that plays now is to be kept.")
    kept_as = scene.cut_name or free_name(scene, "Cut")
    taken = {one.id for one in scene.cuts}
    stem = str(getattr(command, "id", "cut"))[:22]
    id_ = next(one for k in range(len(taken) + 1) if (one := f"{stem}-was-{k}") not in taken)
    old = KeptCut(id=id_, name=kept_as, shots=scene.shots, by=command.by, when=command.when)
    return (*scene.cuts, old), "", kept_as


class KeepCut(Signed):
    """Keep the cut as it is under a name, and go on from it."""

    kind: Literal["cut.keep"] = "cut.keep"
    id: Id = Field(default_factory=lambda: new_id("cut"))
    name: Name

    def apply(self, scene: Scene) -> Outcome:
        if not scene.shots:
            raise Refused("There are no shots in the cut yet.", "Put a camera on the assembly first.")
        _free(scene, self.name)
        kept = KeptCut(id=self.id, name=self.name, shots=scene.shots, by=self.by, when=self.when)
        return scene.having(cuts=(*scene.cuts, kept)), f"Kept the cut as “{self.name}”"


class UseCut(Signed):
    """Play a kept cut; the one that played is kept in its place.

    A shot whose camera is gone is a slate now.
    """

    kind: Literal["cut.use"] = "cut.use"
    cut: Id

    def apply(self, scene: Scene) -> Outcome:
        new, there = kept_cut(scene, self.cut), {camera.id for camera in scene.cameras}
        shots = tuple(standing(shot, there) for shot in new.shots)
        lost = [a.name for a, b in zip(new.shots, shots, strict=True) if a.camera != b.camera]
        name = scene.cut_name or free_name(scene, "Cut")
        old = KeptCut(id=new.id, name=name, shots=scene.shots, by=self.by, when=self.when or new.when)
        cuts = tuple(old if one is new else one for one in scene.cuts)
        said = f"; no camera for {', '.join(lost)} any more" if lost else ""
        return scene.having(shots=shots, cuts=cuts, cut_name=new.name), f"Played the cut “{new.name}”{said}"


class DropCut(Command):
    """Delete a kept cut."""

    kind: Literal["cut.drop"] = "cut.drop"
    cut: Id

    def apply(self, scene: Scene) -> Outcome:
        gone = kept_cut(scene, self.cut)
        cuts = tuple(one for one in scene.cuts if one is not gone)
        return scene.having(cuts=cuts), f"Deleted the cut “{gone.name}”"


def free_name(scene: Scene, word: str) -> str:
    """A word with the first number that no cut is called by."""
    taken = {scene.cut_name, *(one.name for one in scene.cuts)}
    return next(f"{word} {n}" for n in range(1, 200) if f"{word} {n}" not in taken)


def _free(scene: Scene, name: str) -> None:
    if name in (scene.cut_name, *(one.name for one in scene.cuts)):
        raise Refused(f"A cut is called “{name}” already.", "Give it another name.", field="name")


def standing(shot: Shot, cameras: set[str]) -> Shot:
    """A shot that is kept, with the cameras that are there."""
    versions = tuple(one for one in shot.versions if one.camera is None or one.camera in cameras)
    if len(versions) < len(shot.versions):
        shot = changed(shot, versions=versions)
    if shot.camera is None or shot.camera in cameras:
        return shot
    return changed(shot, camera=None, stage=Frames(first=1, last=shot.stage.count), dissolve=None)
