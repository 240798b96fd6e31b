"""A two-wheeled cart: its wheels turn as far as it goes."""

import numpy as np

from heron.stage.jointed.base import Floats, Going, Jointed
from heron.stage.skeleton import Joint
from heron.stage.turning import about

#: The wheels' radius, half the way between them, and how high the bed is, metres.
WHEEL_M, TRACK_M, _BED_M = 0.48, 0.62, 0.62
_JOINTS = (
    Joint("root", -1, (0.0, 0.0, 0.0)), Joint("bed", 0, (0.0, _BED_M, 0.0)), Joint("axle", 0, (0.0, WHEEL_M, 0.1)),
)  # fmt: skip


def _turns(going: Going, t: Floats) -> tuple[Floats, Floats]:
    """A wheel that rolls without slipping turns by the way gone over its radius; its top goes the way it faces."""
    out = np.tile([0.0, 0.0, 0.0, 1.0], (len(t), len(_JOINTS), 1))
    out[:, 2] = about("X", -np.degrees(going.gone(t) / WHEEL_M)).quat
    return out, np.zeros(len(t))


CART = Jointed(_JOINTS, _turns)
