"""Commands on acts: put on a lane, changed, moved in time, split, copied and deleted."""

from collections.abc import Sequence
from itertools import count
from typing import Any, Literal

from pydantic import Field

from heron.commands.act_checks import (
    check_subject,
    leads_through,
    missed_by,
    past_the_end,
    short_blend,
)
from heron.commands.base import Command, Outcome, listed
from heron.commands.keys import check_frame
from heron.commands.pacing import check_pace
from heron.commands.rigs import refuse_loops
from heron.commands.thing_checks import check_things
from heron.commands.walk_cuts import cut_short, going_on, split_way
from heron.errors import Alternative, NotFound, Refused
from heron.model import Id, changed, new_id
from heron.scene import Scene, find, replace
from heron.scene.document import spot_called
from heron.scene.links import links
from heron.stage.acts import Act, AnyAct, Lane
from heron.stage.acts.base import QUICKEST, SLOWEST
from heron.stage.acts.body import Run, StopShort, Walk
from heron.stage.acts.face import Express
from heron.stage.acts.look import LookAt
from heron.stage.acts.pose import Pose
from heron.stage.figure import Figure
from heron.stage.lanes import BLENDED, making_room, on_lane
from heron.timebase import Frames
from heron.timebase.frames import MAX_FRAMES, FrameNumber


class AddAct(Command):
    """Give a figure something to do over a range of frames, on the lane of its kind.

    Where it overlaps another one of a lane that blends, the one goes over into the other; what would overlap it by more
    than half of the shorter one is made shorter.
    """

    kind: Literal["figure.act"] = "figure.act"
    figure: Id
    act: AnyAct
    #: Begin once what is under way on its lane is over, and end before what comes next.
    when_free: bool = False
    #: Later acts on its lane are moved on by as much as it would overlap them.
    follow: bool = False

    def apply(self, scene: Scene) -> Outcome:
        figure: Figure = find(scene, "figures", self.figure)
        act: Any = self.act if self.act.id else changed(self.act, id=_free_id(figure))
        if any(one.id == act.id for one in figure.acts):
            raise Refused(
                f"{figure.name} already has an act {act.id}.",
                "Leave the id out, or change that act.",
                field="id",
            )
        others, said = list(figure.acts), ""
        if isinstance(act, StopShort):
            others, said = cut_short(scene, figure, act.frames.first)
        if self.when_free and not said:
            act = _fitted(scene, figure, act)
        act = going_on(others, act)
        if self.follow:
            later = [one for one in on_lane(others, act.LANE) if one.frames.first >= act.frames.first]
            by = max(act.frames.stop - later[0].frames.first, 0) if later else 0
            others = _later(scene, figure, others, later, by)
        after, more = put(scene, figure, others, act, changed(self, act=act))
        return after, _told("Had", scene, figure, act) + said + more


class SetAct(Command):
    """Change one of the things a figure does, named by its id, to this.

    With `follow`, later acts on its lane move along with its end; else they keep their frames.
    """

    kind: Literal["figure.act.set"] = "figure.act.set"
    figure: Id
    act: AnyAct
    follow: bool = False

    def apply(self, scene: Scene) -> Outcome:
        figure: Figure = find(scene, "figures", self.figure)
        was = act_of(figure, self.act.id or "")
        others: list[Any] = [one for one in figure.acts if one.id != was.id]
        if self.follow:
            later = [one for one in on_lane(others, was.LANE) if one.frames.first > was.frames.first]
            others = _later(scene, figure, others, later, self.act.frames.last - was.frames.last)
        after, said = put(scene, figure, others, self.act, self)
        return after, _told("Now have", scene, figure, self.act) + said


