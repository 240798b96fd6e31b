"""Sets feet down in turn along the way a body goes."""

import math
from collections.abc import Callable, Mapping
from typing import Any

import numpy as np
from scipy.ndimage import gaussian_filter1d

from heron.stage.body import pace
from heron.stage.body.steps import Steps, beside, toed
from heron.stage.characters import physique_of
from heron.stage.figure import Figure
from heron.timebase import Frames

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: A foot that closes up is in the air for at least so long, seconds: it never turns where it stands.
_SHORTEST_SWING_S = 0.2
#: A foot that came down within so many seconds belongs to a stride that is under way.
_STRIDES_S = 0.8
#: Steps get shorter as the body slows down, but not than those of this share of its speed.
_SHORTEST = 0.3
#: Steps backwards are shorter by this share (ours, by eye).
_BACKWARDS = 0.35
#: Changing speed by so much, metres a second², a runner's steps are shorter by this share (ours, by eye).
_HARD, _BRAKES = 2.5, 0.4
#: A foot nearer than this to its place beside the other has closed up, metres.
_CLOSES_M = 0.04


class Footfalls:
    """Where a body goes over frames, and the steps of its feet along it."""

    def __init__(self, figure: Figure, frames: Frames, fps: float) -> None:
        """It begins where the figure stands on the first of some frames."""
        self.t = frames.array().astype(np.float64)
        self.physique, self.tall, self.fps = physique_of(figure), figure.stature, fps
        self.x, self.z, self.heading = figure.x, figure.z, figure.heading
        n = len(self.t)
        self.place = np.tile([figure.x, figure.z], (n, 1))
        self.facing = np.full(n, figure.heading)
        #: How much it walks, and how much of that is a run, 0 to 1.
        self.walking, self.running = np.zeros(n), np.zeros(n)
        self.feet = {side: Steps() for side in "rl"}
        #: When it last came to rest.
        self.stands_until = -1e9
        for side in "rl":
            self.set_down(side, -1e9, -1e9 + 1, figure.heading)

    def set_down(self, side: str, lift: float, land: float, heading: float) -> None:
        """Set a foot down beside where the body is, facing a heading, in degrees."""
        place = beside(side, self.x, self.z, heading, self.tall)
        self.feet[side].add(lift, land, (float(place[0]), float(place[1])), float(toed(side, heading)))

    def since(self, frame: float) -> slice:
        """The rows from a frame on."""
        return slice(int(np.searchsorted(self.t, frame)), None)

    def lay_footfalls(
        self, at: Callable[[Floats], tuple[Floats, Floats]], when: Callable[[Floats], Floats], both: Floats, run: Floats,
        lead: str, first: float, last: float,
    ) -> None:  # fmt: skip
        """Set down feet in turn: a foot stands where the body is one step farther on than the last, and closes up at the end.

        Args:
            at: place (k, 2) and heading (k,) of the body so many steps on.
            when: the frame by which so many steps are done.
            both, run: of each step the share with both feet down, and how much of a run it is; (count + 1,).
            lead: the side that goes first.
        """
        count = len(both) - 1
        k = np.arange(1.0, count + 2)
        where, yaw = at(np.minimum(k + run * (pace.RUN_AHEAD * (1 + both) - 0.5), count))
        lift, land = when(k - 1.5 + both), when(k - 0.5)
        if self.stands_until < first:
            # Out of standing the weight comes over the other foot first.
            lift[0] = min(first + pace.WEIGHT_FIRST_S * self.fps, (first + land[0]) / 2)
        self.stands_until = last
        # The last foot closes up beside the other by the end.
        lift[-1] = when(np.array([count - 0.5 + max(both[-1], 0.0)]))[0]
        land[-1] = max(last, lift[-1] + _SHORTEST_SWING_S * self.fps)
        trail = "l" if lead == "r" else "r"
        for side, which in ((lead, slice(0, None, 2)), (trail, slice(1, None, 2))):
            x, z = beside(side, where[which, 0], where[which, 1], yaw[which], self.tall)
            toes = toed(side, yaw[which])
            for row in zip(lift[which], land[which], x, z, toes, run[which], strict=True):
                self.feet[side].add(
                    float(row[0]), float(row[1]), (float(row[2]), float(row[3])), float(row[4]), float(row[5])
                )

    def keep_step(self, leads: Mapping[str, Steps], first: float, last: float) -> int:
        """Set each foot down when somebody else does, where its own way has it then; how many steps."""
        theirs = sorted(
            (foot.land[k], foot.lift[k], side)
            for side, foot in leads.items()
            for k in range(len(foot.lift))
            if foot.lift[k] >= first and foot.land[k] <= last
        )
        lands = [land for land, _, _ in theirs[1:]] + [last]
        for (land, lift, side), after in zip(theirs, lands, strict=True):
            # The body is over a foot half way between its coming down and the other's.
            self._set_at(side, lift, land, (land + after) / 2)
        end = self.since(last).start
        for side in "rl":
            x, z = beside(side, self.x, self.z, self.heading, self.tall)
            if math.hypot(self.feet[side].x[-1] - x, self.feet[side].z[-1] - z) > _CLOSES_M:
                lift = max(last, self.stands_until, self.feet[side].land[-1])
                self.set_down(
                    side,
                    lift,
                    lift + 1.5 * _SHORTEST_SWING_S * self.fps,
                    float(self.facing[min(end, len(self.t) - 1)]),
                )
                self.stands_until = self.feet[side].land[-1]
        return len(theirs)

    def _set_at(self, side: str, lift: float, land: float, frame: float) -> None:
        """Set a foot down beside where the body is at a frame."""
        x, z = (float(np.interp(frame, self.t, self.place[:, c])) for c in (0, 1))
        yaw = float(np.interp(frame, self.t, self.facing))
        place = beside(side, x, z, yaw, self.tall)
        self.feet[side].add(lift, land, (float(place[0]), float(place[1])), float(toed(side, yaw)))

    def step_along(self, first: float, last: float, lead: str) -> int:
        """Set the feet down along the way the root goes, however it goes, from the stride that is under way; how many steps."""
        fps, t = self.fps, self.t
        for foot in self.feet.values():
            foot.forget(first)
        under = max("rl", key=lambda side: self.feet[side].land[-1])
        landed = self.feet[under].land[-1]
        strides = landed > first - _STRIDES_S * fps and landed > t[0]
        # A foot that came down beside the body closed up: it sets off from standing.
        strides = strides and not (landed <= first and self._beside(under, landed))
        start = min(landed, first) if strides else first
        window = slice(int(np.searchsorted(t, start)), int(np.searchsorted(t, last, side="right")))
        now, place, facing, run = t[window], self.place[window], self.facing[window], self.running[window]
        if len(now) < 2:
            return 0
        speed = gaussian_filter1d(np.hypot(*np.diff(place, axis=0).T) * fps, 0.1 * fps, mode="nearest")
        share = (run[1:] + run[:-1]) / 2
        length, both = pace.gait(np.maximum(speed, _SHORTEST * speed.max()), self.tall, share)
        if run.any():
            # Who runs off, or stops, takes short steps.
            hard = np.abs(np.gradient(speed) * fps) / _HARD if len(speed) > 1 else np.zeros(1)
            length = length * (1 - _BRAKES * np.clip(hard, 0.0, 1.0))
        # Backwards people take short steps.
        turn, move = np.radians(facing[1:]), np.diff(place, axis=0)
        ahead = -move[:, 0] * np.sin(turn) - move[:, 1] * np.cos(turn)
        forward = ahead / np.maximum(np.hypot(*move.T), 1e-9)
        length = length * (1 - _BACKWARDS * np.clip(-forward, 0.0, 1.0))
        turning = np.abs(np.diff(facing)) * 2 / pace.TURN_A_PAIR
        phase = np.r_[0.0, np.cumsum(np.maximum(speed / fps / length, turning) + 1e-9)]
        begin = -0.5 if strides else 0.0
        phase += begin - np.interp(landed if strides else first, now, phase)
        count = max(round(float(phase[-1])), 0 if strides else 1)
        phase = begin + (phase - begin) * (count - begin) / max(phase[-1] - begin, 1e-6)

        def at(steps: Floats) -> tuple[Floats, Floats]:
            x, z = (np.interp(steps, phase, place[:, c]) for c in (0, 1))
            return np.stack([x, z], axis=-1), np.interp(steps, phase, facing)

        def when(steps: Floats) -> Floats:
            return np.interp(steps, phase, now)

        if strides:
            lead = "l" if under == "r" else "r"
            if landed > first:
                self._set_again(under, *at(np.zeros(1)))
        each = when(np.arange(1.0, count + 2) - 0.5)
        middle = (now[1:] + now[:-1]) / 2
        self.stands_until = first if strides else self.stands_until
        self.lay_footfalls(
            at, when, np.interp(each, middle, both), np.interp(each, middle, share), lead, first, last
        )
        return count

    def _beside(self, side: str, frame: float) -> bool:
        """Whether a foot stands where it would under the body as that is at a frame."""
        x, z = (float(np.interp(frame, self.t, self.place[:, c])) for c in (0, 1))
        place = beside(side, x, z, float(np.interp(frame, self.t, self.facing)), self.tall)
        foot = self.feet[side]
        return math.hypot(foot.x[-1] - float(place[0]), foot.z[-1] - float(place[1])) < _CLOSES_M

    def _set_again(self, side: str, place: Floats, yaw: Floats) -> None:
        """The step that is under way comes down elsewhere."""
        foot = self.feet[side]
        x, z = beside(side, place[0, 0], place[0, 1], yaw[0], self.tall)
        foot.x[-1], foot.z[-1], foot.yaw[-1] = float(x), float(z), float(toed(side, yaw[0]))
