"""Poses made by hand, laid over what a body does otherwise."""

from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from heron.curves import evaluate
from heron.stage.acts.pose import Pose
from heron.stage.body.feet import Foot
from heron.stage.body.weights import lane_weights
from heron.stage.figure import Figure
from heron.stage.turning import Turns

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: How a bend of the trunk is shared by its joints, and a turn of the head.
TRUNK_SHARES, _HEAD = {"spine": 0.55, "chest": 0.45}, {"neck": 0.4, "head": 0.6}


@dataclass(frozen=True)
class Posed:
    """How far each number of a pose has come over frames, (n,) each."""

    numbers: dict[str, Floats]

    def vector(self, part: str) -> Floats:
        """(n, 3) metres: to the right, up, and behind (a body faces −Z), in the root's frame."""
        across, up, ahead = (self.numbers[f"{part}_{way}"] for way in ("across", "up", "ahead"))
        return np.stack([across, up, -ahead], axis=-1)

    def turns(self) -> dict[str, Floats]:
        """(n, 3) degrees added to joints: pitch, yaw and roll."""
        get = self.numbers
        trunk = np.stack([-get["bend"], get["twist"], -get["side_bend"]], axis=-1)
        head = np.stack([get["head_raise"], get["head_turn"], get["head_tilt"]], axis=-1)
        return {n: s * trunk for n, s in TRUNK_SHARES.items()} | {n: s * head for n, s in _HEAD.items()}

    def moved(self, foot: Foot, side: str, facing: Turns) -> Foot:
        """A foot moved by its pose."""
        by = self.vector("right_foot" if side == "r" else "left_foot")
        return replace(foot, ankle=foot.ankle + facing.apply(by)) if by.any() else foot


def posed(figure: Figure, t: Floats, fps: float) -> Posed | None:
    """What the poses of a figure come to over frames (n,), laid over each other in order; None without any."""
    acts = [(act, w) for act, w in lane_weights(figure.acts, "pose", t, fps) if isinstance(act, Pose)]
    if not acts:
        return None
    numbers = {spec.name: np.zeros(len(t)) for spec in Pose.CHANNELS}
    for act, w in acts:
        for name, values in numbers.items():
            values += w * (evaluate(getattr(act, name), t) - values)
    return Posed(numbers)
