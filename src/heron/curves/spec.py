"""What a channel is: its name and label, its unit, how far it goes, and the measure it runs evenly in."""

import math
from functools import cached_property
from typing import Literal

from pydantic import computed_field

from heron.model import STAGE_LIMIT_M, Model

#: What the values between two keys are even in. Values are kept in it, so that every curve is true in it.
Measure = Literal["metres", "degrees", "millimetres", "stops", "per metre", "plain"]
#: Channels that one gesture keys together.
Group = Literal["pose", "lens", "exposure", "focus", "layer", "act"]
#: How a kept value is shown: as it is, an f-number N kept in stops as 2·log2(N), a distance in metres kept as 1/m.
ShownAs = Literal["itself", "f-number", "distance"]


class ChannelSpec(Model):
    """One line of the table of channels.

    Attributes:
        unit: as shown behind a value, with `front` before it.
        low, high: in the unit that is shown.
        most: as far from 0 as a new value may be, where that is less than what is kept and read.
        digits: decimals shown.
        step: what one step of an arrow key or a pixel of a drag comes to.
        usual: of what is seldom set, the value it is made with; a card folds it away while it has that one.
    """

    name: str
    label: str
    unit: str
    front: str = ""
    low: float
    high: float
    measure: Measure
    most: float | None = None
    shown_as: ShownAs = "itself"
    digits: int = 2
    step: float = 0.1
    group: Group
    usual: float | None = None

    @cached_property
    def span(self) -> tuple[float, float]:
        """Its lowest and highest value as they are kept."""
        one, other = self.kept(self.low), self.kept(self.high)
        return min(one, other), max(one, other)

    @computed_field  # type: ignore[prop-decorator]
    @property
    def kept_unit(self) -> str:
        """The unit of a difference between two values as they are kept."""
        return {"stops": "stops", "per metre": "1/m"}.get(self.measure, self.unit)

    @property
    def new_span(self) -> tuple[float, float]:
        """The lowest and highest value that may be newly set, as they are kept."""
        return self.span if self.most is None else (-self.most, self.most)

    def kept(self, shown: float) -> float:
        """A value as it is kept from one as it is shown."""
        if self.shown_as == "distance":
            return 1 / shown
        return 2 * math.log2(shown) if self.shown_as == "f-number" else shown

    def shown(self, kept: float) -> float:
        """A value as it is shown from one as it is kept."""
        if self.shown_as == "distance":
            return 1 / kept if kept > 0 else math.inf
        return 2 ** min(kept / 2, 1000.0) if self.shown_as == "f-number" else kept

    def said(self, shown: float) -> str:
        """A shown value in a sentence: `f/2.8`, `35 mm`."""
        return f"{self.front}{shown:g}{'' if self.unit in ('', '°') else ' '}{self.unit}"

    def complaint(self, shown: float) -> str:
        """What is wrong with a shown value, as a sentence without its end; empty when nothing is."""
        low, high = (self.low, self.high) if self.most is None else (-self.most, self.most)
        if low <= shown <= high:
            return ""
        return f"{self.label} must be from {self.said(low)} to {self.said(high)}; it was {self.said(shown)}"


def pose_specs(pan: str = "Pan", tilt: str = "Tilt") -> tuple[ChannelSpec, ...]:
    """Place on the stage and direction: x, y, z in metres, then pan, tilt, roll in degrees."""
    metres = {"unit": "m", "low": -STAGE_LIMIT_M, "high": STAGE_LIMIT_M, "measure": "metres", "step": 0.05}
    turns = {"unit": "°", "low": -36_000.0, "high": 36_000.0, "measure": "degrees", "step": 1.0}
    return (
        *(
            ChannelSpec.model_validate({"name": n, "label": label, "group": "pose", **metres})
            for n, label in (("x", "Across"), ("y", "Height"), ("z", "Along"))
        ),
        *(
            ChannelSpec.model_validate({"name": n, "label": label, "group": "pose", **turns, **more})
            # Past straight up or down a camera would look back upside down: it pans there instead.
            for n, label, more in (("pan", pan, {}), ("tilt", tilt, {"most": 90.0}), ("roll", "Roll", {}))
        ),
    )
