"""Where a figure's root goes, and where and when each foot is set down."""

import math
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from heron.model import wrap_degrees
from heron.stage.body import pace
from heron.stage.figure import Figure, PointAt, Turn, Walk
from heron.stage.path import FloorPath, at_corners
from heron.stage.reference import Spot
from heron.stage.skeleton import FOOT_HALF
from heron.timebase import Frames

Floats = np.ndarray[Any, np.dtype[np.float64]]
Ground = Callable[[Floats], Floats]
#: (n, 3) place of something else on the stage over the frames, metres.
Where = Callable[[Spot], Floats]

TOE_OUT = 7.0
#: Of a short way no more than this share is getting up to speed, and as much stopping.
_RAMP_SHARE = 0.2
#: How far to the side of its own shoulder an arm points in comfort, degrees: across the body, and outwards.
REACH_ACROSS, REACH_OUT = -25.0, 85.0
#: Turning to point leaves the thing so far to that side at most.
_LEAVES = (0.0, 45.0)
#: Feet follow head and shoulder when somebody turns to point, seconds (common practice).
FEET_AFTER_S = 0.25
#: Whatever moves is followed by the feet this often, seconds.
_AGAIN_S = 1.5


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

    def add(self, lift: float, land: float, place: tuple[float, float], yaw: float) -> None:
        """One more; it leaves no earlier than it came down."""
        if self.land:
            lift = max(lift, self.land[-1])
        self.lift.append(lift)
        self.land.append(max(land, lift + 1e-3))
        self.x.append(place[0])
        self.z.append(place[1])
        self.yaw.append(yaw)


@dataclass
class Travel:
    """The root over frames, the steps of each foot, and what each act amounts to."""

    place: Floats
    heading: Floats
    walking: Floats
    feet: dict[str, Steps]
    facts: list[dict[str, float]] = field(default_factory=list)


def frames_to_walk(points: Floats, heading: float, speed: float, fps: float) -> int:
    """How many frames a walk through points, (k, 2) metres, takes at a cruising speed, turning where it must."""
    seconds = 0.0
    for part in at_corners(points):
        path = FloorPath(part)
        if path.length <= 1e-3:
            continue
        start = float(path.heading(np.zeros(1))[0])
        off = wrap_degrees(start - heading)
        if abs(off) > pace.TURN_FIRST:
            seconds += pace.seconds_to_turn(off)
        seconds += path.length / speed + pace.RAMP_S
        heading = float(path.heading(np.array([path.length]))[0])
    return max(2, math.ceil(seconds * fps))


def beside(side: str, x: Any, z: Any, heading: Any, stature: float) -> tuple[Any, Any]:
    """The place of a foot beside a root."""
    reach = (1 if side == "r" else -1) * FOOT_HALF * stature
    turn = np.radians(heading)
    return x + reach * np.cos(turn), z - reach * np.sin(turn)


def toed(side: str, heading: Any) -> Any:
    """The yaw of a foot beside a root: toes a little out."""
    return heading + (-TOE_OUT if side == "r" else TOE_OUT)


