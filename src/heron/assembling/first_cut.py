"""A first assembly from the lines: which angle when, and why."""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from heron.assembling.angles import SEES, Angles, angles
from heron.assembling.cut_costs import CutCosts
from heron.assembling.drama import drama
from heron.assembling.judging import LONGEST_S, judge, lengths
from heron.assembling.people import Said, said, talkers
from heron.assembling.reasons import Reasons
from heron.assembling.shortest import Forced, shortest
from heron.assembling.wishes import Wishes
from heron.bake import Bake
from heron.errors import Refused
from heron.scene import Camera
from heron.stage.reference import OnFigure
from heron.timebase import Frames, parse_rate

#: The shortest shot, frames.
SHORTEST_F = 20


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
        if len(spoken) and not (found.seen[:, i][:, spoken] > SEES).any():
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
    costs = CutCosts(found, story.pair)
    forced = [
        Forced(len(cameras) + k, one.stage.first - frames.first, one.stage.stop - frames.first)
        for k, one in enumerate(kept)
    ]
    told = []
    best = shortest(judged.view, judged.moment, costs.of, judged.length, SHORTEST_F, forced)
    if best is None:
        # One camera alone cannot be cut away from.
        length = lengths(fps, wishes.pace, n)
        best = shortest(judged.view, judged.moment, costs.of, length, SHORTEST_F, forced)
        told.append(f"a shot is over {LONGEST_S:g} s, as there is no other camera to cut to")
    assert best is not None
    cost, runs = best
    reasons = Reasons(found, story, judged, costs, lines, names)
    shots = []
    for i, run in enumerate(runs):
        stage = Frames(first=frames.first + run.first, last=frames.first + run.stop - 1)
        was = kept[run.camera - len(cameras)].id if run.camera >= len(cameras) else None
        shots.append(Chosen(found.cameras[run.camera], stage, reasons.of(runs, i, was is not None), was))
    told += _at_once(lines)
    return Assembly(cost, tuple(shots), tuple(told))


def _at_once(lines: Sequence[Said]) -> list[str]:
    over = [
        f"{a.line.line.name} and {b.line.line.name}"
        for a, b in itertools.pairwise(lines)
        if b.first < a.stop and a.speaker != b.speaker
    ]
    return [f"of {over[0]}, said at once, the longer counts"] if over else []
