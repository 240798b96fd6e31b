"""What a camera is focused on, and its racks from one thing to another; or a distance pulled by keys."""

import itertools
from typing import Annotated, ClassVar, Literal

from pydantic import Field, model_validator

from heron.curves import Channel, ChannelSpec, Keyed
from heron.model import STAGE_LIMIT_M, Model
from heron.stage.reference import AtPoint, OnCamera, OnFigure, OnMover, OnPerch, OnPiece, Role
from heron.timebase.frames import MAX_FRAMES, FrameNumber


class AtDistance(Model):
    """A distance from the lens along its axis; None is infinity."""

    kind: Literal["distance"] = "distance"
    metres: float | None = Field(default=None, gt=0.0, le=STAGE_LIMIT_M, title="Distance")


class Pulled(Model):
    """The distance of the focus itself, which has a curve."""

    kind: Literal["pulled"] = "pulled"


#: The nearest that a distance on the curve may be, metres.
NEAREST_M = 0.05
FocusOn = Annotated[
    AtDistance | Pulled | AtPoint | OnFigure | OnMover | OnPiece | OnCamera | OnPerch,
    Field(discriminator="kind"),
]
_FOCUSED = Role("is focused on", left="the focus of {} stays where it was")


class FocusMark(Model):
    """From `frame` on the focus is on something else; the rack to it takes the `over` frames before."""

    frame: FrameNumber
    on: Annotated[FocusOn, _FOCUSED]
    over: int = Field(default=0, ge=0, le=MAX_FRAMES)
    shape: Literal["straight", "eased"] = "straight"

    def frame_of(self, _: str) -> int | None:
        """The frame at which what it is on first counts."""
        return self.frame


class Focus(Keyed):
    """What the focus is on first, and the marks that change it.

    |<- on ->|<- over ->|<- marks[0].on ->
                        ^ marks[0].frame

    Channels: `distance` 1/m from the lens along its axis, which counts where the focus is `Pulled`. Its curve is even
    as a rack is; infinity is as far as the stage reaches.
    """

    CHANNELS: ClassVar[tuple[ChannelSpec, ...]] = (
        ChannelSpec(
            name="distance", label="Focus distance", unit="m", low=NEAREST_M, high=STAGE_LIMIT_M,
            measure="per metre", shown_as="distance", digits=2, step=0.02, group="focus",
        ),
    )  # fmt: skip

    on: Annotated[FocusOn, _FOCUSED] = AtDistance(metres=5.0)
    marks: tuple[FocusMark, ...] = Field(default=(), max_length=1000)
    distance: Channel = Channel(rest=0.2)

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

    def frame_of(self, _: str) -> int | None:
        """The last frame at which what it is on first counts alone; none when it always does."""
        return self.marks[0].frame - self.marks[0].over if self.marks else None

    def pulled(self) -> bool:
        """Whether its curve counts at any time."""
        return any(isinstance(on, Pulled) for on in (self.on, *(mark.on for mark in self.marks)))

    def in_force(self, frame: int) -> FocusOn:
        """What it is on, or racking to, at a frame."""
        on = self.on
        for mark in self.marks:
            if mark.frame - mark.over <= frame:
                on = mark.on
        return on
