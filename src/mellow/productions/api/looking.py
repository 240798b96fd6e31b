"""Views that are searched for, and where heads are in a frame."""

from ninja import Router
from pydantic import BaseModel, Field

from heron.commands.from_lookouts import camera_of, moved_to, perch_of
from heron.commands.registry import AnyCommand
from heron.errors import NotFound
from heron.framing.heads import HeadInFrame, heads_in_frame
from heron.lookouts import Asked, Lookout, lookouts
from heron.lookouts.search import MOST
from heron.model import Id
from heron.notes.line_of_action import CameraSide, line_at, set_at, sides
from heron.scene import Camera, Scene, find
from heron.scene.noting import ActionLine
from heron.timebase import Frames
from heron.timebase.frames import FrameNumber
from mellow.actors import Request
from mellow.productions.api.opened import looked_at
from mellow.productions.api.shapes import REFUSALS
from mellow.productions.baking import bake_of

router = Router()


class LookIn(BaseModel):
    """A view that is asked for, over frames of the stage; sooner without rounds, better with two.

    Attributes:
        camera: which one could be put there, at the frame; id: what new cameras are called by, with a number.
    """

    asked: Asked
    frames: Frames
    count: int = Field(default=6, ge=1, le=MOST)
    rounds: int = Field(default=2, ge=0, le=4)
    camera: Id | None = None
    frame: FrameNumber
    id: Id


class LookoutOut(Lookout):
    """A view that was found, and what makes a camera or a perch of it, or puts a camera there: for good, or by a key."""

    name: str
    make: AnyCommand
    perch: AnyCommand
    put: list[AnyCommand]
    key: list[AnyCommand]


@router.post("{int:scene_id}/lookouts", response={200: list[LookoutOut], **REFUSALS})
def search(request: Request, scene_id: int, payload: LookIn) -> list[LookoutOut]:
    """The best views, different from each other, the best first; nothing is made."""
    scene = looked_at(request, scene_id)
    found = lookouts(bake_of(scene), payload.asked, payload.frames, payload.count, payload.rounds)
    camera = None if payload.camera is None else _camera(scene, payload.camera)
    out: list[LookoutOut] = []
    taken = {one.name for one in scene.cameras}
    for number, view in enumerate(found):
        make = camera_of(
            scene, view, f"{payload.id}-{number}", payload.frame, taken | {one.name for one in out}
        )
        put, key = (
            [] if camera is None else moved_to(scene, camera, view, payload.frame, key)
            for key in (False, True)
        )
        out.append(
            LookoutOut(
                **view.model_dump(), name=make.name or "", make=make, put=put, key=key,
                perch=perch_of(view, f"{payload.id}-p{number}", payload.frame),
            )
        )  # fmt: skip
    return out


@router.get("{int:scene_id}/heads/{camera_id}", response={200: list[HeadInFrame], **REFUSALS})
def heads(request: Request, scene_id: int, camera_id: str, frame: int) -> list[HeadInFrame]:
    """Where everybody's eyes are in a camera's frame, and how large they are."""
    scene = looked_at(request, scene_id)
    camera = _camera(scene, camera_id)
    if not scene.frames.first <= frame <= scene.frames.last:
        raise NotFound("The stage has no such frame.", f"It has {scene.frames.first} to {scene.frames.last}.")
    return heads_in_frame(bake_of(scene), camera, frame)


class LineOut(BaseModel):
    """The line of action: x and z of its ends, metres, whom it is of, what it was set by, and the side of each camera."""

    ends: tuple[tuple[float, float], tuple[float, float]] | None
    said: str
    set: ActionLine | None
    cameras: list[CameraSide]


@router.get("{int:scene_id}/action_line", response={200: LineOut, **REFUSALS})
def action_line(request: Request, scene_id: int, frame: int) -> LineOut:
    """Where the line of action lies at a frame, and on which side of it each camera is."""
    scene = looked_at(request, scene_id)
    if not scene.frames.first <= frame <= scene.frames.last:
        raise NotFound("The stage has no such frame.", f"It has {scene.frames.first} to {scene.frames.last}.")
    bake = bake_of(scene)
    line = line_at(bake, frame)
    given = set_at(bake, frame)
    if line is None:
        said = "taken off" if given is not None and given.off else "nobody looks at anybody"
        return LineOut(ends=None, said=said, set=given, cameras=[])
    names = {figure.id: figure.name for figure in scene.figures}
    of = [names[id_] for id_ in line.of]
    said = f"{of[0]} to {of[1]}" if len(of) == 2 else f"{of[0]}'s way" if of else "put by hand"
    ends = ((float(line.one[0]), float(line.one[2])), (float(line.two[0]), float(line.two[2])))
    return LineOut(ends=ends, said=said, set=given, cameras=list(sides(bake, line, frame)))


def _camera(scene: Scene, id_: str) -> Camera:
    if all(camera.id != id_ for camera in scene.cameras):
        raise NotFound("There is no such camera.", "Look at the list of cameras.")
    camera: Camera = find(scene, "cameras", id_)
    return camera
