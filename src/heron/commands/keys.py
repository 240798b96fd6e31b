"""Commands on keys: of any thing that has channels, on any of them, several at once.

A key is named by (thing, channel, frame). In place of one channel a whole group may be named
(`pose`, `lens`, `exposure`), or `all`: then every key at that frame on a channel of it is meant.
"""

from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from heron.commands.base import Command, Outcome, capital, find_any, unlocked
from heron.commands.fitting import fitted
from heron.curves import Channel, Key, Keyed, KeyKind, evaluate
from heron.curves.channel import Handle
from heron.curves.edits import with_key_on_curve
from heron.curves.spec import Group
from heron.errors import BadInput, Refused
from heron.model import Id, Model, changed
from heron.scene import Camera, Scene, replace
from heron.scene.document import called
from heron.timebase.frames import FrameNumber

ChannelName = Annotated[str, Field(min_length=1, max_length=120)]
_GROUPS: frozenset[Group] = frozenset({"pose", "lens", "exposure", "focus", "layer", "act"})


class KeyAt(Model):
    """A key, or all keys of a channel or group at a frame or over a range."""

    thing: Id
    channel: ChannelName = "pose"
    frame: FrameNumber
    #: All keys from that frame to this one, rather than one alone.
    last: FrameNumber | None = None


class NewKey(Model):
    """A key to set: its value as the channel shows it (a stop as its f-number)."""

    thing: Id
    channel: ChannelName
    frame: FrameNumber
    value: float
    #: How the curve comes in and goes out; left out, as the key that was there, else eased.
    before: KeyKind | None = None
    after: KeyKind | None = None


KeysAt = Annotated[tuple[KeyAt, ...], Field(min_length=1, max_length=10_000)]
#: (thing's id, channel, frame) to the key that is there.
Found = dict[tuple[str, str, int], Key]


def check_frame(scene: Scene, frame: int) -> None:
    """A key or mark can only be where the scene is.

    Raises:
        Refused: the frame is outside the scene.
    """
    if frame not in scene.frames:
        raise Refused(
            f"Frame {frame} is outside the scene's range {scene.frames}.",
            "Choose a frame inside it, or lengthen the scene.",
            field="frame",
        )


def keyed_thing(scene: Scene, id_: str) -> tuple[Any, Keyed]:
    """(table, a camera, a mover or a figure that may be changed).

    Raises:
        NotFound, Refused: it is not there, or locked.
    """
    table, thing = find_any(scene, id_, ("cameras", "movers", "figures"))
    return table, unlocked(thing)


def named_channels(thing: Keyed, name: str) -> list[str]:
    """The channels a channel's or group's name means.

    Raises:
        BadInput: there is no such channel.
    """
    if name == "all":
        return [spec.name for spec in thing.specs()]
    if name in _GROUPS:
        return [spec.name for spec in thing.specs() if spec.group == name]
    return [thing.spec(name).name]


def check_counts(thing: Keyed, name: str) -> None:
    """Keys are set only where they do something.

    Raises:
        Refused: the channel does nothing as the thing is set.
    """
    idle = thing.why_idle(name)
    if idle and not thing.keyed(name):
        raise Refused(
            idle, "Change that choice on the card first, or leave this number as it is.", field="channel"
        )


