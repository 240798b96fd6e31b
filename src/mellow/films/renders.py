"""A film as one movie: each scene is rendered as a take of its own, so that kept pictures serve, and then all are joined.

drawing → joining → done
   └─ cancelled ┴─ failed
"""

from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db import transaction
from django.db.models import Max, Q
from django.utils import timezone
from PIL import Image

from heron.cut import Clocks
from heron.dailies.asked import Render
from heron.dailies.names import plain
from heron.errors import HeronError, NotFound, Refused
from heron.film.document import FilmDoc, SceneCut, laid
from heron.film.sound import film_mix
from heron.sound.mix import write_wav
from heron.sound.stand_in import all_sounds
from heron.timebase import format_timecode, parse_rate, parse_timecode
from mellow.actors import Actor, permit
from mellow.dailies import desk, media, queue, work
from mellow.dailies.models import Take
from mellow.dailies.movie import write_movie
from mellow.dailies.packing import cut_pictures
from mellow.films.models import Film, FilmRender
from mellow.films.rows import read
from mellow.productions import models, sounds
from mellow.productions import rows as scenes

State = FilmRender.State
#: After so many frames it is noted how far the joining is.
_NOTED = 24


def movie_path(render: FilmRender) -> Path:
    """Where a film's movie lies once it is joined."""
    name = plain(FilmDoc.model_validate(render.doc).name)
    return Path(settings.MEDIA) / "films" / str(render.pk) / f"{name}_{render.number:03d}.mp4"


def begin(row: Film, asked: Render, actor: Actor) -> FilmRender:
    """Have a film rendered as it is now.

    Raises:
        HeronError: there is nothing to render, or no room.
    """
    permit(actor, "edit")
    film = read(row)
    if not film.reels:
        raise Refused("There are no scenes in this film yet.", "Take one in first.")
    wanted = list(dict.fromkeys(one.scene for one in film.reels))
    there = models.Scene.objects.in_bulk(wanted)
    takes = [work.begin(there[scene], asked, actor) for scene in wanted]
    with transaction.atomic():
        number = (row.renders.aggregate(last=Max("number"))["last"] or 0) + 1
        made = FilmRender.objects.create(film=row, number=number, doc=film.plain, author=actor.user)
        made.takes.set(takes)
    carry_on(made)
    return made


def render_row(render_id: int) -> FilmRender:
    """A render's row.

    Raises:
        NotFound: there is none.
    """
    found = FilmRender.objects.filter(pk=render_id).first() if render_id < 2**63 else None
    if found is None:
        raise NotFound(f"There is no render {render_id} of a film.", "Render the film again.")
    return found


def carry_on(render: FilmRender) -> None:
    """Join it if all its takes are there; note what stands in the way otherwise."""
    states = set(render.takes.values_list("state", flat=True))
    drawing = FilmRender.objects.filter(pk=render.pk, state=State.DRAWING)
    if states == {Take.State.DONE}:
        if drawing.update(state=State.JOINING):
            _send(render)
    elif states & {Take.State.FAILED, Take.State.LACKING, Take.State.CANCELLED}:
        stopped = render.takes.exclude(state=Take.State.DONE).select_related("scene")
        names = ", ".join(f"take {one.number} of {one.scene.name}" for one in stopped)
        drawing.update(
            state=State.FAILED, reason=f"Not all scenes were rendered: {names}. Render the film again."
        )


def carry_on_with(take: Take) -> None:
    """The same for all films that wait for a take."""
    for render in FilmRender.objects.filter(takes=take, state=State.DRAWING):
        carry_on(render)


def _free(renders: Any, name: str = "") -> Any:
    """Those that nobody is joining: not claimed, or the claim has lapsed, or it is that name's own."""
    free = Q(until=None) | Q(until__lt=timezone.now())
    return renders.filter(free | Q(joiner=name) if name else free)


def take_up(name: str) -> None:
    """Join again what a worker of that name, or one that is gone, was joining when it was stopped."""
    for render in _free(FilmRender.objects.filter(state=State.JOINING), name):
        FilmRender.objects.filter(pk=render.pk).update(until=None)
        _send(render)


