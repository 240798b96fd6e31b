"""Arms that go somewhere: straight at what is pointed at, or with the palm on a place."""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from heron.stage.acts.base import shaped
from heron.stage.body.tree import Tree
from heron.stage.skeleton import HAND, INDEX, JOINTS
from heron.stage.turning import Turns, crossed, dotted, shortest, slerp, unit

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: The palm is at the knuckles, so far beyond the wrist, shares of stature.
PALM = HAND / 2
#: The joints whose bones bring a palm from its shoulder.
ARM = ("elbow", "wrist", "knuckle")
#: An elbow is never quite straight, so that it never snaps.
_STRAIGHTEST = 0.998
#: On its way a hand goes up and out a little, shares of the way (common practice).
_ARCH_UP, _ARCH_OUT = 0.06, 0.05


@dataclass(frozen=True)
class Pointing:
    """An arm that points: which, where to (n, 3) metres, and how far it is raised, (n,) 0 to 1."""

    side: str
    target: Floats
    weight: Floats

    def part(self, frames: slice) -> "Pointing":
        """It over some of its frames."""
        return replace(self, target=self.target[frames], weight=self.weight[frames])

    def apply(self, tree: Tree) -> None:
        """Raise the arm straight at its target, as far as its weight says; the hand follows."""
        if not self.weight.any():
            return
        shoulder = INDEX[f"shoulder_{self.side}"]
        above, place = _shoulder(tree, self.side)
        way = self.target - place
        way /= np.maximum(np.sqrt(dotted(way, way)), 1e-9)[:, None]
        chest = Turns(tree.poses[:, INDEX["chest"]])
        # By the shortest way from where it hangs, so that it never turns about itself, whichever way it points.
        aimed = above.inv() * (shortest(chest.apply([0.0, -1.0, 0.0]), way) * chest)
        w = self.weight[:, None]
        tree.local[:, shoulder] = slerp(tree.local[:, shoulder], aimed.quat, self.weight)
        for joint in ("elbow", "wrist", "knuckle"):
            i = INDEX[f"{joint}_{self.side}"]
            straight = tree.local[:, i] * (1 - w)
            straight[:, 3] += w[:, 0]
            tree.local[:, i] = straight / np.linalg.norm(straight, axis=-1, keepdims=True)


