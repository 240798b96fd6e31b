"""A motion from elsewhere and a figure that does the same, side by side on the spot: to see whether its joints are the right ones."""

from dataclasses import asdict, dataclass
from typing import Any

import numpy as np

from heron.formats.bringing.found import Floats
from heron.stage.motions.recording import LEG, Recording
from heron.stage.skeleton import ANKLE, JOINTS

#: How tall the figure is, metres; and at most how many frames are shown.
TALL_M, MOST = 1.7, 48


@dataclass(frozen=True)
class SideBySide:
    """Frames of a motion, metres, facing −Z, feet on the floor.

    Attributes:
        seconds: (f,) when each is.
        parents: of the file's joints; bones: (f, j, 3) where those are.
        joints: the figure's joints; turns: (f, J, 4) in their parents' frames; pelvis: (f, 3) where its pelvis is.
    """

    seconds: list[float]
    parents: list[int]
    bones: list[list[list[float]]]
    joints: list[str]
    turns: list[list[list[float]]]
    pelvis: list[list[float]]

    def told(self) -> dict[str, Any]:
        """As it is sent."""
        return asdict(self)


def side_by_side(recording: Recording, parents: list[int], bones: Floats) -> SideBySide:
    """Some frames of a recording, evenly spread, beside (n, j, 3) where the file has its joints, in legs."""
    n = len(recording.heading)
    rows = np.unique(np.linspace(0, n - 1, min(n, MOST)).round().astype(int))
    leg = LEG * TALL_M
    over = np.array([0.0, ANKLE * TALL_M, 0.0])
    return SideBySide(
        (rows / recording.rate).round(3).tolist(),
        parents,
        (bones[rows] * leg + over).round(3).tolist(),
        [joint.name for joint in JOINTS],
        recording.turns[rows].round(4).tolist(),
        (recording.pelvis[rows] * leg + over).round(3).tolist(),
    )
