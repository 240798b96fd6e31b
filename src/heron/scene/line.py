"""What is said on the stage: by whom, from when, and which of its words are held at a moment."""

from typing import Annotated, ClassVar, Self

from pydantic import AfterValidator, Field, StringConstraints, model_validator

from heron.model import Id, Label, Model, _one_line
from heron.stage.reference import LinkTo, Role
from heron.timebase import MAX_FRAMES
from heron.timebase.frames import MAX_FRAME_NUMBER, FrameNumber

Spoken = Annotated[
    str, StringConstraints(strip_whitespace=True, min_length=1, max_length=2000), AfterValidator(_one_line)
]


class HeldWord(Model):
    """A word that begins so many frames after its line; counted from 0, the one past the last is the line's end."""

    word: int = Field(ge=1, le=2000)
    at: int = Field(ge=1, le=MAX_FRAMES)


class Line(Model):
    """A line of dialogue.

    It begins at a stated frame, or `pause` frames after the line before it has ended; less than none overlaps that.
    Its length follows from its words (`heron.lines.timing`) and from those that are held.
    """

    NOT_HASHED: ClassVar[frozenset[str]] = frozenset({"id"})

    id: Id
    #: Who says it; a voice off has only a name.
    figure: Annotated[Id | None, LinkTo("figures"), Role("is said by")] = None
    who: Label = ""
    text: Spoken
    #: None: it follows the line before it, in the order of the table; the first one, the scene's beginning.
    first: FrameNumber | None = None
    pause: int = Field(default=0, ge=-MAX_FRAME_NUMBER, le=MAX_FRAME_NUMBER)
    held: tuple[HeldWord, ...] = Field(default=(), max_length=2000)

    @model_validator(mode="after")
    def _fits(self) -> Self:
        if (self.figure is None) != bool(self.who):
            raise ValueError("a line has a figure or the name of a voice, and not both")
        places = [(one.word, one.at) for one in self.held]
        if any(a[0] >= b[0] or a[1] >= b[1] for a, b in zip(places, places[1:], strict=False)):
            raise ValueError("held words come one after the other")
        if places and places[-1][0] > len(self.words):
            raise ValueError(f"word {places[-1][0]} is held, and the line has {len(self.words)}")
        return self

    @property
    def words(self) -> list[str]:
        """Its words as they are written, with what is set beside them."""
        return self.text.split()

    @property
    def name(self) -> str:
        """How it is called: by its first words."""
        short = self.text if len(self.text) <= 32 else self.text[:32].rsplit(" ", 1)[0].rstrip(" ,;:") + "…"
        return f"“{short}”"