def _send(render: FilmRender) -> None:
    from mellow.films.tasks import join

    queue.put(join, render.pk)


def cancel(render: FilmRender) -> None:
    """Have it no longer rendered; what was drawn stays."""
    FilmRender.objects.filter(pk=render.pk, state__in=(State.DRAWING, State.JOINING)).update(
        state=State.CANCELLED
    )
    work.cancel(render.takes.filter(state__in=Take.UNFINISHED))


class _Stopped(Exception):
    """It was cancelled."""


def join(render_id: int) -> None:
    """Write the movie, frame by frame of the film, under another name first."""
    claimed = _free(FilmRender.objects.filter(pk=render_id, state=State.JOINING)).update(
        until=work.lease_expiry(), joiner=desk.worker_name()
    )
    if not claimed:
        return
    render = render_row(render_id)
    path = movie_path(render)
    making = path.with_name(f".making-{path.name}")
    try:
        with media.writing("The film"):
            path.parent.mkdir(parents=True, exist_ok=True)
            _write(render, making)
            making.replace(path)
        FilmRender.objects.filter(pk=render.pk, state=State.JOINING).update(state=State.DONE)
    except _Stopped:
        pass
    except HeronError as error:
        FilmRender.objects.filter(pk=render.pk).update(state=State.FAILED, reason=str(error))
    finally:
        making.unlink(missing_ok=True)


def _write(render: FilmRender, path: Path) -> None:
    film = FilmDoc.model_validate(render.doc)
    takes = {take.scene_id: take for take in render.takes.select_related("frozen")}
    frozen = {scene: scenes.load(take.frozen) for scene, take in takes.items()}
    cuts = {id_: SceneCut(scene.name, scene.rate, Clocks(scene).length) for id_, scene in frozen.items()}
    frames, rate = laid(film, cuts), parse_rate(film.rate)
    size = (max(take.wide for take in takes.values()), max(take.high for take in takes.values()))
    shown = {scene: cut_pictures(take) for scene, take in takes.items()}

    def each() -> Iterator[bytes]:
        for frame in range(frames.length):
            if frame % _NOTED == 0 and not FilmRender.objects.filter(
                pk=render.pk, state=State.JOINING
            ).update(joined=frame, until=work.lease_expiry()):
                raise _Stopped
            place, cut = frames.shows(frame)
            yield _fitted(shown[film.reels[place].scene], cut, size)

    asked = Render.model_validate(next(iter(takes.values())).render)
    start = format_timecode(parse_timecode(film.start, rate), rate, ";" in film.start)
    heard = None
    if any(all_sounds(scene) for scene in frozen.values()):
        heard = path.with_name(f"{path.name}.wav")
        write_wav(heard, film_mix(frames, [frozen[reel.scene] for reel in film.reels], sounds.part))
    try:
        write_movie(path, each(), *size, rate, asked.movie_factor, start, heard)
    finally:
        if heard is not None:
            heard.unlink(missing_ok=True)


def _fitted(shown: Callable[[int], Image.Image], cut: int, size: tuple[int, int]) -> bytes:
    """A frame in the film's size, with black round what the picture does not fill."""
    picture = shown(cut)
    if picture.size == size:
        return picture.tobytes()
    sheet = Image.new("RGB", size)
    sheet.paste(picture, ((size[0] - picture.width) // 2, (size[1] - picture.height) // 2))
    return sheet.tobytes()


def told(render: FilmRender) -> dict[str, Any]:
    """How far it is."""
    film = FilmDoc.model_validate(render.doc)
    takes = list(render.takes.all())
    frames = sum(take.frames.count() for take in takes)
    done = sum(take.frames.filter(state="done").count() for take in takes)
    whole = sum(len(take.movie) for take in takes)
    joining = render.state == State.JOINING
    return {
        "id": render.pk, "number": render.number, "name": film.name, "state": render.state, "reason": render.reason,
        "done": render.joined if joining else done, "of": whole if joining else frames,
        "movie": f"/api/films/renders/{render.pk}/movie" if render.state == State.DONE else None, "at": render.at,
    }  # fmt: skip
