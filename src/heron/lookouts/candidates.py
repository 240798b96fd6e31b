"""Cameras that could see what is asked for, by closed forms, many hundreds of them."""

from collections.abc import Iterator

import numpy as np

from heron.framing.composing import of_two, ray, turns
from heron.framing.shot_size import EYES_AT, TAKES
from heron.lookouts.asked import Asked, High, Way
from heron.lookouts.ground import Floats, Ground, Poses
from heron.notes.views import AT
from heron.stage.skeleton import EYE

#: What a view is of, by place: the names that reasons have for it.
KINDS = ("single", "over", "two", "with", "through")
SINGLE, OVER, TWO, WITH, THROUGH = range(len(KINDS))
#: How far a camera is round somebody from where they look, degrees.
WAYS: dict[Way, tuple[float, float]] = {
    "front": (0, 20), "three-quarter": (20, 62), "profile": (70, 110), "behind": (118, 180),
}  # fmt: skip
#: How high a camera is over the eyes, degrees as seen from there; without a wish at about eye level.
HIGH: dict[High | None, tuple[float, ...]] = {
    "low": (-20.0, -14.0, -9.0), "eye level": (-4.0, 0.0, 4.0), "high": (12.0, 18.0, 26.0), None: (-7.0, 0.0, 6.0),
}  # fmt: skip
#: Where the lower edge cuts a body by size, never at a joint, shares of stature; and lenses that are usual, millimetres on a back
#: 36 wide (common practice).
_CUT = {
    "extreme close-up": 0.858, "close-up": 0.755, "medium close-up": 0.672, "medium": 0.575, "mid-thigh": 0.40, "medium full": 0.18,
}  # fmt: skip
_LENS = {
    "extreme close-up": 85, "close-up": 75, "medium close-up": 58, "medium": 48, "mid-thigh": 42, "medium full": 38,
    "full": 35, "wide": 30, "extreme wide": 25,
}  # fmt: skip
#: Without a wish these sizes are tried.
_SIZES = ("medium close-up", "medium", "full")
#: Bearings all round, degrees; places of the eyes across and from the upper edge.
_BEARINGS, _ACROSS, _DOWN = np.arange(-180.0, 180.0, 6.0), (0.15, 0.33), (0.30, 0.36)
#: People and things together take so much of the frame.
_FILL, _ROUNDS = 0.82, 5


def candidates(ground: Ground, asked: Asked) -> Poses:
    """All that could be meant."""
    found = [one for one in _all(ground, asked) if len(one)]
    if not found:
        return Poses(np.zeros((0, 5)), np.zeros(0), np.zeros(0, dtype=int), np.zeros(0, dtype=int))
    whole = found[0]
    for one in found[1:]:
        whole = whole + one
    return whole.of(np.isfinite(whole.pose).all(axis=1))


def _all(ground: Ground, asked: Asked) -> Iterator[Poses]:
    named = [ground.place(one) for one in asked.figures]
    if asked.through is not None:
        eyes = ground.place(asked.through)
        for k in named or [one for one in range(len(ground.people)) if one != eyes]:
            yield _through(ground, eyes, k)
    elif asked.over is not None:
        near = ground.place(asked.over)
        for k in named or [_looked_at(ground, near)]:
            yield _over(ground, near, k, asked)
    elif asked.thing is not None:
        some = named or [0]
        yield _with(ground, some, ground.corners(asked.thing), asked)
    elif len(named) > 2:
        yield _with(ground, named, np.zeros((0, 3)), asked)
    elif len(named) == 2:
        yield _two(ground, named[0], named[1])
    elif named:
        yield _single(ground, named[0], asked)
    else:
        yield from _shown(ground, asked)


def _shown(ground: Ground, asked: Asked) -> Iterator[Poses]:
    """Where nobody was named: those who talk together, each and both, over shoulders too; else everybody."""
    pair = ground.pair
    for k in pair or range(min(len(ground.people), 4)):
        yield _single(ground, k, asked)
    if pair is not None and asked.way is None:
        yield _two(ground, *pair)
        if asked.size is None:
            yield _over(ground, pair[0], pair[1], asked)
            yield _over(ground, pair[1], pair[0], asked)