class TrimAct(Command):
    """Drag one end of something a figure does to a frame: its content is cut there, or stretched to fit.

    A walk, a run or a turn always fits. With `follow`, later acts on its lane move along with its end.
    """

    kind: Literal["figure.act.trim"] = "figure.act.trim"
    figure: Id
    id: Id
    end: Literal["first", "last"]
    frame: FrameNumber
    stretch: bool = False
    follow: bool = False

    def apply(self, scene: Scene) -> Outcome:
        figure: Figure = find(scene, "figures", self.figure)
        was: Any = act_of(figure, self.id)
        frames = Frames.model_validate({**was.frames.model_dump(), self.end: self.frame})
        update: dict[str, Any] = {"frames": frames}
        if was.TIMED and self.stretch:
            speed = was.speed * was.frames.count / frames.count
            if not SLOWEST <= speed <= QUICKEST:
                raise Refused(
                    f"{figure.name}'s {was.LABEL.lower()} would run at {speed:.2f} times its speed.",
                    f"Stretch it to between {SLOWEST:g} and {QUICKEST:g} times, or trim it instead.",
                    field="frame",
                )
            update["speed"] = round(speed, 4)
        elif was.TIMED and self.end == "first" and was.repeat == 1:
            # What is left stays where it is in time.
            update["slip"] = was.slip + round((frames.first - was.frames.first) * was.speed)
        act = changed(was, **update)
        after, told = SetAct(figure=figure.id, act=act, follow=self.follow).apply(scene)
        _, semicolon, more = told.partition("; ")
        word = "Stretched" if "speed" in update else "Trimmed"
        pace = f" at {act.speed:.2f} times its speed" if "speed" in update else ""
        return after, f"{word} {figure.name}'s {was.LABEL.lower()} to {frames}{pace}{semicolon}{more}"


class MoveActs(Command):
    """Move some of the things a figure does in time, all by as many frames."""

    kind: Literal["figure.acts.move"] = "figure.acts.move"
    figure: Id
    ids: tuple[Id, ...] = Field(min_length=1, max_length=500)
    by: int = Field(ge=-MAX_FRAMES, le=MAX_FRAMES)
    #: All that comes later on their lanes moves along.
    follow: bool = False

    def apply(self, scene: Scene) -> Outcome:
        figure: Figure = find(scene, "figures", self.figure)
        chosen = [act_of(figure, id_) for id_ in self.ids]
        if self.follow:
            since: dict[Lane, int] = {}
            for act in chosen:
                since[act.LANE] = min(act.frames.first, since.get(act.LANE, act.frames.first))
            chosen = [a for a in figure.acts if a.LANE in since and a.frames.first >= since[a.LANE]]
        out, told = scene, ""
        # From the side they go to, so that they do not push each other.
        for act in sorted(chosen, key=lambda one: one.frames.first, reverse=self.by > 0):
            now: Figure = find(out, "figures", self.figure)
            others: list[Any] = [one for one in now.acts if one.id != act.id]
            out, said = put(out, now, others, _shifted(act, self.by))
            told += said
        what = listed([act.LABEL.lower() for act in chosen]) if len(chosen) < 8 else f"{len(chosen)} acts"
        return out, f"Moved {figure.name}'s {what} by {self.by} frames{told}"


class SplitAct(Command):
    """Cut one of the things a figure does in two at a frame: together they do what it did."""

    kind: Literal["figure.act.split"] = "figure.act.split"
    figure: Id
    id: Id
    frame: FrameNumber
    named: Id = Field(default_factory=lambda: new_id("act"))

    def apply(self, scene: Scene) -> Outcome:
        figure: Figure = find(scene, "figures", self.figure)
        act: Any = act_of(figure, self.id)
        at, frames = self.frame, act.frames
        if not frames.first < at <= frames.last:
            raise Refused(
                f"At {at} {figure.name}'s {act.LABEL.lower()} has nothing on both sides.",
                f"Go to a frame from {frames.first + 1} to {frames.last}.",
                field="frame",
            )
        parts = (Frames(first=frames.first, last=at - 1), Frames(first=at, last=frames.last))
        one, two = changed(act, frames=parts[0]), changed(act, frames=parts[1], id=self.named)
        if isinstance(act, Walk | Run):
            one, two = split_way(scene, figure, act, one, two)
        elif act.TIMED and act.repeat == 1:
            two = changed(two, slip=act.slip + round((at - frames.first) * act.speed))
        acts = [one if other.id == act.id else other for other in figure.acts]
        after = replace(scene, "figures", changed(figure, acts=(*acts, two)))
        return after, f"Split {figure.name}'s {act.LABEL.lower()} at {at}"


