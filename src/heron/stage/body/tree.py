"""Rotations carried down the joints."""

from copy import copy
from functools import cache
from typing import Any

import numpy as np

from heron.stage.physique import Physique
from heron.stage.skeleton import INDEX, JOINTS
from heron.stage.turning import Turns, by_component

Floats = np.ndarray[Any, np.dtype[np.float64]]
LEGS = [INDEX[f"{j}_{side}"] for side in "rl" for j in ("hip", "knee", "ankle", "ball")]
ARMS = [INDEX[f"{j}_{side}"] for side in "rl" for j in ("shoulder", "elbow", "wrist", "knuckle")]
TRUNK = [i for i in range(len(JOINTS)) if i not in {*LEGS, *ARMS}]


class Tree:
    """Rotations carried down the joints: `places` (n, J, 3) metres and `poses` (n, J, 4) on the stage."""

    def __init__(self, local: Floats, root: Floats, lift: Floats, physique: Physique) -> None:
        self.local = local
        n, joints = local.shape[:2]
        self.places, self.poses = by_component(3, n, joints), by_component(4, n, joints)
        self._root, self.lift, self.physique = root, lift, physique
        self.offsets, self.tall = physique.offsets, physique.tall

    def part(self, rows: slice) -> "Tree":
        """It over some of its frames: what is changed there is changed here."""
        part = copy(self)
        part.local, part.places, part.poses = self.local[rows], self.places[rows], self.poses[rows]
        part._root, part.lift = self._root[rows], self.lift[rows]
        return part

    def carry(self, joints: list[int]) -> None:
        """Carry some joints, each after the one it hangs on."""
        for at, above, names in _steps(tuple(joints)):
            if above is None:
                self.places[:, at], self.poses[:, at] = self._root, self.local[:, at]
                continue
            turn = Turns(self.poses[:, above])
            offset = self.lift if names == (INDEX["pelvis"],) else self.offsets[list(names)]
            if isinstance(at, int):
                offset = offset if offset is self.lift else offset[0]
            self.places[:, at] = self.places[:, above] + turn.apply(offset)
            self.poses[:, at] = (turn * Turns(self.local[:, at])).quat


_Which = int | slice


@cache
def _steps(joints: tuple[int, ...]) -> tuple[tuple[_Which, _Which | None, tuple[int, ...]], ...]:
    """Joints to be carried in turn, where they are in arrays of joints, and what they hang on; a pair of the two sides at once."""
    steps: list[tuple[_Which, _Which | None, tuple[int, ...]]] = []
    done: set[int] = set()
    for i in joints:
        if i in done:
            continue
        other = INDEX.get(f"{JOINTS[i].name[:-2]}_l") if JOINTS[i].name.endswith("_r") else None
        one, two = JOINTS[i].parent, JOINTS[other].parent if other is not None else -1
        if other is not None and other in joints:
            done.add(other)
            above: _Which = slice(one, two + 1, two - one) if one != two else slice(one, one + 1)
            steps.append((slice(i, other + 1, other - i), above, (i, other)))
        else:
            steps.append((i, None if one < 0 else one, (i,)))
    return tuple(steps)
