"""Commands on figures."""

from typing import Any, Literal

import numpy as np
from pydantic import Field

from heron.commands.acts import AddAct, free_from
from heron.commands.base import Command, Outcome, free_name, refuse_taken
from heron.commands.pacing import standing_at
from heron.errors import BadInput, Refused
from heron.model import Degrees, Id, Metres, Name, changed, new_id
from heron.scene import Scene, find, replace
from heron.stage.acts.body import Point2, Run, Walk
from heron.stage.body.pace import COMFORTABLE_SPEED, RUNS_FROM
from heron.stage.body.travel import frames_to_walk
from heron.stage.figure import Figure, Idle, Look, Voice
from heron.stage.fresh import look_of
from heron.stage.path import FREEHAND_M, FloorPath, few_points
from heron.timebase import Frames, parse_rate
from heron.timebase.frames import FrameNumber


class AddFigure(Command):
    """Stand a figure on the stage; without a name or look it gets the next free ones."""

    kind: Literal["figure.add"] = "figure.add"
    id: Id = Field(default_factory=lambda: new_id("fig"))
    name: Name | None = None
    stature: float = Field(default=1.7, ge=0.3, le=4.0)
    look: Look | None = None
    x: Metres
    z: Metres
    heading: Degrees = 0.0
    idle: Idle = "stand"

    def apply(self, scene: Scene) -> Outcome:
        name = self.name or free_name("Figure", {f.name for f in scene.figures}, first=len(scene.figures) + 1)
        refuse_taken(scene, "figures", name)
        content = {field: getattr(self, field) for field in type(self).model_fields if field != "kind"}
        look = self.look or look_of(len(scene.figures))
        figure = Figure.model_validate({**content, "name": name, "look": look})
        return scene.having(figures=(*scene.figures, figure)), f"Put {name} on the stage"


class SetFigure(Command):
    """Change a figure's name, stature, look, voice, or what it does when it stands."""

    kind: Literal["figure.set"] = "figure.set"
    figure: Id
    name: Name | None = None
    stature: float | None = Field(default=None, ge=0.3, le=4.0)
    look: Look | None = None
    idle: Idle | None = None
    voice: Voice | None = None

    def apply(self, scene: Scene) -> Outcome:
        figure: Figure = find(scene, "figures", self.figure)
        update: dict[str, Any] = {
            name: getattr(self, name)
            for name in ("name", "stature", "look", "idle", "voice")
            if getattr(self, name) is not None
        }
        if not update:
            raise BadInput("Nothing to set was named.", "Give a name, stature, look, idle or voice.")
        if self.name is not None:
            refuse_taken(scene, "figures", self.name, figure.id)
        return replace(
            scene, "figures", changed(figure, **update)
        ), f"Changed {figure.name}'s {' and '.join(update)}"


class WalkFigure(Command):
    """Have a figure walk through points from a frame; without a last frame, at a comfortable speed."""

    kind: Literal["figure.walk"] = "figure.walk"
    figure: Id
    points: tuple[Point2, ...] = Field(min_length=1, max_length=4000)
    #: They are a line drawn by hand: as few of them are kept as give the same way.
    freehand: bool = False
    first: FrameNumber
    last: FrameNumber | None = None
    #: Metres a second; left out, a comfortable walk. From 2.2 on it is a run.
    speed: float = Field(default=COMFORTABLE_SPEED, ge=0.1, le=6.0)
    #: Begin once what is under way is over.
    when_free: bool = False

    def apply(self, scene: Scene) -> Outcome:
        figure: Figure = find(scene, "figures", self.figure)
        begin = free_from(figure, "body", self.first) if self.when_free else self.first
        x, z, heading = standing_at(scene, figure, begin)
        points = np.array([(x, z), *self.points])
        if self.freehand:
            points = np.array([points[0], *few_points(points[1:], FREEHAND_M)])
        if len(points) > 201:
            raise Refused(
                "A walk goes through 200 points at the most.", "Draw it in two parts.", field="points"
            )
        way = self.points
        if self.freehand:
            way = tuple((round(float(px), 3), round(float(pz), 3)) for px, pz in points[1:])
        length = FloorPath(points).length
        if length < 0.05:
            raise Refused(
                "Add at least one point to the walk.", "Draw it at least one step long.", field="points"
            )
        fps = float(parse_rate(scene.rate))
        runs = self.speed >= RUNS_FROM
        last = self.last
        if last is None:
            last = begin + frames_to_walk(points, heading, self.speed, fps, runs=runs)
            # Where the scene ends sooner it is walked faster, as far as a person can.
            last = max(min(last, scene.frames.last), begin + 2)
        frames = Frames(first=begin, last=last)
        act = Run(frames=frames, points=way) if runs else Walk(frames=frames, points=way)
        return AddAct(figure=self.figure, act=act).apply(scene)
