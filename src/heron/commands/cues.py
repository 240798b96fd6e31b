"""Commands on cues, and frames put in or taken out of what is keyed."""

from typing import Literal

from pydantic import Field

from heron.commands.acts import act_of
from heron.commands.base import Command, Outcome, free_name, refuse_taken
from heron.commands.keys import ChannelName, check_frame, keyed_thing, named_channels
from heron.curves import Channel
from heron.curves.channel import Bound
from heron.errors import BadInput, Refused
from heron.model import Id, Name, changed, new_id
from heron.scene import Scene, find, replace
from heron.scene.cue import Cue
from heron.scene.document import called
from heron.stage.figure import Figure
from heron.timebase.frames import MAX_FRAME_NUMBER, FrameNumber


class AddCue(Command):
    """Set a cue at a frame; without a name it gets the next free one."""

    kind: Literal["cue.add"] = "cue.add"
    id: Id = Field(default_factory=lambda: new_id("cue"))
    name: Name | None = None
    frame: FrameNumber

    def apply(self, scene: Scene) -> Outcome:
        check_frame(scene, self.frame)
        name = self.name or free_name("Cue", {cue.name for cue in scene.cues})
        refuse_taken(scene, "cues", name)
        if any(cue.frame == self.frame for cue in scene.cues):
            raise Refused(
                f"There is a cue at {self.frame} already.",
                "Name that one, or go to another frame.",
                field="frame",
            )
        cue = Cue(id=self.id, name=name, frame=self.frame)
        cues = sorted([*scene.cues, cue], key=lambda one: one.frame)
        return scene.having(cues=tuple(cues)), f"Set the cue “{name}” at {self.frame}"


class SetCue(Command):
    """Rename a cue, move it, or have it go with the start or end of an act; with no act, let go of it."""

    kind: Literal["cue.set"] = "cue.set"
    cue: Id
    name: Name | None = None
    frame: FrameNumber | None = None
    figure: Id | None = None
    #: Which of its acts.
    act: Id | None = None
    end: Literal["first", "last"] = "first"
    free: bool = False

    def apply(self, scene: Scene) -> Outcome:
        cue: Cue = find(scene, "cues", self.cue)
        if self.name is None and self.frame is None and self.figure is None and not self.free:
            raise BadInput("Nothing about the cue was named.", "Give its name, its frame or an act.")
        said = f"Changed the cue “{cue.name}”"
        if self.name is not None and self.name != cue.name:
            refuse_taken(scene, "cues", self.name, cue.id)
            said = f"Called the cue “{cue.name}” “{self.name}”"
            cue = changed(cue, name=self.name)
        if self.frame is not None:
            check_frame(scene, self.frame)
            if any(one.frame == self.frame and one.id != cue.id for one in scene.cues):
                raise Refused(
                    f"There is a cue at {self.frame} already.", "Choose another frame.", field="frame"
                )
            said = f"Moved the cue “{cue.name}” to {self.frame}"
            cue = changed(cue, frame=self.frame)
        if self.free:
            cue, said = changed(cue, bound=None), f"The cue “{cue.name}” stays where it is in time"
        elif self.figure is not None:
            scene, bound, what = _bound(scene, self.figure, self.act, self.end)
            cue, said = changed(cue, bound=bound), f"The cue “{cue.name}” goes with {what}"
        cues = sorted((cue if one.id == cue.id else one for one in scene.cues), key=lambda one: one.frame)
        return scene.having(cues=tuple(cues)), said

    def reads(self) -> frozenset[str]:
        return frozenset({self.figure} if self.figure else ())


def _bound(scene: Scene, id_: str, at: str | None, end: Literal["first", "last"]) -> tuple[Scene, Bound, str]:
    figure: Figure = find(scene, "figures", id_)
    act = act_of(figure, at or "")
    word = {"first": "start", "last": "end"}[end]
    return (
        scene,
        Bound(figure=id_, act=act.id or "", end=end),
        f"the {word} of {figure.name}'s {act.LABEL.lower()}",
    )


class ShiftFrames(Command):
    """Put frames in here, or with less than none take them out: later keys of some channels follow.

    Frames that are taken out go with the keys on them.
    """

    kind: Literal["keys.frames"] = "keys.frames"
    thing: Id
    #: Channels or groups; all where none is named.
    channels: tuple[ChannelName, ...] = Field(default=(), max_length=200)
    frame: FrameNumber
    count: int = Field(ge=-MAX_FRAME_NUMBER, le=MAX_FRAME_NUMBER)

    def apply(self, scene: Scene) -> Outcome:
        if self.count == 0:
            raise BadInput("No frames are put in.", "Give a number of them.", field="count")
        table, thing = keyed_thing(scene, self.thing)
        check_frame(scene, self.frame)
        names = dict.fromkeys(n for c in self.channels or ("all",) for n in named_channels(thing, c))
        new: dict[str, Channel] = {}
        moved = gone = 0
        for name in names:
            channel = thing.channel(name)
            keys = []
            for key in channel.keys:
                if key.frame < self.frame:
                    keys.append(key)
                elif self.count < 0 and key.frame < self.frame - self.count:
                    gone += 1
                else:
                    check_frame(scene, key.frame + self.count)
                    keys.append(changed(key, frame=key.frame + self.count))
                    moved += 1
            if len(keys) != len(channel.keys) or keys != list(channel.keys):
                rest = channel.rest if keys or not channel.keys else channel.keys[0].value
                new[name] = changed(channel, rest=rest, keys=tuple(keys))
        if not new:
            raise Refused(
                f"{called(thing)[:1].upper()}{called(thing)[1:]} has no keys from {self.frame} on.",
                "Go to an earlier frame, or choose other channels.",
                field="frame",
            )
        n = abs(self.count)
        frames = f"{n} frame{'s' if n > 1 else ''}"
        said = (
            f"Put {frames} in at {self.frame}" if self.count > 0 else f"Took {frames} out from {self.frame}"
        )
        lost = f", and {gone} key{'s' if gone > 1 else ''} with them" if gone else ""
        return replace(
            scene, table, thing.with_channels(new)
        ), f"{said} for {called(thing)}{lost}: {moved} later keys follow"
