"""Pictures that stand for shots before there is a camera."""

import hashlib
from collections.abc import Iterable

from PIL import Image

from heron.errors import BadInput, NotFound
from mellow.pictures import as_jpeg, read_board
from mellow.productions.models import Board, Production

#: A board is kept at most so large, pixels; ours.
_LONGEST = 1920


def keep(production: Production, content: bytes) -> str:
    """Keep a picture and give its key; the same picture, the same key.

    Raises:
        BadInput: it is not a picture, or too large.
    """
    picture = as_jpeg(content, _LONGEST)
    key = hashlib.sha256(picture).hexdigest()[:24]
    Board.objects.get_or_create(key=key, defaults={"production": production, "content": picture})
    return key


def put(production: Production, key: str, picture: bytes) -> None:
    """Keep a board that a package has as JPEG, under its key.

    Raises:
        BadInput: it is not a picture.
    """
    read_board(picture)
    if hashlib.sha256(picture).hexdigest()[:24] != key:
        raise BadInput("A board of the package is not what its name says.", "Hand the scene over again.")
    Board.objects.get_or_create(key=key, defaults={"production": production, "content": picture})


def content(key: str) -> bytes:
    """A board as JPEG.

    Raises:
        NotFound: there is none.
    """
    found = Board.objects.filter(key=key).first()
    if found is None:
        raise NotFound("This board is not here.", "Drop its picture on the shot again.")
    return bytes(found.content)


def contents(keys: Iterable[str]) -> dict[str, bytes]:
    """By their keys, those boards that are here, as JPEG."""
    found = Board.objects.filter(key__in={key for key in keys if key})
    return {board.key: bytes(board.content) for board in found}


def opened(key: str) -> Image.Image | None:
    """A board's pixels as RGB; none where it is not here."""
    found = Board.objects.filter(key=key).first() if key else None
    return read_board(bytes(found.content)) if found else None
