"""Where a figure's root goes, and where and when each foot is set down."""

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import partial
from typing import Any

import numpy as np

from heron.curves import evaluate
from heron.model import wrap_degrees
from heron.stage.acts.base import Act
from heron.stage.acts.body import (
    BodyAct,
    Kneel,
    Recorded,
    Run,
    Sit,
    StandUp,
    Start,
    StepAside,
    StopShort,
    Turn,
    Walk,
    WalkBack,
    WalkWith,
)  # fmt: skip
from heron.stage.acts.hands import PointAt
from heron.stage.body import pace
from heron.stage.body.feet import Foot
from heron.stage.body.recorded import follow
from heron.stage.body.steps import Steps
from heron.stage.body.walker import Fact, Walker
from heron.stage.figure import Figure
from heron.stage.path import FloorPath, at_corners
from heron.stage.piece import Piece, PieceKind, into, place_on
from heron.stage.reference import Spot
from heron.stage.skeleton import HIP
from heron.timebase import Frames

Floats = np.ndarray[Any, np.dtype[np.float64]]
Ground = Callable[[Floats], Floats]
#: (n, 3) place of something else on the stage over the frames, metres.
Where = Callable[[Spot], Floats]
Feet = Callable[[Spot], Mapping[str, Steps] | None]
#: Seconds of sitting down, and of standing up when something else is to be done (sit-to-stand studies, from memory).
SIT_S, RISE_S = 2.0, 1.3
#: Hips on a seat are so far behind the ankles, and so far in from its edge, shares of stature.
BACK_ON_SEAT, _INSET = 0.235, 0.2
#: Seconds to go down on a knee, and how far back the foot on that side steps, shares of stature.
KNEEL_S, KNEEL_FOOT = 1.1, 0.42
#: A seat's height, shares of stature.
LOWEST_SEAT, HIGHEST_SEAT = 0.15, 0.36
SEATS: tuple[PieceKind, ...] = ("box", "post", "platform")
#: Nearer than this, and turned away from it by less, somebody sits down at once, or after a step, metres and degrees.
_NEAR_SEAT_M, _STEPS_TO_SEAT_M, _FACES_AWAY = 0.2, 1.0, 30.0


@dataclass
class Travel:
    """The root over frames, the steps of each foot, and what each act amounts to."""

    place: Floats
    heading: Floats
    walking: Floats
    running: Floats
    feet: dict[str, Steps]
    #: By the ids of the acts.
    facts: dict[str, Fact]
    seats: dict[str, "Seated"]
    #: Each foot over the frames, once it is known: whatever the hands do, it is the same.
    trod: dict[str, Foot] = field(default_factory=dict)


@dataclass
class Seated:
    """Somebody sits: from when to when it goes down and comes up again (frames), the seat's height and the stature, metres."""

    goes: float
    sits: float
    leaves: float
    rises: float
    height: float
    stature: float
    #: How high the hips are, standing, shares of it.
    hip: float = HIP


def frames_to_walk(points: Floats, heading: float, speed: float, fps: float, *, runs: bool = False) -> int:
    """How many frames a walk or a run through points, (k, 2) metres, takes at a cruising speed, turning where it must."""
    seconds = 0.0
    for part in at_corners(points):
        path = FloorPath(part)
        if path.length <= 1e-3:
            continue
        start = float(path.heading(np.zeros(1))[0])
        off = wrap_degrees(start - heading)
        if abs(off) > pace.TURN_FIRST:
            seconds += pace.seconds_to_turn(off)
        seconds += path.length / speed + (pace.RUN_RAMP_S if runs else pace.RAMP_S)
        heading = float(path.heading(np.array([path.length]))[0])
    return max(2, math.ceil(seconds * fps))


def pointing_side(figure: Figure) -> str:
    """The hand that points: the right one, since what is held is in the left."""
    return "r"


def travel(
    figure: Figure, frames: Frames, fps: float, where: Where, ground: Ground, pieces: Mapping[str, Piece],
    feet: Feet = lambda _: None,
) -> Travel:  # fmt: skip
    """Run the acts of a figure's body in turn, each from where the last left the root and the feet.

    Args:
        where: (n, 3) place of something else on the stage over the frames.
        ground: height under (n, 2) points.
        pieces: what it sits on, by id.
        feet: the steps of somebody else, to keep step with; none where a spot is on nobody.
    """
    runner = _Runner(figure, Walker(figure, frames, fps), where, feet, ground, pieces)
    facts: dict[str, Fact] = {}
    free = float(frames.first)
    points = [(act, where(act.at)) for act in figure.acts if isinstance(act, PointAt)]
    side = pointing_side(figure)
    #: Since when it has been on its way without a stop.
    under_way: float | None = None

    def point(until: float) -> None:
        """Turn to what is pointed at while the body does nothing else."""
        for act, target in points:
            first, last = max(float(act.frames.first), free), min(float(act.frames.last), until)
            if first < last:
                runner.walker.point(target, side, first, last)

    for act in figure.body:
        first = float(act.frames.first)
        point(first)
        over = min(free - 1, float(act.frames.last))

        def go(act: Act = act) -> Fact:
            return runner.run(act)

        if over >= first > frames.first:
            fact = runner.walker.blended(first, over, act.shape, go)
        elif isinstance(act, BodyAct) and act.comes_on and under_way is not None and first == free:
            fact = runner.walker.go_on(under_way, first, float(act.frames.last), go)
        else:
            under_way, fact = None, go()
        facts[act.id or ""] = fact
        goes_on = isinstance(act, BodyAct) and act.goes_on
        under_way = (under_way if under_way is not None else first) if goes_on else None
        runner.settle()
        free = max(free, float(act.frames.stop))
    point(float(frames.last))
    walker = runner.walker
    tracks = (walker.place, walker.facing, walker.walking, walker.running)
    return Travel(*tracks, walker.feet, facts, runner.seats)


