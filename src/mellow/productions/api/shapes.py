"""What the API takes and gives, where it is not a model of the core."""

import base64
from datetime import datetime
from typing import Annotated, Any

from django.http import HttpResponse
from pydantic import BaseModel, Field

from heron.commands import AnyCommand
from heron.commands.cut_edits import Live
from heron.curves import ChannelSpec
from heron.framing import Clipped, FigureFocus
from heron.framing.sizing import MOST_LENSES
from heron.model import Model, Name
from heron.optics.view import LONGEST_MM, SHORTEST_MM
from heron.scene import FinePatch, Patch, Scene
from heron.scene.parts import Part
from heron.timebase import Frames, Rate
from heron.timebase.frames import FrameNumber


def answered(model: BaseModel) -> HttpResponse:
    """A long answer, written at once: it was checked when it was made."""
    return HttpResponse(model.model_dump_json(), content_type="application/json")


class Pictured(BaseModel):
    """A camera and a stage frame, and the aspect of the picture."""

    camera: str
    frame: int
    aspect: float


class SceneLine(BaseModel):
    """A scene in the list."""

    id: int
    name: str
    rate: str
    first: int
    last: int
    cameras: int
    shots: int
    #: Frames of its cut, and how long that is.
    cut: int
    seconds: float
    changed: datetime
    revision: int
    #: The revision that its picture is of; none where there is no picture yet.
    picture: int | None
    #: What its picture is drawn of; none where it has no camera.
    pictured: Pictured | None


class SceneOut(BaseModel):
    """A scene with all the desk needs to begin."""

    id: int
    revision: int
    scene: Scene
    keys: dict[str, str]
    can_undo: bool
    can_redo: bool
    #: What was mended in it as it was read: sentences.
    repairs: list[str] = []


#: Things whose samples are to come with the answer, since they are being looked at.
Looked = Annotated[tuple[Annotated[str, Field(max_length=60)], ...], Field(max_length=8)]


def sealed(content: bytes) -> str:
    """Bytes for JSON, base64 (RFC 4648)."""
    return base64.b64encode(content).decode("ascii")


class CurveOut(BaseModel):
    """A channel's curve as it is drawn.

    `keys` is (k, 8) little-endian float32 in base64: for each key its frame and value, the handle that comes in and the
    one that goes out (frames and value from the key), as bits what is the matter with them: 1 and 2 shortened coming in
    and going out, 4 and 8 makes the curve overshoot, 16 when the value is held from there; and the value as it is shown.
    Between two keys the curve is the cubic Bézier of their handles. `low` and `high` are how far it goes.
    """

    keys: str
    low: float
    high: float


class CurvesOut(BaseModel):
    """A thing's channels with their curves, in the order of the table of channels, by their whole names."""

    specs: list[ChannelSpec]
    #: What each part is called whose channels are among them, by its id.
    parts: dict[str, str]
    #: Channels that do nothing as the thing is set now.
    idle: list[str]
    curves: dict[str, CurveOut]
    #: Of channels that are shown in another measure than they are kept in: values kept and shown, for an axis.
    marks: dict[str, list[tuple[float, float]]]


class ChangedOut(BaseModel):
    """What a change came to: apply the patch, fetch what has a new key and did not come with it.

    `samples` are packed samples in base64 of what changed among the things that are looked at. With `onto` in their
    header they are some frames, to be laid over the samples of that key; whoever has others fetches the whole.
    """

    revision: int
    sentence: str
    patch: FinePatch
    keys: dict[str, str]
    samples: dict[str, str]
    #: By thing and channel, those of what is looked at that are others now.
    curves: dict[str, dict[str, CurveOut]]
    can_undo: bool
    can_redo: bool


class ChangeOut(BaseModel):
    """One change of the log."""

    revision: int
    kind: str
    sentence: str
    author: str
    patch: Patch


class ChangesOut(BaseModel):
    """What changed since a revision, and what is to be fetched now."""

    revision: int
    changes: list[ChangeOut]
    keys: dict[str, str]
    can_undo: bool
    can_redo: bool


class CommandIn(Model):
    """A command from someone who last saw revision `seen`."""

    seen: int = Field(ge=0, le=2**31)
    command: AnyCommand
    look: Looked = ()
    #: Things whose curves are looked at.
    curves: Looked = ()


