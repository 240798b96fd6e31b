"""A walk's speed as one number, and what that does to all that follows."""

from typing import Any, Literal

import numpy as np
from pydantic import Field

from heron.commands.base import Command, Outcome
from heron.commands.pacing import check_pace, standing_at
from heron.errors import BadInput, Refused
from heron.model import Id, changed
from heron.scene import Scene, find, replace
from heron.stage.acts.body import Run, Walk
from heron.stage.body.travel import frames_to_walk
from heron.stage.figure import Figure
from heron.stage.lanes import BLENDED
from heron.timebase import Frames, parse_rate
from heron.timebase.frames import FrameNumber


class PaceWalk(Command):
    """Have a figure walk at a speed: walks keep their first frame, and what follows is pushed along if it must be."""

    kind: Literal["figure.pace"] = "figure.pace"
    figure: Id
    #: Metres a second.
    speed: float | None = Field(default=None, ge=0.05, le=10.0)
    #: In place of a speed, the frame by which it arrives.
    arrive: FrameNumber | None = None
    #: Which of its acts; left out, every walk, or the last one that begins before it is to arrive.
    id: Id | None = None

    def apply(self, scene: Scene) -> Outcome:
        figure: Figure = find(scene, "figures", self.figure)
        walks = [
            i
            for i, act in enumerate(figure.acts)
            if isinstance(act, Walk | Run) and self.id in (None, act.id)
        ]
        if (self.speed is None) == (self.arrive is None):
            raise BadInput(
                "A walk is paced by its speed or by when it arrives.", "Give one of them.", field="speed"
            )
        if self.arrive is not None:
            walks = [i for i in walks if figure.acts[i].frames.first < self.arrive][-1:]
        if not walks:
            raise Refused(f"{figure.name} has no walk to pace.", "Draw one first.", field="id")
        fps, said = float(parse_rate(scene.rate)), []
        acts: list[Any] = list(figure.acts)
        for i in walks:
            act = acts[i]
            trial = changed(figure, acts=tuple(acts))
            x, z, heading = standing_at(scene, trial, act.frames.first)
            last = self.arrive
            if self.speed is not None:
                points = np.array([(x, z), *act.points])
                last = act.frames.first + frames_to_walk(
                    points, heading, self.speed, fps, runs=isinstance(act, Run)
                )
            assert last is not None
            acts[i] = changed(act, frames=Frames(first=act.frames.first, last=last))
            pushed = _pushed(acts, i, act.frames.last)
            before = [one for j, one in enumerate(acts) if j < i or one.LANE != "body"]
            check_pace(
                scene, changed(figure, acts=tuple(one for one in before if one is not acts[i])), acts[i]
            )
            said.append(f"to {last}" + (f", what follows is {pushed} f later" if pushed else ""))
        after = replace(scene, "figures", changed(figure, acts=tuple(acts)))
        how = f"walks at {self.speed:g} m/s: {'; '.join(said)}" if self.speed else f"arrives at {self.arrive}"
        return after, f"{figure.name} {how}"


def _pushed(acts: list[Any], i: int, ended: int) -> int:
    """Move on what follows an act that now ends later, as far as it must, overlaps and all; by how many frames at most."""
    pushed, end, was = 0, acts[i].frames.last, ended
    for j in range(i + 1, len(acts)):
        span = acts[j].frames
        if acts[j].LANE not in BLENDED:
            continue
        over = max(was - span.first + 1, 0) if acts[j].LANE == "body" else 0
        by = max(end + 1 - over - span.first, 0)
        if by == 0:
            break
        acts[j] = acts[j].later(by)
        pushed, end, was = max(pushed, by), acts[j].frames.last, span.last
    return pushed
