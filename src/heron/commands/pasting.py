"""Keys copied from one channel to another of the same measure: of another camera, at another time."""

from typing import Literal

import numpy as np
from pydantic import Field

from heron.commands.base import Command, Outcome
from heron.commands.fitting import fitted
from heron.commands.keys import ChannelName, check_counts, check_frame, keyed_thing
from heron.curves import Channel, Key
from heron.curves.evaluate import evaluate
from heron.curves.spec import Measure
from heron.errors import BadInput, Refused
from heron.model import Id, Model, changed
from heron.scene import Camera, Scene, replace
from heron.scene.document import called
from heron.timebase.frames import FrameNumber


class Copied(Model):
    """Keys as they were copied from a channel, and where they are to go."""

    channel: ChannelName
    #: The measure of the channel they come from.
    measure: Measure
    keys: tuple[Key, ...] = Field(min_length=1, max_length=10_000)


class PasteKeys(Command):
    """Put copied keys into a thing's channels, the earliest at a frame; what lies between them goes."""

    kind: Literal["keys.paste"] = "keys.paste"
    thing: Id
    frame: FrameNumber
    copied: tuple[Copied, ...] = Field(min_length=1, max_length=200)
    #: Their values are raised so that each channel goes on from where it is at that frame.
    join: bool = False
    #: How much higher they are put, in the measure the channels are kept in.
    up: float = Field(default=0.0, ge=-1e6, le=1e6)
    force: bool = False

    def apply(self, scene: Scene) -> Outcome:
        table, thing = keyed_thing(scene, self.thing)
        by = self.frame - min(key.frame for one in self.copied for key in one.keys)
        new: dict[str, Channel] = {}
        for one in self.copied:
            spec = thing.spec(one.channel)
            check_counts(thing, one.channel)
            if spec.measure != one.measure:
                raise Refused(
                    f"Keys in {one.measure} cannot go on the {spec.label.lower()}, which is in {spec.measure}.",
                    "Choose a channel of the same unit.",
                    field="channel",
                )
            if one.channel in new:
                raise BadInput(
                    f"Two lots of keys would go on the {spec.label.lower()}.", "Give each its own channel.", field="channel"
                )  # fmt: skip
            channel = thing.channel(one.channel)
            keys = sorted(one.keys, key=lambda key: key.frame)
            first, last = keys[0].frame + by, keys[-1].frame + by
            check_frame(scene, first)
            check_frame(scene, last)
            up = self.up
            if self.join:
                up += float(evaluate(channel, np.array([first]))[0]) - keys[0].value
            put = [changed(key, frame=key.frame + by, value=key.value + up, bound=None) for key in keys]
            for key in put:
                wrong = spec.complaint(spec.shown(key.value))
                if wrong:
                    raise BadInput(f"{wrong}.", "Paste them lower, or elsewhere.", field="up")
            kept = tuple(key for key in channel.keys if not first <= key.frame <= last)
            new[one.channel] = changed(channel, keys=kept).with_keys(*put)
        after = thing.with_channels(new)
        count = sum(len(one.keys) for one in self.copied)
        said = f"Put {count} copied key{'s' if count > 1 else ''} on {called(thing)} at {self.frame}"
        if isinstance(thing, Camera) and isinstance(after, Camera):
            return fitted(scene, thing, after, said, force=self.force)
        return replace(scene, table, after), said
