"""How a body lies in the frame: joints at its edges, feet, the room over a head and before eyes, sizes, outlines that touch."""

from collections.abc import Iterator
from typing import Any

import numpy as np

from heron.framing.shot_size import SIZES, with_article
from heron.notes.measured import Measured
from heron.notes.subject import Subject
from heron.notes.views import AT, HEAD_HALF, Floats

ECU, CU, MCU, MEDIUM, MID_THIGH, MEDIUM_FULL, FULL, WIDE, EXTREME = range(len(SIZES))
#: Bones, and what a joint at each end weighs; nearer than this to a joint counts, shares of the bone (common practice).
_BONES = (
    ("shoulder", "elbow", 0.7, 0.55), ("elbow", "wrist", 0.55, 0.5), ("wrist", "fingertips", 0.5, 0.0),
    ("hip", "knee", 0.7, 1.0), ("knee", "ankle", 1.0, 1.0),
)  # fmt: skip
_NEAR = 0.12
#: Edges other than the lower one cut joints less conspicuously.
_ASIDE = 0.6
#: Where a lower edge cuts a neck or hips, shares of stature, and what that weighs.
_BANDS = ((0.812, 0.868, 1.0, "neck"), (0.503, 0.550, 0.7, "hips"))
#: Where the eyes are too low, from the upper edge, by size, against a medium close-up.
_LOW_EYES = {CU: 0.44 / 0.45, MCU: 1.0, MEDIUM: 0.46 / 0.45, MID_THIGH: 0.46 / 0.45, MEDIUM_FULL: 0.44 / 0.45}
#: A close-up may lose so much of a head at the top.
_LOSES = 0.30
#: Head heights, and half their width and height as ellipses, shares of stature.
_HEAD, _ACROSS, _UP = 0.134, HEAD_HALF, 0.066
#: The shortest lens that is usual for a size, and the longest for a whole figure, millimetres on a back 36 wide; and how near a
#: face may be, metres.
_SHORTEST = {ECU: 40.0, CU: 38.0, MCU: 29.0, MEDIUM: 20.5, MID_THIGH: 20.5}
_LONGEST, _FACE_M = 90.0, 0.75


def body_notes(s: Subject) -> Iterator[Measured]:
    """All that follows from where a body is in the frame."""
    eyes = s.placed("eyes")
    down = (1 - eyes[:, 1]) / 2
    room = (1 - s.seen.framed(s.top)[:, 1]) / 2
    yield _joints(s)
    yield from _headroom(s, eyes, down, room)
    yield _looking(s, eyes)
    yield _thirds(s, eyes, down, room)
    yield from _touching(s, room)
    yield from _heads(s)
    yield _feet(s)
    yield _small(s)
    yield _lens(s)


def _where(s: Subject, ok: Any, measure: Floats) -> Floats:
    return np.where(ok & (s.who >= 0), measure, np.nan)


def _name(s: Subject, i: int) -> str:
    return str(s.people[s.who[i]].figure.name)


def _joints(s: Subject) -> Measured:
    n = len(s.who)
    best, at = np.zeros(n), np.zeros((n, 2))
    words = np.full(n, "", dtype=object)
    edges = (
        ("lower", np.array([0.0, 1.0]), 1, 1.0),
        ("upper", np.array([0.0, -1.0]), 1, _ASIDE),
        ("left", np.array([1.0, 0.0]), 0, _ASIDE),
        ("right", np.array([-1.0, 0.0]), 0, _ASIDE),
    )
    inside = [
        lambda p, way=way, axis=axis: p[:, :2] @ way + s.seen.half[:, axis] * p[:, 2]
        for _, way, axis, _ in edges
    ]

    def keep(score: Floats, place: Floats, name: str) -> None:
        more = score > best
        best[more], at[more], words[more] = score[more], place[more], name

    for a, b, weight_a, weight_b in _BONES:
        for side, called in (("r", "right"), ("l", "left")):
            one, two = s.marks[:, AT[f"{a}_{side}"]], s.marks[:, AT[f"{b}_{side}"]]
            ahead = (one[:, 2] > 0.05) & (two[:, 2] > 0.05)
            for k, (edge, _, _, weight) in enumerate(edges):
                with np.errstate(invalid="ignore", divide="ignore"):
                    da, db = inside[k](one), inside[k](two)
                    crosses = ahead & (da * db < 0)
                    t = np.where(crosses, da / (da - db), 0.0)
                    place = one + t[:, None] * (two - one)
                    for other in range(4):
                        if other != k:
                            crosses &= inside[other](place) > 0
                    framed = s.seen.framed(place)
                    for near, joint, own in ((t, a, weight_a), (1 - t, b, weight_b)):
                        score = np.where(
                            crosses & (near < _NEAR), (0.5 + 0.5 * (1 - near / _NEAR)) * own * weight, 0
                        )
                        if own:
                            keep(score, framed, f"The {edge} edge cuts {{}}'s {called} {joint}")
    for low, high, weight, part in _BANDS:
        off = np.abs(s.cut - (low + high) / 2) / ((high - low) / 2)
        cut = np.where(np.nan_to_num(off, nan=9) < 1, (1 - 0.5 * off) * weight, 0)
        place = s.placed("neck" if part == "neck" else "pelvis")
        keep(
            cut, np.stack([place[:, 0], np.full(n, -1.0)], axis=1), f"The lower edge cuts {{}} at the {part}"
        )
    large = np.nan_to_num(s.share) >= 0.18
    return Measured("joint-cut", _where(s, large, best), at, lambda i: str(words[i]).format(_name(s, i)))


