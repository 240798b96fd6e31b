"""What has channels: a thing that is keyed, and the parts of it that bring channels of their own."""

import math
from collections.abc import Iterator
from typing import Any, ClassVar, Self

from pydantic import model_validator

from heron.curves.channel import Channel
from heron.curves.spec import ChannelSpec
from heron.errors import BadInput
from heron.model import Model, changed

#: Room for what the last digit of a value kept in another measure may be off.
_HAIR = 1e-9
#: Beside a thing's fields, where no field can be called so.
_PARTS = "parts of"


class Keyed(Model):
    """A model some of whose fields are channels, each in its spec's range.

    A part (a layer of a camera) is `Keyed` too and has an id; its channels are called
    `part.channel`, and nothing here needs to know what it is.
    """

    CHANNELS: ClassVar[tuple[ChannelSpec, ...]] = ()

    @model_validator(mode="after")
    def _in_range(self) -> Self:
        for spec in self.CHANNELS:
            least, most = getattr(self, spec.name).span
            low, high = spec.span
            if low <= least and most <= high:
                continue
            for kept in (least, most):
                wrong = spec.complaint(spec.shown(kept))
                edge = spec.high if spec.shown(kept) > spec.high else spec.low
                if wrong and not math.isclose(spec.shown(kept), edge, rel_tol=_HAIR):
                    raise ValueError(wrong)
        return self

    def parts(self) -> "dict[str, Keyed]":
        """What brings channels of its own, by id; found once for each thing."""
        kept: dict[str, Any] = self.__dict__
        known: dict[str, Keyed] | None = kept.get(_PARTS)
        if known is not None:
            return known
        found: dict[str, Keyed] = {}
        for name in type(self).model_fields:
            value = getattr(self, name)
            for one in value if isinstance(value, tuple) else (value,):
                if isinstance(one, Keyed):
                    found[str(getattr(one, "id", name))] = one
        kept[_PARTS] = found
        return found

    def specs(self) -> tuple[ChannelSpec, ...]:
        """Its channels, and then its parts', by their whole names."""
        inner = [
            changed(spec, name=f"{id_}.{spec.name}")
            for id_, part in self.parts().items()
            for spec in part.specs()
        ]
        return (*self.CHANNELS, *inner)

    def spec(self, name: str) -> ChannelSpec:
        """A channel's spec by its whole name.

        Raises:
            BadInput: it has no such channel; what it has is said.
        """
        for spec in self.specs():
            if spec.name == name:
                return spec
        there = ", ".join(spec.name for spec in self.specs()) or "none"
        raise BadInput(f"There is no channel {name!r:.60} here.", f"There is: {there}.", field="channel")

    def channel(self, name: str) -> Channel:
        """A channel by its whole name.

        Raises:
            BadInput: as `spec`.
        """
        part, _, inner = name.rpartition(".")
        own = self.parts().get(part) if part else self
        if own is None or all(spec.name != inner for spec in own.CHANNELS):
            self.spec(name)
        found: Channel = getattr(own, inner)
        return found

    def each(self) -> Iterator[tuple[ChannelSpec, Channel]]:
        """Every channel, its own and its parts', with its spec."""
        for one in (self, *self.parts().values()):
            for spec in one.CHANNELS:
                yield spec, getattr(one, spec.name)

    def why_idle(self, name: str) -> str:
        """Why a channel does nothing as the thing is set now, as a sentence; empty when it does something.

        Raises:
            BadInput: as `spec`.
        """
        self.channel(name)
        return ""

    def with_channels(self, channels: dict[str, Channel]) -> Self:
        """The same thing with some channels replaced, by their whole names."""
        own = {name: channel for name, channel in channels.items() if "." not in name}
        update: dict[str, object] = dict(own)
        inner: dict[str, dict[str, Channel]] = {}
        for name, channel in channels.items():
            part, _, last = name.rpartition(".")
            if part:
                inner.setdefault(part, {})[last] = channel
        if inner:
            new = {id(part): part.with_channels(inner[k]) for k, part in self.parts().items() if k in inner}
            for name in type(self).model_fields:
                value = getattr(self, name)
                if isinstance(value, tuple):
                    update[name] = tuple(new.get(id(one), one) for one in value)
                elif id(value) in new:
                    update[name] = new[id(value)]
        return changed(self, **update)

    def keyed(self, name: str) -> bool:
        """Whether a channel has keys."""
        return bool(self.channel(name).keys)

    def key_frames(self, group: str | None = None) -> list[int]:
        """Every frame that has a key on a channel of a group (or on any), in order."""
        return sorted(
            {
                key.frame
                for spec, channel in self.each()
                if group in (None, spec.group)
                for key in channel.keys
            }
        )
