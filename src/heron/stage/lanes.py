"""How acts lie on their lanes: where two overlap one goes over into the other, and no overlap is too long for that."""

from collections.abc import Iterable, Sequence

from heron.model import changed
from heron.stage.acts.base import Act, Lane
from heron.timebase import Frames

#: Lanes on which an act goes over into the next one. On the others acts add up, and a later one takes over at once.
BLENDED: tuple[Lane, ...] = ("body", "hands", "pose")


def on_lane(acts: Iterable[Act], lane: Lane) -> list[Act]:
    """The acts on a lane, in order."""
    return [act for act in acts if lane == act.LANE]


def overlap(one: Act, two: Act) -> int:
    """How many frames of an act are frames of the next one too."""
    return max(min(one.frames.last, two.frames.last) - two.frames.first + 1, 0)


def longest_overlap(one: Act, two: Act) -> int:
    """The longest overlap that leaves half of either act to itself, frames."""
    return min(one.frames.count, two.frames.count) // 2


def crowded(acts: Sequence[Act]) -> tuple[Act, Act] | None:
    """The first two acts of one lane that overlap by more than half of the shorter one, if there are any."""
    for lane in BLENDED:
        there = on_lane(acts, lane)
        for one, two in zip(there, there[1:], strict=False):
            if two.frames.first <= one.frames.first or one.frames.last > two.frames.last:
                return one, two
            if overlap(one, two) > longest_overlap(one, two):
                return one, two
    return None


def blends(acts: Sequence[Act], act: Act) -> tuple[int, int]:
    """Frames over which an act comes in over the one before it, and goes out under the next one."""
    there = on_lane(acts, act.LANE)
    i = next(k for k, one in enumerate(there) if one is act)
    into = min(overlap(there[i - 1], act), longest_overlap(there[i - 1], act)) if i else 0
    out = min(overlap(act, there[i + 1]), longest_overlap(act, there[i + 1])) if i + 1 < len(there) else 0
    return into, out


def making_room(others: Sequence[Act], act: Act) -> tuple[list[Act], list[tuple[Act, Act | None]]]:
    """Acts beside a new one on its lane, made shorter where they would overlap it by more than half of the shorter.

    Returns:
        all of them in order with the new one, and each that was changed with what it is now: None, it had no room left.
    """
    kept: list[Act] = []
    told: list[tuple[Act, Act | None]] = []
    for other in others:
        new: Act | None = other
        if other.LANE == act.LANE and act.LANE in BLENDED and _meets(other, act):
            new = _shortened(other, act)
            if new is not other:
                told.append((other, new))
        if new is not None:
            kept.append(new)
    out = sorted([*kept, act], key=lambda one: one.frames.first)
    # One that was made shorter may now be too short for the overlap on its other side.
    while (pair := crowded(out)) is not None:
        one, two = pair
        other = one if one is not act else two
        new = _shortened(other, two if other is one else one)
        told.append((other, new))
        out = sorted(
            [*(o for o in out if o is not other), *([new] if new else [])], key=lambda o: o.frames.first
        )
        if new is None or new is other:
            break
    return out, told


def _meets(one: Act, two: Act) -> bool:
    return one.frames.first <= two.frames.last and two.frames.first <= one.frames.last


def _shortened(other: Act, act: Act) -> Act | None:
    """Another act with no more of it under a new one than half of the shorter of the two."""
    a, b = other.frames, act.frames
    if a.first < b.first:
        last = min(a.last, b.first + min(b.first - a.first, b.count // 2) - 1)
        return other if last == a.last else changed(other, frames=Frames(first=a.first, last=last))
    if a.last > b.last:
        first = max(a.first, b.last - min(a.last - b.last, b.count // 2) + 1)
        return other if first == a.first else changed(other, frames=Frames(first=first, last=a.last))
    return None
