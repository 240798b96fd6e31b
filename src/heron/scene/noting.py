"""What a scene says of its notes: how strictly they are, which are silent, and which were put aside."""

from typing import Annotated

from pydantic import Field

from heron.model import Id, Label, Metres, Model, NoteText
from heron.timebase import Frames


class Aside(Model):
    """Notes of a kind that are not to be said again: of a camera or of a joint, over some frames, or of the whole scene.

    Attributes:
        camera: whose frames; None, all cameras' or of a cut.
        joint: ids of the shots that meet; None, not of a cut alone.
        frames: of the stage; None, all.
    """

    id: Id
    note: Label
    camera: Id | None = None
    joint: Annotated[tuple[Id, ...] | None, Field(max_length=8)] = None
    frames: Frames | None = None
    why: NoteText = ""


class ActionLine(Model):
    """A line of action that was set for some frames, in place of the one between those who look at each other.

    Attributes:
        of: two figures it lies between; one whose way it follows; none, where it was put by hand or is off.
        points: where it was put by hand: x and z of its ends, metres.
        off: there is no line over these frames.
        frames: of the stage; None, all.
    """

    id: Id
    of: Annotated[tuple[Id, ...], Field(max_length=2)] = ()
    points: tuple[tuple[Metres, Metres], tuple[Metres, Metres]] | None = None
    off: bool = False
    frames: Frames | None = None


class Noting(Model):
    """Thresholds that are not the usual ones, by kind; kinds that do not speak; what was put aside; and lines of action."""

    thresholds: Annotated[dict[Label, float], Field(max_length=60)] = {}
    silent: Annotated[tuple[Label, ...], Field(max_length=60)] = ()
    aside: Annotated[tuple[Aside, ...], Field(max_length=2000)] = ()
    lines: Annotated[tuple[ActionLine, ...], Field(max_length=200)] = ()
