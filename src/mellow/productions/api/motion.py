"""A camera's move for the eye: the seen strip, and its hitches."""

import numpy as np
from django.http import HttpResponse
from ninja import Router
from pydantic import BaseModel

from heron.bake import Bake
from heron.commands.base import find_any
from heron.errors import BadInput
from heron.motion.found import found_in
from heron.motion.strip import COLUMNS, LIMITS, Strip, beyond, strip
from heron.scene import Camera, Scene, find
from heron.stage.figure import Figure
from heron.stage.reference import OnFigure, OnMover, OnPiece, Spot
from mellow.actors import Request
from mellow.productions import baking
from mellow.productions.api.opened import looked_at
from mellow.productions.api.shapes import REFUSALS, StripOut, answered, sealed

router = Router()


class HitchOut(BaseModel):
    """Where a move hitches, in words."""

    first: int
    last: int
    kind: str
    measure: str
    severity: float
    sentence: str


class BeyondOut(BaseModel):
    """Where no operator could follow."""

    first: int
    last: int
    sentence: str


class MotionOut(BaseModel):
    """The strip of a subject in a camera, what hitches, and what is beyond an operator."""

    strip: StripOut
    hitches: list[HitchOut]
    beyond: list[BeyondOut]
    limits: dict[str, float]


@router.get("{int:scene_id}/motion/{camera}", response={200: MotionOut, **REFUSALS})
def motion(request: Request, scene_id: int, camera: str, subject: str) -> HttpResponse:
    """What a camera's move is for the eye that watches a figure, a mover or a piece."""
    scene = looked_at(request, scene_id)
    one: Camera = find(scene, "cameras", camera)
    bake = baking.bake_of(scene)
    spot = subject_of(scene, subject)
    found = strip(bake, one, spot)
    return answered(MotionOut(
        strip=packed(found), limits=LIMITS,
        hitches=[HitchOut.model_validate({**vars(h), "sentence": h.sentence}) for h in found_in(bake, one, spot, found.signals)],
        beyond=[BeyondOut(first=a, last=b, sentence=says) for a, b, says in beyond(found)],
    ))  # fmt: skip


def strip_after(after: Scene, bake: Bake, camera: str, subject: str) -> StripOut | None:
    """The strip as a try would leave it; none where the camera is gone."""
    one = next((c for c in after.cameras if c.id == camera), None)
    return packed(strip(bake, one, subject_of(after, subject))) if one else None


def subject_of(scene: Scene, id_: str) -> Spot:
    """A subject by its id: a figure's head says whom, a mover or a piece where.

    Raises:
        NotFound: it is not there.
        BadInput: it is nothing that can be watched.
    """
    table, item = find_any(scene, id_, ("figures", "movers", "pieces"))
    if isinstance(item, Figure):
        return OnFigure(figure=item.id, joint="head")
    if table == "movers":
        return OnMover(mover=item.id)
    if table == "pieces":
        return OnPiece(piece=item.id)
    raise BadInput("That is nothing to be watched.", "Choose a figure or a thing.", field="subject")


def packed(found: Strip) -> StripOut:
    """A strip's columns as little-endian float32, each in one piece."""
    content = np.ascontiguousarray(found.values.T).astype("<f4").tobytes()
    return StripOut(first=found.signals.first, columns=list(COLUMNS), values=sealed(content))
