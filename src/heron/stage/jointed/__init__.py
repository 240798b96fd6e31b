"""Movers whose shape has joints, each with how it moves them as it goes."""

from heron.stage.jointed.base import Going, Jointed, places_of
from heron.stage.jointed.cart import CART
from heron.stage.jointed.heron import HERON
from heron.stage.jointed.pony import PONY
from heron.stage.mover import MoverShape

JOINTED: dict[MoverShape, Jointed] = {"heron": HERON, "cart": CART, "pony": PONY}
#: The most joints that a shape has.
MOST_JOINTS = max(len(one.joints) for one in JOINTED.values())

__all__ = ["JOINTED", "MOST_JOINTS", "Going", "Jointed", "places_of"]
