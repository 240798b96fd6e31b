"""Commands on what figures look at."""

from typing import Literal

from heron.bake import draft
from heron.commands.base import Command, Outcome
from heron.commands.rigs import refuse_loops
from heron.errors import NotFound, Refused
from heron.model import Id, changed
from heron.scene import Scene, find, replace
from heron.scene.document import spot_called
from heron.scene.links import links
from heron.stage.figure import Figure, Gaze
from heron.stage.reference import OnFigure


class SetGaze(Command):
    """Have a figure look at something over a range of frames, or change how it does."""

    kind: Literal["figure.gaze"] = "figure.gaze"
    figure: Id
    gaze: Gaze

    def apply(self, scene: Scene) -> Outcome:
        figure: Figure = find(scene, "figures", self.figure)
        at = self.gaze.at
        if isinstance(at, OnFigure) and at.figure == figure.id:
            raise Refused(f"{figure.name} cannot look at itself.", "Point at something else.", field="at")
        there = set(scene.items())
        if any(link.id not in there for link in links(self.gaze)):
            raise NotFound(
                "What is to be looked at is not in the scene.",
                "It may have been deleted; choose another.",
                field="at",
            )
        new = any(one.id == self.gaze.id for one in figure.gazes)
        gazes = [self.gaze if one.id == self.gaze.id else one for one in figure.gazes]
        gazes = sorted(gazes if new else [*gazes, self.gaze], key=lambda one: one.frames.first)
        figure = changed(figure, gazes=tuple(gazes))
        after = replace(scene, "figures", figure)
        refuse_loops(after)
        said = f"{figure.name} looks at {spot_called(scene, at)} from {self.gaze.frames.first} to {self.gaze.frames.last}"
        missed = draft(after).performance(figure).missed[gazes.index(self.gaze)]
        if missed is not None:
            said += f"; at {missed} it is farther round than head and eyes can turn"
        return after, said


class TakeGaze(Command):
    """Have a figure no longer look at something."""

    kind: Literal["figure.gaze.take"] = "figure.gaze.take"
    figure: Id
    gaze: Id

    def apply(self, scene: Scene) -> Outcome:
        figure: Figure = find(scene, "figures", self.figure)
        gone = next((one for one in figure.gazes if one.id == self.gaze), None)
        if gone is None:
            raise NotFound(
                f"{figure.name} has no look {self.gaze}.",
                "It may have been taken away; choose another.",
                field="gaze",
            )
        gazes = tuple(one for one in figure.gazes if one is not gone)
        return (
            replace(scene, "figures", changed(figure, gazes=gazes)),
            f"{figure.name} no longer looks at {spot_called(scene, gone.at)} at {gone.frames}",
        )
