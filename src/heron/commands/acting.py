"""Something new for a figure to do, as it usually is; it is changed from there."""

import math
from typing import Any, Literal

import numpy as np
from pydantic import Field

from heron.bake import draft
from heron.commands.acts import AddAct
from heron.commands.base import Command, Outcome
from heron.commands.keys import check_frame
from heron.commands.pacing import standing_at
from heron.commands.posing import pose_frames
from heron.commands.usual_things import usual_thing
from heron.errors import BadInput, Refused
from heron.model import Id, new_id
from heron.scene import Scene, find
from heron.stage.acts import ACT_FRAMES, KINDS, Act, AnyAct
from heron.stage.acts.body import LeanOn, Sit, Turn, WalkWith
from heron.stage.acts.face import Express, Expression
from heron.stage.acts.hands import Handling
from heron.stage.acts.pose import Pose
from heron.stage.body.travel import SIT_S, seat_on, to_the_seat
from heron.stage.figure import Figure
from heron.stage.floors import walkable_height
from heron.stage.reference import AtPoint, OnFigure
from heron.timebase import Frames, parse_rate
from heron.timebase.frames import FrameNumber

#: What is pointed at until something is named: so far ahead, at the height of a face, metres.
AHEAD_M, FACE_M = 5.0, 1.5
#: What is reached for until something is named: so far ahead, and at what height, shares of stature.
_IN_REACH, _REACH_UP = 0.36, 0.68
#: How far one turns until something is said, degrees to the left.
_QUARTER = 90.0
#: A seat is looked for so far away, metres.
_SEAT_WITHIN_M = 4.0
#: Acts that go where they are told are drawn on the plan.
_DRAWN = ("walk", "run")


class BeginAct(Command):
    """Give a figure something to do from a frame on, as long as it usually takes, or as there is time for."""

    kind: Literal["figure.begin"] = "figure.begin"
    id: Id = Field(default_factory=lambda: new_id("act"))
    figure: Id
    does: str = Field(max_length=40)
    expression: Expression | None = None
    frame: FrameNumber

    def apply(self, scene: Scene) -> Outcome:
        figure: Figure = find(scene, "figures", self.figure)
        check_frame(scene, self.frame)
        kind = next((k for k in KINDS if kind_name(k) == self.does), None)
        if kind is None or self.does in _DRAWN:
            raise BadInput(
                f"{self.does!r} is nothing that begins at once.", "Choose another act.", field="does"
            )
        more = ""
        if issubclass(kind, Handling | LeanOn):
            scene, more, named = usual_thing(scene, figure, kind, self.frame)
            act = self._usual(scene, figure, kind, named)
        else:
            act = self._usual(scene, figure, kind, {})
        after, said = AddAct(figure=figure.id, act=act, when_free=True).apply(scene)
        return after, said + more

    def _usual(self, scene: Scene, figure: Figure, kind: type[Act], named: dict[str, Any]) -> AnyAct:
        fps = float(parse_rate(scene.rate))
        count = ACT_FRAMES if kind.USUAL_S == Act.USUAL_S else math.ceil(kind.USUAL_S * fps)
        update: dict[str, Any] = {
            "id": self.id, "kind": self.does, "frames": Frames(first=self.frame, last=self.frame + count - 1),
        }  # fmt: skip
        update |= named
        if named:
            pass
        elif kind is Pose:
            update["frames"] = pose_frames(scene, self.frame)
        elif kind is Turn:
            update["heading"] = standing_at(scene, figure, self.frame)[2] + _QUARTER
        elif kind is Sit:
            piece, takes = _nearest_seat(scene, figure, self.frame)
            update["on"] = piece
            update["frames"] = Frames(first=self.frame, last=self.frame + takes - 1)
        elif kind is Express:
            update["expression"] = self.expression or "joy"
        elif self.does == "reach":
            update["at"] = ahead_of(
                scene, figure, self.frame, _IN_REACH * figure.stature, _REACH_UP * figure.stature
            )
        elif kind is WalkWith:
            update["at"] = _nearest_figure(scene, figure, self.frame)
        elif "at" in kind.model_fields:
            update["at"] = ahead_of(scene, figure, self.frame)
        return kind.model_validate(update)  # type: ignore[return-value]


def kind_name(kind: type[Act]) -> str:
    """What a kind of act is called in documents."""
    return str(kind.model_fields["kind"].default)


def ahead_of(scene: Scene, figure: Figure, frame: int, far: float = AHEAD_M, high: float = FACE_M) -> AtPoint:
    """A place before a figure as it stands at a frame, so high over its floor, to a centimetre."""
    x, z, heading = standing_at(scene, figure, frame)
    floor = float(walkable_height(scene.pieces, np.array([[x, z]]))[0])
    turn = math.radians(heading)
    return AtPoint(
        x=round(x - far * math.sin(turn), 2), y=round(floor + high, 2), z=round(z - far * math.cos(turn), 2)
    )


def _nearest_figure(scene: Scene, figure: Figure, frame: int) -> OnFigure:
    """Who is nearest.

    Raises:
        Refused: nobody else is there.
    """
    x, z, _ = standing_at(scene, figure, frame)
    others = [(one, standing_at(scene, one, frame)) for one in scene.figures if one.id != figure.id]
    if not others:
        raise Refused("There is nobody else to walk with.", "Put a second figure on the stage.", field="does")
    near = min(others, key=lambda one: math.hypot(one[1][0] - x, one[1][1] - z))[0]
    return OnFigure(figure=near.id, joint="root")


def _nearest_seat(scene: Scene, figure: Figure, frame: int) -> tuple[str, int]:
    """What somebody can sit on and is nearest, and how many frames it takes to get there and sit down.

    Raises:
        Refused: nothing near by is a seat.
    """
    x, z, heading = standing_at(scene, figure, frame)
    fps = float(parse_rate(scene.rate))
    found = []
    bake = draft(scene)
    for piece in scene.pieces:
        seat = seat_on(
            bake.piece_at(piece, frame), x, z, figure.stature, lambda p: walkable_height(scene.pieces, p)
        )
        if seat is not None:
            there = sum(to_the_seat((x, z, heading), seat[0], seat[1], fps))
            found.append(
                (math.hypot(seat[0][0] - x, seat[0][1] - z), piece.id, math.ceil(there + SIT_S * fps))
            )
    if not found or min(found)[0] > _SEAT_WITHIN_M:
        raise Refused(
            f"Nothing within {_SEAT_WITHIN_M:g} m of {figure.name} is a seat.",
            f"Put up a box {0.26 * figure.stature:.2f} m high, or walk to one first.",
            field="does",
        )
    return min(found)[1:]
