"""A film for the editor: what it shows of each scene, as the core writes it."""

from heron.film.document import FilmDoc
from heron.formats.film_otio import write_film as write
from mellow.productions import models
from mellow.productions import rows as scenes


def write_film(film: FilmDoc) -> str:
    """The film as `.otio` JSON text."""
    wanted = {one.scene for one in film.reels}
    return write(film, {row.pk: scenes.load(row) for row in models.Scene.objects.filter(pk__in=wanted)})