def _headroom(s: Subject, eyes: Floats, down: Floats, room: Floats) -> Iterator[Measured]:
    ok = ~s.thing & ~s.away
    head = _HEAD * s.share
    top = np.stack([eyes[:, 0], np.clip(1 - 2 * room, -1, 1)], axis=1)
    # A close-up may lose some of the head: as much less is missing.
    lost = np.where(s.size == CU, room + _LOSES * head, room)
    whole = (s.size >= CU) & (s.size <= FULL)

    def low(i: int) -> str:
        if s.size[i] == CU:
            return f"{-room[i] / head[i]:.0%} of {_name(s, i)}'s head is over the frame"
        return f"{_name(s, i)} has {max(room[i], 0):.1%} of the height over the head"

    yield Measured("headroom-low", _where(s, ok & whole, lost), top, low)
    usual = np.ones(len(down))
    for size, factor in _LOW_EYES.items():
        usual[s.size == size] = factor
    feet = (1 + np.fmin(s.placed("sole_r")[:, 1], s.placed("sole_l")[:, 1])) / 2
    tall = (s.size == FULL) & (room > 0.24) & (room > 0.9 * feet)
    measure = np.where(s.size == FULL, np.where(tall, 0.45 + (room - 0.24), np.nan), down)
    judged = ok & (s.size >= CU) & (s.size <= FULL)
    yield Measured(
        "headroom-high", _where(s, judged, measure), top,
        lambda i: f"{_name(s, i)}'s eyes are {down[i]:.0%} down the frame, with {room[i]:.0%} over the head", usual,
    )  # fmt: skip


def _looking(s: Subject, eyes: Floats) -> Measured:
    gx, gf = s.gaze[:, 0], s.gaze[:, 2]
    ahead = np.where(gx > 0, 1 - eyes[:, 0], 1 + eyes[:, 0]) / 2
    wanted = 0.45 * np.clip((np.abs(gx) - 0.2) / 0.45, 0, 1)
    ok = ~s.thing & ~s.away & (np.abs(gx) > 0.34) & (gf > -0.55) & (s.size != EXTREME)
    for k, one in enumerate(s.people):
        there = s.seen.framed(s.seen.local(one.middle))
        with np.errstate(invalid="ignore"):
            theirs = (np.abs(there) < 1).all(axis=1) & (np.sign(gx) * (there[:, 0] - eyes[:, 0]) > 0)
        # The room is theirs whom they look to.
        ok &= ~(theirs & (s.who != k))
    return Measured(
        "looking-room", _where(s, ok, wanted - ahead), eyes,
        lambda i: f"{_name(s, i)} looks {'right' if gx[i] > 0 else 'left'} into {ahead[i]:.0%} of the width; {wanted[i]:.0%} is usual",
    )  # fmt: skip


def _thirds(s: Subject, eyes: Floats, down: Floats, room: Floats) -> Measured:
    ok = ~s.thing & ~s.away & (s.size >= CU) & (s.size <= MEDIUM_FULL)
    ok &= (down < 0.44) & (room > 0.025)
    off = np.abs(down - 1 / 3)
    return Measured(
        "thirds", _where(s, ok, off), eyes,
        lambda i: f"{_name(s, i)}'s eyes are {down[i]:.0%} down the frame, off the upper third",
    )  # fmt: skip


