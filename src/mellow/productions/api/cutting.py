"""How far an edit of the cut goes, for a hand that drags; and what a kept cut has otherwise."""

from django.http import HttpResponse
from ninja import Router
from pydantic import BaseModel

from heron.commands.cut_edits import MoveEdges
from heron.commands.cutting import limits
from heron.commands.kept_cuts import kept_cut
from heron.cut.differs import differences
from heron.timebase import parse_rate
from mellow.actors import Request
from mellow.productions.api.opened import looked_at
from mellow.productions.api.shapes import REFUSALS, answered

router = Router()


class LimitsOut(BaseModel):
    """The least and the most frames, and what is in the way at each; none, it has no end there."""

    least: int | None
    most: int | None
    stops: list[str]


@router.get("{int:scene_id}/cuts/{cut}/differences", response={200: list[str], **REFUSALS})
def cut_differences(request: Request, scene_id: int, cut: str) -> list[str]:
    """What a kept cut has otherwise than the one that plays, shot by shot."""
    scene = looked_at(request, scene_id)
    letters = {camera.id: f"on {camera.letter}" for camera in scene.cameras}
    return differences(
        scene.shots,
        kept_cut(scene, cut).shots,
        lambda id_: letters.get(id_ or "", "a slate"),
        parse_rate(scene.rate),
    )


@router.post("{int:scene_id}/cut/limits", response={200: LimitsOut, **REFUSALS})
def cut_limits(request: Request, scene_id: int, payload: MoveEdges) -> HttpResponse:
    """How far an edit of edges goes, back and forth."""
    back, forth = limits(looked_at(request, scene_id), payload)
    return answered(LimitsOut(least=back.by, most=forth.by, stops=[back.why, forth.why]))