class _Walker:
    """Runs a figure's acts in turn, each from where the last left the root and the feet."""

    def __init__(self, figure: Figure, frames: Frames, fps: float) -> None:
        self.t = frames.array().astype(np.float64)
        self.tall, self.fps = figure.stature, fps
        self.x, self.z, self.heading = figure.x, figure.z, figure.heading
        n = len(self.t)
        self.place = np.tile([figure.x, figure.z], (n, 1))
        self.facing = np.full(n, figure.heading)
        self.walking = np.zeros(n)
        self.feet = {side: Steps() for side in "rl"}
        #: When it last came to rest.
        self.stands_until = -1e9
        for side in "rl":
            self._set_down(side, -1e9, -1e9 + 1, figure.heading)

    def _set_down(self, side: str, lift: float, land: float, heading: float) -> None:
        place = beside(side, self.x, self.z, heading, self.tall)
        self.feet[side].add(lift, land, (float(place[0]), float(place[1])), float(toed(side, heading)))

    def _from(self, frame: float) -> slice:
        return slice(int(np.searchsorted(self.t, frame)), None)

    def turn(self, to: float, first: float, last: float) -> None:
        """Turn on the spot to an unwrapped heading, stepping, within a range of frames."""
        delta = to - self.heading
        self.stands_until = last
        count = pace.steps_to_turn(delta)
        after = self._from(first)
        if count:
            slot = (last - first) / count
            # However much time there is, a foot is not in the air for longer than a step takes.
            swing = min(0.86 * slot, 1.1 * pace.TURN_STEP_S * self.fps)
            # The foot on the side of the turn opens first, the other closes.
            sides = "rl" if delta < 0 else "lr"
            for k in range(count):
                there = self.heading + delta * (k // 2 + 1) * 2 / count
                middle = first + (k + 0.5) * slot
                self._set_down(sides[k % 2], middle - swing / 2, middle + swing / 2, there)
            t = self.t[after]
            # The body comes round with the feet: a little ahead of the closing one.
            share = np.clip((t - first) / max(last - first, 1e-6), 0.0, 1.0)
            self.facing[after] = self.heading + delta * _smooth(share)
        else:
            t = self.t[after]
            share = np.clip((t - first) / max(last - first, 1e-6), 0.0, 1.0)
            self.facing[after] = self.heading + delta * _smooth(share)
        self.heading = to

    def walk(self, points: Floats, first: float, last: float) -> dict[str, float]:
        """Walk through points; sharp corners, and a start that faces away, are turned on the spot."""
        parts = [
            path
            for part in at_corners(np.vstack([[self.x, self.z], points]))
            if (path := FloorPath(part)).length > 1e-3
        ]
        if not parts:
            return {}
        heading, turns = self.heading, []
        for path in parts:
            start = heading + wrap_degrees(float(path.heading(np.zeros(1))[0]) - heading)
            turns.append(start if abs(start - heading) > pace.TURN_FIRST else None)
            heading = start + float(np.ptp(path.heading(np.array([0.0, path.length])))) * np.sign(
                path.heading(np.array([path.length]))[0] - path.heading(np.zeros(1))[0]
            )
        total = sum(path.length for path in parts)
        span = max(last - first, 1.0)
        each = self._turning(parts, turns, span)
        free = span - sum(each)
        ramps = pace.RAMP_S * self.fps * len(parts)
        cruise = max(free - ramps, 0.3 * free)
        at, steps, speed = first, 0, 0.0
        for path, turn, took in zip(parts, turns, each, strict=True):
            if turn is not None:
                self.turn(turn, at, at + took)
                at += took
            frames = cruise * path.length / total + (free - cruise) / len(parts)
            fact = self._stride(path, at, at + frames)
            steps += int(fact["steps"])
            speed = max(speed, fact["speed"])
            at += frames
        return {"metres": total, "speed": speed, "steps": steps, "step_m": total / max(steps, 1)}

    def _turning(self, parts: list[FloorPath], turns: list[float | None], span: float) -> list[float]:
        """Frames given to each turn on the spot: a person's pace, hurried when there is no time."""
        heading, out = self.heading, []
        for path, turn in zip(parts, turns, strict=True):
            out.append(0.0 if turn is None else pace.seconds_to_turn(turn - heading) * self.fps)
            heading = (heading if turn is None else turn) + float(
                path.heading(np.array([path.length]))[0] - path.heading(np.zeros(1))[0]
            )
        most = 0.6 * span
        return [frames * most / sum(out) for frames in out] if sum(out) > most else out

    def _stride(self, path: FloorPath, first: float, last: float) -> dict[str, float]:
        t, fps, tall = self.t, self.fps, self.tall
        span = max(last - first, 1e-6)
        ramp = min(pace.RAMP_S * fps / span, _RAMP_SHARE)
        dense = np.linspace(0.0, 1.0, 801)
        done = _ramped(dense, ramp)
        inside = slice(int(np.searchsorted(t, first)), int(np.searchsorted(t, last, side="right")))
        now = t[inside]
        along = np.interp((now - first) / span, dense, done) * path.length
        self.place[inside] = path.place(along)
        # The first half metre brings the body round from where it faced to where it goes.
        bend = min(0.6, path.length / 2)
        bare = path.heading(np.array([0.0, path.length]))
        base = self.heading + wrap_degrees(float(bare[0]) - self.heading) - float(bare[0])
        off = self.heading - (base + float(bare[0]))

        def facing(s: Floats) -> Floats:
            return np.asarray(base + path.heading(s) + off * (1 - _smooth(s / bend)))

        self.facing[inside] = facing(along)
        rise = 0.3 * fps
        self.walking[inside] = _smooth((now - first) / rise) * _smooth((last - now) / rise)
        speed = path.length / (span / fps * (1 - ramp))
        wanted = max(1, round(path.length / pace.step_length(speed, tall)))
        count = min(wanted, max(1, math.ceil(span / fps * pace.MOST_STEPS_A_SECOND)))
        self._footfalls(path, facing, first, last, count, np.interp, (done, dense), off)
        after = self._from(last)
        self.x, self.z = (float(v) for v in path.place(np.array([path.length]))[0])
        self.heading = float(facing(np.array([path.length]))[0])
        self.place[after] = (self.x, self.z)
        self.facing[after] = self.heading
        return {"speed": speed, "steps": float(count)}

    def _footfalls(
        self, path: FloorPath, facing: Callable[[Floats], Floats], first: float, last: float, count: int,
        interp: Any, pacing: tuple[Floats, Floats], off: float,
    ) -> None:  # fmt: skip
        k = np.arange(1.0, count + 2)
        s = np.minimum(k, count) * path.length / count
        where, yaw = path.place(s), facing(s)

        def when(steps: Any) -> Floats:
            return np.asarray(first + (last - first) * interp(np.clip(steps / count, 0.0, 1.0), *pacing))

        both = pace.both_down(path.length / ((last - first) / self.fps), self.tall)
        lift, land = when(k - 1.5 + both), when(k - 0.5)
        if self.stands_until < first:
            # Out of standing the weight comes over the other foot first.
            lift[0] = min(first + pace.WEIGHT_FIRST_S * self.fps, (first + land[0]) / 2)
        self.stands_until = last
        # The last foot closes up beside the other by the end.
        lift[-1], land[-1] = when(np.array([count - 0.5 + both]))[0], last
        lead = "r" if off <= 0 else "l"
        trail = "l" if lead == "r" else "r"
        for side, which in ((lead, slice(0, None, 2)), (trail, slice(1, None, 2))):
            x, z = beside(side, where[which, 0], where[which, 1], yaw[which], self.tall)
            toes = toed(side, yaw[which])
            for row in zip(lift[which], land[which], x, z, toes, strict=True):
                self.feet[side].add(
                    float(row[0]), float(row[1]), (float(row[2]), float(row[3])), float(row[4])
                )

    def point(self, act: PointAt, target: Floats, side: str) -> None:
        """Turn on the spot as far as an arm needs, and again where the thing goes on moving."""
        sign = 1.0 if side == "l" else -1.0
        at = act.frames.first + FEET_AFTER_S * self.fps
        while at < act.frames.last:
            i = min(int(np.searchsorted(self.t, at)), len(self.t) - 1)
            dx, dz = target[i, 0] - self.x, target[i, 2] - self.z
            yaw = wrap_degrees(math.degrees(math.atan2(-dx, -dz)) - self.heading)
            out = sign * yaw
            if not REACH_ACROSS <= out <= REACH_OUT:
                # Round the shorter way, to where the thing lies on the arm's own side.
                leave = sign * min(max(out, _LEAVES[0]), _LEAVES[1])
                to = self.heading + wrap_degrees(yaw - leave)
                took = min(pace.seconds_to_turn(to - self.heading) * self.fps, act.frames.last - at)
                self.turn(to, at, at + max(took, 1.0))
                at += took
            at += _AGAIN_S * self.fps


def pointing_side(figure: Figure) -> str:
    """The hand that points: the right one, since what is held is in the left."""
    return "r"


def travel(figure: Figure, frames: Frames, fps: float, where: Where) -> Travel:
    """Run a figure's acts in turn, each from where the last left the root."""
    walker = _Walker(figure, frames, fps)
    facts: list[dict[str, float]] = []
    for act in figure.acts:
        first, last = float(act.frames.first), float(act.frames.last)
        fact: dict[str, float] = {}
        if isinstance(act, Walk):
            fact = walker.walk(np.array(act.points), first, last)
        elif isinstance(act, Turn):
            delta = wrap_degrees(act.heading - walker.heading)
            walker.turn(walker.heading + delta, first, last)
            fact = {"degrees": delta}
        elif isinstance(act, PointAt):
            walker.point(act, where(act.at), pointing_side(figure))
        facts.append(fact)
    return Travel(walker.place, walker.facing, walker.walking, walker.feet, facts)


def _smooth(u: Floats) -> Floats:
    u = np.clip(u, 0.0, 1.0)
    return u * u * (3 - 2 * u)


def _ramped(u: Floats, ramp: float) -> Floats:
    """Distance done, 0 to 1, with speed rising over `ramp`, steady, and falling over `ramp`."""
    speed = np.minimum(1.0, np.minimum(u, 1 - u) / max(ramp, 1e-9))
    done = np.r_[0.0, np.cumsum((speed[1:] + speed[:-1]) / 2 * np.diff(u))]
    return np.asarray(done / done[-1])
