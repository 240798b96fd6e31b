"""Takes a figure through walks, runs and turns: its root, and each foot's steps."""

import math
from collections.abc import Callable, Mapping
from typing import Any

import numpy as np
from scipy.ndimage import gaussian_filter1d

from heron.model import wrap_degrees
from heron.stage.acts.base import Shape, shaped
from heron.stage.body import pace
from heron.stage.body.company import way_along, way_of
from heron.stage.body.footfalls import Footfalls
from heron.stage.body.steps import Steps, beside
from heron.stage.path import FloorPath, at_corners

Floats = np.ndarray[Any, np.dtype[np.float64]]
Fact = dict[str, float]
#: Whether it starts and stops softly.
Soft = tuple[bool, bool]
#: How quick somebody is at frames (k,), against the rest of a way.
Tempo = Callable[[Floats], Floats]
#: Of a short way no more than this share is getting up to speed and stopping.
_RAMPS_SHARE = 0.4
#: How far to the side of its own shoulder an arm points in comfort, degrees: across the body, and outwards.
REACH_ACROSS, REACH_OUT = -25.0, 85.0
#: Turning to point leaves the thing so far to that side at most.
_LEAVES = (0.0, 45.0)
#: Feet follow head and shoulder when somebody turns to point, seconds (common practice).
FEET_AFTER_S = 0.25
#: Whatever moves is followed by the feet this often, seconds.
_AGAIN_S = 1.5
#: Slower than this it stands, metres a second.
_STANDS_M_S = 0.2
#: A way at least so long makes good what a blend leaves over, metres.
_MAKES_GOOD_M = 0.2


