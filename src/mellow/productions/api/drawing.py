"""What the desk draws: samples, shapes, and one frame while a hand drags."""

from django.http import HttpResponse
from ninja import Router

from heron.bake import draft
from heron.cut import lay_out
from heron.errors import BadInput
from heron.scene import Scene, diff, fine
from mellow.actors import Request
from mellow.productions import baking, log
from mellow.productions.api.curves import looked_curves
from mellow.productions.api.motion import strip_after
from mellow.productions.api.opened import looked_at
from mellow.productions.api.shapes import (
    REFUSALS,
    PlacedOut,
    PreviewIn,
    PreviewOut,
    StripOut,
    TimedLineOut,
    Watched,
    answered,
    sealed,
)

router = Router()


@router.post("{int:scene_id}/preview", response={200: PreviewOut, **REFUSALS})
def preview(request: Request, scene_id: int, payload: PreviewIn) -> HttpResponse:
    """Try a command: what would change, and how it would look over some frames. Nothing is written."""
    before, after, sentence = log.preview(scene_id, payload.command, request.auth)
    for frame in (payload.frames.first, payload.frames.last):
        if frame not in after.frames:
            raise BadInput(
                f"Frame {frame} is outside {after.frames}.", "Ask for frames inside.", field="frames"
            )
    placed = None
    if before.shots != after.shots:
        placed = [PlacedOut(id=p.shot.id, cut_first=p.cut_first, cut_last=p.cut_last) for p in lay_out(after)]
    cut = sealed(baking.samples(after, baking.CUT)) if payload.whole_cut and placed else None
    mixed = baking.mixed(before, after)
    found = baking.tried(before, after, payload.frames, payload.columns)
    packed = {id_: sealed(s.packed()) for id_, s in found.items()}
    answer = answered(PreviewOut(
        sentence=sentence, patch=fine(diff(before, after), before), placed=placed, cut=cut, samples=packed, mixed=mixed and sealed(mixed),
        curves=looked_curves(before, after, payload.curves), strip=_strip(after, payload.strip),
        lines=[TimedLineOut.model_validate(one) for one in baking.line_times(after)] if after.lines and baking.lines_key(before) != baking.lines_key(after) else None,
    ))  # fmt: skip
    # A hand is waiting: packing takes longer than sending.
    answer.headers["Content-Encoding"] = "identity"
    return answer


def _strip(after: Scene, asked: Watched | None) -> StripOut | None:
    return None if asked is None else strip_after(after, draft(after), asked.camera, asked.subject)


@router.get("{int:scene_id}/samples/{thing}")
def samples(
    request: Request, scene_id: int, thing: str, key: str = "", at: int | None = None
) -> HttpResponse:
    """Packed samples, as they are or were at a revision; kept by the browser for ever under their key."""
    scene = looked_at(request, scene_id, at)
    current = baking.keys(scene).get(thing, "") if key else ""
    return _kept(
        baking.samples(scene, thing), "application/octet-stream", lasting=bool(key) and key == current
    )


@router.get("{int:scene_id}/shapes/{thing}.glb")
def shape(request: Request, scene_id: int, thing: str, key: str = "", at: int | None = None) -> HttpResponse:
    """The body of a figure, or a mover's shape."""
    scene = looked_at(request, scene_id, at)
    current = baking.keys(scene).get(f"shape:{thing}", "") if key else ""
    return _kept(baking.shape(scene, thing), "model/gltf-binary", lasting=bool(key) and key == current)


def _kept(content: bytes, kind: str, *, lasting: bool) -> HttpResponse:
    response = HttpResponse(content, content_type=kind)
    # Numbers hardly shrink, and the desk is on this machine: packing them would only take time.
    response.headers["Content-Encoding"] = "identity"
    response.headers["Cache-Control"] = "private, max-age=31536000, immutable" if lasting else "no-store"
    return response
