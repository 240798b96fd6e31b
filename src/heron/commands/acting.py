"""Something new for a figure to do, as it usually is; it is changed from there."""

from typing import Any, Literal

import numpy as np
from pydantic import Field

from heron.bake import draft
from heron.commands.base import Command, Outcome
from heron.commands.figures import AddAct, SetAct, without_act
from heron.commands.keys import check_frame
from heron.errors import Refused
from heron.model import Id
from heron.scene import Scene, find
from heron.stage.figure import ACT_FRAMES, Act, Figure, PointAt, Stand, Talk, Turn
from heron.stage.reference import AtPoint, Spot
from heron.timebase import MAX_FRAMES, Frames
from heron.timebase.frames import FrameNumber

#: What is pointed at until something is named: so far ahead, at the height of a face, metres.
AHEAD_M, FACE_M = 5.0, 1.5
#: How far one turns until something is said, degrees to the left.
_QUARTER = 90.0


class BeginAct(Command):
    """Give a figure something to do from a frame on, as long as it usually takes, or as there is time for."""

    kind: Literal["figure.begin"] = "figure.begin"
    figure: Id
    does: Literal["talk", "turn", "point", "stand"]
    frame: FrameNumber

    def apply(self, scene: Scene) -> Outcome:
        figure: Figure = find(scene, "figures", self.figure)
        check_frame(scene, self.frame)
        frames = Frames(first=self.frame, last=self.frame + ACT_FRAMES - 1)
        act: Act
        if self.does == "turn":
            act = Turn(frames=frames, heading=_stance(scene, figure, self.frame)[2] + _QUARTER)
        elif self.does == "point":
            act = PointAt(frames=frames, at=_ahead(scene, figure, self.frame))
        else:
            act = Talk(frames=frames) if self.does == "talk" else Stand(frames=frames)
        return AddAct(figure=figure.id, act=act, when_free=True).apply(scene)


class PointElsewhere(Command):
    """Have a figure that points do so at something else; where nothing is named, at a place ahead of it."""

    kind: Literal["figure.point"] = "figure.point"
    figure: Id
    index: int = Field(ge=0, le=MAX_FRAMES)
    on: Spot | None = None
    frame: FrameNumber

    def apply(self, scene: Scene) -> Outcome:
        figure: Figure = find(scene, "figures", self.figure)
        check_frame(scene, self.frame)
        without_act(figure, self.index)
        act = figure.acts[self.index]
        if not isinstance(act, PointAt):
            raise Refused(f"{figure.name} does not point there.", "Choose an act that points.", field="index")
        at = self.on or _ahead(scene, figure, self.frame)
        new = PointAt(id=act.id, frames=act.frames, at=at)
        return SetAct(figure=figure.id, index=self.index, act=new).apply(scene)


def _stance(scene: Scene, figure: Figure, frame: int) -> tuple[float, float, float]:
    """Where a figure stands, x and z in metres, and the way it faces, degrees."""
    row: Any = draft(scene).rows(figure, np.array([frame]))[0]
    return float(row[0]), float(row[2]), float(row[3])


def _ahead(scene: Scene, figure: Figure, frame: int) -> AtPoint:
    """A place before a figure as it stands, to a centimetre."""
    x, z, heading = _stance(scene, figure, frame)
    turn = np.radians(heading)
    return AtPoint(x=round(x - AHEAD_M * np.sin(turn), 2), y=FACE_M, z=round(z - AHEAD_M * np.cos(turn), 2))
