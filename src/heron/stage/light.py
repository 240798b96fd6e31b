"""What makes a mover a lamp."""

from typing import Any, ClassVar, Literal

from pydantic import Field

from heron.curves import Channel, Keyed
from heron.curves.spec import ChannelSpec
from heron.model import Colour

#: As many lamps light a scene at once, besides the sun.
MOST_LAMPS = 4


class Light(Keyed):
    """Light from a thing's origin: all round, or in a cone the way it faces.

    Attributes:
        stops: how bright it is, in stops over and under the sun on this stage, on a white thing a metre away; it falls off
            with the square of the distance, and to nothing at its reach.
        cone_deg: the whole angle of the cone.
        soft: the share of the cone over which its edge fades.
        casts: whether things shade others from it; two lamps can do that.
    """

    CHANNELS: ClassVar[tuple[ChannelSpec, ...]] = (
        ChannelSpec(
            name="stops", label="Brightness", unit="stops", low=-10, high=10, measure="stops", digits=1, step=0.1,
            group="layer",
        ),
        ChannelSpec(
            name="cone_deg", label="Cone", unit="°", low=5, high=170, measure="degrees", digits=0, step=1.0, group="layer"
        ),
    )  # fmt: skip
    NOT_HASHED: ClassVar[frozenset[str]] = frozenset({"colour"})

    spread: Literal["round", "cone"] = "round"
    colour: Colour = "#ffd9a0"
    reach_m: float = Field(default=8.0, ge=0.2, le=200.0)
    soft: float = Field(default=0.35, ge=0.0, le=1.0)
    casts: bool = True
    stops: Channel = Channel(rest=0.0)
    cone_deg: Channel = Channel(rest=60.0)

    def why_idle(self, name: str) -> Any:
        """A cone's angle does nothing where light goes all round."""
        if name == "cone_deg" and self.spread == "round":
            return "This lamp lights all round."
        return super().why_idle(name)
