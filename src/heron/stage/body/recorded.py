"""Recorded motion over what a body does by rule: where it goes, how it is turned, and where its feet are."""

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

import numpy as np

from heron.stage.acts.base import Act, content_frames
from heron.stage.acts.body import Recorded
from heron.stage.body.feet import Foot, Ground, turned
from heron.stage.body.walker import Walker
from heron.stage.motions.recording import Recording, recording_of
from heron.stage.physique import Physique
from heron.stage.skeleton import INDEX
from heron.stage.turning import Turns, angles_of

Floats = np.ndarray[Any, np.dtype[np.float64]]
Fact = dict[str, float]
_SIDES = ("r", "l")


class Replay:
    """A recording that an act plays, over some frames, in metres.

    Attributes:
        weight: (n,) how much of it counts.
        own: the recording at each frame.
    """

    def __init__(
        self, act: Recorded, recording: Recording, weight: Floats, t: Floats, fps: float, physique: Physique
    ) -> None:
        self.weight = weight
        self.own = recording.at(content_frames(act, t) / fps)
        self._physique = physique

    def pelvis(self) -> Floats:
        """(n, 3) metres in the root's frame."""
        return self._up(self.own.pelvis)

    def foot(self, foot: Foot, side: str, root: Floats, facing: Turns, ground: Ground) -> Foot:
        """A foot that goes over to where the recording has it, on the ground that is there."""
        k, w = _SIDES.index(side), self.weight
        ankle = root + facing.apply(self._up(self.own.ankles[:, k]))
        ankle[:, 1] += ground(ankle[:, [0, 2]]) - root[:, 1]
        sole = facing * Turns(self.own.soles[:, k])
        return replace(
            foot, ankle=foot.ankle + w[:, None] * (ankle - foot.ankle), turn=mixed(turned(foot).as_quat(), sole.as_quat(), w),
            yaw=foot.yaw + w * ((angles_of(sole.as_quat())[0] - foot.yaw + 180) % 360 - 180), pitch=foot.pitch * (1 - w),
            planted=np.where(w > 0.5, self.own.planted[:, k], foot.planted),
        )  # fmt: skip

    def knee(self, side: str, facing: Turns) -> Floats:
        """(n, 3) the axis that a knee bends about."""
        thigh = (
            facing
            * Turns(self.own.turns[:, INDEX["pelvis"]])
            * Turns(self.own.turns[:, INDEX[f"hip_{side}"]])
        )
        return thigh.apply([1.0, 0.0, 0.0])

    def _up(self, places: Floats) -> Floats:
        """Recorded heights are over where ankles stand."""
        return np.asarray(places * self._physique.leg + [0.0, self._physique.ankle, 0.0])


def replays(weights: Sequence[tuple[Act, Floats]], t: Floats, fps: float, physique: Physique) -> list[Replay]:
    """What recordings play, in order; what has no file here does nothing."""
    out = []
    for act, weight in weights:
        if isinstance(act, Recorded) and weight.any():
            recording = recording_of(act.file)
            if recording is not None:
                out.append(Replay(act, recording, weight, t, fps, physique))
    return out


def mixed(one: Floats, two: Floats, weight: Floats) -> Floats:
    """(n, …, 4) rotations that go over from the first to the second, the shorter way."""
    dots = np.sum(one * two, axis=-1, keepdims=True)
    w = weight.reshape(-1, *(1,) * (one.ndim - 1))
    out = one * (1 - w) + np.where(dots < 0, -two, two) * w
    return np.asarray(out / np.linalg.norm(out, axis=-1, keepdims=True))


def follow(walker: Walker, act: Recorded, first: float, last: float) -> Fact:
    """Take a body where a recording goes, from where it stands and the way it faces.

    Played again and again it goes on from where the last time ended.
    """
    recording = recording_of(act.file)
    inside = slice(int(np.searchsorted(walker.t, first)), int(np.searchsorted(walker.t, last, side="right")))
    t = walker.t[inside]
    if recording is None or not len(t):
        return {}
    fps, leg = walker.fps, walker.physique.leg
    each = act.frames.count * act.speed / act.repeat
    since = np.clip(t - act.frames.first, 0.0, act.frames.count - 1e-6) * act.speed
    round_ = np.floor(since / each).astype(np.int64)
    # Its beginning, its end once round, and each frame.
    at = recording.at(
        np.r_[
            content_frames(act, np.array([float(act.frames.first)])),
            max(act.slip, 0) + each - 1,
            content_frames(act, t),
        ]
        / fps
    )
    place, heading = at.place * leg, at.heading
    if not act.goes:
        place = np.zeros_like(place)
    own, turned = _from(place[0], heading[0], place, heading)
    lap, lap_turn = own[1], turned[1]
    begin, begin_turn = np.zeros(2), 0.0
    out, faces = own[2:].copy(), turned[2:].copy()
    for k in range(1, int(round_.max(initial=0)) + 1):
        begin, begin_turn = begin + _about(lap, begin_turn), begin_turn + lap_turn
        here = round_ == k
        out[here], faces[here] = begin + _about(out[here], begin_turn), begin_turn + faces[here]
    start = np.array([walker.x, walker.z])
    walker.place[inside] = start + _about(out, walker.heading)
    walker.facing[inside] = walker.heading + faces
    metres = float(np.linalg.norm(np.diff(walker.place[inside], axis=0), axis=1).sum())
    end = walker.place[inside][-1]
    walker.x, walker.z, walker.heading = float(end[0]), float(end[1]), float(walker.facing[inside][-1])
    after = walker.since(last)
    walker.place[after], walker.facing[after] = end, walker.heading
    walker.step_along(first, last, "r")
    walker.stands_until = last
    return {"metres": metres}


def _from(place: Floats, heading: float, places: Floats, headings: Floats) -> tuple[Floats, Floats]:
    """Places and headings as they are seen from one of them."""
    return _about(places - place, -heading), headings - heading


def _about(places: Floats, degrees: float) -> Floats:
    """x and z turned about the upright."""
    a = np.radians(degrees)
    x, z = places[..., 0], places[..., 1]
    return np.stack([x * np.cos(a) + z * np.sin(a), z * np.cos(a) - x * np.sin(a)], axis=-1)
