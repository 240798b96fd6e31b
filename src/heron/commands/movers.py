"""Commands on movers; their keys are set with `keys.set`, as a camera's are."""

from typing import Any, Literal

from pydantic import Field

from heron.commands.base import Command, Outcome, free_name, refuse_taken
from heron.commands.cameras import Pose
from heron.commands.moving_parts import check_lamps
from heron.curves import Channel
from heron.errors import BadInput
from heron.model import Colour, Id, Name, changed, new_id
from heron.scene import POSE, Scene, find, replace
from heron.stage.fresh import MOVERS
from heron.stage.light import Light
from heron.stage.mover import Mover


class AddMover(Command):
    """Put a rigid mover on the stage; without a name or colour it gets the usual ones."""

    kind: Literal["mover.add"] = "mover.add"
    id: Id = Field(default_factory=lambda: new_id("mov"))
    name: Name | None = None
    shape: Literal["heron", "boat", "cart", "pony", "oar", "lamp"]
    colour: Colour | None = None
    pose: Pose

    def apply(self, scene: Scene) -> Outcome:
        usual, colour = MOVERS[self.shape]
        name = self.name or free_name(usual, {m.name for m in scene.movers})
        refuse_taken(scene, "movers", name)
        channels = {n: Channel(rest=getattr(self.pose, n)) for n in POSE}
        light = None
        if self.shape == "lamp":
            check_lamps(scene)
            light = Light()
        mover = Mover(
            id=self.id, name=name, shape=self.shape, colour=self.colour or colour, light=light, **channels
        )
        return scene.having(movers=(*scene.movers, mover)), f"Put {name} on the stage"


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
        if self.name is not None:
            refuse_taken(scene, "movers", self.name, mover.id)
        return replace(
            scene, "movers", changed(mover, **update)
        ), f"Changed {mover.name}'s {' and '.join(update)}"
