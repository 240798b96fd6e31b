"""A walk's speed as one number, and what that does to all that follows."""

from typing import Any, Literal

import numpy as np
from pydantic import Field

from heron.commands.base import Command, Outcome
from heron.commands.pacing import check_pace, heading_at, start_of
from heron.errors import Refused
from heron.model import Id, changed
from heron.scene import Scene, find, replace
from heron.stage.body.travel import frames_to_walk
from heron.stage.figure import Figure, Walk
from heron.timebase import Frames, parse_rate
from heron.timebase.frames import MAX_FRAMES


class PaceWalk(Command):
    """Have a figure walk at a speed: walks keep their first frame, and what follows is pushed along if it must be."""

    kind: Literal["figure.pace"] = "figure.pace"
    figure: Id
    speed: float = Field(ge=0.05, le=10.0)
    #: Which of its acts, counted from 0; left out, every walk.
    index: int | None = Field(default=None, ge=0, le=MAX_FRAMES)

    def apply(self, scene: Scene) -> Outcome:
        figure: Figure = find(scene, "figures", self.figure)
        walks = [i for i, act in enumerate(figure.acts) if isinstance(act, Walk) and self.index in (None, i)]
        if not walks:
            raise Refused(f"{figure.name} has no walk to pace.", "Draw one first.", field="index")
        fps, said = float(parse_rate(scene.rate)), []
        acts: list[Any] = list(figure.acts)
        for i in walks:
            act = acts[i]
            points = np.array([start_of(changed(figure, acts=tuple(acts)), act), *act.points])
            trial = changed(figure, acts=tuple(acts))
            heading = heading_at(replace(scene, "figures", trial), trial, act.frames.first)
            last = act.frames.first + frames_to_walk(points, heading, self.speed, fps)
            acts[i] = changed(act, frames=Frames(first=act.frames.first, last=last))
            pushed = 0
            for j in range(i + 1, len(acts)):
                by = max(acts[j - 1].frames.last + 1 - acts[j].frames.first, 0)
                if by == 0:
                    break
                span = acts[j].frames
                acts[j] = changed(acts[j], frames=Frames(first=span.first + by, last=span.last + by))
                pushed = max(pushed, by)
            check_pace(scene, changed(figure, acts=tuple(acts[:i])), acts[i])
            said.append(f"to {last}" + (f", what follows is {pushed} f later" if pushed else ""))
        after = replace(scene, "figures", changed(figure, acts=tuple(acts)))
        return after, f"{figure.name} walks at {self.speed:g} m/s: {'; '.join(said)}"
