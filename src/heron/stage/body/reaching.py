"""A trunk that bends and turns towards what a palm reaches for, as far as the arm alone does not."""

from typing import Any

import numpy as np

from heron.stage.body.arms import ARM, ArmGoal, PalmOn
from heron.stage.body.tree import TRUNK, Tree
from heron.stage.skeleton import INDEX, JOINTS
from heron.stage.turning import Turns, dotted, pan_tilt_roll

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: How far a trunk bends for a reach, and turns, degrees.
FARTHEST_LEAN, FARTHEST_TURN = 70.0, 35.0
#: From the hips to the shoulders, shares of stature.
_BACK = 0.288
_SHARES = {"pelvis": 0.35, "spine": 0.40, "chest": 0.25}
_ROUNDS = 6


def lean_to_reach(tree: Tree, goals: list[ArmGoal]) -> None:
    """Lean and turn the trunk towards places on the stage that palms are to reach; it is carried down again."""
    for goal in goals:
        if isinstance(goal, PalmOn) and not goal.within and goal.weight.any():
            _lean(tree, goal)


def _lean(tree: Tree, goal: PalmOn) -> None:
    names = [INDEX[name] for name in _SHARES]
    rest = [tree.local[:, i].copy() for i in names]
    lean, turn = np.zeros(len(goal.come)), np.zeros(len(goal.come))
    sign = 1.0 if goal.side == "r" else -1.0
    shoulder = INDEX[f"shoulder_{goal.side}"]
    for _ in range(_ROUNDS):
        above = JOINTS[shoulder].parent
        place = tree.places[:, above] + Turns(tree.poses[:, above]).apply(tree.offsets[shoulder])
        line = goal.target - place
        far = np.sqrt(dotted(line, line))
        over = goal.come * np.maximum(far - 0.985 * ARM * tree.tall, 0.0)
        if over.max() < 1e-4:
            break
        lean = np.minimum(lean + np.degrees(1.1 * np.arctan(over / (_BACK * tree.tall))), FARTHEST_LEAN)
        own = Turns(tree.poses[:, INDEX["root"]]).inv().apply(goal.target - tree.places[:, INDEX["root"]])
        yaw = np.degrees(np.arctan2(-own[:, 0], -own[:, 2]))
        turn = np.clip(0.35 * yaw + sign * 0.6 * lean, -FARTHEST_TURN, FARTHEST_TURN) * goal.come
        for i, own_rest, share in zip(names, rest, _SHARES.values(), strict=True):
            tree.local[:, i] = (
                Turns(own_rest) * pan_tilt_roll(share * turn * (i != names[0]), -share * lean, 0.0 * lean)
            ).quat
        tree.carry(TRUNK)
