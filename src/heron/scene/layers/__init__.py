"""Rig layers: what moves a camera besides its keys, each over a range, with a weight and channels of its own.

They run by kind, whatever their order of making: place (carrier, trail, arm, rail, flight), level, direction (aim),
lens (size hold), breath; within a kind in the camera's order.
"""

from typing import Annotated, Any

from pydantic import Field

from heron.scene.layers.base import WEIGHT, Choice, Layer, Plain
from heron.scene.layers.looking import Aim, Breath, Level, SizeHold
from heron.scene.layers.placing import Arm, Carrier, Flight, Leg, Rail, Trail

#: The order in which kinds run.
STAGES: dict[str, int] = {
    "carrier": 0, "trail": 0, "arm": 0, "rail": 0, "flight": 0, "level": 1, "aim": 2, "size": 3, "breath": 4,
}  # fmt: skip
MOST_LAYERS = 64


AnyLayer = Annotated[
    Carrier | Trail | Arm | Rail | Flight | Level | Aim | SizeHold | Breath, Field(discriminator="kind")
]


#: Every kind, in the order in which they run.
LAYERS: tuple[type[Layer], ...] = (Carrier, Trail, Arm, Rail, Flight, Level, Aim, SizeHold, Breath)


def in_order(layers: tuple[Any, ...]) -> list[Any]:
    """Layers in the order in which they run."""
    return sorted(layers, key=lambda layer: STAGES[layer.kind])


__all__ = [
    "LAYERS", "MOST_LAYERS", "STAGES", "WEIGHT", "Aim", "AnyLayer", "Arm", "Breath", "Carrier", "Choice", "Flight",
    "Layer", "Leg", "Level", "Plain", "Rail", "SizeHold", "Trail", "in_order",
]  # fmt: skip
