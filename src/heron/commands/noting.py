"""Notes put aside and brought back, and how strictly they speak."""

import math
from typing import Annotated, Literal

from pydantic import Field

from heron.commands.base import Command, Outcome
from heron.errors import BadInput, NotFound, Refused
from heron.model import Id, Label, Metres, NoteText, changed, new_id
from heron.notes.speaking import kind_named
from heron.scene import Scene, find
from heron.scene.noting import ActionLine, Aside
from heron.timebase import Frames


class PutAside(Command):
    """Have notes of a kind not said again: of a camera, of a joint, over some frames, or of the whole scene."""

    kind: Literal["note.aside"] = "note.aside"
    id: Id = Field(default_factory=lambda: new_id("aside"))
    note: Label
    camera: Id | None = None
    #: Shots that meet.
    joint: Annotated[tuple[Id, ...] | None, Field(max_length=8)] = None
    #: Of the stage.
    frames: Frames | None = None
    why: NoteText = ""

    def apply(self, scene: Scene) -> Outcome:
        of = kind_named(self.note)
        if self.camera is not None and of.of == "cut":
            raise Refused(
                f"“{of.label}” is a note of a cut.",
                "Name the shots of its joint instead of a camera.",
                field="camera",
            )
        if self.joint is not None and of.of == "frame":
            raise Refused(
                f"“{of.label}” is a note of a camera.", "Name the camera instead of a joint.", field="joint"
            )
        if self.frames is not None and of.of == "cut":
            raise Refused(
                f"“{of.label}” is a note of a cut, which has no stage frames.",
                "Leave the frames out.",
                field="frames",
            )
        where = "the scene" if self.camera is None else f"camera {find(scene, 'cameras', self.camera).letter}"
        if self.joint is not None:
            where = " to ".join(find(scene, "shots", one).name for one in self.joint)
        if any(one.id == self.id for one in scene.noting.aside):
            raise Refused("That note is put aside already.", "Give it another id.", field="id")
        if len(scene.noting.aside) >= 2000:
            raise Refused("2,000 notes are put aside.", "Bring some back first.")
        new = Aside(
            id=self.id, note=self.note, camera=self.camera, joint=self.joint, frames=self.frames, why=self.why
        )
        noting = changed(scene.noting, aside=(*scene.noting.aside, new))
        over = "" if self.frames is None else f" at {self.frames.first}–{self.frames.last}"
        return scene.having(noting=noting), f"Put “{of.label}” aside for {where}{over}"


class BringBack(Command):
    """Have notes said again that were put aside."""

    kind: Literal["note.back"] = "note.back"
    #: What was put aside; left out, all of a kind.
    aside: Id | None = None
    note: Label | None = None

    def apply(self, scene: Scene) -> Outcome:
        if self.aside is None and self.note is None:
            raise BadInput("Nothing to bring back was named.", "Give what was put aside, or a kind.")
        gone = [
            one
            for one in scene.noting.aside
            if self.aside in (None, one.id) and self.note in (None, one.note)
        ]
        if not gone:
            raise NotFound("Nothing like that is put aside.", "Look at the list of what is.")
        left = tuple(one for one in scene.noting.aside if one not in gone)
        said = (
            f"“{kind_named(gone[0].note).label}”"
            if len({one.note for one in gone}) == 1
            else f"{len(gone)} notes"
        )
        return scene.having(noting=changed(scene.noting, aside=left)), f"Brought {said} back"


class SetStrictness(Command):
    """How strictly all kinds speak, and which are silent: such as another scene of the show has it."""

    kind: Literal["note.strictness"] = "note.strictness"
    thresholds: Annotated[dict[Label, float], Field(max_length=60)] = {}
    silent: Annotated[tuple[Label, ...], Field(max_length=60)] = ()

    def apply(self, scene: Scene) -> Outcome:
        wanted = changed(scene.noting, thresholds={}, silent=())
        after = scene.having(noting=wanted)
        for name, to in self.thresholds.items():
            after, _ = SetThreshold(note=name, to=to).apply(after)
        for name in self.silent:
            limit = after.noting.thresholds.get(name)
            after, _ = SetThreshold(note=name, to=limit, speaks=False).apply(after)
        many = len({*self.thresholds, *self.silent})
        said = f"{many} kinds of notes speak otherwise than usual" if many else "All notes speak as usual"
        return after, said