class SetKeys(Command):
    """Set keys, or replace those that are there."""

    kind: Literal["keys.set"] = "keys.set"
    keys: tuple[NewKey, ...] = Field(min_length=1, max_length=10_000)
    #: Do it though the lens cannot.
    force: bool = False

    def apply(self, scene: Scene) -> Outcome:
        new: dict[str, dict[str, list[Key]]] = {}
        again = False
        for one in self.keys:
            _, thing = keyed_thing(scene, one.thing)
            check_frame(scene, one.frame)
            spec = thing.spec(one.channel)
            check_counts(thing, one.channel)
            wrong = spec.complaint(one.value)
            if wrong:
                raise BadInput(f"{wrong}.", "Correct it and send it again.", field="value")
            was = thing.channel(one.channel).key_at(one.frame)
            again = again or was is not None
            kinds = {
                side: getattr(one, side) or (getattr(was, side) if was else "eased")
                for side in ("before", "after")
            }
            # What a key goes with, and its handles, stay when its value is another.
            value = spec.kept(one.value)
            key = changed(was, value=value, **kinds) if was else Key(frame=one.frame, value=value, **kinds)
            new.setdefault(one.thing, {}).setdefault(one.channel, []).append(key)
        after = scene
        forced = False
        for id_, channels in new.items():
            table, thing = keyed_thing(after, id_)
            changed_ = thing.with_channels(
                {n: thing.channel(n).with_keys(*keys) for n, keys in channels.items()}
            )
            if isinstance(thing, Camera) and isinstance(changed_, Camera):
                after, said = fitted(after, thing, changed_, "", force=self.force)
                forced = forced or bool(said)
            else:
                after = replace(after, table, changed_)
        return after, self._said(scene, again) + (", forced" if forced else "")

    def _said(self, scene: Scene, again: bool) -> str:
        first = self.keys[0]
        _, thing = keyed_thing(scene, first.thing)
        if len(self.keys) == 1:
            spec = thing.spec(first.channel)
            word = "Changed the" if again else "Set a"
            where = f"the {spec.label.lower()} of {called(thing)} at {first.frame}"
            return f"{word} key on {where}: {spec.said(first.value)}"
        return f"Set {len(self.keys)} keys"


class KeyHere(Command):
    """Set keys at a frame with the values that are there: one gesture keys a whole group."""

    kind: Literal["keys.here"] = "keys.here"
    thing: Id
    frame: FrameNumber
    channel: ChannelName = "pose"
    #: Several channels or groups at once, in place of the one.
    channels: tuple[ChannelName, ...] = Field(default=(), max_length=200)
    shape: KeyKind = "eased"
    #: The curves stay as they are: the key takes the shape of where it comes to be, and its neighbours keep theirs.
    keep: bool = False

    def apply(self, scene: Scene) -> Outcome:
        table, thing = keyed_thing(scene, self.thing)
        check_frame(scene, self.frame)
        channels: dict[str, Channel] = {}
        again = False
        for name in dict.fromkeys(
            n for c in self.channels or (self.channel,) for n in named_channels(thing, c)
        ):
            channel = thing.channel(name)
            if thing.why_idle(name) and name not in (*self.channels, self.channel):
                continue
            check_counts(thing, name)
            if channel.key_at(self.frame):
                again = True
                continue
            if self.keep and len(channel.keys) > 1:
                channels[name] = with_key_on_curve(channel, self.frame)
                continue
            value = float(evaluate(channel, np.array([self.frame]))[0])
            key = Key(frame=self.frame, value=value, before=self.shape, after=self.shape)
            channels[name] = channel.with_keys(key)
        if not channels:
            raise Refused(
                f"{capital(called(thing))} has its keys at {self.frame} already.",
                "Move or delete them, or go to another frame.",
                field="frame",
            )
        word = "Completed the key of" if again else "Set a key on"
        return replace(
            scene, table, thing.with_channels(channels)
        ), f"{word} {self._what(thing)} at {self.frame}"

    def _what(self, thing: Keyed) -> str:
        if len(self.channels) > 1:
            return f"{len(self.channels)} channels of {called(thing)}"
        return what_is_keyed(thing, self.channels[0] if self.channels else self.channel)


class DeleteKeys(Command):
    """Take keys away; a channel that loses its last stays at that one's value."""

    kind: Literal["keys.delete"] = "keys.delete"
    keys: KeysAt

    def apply(self, scene: Scene) -> Outcome:
        found = found_keys(scene, self.keys)
        after = each_key(scene, found, lambda channel, keys: channel.without_keys(*(k.frame for k in keys)))
        return after, f"Deleted {told(scene, self.keys, found)}"


