"""Keys edited as a whole: moved, scaled, mirrored, spread, staggered, thinned out, kept within their values.

All of them work in one way: some keys of a channel become others, which must find room among those that stay.
"""

from collections.abc import Callable
from typing import Any, Literal

from pydantic import Field

from heron.commands.base import Command, Outcome
from heron.commands.fitting import fitted
from heron.commands.keys import ChannelName, Found, KeysAt, check_frame, found_keys, keyed_thing, told
from heron.curves import Channel, ChannelSpec, Key, Keyed
from heron.curves.edits import middle, scaled, simplified_between, spread
from heron.curves.handles import drawn_handles, kept_within, with_handle
from heron.curves.spec import Measure
from heron.errors import BadInput, Refused
from heron.model import changed
from heron.scene import Camera, Scene, replace
from heron.scene.document import called
from heron.timebase.frames import MAX_FRAME_NUMBER

Edit = Callable[[ChannelSpec, Channel, list[Key]], list[Key]]

#: What simplifying leaves curves off by where nothing else is asked: a picture does not show it.
ERRORS: dict[Measure, float] = {
    "metres": 0.005, "degrees": 0.05, "millimetres": 0.1, "stops": 0.02, "per metre": 0.002, "plain": 0.005,
}  # fmt: skip


def edited(scene: Scene, found: Found, edit: Edit, *, force: bool = False) -> tuple[Scene, bool]:
    """The scene with keys become what an edit makes of them, and whether a lens was forced to it.

    Raises:
        Refused: two keys would stand on one frame, one outside the scene, or on what may not be changed.
        BadInput: a value is outside what its channel can be.
    """
    by_thing: dict[str, dict[str, list[Key]]] = {}
    for (id_, name, _), key in found.items():
        by_thing.setdefault(id_, {}).setdefault(name, []).append(key)
    forced = False
    for id_, channels in by_thing.items():
        table, thing = keyed_thing(scene, id_)
        new = {
            name: _edited(scene, thing, name, sorted(keys, key=lambda k: k.frame), edit)
            for name, keys in channels.items()
        }
        after = thing.with_channels(new)
        if isinstance(thing, Camera) and isinstance(after, Camera):
            scene, said = fitted(scene, thing, after, "", force=force)
            forced = forced or bool(said)
        else:
            scene = replace(scene, table, after)
    return scene, forced


def _edited(scene: Scene, thing: Keyed, name: str, keys: list[Key], edit: Edit) -> Channel:
    spec, channel = thing.spec(name), thing.channel(name)
    new = edit(spec, channel, keys)
    gone = {key.frame for key in keys}
    stay = {key.frame for key in channel.keys if key.frame not in gone}
    taken: set[int] = set()
    for key in new:
        if key.frame not in gone:
            check_frame(scene, key.frame)
        if key.frame in stay:
            raise Refused(
                f"There is already a key at {key.frame} on the {spec.label.lower()} of {called(thing)}.",
                "Delete that one first, or choose another frame.",
                field="by",
            )
        if key.frame in taken:
            raise Refused(
                f"Two keys on the {spec.label.lower()} of {called(thing)} would stand on frame {key.frame}.",
                "Make them less narrow, or delete one first.",
                field="by",
            )
        taken.add(key.frame)
        wrong = spec.complaint(spec.shown(key.value))
        if wrong:
            raise BadInput(f"{wrong}.", "Change it by less.", field="value")
    kept = tuple(key for key in channel.keys if key.frame not in gone)
    return changed(channel, keys=kept).with_keys(*new)


class KeysEdit(Command):
    """Keys that become others."""

    keys: KeysAt
    #: Do it though the lens cannot.
    force: bool = False

    def become(self, scene: Scene, edit: Edit, say: Callable[[str], str]) -> Outcome:
        found = found_keys(scene, self.keys)
        after, forced = edited(scene, found, edit, force=self.force)
        return after, say(told(scene, self.keys, found, at=False)) + (", forced" if forced else "")