class Walker(Footfalls):
    """Runs a figure's acts in turn, each from where the last left the root and the feet."""

    def turn(self, to: float, first: float, last: float) -> None:
        """Turn on the spot to an unwrapped heading, stepping, within a range of frames."""
        delta = to - self.heading
        self.stands_until = last
        count = pace.steps_to_turn(delta)
        after = self.since(first)
        if count:
            slot = (last - first) / count
            # However much time there is, a foot is not in the air for longer than a step takes.
            swing = min(0.86 * slot, 1.1 * pace.TURN_STEP_S * self.fps)
            # The foot on the side of the turn opens first, the other closes.
            sides = "rl" if delta < 0 else "lr"
            for k in range(count):
                there = self.heading + delta * (k // 2 + 1) * 2 / count
                middle = first + (k + 0.5) * slot
                self.set_down(sides[k % 2], middle - swing / 2, middle + swing / 2, there)
            t = self.t[after]
            # The body comes round with the feet: a little ahead of the closing one.
            share = np.clip((t - first) / max(last - first, 1e-6), 0.0, 1.0)
            self.facing[after] = self.heading + delta * _smooth(share)
        else:
            t = self.t[after]
            share = np.clip((t - first) / max(last - first, 1e-6), 0.0, 1.0)
            self.facing[after] = self.heading + delta * _smooth(share)
        self.heading = to

    def walk(
        self, points: Floats, first: float, last: float, *, runs: bool = False, soft: Soft = (True, True),
        tempo: Tempo | None = None,
    ) -> Fact:  # fmt: skip
        """Walk or run through points; sharp corners, and a start that faces away, are turned on the spot.

        Args:
            tempo: how quick it is at frames (k,), against the rest of the way.
        """
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
        at, steps, speed = first, 0, 0.0
        for path, turn, took, frames in zip(
            parts, turns, each, self._striding(parts, each, first, span, tempo), strict=True
        ):
            if turn is not None:
                self.turn(turn, at, at + took)
                at += took
            ends = (soft[0] or path is not parts[0], soft[1] or path is not parts[-1])
            fact = self._stride(path, at, at + frames, runs, ends, tempo)
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

    def _striding(
        self, parts: list[FloorPath], each: list[float], first: float, span: float, tempo: Tempo | None
    ) -> list[float]:
        """Frames given to each straight or bent part of a way, besides its turns: by its length, and by how quick it is then."""
        total, free = sum(path.length for path in parts), span - sum(each)
        ramps = pace.RAMP_S * self.fps * len(parts)
        cruise = max(free - ramps, 0.3 * free)
        if tempo is None:
            return [cruise * path.length / total + (free - cruise) / len(parts) for path in parts]
        at, left, out = first, total, []
        for k, path in enumerate(parts):
            at += each[k]
            t = np.linspace(at, first + span - sum(each[k + 1 :]), 400)
            quick = tempo(t)
            done = np.r_[0.0, np.cumsum(quick[1:] + quick[:-1])]
            out.append(float(np.interp(path.length / left * done[-1], done, t)) - at)
            at, left = at + out[-1], max(left - path.length, 1e-9)
        return out

    def _stride(
        self, path: FloorPath, first: float, last: float, runs: bool, soft: Soft, tempo: Tempo | None = None
    ) -> Fact:
        t, fps, tall = self.t, self.fps, self.tall
        span = max(last - first, 1e-6)
        # With one soft end alone that has the share of both: a walk that is cut in two goes on as it did.
        ramp = min((pace.RUN_RAMP_S if runs else pace.RAMP_S) * fps / span, _RAMPS_SHARE / max(sum(soft), 1))
        dense = np.linspace(0.0, 1.0, 801)
        quick = tempo(first + dense * span) if tempo else np.ones_like(dense)
        done, most = _ramped(dense, ramp, soft, quick)
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
        under_way = np.ones(len(now))
        if soft[0]:
            under_way *= _smooth((now - first) / rise)
        if soft[1]:
            under_way *= _smooth((last - now) / rise)
        self.walking[inside] = under_way
        speed = most * path.length / (span / fps)
        metres_a_s = np.gradient(along) * fps if runs and len(along) > 1 else np.zeros(len(along))
        self.running[inside] = pace.running_share(metres_a_s) * under_way
        wanted = max(1, round(path.length / pace.step_length(speed, tall)))
        count = min(wanted, max(1, math.ceil(span / fps * pace.MOST_STEPS_A_SECOND)))

        def when(steps: Floats) -> Floats:
            return np.asarray(
                first + (last - first) * np.interp(np.clip(steps / count, 0.0, 1.0), done, dense)
            )

        def at(steps: Floats) -> tuple[Floats, Floats]:
            s = np.clip(steps, 0.0, count) * path.length / count
            return path.place(s), facing(s)

        lead = "r" if off <= 0 else "l"
        if not runs and tempo is None:
            both = pace.both_down(path.length / ((last - first) / fps), tall)
            self.lay_footfalls(at, when, np.full(count + 1, both), np.zeros(count + 1), lead, first, last)
        after = self.since(last)
        self.x, self.z = (float(v) for v in path.place(np.array([path.length]))[0])
        self.heading = float(facing(np.array([path.length]))[0])
        self.place[after] = (self.x, self.z)
        self.facing[after] = self.heading
        if runs or tempo is not None:
            count = self.step_along(first, last, lead)
        return {"speed": speed, "steps": float(count)}

    def glide(self, to: tuple[float, float], first: float, last: float, *, steps: str = "") -> None:
        """Go straight to a place facing as it does, by steps that `steps` leads off, or with the feet where they are."""
        inside = slice(int(np.searchsorted(self.t, first)), int(np.searchsorted(self.t, last, side="right")))
        share = _quick((self.t[inside] - first) / max(last - first, 1e-6))
        start = np.array([self.x, self.z])
        self.place[inside] = start + share[:, None] * (np.array(to) - start)
        self.x, self.z = to
        self.place[self.since(last)] = to
        if steps:
            self.step_along(first, last, steps)

    def brake(self, far: float, first: float, last: float) -> Fact:
        """Come to stand within so many metres, straight on from the speed it has at a frame."""
        i = self.since(first).start
        if not 2 <= i < len(self.t):
            return {}
        step = self.place[i - 1] - self.place[i - 2]
        a_frame = float(np.hypot(*step))
        if a_frame * self.fps < _STANDS_M_S:
            return {}
        takes = min(2 * far / a_frame, last - first)
        u = np.clip((self.t[i:] - first + 1) / takes, 0.0, 1.0)
        self.place[i:] = self.place[i - 1] + step * (takes * (u - u * u / 2))[:, None]
        self.walking[i:] = _smooth((1 - u) * takes / (0.3 * self.fps))
        self.x, self.z = (float(v) for v in self.place[-1])
        return {"metres": takes * a_frame / 2, "stops_by": first + takes}

    def walk_with(
        self, target: Floats, first: float, last: float, place: str, aside: float, far: float,
        leads: Mapping[str, Steps] | None = None,
    ) -> Fact:  # fmt: skip
        """Go beside or behind something, (n, 2) metres over the frames, as it goes; comes to it from where it stands.

        Args:
            aside: 1 to its right, −1 to its left.
            leads: the feet of who it goes with, to keep step with; none, its steps are its own.
        """
        fps, t = self.fps, self.t
        inside = slice(int(np.searchsorted(t, first)), int(np.searchsorted(t, last, side="right")))
        if inside.stop - inside.start < 2:
            return {}
        goal = way_along(target, place, aside, far, fps)
        off = np.array([self.x, self.z]) - goal[inside.start]
        takes = max(1.5, float(np.hypot(*off)) / pace.COMFORTABLE_SPEED * 1.875) * fps
        share = _quick((t[inside] - first) / min(takes, last - first))
        self.place[inside] = goal[inside] + (1 - share)[:, None] * off
        own = np.gradient(self.place[inside], axis=0) * fps
        own = gaussian_filter1d(own, 0.15 * fps, axis=0, mode="nearest")
        facing = way_of(own, self.heading)
        facing += 360.0 * np.round((self.heading - facing[0]) / 360.0)
        come = _smooth((t[inside] - first) / (0.5 * fps))
        facing = self.heading + come * (facing - self.heading)
        self.facing[inside] = gaussian_filter1d(facing, 0.15 * fps, mode="nearest")
        self.walking[inside] = _smooth(np.hypot(*own.T) / 0.5)
        end = inside.stop - 1
        self.x, self.z, self.heading = (
            float(self.place[end, 0]),
            float(self.place[end, 1]),
            float(self.facing[end]),
        )
        self.place[end:], self.facing[end:] = self.place[end], self.facing[end]
        metres = float(np.hypot(*np.diff(self.place[inside], axis=0).T).sum())
        if metres <= 0.05:
            return {"metres": metres}
        steps = self.keep_step(leads, first, last) if leads else self.step_along(first, last, "r")
        return {"metres": metres, "steps": float(steps)}

    def kneel(self, side: str, far: float, first: float, last: float, takes: float) -> None:
        """One foot steps back, so many statures, to go down on that knee, and comes back to the other at the end."""
        step = 0.5 * min(takes * self.fps, (last - first) / 2)
        turn = np.radians(self.heading)
        x, z = beside(side, self.x, self.z, self.heading, self.tall)
        back = far * self.tall
        self.feet[side].add(
            first + 0.1 * step, first + 1.1 * step, (float(x + back * np.sin(turn)), float(z + back * np.cos(turn))),
            float(self.heading),
        )  # fmt: skip
        if np.isfinite(last):
            self.set_down(side, last - 1.1 * step, last - 0.1 * step, self.heading)

    def blended(self, first: float, last: float, shape: Shape, go: Callable[[], Fact]) -> Fact:
        """What `go` does, begun while the act before it still goes on: its root comes over by weight from frame to frame.

        Both are planned from where the body is at the first frame. Their steps are mixed, not their places, so that
        the body is never pulled from one place to another; what that leaves over is made good over the way that is left.
        """
        t, n = self.t, len(self.t)
        i, j = (int(np.clip(np.searchsorted(t, f), 0, n - 1)) for f in (first, last + 1))
        tracks = (self.place, self.facing, self.walking, self.running)
        was = [track[i:].copy() for track in tracks]
        self.x, self.z = (float(v) for v in self.place[i])
        self.heading = float(self.facing[i])
        self.place[i:], self.facing[i:] = self.place[i], self.facing[i]
        self.walking[i:] = self.running[i:] = 0.0
        if np.ptp(was[0], axis=0).max() < 1e-6 and np.ptp(was[1]) < 1e-6:
            return go()
        for foot in self.feet.values():
            foot.forget(first)
        fact = go()
        w = shaped((t[i:] - first) / max(last + 1 - first, 1.0), shape)
        half = shaped((t[i:-1] + 0.5 - first) / max(last + 1 - first, 1.0), shape)[:, None]
        move = (1 - half) * np.diff(was[0], axis=0) + half * np.diff(self.place[i:], axis=0)
        place = np.vstack([was[0][:1], was[0][:1] + np.cumsum(move, axis=0)])
        gone = np.r_[0.0, np.cumsum(np.hypot(*np.diff(self.place[j:], axis=0).T))]
        if gone[-1] > _MAKES_GOOD_M:
            place[j - i :] -= (place[j - i] - self.place[j]) * _smooth(gone / gone[-1])[:, None]
        self.place[i:] = place
        for track, old in zip(tracks[1:], was[1:], strict=True):
            track[i:] = (1 - w) * old + w * track[i:]
        self.x, self.z, self.heading = float(place[-1, 0]), float(place[-1, 1]), float(self.facing[-1])
        moves = (np.abs(np.diff(place, axis=0)).max(axis=1) > 1e-7) | (
            np.abs(np.diff(self.facing[i:])) > 1e-5
        )
        end = float(t[i + int(np.flatnonzero(moves).max(initial=0)) + 1]) if moves.any() else last
        self.step_along(first, end, "r" if self.facing[-1] <= self.facing[i] else "l")
        return fact

    def go_on(self, since: float, first: float, last: float, go: Callable[[], Fact]) -> Fact:
        """What `go` does right after another walk that did not stop: one way, stepped along from where that began."""
        fact = go()
        lead = "r" if first <= since or self.feet["r"].lift[1:2] <= self.feet["l"].lift[1:2] else "l"
        for foot in self.feet.values():
            foot.forget(since)
        # Where the one ends and the next begins the body comes round as it does within a walk.
        part = slice(self.since(since).start, self.since(last).start + 1)
        self.facing[part] = gaussian_filter1d(self.facing[part], 0.15 * self.fps, mode="nearest")
        self.step_along(since, min(last, fact.get("stops_by", last)), lead)
        return fact

    def point(self, target: Floats, side: str, first: float, last: float) -> None:
        """Turn on the spot as far as an arm needs, and again where the thing goes on moving."""
        sign = 1.0 if side == "l" else -1.0
        at = first + FEET_AFTER_S * self.fps
        while at < last:
            i = min(int(np.searchsorted(self.t, at)), len(self.t) - 1)
            dx, dz = target[i, 0] - self.x, target[i, 2] - self.z
            yaw = wrap_degrees(math.degrees(math.atan2(-dx, -dz)) - self.heading)
            out = sign * yaw
            if not REACH_ACROSS <= out <= REACH_OUT:
                # Round the shorter way, to where the thing lies on the arm's own side.
                leave = sign * min(max(out, _LEAVES[0]), _LEAVES[1])
                to = self.heading + wrap_degrees(yaw - leave)
                took = min(pace.seconds_to_turn(to - self.heading) * self.fps, last - at)
                self.turn(to, at, at + max(took, 1.0))
                at += took
            at += _AGAIN_S * self.fps


def _smooth(u: Floats) -> Floats:
    u = np.clip(u, 0.0, 1.0)
    return u * u * (3 - 2 * u)


def _ramped(u: Floats, ramp: float, soft: Soft, quick: Floats) -> tuple[Floats, float]:
    """Distance done, 0 to 1, as quick as it is to be, with speed rising over `ramp` and falling where its ends are soft.

    Returns:
        that, and its highest speed against its mean.
    """
    away = np.minimum(u if soft[0] else np.ones_like(u), 1 - u if soft[1] else np.ones_like(u))
    speed = quick * np.minimum(1.0, away / max(ramp, 1e-9))
    done = np.r_[0.0, np.cumsum((speed[1:] + speed[:-1]) / 2 * np.diff(u))]
    return np.asarray(done / done[-1]), float(speed.max() / done[-1])


def _quick(u: Floats) -> Floats:
    u = np.clip(u, 0.0, 1.0)
    return np.asarray(u**3 * (10 - 15 * u + 6 * u * u))
