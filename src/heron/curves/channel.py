"""Keys and the channel that holds them."""

import itertools
from collections.abc import Callable
from typing import Literal

from pydantic import Field, model_validator

from heron.model import Model
from heron.timebase.frames import MAX_FRAME_NUMBER

KeyKind = Literal["held", "straight", "eased"]


class Key(Model):
    """A value at a frame, and how the curve comes in and goes out."""

    frame: int = Field(ge=0, le=MAX_FRAME_NUMBER)
    value: float = Field(ge=-1e6, le=1e6)
    before: KeyKind = "eased"
    after: KeyKind = "eased"


class Channel(Model):
    """One number over time: its keys, or `rest` where it has none."""

    rest: float = Field(default=0.0, ge=-1e6, le=1e6)
    keys: tuple[Key, ...] = Field(default=(), max_length=10_000)

    @model_validator(mode="after")
    def _in_order(self) -> "Channel":
        frames = [key.frame for key in self.keys]
        if any(b <= a for a, b in itertools.pairwise(frames)):
            raise ValueError("keys must be in order of frame, one at each frame")
        return self

    def with_key(self, key: Key) -> "Channel":
        """This channel with one key put in, or replaced at its frame."""
        others = [k for k in self.keys if k.frame != key.frame]
        return Channel(rest=self.rest, keys=tuple(sorted([*others, key], key=lambda k: k.frame)))

    def without_key(self, frame: int) -> "Channel":
        """This channel less the key at a frame; the last key's value stays as the rest value."""
        kept = tuple(k for k in self.keys if k.frame != frame)
        rest = self.rest if kept or not self.keys else self.keys[0].value
        return Channel(rest=rest, keys=kept)

    def shifted(self, delta: float) -> "Channel":
        """Every value raised by `delta`."""
        return Channel(
            rest=self.rest + delta,
            keys=tuple(k.model_copy(update={"value": k.value + delta}) for k in self.keys),
        )

    def mapped(self, change: Callable[[float], float]) -> "Channel":
        """Every value changed; for curves that run evenly in another measure."""
        keys = tuple(k.model_copy(update={"value": change(k.value)}) for k in self.keys)
        return self.model_copy(update={"rest": change(self.rest), "keys": keys})

    def key_at(self, frame: int) -> Key | None:
        """The key at a frame, if there is one."""
        return next((k for k in self.keys if k.frame == frame), None)