class MoveKeys(KeysEdit):
    """Move keys in time, all by as much; or in value, those of one measure."""

    kind: Literal["keys.move"] = "keys.move"
    by: int = Field(default=0, ge=-MAX_FRAME_NUMBER, le=MAX_FRAME_NUMBER)
    #: In the measure that a channel is kept in: of a stop, stops.
    up: float = Field(default=0.0, ge=-1e6, le=1e6)
    #: Only channels of it go up; the others move in time alone. Left out, all do.
    measure: Measure | None = None
    #: In place of `up`: the value, as it is shown, that the first of the keys on a channel comes to.
    to: float | None = Field(default=None, ge=-1e6, le=1e6)
    channel: ChannelName | None = None

    def apply(self, scene: Scene) -> Outcome:
        found = found_keys(scene, self.keys)
        rise = self._rise(scene, found)

        def move(spec: ChannelSpec, channel: Channel, keys: list[Key]) -> list[Key]:
            up = rise if self.measure in (None, spec.measure) else 0.0
            return [changed(k, frame=k.frame + self.by, value=k.value + up) for k in keys]

        after, forced = edited(scene, found, move, force=self.force)
        return after, self._said(scene, found, rise) + (", forced" if forced else "")

    def _rise(self, scene: Scene, found: Found) -> float:
        if self.to is None:
            return self.up
        mine = sorted((frame, id_) for id_, name, frame in found if name == self.channel)
        if not mine or self.channel is None:
            raise BadInput(
                "None of these keys is on the channel that is to come to a value.", "Name one of theirs.", field="channel"
            )  # fmt: skip
        frame, id_ = mine[0]
        spec = keyed_thing(scene, id_)[1].spec(self.channel)
        wrong = spec.complaint(self.to)
        if wrong:
            raise BadInput(f"{wrong}.", "Correct it and send it again.", field="to")
        return spec.kept(self.to) - found[id_, self.channel, frame].value

    def _said(self, scene: Scene, found: Found, rise: float) -> str:
        first, one = self.keys[0], len(self.keys) == 1 and self.keys[0].last is None
        where = []
        if self.by or not rise:
            where.append(f"from {first.frame} to {first.frame + self.by}" if one else f"by {self.by} frames")
        if rise:
            (id_, name, _), _ = next(iter(found.items()))
            spec = keyed_thing(scene, id_)[1].spec(name)
            unit = spec.kept_unit
            gap = "" if unit in ("", "°") else " "
            where.append(f"{'up' if rise > 0 else 'down'} by {abs(rise):.4g}{gap}{unit}")
        at = not one or not self.by
        return f"Moved {told(scene, self.keys, found, at=at)} {' and '.join(where)}"


class ScaleKeys(KeysEdit):
    """Scale keys about a pivot, in time and in value; by less than nothing they are mirrored."""

    kind: Literal["keys.scale"] = "keys.scale"
    in_time: float = Field(default=1.0, ge=-1000.0, le=1000.0)
    in_value: float = Field(default=1.0, ge=-1000.0, le=1000.0)
    #: About the first key of each channel, the last, the middle of them, or a frame and a value that are given.
    about: Literal["first", "last", "middle"] = "middle"
    frame: float | None = Field(default=None, ge=-MAX_FRAME_NUMBER, le=MAX_FRAME_NUMBER)
    value: float | None = Field(default=None, ge=-1e6, le=1e6)

    def apply(self, scene: Scene) -> Outcome:
        if self.in_time == 0:
            raise BadInput(
                "Scaled to no width, all keys would stand on one frame.",
                "Give a factor other than 0, or delete all keys but one.",
                field="in_time",
            )
        found = found_keys(scene, self.keys)
        ends = [frame for _, _, frame in found]
        whole = {"first": min(ends), "last": max(ends), "middle": (min(ends) + max(ends)) / 2}[self.about]

        def scale(spec: ChannelSpec, channel: Channel, keys: list[Key]) -> list[Key]:
            value = {
                "first": keys[0].value, "last": keys[-1].value, "middle": middle(keys)[1],
            }[self.about] if self.value is None else spec.kept(self.value)  # fmt: skip
            frame = whole if self.frame is None else self.frame
            return scaled(keys, frame=frame, value=value, in_time=self.in_time, in_value=self.in_value)

        return self.become(scene, scale, self._said)

    def _said(self, what: str) -> str:
        if (self.in_time, self.in_value) == (-1, 1):
            return f"Reversed {what} in time"
        if (self.in_time, self.in_value) == (1, -1):
            return f"Mirrored {what}"
        parts = [
            f"{by:g} times {word}"
            for by, word in ((self.in_time, "as long"), (self.in_value, "as high"))
            if by != 1
        ]
        return f"Made {what} {' and '.join(parts) or 'unchanged'}"


class SpreadKeys(KeysEdit):
    """Put the keys of each channel evenly between their first and last."""

    kind: Literal["keys.spread"] = "keys.spread"

    def apply(self, scene: Scene) -> Outcome:
        return self.become(scene, lambda _, __, keys: spread(keys), lambda what: f"Spread {what} evenly")


