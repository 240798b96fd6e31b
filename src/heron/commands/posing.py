"""Commands on poses made by hand: a part dragged on the stage, a pose put, and right and left changed over."""

import math
from typing import Literal, get_args

import numpy as np
from pydantic import Field

from heron.bake import draft
from heron.commands.acts import AddAct, SetAct, act_of
from heron.commands.base import Command, Outcome, listed
from heron.commands.keys import check_frame
from heron.curves import Channel, Key, evaluate
from heron.errors import Refused
from heron.model import Id, Label, Metres, changed, new_id
from heron.scene import Scene, find
from heron.stage.acts.pose import Pose
from heron.stage.body.posing import TRUNK_SHARES
from heron.stage.body.weights import BLEND_S, lane_weights
from heron.stage.figure import Figure
from heron.stage.reference import OnFigure
from heron.stage.skeleton import INDEX, REST
from heron.timebase import Frames, parse_rate
from heron.timebase.frames import FrameNumber

Part = Literal["hips", "right_hand", "left_hand", "right_foot", "left_foot", "head"]
PARTS: tuple[Part, ...] = get_args(Part)
#: The joint by which each part is held.
HELD_BY: dict[Part, str] = {
    "hips": "pelvis", "right_hand": "knuckle_r", "left_hand": "knuckle_l", "right_foot": "ankle_r", "left_foot": "ankle_l",
    "head": "head",
}  # fmt: skip
#: A head goes so far for each radian that the trunk bends, and that the neck does, statures.
_BY_TRUNK = sum(
    share * float(REST[INDEX["head"], 1] - REST[INDEX[name], 1]) for name, share in TRUNK_SHARES.items()
)
_BY_NECK = 0.12
#: A pose that has come by less than this is hardly seen where it is dragged.
_LEAST_WEIGHT = 0.1
#: Shorter of what it was dragged to than this is not worth a word, metres.
_SHORT_M = 0.01


class MovePose(Command):
    """Drag a part of a body by so much on the stage at a frame: kept in the pose that is under way there, or a new one.

    Numbers that have keys get one there. Where a joint goes no farther it stays at its limit, and that is said.
    """

    kind: Literal["figure.pose.move"] = "figure.pose.move"
    figure: Id
    #: Which pose; left out, the one under way, else a new one.
    id: Id | None = None
    #: What a new one is called by.
    named: Id = Field(default_factory=lambda: new_id("act"))
    part: Part
    frame: FrameNumber
    dx: Metres = 0.0
    dy: Metres = 0.0
    dz: Metres = 0.0

    def apply(self, scene: Scene) -> Outcome:
        check_frame(scene, self.frame)
        more = ""
        if self._under_way(scene) is None:
            scene, more = _begun(scene, self.figure, self.named, self.frame)
        figure: Figure = find(scene, "figures", self.figure)
        pose = self._under_way(scene)
        weight = 0.0 if pose is None else _weight(scene, figure, pose, self.frame)
        if pose is None or weight < _LEAST_WEIGHT:
            raise Refused(
                f"{figure.name}'s pose has hardly begun at {self.frame}.",
                "Go to a frame farther inside it, or begin it earlier.",
                field="frame",
            )
        update, ends = self._moved(scene, figure, pose, weight)
        after, _ = SetAct(figure=figure.id, act=changed(pose, **update)).apply(scene)
        what = self.part.replace("_", " ")
        said = f"Moved {figure.name}'s {what} at {self.frame}{'; ' + more if more else ''}"
        if ends:
            said += f"; {listed(ends)} {'goes' if len(ends) == 1 else 'go'} no farther"
        return after, said + self._short(scene, after, figure)

    def _under_way(self, scene: Scene) -> Pose | None:
        figure: Figure = find(scene, "figures", self.figure)
        if self.id is not None and any(act.id == self.id for act in figure.acts):
            act = act_of(figure, self.id)
            if not isinstance(act, Pose):
                raise Refused("Only a pose is dragged.", "Choose one on the lane for poses.", field="id")
            return act
        there = [act for act in figure.acts if isinstance(act, Pose) and self.frame in act.frames]
        return there[-1] if there else None

    def _moved(
        self, scene: Scene, figure: Figure, pose: Pose, weight: float
    ) -> tuple[dict[str, Channel], list[str]]:
        """The channels that change, and the labels of those that are at an end of their range."""
        heading = draft(scene).root(figure)[1][self.frame - scene.frames.first]
        turn = math.radians(heading)
        across = self.dx * math.cos(turn) - self.dz * math.sin(turn)
        ahead = -self.dx * math.sin(turn) - self.dz * math.cos(turn)
        update, ends = {}, []
        for name, by in _numbers(self.part, across, self.dy, ahead, figure.stature).items():
            if not by:
                continue
            spec, channel = pose.spec(name), pose.channel(name)
            was = float(evaluate(channel, np.array([self.frame]))[0])
            value = was + by / weight
            if spec.complaint(value):
                value = min(max(value, spec.low), spec.high)
                ends.append(spec.label.lower())
            value = round(value, 4)
            key = channel.key_at(self.frame)
            update[name] = (
                channel.with_keys(changed(key, value=value) if key else Key(frame=self.frame, value=value))
                if channel.keys
                else channel.at_rest(value)
            )
        return update, ends

    def _short(self, before: Scene, after: Scene, figure: Figure) -> str:
        """What is said where a hand or a foot does not come along all the way."""
        if self.part in ("hips", "head"):
            return ""
        t = np.array([self.frame])
        spot = OnFigure(figure=figure.id, joint=HELD_BY[self.part])
        went = (draft(after).place(spot, t, bare=True) - draft(before).place(spot, t, bare=True))[0]
        short = float(np.linalg.norm(went - (self.dx, self.dy, self.dz)))
        limb = "arm" if self.part.endswith("hand") else "leg"
        return f"; the {limb} reaches no farther, {short:.2f} m short" if short > _SHORT_M else ""


