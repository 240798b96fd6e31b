"""Films from rows and back, and what they know of scenes, none of which is loaded whole."""

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass

from django.db import transaction

from heron.errors import NotFound, Refused
from heron.film.document import FilmDoc, FilmEdit, SceneCut, edited
from heron.scene.shot import Shot
from heron.scene.upgrades import upgrade
from mellow.actors import Actor, permit
from mellow.films.models import Film, FilmChange, Shows
from mellow.problems import Stale
from mellow.productions import models


@dataclass(frozen=True)
class KnownScene:
    """What a film shows of a scene.

    Attributes:
        shots: in order, each with the frame of the cut it begins at.
        letters: cameras' letters by id.
    """

    row: models.Scene
    cut: SceneCut
    shots: tuple[tuple[Shot, int], ...]
    letters: dict[str, str]


def film_row(film_id: int) -> Film:
    """A film's row.

    Raises:
        NotFound: there is none.
    """
    row = Film.objects.filter(pk=film_id).first() if film_id < 2**63 else None
    if row is None:
        raise NotFound(f"There is no film {film_id}.", "Open one from the list.", field="film")
    return row


def known(scenes: Iterable[int]) -> dict[int, KnownScene]:
    """By its id, what is known of each scene that is there: its cut, read from the rows of its shots alone."""
    ids = set(scenes)
    shots: dict[int, list[tuple[Shot, int]]] = defaultdict(list)
    lengths: dict[int, int] = defaultdict(int)
    found = models.Shot.objects.filter(scene__in=ids).order_by("scene", "order")
    for scene, params, version in found.values_list("scene", "params", "version"):
        shot = Shot.model_validate(upgrade("shots", params, version))
        begins = lengths[scene] + shot.gap_before
        shots[scene].append((shot, begins))
        lengths[scene] = begins + shot.stage.count
    letters: dict[int, dict[str, str]] = defaultdict(dict)
    for scene, uid, letter in models.Camera.objects.filter(scene__in=ids).values_list(
        "scene", "uid", "letter"
    ):
        letters[scene][uid] = letter
    rows = models.Scene.objects.filter(pk__in=ids, frozen_of=None)
    return {
        row.pk: KnownScene(
            row, SceneCut(row.name, row.rate, lengths[row.pk]), tuple(shots[row.pk]), letters[row.pk]
        )
        for row in rows
    }


def read(row: Film) -> FilmDoc:
    """A film's document."""
    return FilmDoc.model_validate(row.doc)


@transaction.atomic
def create(production: models.Production, film: FilmDoc) -> Film:
    """Store a new film."""
    row = Film.objects.create(production=production, name=film.name, doc=film.plain)
    _link(row, film)
    return row


def do(film_id: int, edit: FilmEdit, seen: int, actor: Actor) -> tuple[Film, str]:
    """Edit a film for someone who last saw a revision.

    Raises:
        Stale: it was changed since.
        HeronError: it cannot be done.
    """
    permit(actor, "edit")
    with transaction.atomic():
        row = film_row(film_id)
        if seen != row.revision:
            raise Stale("This film was changed elsewhere.", "Look at it as it is now, then do it again.", [])
        film = read(row)
        scenes = {one.scene for one in film.reels} | ({edit.scene} if edit.edit == "add" else set())
        after, said = edited(film, edit, {id_: one.cut for id_, one in known(scenes).items()})
        if after != film:
            row.changes.filter(undone=True).delete()
            _save(row, after)
            FilmChange.objects.create(
                film=row, revision=row.revision, author=actor.user, sentence=said, before=film.plain,
                after=after.plain,
            )  # fmt: skip
    return row, said


def turn(film_id: int, which: str, actor: Actor) -> tuple[Film, str]:
    """Undo or redo the newest edit.

    Raises:
        Refused: there is none.
    """
    permit(actor, "edit")
    with transaction.atomic():
        row = film_row(film_id)
        undo = which == "undo"
        changes = row.changes.filter(undone=not undo)
        change = changes.last() if undo else changes.first()
        if change is None:
            raise Refused(f"There is nothing to {which}.", "Edit the film first.")
        _save(row, FilmDoc.model_validate(change.before if undo else change.after))
        FilmChange.objects.filter(pk=change.pk).update(undone=undo)
    return row, f"{'Undid' if undo else 'Redid'}: {change.sentence}"


def refuse_shown(scene: models.Scene) -> None:
    """See that no film shows a scene.

    Raises:
        Refused: one does.
    """
    film = Film.objects.filter(shows__scene=scene).first()
    if film is not None:
        raise Refused(
            f"The film “{film.name}” shows {scene.name}.",
            "Take it out of the film first; in the trash it does no harm.",
        )


def _save(row: Film, film: FilmDoc) -> None:
    row.name, row.doc, row.revision = film.name, film.plain, row.revision + 1
    row.save()
    _link(row, film)


def _link(row: Film, film: FilmDoc) -> None:
    row.shows.all().delete()
    there = models.Scene.objects.filter(pk__in={one.scene for one in film.reels})
    Shows.objects.bulk_create(Shows(film=row, scene=scene) for scene in there.only("pk"))
