"""How far an edit of the cut goes, for a hand that drags."""

from django.http import HttpResponse
from ninja import Router
from pydantic import BaseModel

from heron.commands.cut_edits import MoveEdges
from heron.commands.cutting import limits
from mellow.actors import Request
from mellow.productions.api.opened import looked_at
from mellow.productions.api.shapes import REFUSALS, answered

router = Router()


class LimitsOut(BaseModel):
    """The least and the most frames, and what is in the way at each; none, it has no end there."""

    least: int | None
    most: int | None
    stops: tuple[str, str]


@router.post("{int:scene_id}/cut/limits", response={200: LimitsOut, **REFUSALS})
def cut_limits(request: Request, scene_id: int, payload: MoveEdges) -> HttpResponse:
    """How far an edit of edges goes, back and forth."""
    back, forth = limits(looked_at(request, scene_id), payload)
    return answered(LimitsOut(least=back.by, most=forth.by, stops=(back.why, forth.why)))
