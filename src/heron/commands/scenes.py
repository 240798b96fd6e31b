"""Commands on the scene itself."""

from typing import Annotated, Any, Literal

from pydantic import StringConstraints

from heron.commands.base import Command, Outcome
from heron.errors import BadInput
from heron.model import Name, changed
from heron.optics import Delivery
from heron.scene import Scene
from heron.timebase import Frames, Rate


class SetScene(Command):
    """Change the scene's name, rate, range, delivery aspect, light or the cut's first timecode."""

    kind: Literal["scene.set"] = "scene.set"
    name: Name | None = None
    rate: Rate | None = None
    frames: Frames | None = None
    delivery: Delivery | None = None
    cut_start: Annotated[str, StringConstraints(strip_whitespace=True)] | None = None
    #: The exposure value at ISO 100 that shows the stage as it is lit.
    light_ev: float | None = None

    def apply(self, scene: Scene) -> Outcome:
        update: dict[str, Any] = {}
        said = []
        for field, word in (
            ("name", "name"), ("rate", "rate"), ("frames", "range"), ("delivery", "delivery"), ("cut_start", "start of the cut"),
        ):  # fmt: skip
            value = getattr(self, field)
            if value is not None:
                update[field] = value
                said.append(f"{word} to {getattr(value, 'label', value)}")
        if self.light_ev is not None:
            update["surround"] = changed(scene.surround, light_ev=self.light_ev)
            said.append(f"light to EV {self.light_ev:g}")
        if not update:
            raise BadInput("Nothing to set was named.", "Give a name, rate, frames, delivery or cut_start.")
        return scene.having(**update), f"Set the scene's {', '.join(said)}"
