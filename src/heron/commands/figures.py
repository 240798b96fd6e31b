"""Commands on figures."""

from typing import Any, Literal

import numpy as np
from pydantic import Field

from heron.commands.base import Command, Outcome, free_name, refuse_taken
from heron.commands.pacing import check_pace, heading_at, start_of
from heron.errors import Alternative, BadInput, Refused
from heron.model import Degrees, Id, Metres, Name, changed, new_id
from heron.scene import Scene, find, replace
from heron.stage.body.pace import COMFORTABLE_SPEED
from heron.stage.body.travel import frames_to_walk
from heron.stage.figure import AnyAct, Figure, Holds, Idle, Look, Point2, Stand, Walk
from heron.stage.fresh import look_of
from heron.stage.path import FloorPath
from heron.timebase import MAX_FRAMES, Frames, parse_rate
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
    holds: Holds = "nothing"

    def apply(self, scene: Scene) -> Outcome:
        name = self.name or free_name("Figure", {f.name for f in scene.figures}, first=len(scene.figures) + 1)
        refuse_taken(scene, "figures", name)
        content = {field: getattr(self, field) for field in type(self).model_fields if field != "kind"}
        look = self.look or look_of(len(scene.figures))
        figure = Figure.model_validate({**content, "name": name, "look": look})
        return scene.having(figures=(*scene.figures, figure)), f"Put {name} on the stage"


class SetFigure(Command):
    """Change a figure's name, stature, look, or what it does when it stands or holds."""

    kind: Literal["figure.set"] = "figure.set"
    figure: Id
    name: Name | None = None
    stature: float | None = Field(default=None, ge=0.3, le=4.0)
    look: Look | None = None
    idle: Idle | None = None
    holds: Holds | None = None

    def apply(self, scene: Scene) -> Outcome:
        figure: Figure = find(scene, "figures", self.figure)
        update: dict[str, Any] = {
            name: getattr(self, name)
            for name in ("name", "stature", "look", "idle", "holds")
            if getattr(self, name) is not None
        }
        if not update:
            raise BadInput("Nothing to set was named.", "Give a name, stature, look, idle or holds.")
        if self.name is not None:
            refuse_taken(scene, "figures", self.name, figure.id)
        return replace(
            scene, "figures", changed(figure, **update)
        ), f"Changed {figure.name}'s {' and '.join(update)}"


class WalkFigure(Command):
    """Have a figure walk through points from a frame; without a last frame, at a comfortable speed."""

    kind: Literal["figure.walk"] = "figure.walk"
    figure: Id
    points: tuple[Point2, ...] = Field(min_length=1, max_length=200)
    first: FrameNumber
    last: FrameNumber | None = None
    speed: float = Field(default=COMFORTABLE_SPEED, ge=0.1, le=4.0)
    #: Begin once what is under way is over.
    when_free: bool = False

    def apply(self, scene: Scene) -> Outcome:
        figure: Figure = find(scene, "figures", self.figure)
        begin = _free_from(figure, self.first) if self.when_free else self.first
        start = start_of(figure, Stand(frames=Frames(first=begin, last=begin)))
        points = np.array([start, *self.points])
        length = FloorPath(points).length
        if length < 0.05:
            raise Refused(
                "Add at least one point to the walk.", "Draw it at least one step long.", field="points"
            )
        fps = float(parse_rate(scene.rate))
        last = self.last
        if last is None:
            last = begin + frames_to_walk(points, heading_at(scene, figure, begin), self.speed, fps)
            # Where the scene ends sooner it is walked faster, as far as a person can.
            last = max(min(last, scene.frames.last), begin + 2)
        act = Walk(frames=Frames(first=begin, last=last), points=self.points)
        return AddAct(figure=self.figure, act=act).apply(scene)


class AddAct(Command):
    """Give a figure something to do over a range of frames."""

    kind: Literal["figure.act"] = "figure.act"
    figure: Id
    act: AnyAct
    #: Begin once what is under way is over, and end before what comes next.
    when_free: bool = False
    #: What comes after it is moved on by as much as it would overlap.
    push: bool = False

    def apply(self, scene: Scene) -> Outcome:
        figure: Figure = find(scene, "figures", self.figure)
        act = _fitted(scene, figure, self.act) if self.when_free else self.act
        others = _making_room(scene, figure, list(figure.acts), act, act.frames.first, self)
        after = changed(figure, acts=tuple(sorted([*others, act], key=lambda a: a.frames.first)))
        check_pace(scene, changed(figure, acts=tuple(others)), act)
        return replace(scene, "figures", after), _said("Had", figure, act)


