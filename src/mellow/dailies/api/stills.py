"""A still with its slate, and the slates of shots without a camera."""

import io

from django.http import HttpResponse
from ninja import Router
from PIL import Image

from heron.commands.keys import check_frame
from heron.cut import Clocks
from heron.dailies.asked import Render
from heron.dailies.slate import slate
from heron.scene import Camera, Shot, find
from mellow.actors import Request
from mellow.dailies import slates, written
from mellow.pictures import read_png
from mellow.productions import baking
from mellow.productions.api.opened import looked_at
from mellow.productions.api.shapes import REFUSALS

router = Router()

#: How wide the picture of a shot without a camera is, pixels; ours.
_WIDE = 1280


@router.post("scenes/{int:scene_id}/slate", response={200: bytes, **REFUSALS})
def slated(request: Request, scene_id: int, camera: str, stage: int, cut: int | None = None) -> HttpResponse:
    """A picture of a camera's frame, as PNG, with the slate under it; of a frame of the cut with its shot and timecode."""
    scene = looked_at(request, scene_id)
    one: Camera = find(scene, "cameras", camera)
    check_frame(scene, stage)
    clocks = Clocks(scene)
    found = clocks.to_stage(cut) if cut is not None else None
    text = slate(scene, baking.bake_of(scene), one, stage, clocks, found[0] if found else None)
    return _png(written.write_on(read_png(request.body), Render(), text, scene.delivery.aspect))


@router.get("scenes/{int:scene_id}/shots/{shot}/slate.png", response={200: bytes, **REFUSALS})
def stands(request: Request, scene_id: int, shot: str) -> HttpResponse:
    """What a shot without a camera shows, as renders have it: its board, or a slate."""
    scene = looked_at(request, scene_id)
    one: Shot = find(scene, "shots", shot)
    return _png(slates.picture_of(one, _WIDE, round(_WIDE / scene.delivery.aspect)))


def _png(picture: Image.Image) -> HttpResponse:
    out = io.BytesIO()
    picture.save(out, "PNG", compress_level=3)
    return HttpResponse(out.getvalue(), content_type="image/png")
