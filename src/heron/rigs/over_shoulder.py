"""Where a camera stands to see one person over another's shoulder, in closed form on the floor.

The angle between the two people, as the camera sees it, follows from where they are to sit in the frame: the camera
lies on the circle of equal angle over their line, and the far one's size says where on it.
"""

import math
from dataclasses import dataclass

from scipy.optimize import brentq

#: Where the far and the near person sit across the frame (half of it is 1), and how far away the near one is to be
#: and at least must be, metres: common practice.
FAR_X, NEAR_X, NEAR_M, LEAST_NEAR_M = 0.28, 0.62, 0.85, 0.65
#: Where the near one's shoulder sits in the frame, and how far above or below the eyes the camera may go for it, metres.
SHOULDER_Y, HIGHER_M = -0.75, 0.35


@dataclass(frozen=True)
class Stand:
    """A place for the camera: (x, z) metres on the floor, how far the near person is, and where each one sits.

    `far_x` is positive to the right of the frame; the near person sits on the other side.
    """

    x: float
    z: float
    near_m: float
    far_x: float


def stand(
    near: tuple[float, float],
    far: tuple[float, float],
    far_m: float,
    half: float,
    side: int,
    least_m: float = LEAST_NEAR_M,
) -> Stand | None:
    """The place, or None when the two are too near or too far from each other for that size.

    Args:
        near, far: (x, z) metres: the heads of whom it is over, and of whom it is of.
        far_m: how far the camera is from the far one, metres along the floor.
        half: tangent of half the field of view across.
        side: 1 to the right of the line from near to far as seen from above with that line pointing up, −1 to its left.
        least_m: how near the near one may be.
    """
    apart = math.hypot(far[0] - near[0], far[1] - near[1])
    angle = math.atan(FAR_X * half) + math.atan(NEAR_X * half)
    root = apart**2 - (far_m * math.sin(angle)) ** 2
    if apart < 1e-3 or root < 0:
        return None
    near_m = far_m * math.cos(angle) - math.sqrt(root)
    if near_m < least_m:
        return None
    # The angle at the far person between the near one and the camera.
    cosine = (far_m**2 + apart**2 - near_m**2) / (2 * far_m * apart)
    at_far = -math.acos(min(max(cosine, -1.0), 1.0)) * side
    dx, dz = (near[0] - far[0]) / apart, (near[1] - far[1]) / apart
    cos, sin = math.cos(at_far), math.sin(at_far)
    x, z = far[0] + far_m * (dx * cos - dz * sin), far[1] + far_m * (dx * sin + dz * cos)
    # Which of the two is to the right as the camera sees them: +X is right of a look along −Z.
    right = (far[0] - x) * (near[1] - z) - (far[1] - z) * (near[0] - x)
    return Stand(x, z, near_m, FAR_X if right < 0 else -FAR_X)


def height(
    far_m: float,
    near_m: float,
    far_eyes: float,
    near_eyes: float,
    shoulder: float,
    half: float,
    eyes_at: float,
) -> float:
    """How high the camera stands, metres, so that the near shoulder is in the frame while the far eyes are where they are put.

    Args:
        far_m, near_m: along the floor, metres.
        far_eyes, near_eyes, shoulder: heights, metres.
        half: tangent of half the field of view upwards.
        eyes_at: where the far eyes are put, −1 to 1.
    """

    def shoulder_at(high: float) -> float:
        tilt = math.atan2(far_eyes - high, far_m) - math.atan(eyes_at * half)
        return math.tan(math.atan2(shoulder - high, near_m) - tilt) / half

    low, top = near_eyes - HIGHER_M, near_eyes + HIGHER_M
    off = [shoulder_at(high) - SHOULDER_Y for high in (low, top)]
    if off[0] * off[1] >= 0:
        # Out of reach: as near as it comes.
        return low if abs(off[0]) < abs(off[1]) else top
    return float(brentq(lambda high: shoulder_at(high) - SHOULDER_Y, low, top, xtol=1e-9))
