"""Sound: files sent and kept, their waveforms, and what a scene sounds like."""

from typing import Annotated, Literal

from django.http import HttpResponse
from ninja import Query, Router
from pydantic import BaseModel, Field

from heron.commands import AnyCommand
from heron.errors import BadInput
from heron.model import Model
from heron.scene import Scene
from heron.scene.sound import SOUND_LANES
from mellow.actors import Request, permit
from mellow.productions import log, sounds
from mellow.productions.api.opened import looked_at
from mellow.productions.api.scenes import production
from mellow.productions.api.shapes import REFUSALS

router = Router()
#: What is fetched at once: a minute at 60 frames a second.
MOST_FRAMES = 3600


class SoundOut(BaseModel):
    """The key a sound is kept under, its length in samples at 48 kHz, after which of them nothing is heard, how far it
    opens a mouth, and what was done to it.
    """

    key: str
    samples: int
    until: int
    level: str
    said: list[str]


@router.post("sounds", response={200: SoundOut, **REFUSALS})
def keep(request: Request, name: str) -> SoundOut:
    """Keep a WAV, FLAC, Ogg or MP3, sent as the body."""
    permit(request.auth, "edit")
    found = sounds.keep(production(), request.body, name)
    return SoundOut(
        key=found.key, samples=found.samples, until=found.until, level=found.level, said=list(found.said)
    )


@router.get("sounds/{key}/peaks", response={200: bytes, **REFUSALS})
def waveform(request: Request, key: str) -> HttpResponse:
    """The least and the most of each hundredth of a second, as pairs of signed bytes; under its key it never changes."""
    permit(request.auth, "look")
    response = HttpResponse(sounds.peaks(key), content_type="application/octet-stream")
    response.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    return response


class ListenIn(BaseModel):
    """Frames of the cut, or of the stage counted from the scene's first, and how they are heard.

    Slower is so much longer, at the same pitch. A line that is recorded meanwhile is left out.
    """

    on: Literal["cut", "stage"]
    first: int
    count: int
    lanes: list[Literal["lines", "effects", "bed", "music"]] | None = None
    speed: Annotated[float, Field(ge=0.25, le=1)] = 1.0
    backwards: bool = False
    without: str | None = None


class TryIn(Model):
    """A command that is tried out."""

    command: AnyCommand


@router.get("scenes/{int:scene_id}/heard", response={200: bytes, **REFUSALS})
def heard(request: Request, scene_id: int, asked: Query[ListenIn]) -> HttpResponse:
    """The mix over some frames, as 16-bit WAV."""
    return _mixed(looked_at(request, scene_id), asked)


@router.post("scenes/{int:scene_id}/heard", response={200: bytes, **REFUSALS})
def heard_tried(request: Request, scene_id: int, payload: TryIn, asked: Query[ListenIn]) -> HttpResponse:
    """The same, as a command would have it."""
    return _mixed(log.preview(scene_id, payload.command, request.auth)[1], asked)


def _mixed(scene: Scene, asked: ListenIn) -> HttpResponse:
    if not (asked.first >= 0 and 1 <= asked.count <= MOST_FRAMES):
        raise BadInput("That is no range to listen to.", f"Ask for 1 to {MOST_FRAMES} frames.", field="count")
    lanes = SOUND_LANES if asked.lanes is None else asked.lanes
    samples = sounds.heard(
        scene, asked.on, asked.first, asked.count, lanes, asked.speed, asked.backwards, asked.without
    )
    response = HttpResponse(sounds.as_wav(samples), content_type="audio/wav")
    response.headers["Cache-Control"] = "no-store"
    return response
