"""Where a figure's root goes, and where and when each foot is set down."""

import math
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from heron.model import wrap_degrees
from heron.stage.figure import Figure, Turn, Walk
from heron.stage.path import FloorPath
from heron.stage.skeleton import FOOT_HALF
from heron.timebase import Frames

Floats = np.ndarray[Any, np.dtype[np.float64]]
Ground = Callable[[Floats], Floats]

#: Seconds a walk takes to get up to speed, and to stop.
RAMP_S = 0.45
#: A comfortable walk, metres a second (common practice).
COMFORTABLE_SPEED = 1.25
#: Step length over cadence, metres per step a minute: the walk ratio of Sekiya and
#: Nagasaki (1998), from memory, for an adult of 1.7 m.
WALK_RATIO = 0.0065
#: The share of a step during which both feet are down.
BOTH_DOWN = 0.2
_LONGEST_STEP = 0.48
_TURN_A_STEP = 40.0
TOE_OUT = 7.0


@dataclass(frozen=True)
class Step:
    """A foot leaves at `lift` and is down from `land` (frames) at a place with a yaw."""

    lift: float
    land: float
    x: float
    z: float
    yaw: float


@dataclass
class Travel:
    """The root over frames, the steps of each foot, and what each act amounts to."""

    place: Floats
    heading: Floats
    walking: Floats
    feet: dict[str, list[Step]]
    facts: list[dict[str, float]] = field(default_factory=list)


def step_length(speed: float, stature: float) -> float:
    """Metres of one step of a walk, from its speed and the walker's stature."""
    return min(math.sqrt(60 * WALK_RATIO * speed) * stature / 1.7, _LONGEST_STEP * stature)


def frames_to_walk(length: float, speed: float, fps: float) -> int:
    """How many frames a walk of a length takes at a cruising speed."""
    return max(2, math.ceil((length / speed + RAMP_S) * fps))


def beside(side: str, x: float, z: float, heading: float, stature: float) -> tuple[float, float]:
    """The place of a foot beside a root."""
    sign = 1 if side == "r" else -1
    reach = sign * FOOT_HALF * stature
    turn = math.radians(heading)
    return x + reach * math.cos(turn), z - reach * math.sin(turn)


def toed(side: str, heading: float) -> float:
    """The yaw of a foot beside a root: toes a little out."""
    return heading + (-TOE_OUT if side == "r" else TOE_OUT)


def travel(figure: Figure, frames: Frames, fps: float) -> Travel:
    """Run a figure's acts in turn, each from where the last left the root."""
    t = frames.array().astype(np.float64)
    x, z, heading = figure.x, figure.z, figure.heading
    out = Travel(
        place=np.tile([x, z], (len(t), 1)),
        heading=np.full(len(t), heading),
        walking=np.zeros(len(t)),
        feet={side: [_set_down(side, -1e9, -1e9, x, z, heading, figure.stature)] for side in "rl"},
    )
    for act in figure.acts:
        first, last = float(act.frames.first), float(act.frames.last)
        fact: dict[str, float] = {}
        if isinstance(act, Walk):
            path = FloorPath(np.array([(x, z), *act.points]))
            if path.length > 1e-3:
                fact = _walk(out, figure, path, t, first, last, heading, fps)
                heading = float(path.heading(np.array([0.0, path.length]))[-1])
                x, z = (float(v) for v in path.place(np.array([path.length]))[0])
        elif isinstance(act, Turn):
            delta = wrap_degrees(act.heading - heading)
            _turn(out, figure, x, z, heading, delta, t, first, last)
            fact = {"degrees": delta}
            heading += delta
        after = t >= last
        out.place[after] = (x, z)
        out.heading[after] = heading
        out.facts.append(fact)
    return out


def _set_down(
    side: str, lift: float, land: float, x: float, z: float, heading: float, stature: float
) -> Step:
    fx, fz = beside(side, x, z, heading, stature)
    return Step(lift, land, fx, fz, toed(side, heading))


def _walk(
    out: Travel,
    figure: Figure,
    path: FloorPath,
    t: Floats,
    first: float,
    last: float,
    heading: float,
    fps: float,
) -> dict[str, float]:
    span = max(last - first, 1.0)
    ramp = min(RAMP_S * fps / span, 0.4)
    dense = np.linspace(0.0, 1.0, 801)
    done = _ramped(dense, ramp)
    inside = (t >= first) & (t <= last)
    along = np.interp((t[inside] - first) / span, dense, done) * path.length
    out.place[inside] = path.place(along)
    # The first half metre brings the body round from where it faced to where it goes.
    bend = min(0.6, path.length / 2)
    start = float(path.heading(np.array([0.0]))[0])
    off = wrap_degrees(heading - start)

    def facing(s: Floats) -> Floats:
        whole = path.heading(np.r_[0.0, s])[1:]
        return whole + off * (1 - _smooth(s / bend))

    out.heading[inside] = facing(along)
    out.walking[inside] = _smooth((t[inside] - first) / (0.3 * fps)) * _smooth(
        (last - t[inside]) / (0.3 * fps)
    )

    speed = path.length / (span / fps * (1 - ramp))
    count = max(1, round(path.length / step_length(speed, figure.stature)))
    each = path.length / count

    def when(steps: float) -> float:
        return first + span * float(np.interp(min(max(steps / count, 0.0), 1.0), done, dense))

    lead = "r" if off <= 0 else "l"
    trail = "l" if lead == "r" else "r"
    for k in range(1, count + 2):
        side = lead if k % 2 else trail
        s = min(k, count) * each
        place = path.place(np.array([s]))[0]
        yaw = float(facing(np.array([s]))[0])
        lift = when(k - 1.5 + BOTH_DOWN)
        land = when(k - 0.5) if k < count else (when(k - 0.5) if k == count else last)
        if k == count + 1:
            lift = when(count - 0.5 + BOTH_DOWN)
        if land <= lift:
            land = lift + 1.0
        out.feet[side].append(
            _set_down(side, lift, land, float(place[0]), float(place[1]), yaw, figure.stature)
        )
    return {"metres": path.length, "speed": speed, "steps": count, "step_m": each}


def _turn(
    out: Travel,
    figure: Figure,
    x: float,
    z: float,
    heading: float,
    delta: float,
    t: Floats,
    first: float,
    last: float,
) -> None:
    inside = (t >= first) & (t <= last)
    span = max(last - first, 1.0)
    out.heading[inside] = heading + delta * _smooth((t[inside] - first) / span)
    pairs = max(1, math.ceil(abs(delta) / _TURN_A_STEP))
    # The foot on the side of the turn opens first, the other closes.
    sides = "rl" if delta < 0 else "lr"
    slot = span / (2 * pairs)
    for k in range(2 * pairs):
        there = heading + delta * (k // 2 + 1) / pairs
        begin = first + k * slot
        out.feet[sides[k % 2]].append(
            _set_down(sides[k % 2], begin + 0.1 * slot, begin + 0.9 * slot, x, z, there, figure.stature)
        )


def _smooth(u: Floats) -> Floats:
    u = np.clip(u, 0.0, 1.0)
    return u * u * (3 - 2 * u)


def _ramped(u: Floats, ramp: float) -> Floats:
    """Distance done, 0 to 1, with speed rising over `ramp`, steady, and falling over `ramp`."""
    speed = np.minimum(1.0, np.minimum(u, 1 - u) / max(ramp, 1e-9))
    done = np.r_[0.0, np.cumsum((speed[1:] + speed[:-1]) / 2 * np.diff(u))]
    return np.asarray(done / done[-1])
