"""A perch: a view that was saved, where a camera can go; it may ride on something that moves."""

from typing import Annotated, ClassVar

from pydantic import Field

from heron.model import Degrees, Id, Label, Metres, Model, Name
from heron.stage.reference import Role, Spot


class Perch(Model):
    """Metres and degrees: on the stage, or, where it rides, from what it rides on and in the directions that faces.

    It rides level: with the place and the heading of what carries it, so that a step does not rock it.
    """

    NOT_HASHED: ClassVar[frozenset[str]] = frozenset({"id", "name", "group", "focus_m", "locked"})

    id: Id
    name: Name
    #: Perches of one group are listed together.
    group: Label = ""
    x: Metres = 0.0
    y: Metres = 1.6
    z: Metres = 0.0
    pan: Degrees = 0.0
    tilt: Degrees = Field(default=0.0, ge=-90.0, le=90.0)
    roll: Degrees = 0.0
    rides: Annotated[
        Spot | None, Role("rides on", moves=True, needs="pose", left="{} stays where it was")
    ] = None
    #: The lens and the focus it was seen with, where they were kept: millimetres and metres.
    focal: float | None = Field(default=None, gt=0.0, le=5000.0)
    focus_m: float | None = Field(default=None, gt=0.0, le=1e6)
    #: Not to be touched.
    locked: bool = False
