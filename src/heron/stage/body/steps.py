"""Where and when feet are set down."""

from dataclasses import dataclass, field
from typing import Any

import numpy as np

from heron.stage.skeleton import FOOT_HALF

TOE_OUT = 7.0
#: A foot that leaves late is in the air for at least this share of the time it was to be.
_HURRIES = 0.6


@dataclass
class Steps:
    """Where one foot is set down in turn: it leaves at `lift` and is down from `land` (frames).

    (k,) float64 each: frames, metres, and yaw in degrees, unwrapped.
    """

    lift: list[float] = field(default_factory=list)
    land: list[float] = field(default_factory=list)
    x: list[float] = field(default_factory=list)
    z: list[float] = field(default_factory=list)
    yaw: list[float] = field(default_factory=list)
    #: How much of a run the swing before it is, 0 to 1.
    run: list[float] = field(default_factory=list)

    def add(self, lift: float, land: float, place: tuple[float, float], yaw: float, run: float = 0.0) -> None:
        """One more; it leaves no earlier than it came down, and then hurries no more than it must."""
        if self.land and lift < self.land[-1]:
            land = max(land, self.land[-1] + _HURRIES * (land - lift))
            lift = self.land[-1]
        self.lift.append(lift)
        self.land.append(max(land, lift + 1e-3))
        self.x.append(place[0])
        self.z.append(place[1])
        self.yaw.append(yaw)
        self.run.append(run)

    def forget(self, frame: float) -> None:
        """Leave out the steps that have not begun at a frame; where it stood first stays."""
        while len(self.lift) > 1 and self.lift[-1] >= frame:
            for values in (self.lift, self.land, self.x, self.z, self.yaw, self.run):
                values.pop()


def beside(side: str, x: Any, z: Any, heading: Any, stature: float) -> tuple[Any, Any]:
    """The place of a foot beside a root."""
    reach = (1 if side == "r" else -1) * FOOT_HALF * stature
    turn = np.radians(heading)
    return x + reach * np.cos(turn), z - reach * np.sin(turn)


def toed(side: str, heading: Any) -> Any:
    """The yaw of a foot beside a root: toes a little out."""
    return heading + (-TOE_OUT if side == "r" else TOE_OUT)