class TurnIn(Model):
    """An undo or redo."""

    look: Looked = ()
    curves: Looked = ()


class StripOut(BaseModel):
    """What is seen of a subject over the scene's frames: columns of float32 in base64, each in one piece."""

    first: int
    columns: list[str]
    values: str


class Watched(Model):
    """A subject watched in a camera: by their ids."""

    camera: str = Field(max_length=60)
    subject: str = Field(max_length=60)


class PreviewIn(Model):
    """A command to try, and the stage frames and columns to see it over; all columns when none are named."""

    command: AnyCommand
    frames: Frames
    columns: list[str] | None = Field(default=None, max_length=500)
    #: Things whose curves are looked at.
    curves: Looked = ()
    #: A strip that is looked at.
    strip: Watched | None = None
    #: The cut is wanted whole, to be played.
    whole_cut: bool = False


class PlacedOut(BaseModel):
    """Where a shot lies in the cut."""

    id: str
    cut_first: int
    cut_last: int


class TimedLineOut(BaseModel):
    """When a line is said: its frames, inclusive, the first of each of its words, and the one after which that is over."""

    id: str
    first: int
    last: int
    words: list[int]
    over: list[int]


class PreviewOut(BaseModel):
    """What the command would change: its sentence, the patch, packed samples in base64 over the frames, and the
    cut if it would differ; and the curves of what is looked at that would be others.
    """

    sentence: str
    patch: FinePatch
    samples: dict[str, str]
    placed: list[PlacedOut] | None
    #: Packed, the whole cut, if that is wanted and would differ.
    cut: str | None
    #: Packed, the frames of the cut that are mixed, if those would differ.
    mixed: str | None
    #: By thing and channel, those that would be others.
    curves: dict[str, dict[str, CurveOut]]
    strip: StripOut | None
    #: When lines are said, if that would differ.
    lines: list[TimedLineOut] | None


class CompareIn(Model):
    """Lenses to compare on a figure, as a camera sees it at a frame."""

    camera: str
    frame: FrameNumber
    #: Left out, the usual ones of the kit.
    focals: list[Annotated[float, Field(ge=SHORTEST_MM, le=LONGEST_MM)]] | None = Field(
        default=None, min_length=1, max_length=MOST_LENSES
    )
    figure: str | None = None


class ComparedOut(BaseModel):
    """One of them: samples to draw it with, and what it does."""

    focal_mm: float
    row: list[float]
    distance_m: float
    behind: float
    figure: str
    part: str


class GlassOut(BaseModel):
    """What is sharp and what is clipped at a frame, how large the shot is and of whom (`Odile, medium`), and its
    layers' numbers there, by layer and channel.
    """

    figures: list[FigureFocus]
    words: str
    clipped: Clipped
    size: str
    #: The id of whom that is; empty when no head is in the frame.
    size_of: str
    layers: dict[str, dict[str, float]]


class NewScene(Model):
    """An empty scene to make."""

    name: Name
    rate: Rate = "24/1"
    delivery: str = "16:9"


class EditLine(BaseModel):
    """A line of the history."""

    revision: int
    sentence: str
    author: str
    state: str
    at: datetime


class RunLine(BaseModel):
    """A run that was cut live: when, by whom, and what was pressed."""

    revision: int
    author: str
    at: datetime
    run: Live


class PartLine(BaseModel):
    """A part of a scene and who changed it last."""

    part: Part
    called: str
    locked: bool
    #: None where nothing of it can be hidden.
    hidden: bool | None
    last: EditLine | None


class Head(BaseModel):
    """The newest revision of a scene."""

    revision: int


class AlternativeOut(BaseModel):
    """What can be done instead, with a press: commands, in turn."""

    label: str
    commands: list[dict[str, Any]]


class Problem(BaseModel):
    """A refusal (RFC 9457)."""

    type: str
    title: str
    status: int
    detail: str
    remedy: str
    field: str = ""
    changes: list[str] = []
    alternatives: list[AlternativeOut] = []
    #: The storage could not take it: it is nowhere but where it was typed.
    not_kept: bool = False


REFUSALS = {
    400: Problem, 403: Problem, 404: Problem, 409: Problem, 413: Problem, 422: Problem, 500: Problem,
    503: Problem, 507: Problem,
}  # fmt: skip
