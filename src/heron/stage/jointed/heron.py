"""A heron as a shape with joints."""

from heron.stage.bird import BIRD, bird_at
from heron.stage.jointed.base import Floats, Going, Jointed


def _turns(going: Going, t: Floats) -> tuple[Floats, Floats]:
    return bird_at(going.name, going.where, t, going.fps)


HERON = Jointed(BIRD, _turns, looks_at=("head", (0.0, 0.03, -0.05)))
