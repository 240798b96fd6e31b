"""What the library's routes take and give."""

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from heron.commands.bringing import PartIn
from heron.commands.cameras_in import CameraTrack
from heron.formats.bringing.found import Unit, Up
from heron.model import FileKey, Id, Model


class SentOut(BaseModel):
    """A file that was sent: the SHA-256 of its content."""

    source: str
    size: int


class UsedOut(BaseModel):
    """A scene that uses a file, and how many of its pieces are of it."""

    scene: int
    name: str
    pieces: int


class ClipOut(BaseModel):
    """A piece of motion that stands in a file."""

    name: str
    frames: int


class BroughtOut(BaseModel):
    """A file of the library."""

    id: int
    name: str
    kind: str
    key: str
    source: str
    size: int
    triangles: int
    height_m: float
    size_m: list[float]
    unit: str | None
    up: str
    told: bool
    hints: list[str]
    left_out: list[str]
    parts: list[PartIn]
    seconds: float
    rate: float
    joints: dict[str, str]
    names: list[str]
    clips: list[ClipOut]
    cameras: list[str]
    #: Of things of our own: how many there are of each kind.
    things: dict[str, int]
    pictured: bool
    here: bool
    used: list[UsedOut]


class ReadIn(Model):
    """A sent file to read: what it is called, the files it names, and what is known of it."""

    source: FileKey
    name: Annotated[str, Field(min_length=1, max_length=200)]
    along: dict[str, FileKey] = Field(default_factory=dict, max_length=400)
    unit: Unit | None = None
    up: Up | None = None
    lighter: bool = False
    #: It is meant as a set or a prop, though it has a skeleton.
    rigid: bool = False
    #: Its cameras are meant, at a scene's frame rate.
    cameras: bool = False
    rate: Annotated[str, Field(max_length=16)] | None = None
    #: Its motion is meant: of a clip, with joints called so in the file.
    motion: bool = False
    clip: str | None = None
    map: dict[str, str] = Field(default_factory=dict, max_length=40)


class KeepIn(Model):
    """Things of a scene that are kept together."""

    ids: tuple[Id, ...] = Field(max_length=5000)
    #: The things themselves, or of the first of them its rig or its look alone.
    what: Literal["things", "rig", "look"] = "things"


class RenewIn(Model):
    """The file that takes the place of another."""

    to: int


class RenewedOut(BaseModel):
    """What became of a scene whose file has a new version."""

    scene: int
    name: str
    sentence: str
    refused: bool


class ProblemOut(BaseModel):
    """Why a file was refused."""

    reason: str
    remedy: str
    field: str


class BesideOut(BaseModel):
    """A motion on the spot, metres, facing −Z: when, (f, j, 3) its own joints, and a figure's turns (f, J, 4) and pelvis (f, 3)."""

    seconds: list[float]
    parents: list[int]
    bones: list[list[list[float]]]
    joints: list[str]
    turns: list[list[list[float]]]
    pelvis: list[list[float]]


class ReadingOut(BaseModel):
    """How far a file is read, 0 to 1, and what came of it: a file of the library, or what else it is."""

    id: str
    name: str
    state: Literal["waiting", "reading", "done", "refused", "stopped"]
    share: float
    kind: str | None
    problem: ProblemOut | None
    file: BroughtOut | None
    #: Of a file with nothing but cameras, or of which they are meant: what `cameras.bring` takes.
    tracks: list[CameraTrack]
    #: Of a motion: some of its frames as its own joints have them, and as a figure does them.
    beside: BesideOut | None