class SetActionLine(Command):
    """Set the line of action over some frames: between two, along somebody's way, by hand, or none at all."""

    kind: Literal["action_line.set"] = "action_line.set"
    id: Id = Field(default_factory=lambda: new_id("axis"))
    of: Annotated[tuple[Id, ...], Field(max_length=2)] = ()
    points: tuple[tuple[Metres, Metres], tuple[Metres, Metres]] | None = None
    off: bool = False
    frames: Frames | None = None

    def reads(self) -> frozenset[str]:
        return frozenset(self.of)

    def apply(self, scene: Scene) -> Outcome:
        names = [find(scene, "figures", id_).name for id_ in self.of]
        if not self.off and not self.of and self.points is None:
            raise BadInput(
                "A line lies between two, along somebody's way, or where it is put.",
                "Name one figure or two, or its ends.", field="of",
            )  # fmt: skip
        if len(set(self.of)) < len(self.of):
            raise BadInput("A line lies between two different people.", "Name two, or one.", field="of")
        if self.points is not None and math.dist(*self.points) < 0.05:
            raise BadInput("The line's ends are at one place.", "Put them apart.", field="points")
        new = ActionLine(
            id=self.id, of=() if self.off else self.of, points=None if self.off else self.points, off=self.off,
            frames=self.frames,
        )  # fmt: skip
        others = tuple(one for one in scene.noting.lines if one.id != self.id)
        over = "" if self.frames is None else f" at {self.frames.first}–{self.frames.last}"
        what = "Took the line of action off"
        if not self.off:
            where = " and ".join(names) if len(names) == 2 else f"{names[0]}'s way" if names else ""
            what = (
                "Put the line of action by hand"
                if self.points
                else f"Set the line of action {'between' if len(names) == 2 else 'along'} {where}"
            )
        return scene.having(noting=changed(scene.noting, lines=(*others, new))), f"{what}{over}"


class DropActionLine(Command):
    """Take back a line that was set: it lies between those who look at each other again."""

    kind: Literal["action_line.drop"] = "action_line.drop"
    line: Id

    def apply(self, scene: Scene) -> Outcome:
        left = tuple(one for one in scene.noting.lines if one.id != self.line)
        if len(left) == len(scene.noting.lines):
            raise NotFound("No such line was set.", "Look at the plan for those that were.")
        return scene.having(
            noting=changed(scene.noting, lines=left)
        ), "The line of action follows the looks again"


class SetThreshold(Command):
    """How strictly a kind of note speaks, or whether it does."""

    kind: Literal["note.threshold"] = "note.threshold"
    note: Label
    #: In the kind's own unit; None, the usual one.
    to: float | None = None
    speaks: bool | None = None

    def apply(self, scene: Scene) -> Outcome:
        of = kind_named(self.note)
        if self.to is not None and not of.least <= self.to <= of.most:
            raise BadInput(
                f"The threshold of “{of.label}” can't be {self.to:g}.",
                f"Give {of.least:g} to {of.most:g}{f' {of.unit}' if of.unit else ''}.",
                field="to",
            )
        limits = {name: value for name, value in scene.noting.thresholds.items() if name != self.note}
        silent = tuple(name for name in scene.noting.silent if name != self.note)
        was = scene.noting.thresholds.get(self.note)
        said = []
        if self.to is not None:
            limits[self.note] = self.to
            said.append(f"speaks from {self.to:g}{f' {of.unit}' if of.unit else ''}")
        elif self.speaks is not None and was is not None:
            limits[self.note] = was
        elif self.speaks is None:
            said.append("speaks as usual")
        if self.speaks is False:
            silent = (*silent, self.note)
            said.append("is silent")
        elif self.speaks:
            said.append("speaks")
        noting = changed(scene.noting, thresholds=limits, silent=silent)
        return scene.having(noting=noting), f"“{of.label}” {' and '.join(said)}"
