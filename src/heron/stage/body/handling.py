"""What a body does with things: it bends for them, reaches, carries, gives and takes.

Numbers without a source are ours: found by looking at figures that do it. Angles as in `gestures`.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any, Literal

import numpy as np

from heron.stage.acts.base import Act, shaped
from heron.stage.acts.body import Crouch
from heron.stage.acts.hands import Hands
from heron.stage.body.arms import ArmGoal, PalmOn
from heron.stage.body.travel import Seated
from heron.stage.body.weights import eased
from heron.stage.grip import Carried
from heron.stage.physique import Physique
from heron.timebase import Frames

Floats = np.ndarray[Any, np.dtype[np.float64]]
Does = Literal["pick_up", "put_down", "give", "take", "open", "lean_on"]
#: Shares of an act at which the palm sets out, is there, leaves again, and is back.
_TIMES: dict[Does, tuple[float, float, float, float]] = {
    "pick_up": (0.12, 0.44, 0.50, 0.96),
    "put_down": (0.03, 0.52, 0.60, 0.98),
    "give": (0.08, 0.38, 0.60, 0.98),
    "take": (0.14, 0.43, 0.60, 0.98),
    "open": (0.04, 0.28, 0.78, 0.98),
    "lean_on": (0.0, 0.2, 0.8, 1.0),
}
#: A place lower than this is bent for, statures, and how far at the most.
_LOW, _DEEPEST = 0.48, 0.30
#: Seconds in which an arm comes to carry something, and lets go of it.
_COMES_S, _GOES_S = 0.5, 0.4
#: Pitch of shoulder, elbow and wrist, and how far the arm is out, degrees, for each way of carrying.
_ARMS: dict[Carried, tuple[float, float, float, float]] = {
    "upright": (6.0, 70.0, 0.0, 40.0),
    "before": (14.0, 72.0, 0.0, 8.0),
    "hanging": (3.0, 10.0, 0.0, 9.0),
}
#: Two hands carry something so far below the chest and before it, statures.
_LOWER, _BEFORE = -0.15, -0.15


@dataclass(frozen=True)
class Task:
    """A palm that goes to a place on the stage, (3,) or (n, 3) metres, over the frames of an act, and comes back.

    Attributes:
        other: (n, 3) metres on the stage, from this palm to the other one where both are at it.
        low: how high the place is over the floor, statures.
    """

    does: Does
    act: Act
    hand: Hands
    target: Floats
    other: Floats | None = None
    low: float = 1.0
    #: Whose act it is, if somebody else's.
    of: str = ""

    @property
    def frames(self) -> Frames:
        """When it does it."""
        return self.act.frames


@dataclass(frozen=True)
class Carry:
    """A hand has something in it from a frame to another; None, to the end."""

    first: float
    last: float | None
    hand: Hands
    carried: Carried
    #: (n, 3) metres on the stage, from one palm to the other, of two hands, and half of how wide it is.
    other: Floats | None = None
    half: float = 0.0


def bending(
    tasks: Sequence[Task | Carry], seats: Mapping[str, Seated], t: Floats, tall: float
) -> list[tuple[Act, Floats]]:
    """How far a body goes down for what lies low, as crouches and their weights, (n,); not while it sits."""
    out: list[tuple[Act, Floats]] = []
    for task in tasks:
        if not isinstance(task, Task) or task.low >= _LOW:
            continue
        first = task.frames.first
        if any(one.goes <= first < one.rises for one in seats.values()):
            continue
        depth = max(_DEEPEST * (1 - task.low / _LOW), 0.05)
        inside = (t >= first) & (t <= task.frames.last)
        # Its content is as long as the act: down while the palm is on its way, and up with it.
        crouch = Crouch(frames=task.frames, depth=depth)
        out.append((crouch, inside.astype(np.float64)))
    return out


def handling(
    angles: Mapping[str, Floats], goals: list[ArmGoal], tasks: Sequence[Task | Carry], t: Floats, physique: Physique, fps: float
) -> list[ArmGoal]:  # fmt: skip
    """Lay what arms do with things over all else they do: (n, 3) angles by joint, and the arms that go somewhere."""
    if not tasks:
        return goals
    # The hand that leads is where it is before the other one goes to it.
    leads: list[ArmGoal] = []
    others: list[ArmGoal] = []
    for carry in (one for one in tasks if isinstance(one, Carry)):
        w = _carrying(carry, t, fps)
        for side in _sides(carry.hand):
            goals = [_less(goal, w) if goal.side == side else goal for goal in goals]
        _arms_carry(angles, carry, w)
        if carry.hand == "both" and carry.other is not None:
            tall = physique.tall
            held = np.array([carry.half, _LOWER * tall, _BEFORE * tall - carry.half]) + physique.shoulders_off
            place = np.tile(held, (len(t), 1))
            leads.append(PalmOn("r", place, w, w, within="chest"))
            # It was on it when it was taken, and stays on it.
            on = np.asarray(
                (t >= carry.first) * (1.0 if carry.last is None else _let_go(carry.last, t, fps)),
                dtype=np.float64,
            )
            others.append(PalmOn("l", carry.other, on, on, within="other"))
    for task in (one for one in tasks if isinstance(one, Task)):
        come, weight = _coming(task, t, fps)
        side = "l" if task.hand == "left" else "r"
        target = np.broadcast_to(task.target, (len(t), 3))
        beside = task.other if task.hand == "both" else None
        leads.append(PalmOn(side, np.asarray(target), come, weight, beside=beside))
        if task.hand == "both" and task.other is not None:
            others.append(PalmOn("l", task.other, come, weight, within="other"))
    return [*goals, *leads, *others]


def _sides(hand: Hands) -> str:
    return {"right": "r", "left": "l", "both": "rl"}[hand]


def _less(goal: ArmGoal, w: Floats) -> ArmGoal:
    return replace(goal, weight=goal.weight * (1 - w))


def _carrying(carry: Carry, t: Floats, fps: float) -> Floats:
    """(n,) how far an arm is under what it carries; from the scene's first frame on it has been so for long."""
    comes = np.ones(len(t)) if carry.first <= t[0] else eased((t - carry.first + 1) / (_COMES_S * fps))
    if carry.last is None:
        return comes
    return np.asarray(comes * _let_go(carry.last, t, fps))


