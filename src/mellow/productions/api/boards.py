"""Boards: sent as they are, and shown."""

from django.http import HttpResponse
from ninja import Router
from pydantic import BaseModel

from mellow.actors import Request, permit
from mellow.productions import boards
from mellow.productions.api.scenes import production
from mellow.productions.api.shapes import REFUSALS

router = Router()


class BoardOut(BaseModel):
    """The key a picture is kept under."""

    key: str


@router.post("boards", response={200: BoardOut, **REFUSALS})
def keep(request: Request) -> BoardOut:
    """Keep a PNG, JPEG or WebP, sent as the body, for shots to show."""
    permit(request.auth, "edit")
    return BoardOut(key=boards.keep(production(), request.body))


@router.get("boards/{key}.jpg")
def shown(request: Request, key: str) -> HttpResponse:
    """A board; under its key it never changes."""
    permit(request.auth, "look")
    response = HttpResponse(boards.content(key), content_type="image/jpeg")
    response.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    return response
