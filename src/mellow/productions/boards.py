"""Pictures that stand for shots before there is a camera."""

import hashlib
import io

from PIL import Image

from heron.errors import NotFound
from mellow.pictures import read_board
from mellow.productions.models import Board, Production

#: A board is kept at most so large, pixels; JPEG of a quality at which nobody minds. All ours.
_LONGEST, _QUALITY = 1920, 88


def keep(production: Production, content: bytes) -> str:
    """Keep a picture and give its key; the same picture, the same key.

    Raises:
        BadInput: it is not a picture, or too large.
    """
    image = read_board(content)
    image.thumbnail((_LONGEST, _LONGEST))
    out = io.BytesIO()
    image.save(out, "JPEG", quality=_QUALITY)
    key = hashlib.sha256(out.getvalue()).hexdigest()[:24]
    Board.objects.get_or_create(key=key, defaults={"production": production, "content": out.getvalue()})
    return key


def content(key: str) -> bytes:
    """A board as JPEG.

    Raises:
        NotFound: there is none.
    """
    found = Board.objects.filter(key=key).first()
    if found is None:
        raise NotFound("This board is not here.", "Drop its picture on the shot again.")
    return bytes(found.content)


def opened(key: str) -> Image.Image | None:
    """A board's pixels as RGB; none where it is not here."""
    found = Board.objects.filter(key=key).first() if key else None
    return read_board(bytes(found.content)) if found else None
