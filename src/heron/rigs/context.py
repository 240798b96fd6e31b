"""What a rig is run in."""

from collections.abc import Callable
from dataclasses import dataclass

from heron.rigs.track import Track
from heron.stage.reference import Spot
from heron.timebase import Frames


@dataclass(frozen=True)
class RigContext:
    """What a rig is run in.

    Attributes:
        gate_mm: the delivery frame on the film back, width (with the squeeze) and height.
        lens_mm: shortest and longest focal length that can be had.
        track: where something is over the scene's frames.
    """

    frames: Frames
    fps: float
    gate_mm: tuple[float, float]
    lens_mm: tuple[float, float]
    track: Callable[[Spot], Track]
    stature: Callable[[str], float]
