"""The joint tree of a figure, in shares of its stature.

Heights: Drillis and Contini (1966) as printed in biomechanics handbooks, recalled from
memory: ankle 0.039, knee 0.285, hip 0.530, shoulder 0.818, chin 0.870, eye 0.936; upper
arm 0.186, forearm 0.146, hand 0.108, foot 0.152 long. The figure faces −Z, its right side is
at +X, its arms hang.
"""

from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True)
class Joint:
    """A joint, its parent, and its place in the parent's frame in shares of stature."""

    name: str
    parent: int
    offset: tuple[float, float, float]


#: Half the width between the hip joints, and between the feet of someone standing.
HIP_HALF, FOOT_HALF = 0.052, 0.056
ANKLE, KNEE, HIP, SHOULDER, CHIN, EYE = 0.039, 0.285, 0.530, 0.818, 0.870, 0.936
UPPER_ARM, FOREARM, HAND, FOOT = 0.186, 0.146, 0.108, 0.152
BALL_UP, BALL_FORWARD = 0.010, 0.088
#: Half the distance between the pupils: 63 mm of 1.70 m.
EYE_HALF = 0.0185
_SPINE, _CHEST, _NECK, _HEAD = 0.600, 0.700, 0.830, 0.880


def _tree() -> tuple[Joint, ...]:
    joints = [
        Joint("root", -1, (0, 0, 0)),
        Joint("pelvis", 0, (0, HIP, 0)),
        Joint("spine", 1, (0, _SPINE - HIP, 0)),
        Joint("chest", 2, (0, _CHEST - _SPINE, 0)),
        Joint("neck", 3, (0, _NECK - _CHEST, 0.008)),
        Joint("head", 4, (0, _HEAD - _NECK, -0.006)),
    ]
    for side, sign in (("r", 1), ("l", -1)):
        at = len(joints)
        joints += [
            Joint(f"clavicle_{side}", 3, (sign * 0.020, 0.805 - _CHEST, 0)),
            Joint(f"shoulder_{side}", at, (sign * 0.092, SHOULDER - 0.805, 0)),
            Joint(f"elbow_{side}", at + 1, (0, -UPPER_ARM, 0)),
            Joint(f"wrist_{side}", at + 2, (0, -FOREARM, 0)),
            Joint(f"knuckle_{side}", at + 3, (0, -HAND / 2, 0)),
        ]
    for side, sign in (("r", 1), ("l", -1)):
        at = len(joints)
        joints += [
            Joint(f"hip_{side}", 1, (sign * HIP_HALF, 0, 0)),
            Joint(f"knee_{side}", at, (0, KNEE - HIP, 0)),
            Joint(f"ankle_{side}", at + 1, (0, ANKLE - KNEE, 0)),
            Joint(f"ball_{side}", at + 2, (0, BALL_UP - ANKLE, -BALL_FORWARD)),
        ]
    for side, sign in (("r", 1), ("l", -1)):
        joints.append(Joint(f"eye_{side}", 5, (sign * EYE_HALF, EYE - _HEAD, -0.0445)))
    return tuple(joints)


JOINTS = _tree()
INDEX = {joint.name: i for i, joint in enumerate(JOINTS)}
#: (J, 3) float64, each joint in its parent's frame, shares of stature.
OFFSETS = np.array([joint.offset for joint in JOINTS])


def _rest() -> np.ndarray[tuple[int, int], np.dtype[np.float64]]:
    places = np.zeros((len(JOINTS), 3))
    for i, joint in enumerate(JOINTS):
        if joint.parent >= 0:
            places[i] = places[joint.parent] + OFFSETS[i]
    return places


#: (J, 3) float64, each joint with all at rest, from the floor under the root, shares of stature.
REST = _rest()
#: Points of the body used by framing: joint, and place in its frame in shares of stature.
LANDMARKS: dict[str, tuple[str, tuple[float, float, float]]] = {
    "crown": ("head", (0.0, 1.0 - _HEAD, 0.0)),
    "eyes": ("head", (0.0, EYE - _HEAD, -0.048)),
    "chin": ("head", (0.0, CHIN - _HEAD, -0.050)),
    "fingertips_r": ("wrist_r", (0.0, -HAND, 0.0)),
    "fingertips_l": ("wrist_l", (0.0, -HAND, 0.0)),
    "sole_r": ("ankle_r", (0.0, -ANKLE, 0.0)),
    "sole_l": ("ankle_l", (0.0, -ANKLE, 0.0)),
}
