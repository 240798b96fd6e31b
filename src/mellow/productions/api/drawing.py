"""What the desk draws: samples, shapes, and one frame while a hand drags."""

from django.http import HttpRequest, HttpResponse
from ninja import Router

from heron.cut import lay_out
from heron.errors import BadInput
from heron.scene import diff
from mellow.productions import baking, edits, rows
from mellow.productions.api.scenes import REFUSALS
from mellow.productions.api.shapes import PlacedOut, PreviewIn, PreviewOut

router = Router()


@router.post("{int:scene_id}/preview", response={200: PreviewOut, **REFUSALS})
def preview(request: HttpRequest, scene_id: int, payload: PreviewIn) -> PreviewOut:
    """Try a command: what would change, and how it would look at a frame. Nothing is written."""
    before, after = edits.preview(scene_id, payload.command)
    if payload.frame not in after.frames:
        raise BadInput(
            f"Frame {payload.frame} is outside {after.frames}.", "Ask for one inside.", field="frame"
        )
    placed = None
    if before.shots != after.shots:
        placed = [PlacedOut(id=p.shot.id, cut_first=p.cut_first, cut_last=p.cut_last) for p in lay_out(after)]
    rows_there = baking.one_frame(before, after, payload.frame)
    return PreviewOut(patch=diff(before, after), rows=rows_there, placed=placed)


@router.get("{int:scene_id}/samples/{thing}")
def samples(request: HttpRequest, scene_id: int, thing: str, key: str = "") -> HttpResponse:
    """Packed samples; kept by the browser for ever under their key."""
    scene = rows.load(rows.scene_row(scene_id))
    current = baking.keys(scene).get(thing, "") if key else ""
    return _kept(
        baking.samples(scene, thing), "application/octet-stream", lasting=bool(key) and key == current
    )


@router.get("{int:scene_id}/shapes/{thing}.glb")
def shape(request: HttpRequest, scene_id: int, thing: str, key: str = "") -> HttpResponse:
    """The body of a figure, or a mover's shape."""
    scene = rows.load(rows.scene_row(scene_id))
    current = baking.keys(scene).get(f"shape:{thing}", "") if key else ""
    return _kept(baking.shape(scene, thing), "model/gltf-binary", lasting=bool(key) and key == current)


def _kept(content: bytes, kind: str, *, lasting: bool) -> HttpResponse:
    response = HttpResponse(content, content_type=kind)
    # Numbers hardly shrink, and the desk is on this machine: packing them would only take time.
    response.headers["Content-Encoding"] = "identity"
    response.headers["Cache-Control"] = "private, max-age=31536000, immutable" if lasting else "no-store"
    return response
