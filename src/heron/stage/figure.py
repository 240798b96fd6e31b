"""A figure: who it is, where it starts, and what it does in turn."""

from typing import Annotated, Any, ClassVar, Literal

import numpy as np
from pydantic import Field, model_validator

from heron.model import Colour, Degrees, Id, Metres, Model, Name, new_id
from heron.stage.reference import Role, Spot
from heron.timebase.frames import Frames

Point2 = tuple[Metres, Metres]
#: Frames that an act and a look take before anyone says otherwise. The numbers are ours.
ACT_FRAMES, LOOK_FRAMES = 36, 48


class Look(Model):
    """How a figure is recognised at a glance."""

    coat: Colour = "#3f6f7a"
    trim: Colour = "#d9c7a0"
    build: Literal["slight", "middling", "broad"] = "middling"
    headwear: Literal["none", "cap", "scarf", "bun"] = "none"
    garment: Literal["plain", "coat", "skirt"] = "plain"


class Act(Model):
    """Something a figure does over a range of frames; it is named once something goes with it."""

    NOT_HASHED: ClassVar[frozenset[str]] = frozenset({"id"})

    id: Id | None = None
    frames: Frames


class Walk(Act):
    """Walks from where it stands through points on the floor, (x, z) in metres."""

    kind: Literal["walk"] = "walk"
    points: tuple[Point2, ...] = Field(min_length=1, max_length=200)


class Turn(Act):
    """Turns on the spot to face a heading, degrees, positive to the left of −Z."""

    kind: Literal["turn"] = "turn"
    heading: Degrees


class Talk(Act):
    """Talks with its hands."""

    kind: Literal["talk"] = "talk"


class PointAt(Act):
    """Points at a place on the stage, or at something, which the arm then follows."""

    kind: Literal["point"] = "point"
    at: Annotated[Spot, Role("points at", moves=True, bare=True, left="{} points at where it was")]

    def frame_of(self, _: str) -> int | None:
        """The frame from which what it points at counts."""
        return self.frames.first


class Spin(Act):
    """Is turned evenly, as on a turntable, so many times round; positive to its left. After it faces as before."""

    kind: Literal["spin"] = "spin"
    turns: int = Field(default=1, ge=-50, le=50)

    @model_validator(mode="after")
    def _turns(self) -> "Spin":
        if self.turns == 0:
            raise ValueError("a turntable turns at least once; give it 1 to the left, or -1 to the right")
        return self


class Stand(Act):
    """Stands."""

    kind: Literal["stand"] = "stand"


class Gaze(Model):
    """Looks at something over a range, whatever else it does: shares of the turn that eyes, head and chest make."""

    id: Id = Field(default_factory=lambda: new_id("gaz"))
    at: Annotated[Spot, Role("looks at", turns=True, bare=True, left="the look of {} stays where it was")]
    frames: Frames
    weight: float = Field(default=1.0, ge=0.0, le=1.0)
    eyes: float = Field(default=1.0, ge=0.0, le=1.0)
    head: float = Field(default=0.75, ge=0.0, le=1.0)
    chest: float = Field(default=0.15, ge=0.0, le=1.0)

    def frame_of(self, _: str) -> int | None:
        """The frame from which what it looks at counts."""
        return self.frames.first


AnyAct = Annotated[Walk | Turn | Talk | PointAt | Spin | Stand, Field(discriminator="kind")]
Idle = Literal["stand", "talk", "point"]
Holds = Literal["nothing", "oar"]


class Figure(Model):
    """A person on the stage; `x`, `z`, `heading` are where and how it starts.
    What it holds is in its left hand.
    """

    NOT_HASHED: ClassVar[frozenset[str]] = frozenset({"name", "look"})

    id: Id
    name: Name
    stature: float = Field(default=1.7, ge=0.3, le=4.0)
    look: Look = Look()
    x: Metres = 0.0
    z: Metres = 0.0
    heading: Degrees = 0.0
    idle: Idle = "stand"
    holds: Holds = "nothing"
    acts: tuple[AnyAct, ...] = Field(default=(), max_length=500)
    #: In the order in which they run: a later one takes over from an earlier one.
    gazes: tuple[Gaze, ...] = Field(default=(), max_length=200)

    @model_validator(mode="after")
    def _in_turn(self) -> "Figure":
        for one, two in zip(self.acts, self.acts[1:], strict=False):
            if two.frames.first <= one.frames.last:
                raise ValueError(
                    f"{self.name} cannot {two.kind} from {two.frames.first} while it still has to "
                    f"{one.kind} until {one.frames.last}; start later or shorten the other"
                )
        return self


def reaches(figure: Figure) -> np.ndarray[Any, np.dtype[np.float64]]:
    """(4,) metres: the upright square of the floor that holds every step of a figure: x, z from, x, z to.

    A walk's curve swings wide of its points by a share of a leg at most; feet, by a share of the stature.
    """
    points = [(figure.x, figure.z), *(p for act in figure.acts if isinstance(act, Walk) for p in act.points)]
    places = np.array(points)
    longest = np.hypot(*np.diff(places, axis=0).T).max(initial=0.0)
    by = figure.stature + 0.25 * longest
    return np.concatenate([places.min(axis=0) - by, places.max(axis=0) + by])
