"""What a run of a camera's keys and layers came to."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from heron.rigs.place import Placed
from heron.rigs.pose import Floats, Pose
from heron.scene.layers import Layer
from heron.timebase import Frames

#: A layer of less weight than this does not count as acting.
LEAST_WEIGHT = 0.02


@dataclass(frozen=True)
class Step:
    """What a layer did: over which frames, from what, to what, and how far that counts."""

    layer: Layer
    frames: slice
    below: Pose
    pose: Pose
    weight: Floats
    placed: Placed | None = None


@dataclass(frozen=True)
class Watched:
    """An exact placement: where, (n,) bool, the place on the stage, (n, 3), and where in the frame it is put."""

    exact: np.ndarray[Any, np.dtype[np.bool_]]
    point: Floats
    x: Floats
    y: Floats


@dataclass
class Rigged:
    """A camera over the scene's frames.

    Attributes:
        pose: as it is seen, breath and all.
        steady: before breath.
        levelled: before any direction layer.
        focal: (n,) mm.
        half: tangents of half the field of view, (n,) across and (n,) up.
        subject: (n, 3) metres on the stage: what the acting aim watches; zero where none acts.
        watches: (n,) bool: whether an aim acts.
        sun: (n,) degrees by which the sun has gone round with it, to the left.
        steps: by layer id, in the order in which they ran.
        notes: (frame, text) for what could not be done.
    """

    pose: Pose
    steady: Pose
    levelled: Pose
    focal: Floats
    half: tuple[Floats, Floats]
    subject: Floats
    watches: np.ndarray[Any, np.dtype[np.bool_]]
    sun: Floats
    steps: dict[str, Step]
    watched: list[Watched]
    notes: list[tuple[int, str]]


def acting(layer: Layer, frames: Frames) -> slice | None:
    """The frames of the scene on which a layer acts; None when there are none."""
    first = frames.first if layer.first is None else max(layer.first, frames.first)
    last = frames.last if layer.last is None else min(layer.last, frames.last)
    return None if layer.off or last < first else slice(first - frames.first, last - frames.first + 1)
