"""Where cameras are on air and off, and what their angles are worth at a moment."""

from ninja import Router
from pydantic import BaseModel

from heron.cut.air import next_on_air, off_air, runs_on
from heron.cut.concerned import cameras_of_figure, cameras_of_range
from heron.errors import BadInput
from heron.framing.angles import angle_said
from heron.timebase import Frames
from heron.timebase.frames import FrameNumber
from mellow.actors import Request
from mellow.productions.api.opened import looked_at
from mellow.productions.api.shapes import REFUSALS
from mellow.productions.baking import bake_of

router = Router()


class OffOut(BaseModel):
    """Frames on which no shot uses a camera, and the frame on which one does again."""

    first: int
    last: int
    next: int | None


class RunsOnOut(BaseModel):
    """A move that begins off air and runs on into a shot."""

    first: int
    last: int
    shot: str
    sentence: str


class Air(BaseModel):
    """A camera's frames off air, and its moves that run on into frames on air."""

    off: list[OffOut]
    runs_on: list[RunsOnOut]


@router.get("{int:scene_id}/angles", response={200: dict[str, str], **REFUSALS})
def angles(request: Request, scene_id: int, frame: int) -> dict[str, str]:
    """By camera, what is wrong with its angle at a frame of the stage; empty, where nothing is."""
    scene = looked_at(request, scene_id)
    if frame not in scene.frames:
        raise BadInput(f"Frame {frame} is outside {scene.frames}.", "Ask for frames inside.", field="frame")
    bake = bake_of(scene)
    return {camera.id: angle_said(bake, camera, frame) for camera in scene.cameras}


@router.get("{int:scene_id}/cameras", response={200: list[str], **REFUSALS})
def concerned(
    request: Request,
    scene_id: int,
    figure: str | None = None,
    first: FrameNumber | None = None,
    last: FrameNumber | None = None,
) -> list[str]:
    """The ids of the cameras that have to do with a figure, or with some frames of the stage; of all, where neither is given."""
    scene = looked_at(request, scene_id)
    if figure is not None:
        return cameras_of_figure(scene, figure)
    frames = Frames(
        first=scene.frames.first if first is None else first, last=scene.frames.last if last is None else last
    )
    return (
        cameras_of_range(scene, frames)
        if first is not None or last is not None
        else [c.id for c in scene.cameras]
    )


@router.get("{int:scene_id}/air", response={200: dict[str, Air], **REFUSALS})
def air(request: Request, scene_id: int) -> dict[str, Air]:
    """By camera, of those that any shot uses."""
    scene = looked_at(request, scene_id)
    used = {shot.camera for shot in scene.shots}
    return {
        camera.id: Air(
            off=[
                OffOut(first=span.first, last=span.last, next=next_on_air(scene, span))
                for span in off_air(scene, camera.id)
            ],
            runs_on=[RunsOnOut.model_validate(one, from_attributes=True) for one in runs_on(scene, camera)],
        )
        for camera in scene.cameras
        if camera.id in used
    }
