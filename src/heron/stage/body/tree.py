"""Rotations carried down the joints."""

from copy import copy
from typing import Any

import numpy as np

from heron.stage.skeleton import INDEX, JOINTS, OFFSETS
from heron.stage.turning import Turns, by_component

Floats = np.ndarray[Any, np.dtype[np.float64]]
LEGS = [INDEX[f"{j}_{side}"] for side in "rl" for j in ("hip", "knee", "ankle", "ball")]
ARMS = [INDEX[f"{j}_{side}"] for side in "rl" for j in ("shoulder", "elbow", "wrist", "knuckle")]
TRUNK = [i for i in range(len(JOINTS)) if i not in {*LEGS, *ARMS}]


class Tree:
    """Rotations carried down the joints: `places` (n, J, 3) metres and `poses` (n, J, 4) on the stage."""

    def __init__(self, local: Floats, root: Floats, lift: Floats, tall: float) -> None:
        self.local = local
        n, joints = local.shape[:2]
        self.places, self.poses = by_component(3, n, joints), by_component(4, n, joints)
        self._root, self.lift, self.offsets, self.tall = root, lift, OFFSETS * tall, tall

    def part(self, rows: slice) -> "Tree":
        """It over some of its frames: what is changed there is changed here."""
        part = copy(self)
        part.local, part.places, part.poses = self.local[rows], self.places[rows], self.poses[rows]
        part._root, part.lift = self._root[rows], self.lift[rows]
        return part

    def carry(self, joints: list[int]) -> None:
        """Carry some joints, each after the one it hangs on."""
        for i in joints:
            above = JOINTS[i].parent
            if above < 0:
                self.places[:, i], self.poses[:, i] = self._root, self.local[:, i]
                continue
            turn = Turns(self.poses[:, above])
            offset = self.lift if i == INDEX["pelvis"] else self.offsets[i]
            self.places[:, i] = self.places[:, above] + turn.apply(offset)
            self.poses[:, i] = (turn * Turns(self.local[:, i])).quat
