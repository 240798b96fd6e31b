"""A trunk that bends and turns towards what a palm reaches for, as far as the arm alone does not."""

from typing import Any

import numpy as np

from heron.stage.body.arms import ARM, ArmGoal, PalmOn
from heron.stage.body.tree import TRUNK, Tree
from heron.stage.skeleton import INDEX, JOINTS
from heron.stage.turning import Turns, about, dotted, pan_tilt_roll

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: How far a trunk bends for a reach, and turns, degrees.
FARTHEST_LEAN, FARTHEST_TURN = 70.0, 35.0
#: From the hips to the shoulders, shares of stature.
_BACK = 0.288
_SHARES = {"pelvis": 0.35, "spine": 0.40, "chest": 0.25}
_ROUNDS, _MOST_GAIN = 8, 4.0
_TO_SHOULDERS = [INDEX[name] for name in ("pelvis", "spine", "chest", "clavicle_r", "clavicle_l")]
#: An arm gives its last bit only after the trunk has begun to help.
_FAR_ARM = 0.96
#: Hips go back so far, statures, for the weight to stay over the feet; what is above or beside stays upright.
_HIPS_BACK = 0.13
_UPRIGHT = {"neck": 0.35, "head": 0.25, "shoulder_r": 0.8, "shoulder_l": 0.8}


def lean_to_reach(tree: Tree, goals: list[ArmGoal]) -> None:
    """Lean and turn the trunk towards places on the stage that palms are to reach; it is carried down again."""
    for goal in goals:
        if isinstance(goal, PalmOn) and not goal.within and goal.weight.any():
            there = np.flatnonzero((goal.weight > 0) | (goal.come > 0))
            part = slice(int(there[0]), int(there[-1]) + 1)
            _lean(tree.part(part), goal.part(part))


def _lean(tree: Tree, goal: PalmOn) -> None:
    names = [INDEX[name] for name in _SHARES]
    rest, stood = [tree.local[:, i].copy() for i in names], tree.lift.copy()
    lean, turn = np.zeros(len(goal.come)), np.zeros(len(goal.come))
    sign = 1.0 if goal.side == "r" else -1.0
    root = INDEX["root"]
    own = Turns(tree.poses[:, root]).inv().apply(goal.target - tree.places[:, root])
    yaw = np.degrees(np.arctan2(-own[:, 0], -own[:, 2]))

    def bend(share: Floats) -> None:
        for i, own_rest, part in zip(names, rest, _SHARES.values(), strict=True):
            round_ = part * turn * share * (i != names[0])
            tree.local[:, i] = (
                Turns(own_rest) * pan_tilt_roll(round_, -part * lean * share, 0.0 * lean)
            ).quat
        back = _HIPS_BACK * tree.tall * np.sin(np.radians(lean)) * share
        tree.lift[:, 2] = stood[:, 2] + back
        # On legs that lean back they are lower.
        tree.lift[:, 1] = stood[:, 1] - back * back / (1.9 * tree.physique.hip)
        # On the way only the shoulders are asked for.
        tree.carry(_TO_SHOULDERS)

    def short(side: str, target: Floats) -> Floats:
        """(n,) metres that an arm is too short."""
        shoulder = INDEX[f"shoulder_{side}"]
        above = JOINTS[shoulder].parent
        place = tree.places[:, above] + Turns(tree.poses[:, above]).apply(tree.offsets[shoulder])
        line = target - place
        return np.maximum(
            np.sqrt(dotted(line, line)) - _FAR_ARM * tree.physique.bones(*(f"{one}_{side}" for one in ARM)),
            0.0,
        )

    was, gain = np.full(len(lean), np.inf), np.ones(len(lean))
    for _ in range(_ROUNDS):
        over = short(goal.side, goal.target)
        if goal.beside is not None:
            over = np.maximum(over, short("l" if goal.side == "r" else "r", goal.target + goal.beside))
        # Bent as far as it goes, more rounds bring it no nearer.
        if over[lean < FARTHEST_LEAN].max(initial=0.0) < 1e-4:
            break
        # Where the last bend brought only part of what it was to bring, this one goes as much farther.
        gain = np.clip(gain / np.maximum(1 - over / was, 1 / _MOST_GAIN), 1.0, _MOST_GAIN)
        was = np.maximum(over, 1e-9)
        lean = np.minimum(lean + gain * np.degrees(np.arctan(over / (_BACK * tree.tall))), FARTHEST_LEAN)
        # One arm comes farther with its shoulder turned ahead; with both it stays square.
        ahead = 0.0 if goal.beside is not None else sign * 0.5 * np.minimum(lean, 40.0)
        turn = np.clip(0.35 * yaw + ahead, -FARTHEST_TURN, FARTHEST_TURN)
        bend(np.ones(len(lean)))
    # It is solved for a palm that is all the way there; on its way the trunk comes with it.
    bend(goal.come)
    for name, share in _UPRIGHT.items():
        i = INDEX[name]
        tree.local[:, i] = (Turns(tree.local[:, i]) * about("X", share * lean * goal.come)).quat
    tree.carry(TRUNK)