def _touching(s: Subject, room: Floats) -> Iterator[Measured]:
    judged = s.size >= CU
    x = s.seen.framed(s.top)[:, 0]
    with np.errstate(invalid="ignore"):
        across = np.abs(x) < 1
    yield Measured(
        "touching-edge", _where(s, judged & across, np.abs(room)), np.stack([x, np.ones(len(x))], axis=1),
        lambda i: f"The top of {_name(s, i)}'s head touches the upper edge",
    )  # fmt: skip
    soles = np.fmin(s.placed("sole_r")[:, 1], s.placed("sole_l")[:, 1])
    foot = s.placed("sole_r")[:, 0]
    whole = (s.cut < 0.012) & (s.share > 0.1)
    yield Measured(
        "touching-edge", _where(s, whole, np.abs(1 + soles) / 2 * (0.013 / 0.015)),
        np.stack([foot, np.full(len(foot), -1.0)], axis=1),
        lambda i: f"{_name(s, i)}'s feet touch the lower edge",
    )  # fmt: skip


def _heads(s: Subject) -> Iterator[Measured]:
    """Another head over the subject's, or beside it without a gap: as ellipses."""
    n = len(s.who)
    own = s.seen.framed(s.middle)
    reach = s.stature / (2 * s.seen.half[:, 1] * np.maximum(s.middle[:, 2], 0.05))
    best, by = np.full(n, np.nan), np.full(n, -1)
    for k, one in enumerate(s.people):
        local = s.seen.local(one.middle)
        there = s.seen.framed(local)
        theirs = one.figure.stature / (2 * s.seen.half[:, 1] * np.maximum(local[:, 2], 0.05))
        # Shares of the height, across and up.
        dx, dy = (there - own).T * np.array([[s.aspect / 2], [0.5]])
        gap = np.hypot(dx / (_ACROSS * (reach + theirs)), dy / (_UP * (reach + theirs)))
        with np.errstate(invalid="ignore"):
            seen = (np.abs(there) < 1).all(axis=1) & (np.abs(own) < 1).all(axis=1) & (s.who != k)
            nearer = seen & ~(gap >= np.where(np.isnan(best), np.inf, best))
        best[nearer], by[nearer] = gap[nearer], k

    def other(i: int) -> list[str]:
        return [s.people[by[i]].figure.name] if by[i] >= 0 else []

    yield Measured(
        "heads-overlap", _where(s, np.ones(n, dtype=bool), best), own,
        lambda i: f"{_name(s, i)}'s head and {other(i)[0]}'s overlap", by=other,
    )  # fmt: skip
    touch = np.where((best >= 0.98) & (best < 1.12), (best - 0.98) * 0.013 / 0.14, np.nan)
    yield Measured(
        "touching-edge", _where(s, np.ones(n, dtype=bool), touch), own,
        lambda i: f"{_name(s, i)}'s head and {other(i)[0]}'s touch", by=other,
    )  # fmt: skip


def _feet(s: Subject) -> Measured:
    with np.errstate(invalid="ignore"):
        ok = (s.cut >= 0.002) & (s.share > 0.25)
    at = np.stack([s.placed("ankle_r")[:, 0], np.full(len(s.who), -1.0)], axis=1)
    return Measured("feet-cut", _where(s, ok, s.cut), at, lambda i: f"{_name(s, i)}'s feet are cut off")


def _small(s: Subject) -> Measured:
    return Measured(
        "too-small", _where(s, ~s.thing, s.share), s.placed("chest"),
        lambda i: f"{_name(s, i)} takes {s.share[i]:.0%} of the height: too small to read",
    )  # fmt: skip


def _lens(s: Subject) -> Measured:
    whole_back = 18 / s.seen.half[:, 0]
    ratio = np.full(len(s.who), np.nan)
    for size, least in _SHORTEST.items():
        ratio = np.where(s.size == size, whole_back / least, ratio)
    face = np.linalg.norm(s.marks[:, AT["eyes"]], axis=1)
    close = s.size <= MID_THIGH
    ratio = np.where(close, np.fmin(ratio, face / _FACE_M), ratio)
    ratio = np.where(s.size == FULL, _LONGEST / whole_back, ratio)

    def say(i: int) -> str:
        if s.size[i] == FULL:
            return f"{s.seen.focal[i]:.0f} mm is long for a full shot: the set goes flat"
        if face[i] < _FACE_M:
            return f"The lens is {face[i]:.2f} m from {_name(s, i)}'s face: it looks stretched"
        return f"{s.seen.focal[i]:.0f} mm is short for {with_article(SIZES[s.size[i]])}: faces look stretched"

    return Measured("lens", _where(s, ~s.away, ratio), s.placed("eyes"), say)
