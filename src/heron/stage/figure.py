"""A figure: who it is, where it starts, and what it does in turn."""

from functools import cached_property
from itertools import count
from typing import ClassVar, Literal

import numpy as np
from pydantic import Field, field_validator, model_validator

from heron.curves import Keyed
from heron.model import Colour, Degrees, FileKey, Id, Label, Metres, Model, Name, changed
from heron.stage.acts import Act, AnyAct
from heron.stage.acts.body import Run, Sit, StepAside, Walk, WalkBack
from heron.stage.acts.face import FaceAct
from heron.stage.acts.look import LookAt
from heron.stage.lanes import crowded, on_lane

#: Words a minute at which people speak (common practice).
PACE = 150.0
#: Frames that a look takes before anyone says otherwise. The number is ours.
LOOK_FRAMES = 48
#: Somebody who sits down goes no farther than this to do it, metres.
_TO_A_SEAT_M = 5.0


class Look(Model):
    """How a figure is recognised at a glance."""

    coat: Colour = "#3f6f7a"
    trim: Colour = "#d9c7a0"
    build: Literal["slight", "middling", "broad"] = "middling"
    headwear: Literal["none", "cap", "scarf", "bun"] = "none"
    garment: Literal["plain", "coat", "skirt"] = "plain"


#: A voice is higher the smaller who speaks: by their stature to this power, from this pitch at 1.65 m. The law is ours; adults
#: speak at 100 to 220 Hz, children at up to 300 (common practice).
_PITCH_HZ, _BY = 185.0, 2.5


class Voice(Model):
    """How a figure speaks."""

    #: Hz; None: by its stature.
    pitch: float | None = Field(default=None, ge=60.0, le=400.0)
    #: Words a minute.
    pace: float = Field(default=PACE, ge=60.0, le=400.0)

    @staticmethod
    def usual_pitch(stature: float) -> float:
        """The pitch of somebody of that stature, Hz."""
        return float(min(max(_PITCH_HZ * (1.65 / stature) ** _BY, 80.0), 320.0))


Idle = Literal["stand", "talk", "point"]


class Figure(Keyed):
    """A person on the stage; `x`, `z`, `heading` are where and how it starts."""

    NOT_HASHED: ClassVar[frozenset[str]] = frozenset({"name", "look", "group", "hidden", "voice"})

    id: Id
    name: Name
    stature: float = Field(default=1.7, ge=0.3, le=4.0)
    look: Look = Look()
    #: Whose body it has: the file of a character that was brought in. Without one, that of a lay figure.
    character: FileKey | None = None
    voice: Voice = Voice()
    x: Metres = 0.0
    z: Metres = 0.0
    heading: Degrees = 0.0
    idle: Idle = "stand"
    group: Label = ""
    #: Not seen in pictures; cameras watch and follow it all the same.
    hidden: bool = False
    #: By their first frames, those of all lanes together.
    acts: tuple[AnyAct, ...] = Field(default=(), max_length=500)

    @field_validator("acts")
    @classmethod
    def _in_order(cls, acts: tuple[Act, ...]) -> tuple[Act, ...]:
        taken = {act.id for act in acts if act.id}
        if len(taken) < sum(act.id is not None for act in acts):
            raise ValueError("two acts have the same id; give each its own")
        free = (name for n in count(1) if (name := f"act-{n}") not in taken)
        named = [act if act.id else changed(act, id=next(free)) for act in acts]
        return tuple(sorted(named, key=lambda act: act.frames.first))

    @property
    def pitch(self) -> float:
        """How high it speaks, Hz."""
        return self.voice.pitch or Voice.usual_pitch(self.stature)

    @property
    def gazes(self) -> tuple[LookAt, ...]:
        """What it looks at, in the order in which the looks run: a later one takes over from an earlier one."""
        return tuple(act for act in self.acts if isinstance(act, LookAt))

    @property
    def placed_by(self) -> tuple[Act, ...]:
        """The acts on which it depends where its body is: all but looks, which turn it where it stands, and its face."""
        return tuple(act for act in self.acts if not isinstance(act, LookAt | FaceAct))

    @property
    def rooted_by(self) -> tuple[Act, ...]:
        """The acts on which it depends where it stands."""
        return tuple(act for act in self.acts if act.MOVES_ROOT)

    @property
    def body(self) -> tuple[Act, ...]:
        """What its body does, in order."""
        return tuple(on_lane(self.acts, "body"))

    @cached_property
    def reach(self) -> tuple[float, ...]:
        """Metres: the upright square of the floor that holds every step: x, z from, x, z to.

        A walk's curve swings wide of its points by a share of a leg at most; feet, by a share of the stature.
        """
        walks = (p for act in self.acts if isinstance(act, Walk | Run) for p in act.points)
        places = np.array([(self.x, self.z), *walks])
        longest = np.hypot(*np.diff(places, axis=0).T).max(initial=0.0)
        goes = sum(act.far for act in self.acts if isinstance(act, StepAside | WalkBack))
        seats = sum(isinstance(act, Sit) for act in self.acts)
        by = self.stature + 0.25 * longest + goes + _TO_A_SEAT_M * seats
        return (*(places.min(axis=0) - by).tolist(), *(places.max(axis=0) + by).tolist())

    @model_validator(mode="after")
    def _in_turn(self) -> "Figure":
        found = crowded(self.acts)
        if found:
            one, two = found
            raise ValueError(
                f"{self.name} cannot {two.LABEL.lower()} from {two.frames.first} while it still has to "
                f"{one.LABEL.lower()} until {one.frames.last}; start later or shorten the other"
            )
        return self
