"""A first assembly from the lines, as one command: the cut that it makes, and what of the old one stays."""

import itertools
from collections.abc import Iterator, Sequence
from typing import Annotated, Literal

from pydantic import Field

from heron.assembling import Assembly, Kept, Wishes, assemble
from heron.bake import Bake
from heron.commands.base import Outcome, listed
from heron.commands.kept_cuts import Signed, before_kept, free_name, whole_cut
from heron.errors import Refused
from heron.model import Id, Name, new_id
from heron.scene import Scene, Shot, find
from heron.scene.shot import Proposed
from heron.timebase import Frames


class AssembleCut(Signed):
    """Cut the scene from its lines. Shots that stay are where they were; a cut with any of a hand's work in it is kept."""

    kind: Literal["cut.assemble"] = "cut.assemble"
    #: Begins the ids of the shots.
    id: Id = Field(default_factory=lambda: new_id("cut"))
    wishes: Wishes = Wishes()
    #: Those it may cut to; left out, all.
    cameras: Annotated[tuple[Id, ...] | None, Field(max_length=702)] = None
    #: Of the stage; left out, all of it.
    frames: Frames | None = None
    #: Shots that stay; left out, those that are set to, and those that hands have changed since an assembly made them.
    keep: Annotated[tuple[Id, ...] | None, Field(max_length=5000)] = None
    #: What the cut is called.
    name: Name | None = None

    def apply(self, scene: Scene) -> Outcome:
        made, shots = self.worked_out(scene)
        shots, parting = whole_cut(scene, shots, "Shorten what that shot dissolves, or keep another.", "keep")
        cuts, name = scene.cuts, scene.cut_name
        kept_as = ""
        if any(shot.by_hand for shot in scene.shots):
            cuts, name, kept_as = before_kept(scene, self)
        name = self.name or name or free_name(scene.having(cuts=cuts), "Assembly")
        if name in {one.name for one in cuts}:
            raise Refused(f"A cut is called “{name}” already.", "Give it another name.", field="name")
        many = "s" if len(made.shots) > 1 else ""
        said = [f"Assembled the cut from the lines: {len(made.shots)} shot{many}"]
        stay = [find(scene, "shots", one.kept).name for one in made.shots if one.kept]
        said += [f"{listed(stay)} stay{'s' if len(stay) == 1 else ''}"] if stay else []
        said += [f"the cut before is kept as “{kept_as}”"] if kept_as else []
        return scene.having(shots=shots, cuts=cuts, cut_name=name), "; ".join([*said, *made.said]) + parting

    def worked_out(self, scene: Scene) -> tuple[Assembly, tuple[Shot, ...]]:
        """The assembly, and the shots of its cut.

        Raises:
            HeronError: it cannot be made.
        """
        frames = self.frames or scene.frames
        if frames.first not in scene.frames or frames.last not in scene.frames:
            raise Refused(
                f"The stage has {scene.frames}, not {frames}.", "Choose frames that it has.", field="frames"
            )
        stay = _in_order(scene, self.keep, frames)
        ids = [one.id for one in scene.cameras] if self.cameras is None else list(dict.fromkeys(self.cameras))
        ids += [shot.camera for shot in stay if shot.camera and shot.camera not in ids]
        if not ids:
            raise Refused(
                "There is no camera to cut to.",
                "Add cameras, or have the conversation covered first.",
                field="cameras",
            )
        cameras = tuple(find(scene, "cameras", id_) for id_ in ids)
        if self.wishes.favour is not None:
            find(scene, "figures", self.wishes.favour)
        kept = [Kept(shot.id, ids.index(shot.camera or ""), shot.stage) for shot in stay]
        made = assemble(Bake(scene), cameras, frames, self.wishes, kept)
        return made, tuple(_named(scene, made, self.id))


def staying(scene: Scene) -> list[Shot]:
    """Shots of the cut that stay when it is assembled again, if nothing else is said.

    Those that are set to; and where an assembly made shots of it, those that hands have made or changed since.
    """
    assembled = any(shot.proposed for shot in scene.shots)
    return [
        shot
        for shot in scene.shots
        if shot.camera is not None and (shot.stays or (assembled and shot.by_hand))
    ]


def _in_order(scene: Scene, keep: Sequence[str] | None, frames: Frames) -> list[Shot]:
    shots = staying(scene) if keep is None else [find(scene, "shots", id_) for id_ in dict.fromkeys(keep)]
    shots = sorted(shots, key=lambda shot: shot.stage.first)
    for shot in shots:
        if shot.camera is None:
            raise Refused(
                f"Shot {shot.name} is a slate: it has no place on the stage.",
                "Give it a camera, or let it go.",
                field="keep",
            )
        if shot.stage.first < frames.first or shot.stage.last > frames.last:
            raise Refused(
                f"Shot {shot.name} shows {shot.stage}, and {frames} are assembled.",
                "Assemble more of the stage, or let that shot go.",
                field="keep",
            )
    for one, two in zip(shots, shots[1:], strict=False):
        if two.stage.first <= one.stage.last:
            both = Frames(first=two.stage.first, last=min(one.stage.last, two.stage.last))
            raise Refused(
                f"Shots {one.name} and {two.name} both show {both} of the stage: they can't both stay.",
                "Trim one of them, or let it go.",
                field="keep",
            )
    return shots


def _unused(start: str, taken: set[str]) -> Iterator[str]:
    """Ids that begin so, with numbers, and are not taken."""
    return (one for n in itertools.count() if (one := f"{start}-{n}") not in taken)


def _names(taken: set[str], low: int, high: int | None, count: int) -> list[str]:
    """Names that are free for shots between two numbers: tens where there is room for them."""
    step = 10 if high is None else max(min(10, (high - low) // (count + 1)), 1)
    free = (name for n in itertools.count(1) if (name := f"{low + n * step:03d}") not in taken)
    return list(itertools.islice(free, count))


def _named(scene: Scene, made: Assembly, prefix: str) -> list[Shot]:
    """The shots of an assembly: those that stay as they were, and between them new ones, named in order."""
    there = {shot.id: shot for shot in scene.shots}
    kept = [there[one.kept] if one.kept else None for one in made.shots]
    taken = {shot.name for shot in kept if shot}
    ids = _unused(prefix[:26], {shot.id for shot in kept if shot})
    names: list[str] = []
    out: list[Shot] = []
    for i, (one, stay) in enumerate(zip(made.shots, kept, strict=True)):
        if stay is not None:
            out.append(stay)
            continue
        if not names:
            stop = next((k for k in range(i, len(kept)) if kept[k] is not None), len(kept))
            low, high = (
                _number(shot) for shot in (out[-1] if out else None, kept[stop] if stop < len(kept) else None)
            )
            names = _names(
                taken, low or 0, high if high is not None and high > (low or 0) else None, stop - i
            )
            taken.update(names)
        proposed = Proposed(camera=one.camera.id, stage=one.stage, why=one.why)
        out.append(
            Shot(id=next(ids), name=names.pop(0), camera=one.camera.id, stage=one.stage, proposed=proposed)
        )
    return out


def _number(shot: Shot | None) -> int | None:
    return int(shot.name) if shot is not None and shot.name.isdigit() else None
