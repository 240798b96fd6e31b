"""A shape with joints, and what it goes by."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np

from heron.stage.skeleton import Joint
from heron.stage.turning import Turns

Floats = np.ndarray[Any, np.dtype[np.float64]]


@dataclass(frozen=True)
class Going:
    """How a thing goes, by moments in frames, (n,).

    Attributes:
        name: its id, for what differs from one to the next.
        where: (n, 3) metres on the stage.
        gone: (n,) metres that it has gone the way it faces since the scene began; less when it goes backwards.
        fps: frames a second.
    """

    name: str
    where: Callable[[Floats], Floats]
    gone: Callable[[Floats], Floats]
    fps: float

    def speed(self, t: Floats) -> Floats:
        """(n,) metres a second the way it faces, over about a third of a second."""
        half = 0.16 * self.fps
        return np.asarray((self.gone(t + half) - self.gone(t - half)) / (2 * half) * self.fps)


@dataclass(frozen=True)
class Jointed:
    """A shape with joints.

    Attributes:
        joints: the first is its root; the second may come down by what it sinks.
        turns: (n, J, 4) each joint's rotation in its parent's frame, x y z w, and (n,) metres that it sinks.
        looks_at: the joint that is meant by the thing itself, and a place in its frame, metres; none, its middle.
    """

    joints: tuple[Joint, ...]
    turns: Callable[[Going, Floats], tuple[Floats, Floats]]
    looks_at: tuple[str, tuple[float, float, float]] | None = None

    @property
    def offsets(self) -> Floats:
        """(J, 3) metres, each joint in its parent's frame."""
        return np.array([joint.offset for joint in self.joints], dtype=np.float64)

    @property
    def rest(self) -> Floats:
        """(J, 3) metres, each joint unturned, from the ground under it."""
        return places_of(self.joints)

    def place(self, joint: str, at: tuple[float, float, float], turns: Floats, sink: Floats) -> Floats:
        """(n, 3) metres in its own frame: a place on a joint, with joints turned (n, J, 4) and the body sunk by (n,)."""
        i = next(k for k, one in enumerate(self.joints) if one.name == joint)
        out = np.tile(np.array(at, dtype=np.float64), (len(turns), 1))
        while i >= 0:
            if self.joints[i].parent < 0:
                return out
            out = Turns(turns[:, i]).apply(out) + self.offsets[i]
            if i == 1:
                out[:, 1] -= sink
            i = self.joints[i].parent
        return out


def places_of(joints: tuple[Joint, ...]) -> Floats:
    """(J, 3) metres: joints unturned."""
    places = np.zeros((len(joints), 3))
    for i, joint in enumerate(joints):
        if joint.parent >= 0:
            places[i] = places[joint.parent] + np.array(joint.offset)
    return places