def _looked_at(ground: Ground, k: int) -> int:
    """Whom somebody looks at most."""
    own, gaze = ground.eyes(k, ground.middle), ground.people[k].gaze[ground.middle]
    others = [one for one in range(len(ground.people)) if one != k]
    ways = [ground.eyes(one, ground.middle) - own for one in others]
    return others[int(np.argmax([way @ gaze / max(np.linalg.norm(way), 1e-6) for way in ways]))]


def heading(ground: Ground, k: int) -> float:
    """Degrees: the bearing somebody looks along at the middle moment, as a camera's from them would be."""
    gaze = ground.people[k].gaze[ground.middle]
    return float(np.degrees(np.arctan2(gaze[0], gaze[2])))


def _single(ground: Ground, k: int, asked: Asked) -> Poses:
    eyes, stature = ground.eyes(k, ground.middle), ground.people[k].figure.stature
    rows = []
    band = WAYS[asked.way] if asked.way else (0.0, 180.0)
    bearings = _BEARINGS[(np.abs(_BEARINGS) >= band[0] - 3) & (np.abs(_BEARINGS) <= band[1])]
    for size in [asked.size] if asked.size else _SIZES:
        for focal in ground.lenses(_LENS[size], 3):
            half = ground.half(np.array([focal]))[0]
            for down in _DOWN:
                far = high_of(size, down) * stature / 2 / half[1]
                for up in HIGH[asked.high]:
                    for x in _ACROSS:
                        # Room on the side they look to: from their left they look to the right of the frame.
                        rows.append(
                            [
                                (b, up, far, x * np.sign(b) if b else x, 1 - 2 * down, focal)
                                for b in bearings.tolist()
                            ]
                        )
    table = np.array([one for some in rows for one in some])
    pose = _round(ground, eyes, heading(ground, k), table)
    n = len(table)
    return Poses(pose, table[:, 5], np.full(n, SINGLE), np.full(n, k))


def high_of(size: str, down: float) -> float:
    """How high the frame is where somebody stands, statures: the eyes so far down, the lower edge where the size has it."""
    cut = _CUT[size] if size in _CUT else EYE - (1 + EYES_AT) / 2 / TAKES[size]
    return float((EYE - cut) / (1 - down))


def _round(ground: Ground, eyes: Floats, looks: float, table: Floats) -> Floats:
    """(n, 5) poses round somebody: rows of bearing from where they look, height angle, metres, place across and up, millimetres."""
    bearing, up = np.radians(looks + table[:, 0]), np.radians(table[:, 1])
    way = np.stack([np.sin(bearing) * np.cos(up), np.sin(up), np.cos(bearing) * np.cos(up)], axis=1)
    half = ground.half(table[:, 5])
    v = np.stack([table[:, 3] * half[:, 0], table[:, 4] * half[:, 1], -np.ones(len(table))], axis=1)
    v /= np.linalg.norm(v, axis=1, keepdims=True)
    # So far along the axis, not along the ray.
    place = eyes + (table[:, 2] / -v[:, 2])[:, None] * way
    pan, tilt = turns(v, -way)
    return np.column_stack([place, pan, tilt])


def _pairs(
    ground: Ground, first: int, second: int, places: list[tuple[tuple[float, float], tuple[float, float]]], ratios: Floats,
    lenses: list[float], kind: int, who: int,
) -> Poses:  # fmt: skip
    a, b = ground.eyes(first, ground.middle), ground.eyes(second, ground.middle)
    poses, focals = [], []
    for focal in lenses:
        half = ground.half(np.array([focal]))[0]
        for at_a, at_b in places:
            for sign in (1, -1):
                family = of_two(a, b, (sign * at_a[0], at_a[1]), (sign * at_b[0], at_b[1]), half, 0.0)
                poses.append(family(np.log(ratios)))
                focals.append(np.full(len(ratios), focal))
    pose = np.concatenate(poses)
    n = len(pose)
    return Poses(pose, np.concatenate(focals), np.full(n, kind), np.full(n, who))


def _over(ground: Ground, near: int, k: int, asked: Asked) -> Poses:
    places = [
        ((x, 1 - 2 * y), (-to, 1 - 2 * down))
        for x in (0.5, 0.6, 0.72)
        for y in (0.14, 0.24, 0.34)
        for to in (0.14, 0.28, 0.4)
        for down in (0.26, 0.36, 0.44)
    ]
    lenses = ground.lenses(_LENS[asked.size] if asked.size else 50, 4)
    return _pairs(ground, near, k, places, np.geomspace(1.8, 4.0, 5), lenses, OVER, k)


