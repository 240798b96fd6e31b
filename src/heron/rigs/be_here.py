"""From a pose on the stage back to the channels that give it."""

import numpy as np

from heron.curves import evaluate
from heron.scene.camera import Camera
from heron.stage.mover import Mover


def be_here(thing: Camera | Mover, frame: int, wanted: dict[str, float]) -> dict[str, tuple[float, float]]:
    """Which channels give some of a pose at a frame: (value now, value that gives it) by name.

    Only what is wanted comes back: nothing else is to change. With no layer between keys and stage the
    channels are the pose itself; a layer that acts at the frame is turned back through here.

    Args:
        wanted: stage terms, metres and degrees, by `POSE` name.
    """
    at = np.array([frame])
    return {name: (float(evaluate(thing.channel(name), at)[0]), value) for name, value in wanted.items()}
