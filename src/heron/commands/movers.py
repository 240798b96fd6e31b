"""Commands on movers; their keys are set with `keys.set`, as a camera's are."""

from typing import Any, Literal

from pydantic import Field

from heron.commands.base import Command, Outcome
from heron.commands.cameras import Pose
from heron.commands.focusing import let_go, stays
from heron.curves import Channel
from heron.errors import BadInput, Refused
from heron.model import Colour, Id, Metres, Name, changed, new_id
from heron.scene import POSE, Scene, find, replace
from heron.stage.mover import Mover


class AddMover(Command):
    """Put a rigid mover on the stage."""

    kind: Literal["mover.add"] = "mover.add"
    id: Id = Field(default_factory=lambda: new_id("mov"))
    name: Name
    shape: Literal["heron", "boat"]
    colour: Colour = "#7d8791"
    pose: Pose

    def apply(self, scene: Scene) -> Outcome:
        channels = {name: Channel(rest=getattr(self.pose, name)) for name in POSE}
        mover = Mover(id=self.id, name=self.name, shape=self.shape, colour=self.colour, **channels)
        return scene.model_copy(update={"movers": (*scene.movers, mover)}), f"Put {self.name} on the stage"


class SetMover(Command):
    """Change a mover's name or colour."""

    kind: Literal["mover.set"] = "mover.set"
    mover: Id
    name: Name | None = None
    colour: Colour | None = None

    def apply(self, scene: Scene) -> Outcome:
        mover: Mover = find(scene, "movers", self.mover)
        update: dict[str, Any] = {
            n: getattr(self, n) for n in ("name", "colour") if getattr(self, n) is not None
        }
        if not update:
            raise BadInput("Nothing to set was named.", "Give a name or a colour.")
        return replace(
            scene, "movers", changed(mover, **update)
        ), f"Changed {mover.name}'s {' and '.join(update)}"


class PlaceMover(Command):
    """Put a mover without keys somewhere."""

    kind: Literal["mover.place"] = "mover.place"
    mover: Id
    pose: Pose

    def apply(self, scene: Scene) -> Outcome:
        mover: Mover = find(scene, "movers", self.mover)
        if any(getattr(mover, name).keys for name in POSE):
            raise Refused(
                f"{mover.name} is moved by its keys.",
                "Set a key at this frame, or drag its whole path on the plan.",
                field="pose",
            )
        update = {name: Channel(rest=getattr(self.pose, name)) for name in POSE}
        return replace(scene, "movers", changed(mover, **update)), f"Placed {mover.name}"


class ShiftMover(Command):
    """Move a mover's whole path."""

    kind: Literal["mover.shift"] = "mover.shift"
    mover: Id
    dx: Metres = 0.0
    dy: Metres = 0.0
    dz: Metres = 0.0

    def apply(self, scene: Scene) -> Outcome:
        mover: Mover = find(scene, "movers", self.mover)
        new = changed(
            mover, x=mover.x.shifted(self.dx), y=mover.y.shifted(self.dy), z=mover.z.shifted(self.dz)
        )
        return replace(scene, "movers", new), f"Moved {mover.name}"


class DeleteMover(Command):
    """Take a mover off the stage."""

    kind: Literal["mover.delete"] = "mover.delete"
    mover: Id

    def apply(self, scene: Scene) -> Outcome:
        mover: Mover = find(scene, "movers", self.mover)
        scene, letters = let_go(scene, mover.id)
        kept = tuple(m for m in scene.movers if m.id != mover.id)
        return scene.model_copy(update={"movers": kept}), f"Took {mover.name} off the stage{stays(letters)}"
