"""What is made of a view that was found: a camera, a perch, or another place for a camera that is there."""

from typing import Any

from heron.commands.base import free_name
from heron.commands.cameras import AddCamera, Pose
from heron.commands.glass import MountLens
from heron.commands.numbers import SetNumber
from heron.commands.perches import SavePerch
from heron.commands.registry import AnyCommand
from heron.commands.things import PutThing
from heron.commands.view import View
from heron.lookouts import Lookout
from heron.model import Id
from heron.scene import POSE, Camera, Scene, find
from heron.stage.reference import OnFigure


def camera_of(scene: Scene, view: Lookout, id_: Id, frame: int, taken: set[str]) -> AddCamera:
    """A new camera there, focused on whom it is of; named after them and the size, unlike the names that are taken."""
    figure = find(scene, "figures", view.focus)
    stem = f"{figure.name} {view.size}"
    name = stem if stem not in taken else free_name(stem, taken, first=2)
    return AddCamera(
        id=id_, name=name, pose=Pose(**view.pose.model_dump()), focal=view.focal_mm,
        focus=OnFigure(figure=view.focus, joint="eyes"), frame=frame,
    )  # fmt: skip


def perch_of(view: Lookout, id_: Id, frame: int) -> SavePerch:
    """A perch there."""
    seen = View(**view.pose.model_dump(), focal=view.focal_mm, focus_m=view.focus_m)
    return SavePerch(id=id_, view=seen, frame=frame)


def moved_to(scene: Scene, camera: Camera, view: Lookout, frame: int, key: bool) -> list[AnyCommand]:
    """A camera put there with its lens: with its whole path, or by a key at a frame."""
    commands: list[AnyCommand] = []
    prime = next((one for one in scene.lenses if one.prime and one.shortest_mm == view.focal_mm), None)
    if camera.mounted is not None and prime is not None:
        if camera.mounted != prime.id:
            commands.append(MountLens(camera=camera.id, lens=prime.id, frame=frame))
    else:
        commands.append(SetNumber(thing=camera.id, channel="focal", value=view.focal_mm, frame=frame))
    keyed = any(camera.channel(name).keys for name in POSE)
    pose: dict[str, Any] = view.pose.model_dump()
    keep = "key" if key else "path" if keyed else "rest"
    return [*commands, PutThing(thing=camera.id, frame=frame, keep=keep, **pose)]