def _two(ground: Ground, a: int, b: int) -> Poses:
    places = [
        ((-x, 1 - 2 * (y - dy / 2)), (x, 1 - 2 * (y + dy / 2)))
        for x in (0.2, 0.3, 0.4, 0.5)
        for y in (0.27, 0.32, 0.37)
        for dy in (-0.14, -0.07, 0.0, 0.07, 0.14)
    ]
    return _pairs(ground, a, b, places, np.geomspace(0.62, 1.6, 7), ground.lenses(40, 4), TWO, a)


def _through(ground: Ground, eyes: int, k: int) -> Poses:
    """As somebody sees somebody: from just before their eyes."""
    one = ground.people[eyes]
    own, target = ground.eyes(eyes, ground.middle), ground.eyes(k, ground.middle)
    way = target - own
    place = own + 0.1 * way / max(float(np.linalg.norm(way)), 1e-6)
    rows = []
    for focal in ground.lenses(40, 4):
        half = ground.half(np.array([focal]))[0]
        for x in (-0.33, -0.15, 0.15, 0.33):
            for y in (0.0, 0.2, 0.33, 0.45):
                pan, tilt = turns(ray((x, y), half), (way / np.linalg.norm(way))[None])
                rows.append((*place, float(pan[0]), float(tilt[0]), focal))
    table = np.array(rows)
    n = len(table)
    assert one.figure.id != ground.people[k].figure.id
    return Poses(table[:, :5], table[:, 5], np.full(n, THROUGH), np.full(n, k))


def _with(ground: Ground, some: list[int], more: Floats, asked: Asked) -> Poses:
    """People and a thing in one frame: from each way the distance at which all of it fills the frame so far."""
    marks: tuple[str, ...] = (
        ("crown", "chest") if asked.size in ("close-up", "medium close-up") else ("crown", "pelvis")
    )
    marks = (
        ("crown", "sole_r", "sole_l")
        if asked.size in (None, "full", "wide", "extreme wide", "medium full")
        else marks
    )
    people = [ground.people[k].marks[ground.middle, AT[name]] for k in some for name in marks]
    points = np.concatenate([np.array(people), more])
    band = WAYS[asked.way] if asked.way else (0.0, 180.0)
    looks = heading(ground, some[0])
    rows = [
        (looks + b, up, focal)
        for b in np.arange(-180.0, 180.0, 10.0)
        if band[0] - 5 <= abs(b) <= band[1] + 5
        for up in HIGH[asked.high]
        for focal in ground.lenses(_LENS[asked.size] if asked.size else 32, 4)
    ]
    table = np.array(rows)
    bearing, up = np.radians(table[:, 0]), np.radians(table[:, 1])
    way = np.stack([np.sin(bearing) * np.cos(up), np.sin(up), np.cos(bearing) * np.cos(up)], axis=1)
    right = np.stack([np.cos(bearing), np.zeros(len(bearing)), -np.sin(bearing)], axis=1)
    over = np.cross(way, right)
    half = ground.half(table[:, 2])
    at = np.tile(points.mean(axis=0), (len(table), 1))
    far = np.full(len(table), 2.0 * float(np.ptp(points, axis=0).max()) + 1.0)
    for _ in range(_ROUNDS):
        off = points[None] - (at + far[:, None] * way)[:, None]
        deep = np.maximum(-np.einsum("nmk,nk->nm", off, way), 0.2)
        x = np.einsum("nmk,nk->nm", off, right) / deep / half[:, :1]
        y = np.einsum("nmk,nk->nm", off, over) / deep / half[:, 1:]
        low = np.stack([x.min(axis=1), y.min(axis=1)], axis=1)
        high = np.stack([x.max(axis=1), y.max(axis=1)], axis=1)
        middle = (low + high) / 2 * half * far[:, None]
        at = at + middle[:, :1] * right + middle[:, 1:] * over
        far = far * np.maximum((high - low).max(axis=1) / 2 / _FILL, 0.2)
    pan, tilt = turns(np.array([0.0, 0.0, -1.0]), -way)
    n = len(table)
    return Poses(
        np.column_stack([at + far[:, None] * way, pan, tilt]),
        table[:, 2],
        np.full(n, WITH),
        np.full(n, some[0]),
    )
