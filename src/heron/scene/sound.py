"""A recorded sound, laid on the stage or in the cut."""

from typing import Annotated, ClassVar, Literal, Self, get_args

from pydantic import Field, StringConstraints, model_validator

from heron.model import Id, Model, Name
from heron.stage.reference import LinkTo, Role
from heron.timebase import MAX_FRAMES
from heron.timebase.frames import FrameNumber

SoundLane = Literal["lines", "effects", "bed", "music"]
SOUND_LANES: tuple[SoundLane, ...] = get_args(SoundLane)
#: The key of a file's content: the start of its hash.
FileKey = Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{24}$")]

#: How far a recording opens a mouth, from shut to wide, so often a second.
LEVELS, LEVELS_PER_S = "0123456789abcdefghijklmnopqrstuvwxyz", 50
Level = Annotated[str, StringConstraints(pattern=r"^[0-9a-z]{0,5000}$")]


class Try(Model):
    """Another recording of the same, kept beside the one that is chosen."""

    name: Name
    file: FileKey
    samples: int = Field(ge=1, le=48_000 * 4 * 3600)
    slip: int = Field(default=0, ge=0, le=48_000 * 4 * 3600)
    frames: int = Field(ge=1, le=MAX_FRAMES)
    level: Level = ""


class Sound(Model):
    """Part of a sound file at a place in time.

    What lies on the stage is heard wherever the cut shows those frames; what lies in the cut is heard once, at its frame
    of the cut. The sound of a line begins with that line, wherever it is.
    """

    NOT_HASHED: ClassVar[frozenset[str]] = frozenset({"id", "name"})

    id: Id
    #: Usually the file's.
    name: Name
    file: FileKey
    #: How long the file is: samples at 48 kHz.
    samples: int = Field(ge=1, le=48_000 * 4 * 3600)
    lane: SoundLane = "effects"
    on: Literal["stage", "cut"] = "stage"
    first: FrameNumber = 0
    frames: int = Field(ge=1, le=MAX_FRAMES)
    line: Annotated[
        Id | None, LinkTo("lines"), Role("is the sound of", goes=True, left="the sound of {} goes with it")
    ] = None
    #: Samples of the file that are left out at its start.
    slip: int = Field(default=0, ge=0, le=48_000 * 4 * 3600)
    #: Its file is heard again and again, cross-faded where it begins again.
    loop: bool = False
    gain_db: float = Field(default=0.0, ge=-96.0, le=24.0)
    fade_in: int = Field(default=0, ge=0, le=MAX_FRAMES)
    fade_out: int = Field(default=0, ge=0, le=MAX_FRAMES)
    #: Of the whole file, a character of `LEVELS` each fiftieth of a second; nothing where that is not known.
    level: Level = ""
    tries: tuple[Try, ...] = Field(default=(), max_length=100)

    @property
    def files(self) -> set[str]:
        """The keys of all files it keeps, those of other tries among them."""
        return {self.file, *(one.file for one in self.tries)}

    @model_validator(mode="after")
    def _fits(self) -> Self:
        if self.slip >= self.samples:
            raise ValueError(f"the sound {self.name} begins after its file has ended")
        if self.fade_in + self.fade_out > self.frames:
            raise ValueError(f"the fades of {self.name} are longer than the sound")
        if self.line is not None and self.on != "stage":
            raise ValueError(f"{self.name} is the sound of a line, so it lies on the stage")
        names = [self.name, *(one.name for one in self.tries)]
        if len(set(names)) < len(names):
            raise ValueError(f"two tries of {self.name} have the same name")
        return self