class _Runner:
    """Takes a walker through acts, one kind after another."""

    def __init__(
        self, figure: Figure, walker: Walker, where: Where, feet: Feet, ground: Ground, pieces: Mapping[str, Piece]
    ) -> None:  # fmt: skip
        self._body = figure.body
        self.walker, self._where, self._feet, self._ground, self._pieces = walker, where, feet, ground, pieces
        self.seats: dict[str, Seated] = {}
        self._sits: Seated | None = None
        self._kneels: Kneel | None = None

    def run(self, act: Act) -> Fact:
        """What an act amounts to once the root and the feet have gone through it."""
        w = self.walker
        first, last = float(act.frames.first), float(act.frames.last)
        if self._sits is not None and not isinstance(act, Sit):
            first = self._rise(act, first, last)
        if isinstance(act, Walk | Run):
            soft = (act.soft_start, act.soft_stop)
            # Without a start of its own it goes on from the frame before.
            first -= 0.0 if act.soft_start else 1.0
            tempo = partial(evaluate, act.pace) if act.pace.keys else None
            return w.walk(
                np.array(act.points), first, last, runs=isinstance(act, Run), soft=soft, tempo=tempo
            )
        if isinstance(act, Start):
            return self._start(act, first, last)
        if isinstance(act, StopShort):
            return w.brake(act.far, first, last)
        if isinstance(act, Turn):
            delta = wrap_degrees(act.heading - w.heading)
            w.turn(w.heading + delta, first, last)
            return {"degrees": delta}
        if isinstance(act, StepAside | WalkBack):
            aside = 0.0 if isinstance(act, WalkBack) else act.far * (1.0 if act.side == "right" else -1.0)
            back = act.far if isinstance(act, WalkBack) else 0.0
            lead = "l" if aside < 0 else "r"
            w.glide(_off(w, aside, back), first, last, steps=lead)
            return {"metres": act.far}
        if isinstance(act, WalkWith):
            side = 1.0 if act.side == "right" else -1.0
            leads = self._feet(act.at) if act.in_step else None
            return w.walk_with(self._where(act.at)[:, [0, 2]], first, last, act.place, side, act.far, leads)
        if isinstance(act, Recorded):
            return follow(w, act, first, last)
        if isinstance(act, Kneel):
            self._kneels = act
            return {}
        if isinstance(act, Sit):
            return self._sit(act, first, last)
        return {}

    def _start(self, act: Start, first: float, last: float) -> Fact:
        """Set off straight ahead, gathering speed over two to three steps; without anything that goes on, and stop again."""
        w = self.walker
        if last <= first:
            return {}
        rise = min(pace.RAMP_S * w.fps, last - first)
        stops = not self._taken_on(act)

        def tempo(t: Floats) -> Floats:
            up = np.clip((t - first) / rise, 0.0, 1.0)
            return np.asarray(np.minimum(up, np.clip((last - t) / rise, 0.0, 1.0)) if stops else up)

        quick = tempo(np.linspace(first, last, 400))
        far = act.walks_at * (last - first) / w.fps * float(quick.mean() / quick.max())
        return w.walk(np.array([_off(w, 0.0, -far)]), first, last, soft=(False, False), tempo=tempo)

    def _taken_on(self, act: Act) -> bool:
        """Whether the next act of the body goes on at the speed that an act ends with."""
        at = self._body.index(act) + 1
        nxt = self._body[at] if at < len(self._body) else None
        return isinstance(nxt, BodyAct) and nxt.comes_on and nxt.frames.first == act.frames.stop

    def settle(self) -> None:
        """Put the feet where an act wants them once the body has come to rest for it."""
        if (act := self._kneels) is not None:
            self._kneels = None
            up = math.inf if act.hold else float(act.frames.last)
            down = max(float(act.frames.first), min(self.walker.stands_until, up - 1))
            self.walker.kneel(act.side[0], KNEEL_FOOT, down, up, KNEEL_S)

    def _sit(self, act: Sit, first: float, last: float) -> Fact:
        """Go to the seat where it is not there yet, and back onto it.

        A seat that is gone, or too high or too low, is stood before.
        """
        w = self.walker
        piece = self._pieces.get(act.on or "")
        place = seat_on(piece, w.x, w.z, w.tall, self._ground) if piece else None
        if place is None or self._sits is not None:
            return {}
        stand, heading, hip, height = place
        walks, turns = to_the_seat((w.x, w.z, w.heading), stand, heading, w.fps)
        # Where there is too little time, all of it goes quicker.
        hurry = min(1.0, (last - first) / (walks + turns + SIT_S * w.fps))
        takes = SIT_S * w.fps * hurry
        middle = last - takes
        if turns:
            w.walk(np.array([stand]), first, middle - turns * hurry)
            w.turn(w.heading + wrap_degrees(heading - w.heading), middle - turns * hurry, middle)
        elif walks:
            w.glide(stand, middle - walks * hurry, middle, steps="r")
        w.glide(hip, last - takes + 0.08 * takes, last - takes + 0.70 * takes)
        self._sits = Seated(last - takes, last, math.inf, math.inf, height, w.tall, w.physique.shares.hip)
        self.seats[act.id or ""] = self._sits
        return {"seat": height / w.tall}

    def _rise(self, act: Act, first: float, last: float) -> float:
        """Stand up again, forward over the feet; the frame from which the rest of the act has time."""
        w, sits = self.walker, self._sits
        assert sits is not None
        takes = last - first if isinstance(act, StandUp) else min(RISE_S * w.fps, 0.45 * (last - first))
        w.glide(_off(w, 0.0, -BACK_ON_SEAT * w.tall), first + 0.2 * takes, first + 0.72 * takes)
        sits.leaves, sits.rises = first, first + takes
        self._sits = None
        return first + takes


