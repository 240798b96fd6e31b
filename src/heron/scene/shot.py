"""A shot: a camera over a range of the stage, placed after the shot before it; or a slate, before there is a camera."""

from typing import Annotated, ClassVar

from pydantic import Field, StringConstraints

from heron.curves.channel import OnWord
from heron.model import Colour, Id, Label, Model, Name, NoteText
from heron.scene.own import Own
from heron.stage.reference import LinkTo, Role
from heron.timebase.frames import MAX_FRAMES, Frames

_Camera = Annotated[Id, LinkTo("cameras")]
BoardKey = Annotated[str, StringConstraints(pattern=r"^([0-9a-f]{24})?$")]
_Few = Annotated[int, Field(ge=0, le=MAX_FRAMES)]


class Version(Model):
    """Another angle or length of a shot, kept beside the one that is chosen."""

    name: Name
    camera: Annotated[
        _Camera | None, Role("has a version on", goes=True, left="a version of {} goes with it")
    ] = None
    stage: Frames


class Proposed(Model):
    """What an assembly made of a shot, and why: as long as that holds, no hand has changed it."""

    camera: Label
    stage: Frames
    why: NoteText = ""


class Shot(Model):
    """`stage` is the action it shows; `gap_before` black frames lie between it and the shot before.

    Where it lies in the cut follows from the shots before it, so shots can neither overlap
    nor be out of order. Without a camera it is a slate: its `stage` then counts frames of its own.
    Its own camera and stage are those of the version that is chosen.
    """

    NOT_HASHED: ClassVar[frozenset[str]] = frozenset({"note", "board", "bound", "proposed", "stays"})

    id: Id
    name: Name
    camera: Annotated[_Camera | None, Role("is on", goes=True, left="the cut has a gap in place of {}")] = (
        None
    )
    stage: Frames
    gap_before: int = Field(default=0, ge=0, le=MAX_FRAMES)
    #: For whoever reads the shot list.
    note: NoteText = ""
    #: The key of the picture that stands for it before there is a camera, and that the camera's is held against.
    board: BoardKey = ""
    #: Frames that it is mixed with the shot before it: before the joint and after it.
    dissolve: tuple[_Few, _Few] | None = None
    #: By how many frames the sound of the stage changes to this shot's before the picture does; less than nothing, after it.
    sound_lead: Annotated[int, Field(ge=-MAX_FRAMES, le=MAX_FRAMES)] = 0
    fade_in: _Few = 0
    fade_out: _Few = 0
    fade_colour: Colour = "#000000"
    #: What the chosen version is called; nothing, as long as there has been no other.
    version: Label = ""
    versions: tuple[Version, ...] = Field(default=(), max_length=100)
    #: A word that its beginning moves in time with, on the stage.
    bound: OnWord | None = None
    #: What is otherwise for this shot alone.
    own: tuple[Own, ...] = Field(default=(), max_length=1000)
    #: What it was when an assembly made it.
    proposed: Proposed | None = None
    #: It stays as it is when the cut is assembled again.
    stays: bool = False

    @property
    def by_hand(self) -> bool:
        """Whether a hand made it, or changed what it shows since it was proposed."""
        return self.proposed is None or (self.proposed.camera, self.proposed.stage) != (
            self.camera,
            self.stage,
        )
