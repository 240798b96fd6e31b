"""A pass: what a hand did with a thing while the stage played, kept as it was recorded."""

from typing import Annotated, ClassVar, Literal

from pydantic import Field, model_validator

from heron.model import Id, Model, Name
from heron.stage.reference import LinkTo, Role
from heron.timebase.frames import FrameNumber

#: The longest pass, frames.
MOST_FRAMES = 20_000
#: What of a camera's lens a hand can work, beside its pose, as the channels are called.
ZOOM, PULL = "focal", "focus.distance"


class OfCamera(Model):
    """A camera was worked."""

    kind: Literal["camera"] = "camera"
    camera: Annotated[Id, LinkTo("cameras")]

    @property
    def id(self) -> str:
        """The thing's id."""
        return self.camera


class OfMover(Model):
    """A mover was driven."""

    kind: Literal["mover"] = "mover"
    mover: Annotated[Id, LinkTo("movers")]

    @property
    def id(self) -> str:
        """The thing's id."""
        return self.mover


class OfFigure(Model):
    """A figure was led."""

    kind: Literal["figure"] = "figure"
    figure: Annotated[Id, LinkTo("figures")]

    @property
    def id(self) -> str:
        """The thing's id."""
        return self.figure


class Track(Model):
    """One of the numbers that the hand changed, as its channel keeps it, in stage terms.

    `hand` is what the hand added at each frame; `base` what it was added to: a value for each frame of what the thing did
    by itself, or the one at which it stood.
    """

    channel: Annotated[str, Field(min_length=1, max_length=40)]
    hand: Annotated[tuple[float, ...], Field(min_length=2, max_length=MOST_FRAMES)]
    base: Annotated[tuple[float, ...], Field(min_length=1, max_length=MOST_FRAMES)]


class Pass(Model):
    """Frame by frame from `first` on: metres and degrees on the stage, millimetres, 1/m of a focus distance."""

    NOT_HASHED: ClassVar[frozenset[str]] = frozenset({"id", "name", "in_use"})

    id: Id
    name: Name
    of: Annotated[
        OfCamera | OfMover | OfFigure,
        Field(discriminator="kind"),
        Role("was recorded of", left="{} goes with it"),
    ]
    first: FrameNumber
    tracks: tuple[Track, ...] = Field(min_length=1, max_length=12)
    #: How it was smoothed when it was last turned into keys, seconds of the stage.
    smooth_s: float = Field(default=0.25, ge=0.0, le=5.0)
    #: Its keys were put, and no other pass's on the same numbers since.
    in_use: bool = False

    @model_validator(mode="after")
    def _as_long(self) -> "Pass":
        lengths = {len(track.hand) for track in self.tracks}
        if len(lengths) > 1 or any(len(track.base) not in (1, *lengths) for track in self.tracks):
            raise ValueError(f"the tracks of {self.name} are not all as long")
        if len({track.channel for track in self.tracks}) < len(self.tracks):
            raise ValueError(f"{self.name} has two tracks of one number")
        return self

    @property
    def last(self) -> int:
        """Its last frame."""
        return self.first + len(self.tracks[0].hand) - 1

    @property
    def numbers(self) -> frozenset[str]:
        """What the hand changed."""
        return frozenset(track.channel for track in self.tracks)
