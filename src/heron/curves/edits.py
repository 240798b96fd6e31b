"""Edits of some keys of a channel as a whole: each takes keys in order of frame and gives them as they become."""

from bisect import bisect_right
from typing import Any

import numpy as np

from heron.curves.channel import Channel, Handle, Key
from heron.curves.evaluate import evaluate, parameter
from heron.curves.segments import segments
from heron.curves.simplify import simplified
from heron.model import changed


def scaled(
    keys: list[Key], *, frame: float, value: float, in_time: float = 1.0, in_value: float = 1.0
) -> list[Key]:
    """Keys scaled about a pivot, their handles with them, to whole frames; a negative scale mirrors.

    Mirrored in time what came in goes out. A held side stays held on the side it holds to, which is the one before.
    """
    out = []
    for i, key in enumerate(keys):
        update: dict[str, Any] = {
            "frame": round(frame + (key.frame - frame) * in_time),
            "value": value + (key.value - value) * in_value,
        }
        before, after = key.before, key.after
        handles = [_scaled(h, in_time, in_value) for h in (key.handle_before, key.handle_after)]
        if in_time < 0:
            # Going backwards, the value of a held key stands before it: the key that stood there holds it now.
            earlier = keys[i - 1].after if i else "eased"
            before, after = ("eased" if after == "held" else after), before
            after = "held" if earlier == "held" else after
            handles.reverse()
        update |= {"before": before, "after": after, "handle_before": handles[0], "handle_after": handles[1]}
        out.append(changed(key, **update))
    return sorted(out, key=lambda key: key.frame)


def _scaled(handle: Handle | None, in_time: float, in_value: float) -> Handle | None:
    # + 0.0 for a handle without frames, which has no direction to be wrong.
    return None if handle is None else (handle[0] * in_time + 0.0, handle[1] * in_value)


def spread(keys: list[Key]) -> list[Key]:
    """Keys evenly between the first and the last of them, to whole frames."""
    frames = np.linspace(keys[0].frame, keys[-1].frame, len(keys)).round().astype(int)
    return [changed(key, frame=int(frame)) for key, frame in zip(keys, frames, strict=True)]


def middle(keys: list[Key]) -> tuple[float, float]:
    """The frame and the value half way between the least and the most of them."""
    values = [key.value for key in keys]
    return (keys[0].frame + keys[-1].frame) / 2, (min(values) + max(values)) / 2


def with_key_on_curve(channel: Channel, frame: int) -> Channel:
    """A channel of two keys or more with one more key at a frame, its values everywhere as they were.

    The segment is divided as a Bézier is (de Casteljau): its ends' handles are shortened, and turn shaped unless the
    segment is straight or held; an eased side beyond it that would ease otherwise turns shaped as well. Only where handles are so long that one is left longer than its new segment does the
    curve change a little, for such a handle counts as long as the segment.
    """
    value = float(evaluate(channel, np.array([frame]))[0])
    keys = channel.keys
    i = bisect_right(keys, frame, key=lambda k: k.frame) - 1
    if i < 0 or i == len(keys) - 1:
        # Outside its keys the value stands.
        key = Key(frame=frame, value=value, before="straight", after="straight")
        # What was an end is one no longer: an eased side would not come to rest there.
        stood = _frozen(channel, 0 if i < 0 else len(keys) - 1)
        return channel.with_keys(key, changed(stood, **{"before" if i < 0 else "after": "straight"}))
    first, last = keys[i], keys[i + 1]
    if first.after == "held":
        return channel.with_keys(Key(frame=frame, value=value, before="straight", after="held"))
    if first.after == last.before == "straight":
        # The ease beyond each end depends on how long this segment was.
        return channel.with_keys(
            _frozen(channel, i),
            Key(frame=frame, value=value, before="straight", after="straight"),
            _frozen(channel, i + 1),
        )
    s = segments(channel)
    u = float(parameter(channel, np.array([frame]))[0])
    p = np.array([
        [first.frame, first.value],
        [first.frame + s.out[i, 0], first.value + s.out[i, 1]],
        [last.frame + s.back[i, 0], last.value + s.back[i, 1]],
        [last.frame, last.value],
    ])  # fmt: skip
    a, b, c = (p[k] + u * (p[k + 1] - p[k]) for k in range(3))
    d, e = a + u * (b - a), b + u * (c - b)
    at = np.array([frame, value])
    return channel.with_keys(
        changed(_frozen(channel, i), after="shaped", handle_after=_offset(a, p[0])),
        Key(
            frame=frame, value=value, before="shaped", after="shaped",
            handle_before=_offset(d, at), handle_after=_offset(e, at),
        ),
        changed(_frozen(channel, i + 1), before="shaped", handle_before=_offset(c, p[3])),
    )  # fmt: skip


def _offset(point: Any, key: Any) -> Handle:
    return float(point[0] - key[0]), float(point[1] - key[1])


def frozen_side(channel: Channel, i: int, side: str) -> dict[str, Any]:
    """What keeps one side of a key as it is drawn when its neighbours change: its handle, where it is eased."""
    key = channel.keys[i]
    if getattr(key, side) != "eased" or len(channel.keys) < 2:
        return {}
    s = segments(channel)
    if side == "before" and i > 0:
        handle = s.back[i - 1]
    elif side == "after" and i < len(channel.keys) - 1:
        handle = s.out[i]
    else:
        return {}
    return {side: "shaped", f"handle_{side}": (float(handle[0]), float(handle[1]))}


def _frozen(channel: Channel, i: int) -> Key:
    return changed(channel.keys[i], **frozen_side(channel, i, "before"), **frozen_side(channel, i, "after"))


def simplified_between(channel: Channel, keys: list[Key], error: float) -> list[Key]:
    """Few keys for a run of a channel's: from the first of them to the last its values stay within an error.

    What lies outside, and the values of the two, stay exactly as they are.
    """
    if len(keys) < 3:
        return keys
    first, last = keys[0], keys[-1]
    values = evaluate(channel, np.arange(first.frame, last.frame + 1))
    made = simplified(first.frame, values, error).keys
    inner = [key for key in made if first.frame < key.frame < last.frame]
    if len(inner) + 2 >= len(keys):
        return keys
    ends = (
        [made[0], made[-1]]
        if made
        else [Key(frame=f, value=0, after="straight", before="straight") for f in (first.frame, last.frame)]
    )
    at = [bisect_right(channel.keys, key.frame, key=lambda k: k.frame) - 1 for key in (first, last)]
    begin = changed(
        first, after=ends[0].after, handle_after=ends[0].handle_after, **frozen_side(channel, at[0], "before")
    )
    end = changed(
        last,
        before=ends[1].before,
        handle_before=ends[1].handle_before,
        **frozen_side(channel, at[1], "after"),
    )
    return [begin, *inner, end]
