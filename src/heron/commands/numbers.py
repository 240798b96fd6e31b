"""One number of anything that has channels, as a person sets it: for good, or with a key where it has keys."""

from typing import Literal

from heron.commands.base import Command, Outcome
from heron.commands.keys import ChannelName, check_counts, check_frame, keyed_thing
from heron.commands.moving_parts import check_opening
from heron.curves import Key
from heron.errors import BadInput, Refused
from heron.model import Id, changed
from heron.scene import Scene, replace
from heron.scene.document import called
from heron.stage.acts import Act
from heron.stage.mover import Mover
from heron.timebase.frames import FrameNumber


class SetNumber(Command):
    """Set a number of a thing, or of a part of it, as it is shown: for good, or with a key where it has keys."""

    kind: Literal["number.set"] = "number.set"
    thing: Id
    #: By its whole name: `hinge.open`, `light.stops`, `act-3.right_hand_up`.
    channel: ChannelName
    value: float
    frame: FrameNumber
    #: Set a key although it has none yet.
    key: bool = False

    def apply(self, scene: Scene) -> Outcome:
        table, thing = keyed_thing(scene, self.thing)
        part = self.channel.split(".")[0]
        if isinstance(thing, Mover) and getattr(thing, part, True) is None:
            raise Refused(f"{thing.name} has no {part}.", "Give it one first.", field="thing")
        if isinstance(thing, Mover) and part == "hinge":
            check_opening(thing, self.value)
        spec, channel = thing.spec(self.channel), thing.channel(self.channel)
        if wrong := spec.complaint(self.value):
            raise BadInput(f"{wrong}.", "Correct it and send it again.", field="value")
        value = spec.kept(self.value)
        if channel.keys or self.key:
            check_frame(scene, self.frame)
            check_counts(thing, self.channel)
            was = channel.key_at(self.frame)
            new = channel.with_keys(changed(was, value=value) if was else Key(frame=self.frame, value=value))
        else:
            new = channel.at_rest(value)
        at = f" at {self.frame}" if new.keys else ""
        act = thing.parts().get(part)
        of = f"{thing.name}'s {act.LABEL.lower()}" if isinstance(act, Act) else called(thing)  # type: ignore[attr-defined]
        said = f"Set {spec.label.lower()} of {of} to {spec.said(round(self.value, 3))}{at}"
        return replace(scene, table, thing.with_channels({self.channel: new})), said
