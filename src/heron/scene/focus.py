"""What a camera is focused on, and its racks from one thing to another."""

import itertools
from typing import Annotated, Literal

from pydantic import Field, model_validator

from heron.model import STAGE_LIMIT_M, Id, Label, Metres, Model
from heron.stage.body.skeleton import INDEX, LANDMARKS
from heron.timebase.frames import MAX_FRAME_NUMBER, MAX_FRAMES


class AtDistance(Model):
    """A distance from the lens along its axis; None is infinity."""

    kind: Literal["distance"] = "distance"
    metres: float | None = Field(default=None, gt=0.0, le=STAGE_LIMIT_M)


class AtPoint(Model):
    """A place on the stage, and what stands there as a person would say it."""

    kind: Literal["point"] = "point"
    x: Metres
    y: Metres
    z: Metres
    of: Label = ""


class OnFigure(Model):
    """A joint or landmark of a figure; focus goes with it."""

    kind: Literal["figure"] = "figure"
    figure: Id
    joint: str = Field(default="eyes", max_length=40)

    @model_validator(mode="after")
    def _has_it(self) -> "OnFigure":
        if self.joint not in INDEX and self.joint not in LANDMARKS:
            raise ValueError(f"a figure has no joint “{self.joint}”")
        return self


class OnMover(Model):
    """A mover; focus goes with it."""

    kind: Literal["mover"] = "mover"
    mover: Id


class OnPiece(Model):
    """A place on a set piece, in shares of its width, height and depth from the middle of its foot."""

    kind: Literal["piece"] = "piece"
    piece: Id
    across: float = Field(default=0.0, ge=-0.5, le=0.5)
    up: float = Field(default=0.5, ge=0.0, le=1.0)
    along: float = Field(default=0.0, ge=-0.5, le=0.5)


FocusOn = Annotated[AtDistance | AtPoint | OnFigure | OnMover | OnPiece, Field(discriminator="kind")]
#: What there is to be focused on that can be moved or taken away.
OnThing = OnFigure | OnMover | OnPiece


def thing_of(on: FocusOn) -> str | None:
    """The id of the thing that is focused on, if it is one."""
    if isinstance(on, OnFigure):
        return on.figure
    if isinstance(on, OnMover):
        return on.mover
    return on.piece if isinstance(on, OnPiece) else None


class FocusMark(Model):
    """From `frame` on the focus is on something else; the rack to it takes the `over` frames before."""

    frame: int = Field(ge=0, le=MAX_FRAME_NUMBER)
    on: FocusOn
    over: int = Field(default=0, ge=0, le=MAX_FRAMES)
    shape: Literal["straight", "eased"] = "straight"


class Focus(Model):
    """What the focus is on first, and the marks that change it.

    |<- on ->|<- over ->|<- marks[0].on ->
                        ^ marks[0].frame
    """

    on: FocusOn = AtDistance(metres=5.0)
    marks: tuple[FocusMark, ...] = Field(default=(), max_length=1000)

    @model_validator(mode="after")
    def _in_order(self) -> "Focus":
        for one, two in itertools.pairwise(self.marks):
            if two.frame <= one.frame:
                raise ValueError("focus marks must be in order of frame, one at each frame")
            if two.frame - two.over < one.frame:
                raise ValueError(
                    f"the rack to the mark at {two.frame} takes {two.over} frames, but the mark before it is "
                    f"only {two.frame - one.frame} frames away; give it fewer"
                )
        return self

    def things(self) -> set[str]:
        """Ids of the figures, movers and pieces it depends on."""
        return {thing for on in (self.on, *(mark.on for mark in self.marks)) if (thing := thing_of(on))}

    def in_force(self, frame: int) -> FocusOn:
        """What it is on, or racking to, at a frame."""
        on = self.on
        for mark in self.marks:
            if mark.frame - mark.over <= frame:
                on = mark.on
        return on
