"""What the API takes and gives, where it is not a model of the core."""

from datetime import datetime
from typing import Annotated

from pydantic import BaseModel, Field

from heron.commands import AnyCommand
from heron.framing import Clipped, FigureFocus
from heron.framing.sizing import MOST_LENSES
from heron.model import Model, Name
from heron.optics import Delivery, PublishedBack
from heron.optics.view import LONGEST_MM, SHORTEST_MM
from heron.scene import Patch, Scene
from heron.timebase import Rate


class SceneLine(BaseModel):
    """A scene in the list."""

    id: int
    name: str
    rate: str
    first: int
    last: int
    cameras: int
    shots: int
    changed: datetime


class SceneOut(BaseModel):
    """A scene with all the desk needs to begin."""

    id: int
    revision: int
    scene: Scene
    keys: dict[str, str]
    can_undo: bool
    can_redo: bool


class ChangedOut(BaseModel):
    """What a change came to: apply the patch, fetch what has a new key."""

    revision: int
    sentence: str
    patch: Patch
    keys: dict[str, str]
    can_undo: bool
    can_redo: bool


class CommandIn(Model):
    """A command from someone who last saw revision `seen`."""

    seen: int = Field(ge=0)
    command: AnyCommand


class PreviewIn(Model):
    """A command to try, and the stage frame to see it at."""

    command: AnyCommand
    frame: int


class PlacedOut(BaseModel):
    """Where a shot lies in the cut."""

    id: str
    cut_first: int
    cut_last: int


class PreviewOut(BaseModel):
    """What the command would change: the patch, sample rows at the frame, and the cut if it would differ."""

    patch: Patch
    rows: dict[str, list[float]]
    placed: list[PlacedOut] | None


class CompareIn(Model):
    """Lenses to compare on a figure, as a camera sees it at a frame."""

    camera: str
    frame: int
    focals: list[Annotated[float, Field(ge=SHORTEST_MM, le=LONGEST_MM)]] = Field(
        min_length=1, max_length=MOST_LENSES
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
    """What is sharp and what is clipped at a frame."""

    figures: list[FigureFocus]
    words: str
    clipped: Clipped


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


class Head(BaseModel):
    """The newest revision of a scene."""

    revision: int


class Catalogue(BaseModel):
    """What there is to choose from."""

    film_backs: list[PublishedBack]
    deliveries: list[Delivery]
    rates: list[str]
    landmarks: list[str]


class Problem(BaseModel):
    """A refusal (RFC 9457)."""

    type: str
    title: str
    status: int
    detail: str
    remedy: str
    field: str = ""
    changes: list[str] = []
    can_force: bool = False
