"""Films from rows and back; of their scenes none is loaded whole."""

from collections.abc import Sequence

from django.db import transaction

from heron.errors import NotFound, Refused
from heron.film.document import FilmDoc, FilmEdit, edited
from mellow.actors import Actor, permit
from mellow.films.models import Film, FilmChange, Shows
from mellow.problems import Stale
from mellow.productions import models
from mellow.productions.cuts import known


def film_row(film_id: int) -> Film:
    """A film's row.

    Raises:
        NotFound: there is none.
    """
    row = Film.objects.filter(pk=film_id).first() if film_id < 2**63 else None
    if row is None:
        raise NotFound(f"There is no film {film_id}.", "Open one from the list.", field="film")
    return row


def read(row: Film) -> FilmDoc:
    """A film's document."""
    return FilmDoc.model_validate(row.doc)


def usual_rate(scenes: Sequence[int]) -> str:
    """The rate of a new film: of its first scene, else of the scene that was changed last, else 24."""
    there = models.Scene.objects.filter(frozen_of=None, put_away=None)
    first = there.filter(pk=scenes[0]) if scenes else there.order_by("-changed")
    return str(first.values_list("rate", flat=True).first() or "24/1")


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