def _let_go(last: float, t: Floats, fps: float) -> Floats:
    return np.asarray(1 - eased((t - last) / (_GOES_S * fps)))


def _arms_carry(angles: Mapping[str, Floats], carry: Carry, w: Floats) -> None:
    shoulder, elbow, wrist, out = _ARMS[carry.carried]
    for side in _sides(carry.hand):
        sign = 1.0 if side == "r" else -1.0
        for name, (pitch, roll) in {
            "clavicle": (0.0, 0.0), "shoulder": (shoulder, sign * out), "elbow": (elbow, 0.0), "wrist": (wrist, 0.0),
            "knuckle": (70.0, 0.0),
        }.items():  # fmt: skip
            row = angles[f"{name}_{side}"]
            row += w[:, None] * (np.array([pitch, 0.0, roll]) - row)


def _coming(task: Task, t: Floats, fps: float) -> tuple[Floats, Floats]:
    """How far a palm has come, and how much of the arm is under it, (n,) each."""
    out, there, leaves, back = _TIMES[task.does]
    u = (t - task.frames.first) / max(task.frames.count - 1, 1)
    # The arm is under the palm soon after it sets out, and until just before it is back.
    soon = min(0.25 * fps / task.frames.count, there - out)
    come = shaped((u - out) / (there - out), "soft") * shaped((back - u) / (back - leaves), "soft")
    weight = shaped((u - out + 1e-6) / soon, "soft") * shaped((back - u) / soon, "soft")
    return come, weight
