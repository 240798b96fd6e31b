"""Films: listed, read, edited, handed over."""

import re
from datetime import datetime
from typing import Any, Literal

import numpy as np
from django.http import HttpResponse
from ninja import Router
from pydantic import BaseModel, Field

from heron.dailies.asked import HIGHEST, LOWEST, Render
from heron.errors import NotFound, Refused
from heron.film.document import AddReel, FilmDoc, FilmEdit, laid, usual_fit
from heron.film.frames import Film as Frames
from heron.model import Model, Name
from heron.timebase import Rate, format_timecode, parse_rate, parse_timecode
from heron.timebase.timecode import labels
from mellow.actors import Request, permit
from mellow.films import models, renders, rows
from mellow.films.otio import write_film
from mellow.productions import cuts
from mellow.productions.api.scenes import production
from mellow.productions.api.shapes import REFUSALS, Pictured
from mellow.streaming import FileStream, send_file

router = Router()
_RENDERS_SHOWN = 12


class FilmLine(BaseModel):
    """A film in the list."""

    id: int
    name: str
    rate: str
    #: The scenes it shows, in order; one that is shown twice, twice.
    scenes: list[int]
    changed: datetime


class NewFilm(Model):
    """A film to make, with scenes in order."""

    name: Name
    #: Left out, that of its first scene, or of the one that was changed last.
    rate: Rate | None = None
    scenes: tuple[int, ...] = ()


class ReelShot(BaseModel):
    """A shot of a scene in the film: its first and last film frame, and the first frame of its scene's cut that is shown."""

    id: str
    name: str
    letter: str | None
    film: tuple[int, int]
    cut: int


class ReelOut(BaseModel):
    """A scene in the film.

    Attributes:
        film: its first and last frame; empty where nothing of it is left.
        first, last: the frames of its cut that are shown; length is the whole cut's.
        shows: for each of its film frames, the frame of the cut; null where they go one by one.
        put_away: the scene lies in the trash.
    """

    id: str
    scene: int
    name: str
    rate: str
    fit: str | None
    first: int
    last: int
    length: int
    film: tuple[int, int] | None
    shows: list[int] | None
    shots: list[ReelShot]
    put_away: bool
    #: Width over height of its pictures.
    aspect: float


class FilmOut(BaseModel):
    """A film as it is."""

    id: int
    revision: int
    name: str
    rate: str
    start: str
    length: int
    timecode: str
    drop: bool
    reels: list[ReelOut]
    can_undo: bool
    can_redo: bool
    said: str


class NeighbourOut(BaseModel):
    """The frame of another scene that a cut between scenes leads from, or to: its shot, the frame of its cut, its picture."""

    reel: str
    scene: int
    name: str
    shot: str
    letter: str | None
    cut: int
    pictured: Pictured | None


class NeighboursOut(BaseModel):
    """What is before and after a scene in a film; none at its beginning and end."""

    before: NeighbourOut | None
    after: NeighbourOut | None


class FilmRenderIn(Model):
    """How a film is rendered."""

    high: int = Field(default=540, ge=LOWEST, le=HIGHEST)
    quality: Literal["quick", "fine"] = "quick"
    slate: bool = False


class FilmRenderOut(BaseModel):
    """How far the render of a film is: frames drawn, or, while it is joined, frames of the movie."""

    id: int
    number: int
    name: str
    state: Literal["drawing", "joining", "done", "failed", "cancelled"]
    reason: str
    done: int
    of: int
    movie: str | None
    at: datetime


class FilmEditIn(Model):
    """An edit, by someone who last saw a revision."""

    seen: int
    edit: FilmEdit


class FitOut(BaseModel):
    """Whether a scene runs at the film's rate, and how it would be fitted otherwise."""

    same: bool
    fit: Literal["time", "frames"]


class FilmFrame(BaseModel):
    """A frame of the film."""

    frame: int


@router.get("/films", response=list[FilmLine])
def listing(request: Request) -> list[FilmLine]:
    """All films, the newest change first."""
    permit(request.auth, "look")
    return [
        FilmLine(
            id=one.pk, name=one.name, rate=one.doc["rate"], changed=one.changed,
            scenes=[reel["scene"] for reel in one.doc["reels"]],
        )
        for one in models.Film.objects.all()
    ]  # fmt: skip


@router.post("/films", response={200: FilmOut, **REFUSALS})
def create(request: Request, payload: NewFilm) -> FilmOut:
    """Make a film."""
    permit(request.auth, "manage")
    rate = payload.rate or rows.usual_rate(payload.scenes)
    row = rows.create(production(), FilmDoc(name=payload.name, rate=rate))
    for scene in payload.scenes:
        rows.do(row.pk, AddReel(scene=scene), rows.film_row(row.pk).revision, request.auth)
    return _told(rows.film_row(row.pk))


