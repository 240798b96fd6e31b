"""The algebra of cutting: each edit as a change of the numbers of some shots, and how far it goes.

A shot is its gap (black frames before it), its first stage frame, its count, and by how many frames its sound leads. Places in the cut follow from the order:
an edit that moves an edge is a vector over these numbers, times the frames it moves by, so how far it goes is found by
division, and several edits at once are added up before they are checked.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any, NamedTuple

from heron.model import changed
from heron.scene.joins import Part, Room, rooms
from heron.scene.shot import Shot
from heron.timebase import Frames


class Step(NamedTuple):
    """How the numbers of a shot change for each frame of an edit."""

    gap: int = 0
    first: int = 0
    length: int = 0
    lead: int = 0


#: For some shots, by their places in the order.
Vector = dict[int, Step]


@dataclass(frozen=True)
class Stop:
    """How far an edit goes, in frames, and what is in its way there; None, it has no end."""

    by: int | None
    why: str


def places(parts: Sequence[Part]) -> list[int]:
    """The cut frame on which each shot begins."""
    out, at = [], 0
    for part in parts:
        out.append(at + part.gap)
        at += part.gap + part.count
    return out


def added(vectors: Sequence[Vector]) -> Vector:
    """Several edits at once."""
    out: Vector = {}
    for vector in vectors:
        for i, by in vector.items():
            out[i] = Step(*(a + b for a, b in zip(out.get(i, Step()), by, strict=True)))
    return {i: by for i, by in out.items() if any(by)}


def moved(parts: Sequence[Part], vector: Vector, by: int) -> list[Part]:
    """The shots after an edit by so many frames; whether it goes so far is not asked here.

    A slate counts frames of its own from its first.
    """
    out = list(parts)
    for i, (gap, first, length, lead) in vector.items():
        part = out[i]
        out[i] = replace(
            part,
            gap=part.gap + gap * by,
            first=part.first if part.shot.camera is None else part.first + first * by,
            count=part.count + length * by,
            lead=part.lead + lead * by,
        )
    return out


def stops(parts: Sequence[Part], vector: Vector, stage: Frames) -> tuple[Stop, Stop]:
    """How far an edit goes back and forth: what must not become less than nothing is linear in the frames it moves by."""
    back: tuple[int, Room] | None = None
    forth: tuple[int, Room] | None = None
    ahead = moved(parts, vector, 1)
    # Where the sound of a shot leads is where that of the shot before it ends.
    touched = {*vector, *(i - 1 for i, step in vector.items() if step.lead and i)}
    for i in sorted(touched):
        for now, then in zip(rooms(parts, i, stage), rooms(ahead, i, stage), strict=True):
            by = then.frames - now.frames
            if by < 0 and (forth is None or now.frames // -by < forth[0]):
                forth = now.frames // -by, now
            elif by > 0 and (back is None or -(now.frames // by) > back[0]):
                back = -(now.frames // by), now
    one, other = (Stop(None, "") if end is None else Stop(end[0], end[1].why()) for end in (back, forth))
    return one, other


# Vectors for one frame, later in the action or the cut; i is the shot's place in the order.


def trim_in(i: int) -> Vector:
    """
    |--1--|----2----|--3--|   by +k:   |--1--|--2----|--3--|
    """
    return {i: Step(first=1, length=-1)}


def trim_out(i: int) -> Vector:
    """
    |--1--|----2----|--3--|   by −k:   |--1--|----2--|--3--|
    """
    return {i: Step(length=1)}


def trim_in_leaving(i: int) -> Vector:
    """
    |--1--|----2----|--3--|   by +k:   |--1--|..|-2---|--3--|
    """
    return {i: Step(gap=1, first=1, length=-1)}


def trim_out_leaving(i: int, last: int) -> Vector:
    """
    |--1--|----2----|--3--|   by −k:   |--1--|---2-|..|--3--|
    """
    return {i: Step(length=1)} if i == last else {i: Step(length=1), i + 1: Step(gap=-1)}


def roll(i: int) -> Vector:
    """
    |--1--|----2----|--3--|   the joint before 2, by +k:   |--1----|--2----|--3--|
    """
    return {i - 1: Step(length=1), i: Step(first=1, length=-1)}


def sound(i: int) -> Vector:
    """Where the sound of the stage changes to that of 2, by −k.

    |--1--|----2----|   picture        |--1--|----2----|
    |--1--|----2----|   sound    ->    |--1|------2----|
    """
    return {i: Step(lead=-1)}


def roll_picture(i: int) -> Vector:
    """
    |--1--|----2----|   picture        |--1----|--2----|
    |--1--|----2----|   sound    ->    |--1--|----2----|
    """
    return added([roll(i), {i: Step(lead=1)}])


def slip(i: int) -> Vector:
    """
    |--1--|----2----|--3--|   by +k:   |--1--|~~~~2~~~~|--3--|
    """
    return {i: Step(first=1)}


def slide(parts: Sequence[Part], first: int, last: int) -> Vector:
    """A run of neighbours. Where black lies on a side of it, that side takes or gives the black.

    |--1--|----2----|--3--|   by +k:   |--1----|----2----|3--|
    """
    before = {first: Step(gap=1)} if first == 0 or parts[first].gap else {first - 1: Step(length=1)}
    if last + 1 == len(parts):
        return before
    after = {last + 1: Step(gap=-1)} if parts[last + 1].gap else {last + 1: Step(first=1, length=-1)}
    return added([before, after])


def overwriting(parts: Sequence[Part], i: int, *, head: bool, by: int) -> list[tuple[Vector, int]]:
    """A trim that takes the black beside the shot first, then goes on into its neighbour down to one frame.

    |--1--|..|--2--|   the head of 2, by −4:   |--1|-----2--|
    """
    grows = -by if head else by
    other = i - 1 if head else i + 1
    alone = trim_in_leaving(i) if head else trim_out_leaving(i, len(parts) - 1)
    if grows <= 0 or not 0 <= other < len(parts):
        return [(alone, by)]
    black = parts[i].gap if head else parts[i + 1].gap
    used = min(grows, black)
    sign = -1 if head else 1
    rest = grows - used
    return [(alone, sign * used)] + ([(roll(i if head else i + 1), sign * rest)] if rest else [])


# Edits of structure, over places in the cut.


@dataclass(frozen=True)
class Laid:
    """A shot, or a piece of one, at a place in the cut."""

    at: int
    part: Part

    @property
    def stop(self) -> int:
        """The cut frame after its last."""
        return self.at + self.part.count


def laid_out(parts: Sequence[Part]) -> list[Laid]:
    """Shots at their places."""
    return [Laid(at, part) for at, part in zip(places(parts), parts, strict=True)]


def in_order(laid: Sequence[Laid]) -> list[Part]:
    """Shots in the order of their places, with the black that lies between them."""
    out, at = [], 0
    for one in sorted(laid, key=lambda each: each.at):
        out.append(replace(one.part, gap=one.at - at))
        at = one.stop
    return out


def head_of(one: Laid, cut: int) -> Laid | None:
    """What of a shot lies before a cut frame."""
    keep = min(cut - one.at, one.part.count)
    if keep == one.part.count:
        return one
    shot = _with(one.part.shot, fade_out=0)
    return Laid(one.at, replace(one.part, shot=shot, count=keep)) if keep > 0 else None


def tail_of(one: Laid, cut: int) -> Laid | None:
    """What of a shot lies at a cut frame and after it."""
    drop = max(cut - one.at, 0)
    if drop >= one.part.count:
        return None
    if not drop:
        return one
    shot = _with(one.part.shot, fade_in=0, dissolve=None, bound=None)
    first = one.part.first + (0 if shot.camera is None else drop)
    part = replace(one.part, shot=shot, first=first, count=one.part.count - drop, lead=0)
    return Laid(one.at + drop, part)


def _with(shot: Shot, **update: Any) -> Shot:
    """The shot with other joins; as it is where they are so already."""
    return (
        shot
        if all(getattr(shot, name) == value for name, value in update.items())
        else changed(shot, **update)
    )


def later(laid: Sequence[Laid], cut: int, by: int) -> list[Laid]:
    """All that begins at a cut frame or after it, moved by so many frames."""
    return [Laid(one.at + by, one.part) if one.at >= cut else one for one in laid]


def three_points(
    stage: tuple[int | None, int | None], cut: tuple[int | None, int | None]
) -> tuple[Frames, int] | str:
    """The stage frames and the cut frame of an edit of which three of four ends are given, both ends meant.

    The missing start is found from its end. What is wrong with them otherwise, as a sentence without its end.
    """
    given = [value for value in (*stage, *cut) if value is not None]
    if len(given) < 3:
        return "Three of the four points are needed"
    counts = [b - a + 1 for a, b in (stage, cut) if a is not None and b is not None]
    if min(counts) < 1:
        return "It would end before it starts"
    if len(counts) == 2 and counts[0] != counts[1]:
        return f"{counts[0]} f of the stage do not fill {counts[1]} f of the cut: leave one point out"
    count = counts[0]
    first = stage[0] if stage[0] is not None else (stage[1] or 0) - count + 1
    at = cut[0] if cut[0] is not None else (cut[1] or 0) - count + 1
    if at < 0:
        return f"It would begin {-at} f before the cut does"
    return Frames(first=first, last=first + count - 1), at


def frames_word(by: int | None) -> str:
    """`at most +5 f`, or nothing without a limit."""
    return "" if by is None or not math.isfinite(by) else f": at most {by:+d} f"