class PutPose(Command):
    """Put a kept pose on a figure at a frame, its metres scaled to its stature."""

    kind: Literal["figure.pose.put"] = "figure.pose.put"
    figure: Id
    id: Id = Field(default_factory=lambda: new_id("act"))
    frame: FrameNumber
    name: Label = ""
    #: By their names; those left out are at rest.
    numbers: dict[str, float] = Field(max_length=40)
    #: Of whom it was made.
    stature: float = Field(default=1.7, ge=0.3, le=4.0)

    def apply(self, scene: Scene) -> Outcome:
        figure: Figure = find(scene, "figures", self.figure)
        check_frame(scene, self.frame)
        pose = Pose(id=self.id, name=self.name, frames=pose_frames(scene, self.frame))
        numbers = {pose.spec(name).name: Channel(rest=value) for name, value in self.numbers.items()}
        pose = changed(pose, **numbers).scaled(figure.stature / self.stature)
        after, said = AddAct(figure=figure.id, act=pose, when_free=True).apply(scene)
        return after, said.replace("pose", f"pose “{self.name}”", 1) if self.name else said


class MirrorPose(Command):
    """Change right and left over in a pose made by hand."""

    kind: Literal["figure.pose.mirror"] = "figure.pose.mirror"
    figure: Id
    id: Id

    def apply(self, scene: Scene) -> Outcome:
        figure: Figure = find(scene, "figures", self.figure)
        pose = act_of(figure, self.id)
        if not isinstance(pose, Pose):
            raise Refused("Only a pose can be mirrored.", "Choose one on the lane for poses.", field="id")
        after, _ = SetAct(figure=figure.id, act=pose.mirrored()).apply(scene)
        return after, f"Mirrored {figure.name}'s pose at {pose.frames}"


def pose_frames(scene: Scene, frame: int) -> Frames:
    """The frames of a new pose that is whole at a frame."""
    fps = float(parse_rate(scene.rate))
    first = max(frame - math.ceil(BLEND_S * fps), scene.frames.first)
    return Frames(first=first, last=first + math.ceil(Pose.USUAL_S * fps) - 1)


def _begun(scene: Scene, figure: str, id_: str, frame: int) -> tuple[Scene, str]:
    """The scene with a pose in which nothing is moved yet."""
    act = Pose(id=id_, frames=pose_frames(scene, frame))
    after, _ = AddAct(figure=figure, act=act, when_free=True).apply(scene)
    made = act_of(find(after, "figures", figure), id_)
    return after, f"made a pose at {made.frames}"


def _weight(scene: Scene, figure: Figure, pose: Pose, frame: int) -> float:
    """How far a pose has come at a frame, 0 to 1."""
    t = np.array([scene.frames.first, frame], dtype=np.float64)
    weights = lane_weights(figure.acts, "pose", t, float(parse_rate(scene.rate)))
    return next(float(w[-1]) for act, w in weights if act is pose)


def _numbers(part: Part, across: float, up: float, ahead: float, tall: float) -> dict[str, float]:
    """What a drag comes to, by the names of the numbers: metres, or for the head degrees of the trunk and the neck."""
    if part != "head":
        return {f"{part}_across": across, f"{part}_up": up, f"{part}_ahead": ahead}
    bend, side = (math.degrees(math.atan2(by, _BY_TRUNK * tall)) for by in (ahead, across))
    return {"bend": bend, "side_bend": side, "head_raise": math.degrees(math.atan2(up, _BY_NECK * tall))}
