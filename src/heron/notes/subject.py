"""Whom a picture is about, frame by frame, and how it has them."""

from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np

from heron.framing.shot_size import FULL, SIZES, WIDE
from heron.notes.views import AT, MARKS, Flags, Floats, Person, Views
from heron.scene import Camera
from heron.stage.reference import AtPoint, OnFigure, OnMover, OnPiece

Ints = np.ndarray[Any, np.dtype[np.int64]]
#: Somebody becomes whom it is about only for so many frames.
HELD = 12
#: What counts more: to be focused on, to be aimed at; and less, to be turned away.
_FOCUSED, _AIMED, _AWAY = 1.8, 1.8, 0.35
#: How near a place that is aimed at must be to somebody's head or trunk to be them, metres.
_THEM_M = 0.6
#: From the crown to the soles, where a lower edge may cut, shares of stature.
_CHAIN = (
    (("crown",), 1.0), (("chin",), 0.87), (("neck",), 0.83), (("chest",), 0.70), (("spine",), 0.60), (("pelvis",), 0.53),
    (("knee_r", "knee_l"), 0.285), (("ankle_r", "ankle_l"), 0.039), (("sole_r", "sole_l"), 0.0),
)  # fmt: skip
#: How much of a stature is cut off at least in each of `SIZES` that does not hold all of a figure: halfway down to the joint that is
#: not in it any more, as `framing.shot_size` has it.
_CUTS = (0.824, 0.70, 0.60, 0.41, 0.285, 1e-6)


@dataclass(frozen=True)
class Subject:
    """A camera over n frames, and whom each is about: −1 where no head is in the frame.

    Attributes:
        who: (n,) a person's place; thing: (n,) whether the focus is on a thing instead.
        marks: (n, len(MARKS), 3) of whom it is about, seen from the camera (`Views.local`); NaN where it is nobody.
    """

    seen: Views
    people: list[Person]
    camera: Camera
    who: Ints
    thing: Flags
    marks: Floats
    top: Floats
    middle: Floats
    gaze: Floats
    stature: Floats
    aspect: float

    @cached_property
    def share(self) -> Floats:
        """(n,) of the frame's height that the whole figure would take."""
        deep = self.marks[:, AT["pelvis"], 2]
        with np.errstate(invalid="ignore", divide="ignore"):
            return np.where(deep > 0.05, self.stature / (2 * self.seen.half[:, 1] * deep), np.nan)

    @cached_property
    def cut(self) -> Floats:
        """(n,) how high on the body the lower edge cuts, shares of stature; 0 where the soles are in the frame."""
        chain = np.stack(
            [np.mean([self.marks[:, AT[one]] for one in names], axis=0) for names, _ in _CHAIN], axis=1
        )
        up = chain[..., 1] + self.seen.half[:, 1:] * chain[..., 2]
        heights = np.array([high for _, high in _CHAIN])
        found = np.zeros(len(up))
        left = np.ones(len(up), dtype=bool)
        for k in range(len(_CHAIN) - 1):
            over, under = up[:, k], up[:, k + 1]
            here = left & (over > 0) & (under <= 0)
            at = over[here] / (over[here] - under[here])
            found[here] = heights[k] + at * (heights[k + 1] - heights[k])
            left &= ~here
        found[left & (up[:, 0] <= 0)] = 1.0
        found[np.isnan(up[:, 0])] = np.nan
        return found

    @cached_property
    def size(self) -> Ints:
        """(n,) its place in `SIZES`; −1 of nobody."""
        by_cut = [self.cut > least for least in _CUTS]
        by_share = [self.share >= least for least in (FULL, WIDE)]
        found = np.select([*by_cut, *by_share], list(range(len(SIZES) - 1)), len(SIZES) - 1)
        return np.where(self.who < 0, -1, found)

    def placed(self, name: str) -> Floats:
        """(n, 2) where a mark of theirs is in the frame."""
        return self.seen.framed(self.marks[:, AT[name]])

    @cached_property
    def away(self) -> Flags:
        """(n,) whether they are turned away from the camera."""
        return np.asarray(self.gaze[:, 2] < -0.6)

    def names(self, i: int) -> list[str]:
        """Whose it is at a place, as a list."""
        return [] if self.who[i] < 0 else [self.people[self.who[i]].figure.name]


def subject(scene_aspect: float, camera: Camera, seen: Views, people: list[Person]) -> Subject:
    """Find whom each frame is about: who is large, near the upper third, focused on, aimed at, and not turned away."""
    n = len(seen.place)
    on = [camera.focus.in_force(frame) for frame in seen.t.tolist()]
    thing = np.array([isinstance(one, OnMover | OnPiece | AtPoint) for one in on])
    scores = np.full((len(people) + 1, n), -1.0)
    local = []
    for k, one in enumerate(people):
        middle = seen.local(one.middle)
        local.append(middle)
        at = seen.framed(middle)
        deep = seen.local(one.marks[:, AT["pelvis"]])[:, 2]
        low = middle[:, 1] + seen.half[:, 1] * middle[:, 2] > 0
        with np.errstate(invalid="ignore"):
            inside = (middle[:, 2] > 0.05) & (np.abs(at[:, 0]) < 1) & low & (at[:, 1] < 1.4)
            share = one.figure.stature / (2 * seen.half[:, 1] * np.maximum(deep, 0.1))
            score = np.sqrt(share) * np.maximum(1.15 - np.hypot(at[:, 0], at[:, 1] - 1 / 3), 0.02)
        focused = np.array([isinstance(f, OnFigure) and f.figure == one.figure.id for f in on])
        off = np.linalg.norm(
            np.stack([one.middle, one.marks[:, AT["chest"]]], axis=1) - seen.watched[:, None], axis=2
        )
        with np.errstate(invalid="ignore"):
            aimed = off.min(axis=1) < _THEM_M
        score = score * np.where(focused, _FOCUSED, 1) * np.where(aimed, _AIMED, 1)
        score *= np.where(seen.ways(one.gaze)[:, 2] < -0.35, _AWAY, 1)
        scores[k] = np.where(inside, score, -1)
    scores[-1] = 0.0
    who = steady(np.where(scores.max(axis=0) > 0, scores.argmax(axis=0), -1))
    # Whoever it stays with for the sake of steadiness must be in the frame.
    gone = (who >= 0) & (scores[who, np.arange(n)] < 0)
    who = np.where(gone, -1, who)
    marks = np.full((n, len(MARKS), 3), np.nan)
    top, middles, gaze = (np.full((n, 3), np.nan) for _ in range(3))
    stature = np.full(n, np.nan)
    for k, one in enumerate(people):
        rows = who == k
        if rows.any():
            marks[rows] = seen.local(one.marks)[rows]
            top[rows], middles[rows] = seen.local(one.top)[rows], local[k][rows]
            gaze[rows], stature[rows] = seen.ways(one.gaze)[rows], one.figure.stature
    return Subject(
        seen, people, camera, who, thing, marks, top, middles, gaze, stature, scene_aspect
    )  # fmt: skip


def steady(who: Ints, held: int = HELD) -> Ints:
    """(n,) without changes that last for less than so many frames: until then it is whom it was about before."""
    out = who.copy()
    changes = np.flatnonzero(np.r_[True, out[1:] != out[:-1]]) if len(out) else np.zeros(0, dtype=np.int64)
    for first, stop in zip(changes.tolist(), [*changes[1:].tolist(), len(out)], strict=True):
        if first > 0 and stop - first < held and stop < len(out):
            out[first:stop] = out[first - 1]
    return out
