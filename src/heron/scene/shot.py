"""A shot: a camera over a range of the stage, placed after the shot before it."""

from typing import Annotated, ClassVar

from pydantic import Field

from heron.model import Id, Model, Name, Note
from heron.stage.reference import LinkTo, Role
from heron.timebase.frames import MAX_FRAMES, Frames


class Shot(Model):
    """`stage` is the action it shows; `gap_before` black frames lie between it and the shot before.

    Where it lies in the cut follows from the shots before it, so shots can neither overlap
    nor be out of order.
    """

    NOT_HASHED: ClassVar[frozenset[str]] = frozenset({"note"})

    id: Id
    name: Name
    camera: Annotated[Id, LinkTo("cameras"), Role("is on", left="the cut has a gap in place of {}")]
    stage: Frames
    gap_before: int = Field(default=0, ge=0, le=MAX_FRAMES)
    #: For whoever reads the shot list.
    note: Note = ""
