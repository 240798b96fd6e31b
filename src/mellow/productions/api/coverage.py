"""Cameras that are proposed for a conversation."""

from ninja import Router
from pydantic import BaseModel

from heron.commands.covering import proposed
from heron.commands.pointing import Pointed
from heron.model import Id, Model
from heron.timebase.frames import FrameNumber
from mellow.actors import Request
from mellow.productions.api.opened import looked_at
from mellow.productions.api.shapes import REFUSALS

router = Router()


class CoverIn(Model):
    """Who talks, left out the two with the most lines; a frame; and what an insert is of."""

    figures: tuple[Id, ...] = ()
    frame: FrameNumber
    thing: Pointed | None = None


class ProposalOut(BaseModel):
    """A camera that is proposed: what it is asked for by, and why it stands there."""

    key: str
    kind: str
    name: str
    focal: float
    size: str
    reasons: list[str]


@router.post("{int:scene_id}/coverage", response={200: list[ProposalOut], **REFUSALS})
def coverage(request: Request, scene_id: int, payload: CoverIn) -> list[ProposalOut]:
    """What covers a conversation; nothing is made."""
    scene = looked_at(request, scene_id)
    return [
        ProposalOut(
            key=one.key,
            kind=one.kind,
            name=one.name,
            focal=one.focal,
            size=one.size,
            reasons=list(one.reasons),
        )
        for one in proposed(scene, payload.figures, payload.frame, payload.thing)
    ]