class CopyActs(Command):
    """Copy things that a figure does, to a frame on, to itself or another figure."""

    kind: Literal["figure.acts.copy"] = "figure.acts.copy"
    figure: Id
    ids: tuple[Id, ...] = Field(min_length=1, max_length=500)
    #: Whom they are copied to; left out, to the same figure.
    to: Id | None = None
    #: Where the first of them begins; left out, behind the last of them, or at the same frames of another figure.
    frame: FrameNumber | None = None

    def apply(self, scene: Scene) -> Outcome:
        figure: Figure = find(scene, "figures", self.figure)
        other = self.to or self.figure
        chosen: list[Any] = [act_of(figure, id_) for id_ in self.ids]
        first = min(act.frames.first for act in chosen)
        frame = self.frame
        if frame is None:
            frame = first if other != figure.id else max(act.frames.stop for act in chosen)
        out, told = scene, ""
        for act in sorted(chosen, key=lambda one: one.frames.first):
            now: Figure = find(out, "figures", other)
            copy: Any = changed(_shifted(act, frame - first), id=new_id("act"))
            if isinstance(copy, Pose):
                copy = copy.scaled(now.stature / figure.stature)
            if copy.frames.first > scene.frames.last:
                raise Refused(
                    f"The copy would begin at {copy.frames.first}; the scene ends at {scene.frames.last}.",
                    "Go to an earlier frame, or lengthen the scene.",
                    field="frame",
                )
            out, said = put(out, now, list(now.acts), copy)
            told += said
        what = listed([act.LABEL.lower() for act in chosen])
        whom = find(scene, "figures", other).name
        return (
            out,
            f"Copied {figure.name}'s {what} to {frame}{'' if other == figure.id else f' of {whom}'}{told}",
        )


class DeleteAct(Command):
    """Take away some of the things a figure does."""

    kind: Literal["figure.act.delete"] = "figure.act.delete"
    figure: Id
    ids: tuple[Id, ...] = Field(min_length=1, max_length=500)

    def apply(self, scene: Scene) -> Outcome:
        figure: Figure = find(scene, "figures", self.figure)
        gone = [act_of(figure, id_) for id_ in self.ids]
        kept = tuple(act for act in figure.acts if act.id not in self.ids)
        what = listed([f"{act.LABEL.lower()} at {act.frames}" for act in gone])
        after = replace(scene, "figures", changed(figure, acts=kept))
        return after, f"Deleted {figure.name}'s {what}"


def _free_id(figure: Figure) -> str:
    taken = {act.id for act in figure.acts}
    return next(name for n in count(1) if (name := f"act-{n}") not in taken)


def act_of(figure: Figure, id_: str) -> Act:
    """One of the things a figure does.

    Raises:
        NotFound: it does no such thing.
    """
    found = next((act for act in figure.acts if act.id == id_), None)
    if found is None:
        raise NotFound(
            f"{figure.name} has no act {id_ or 'without an id'}.",
            "It may have been deleted; choose another.",
            field="id",
        )
    return found