@dataclass(frozen=True)
class PalmOn:
    """A palm that goes to a place and stays on it: which hand, the place (n, 3) metres on the stage or in the frame of a
    joint, how far it has come, and how much of the arm is under it, (n,) 0 to 1.
    """

    side: str
    target: Floats
    come: Floats
    weight: Floats
    #: The joint whose frame the place is in; none, the stage; `by`, it is so far from where the palm is otherwise;
    #: `other`, so far from the other palm.
    within: str = ""
    #: Where the elbow points beside down, in the chest's frame: outwards and back.
    out: float = 0.45
    back: float = 0.15
    #: (n, 3) metres on the stage: how far from it the other palm goes, where both do.
    beside: Floats | None = None

    def part(self, frames: slice) -> "PalmOn":
        """It over some of its frames."""
        beside = None if self.beside is None else self.beside[frames]
        cut = {name: getattr(self, name)[frames] for name in ("target", "come", "weight")}
        return replace(self, **cut, beside=beside)

    def place(self, tree: Tree) -> Floats:
        """(n, 3) metres on the stage: where the palm is to be in the end."""
        if not self.within:
            return self.target
        if self.within == "other":
            other = "l" if self.side == "r" else "r"
            tree.carry([INDEX[f"{joint}_{other}"] for joint in ("shoulder", "elbow", "wrist", "knuckle")])
            return np.asarray(tree.places[:, INDEX[f"knuckle_{other}"]] + self.target)
        if self.within == "by":
            return np.asarray(tree.places[:, INDEX[f"knuckle_{self.side}"]] + self.target)
        i = INDEX[self.within]
        return np.asarray(tree.places[:, i] + Turns(tree.poses[:, i]).apply(self.target))

    def apply(self, tree: Tree) -> None:
        """Bend shoulder and elbow so that the palm is there; the hand stays straight."""
        if not self.weight.any():
            return
        names = [f"{joint}_{self.side}" for joint in ("shoulder", "elbow", "wrist", "knuckle")]
        at = [INDEX[name] for name in names]
        tree.carry(at)
        above, shoulder = _shoulder(tree, self.side)
        hangs = unit(tree.places[:, at[1]] - shoulder)
        chest = Turns(tree.poses[:, INDEX["chest"]])
        sign = 1.0 if self.side == "r" else -1.0
        began, to = tree.places[:, at[3]], self.place(tree)
        way = to - began
        far = np.sqrt(dotted(way, way))
        arch = np.sin(np.pi * self.come) * far
        outward = chest.apply([sign * _ARCH_OUT, _ARCH_UP, 0.0])
        palm = began + self.come[:, None] * way + arch[:, None] * outward
        line = palm - shoulder
        length = np.sqrt(dotted(line, line))
        body = tree.physique
        a, b = body.drop(names[1]), body.bones(*names[2:])
        reach = np.clip(length, abs(a - b) + 1e-4, (a + b) * _STRAIGHTEST)
        along = line / np.maximum(length, 1e-9)[:, None]
        # The elbow goes from where it is to where it is to be as the hand does.
        pole = unit(chest.apply([sign * self.out, -1.0, self.back]))
        pole = hangs + self.come[:, None] * (pole - hangs)
        pole = pole - dotted(pole, along)[:, None] * along
        pole = unit(pole + 1e-9 * chest.apply([0.0, 0.0, 1.0]))
        cos = np.clip((a * a + reach * reach - b * b) / (2 * a * reach), -1.0, 1.0)
        elbow = a * (cos[:, None] * along + np.sqrt(1 - cos * cos)[:, None] * pole)
        hinge = unit(crossed(pole, along))
        upper = _bone(-elbow, hinge)
        fore = _bone(elbow - reach[:, None] * along, hinge)
        still = np.broadcast_to(np.array([0.0, 0.0, 0.0, 1.0]), fore.quat.shape)
        turns = ((above.inv() * upper).quat, (upper.inv() * fore).quat, still, still)
        for i, turn in zip(at[:3], turns, strict=False):
            tree.local[:, i] = slerp(tree.local[:, i], turn, self.weight)


ArmGoal = Pointing | PalmOn


def put_arms(tree: Tree, goals: Iterable[ArmGoal]) -> None:
    """Put arms where their goals want them, one after the other, on the frames on which each counts."""
    for goal in goals:
        there = np.flatnonzero(goal.weight > 0)
        if len(there):
            part = slice(int(there[0]), int(there[-1]) + 1)
            goal.part(part).apply(tree.part(part))


def coming(s: Floats, takes: float, total: float, fps: float, *, stays: bool) -> tuple[Floats, Floats]:
    """How far a palm has come, and how much of the arm is under it, (n,) each, so many seconds into an act.

    It sets off, gets there within so many seconds, stays, and goes back before the act ends.
    """
    fit = min(1.0, total / max(2 * takes, 1e-6))
    takes *= fit
    come = shaped(s / takes, "soft")
    weight = shaped((s + 1 / fps) / min(0.25, takes), "soft")
    if not stays:
        come = come * shaped((total - s) / takes, "soft")
        weight = weight * shaped((total - s) / min(0.25, takes), "soft")
    return come, weight


def _shoulder(tree: Tree, side: str) -> tuple[Turns, Floats]:
    """The turn above a shoulder, and its place (n, 3) metres."""
    i = INDEX[f"shoulder_{side}"]
    parent = JOINTS[i].parent
    above = Turns(tree.poses[:, parent])
    return above, tree.places[:, parent] + above.apply(tree.offsets[i])


def _bone(up: Floats, hinge: Floats) -> Turns:
    """The turn of a hanging bone whose upper end lies that way of its lower one, and whose joint bends about an axis."""
    y = unit(up)
    x = unit(hinge - dotted(hinge, y)[:, None] * y)
    return Turns.from_axes(x, y, crossed(x, y))
