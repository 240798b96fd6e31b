"""The joints of a heron about 1 m tall: lengths of a grey heron's parts, rounded, from memory.

Unturned, its body lies level and faces −Z, wings spread to the sides, legs hang, neck and head stand up.
"""

from typing import Any

import numpy as np

from heron.stage.skeleton import Joint

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: How high the body's joint is over the ground with straight legs, metres.
BODY_UP = 0.495
#: Upper and lower leg; segments of the neck; inner and outer wing, metres.
TIBIA, TARSUS, NECK = 0.225, 0.225, (0.14, 0.16, 0.14)
WING_IN, WING_OUT = 0.36, 0.50


def _bird() -> tuple[Joint, ...]:
    joints = [
        Joint("root", -1, (0, 0, 0)),
        Joint("body", 0, (0, BODY_UP, 0.03)),
        Joint("neck1", 1, (0, 0.03, -0.19)),
        Joint("neck2", 2, (0, NECK[0], 0)),
        Joint("neck3", 3, (0, NECK[1], 0)),
        Joint("head", 4, (0, NECK[2], 0)),
    ]
    for side, sign in (("r", 1), ("l", -1)):
        at = len(joints)
        joints += [
            Joint(f"wing_{side}", 1, (sign * 0.07, 0.055, -0.10)),
            Joint(f"tip_{side}", at, (sign * WING_IN, 0, 0)),
            Joint(f"leg_{side}", 1, (sign * 0.045, -0.045, 0.03)),
            Joint(f"shin_{side}", at + 2, (0, -TIBIA, 0)),
            Joint(f"toes_{side}", at + 3, (0, -TARSUS, 0)),
        ]
    return tuple(joints)


BIRD = _bird()
BIRD_INDEX = {joint.name: i for i, joint in enumerate(BIRD)}
#: (J, 3) float64 metres, each joint in its parent's frame.
BIRD_OFFSETS = np.array([joint.offset for joint in BIRD])


def _rest() -> Floats:
    places = np.zeros((len(BIRD), 3))
    for i, joint in enumerate(BIRD):
        if joint.parent >= 0:
            places[i] = places[joint.parent] + BIRD_OFFSETS[i]
    return places


#: (J, 3) float64 metres, each joint unturned, from the ground under it.
BIRD_REST = _rest()