def put(
    scene: Scene, figure: Figure, others: list[Any], act: Any, asked: AddAct | SetAct | None = None
) -> Outcome:
    """The scene with an act beside others of a figure, and what is said of those it made shorter.

    Raises:
        Refused: it leaves another one no room, asks for more than a body can do, or looks at itself.
    """
    name = figure.name
    acts, told = making_room(others, act)
    for was, now in told:
        if now is None:
            raise Refused(
                f"{name} does something else at {was.frames}: {was.LABEL.lower()}.",
                "Move what comes after it along, or choose other frames.",
                field="frames",
                alternatives=_along(asked) if was.frames.first >= act.frames.first else (),
            )
    without = changed(figure, acts=tuple(one for one in acts if one.id != act.id))
    check_subject(scene, without, act)
    after = replace(scene, "figures", changed(figure, acts=tuple(acts)))
    if links(act):
        refuse_loops(after)
    check_pace(scene, without, act)
    for was, now in told:
        assert now is not None
        check_pace(scene, changed(figure, acts=tuple(one for one in acts if one.id != was.id)), now)
    said = [
        f"; {was.LABEL.lower()} is now {now.frames}, so that half of it is left beside the blend"
        for was, now in told
        if now is not None
    ]
    check_things(scene, after, figure, act)
    missed = missed_by(after, figure.id, act) if isinstance(act, LookAt) else ""
    more = missed + short_blend(acts, act) + past_the_end(scene, act) + leads_through(after, figure.id, act)
    return after, "".join(said) + more


def _along(asked: AddAct | SetAct | None) -> tuple[Alternative, ...]:
    """The way out of a lane that has no room: what comes later moves along."""
    if asked is None or asked.follow:
        return ()
    return (Alternative("Move the rest along", (changed(asked, follow=True).model_dump(mode="json"),)),)


def _shifted(act: Act, by: int) -> Act:
    first = act.frames.first + by
    if first < 0:
        raise Refused(f"It would begin at {first}.", "Frames are numbered from 0 on.", field="by")
    return act.later(by)


def _later(scene: Scene, figure: Figure, others: list[Any], later: Sequence[Act], by: int) -> list[Any]:
    """The acts with some of them so many frames later.

    Raises:
        Refused: the scene ends before that.
    """
    end = max((act.frames.last + by for act in later), default=0)
    if by > 0 and end > scene.frames.last:
        raise Refused(
            f"What {figure.name} does after it would go on to {end}; the scene ends at {scene.frames.last}.",
            "Lengthen the scene, or move it by less.",
            field="frames",
        )
    ids = {act.id for act in later}
    return [_shifted(one, by) if one.id in ids else one for one in others]


def free_from(figure: Figure, lane: Lane, frame: int) -> int:
    """The first frame from `frame` on at which nothing is under way on a lane."""
    for act in on_lane(figure.acts, lane):
        if frame in act.frames:
            frame = act.frames.stop
    return frame


def _fitted(scene: Scene, figure: Figure, act: Any) -> Any:
    """The act where its lane has time for it, as long as it can be.

    Raises:
        Refused: it has no time left.
    """
    if act.LANE not in BLENDED:
        last = min(act.frames.last, scene.frames.last)
        check_frame(scene, act.frames.first)
        return changed(act, frames=Frames(first=act.frames.first, last=last))
    first = free_from(figure, act.LANE, act.frames.first)
    lane = on_lane(figure.acts, act.LANE)
    stop = min((a.frames.first for a in lane if a.frames.first >= first), default=scene.frames.stop)
    last = min(first + act.frames.count - 1, stop - 1, scene.frames.last)
    if last < first:
        raise Refused(
            f"{figure.name} is busy from {act.frames.first} to the end of the scene.",
            "Choose an earlier frame, or lengthen the scene.",
            field="frames",
        )
    return changed(act, frames=Frames(first=first, last=last))


def _told(word: str, scene: Scene, figure: Figure, act: Any) -> str:
    if isinstance(act, Express):
        return f"{figure.name} shows {act.expression} at {act.frames} ({act.frames.count} f)"
    if isinstance(act, LookAt):
        return f"{figure.name} looks at {spot_called(scene, act.at)} from {act.frames.first} to {act.frames.last}"
    return f"{word} {figure.name} {act.LABEL.lower()} at {act.frames} ({act.frames.count} f)"
