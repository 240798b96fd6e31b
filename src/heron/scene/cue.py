"""A cue: a named moment of the stage, which may go with the start or the end of an act, or with a word."""

from typing import ClassVar

from heron.curves.channel import Bound, OnWord
from heron.model import Id, Model, Name
from heron.timebase.frames import FrameNumber


class Cue(Model):
    """Where she turns, where the hand drops; bound to an act or a word it moves in time with it, by as much."""

    NOT_HASHED: ClassVar[frozenset[str]] = frozenset({"id", "name"})

    id: Id
    name: Name
    frame: FrameNumber
    bound: Bound | OnWord | None = None
