"""Keys and the channel that holds them."""

import itertools
from bisect import bisect_left, bisect_right
from collections.abc import Callable
from functools import cached_property
from hashlib import sha256
from typing import Any, Literal

from pydantic import Field, model_validator

from heron.model import Id, Model, changed
from heron.timebase.frames import FrameNumber

KeyKind = Literal["held", "straight", "eased", "shaped"]
#: On one channel.
MOST_KEYS = 100_000
#: Where a shaped side's handle ends, from its key: frames and value.
Handle = tuple[float, float]


class Bound(Model):
    """The start or the end of something that a figure does, which a key goes with."""

    figure: Id
    act: Id
    end: Literal["first", "last"]


class OnWord(Model):
    """The beginning or the end of a word of a line, which something hangs on; the word past the last is the line's end."""

    line: Id
    word: int = Field(ge=0, le=2000)
    end: Literal["first", "last"] = "first"


class Key(Model):
    """A value at a frame, and how the curve comes in and goes out."""

    frame: FrameNumber
    value: float = Field(ge=-1e6, le=1e6)
    before: KeyKind = "eased"
    after: KeyKind = "eased"
    #: Of a shaped side; without one it is a third of the way to the neighbour, along the eased slope.
    handle_before: Handle | None = None
    handle_after: Handle | None = None
    #: Two shaped sides turn together when one is turned by hand.
    tied: bool = True
    #: It moves in time with this; a binding to what is gone does nothing.
    bound: Bound | OnWord | None = None

    @property
    def handles(self) -> tuple[Handle | None, ...]:
        """The handles that count."""
        if self.before != "shaped" and self.after != "shaped":
            return ()
        return self.handle_before, self.handle_after

    @model_validator(mode="after")
    def _handles_keep_time(self) -> "Key":
        for handle, way, side in ((self.handle_before, -1, "before"), (self.handle_after, 1, "after")):
            if handle is not None and handle[0] * way < 0:
                raise ValueError(
                    f"the handle {side} the key at {self.frame} reaches {abs(handle[0]):g} frames the wrong way; "
                    f"give it {'0 or less' if way < 0 else '0 or more'}"
                )
        return self


class Channel(Model):
    """One number over time: its keys, or `rest` where it has none. What it can be stands in its spec."""

    rest: float = Field(default=0.0, ge=-1e6, le=1e6)
    keys: tuple[Key, ...] = Field(default=(), max_length=MOST_KEYS)

    @model_validator(mode="before")
    @classmethod
    def _number(cls, value: Any) -> Any:
        """A number alone is a channel that keeps it."""
        return {"rest": value} if isinstance(value, int | float) and not isinstance(value, bool) else value

    @model_validator(mode="after")
    def _in_order(self) -> "Channel":
        frames = [key.frame for key in self.keys]
        if any(b <= a for a, b in itertools.pairwise(frames)):
            raise ValueError("keys must be in order of frame, one at each frame")
        return self

    @cached_property
    def digest(self) -> str:
        """As any model's, without a step for each key."""
        text = repr((self.rest, [(k.frame, k.value, k.before, k.after, *k.handles) for k in self.keys]))
        return sha256(text.encode()).hexdigest()[:24]

    @cached_property
    def is_bound(self) -> bool:
        """Whether any of its keys goes with something."""
        return any(key.bound is not None for key in self.keys)

    @cached_property
    def span(self) -> tuple[float, float]:
        """The smallest and largest value it is given."""
        values = [self.rest, *(k.value for k in self.keys)]
        return min(values), max(values)

    def with_keys(self, *keys: Key) -> "Channel":
        """This channel with keys put in, or replaced at their frames."""
        new = {key.frame: key for key in keys}
        kept = [k for k in self.keys if k.frame not in new]
        return changed(self, keys=tuple(sorted([*kept, *new.values()], key=lambda k: k.frame)))

    def without_keys(self, *frames: int) -> "Channel":
        """This channel less some keys; when none is left, the first one's value stays as the rest value."""
        kept = tuple(k for k in self.keys if k.frame not in frames)
        rest = self.rest if kept or not self.keys else self.keys[0].value
        return changed(self, rest=rest, keys=kept)

    def at_rest(self, value: float) -> "Channel":
        """This channel with another rest value."""
        return changed(self, rest=value)

    def later(self, by: int) -> "Channel":
        """This channel with its keys so many frames later."""
        return (
            changed(self, keys=tuple(changed(k, frame=k.frame + by) for k in self.keys))
            if self.keys
            else self
        )

    def shifted(self, delta: float) -> "Channel":
        """Every value raised by `delta`."""
        return self.mapped(lambda value: value + delta)

    def mapped(self, change: Callable[[float], float]) -> "Channel":
        """Every value changed."""
        keys = tuple(changed(k, value=change(k.value)) for k in self.keys)
        return changed(self, rest=change(self.rest), keys=keys)

    @cached_property
    def by_frame(self) -> dict[int, Key]:
        """Its keys, by frame."""
        return {k.frame: k for k in self.keys}

    def key_at(self, frame: int) -> Key | None:
        """The key at a frame, if there is one."""
        return self.by_frame.get(frame)

    def keys_in(self, first: int, last: int) -> tuple[Key, ...]:
        """Its keys from one frame to another, both meant."""
        begin = bisect_left(self.keys, first, key=lambda k: k.frame)
        return self.keys[begin : bisect_right(self.keys, last, key=lambda k: k.frame)]