class ShapeKeys(Command):
    """Choose how the curves come into keys and go out of them."""

    kind: Literal["keys.shape"] = "keys.shape"
    keys: KeysAt
    before: KeyKind | None = None
    after: KeyKind | None = None
    #: Of shaped sides, from the key, as the channel keeps its values.
    handle_before: Handle | None = None
    handle_after: Handle | None = None
    #: Whether both sides turn together when one is turned.
    tied: bool | None = None

    def apply(self, scene: Scene) -> Outcome:
        found = found_keys(scene, self.keys)
        sides: dict[str, Any] = {
            side: kind for side in ("before", "after") if (kind := getattr(self, side)) is not None
        }
        handles = {
            f"handle_{side}": handle
            for side in ("before", "after")
            if (handle := getattr(self, f"handle_{side}"))
        }
        # Whoever gives a handle means that side to be shaped.
        sides = {**{name.removeprefix("handle_"): "shaped" for name in handles}, **sides}
        more: dict[str, Any] = handles if self.tied is None else {**handles, "tied": self.tied}
        if not sides and not more:
            raise BadInput("No shape was named.", "Give how it comes in, how it goes out, or both.")
        after = each_key(
            scene,
            found,
            lambda channel, keys: channel.with_keys(*(changed(k, **sides, **more) for k in keys)),
        )
        how = " and ".join(f"{kind} {'in' if side == 'before' else 'out'}" for side, kind in sides.items())
        how = how or ("tied" if self.tied else "free on each side")
        return after, f"Made {told(scene, self.keys, found)} {how}"


def found_keys(scene: Scene, wanted: tuple[KeyAt, ...]) -> Found:
    """Every key that is meant.

    Raises:
        Refused: one of them is not there.
    """
    found: Found = {}
    things: dict[str, Keyed] = {}
    for one in wanted:
        thing = things.get(one.thing) or keyed_thing(scene, one.thing)[1]
        things[one.thing] = thing
        last = one.frame if one.last is None else one.last
        here = {
            (one.thing, name, key.frame): key
            for name in named_channels(thing, one.channel)
            for key in thing.channel(name).keys_in(one.frame, last)
        }
        if not here:
            when = f"at {one.frame}" if one.last is None else f"from {one.frame} to {last}"
            raise Refused(
                f"There is no key on {what_is_keyed(thing, one.channel)} {when}.",
                "Choose a frame that has one.",
                field="frame",
            )
        found |= here
    return found


def what_is_keyed(thing: Keyed, channel: str) -> str:
    """`camera A`, or `the focal length of camera A`."""
    if channel in ("pose", "all"):
        return called(thing)
    label = channel if channel in _GROUPS else thing.spec(channel).label.lower()
    return f"the {label} of {called(thing)}"


def told(scene: Scene, wanted: tuple[KeyAt, ...], found: Found, *, at: bool = True) -> str:
    """The keys that were named, in a sentence."""
    if len(wanted) > 1 or wanted[0].last is not None:
        return "1 key" if len(found) == 1 else f"{len(found)} keys"
    _, thing = keyed_thing(scene, wanted[0].thing)
    when = f" at {wanted[0].frame}" if at else ""
    return f"the key on {what_is_keyed(thing, wanted[0].channel)}{when}"


def each_key(scene: Scene, found: Found, change: Any) -> Scene:
    """The scene with the channels changed that have the keys: `change` takes a channel and its keys."""
    by_thing: dict[str, dict[str, list[Key]]] = {}
    for (id_, name, _), key in found.items():
        by_thing.setdefault(id_, {}).setdefault(name, []).append(key)
    for id_, channels in by_thing.items():
        table, thing = keyed_thing(scene, id_)
        new = {name: change(thing.channel(name), keys) for name, keys in channels.items()}
        scene = replace(scene, table, thing.with_channels(new))
    return scene


def put_between(channel: Channel, keys: list[Key]) -> Channel:
    """A channel with keys in place of those that are between the first and the last of them.

    At its two ends it comes in and goes out as it did.
    """
    first, last = keys[0], keys[-1]
    old = channel.key_at(first.frame)
    if old is not None:
        first = changed(first, before=old.before, handle_before=old.handle_before, bound=old.bound)
    old = channel.key_at(last.frame)
    if old is not None:
        last = changed(last, after=old.after, handle_after=old.handle_after, bound=old.bound)
    kept = tuple(k for k in channel.keys if not first.frame <= k.frame <= last.frame)
    return changed(channel, keys=kept).with_keys(first, *keys[1:-1], last)
