"""The shot list on the desk, and as a contact sheet."""

import base64
import re

from django.http import HttpResponse
from ninja import Router
from pydantic import Field

from heron.dailies.shot_list import shot_list
from heron.errors import BadInput
from heron.formats.contact_sheet import write_contact_sheet
from heron.model import Model
from mellow.actors import Request
from mellow.dailies.api.shapes import ShotListOut
from mellow.productions import boards
from mellow.productions.api.opened import looked_at
from mellow.productions.api.shapes import REFUSALS

router = Router()
_MOST = 16 * 1024 * 1024


class SheetIn(Model):
    """Pictures of shots, by the shot's id: JPEG or PNG in base64."""

    pictures: dict[str, str] = Field(default_factory=dict, max_length=2000)


@router.get("scenes/{int:scene_id}/shot-list", response={200: ShotListOut, **REFUSALS})
def listing(request: Request, scene_id: int) -> ShotListOut:
    """The cut as a list of shots."""
    scene = looked_at(request, scene_id)
    return ShotListOut(
        lines=shot_list(scene),
        ids=[shot.id for shot in scene.shots],
        cameras=[shot.camera or "" for shot in scene.shots],
    )


@router.post("scenes/{int:scene_id}/contact-sheet", response={200: bytes, **REFUSALS})
def sheet(request: Request, scene_id: int, payload: SheetIn) -> HttpResponse:
    """The shot list with pictures, as a PDF; a shot without a camera has its board."""
    scene = looked_at(request, scene_id)
    pictures = boards.contents(shot.board for shot in scene.shots if not shot.camera)
    pictures = {shot.id: pictures[shot.board] for shot in scene.shots if shot.board in pictures}
    for shot, text in payload.pictures.items():
        try:
            pictures[shot] = base64.b64decode(text[:_MOST], validate=True)
        # Letters beyond ASCII are a ValueError, of which the other is one.
        except ValueError:
            raise BadInput("That is not a picture.", "Send pictures in base64.", field="pictures") from None
    response = HttpResponse(write_contact_sheet(scene, pictures), content_type="application/pdf")
    stem = re.sub(r"[^A-Za-z0-9]+", "-", scene.name).strip("-").lower() or "scene"
    response.headers["Content-Disposition"] = f'attachment; filename="{stem}-shots.pdf"'
    return response
