"""How long the parts of a body are: those of the lay figure, or of a character with proportions of its own."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np

from heron.stage.skeleton import (
    ANKLE,
    BALL_FORWARD,
    FOOT,
    HIP,
    INDEX,
    JOINTS,
    LANDMARKS,
    OFFSETS,
)

Floats = np.ndarray[Any, np.dtype[np.float64]]


@dataclass(frozen=True, eq=False)
class Proportions:
    """A body in shares of its stature.

    Attributes:
        offsets: (J, 3) each joint in its parent's frame with arms and legs hanging; the pelvis is between the hip joints.
        landmarks: the joint each is fixed to, and (3,) its place in that joint's frame.
        ankle, hip: how high an ankle and the hips are over the sole of somebody who stands.
        foot: how long a foot is.
    """

    offsets: Floats
    landmarks: Mapping[str, tuple[str, tuple[float, float, float]]]
    ankle: float
    hip: float
    foot: float

    @cached_property
    def rest(self) -> Floats:
        """(J, 3) each joint with all at rest, from the floor under the root."""
        places = np.zeros((len(JOINTS), 3))
        for i, joint in enumerate(JOINTS):
            if joint.parent >= 0:
                places[i] = places[joint.parent] + self.offsets[i]
        return places


LAY_FIGURE = Proportions(OFFSETS, LANDMARKS, ANKLE, HIP, FOOT)


@dataclass(frozen=True, eq=False)
class Physique:
    """Somebody's own lengths, metres."""

    tall: float
    shares: Proportions = LAY_FIGURE

    @cached_property
    def offsets(self) -> Floats:
        """(J, 3) each joint in its parent's frame."""
        return self.shares.offsets * self.tall

    @property
    def ankle(self) -> float:
        """How high an ankle is over the sole."""
        return self.shares.ankle * self.tall

    @property
    def hip(self) -> float:
        """How high the hips are, standing."""
        return self.shares.hip * self.tall

    @property
    def leg(self) -> float:
        """From the hips to the ankles, standing."""
        return (self.shares.hip - self.shares.ankle) * self.tall

    def drop(self, joint: str) -> float:
        """How far below the joint it hangs on another hangs."""
        return float(-self.shares.offsets[INDEX[joint], 1] * self.tall)

    def bones(self, *joints: str) -> float:
        """How long the bones to some joints are together."""
        return sum(self.drop(joint) for joint in joints)

    @property
    def foot_share(self) -> float:
        """How long its feet are beside the lay figure's."""
        return self.shares.foot / FOOT

    @cached_property
    def shoulders_off(self) -> Floats:
        """(3,) metres: how far the middle between the shoulders is, in the chest's frame, from where the lay figure has it."""
        joints = [INDEX[f"{joint}_{side}"] for joint in ("clavicle", "shoulder") for side in "rl"]
        return np.asarray((self.shares.offsets - OFFSETS)[joints].sum(axis=0) / 2 * self.tall)

    def landmark(self, name: str) -> tuple[int, Floats]:
        """The joint that a landmark is fixed to, and (3,) its place in that joint's frame."""
        joint, place = self.shares.landmarks[name]
        return INDEX[joint], np.array(place) * self.tall


#: How far ahead of its ankle the ball of a foot is, for a foot's length.
BALL_OF_FOOT = BALL_FORWARD / FOOT