@router.get("/films/{int:film_id}", response={200: FilmOut, **REFUSALS})
def read(request: Request, film_id: int) -> FilmOut:
    """A film with its scenes and shots, none of which is loaded whole."""
    permit(request.auth, "look")
    return _told(rows.film_row(film_id))


@router.post("/films/{int:film_id}/edits", response={200: FilmOut, **REFUSALS})
def edit(request: Request, film_id: int, payload: FilmEditIn) -> FilmOut:
    """Edit a film."""
    row, said = rows.do(film_id, payload.edit, payload.seen, request.auth)
    return _told(row, said)


@router.post("/films/{int:film_id}/undo", response={200: FilmOut, **REFUSALS})
def undo(request: Request, film_id: int) -> FilmOut:
    """Take back the newest edit."""
    return _told(*rows.turn(film_id, "undo", request.auth))


@router.post("/films/{int:film_id}/redo", response={200: FilmOut, **REFUSALS})
def redo(request: Request, film_id: int) -> FilmOut:
    """Do the edit again that was undone last."""
    return _told(*rows.turn(film_id, "redo", request.auth))


@router.delete("/films/{int:film_id}", response={200: None, **REFUSALS})
def delete(request: Request, film_id: int) -> None:
    """Delete a film; its scenes stay."""
    permit(request.auth, "manage")
    rows.film_row(film_id).delete()


@router.get("/films/{int:film_id}/fit", response={200: FitOut, **REFUSALS})
def fit(request: Request, film_id: int, scene: int) -> FitOut:
    """How a scene would be fitted."""
    film = rows.read(rows.film_row(film_id))
    found = cuts.known([scene])
    rate = found[scene].cut.rate if scene in found else film.rate
    return FitOut(same=parse_rate(rate) == parse_rate(film.rate), fit=usual_fit(rate, film.rate))


@router.get("/films/{int:film_id}/frame", response={200: FilmFrame, **REFUSALS})
def frame(request: Request, film_id: int, reel: str, cut: int) -> FilmFrame:
    """The film frame that shows a frame of a scene's cut in a reel; else the first of the reel."""
    permit(request.auth, "look")
    film, frames, _ = _read(rows.film_row(film_id))
    place = _place(film, reel)
    if place is None:
        return FilmFrame(frame=0)
    there = frames.shown_at(place, cut)
    return FilmFrame(frame=frames.begins[place] if there is None else there)


@router.get("/films/{int:film_id}/neighbours", response={200: NeighboursOut, **REFUSALS})
def neighbours(request: Request, film_id: int, reel: str) -> NeighboursOut:
    """What a scene is cut to from, and what it is cut to."""
    permit(request.auth, "look")
    film, frames, known = _read(rows.film_row(film_id))
    place = _place(film, reel)
    if place is None:
        return NeighboursOut(before=None, after=None)
    ends = frames.begins[place] - 1, frames.begins[place + 1]
    before, after = (_neighbour(film, frames, known, end) for end in ends)
    return NeighboursOut(before=before, after=after)


@router.get("/films/{int:film_id}/timecodes")
def timecodes(request: Request, film_id: int) -> HttpResponse:
    """The timecode of each film frame and of the one past the last: int32, two digits each of h, m, s and f."""
    permit(request.auth, "look")
    film, frames, _ = _read(rows.film_row(film_id))
    counted = labels(
        parse_timecode(film.start, parse_rate(film.rate)) + np.arange(frames.length + 1),
        parse_rate(film.rate),
        ";" in film.start,
    )
    packed = (counted @ np.array([1_000_000, 10_000, 100, 1])).astype("<i4")
    return HttpResponse(packed.tobytes(), content_type="application/octet-stream")


@router.get("/films/{int:film_id}/renders", response={200: list[FilmRenderOut], **REFUSALS})
def listed_renders(request: Request, film_id: int) -> list[dict[str, Any]]:
    """Movies of a film, the newest first."""
    permit(request.auth, "look")
    found = list(rows.film_row(film_id).renders.all()[:_RENDERS_SHOWN])
    for one in found:
        renders.carry_on(one)
        one.refresh_from_db()
    return [renders.told(one) for one in found]


@router.post("/films/{int:film_id}/renders", response={200: FilmRenderOut, **REFUSALS})
def begin_render(request: Request, film_id: int, payload: FilmRenderIn) -> dict[str, Any]:
    """Render a film as it is now: pictures that are there already are not drawn again."""
    asked = Render(of="cut", high=payload.high, quality=payload.quality, slate=payload.slate)
    return renders.told(renders.begin(rows.film_row(film_id), asked, request.auth))


