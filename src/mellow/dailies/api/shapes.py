"""What the API of renders takes and gives."""

from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from heron.dailies.asked import Preset, Render
from heron.dailies.shot_list import ShotLine
from heron.model import Model


class PlanOut(BaseModel):
    """What a render would come to: how many frames, how many of them are there already, and the size with its slate."""

    frames: int
    kept: int
    shown: int
    wide: int
    high: int
    written_wide: int
    written_high: int
    said: list[str]


class TakeOut(BaseModel):
    """A take as lists show it. `seconds_left` is None while that cannot be said."""

    id: int
    scene: int
    frozen: int
    scene_name: str
    number: int
    revision: int
    author: str
    at: datetime
    note: str
    state: Literal["waiting", "drawing", "packing", "done", "lacking", "cancelled", "failed"]
    reason: str
    render: Render
    wide: int
    high: int
    rate: str
    frames: int
    shown: int
    done: int
    reused: int
    failed: int
    packed: int
    to_pack: int
    seconds_left: float | None
    newest: str
    said: list[str]
    files: list["FileOut"]
    remarks: int


class FileOut(BaseModel):
    """Something that a take hands over."""

    kind: Literal["movie", "pictures", "otio", "manifest", "sound", "tone", "sounds"]
    name: str
    bytes: int


class FrameOut(BaseModel):
    """A frame of a take. `proof` is empty until it is drawn."""

    place: int
    cut: int | None
    shot: str
    camera: str
    stage: int
    slate: str
    state: Literal["waiting", "claimed", "done", "failed"]
    reason: str
    proof: str


class RemarkOut(BaseModel):
    """Something said of a frame of the movie."""

    id: int
    frame: int
    text: str
    author: str
    at: datetime
    ticked: bool


class TakeWhole(BaseModel):
    """A take with its frames; for each frame of the movie the place of the one it shows, or null for black."""

    take: TakeOut
    frozen: int
    frames: list[FrameOut]
    movie: list[int | None]
    timecodes: list[str]
    remarks: list[RemarkOut]


class AgainstOut(BaseModel):
    """Another take beside this one: which of its frames stands beside each, and what became different."""

    beside: list[int | None]
    different: list[str]
    done: list[str]


class ClaimIn(Model):
    """A worker asks for frames."""

    by: Annotated[str, Field(min_length=1, max_length=80)]
    count: int = Field(default=1, ge=1, le=16)


class MixedPart(BaseModel):
    """One picture of those that are added up, and how much it counts."""

    camera: str
    stage: int
    weight: float
    #: The shot it belongs to, where that has something for itself.
    shot: str | None = None


class MixedOut(BaseModel):
    """What a picture is added up from, in linear light, and the light that fades add."""

    parts: list[MixedPart]
    light: list[float]


class ClaimedFrame(BaseModel):
    """A frame to draw."""

    place: int
    camera: str
    stage: int
    #: What the shot is called that it is drawn for; empty outside the cut.
    shot: str
    mixed: MixedOut | None


class ClaimOut(BaseModel):
    """Frames to draw; `wanted` is false when there is nothing more to do here, now or later."""

    frames: list[ClaimedFrame]
    wanted: bool
    #: After so many seconds it wants to hear that they are still drawn.
    beat: float
    quality: Literal["quick", "fine", "timed"]
    #: Whether figures are drawn as flat shapes.
    silhouettes: bool
    drawings: int
    seconds: float


class ByIn(Model):
    """Who says it."""

    by: Annotated[str, Field(min_length=1, max_length=80)]


class WantedOut(BaseModel):
    """Whether what is drawn is still wanted."""

    wanted: bool


class ReasonIn(Model):
    """Why something could not be done."""

    reason: Annotated[str, Field(max_length=500)]


class WorkerIn(Model):
    """A worker that is there."""

    name: Annotated[str, Field(min_length=1, max_length=80)]
    draws: bool = True
    packs: bool = True


class LeftOut(BaseModel):
    """A take that is to be gone on with."""

    id: int
    frozen: int
    wide: int
    high: int
    state: str


class MediaOut(BaseModel):
    """Bytes of kept pictures, of what takes handed over, and how many may be."""

    pictures: int
    takes: int
    bound: int
    freed: int = 0


class NoteIn(Model):
    """A line of note."""

    note: Annotated[str, Field(max_length=200)]


class RemarkIn(Model):
    """Something to say of a frame of the movie."""

    frame: int = Field(ge=0, le=10_000_000)
    text: Annotated[str, Field(min_length=1, max_length=500)]


class RemarkSet(Model):
    """A remark changed."""

    text: Annotated[str, Field(min_length=1, max_length=500)] | None = None
    ticked: bool | None = None


class CopyOut(BaseModel):
    """The scene that was opened from a take."""

    scene: int


class PresetOut(BaseModel):
    """A kept way to render."""

    id: int
    preset: Preset


class ShotListOut(BaseModel):
    """The cut as a list of shots, each with its id, its camera and the first frame of it."""

    lines: list[ShotLine]
    ids: list[str]
    cameras: list[str]
