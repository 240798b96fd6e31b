"""A first assembly from the lines: which angle when, and why."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from heron.assembling.angles import Angles, angles
from heron.assembling.drama import Drama, drama
from heron.assembling.going_over import GoingOver
from heron.assembling.people import said, talkers
from heron.assembling.reasons import Reasons
from heron.assembling.shortest import Forced, Run, shortest
from heron.assembling.wishes import Wishes
from heron.bake import Bake
from heron.errors import Refused
from heron.framing.shot_size import SIZES
from heron.scene import Camera
from heron.stage.reference import OnFigure
from heron.timebase import Frames, parse_rate

Floats = np.ndarray[Any, np.dtype[np.float64]]

#: The shortest shot, frames, and the longest, seconds.
SHORTEST_F, LONGEST_S = 20, 15.0
#: What counts by the second: not to see who matters; a step of size off; and another shot than the one of all, at first.
SEEN, SIZE, START = 1.6, 0.5, 1.3
#: How far lengths stray from the pace, as a share of e; what that counts; and what a moment that falls badly counts.
SPREAD, LENGTH, MOMENT = 0.5, 0.8, 0.9
#: A figure is seen by a camera that has so much of it.
_SEES = 0.05


@dataclass(frozen=True)
class Kept:
    """A shot that stays: its camera among those that are asked, and its frames."""

    id: str
    camera: int
    stage: Frames


@dataclass(frozen=True)
class Chosen:
    """A shot of an assembly; `kept`: the id of the shot that it is, where it was there before."""

    camera: Camera
    stage: Frames
    why: str
    kept: str | None = None


@dataclass(frozen=True)
class Assembly:
    """The cut that costs least, and what should be said of it."""

    cost: float
    shots: tuple[Chosen, ...]
    said: tuple[str, ...]


@dataclass(frozen=True)
class Judged:
    """What an assembly is judged by. (c, n) for what a frame of a camera costs; its parts are kept for the reasons."""

    attention: Floats
    size: Floats
    start: Floats
    moment: Floats
    length: Floats

    @property
    def view(self) -> Floats:
        return np.asarray(self.attention.sum(axis=1) + self.size + self.start)


def assemble(
    bake: Bake, cameras: tuple[Camera, ...], frames: Frames, wishes: Wishes, kept: Sequence[Kept] = ()
) -> Assembly:
    """Work out a first assembly.

    Args:
        kept: in order of their frames, which do not overlap.

    Raises:
        Refused: nothing is said there, or a camera sees none of those who speak.
    """
    fps = float(parse_rate(bake.scene.rate))
    people = talkers(bake, frames)
    lines = said(bake, frames, people)
    if not lines:
        raise Refused(
            f"Nothing is said on the stage's {frames}.", "Write lines or bring some in first.", field="frames"
        )
    if not people:
        raise Refused(
            "Nobody on the stage speaks: there are only voices off.",
            "Give a line to a figure that is there.",
            field="frames",
        )
    found = angles(bake, cameras, people, frames)
    for i, one in enumerate(people):
        spoken = np.concatenate(
            [np.arange(s.first, s.stop) for s in lines if s.speaker == i] or [np.array([], int)]
        )
        if len(spoken) and not (found.seen[:, i][:, spoken] > _SEES).any():
            raise Refused(
                f"No camera sees {one.name}, who speaks.",
                "Add one that does, or have the conversation covered.",
                field="cameras",
            )
    names = [one.name for one in people]
    favoured = next((i for i, one in enumerate(people) if one.id == wishes.favour), None)
    feet = np.array(
        [bake.place(OnFigure(figure=one.id, joint="root"), frames.array())[:, [0, 2]] for one in people]
    )
    story = drama(lines, names, feet, fps, wishes, favoured)
    n = frames.count
    # Each shot that is kept is on a camera of its own: a cut to it from the same camera is a cut all the same.
    own = [*range(len(cameras)), *(one.camera for one in kept)]
    found = Angles(
        tuple(cameras[i] for i in own), found.seen[own], found.subject[own], found.size[own], found.places[own], found.heads
    )  # fmt: skip
    judged = judge(found, story, fps, wishes)
    going = GoingOver(found, story.pair)
    forced = [
        Forced(len(cameras) + k, one.stage.first - frames.first, one.stage.stop - frames.first)
        for k, one in enumerate(kept)
    ]
    told = []
    best = shortest(judged.view, judged.moment, going.costs, judged.length, SHORTEST_F, forced)
    if best is None:
        # One camera alone cannot be cut away from.
        length = lengths(fps, wishes.pace, n)
        best = shortest(judged.view, judged.moment, going.costs, length, SHORTEST_F, forced)
        told.append(f"a shot is over {LONGEST_S:g} s, as there is no other camera to cut to")
    assert best is not None
    cost, runs = best
    reasons = Reasons(found, story, judged, going, lines, names, fps)
    shots = []
    for i, run in enumerate(runs):
        stage = Frames(first=frames.first + run.first, last=frames.first + run.stop - 1)
        was = kept[run.camera - len(cameras)].id if run.camera >= len(cameras) else None
        shots.append(Chosen(found.cameras[run.camera], stage, reasons.of(runs, i, was is not None), was))
    told += _at_once(lines)
    return Assembly(cost, tuple(shots), tuple(told))


def lengths(fps: float, pace: float, most: int) -> Floats:
    """(most + 1,) what a shot of so many frames costs: as the logarithm of its length strays from the pace's."""
    seconds = np.maximum(np.arange(most + 1), 0.5) / fps
    return np.asarray(LENGTH * np.log(seconds / pace) ** 2 / (2 * SPREAD**2))


def judge(found: Angles, story: Drama, fps: float, wishes: Wishes) -> Judged:
    """What each camera costs on each frame, and shots by their lengths."""
    attention = SEEN * story.worth[None] * (1 - found.seen) / fps
    off = np.abs(np.minimum(found.size, len(SIZES)) - story.size)
    start = np.zeros_like(off)
    opening = min(round(wishes.master * fps), off.shape[1])
    master = (found.subject == found.several) & (found.seen > _SEES).all(axis=1)
    if opening and master[:, 0].any():
        start[:, :opening] = START / fps * ~master[:, :1]
    moment = MOMENT * story.moment[found.subject, np.arange(off.shape[1])]
    length = lengths(fps, wishes.pace, min(round(LONGEST_S * fps), off.shape[1]))
    return Judged(attention, SIZE * off / fps, start, moment, length)


def _at_once(lines: Sequence[Any]) -> list[str]:
    over = [
        f"{a.line.line.name} and {b.line.line.name}"
        for a, b in zip(lines, lines[1:], strict=False)
        if b.first < a.stop and b.stop - b.first and a.speaker != b.speaker
    ]
    return [f"of {over[0]}, said at once, the longer counts"] if over else []


__all__ = ["Assembly", "Chosen", "Kept", "Run", "assemble"]
