"""A cue: a named moment of the stage, which may go with the start or the end of an act."""

from typing import ClassVar

from heron.curves.channel import Bound
from heron.model import Id, Model, Name
from heron.timebase.frames import FrameNumber


class Cue(Model):
    """Where she turns, where the hand drops; bound to an act it moves in time with it, by as much."""

    NOT_HASHED: ClassVar[frozenset[str]] = frozenset({"id", "name"})

    id: Id
    name: Name
    frame: FrameNumber
    bound: Bound | None = None