def _off(w: Walker, aside: float, back: float) -> tuple[float, float]:
    """The place so far to the right of where a walker stands and behind it."""
    turn = math.radians(w.heading)
    return w.x + aside * math.cos(turn) + back * math.sin(turn), w.z - aside * math.sin(
        turn
    ) + back * math.cos(turn)


def to_the_seat(
    here: tuple[float, float, float], stand: tuple[float, float], heading: float, fps: float
) -> tuple[float, float]:
    """How many frames it takes from a place and heading to stand before a seat: on the way there, and to turn round.

    Somebody who stands near with the back to it only steps to it, or sits down at once.
    """
    x, z, faces = here
    far = math.hypot(stand[0] - x, stand[1] - z)
    away = abs(wrap_degrees(heading - faces)) <= _FACES_AWAY
    if away and far <= _STEPS_TO_SEAT_M:
        return (0.0 if far <= _NEAR_SEAT_M else fps), 0.0
    arrives = math.degrees(math.atan2(x - stand[0], z - stand[1])) if far > 0.05 else faces
    turns = max(pace.seconds_to_turn(wrap_degrees(heading - arrives)), pace.TURN_STEP_S) * fps
    way = np.array([(x, z), stand])
    return frames_to_walk(way, faces, pace.COMFORTABLE_SPEED, fps) if far > 0.05 else 0.0, turns


def seat_on(
    piece: Piece, x: float, z: float, stature: float, ground: Ground
) -> tuple[tuple[float, float], float, tuple[float, float], float] | None:
    """How somebody who stands at a place would sit on a piece, at the middle of its nearest side or beside it.

    Returns:
        where the feet stand, the way it faces in degrees, where the hips come down, metres, and the seat's height
        over the floor there; None where it is too high, too low or too steep to sit on.
    """
    across, along = into(piece, x, z)
    half = (piece.width / 2, piece.depth / 2)
    out = (abs(across) - half[0], abs(along) - half[1])
    axis = 0 if out[0] > out[1] else 1
    sign = 1.0 if (across, along)[axis] >= 0 else -1.0
    inset = min(_INSET * stature, half[axis])
    side = max(half[1 - axis] - 0.15, 0.0)
    level = min(max(float((across, along)[1 - axis]), -side), side)

    def at(far: float) -> tuple[float, float]:
        own = (sign * far, level) if axis == 0 else (level, sign * far)
        gx, _, gz = place_on(piece, own[0] / piece.width, 0.0, own[1] / piece.depth)
        return float(gx), float(gz)

    hip, stand = at(half[axis] - inset), at(half[axis] - inset + BACK_ON_SEAT * stature)
    heading = math.degrees(math.atan2(hip[0] - stand[0], hip[1] - stand[1]))
    height = piece.base + piece.height - float(ground(np.array([stand]))[0])
    if piece.kind not in SEATS or not LOWEST_SEAT <= height / stature <= HIGHEST_SEAT:
        return None
    return stand, heading, hip, height