class StaggerKeys(KeysEdit):
    """Have what turns go some frames after what moves, and the lens some frames after that.

    Common practice: rotation keys a few frames after position keys.
    """

    kind: Literal["keys.stagger"] = "keys.stagger"
    by: int = Field(ge=-1000, le=1000)

    def apply(self, scene: Scene) -> Outcome:
        found = found_keys(scene, self.keys)
        there = sorted({_rank(keyed_thing(scene, id_)[1].spec(name)) for id_, name, _ in found})
        if len(there) < 2:
            raise Refused(
                "These keys all go together: nothing turns after something moves.",
                "Choose keys of place and of direction, or move them with the arrow keys.",
                field="keys",
            )

        def stagger(spec: ChannelSpec, channel: Channel, keys: list[Key]) -> list[Key]:
            late = self.by * there.index(_rank(spec))
            return [changed(key, frame=key.frame + late) for key in keys]

        return self.become(scene, stagger, lambda what: f"Staggered {what} by {self.by} frames")


def _rank(spec: ChannelSpec) -> int:
    """Place first, then direction, then the glass."""
    if spec.group in ("lens", "exposure"):
        return 2
    return 1 if spec.measure == "degrees" else 0


class SimplifyKeys(KeysEdit):
    """Make few keys of many, over each channel's chosen range, within an error for each measure."""

    kind: Literal["keys.simplify"] = "keys.simplify"
    within: dict[Measure, float] = Field(default_factory=dict)

    def apply(self, scene: Scene) -> Outcome:
        for measure, error in self.within.items():
            if not 0 < error <= 1e6:
                raise BadInput(
                    f"An error of {error:g} {measure} cannot be kept.", "Give one above 0.", field="within"
                )
        before, after = 0, 0

        def simplify(spec: ChannelSpec, channel: Channel, keys: list[Key]) -> list[Key]:
            nonlocal before, after
            new = simplified_between(channel, keys, self.within.get(spec.measure, ERRORS[spec.measure]))
            before, after = before + len(keys), after + len(new)
            return new

        found = found_keys(scene, self.keys)
        done, forced = edited(scene, found, simplify, force=self.force)
        if after == before:
            raise Refused(
                f"{'One key is' if before == 1 else f'{before} keys are'} as few as will do within that error.",
                "Allow a larger one, or choose more keys.",
                field="within",
            )
        return done, f"Made {after} keys of {before}" + (", forced" if forced else "")


class KeepWithin(KeysEdit):
    """Shorten the handles that make curves overshoot, or lay them flat."""

    kind: Literal["keys.within"] = "keys.within"

    def apply(self, scene: Scene) -> Outcome:
        count = 0

        def within(spec: ChannelSpec, channel: Channel, keys: list[Key]) -> list[Key]:
            nonlocal count
            now = kept_within(channel, frozenset(key.frame for key in keys))
            new = [now.by_frame[key.frame] for key in keys]
            count += sum(a != b for a, b in zip(keys, new, strict=True))
            return new

        after, said = self.become(scene, within, lambda what: "")
        if not count:
            raise Refused(
                "None of these keys makes its curve overshoot.", "Choose those that are marked.", field="keys"
            )
        return after, f"Kept {count} key{'s' if count > 1 else ''} within their values{said}"


class PutHandle(KeysEdit):
    """Put a handle of a key somewhere; where both sides are tied the other one turns with it."""

    kind: Literal["keys.handle"] = "keys.handle"
    side: Literal["before", "after"]
    #: From the key: frames, and in the measure the channel is kept in.
    frames: float = Field(ge=-MAX_FRAME_NUMBER, le=MAX_FRAME_NUMBER)
    value: float = Field(ge=-1e6, le=1e6)
    #: This side only: from then on both sides are free.
    alone: bool = False

    def apply(self, scene: Scene) -> Outcome:
        way = 1 if self.side == "after" else -1
        # Past its own key it would turn time back: it stands upright there.
        clipped = self.frames * way < 0
        handle = (0.0 if clipped else self.frames, self.value)
        other = 2 if self.side == "before" else 0

        def put(spec: ChannelSpec, channel: Channel, keys: list[Key]) -> list[Key]:
            drawn: Any = drawn_handles(channel)
            at = {key.frame: i for i, key in enumerate(channel.keys)}
            return [
                with_handle(
                    changed(key, tied=key.tied and not self.alone),
                    self.side,
                    handle,
                    (float(drawn[at[key.frame], other]), float(drawn[at[key.frame], other + 1])),
                )
                for key in keys
            ]

        word = "into" if self.side == "before" else "out of"
        more = ", clipped: time does not run back" if clipped else ""
        return self.become(scene, put, lambda what: f"Shaped the curve {word} {what}{more}")
