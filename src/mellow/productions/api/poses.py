"""Poses that a production keeps."""

import numpy as np
from ninja import Router
from pydantic import BaseModel, Field

from heron.commands.acts import act_of
from heron.curves import evaluate
from heron.errors import NotFound, Refused
from heron.model import Id, Name
from heron.scene import find
from heron.stage.acts.pose import Pose
from heron.stage.figure import Figure
from heron.timebase.frames import FrameNumber
from mellow.actors import Request, permit
from mellow.productions import models
from mellow.productions.api.opened import looked_at
from mellow.productions.api.scenes import production
from mellow.productions.api.shapes import REFUSALS

router = Router()


class PoseOut(BaseModel):
    """A kept pose: its numbers that are not at rest, and the stature of whom it was made of, metres."""

    id: int
    name: str
    numbers: dict[str, float]
    stature: float


class KeepPose(BaseModel):
    """Which pose of a figure to keep, as it is at a frame, and under which name."""

    figure: Id
    act: Id
    frame: FrameNumber
    name: Name = Field()


@router.get("poses", response=list[PoseOut])
def listing(request: Request) -> list[PoseOut]:
    """All of them, by name."""
    permit(request.auth, "look")
    kept = models.Pose.objects.filter(production=production())
    return [PoseOut(id=row.pk, name=row.name, numbers=row.numbers, stature=row.stature) for row in kept]


@router.post("scenes/{int:scene_id}/poses", response={200: list[PoseOut], **REFUSALS})
def keep(request: Request, scene_id: int, payload: KeepPose) -> list[PoseOut]:
    """Keep a pose of a figure; under the same name it takes the other's place."""
    figure: Figure = find(looked_at(request, scene_id), "figures", payload.figure)
    permit(request.auth, "edit")
    pose = act_of(figure, payload.act)
    if not isinstance(pose, Pose):
        raise Refused("Only a pose can be kept.", "Choose one on the lane for poses.", field="act")
    at = np.array([payload.frame])
    values = {spec.name: float(evaluate(pose.channel(spec.name), at)[0]) for spec in pose.CHANNELS}
    models.Pose.objects.update_or_create(
        production=production(), name=payload.name,
        defaults={"numbers": {name: round(v, 4) for name, v in values.items() if v}, "stature": figure.stature},
    )  # fmt: skip
    return listing(request)


@router.delete("poses/{int:pose_id}", response={200: list[PoseOut], **REFUSALS})
def delete(request: Request, pose_id: int) -> list[PoseOut]:
    """Remove one; scenes keep those that were put."""
    permit(request.auth, "edit")
    if not models.Pose.objects.filter(pk=min(pose_id, 2**62)).delete()[0]:
        raise NotFound("That pose is gone.", "Choose another.")
    return listing(request)
