"""Handles as they count, and where one makes a channel overshoot."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from heron.curves.channel import Channel, Handle, Key
from heron.curves.segments import Floats, Segments, segments
from heron.model import changed

#: Past the two values by less than this share of the rise is not an overshoot.
_HAIR = 1e-6

#: What is the matter with a handle, as bits: shortened to its segment; makes the curve leave the two values.
CUT_BEFORE, CUT_AFTER, OVER_BEFORE, OVER_AFTER = 1, 2, 4, 8
#: The value is held from the key on.
HELD = 16


@dataclass(frozen=True)
class Overshoot:
    """A segment whose curve goes past both of its values.

    Attributes:
        segment: which, counted from 0; it begins at that key.
        frame, value: where it is farthest past.
        by: how far past the nearer value, in the channel's unit.
        out, back: whether the first key's handle, and the last one's, is to blame.
    """

    segment: int
    frame: float
    value: float
    by: float
    out: bool
    back: bool


def drawn_handles(channel: Channel) -> Floats:
    """(k, 5): for each key the handle that comes in and the one that goes out, frames and value from the key, as they
    count; and what is the matter with them, as bits. A held side and the ends have handles of no length.
    """
    keys = channel.keys
    out = np.zeros((len(keys), 5))
    if len(keys) < 2:
        return out
    s = segments(channel)
    out[1:, 0:2], out[:-1, 2:4] = s.back, s.out
    held = np.array([key.after == "held" for key in keys])
    out[:-1, 2:4][held[:-1]] = 0
    out[1:, 0:2][held[:-1]] = 0
    bits = np.zeros(len(keys), dtype=int)
    bits[:-1] |= CUT_AFTER * s.cut[:, 0]
    bits[1:] |= CUT_BEFORE * s.cut[:, 1]
    for over in overshoots(channel):
        bits[over.segment] |= OVER_AFTER * over.out
        bits[over.segment + 1] |= OVER_BEFORE * over.back
    out[:, 4] = bits
    return out


def overshoots(channel: Channel) -> list[Overshoot]:
    """Every segment with a handle that makes it leave the values of its two keys."""
    if len(channel.keys) < 2:
        return []
    s = segments(channel)
    c0, c1, c2, c3 = s.value
    shaped = np.array(
        [
            a.after != "held" and "shaped" in (a.after, b.before)
            for a, b in zip(channel.keys, channel.keys[1:], strict=False)
        ]
    )
    ends = np.stack([s.y[:-1], s.y[1:]])
    low, high = ends.min(axis=0), ends.max(axis=0)
    found = []
    for i in np.flatnonzero(shaped):
        turns = np.roots([3 * c3[i], 2 * c2[i], c1[i]])
        for u in sorted(float(r.real) for r in turns if abs(r.imag) < 1e-12 and 1e-9 < r.real < 1 - 1e-9):
            value = float(c0[i] + u * (c1[i] + u * (c2[i] + u * c3[i])))
            by = max(value - high[i], low[i] - value)
            if by > _HAIR * max(high[i] - low[i], 1e-6):
                found.append(_over(s, int(i), u, value, float(by)))
    return found


def _over(s: Segments, i: int, u: float, value: float, by: float) -> Overshoot:
    d1, d2, d3 = s.time[:, i]
    frame = float(s.x[i] + s.width[i] * u * (d1 + u * (d2 + u * d3)))
    rise = float(s.y[i + 1] - s.y[i])
    out, back = _beyond(float(s.out[i, 1]), rise), _beyond(-float(s.back[i, 1]), rise)
    return Overshoot(i, frame, value, by, out, back)


def _beyond(goes: float, rise: float) -> bool:
    """Whether a handle leaves the values between which a segment rises."""
    return goes * rise < 0 or abs(goes) > abs(rise)


def kept_within(channel: Channel, frames: frozenset[int] | None = None) -> Channel:
    """The channel with the handles shortened, or laid flat, that make it overshoot; only those of keys at `frames`,
    where they are given. A tied key's other handle is laid flat with it, which can make the curve on that side overshoot:
    it is gone over again until none does.
    """
    while (made := _kept_once(channel, frames)) != channel:
        channel = made
    return channel


def _kept_once(channel: Channel, frames: frozenset[int] | None) -> Channel:
    new: dict[int, Key] = {}
    s = segments(channel) if len(channel.keys) > 1 else None
    for over in overshoots(channel):
        assert s is not None
        rise = float(s.y[over.segment + 1] - s.y[over.segment])
        sides = (
            ("after", over.segment, over.out, s.out[over.segment], 1.0),
            ("before", over.segment + 1, over.back, s.back[over.segment], -1.0),
        )
        for side, k, guilty, handle, way in sides:
            key = new.get(k, channel.keys[k])
            if not guilty or (frames is not None and key.frame not in frames):
                continue
            new[k] = _within(key, side, (float(handle[0]), float(handle[1])), rise * way)
    return channel.with_keys(*new.values()) if new else channel


def _within(key: Key, side: str, handle: Handle, most: float) -> Key:
    """A key with one side's handle going no farther in value than `most`, and not the other way."""
    df, dv = handle
    if dv * most > 0:
        by = min(1.0, most / dv)
        return changed(key, **{side: "shaped", f"handle_{side}": (df * by, dv * by)})
    update: dict[str, Any] = {side: "shaped", f"handle_{side}": (df, 0.0)}
    other = "before" if side == "after" else "after"
    theirs = getattr(key, f"handle_{other}")
    if key.tied and getattr(key, other) == "shaped" and theirs is not None:
        update[f"handle_{other}"] = (theirs[0], 0.0)
    return changed(key, **update)


def with_handle(key: Key, side: str, handle: Handle, drawn: Handle) -> Key:
    """A key with a handle put somewhere; the other one turns with it where they are tied, and keeps its frames.

    Args:
        drawn: the other side's handle as it counts, for one that has none of its own yet.
    """
    update: dict[str, Any] = {side: "shaped", f"handle_{side}": handle}
    other = "before" if side == "after" else "after"
    if key.tied and getattr(key, other) == "shaped" and handle[0] != 0:
        mine = getattr(key, f"handle_{other}") or drawn
        update[f"handle_{other}"] = (mine[0], mine[0] * handle[1] / handle[0])
    return changed(key, **update)