class SetAct(Command):
    """Replace one of the things a figure does, counted from 0.

    With `push`, what comes after it is moved on by as much as it would overlap.
    """

    kind: Literal["figure.act.set"] = "figure.act.set"
    figure: Id
    index: int = Field(ge=0, le=MAX_FRAMES)
    act: AnyAct
    push: bool = False

    def apply(self, scene: Scene) -> Outcome:
        figure: Figure = find(scene, "figures", self.figure)
        kept = without_act(figure, self.index)
        was = figure.acts[self.index]
        kept = _making_room(scene, figure, kept, self.act, was.frames.first, self)
        acts = tuple(sorted([*kept, self.act], key=lambda a: a.frames.first))
        check_pace(scene, changed(figure, acts=tuple(kept)), self.act)
        return replace(scene, "figures", changed(figure, acts=acts)), _said("Now have", figure, self.act)


def _making_room(
    scene: Scene, figure: Figure, others: list[AnyAct], act: AnyAct, since: int, asked: AddAct | SetAct
) -> list[AnyAct]:
    """The other acts with those that begin after `since` moved on by as much as `act` would overlap them.

    Raises:
        Refused: it would, and `asked` does not push.
    """
    later = [other for other in others if other.frames.first > since]
    over = max((act.frames.stop - other.frames.first for other in later), default=0)
    if over <= 0 or act.frames.first >= later[-1].frames.stop:
        return others
    if not asked.push:
        push = Alternative("Move the rest too", (changed(asked, push=True).model_dump(mode="json"),))
        raise Refused(
            f"{figure.name} does something else from {later[0].frames.first} on: {later[0].kind}.",
            "Move what comes after it too, or make this shorter.",
            field="frames",
            alternatives=(push,),
        )
    moved = [_later(scene, figure, other, over) for other in later]
    return [other for other in others if other not in later] + moved


class DeleteAct(Command):
    """Take away one of the things a figure does, counted from 0."""

    kind: Literal["figure.act.delete"] = "figure.act.delete"
    figure: Id
    index: int = Field(ge=0, le=MAX_FRAMES)

    def apply(self, scene: Scene) -> Outcome:
        figure: Figure = find(scene, "figures", self.figure)
        kept = without_act(figure, self.index)
        gone = figure.acts[self.index]
        said = f"{figure.name} no longer does “{gone.kind}” at {gone.frames}"
        return replace(scene, "figures", changed(figure, acts=tuple(kept))), said


def _later(scene: Scene, figure: Figure, act: AnyAct, by: int) -> AnyAct:
    """An act so many frames later.

    Raises:
        Refused: the scene ends before that.
    """
    frames = Frames(first=act.frames.first + by, last=act.frames.last + by)
    if frames.last > scene.frames.last:
        raise Refused(
            f"What {figure.name} does after it would go on to {frames.last}; the scene ends at {scene.frames.last}.",
            "Lengthen the scene, or move it by less.",
            field="frames",
        )
    return changed(act, frames=frames)


def _free_from(figure: Figure, frame: int) -> int:
    """The first frame from `frame` on at which nothing is under way."""
    for act in figure.acts:
        if frame in act.frames:
            frame = act.frames.stop
    return frame


def _fitted(scene: Scene, figure: Figure, act: AnyAct) -> AnyAct:
    """The act where the figure has time for it, as long as it can be.

    Raises:
        Refused: it has no time left.
    """
    first = _free_from(figure, act.frames.first)
    stop = min((a.frames.first for a in figure.acts if a.frames.first >= first), default=scene.frames.stop)
    last = min(first + act.frames.count - 1, stop - 1, scene.frames.last)
    if last < first:
        raise Refused(
            f"{figure.name} is busy from {act.frames.first} to the end of the scene.",
            "Choose an earlier frame, or lengthen the scene.",
            field="frames",
        )
    return changed(act, frames=Frames(first=first, last=last))


def without_act(figure: Figure, index: int) -> list[AnyAct]:
    if index >= len(figure.acts):
        raise Refused(
            f"{figure.name} does only {len(figure.acts)} things.", "Choose one of them.", field="index"
        )
    return [a for i, a in enumerate(figure.acts) if i != index]


def _said(word: str, figure: Figure, act: AnyAct) -> str:
    return f"{word} {figure.name} {act.kind} at {act.frames} ({act.frames.count} f)"