@router.post("/films/renders/{int:render_id}/cancel", response={200: FilmRenderOut, **REFUSALS})
def cancel_render(request: Request, render_id: int) -> dict[str, Any]:
    """Stop it; what was drawn stays."""
    permit(request.auth, "edit")
    renders.cancel(renders.render_row(render_id))
    return renders.told(renders.render_row(render_id))


@router.get("/films/renders/{int:render_id}/movie")
def movie(request: Request, render_id: int) -> HttpResponse | FileStream:
    """A film's movie."""
    permit(request.auth, "look")
    path = renders.movie_path(renders.render_row(render_id))
    if not path.exists():
        raise NotFound("This movie is not there.", "Render the film again.")
    return send_file(request, path.open("rb"), path.stat().st_size, path.name, "video/mp4")


@router.get("/films/{int:film_id}/export/otio")
def export(request: Request, film_id: int) -> HttpResponse:
    """The film as one `.otio`, each scene a stack of its own in it."""
    permit(request.auth, "look")
    film = rows.read(rows.film_row(film_id))
    if not film.reels:
        raise Refused("There are no scenes in this film yet.", "Take one in first.")
    response = HttpResponse(write_film(film).encode(), content_type="application/json")
    stem = re.sub(r"[^A-Za-z0-9]+", "-", film.name).strip("-").lower() or "film"
    response.headers["Content-Disposition"] = f'attachment; filename="{stem}.otio"'
    return response


def _read(row: models.Film) -> tuple[FilmDoc, Frames, dict[int, cuts.KnownScene]]:
    """A film, its frames, and its scenes by id."""
    film = rows.read(row)
    known = cuts.known(one.scene for one in film.reels)
    return film, laid(film, {id_: one.cut for id_, one in known.items()}), known


def _place(film: FilmDoc, reel: str) -> int | None:
    return next((i for i, one in enumerate(film.reels) if one.id == reel), None)


def _neighbour(
    film: FilmDoc, frames: Frames, known: dict[int, cuts.KnownScene], frame: int
) -> NeighbourOut | None:
    if not 0 <= frame < frames.length:
        return None
    place, cut = frames.shows(frame)
    reel, scene = film.reels[place], known[film.reels[place].scene]
    shot, stage = scene.shot_at(cut) or (None, 0)
    camera = shot.camera if shot else None
    return NeighbourOut(
        reel=reel.id, scene=reel.scene, name=scene.cut.name, cut=cut, shot=shot.name if shot else "black",
        letter=scene.letters.get(camera or ""),
        pictured=Pictured(camera=camera, frame=stage, aspect=scene.aspect) if camera else None,
    )  # fmt: skip


def _told(row: models.Film, said: str = "") -> FilmOut:
    film, frames, known = _read(row)
    rate, drop = parse_rate(film.rate), ";" in film.start
    start = parse_timecode(film.start, rate)
    return FilmOut(
        id=row.pk, revision=row.revision, name=film.name, rate=film.rate, start=film.start, length=frames.length,
        timecode=format_timecode(start + frames.length, rate, drop), drop=drop,
        reels=[_reel(film, frames, place, known) for place in range(len(film.reels))],
        can_undo=row.changes.filter(undone=False).exists(), can_redo=row.changes.filter(undone=True).exists(),
        said=said,
    )  # fmt: skip


def _reel(film: FilmDoc, frames: Frames, place: int, known: dict[int, cuts.KnownScene]) -> ReelOut:
    reel, of = film.reels[place], frames.reels[place]
    scene = known.get(reel.scene)
    begin, end = frames.begins[place], frames.begins[place + 1]
    shows = None if frames.plain(place) else frames.table(place).tolist()
    shots = []
    for shot, cut in scene.shots if scene else ():
        if span := frames.span(place, cut, cut + shot.stage.count - 1):
            shots.append(ReelShot(
                id=shot.id, name=shot.name, letter=scene.letters.get(shot.camera or "") if scene else None,
                film=span, cut=frames.shows(span[0])[1],
            ))  # fmt: skip
    return ReelOut(
        id=reel.id, scene=reel.scene, name=of.name, rate=str(scene.cut.rate) if scene else film.rate, fit=reel.fit,
        first=of.first, last=of.first + of.count - 1, length=scene.cut.length if scene else 0,
        film=(begin, end - 1) if end > begin else None, shows=shows, shots=shots,
        put_away=scene is None or scene.row.put_away is not None,
        aspect=scene.aspect if scene else 16 / 9,
    )  # fmt: skip
