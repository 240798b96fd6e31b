"""How far an edit of the cut goes, for a hand that drags; and what a kept cut has otherwise."""

from django.http import HttpResponse
from ninja import Router
from pydantic import BaseModel

from heron.commands import run_one
from heron.commands.cut_edits import Choose, MoveEdges
from heron.commands.cutting import EditCut, limits
from heron.commands.kept_cuts import kept_cut, standing
from heron.cut.differs import differences
from heron.errors import BadInput
from heron.model import Id, Model, Name
from heron.timebase import parse_rate
from mellow.actors import Request
from mellow.productions import baking
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


class AgainstIn(Model):
    """What the cut is held against: a kept cut, or the cut with another version of a shot chosen."""

    kept: Id | None = None
    shot: Id | None = None
    version: Name | None = None


@router.post("{int:scene_id}/cut/against")
def cut_against(request: Request, scene_id: int, payload: AgainstIn) -> HttpResponse:
    """Another cut of the same scene, packed as the cut's own clocks are; nothing changes."""
    scene = looked_at(request, scene_id)
    if payload.kept is not None:
        there = {camera.id for camera in scene.cameras}
        shots = tuple(standing(shot, there) for shot in kept_cut(scene, payload.kept).shots)
    elif payload.shot is not None and payload.version is not None:
        choose = Choose(edit="choose", shots=(payload.shot,), version=payload.version)
        shots = run_one(scene, EditCut(do=choose))[0].shots
    else:
        raise BadInput(
            "It was not said what to hold the cut against.", "Name a kept cut, or a version of a shot."
        )
    return HttpResponse(baking.other_cut(scene, shots), content_type="application/octet-stream")


@router.post("{int:scene_id}/cut/limits", response={200: LimitsOut, **REFUSALS})
def cut_limits(request: Request, scene_id: int, payload: MoveEdges) -> HttpResponse:
    """How far an edit of edges goes, back and forth."""
    back, forth = limits(looked_at(request, scene_id), payload)
    return answered(LimitsOut(least=back.by, most=forth.by, stops=[back.why, forth.why]))
