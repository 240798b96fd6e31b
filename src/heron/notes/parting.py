"""What parts somebody from what is behind them: tone, distance, and no line through the head."""

from collections.abc import Iterator

import numpy as np

from heron.bake import Bake
from heron.framing.hidden import Hiding
from heron.notes.body import MID_THIGH
from heron.notes.brightness import FLOOR, SKY, Behind, Floats, Ints
from heron.notes.measured import Measured
from heron.notes.standing import blur
from heron.notes.subject import Subject
from heron.notes.views import AT, HEAD_HALF
from heron.stage.colour import brightness
from heron.stage.figure import Look
from heron.stage.piece import Piece

#: Rays go past both sides of a head, so many halves of it out, from over it down to the shoulders.
_OUT, _OVER, _ROWS = 1.45, 0.6, 15
#: A head's height, a share of the stature; a smaller one than this of the frame's height is not judged.
_HEAD, _SMALL, _SMALL_LINE = 0.134, 0.04, 0.045
#: The face of a figure, as it is painted.
_SKIN = brightness("#cda876")
#: Where the ground is not so far blurred, pixels of 1,080, nor so far from the head in tone, stops, distance must part them.
_SOFT_PX, _TONE = 7.0, 1.4


def _hair(look: Look) -> float:
    """How bright a head is from behind."""
    if look.headwear == "none":
        return _SKIN
    return brightness(look.trim) if look.headwear != "bun" else 0.2 * brightness(look.coat)


def parting_notes(
    bake: Bake, s: Subject, hiding: Hiding, moments: Ints, looks: Ints, place_of: Ints
) -> Iterator[Measured]:
    """Rays beside the head and the trunk, at the frames `looks`.

    Args:
        moments: which of `hiding`'s they are; place_of: (n,) which of them holds for a frame.
    """
    with np.errstate(invalid="ignore"):
        head = _HEAD * s.share
        rows = looks[(s.who[looks] >= 0) & (head[looks] > _SMALL) & ~s.thing[looks]]
    if len(rows) == 0:
        return
    there = np.searchsorted(looks, rows)
    tall = s.stature[rows]
    middle, top = s.middle[rows], s.top[rows]
    shoulders = (s.marks[rows, AT["shoulder_r"]] + s.marks[rows, AT["shoulder_l"]]) / 2
    high = np.linspace(top[:, 1] + _OVER * _HEAD * tall, shoulders[:, 1], _ROWS, axis=1)
    out = _OUT * HEAD_HALF * tall
    points = np.empty((len(rows), 2 * _ROWS + 4, 3))
    points[..., 2] = middle[:, None, 2]
    for side, sign in ((0, -1), (1, 1)):
        cells = slice(side * _ROWS, (side + 1) * _ROWS)
        points[:, cells, 0] = (middle[:, 0] + sign * out)[:, None]
        points[:, cells, 1] = high
    wide = np.abs(s.marks[rows, AT["shoulder_r"], 0] - s.marks[rows, AT["shoulder_l"], 0]) / 2
    wide = np.maximum(wide + 0.05 * tall, 0.1 * tall)
    for k, (mark, sign) in enumerate((("chest", -1), ("chest", 1), ("spine", -1), ("spine", 1))):
        at = s.marks[rows, AT[mark]]
        points[:, 2 * _ROWS + k] = at + np.stack(
            [sign * wide, np.zeros_like(wide), np.zeros_like(wide)], axis=1
        )
    tone, far, what = _behind(bake, s, hiding, rows, moments[there], points)
    tones = _own_tones(bake, s, hiding, rows, points)

    beside = high <= top[:, 1:2]
    beside &= high >= s.marks[rows, AT["chin"]][:, 1:2]
    contrast = np.abs(np.log2(np.maximum(tones, 1e-4) / np.maximum(tone, 1e-4)))
    both = np.tile(beside, 2)
    ranked = np.sort(np.where(both, contrast[:, : 2 * _ROWS], np.inf), axis=1)
    of_head = ranked[np.arange(len(rows)), np.round(0.7 * np.maximum(both.sum(axis=1) - 1, 0)).astype(int)]
    of_trunk = np.sort(contrast[:, 2 * _ROWS :], axis=1)[:, 2]
    mean = (of_head + of_trunk) / 2
    main = [int(np.bincount(one[one >= 0]).argmax()) if (one >= 0).any() else int(one.min()) for one in what]
    behind = np.median(far[:, : 2 * _ROWS], axis=1)
    soft = 1080 * blur_at(s, rows, middle[:, 2] + np.where(np.isfinite(behind), behind, 1e4))

    n = len(looks)
    merge, near, line = (np.full(n, np.nan) for _ in range(3))
    by, by_line = np.full(n, SKY), np.full(n, SKY)
    merge[there], by[there] = mean, main
    close = (soft < _SOFT_PX) & (of_head < _TONE) & (s.size[rows] <= MID_THIGH) & np.isfinite(behind)
    near[there] = np.where(close, behind, np.nan)
    reeds = [k for k, thing in enumerate(hiding.things) if isinstance(thing, Piece) and thing.kind == "reeds"]
    step, place, cause = _line(s, rows, np.log2(np.maximum(tone, 1e-4)), high, far, what, reeds)
    line[there] = np.where(head[rows] > _SMALL_LINE, step, np.nan)
    by_line[there] = cause
    at_line = np.full((n, 2), np.nan)
    at_line[there, 0] = s.seen.framed(s.middle)[rows, 0]
    at_line[there, 1] = place / middle[:, 2] / s.seen.half[rows, 1]

    def named(k: int) -> list[str]:
        return [hiding.names[k]] if k >= 0 else []

    def word(k: int) -> str:
        return hiding.names[k] if k >= 0 else "the floor" if k == FLOOR else "the sky"

    ok = s.who >= 0
    cause_of, line_of = by[place_of], by_line[place_of]
    merged, apart, through = merge[place_of], near[place_of], line[place_of]
    head_at = s.seen.framed(s.middle)
    yield Measured(
        "merges", np.where(ok, merged, np.nan), head_at,
        lambda i: f"{', '.join(s.names(i))} and {word(cause_of[i])} behind are of one tone, {merged[i]:.1f} stops apart",
        by=lambda i: named(cause_of[i]),
    )  # fmt: skip
    yield Measured(
        "separation", np.where(ok, apart, np.nan), head_at,
        lambda i: f"{word(cause_of[i]).capitalize() if cause_of[i] < 0 else word(cause_of[i])} is {apart[i]:.1f} m behind {', '.join(s.names(i))} and nearly as sharp: little parts them",
        by=lambda i: named(cause_of[i]),
    )  # fmt: skip
    yield Measured(
        "line-through-head", np.where(ok, through, np.nan), at_line[place_of],
        lambda i: f"A line of {word(line_of[i])} goes through {', '.join(s.names(i))}'s head or neck",
        by=lambda i: named(line_of[i]),
    )  # fmt: skip


def blur_at(s: Subject, rows: Ints, deep: Floats) -> Floats:
    """(k,) the disc of blur at some depths in some of the frames, shares of the frame's height."""
    whole = np.full(len(s.who), np.nan)
    whole[rows] = deep
    return np.asarray(blur(s, whole)[rows])


def _behind(
    bake: Bake, s: Subject, hiding: Hiding, rows: Ints, there: Ints, points: Floats
) -> tuple[Floats, Floats, Ints]:
    """(k, m) of tone, metres and what is met, beyond points as the camera sees them, (k, m, 3)."""
    k, m, _ = points.shape
    off = points * [1, 1, -1]
    world = s.seen.place[rows][:, None] + np.einsum("kmj,kjc->kmc", off, s.seen.axes[rows])
    ways = world - s.seen.place[rows][:, None]
    before = np.linalg.norm(ways, axis=2)
    ways /= np.maximum(before, 1e-9)[..., None]
    behind = Behind(bake, hiding)
    tone, far = np.empty(k * m), np.empty(k * m)
    what = np.empty(k * m, dtype=np.int64)
    when = np.repeat(there, m)
    who = np.repeat(s.who[rows], m)
    flat_at, flat_way, flat_before = world.reshape(-1, 3), ways.reshape(-1, 3), before.ravel()
    for one in np.unique(who):
        some = who == one
        id_ = s.people[one].figure.id
        tone[some], far[some], what[some] = behind.look(
            flat_at[some], flat_way[some], when[some], id_, flat_before[some]
        )
    return tone.reshape(k, m), far.reshape(k, m), what.reshape(k, m)


def _own_tones(bake: Bake, s: Subject, hiding: Hiding, rows: Ints, points: Floats) -> Floats:
    """(k, m) how bright the head and the trunk are, where they are next to each of the points."""
    behind = Behind(bake, hiding)
    axes = s.seen.axes[rows]
    tones = np.empty(points.shape[:2])
    looks = [s.people[one].figure.look for one in s.who[rows]]
    facing = s.gaze[rows, 2] > 0.35
    heads = np.where(facing, _SKIN, [_hair(look) for look in looks])
    coats = np.array([brightness(look.coat) for look in looks])
    for side, sign in ((0, -1), (1, 1)):
        normal = 0.8 * sign * axes[:, 0] + 0.6 * axes[:, 2]
        tones[:, side * _ROWS : (side + 1) * _ROWS] = behind.painted(heads, normal, -axes[:, 2])[:, None]
        tones[:, 2 * _ROWS + side :: 2] = behind.painted(coats, normal, -axes[:, 2])[:, None]
    return tones


def _line(
    s: Subject, rows: Ints, stops: Floats, high: Floats, far: Floats, what: Ints, soft: list[int]
) -> tuple[Floats, Floats, Ints]:
    """The strongest step of tone at the same height on both sides of a head: (k,) stops, metres up, and what begins there."""
    k = len(rows)
    steps = [np.diff(stops[:, side * _ROWS : (side + 1) * _ROWS], axis=1) for side in (0, 1)]
    low = _ROWS // 3
    best, at = np.zeros(k), np.full(k, low)
    for shift in (-1, 0, 1):
        other = np.zeros_like(steps[1])
        if shift == 0:
            other = steps[1]
        elif shift == 1:
            other[:, :-1] = steps[1][:, 1:]
        else:
            other[:, 1:] = steps[1][:, :-1]
        both = np.where(steps[0] * other > 0, np.minimum(np.abs(steps[0]), np.abs(other)), 0)
        both[:, :low] = 0
        found = both.max(axis=1)
        more = found > best
        best[more], at[more] = found[more], both.argmax(axis=1)[more]
    lines = np.arange(k)
    below = what[lines, at + 1]
    # Reeds end in no line.
    best = np.where(np.isin(below, soft), 0, best)
    place = (high[lines, at] + high[lines, at + 1]) / 2
    head = _HEAD * s.share[rows]
    deep = s.middle[rows, 2] + np.minimum(far[lines, at + 1], 1e4)
    quiet = 1 / (1 + (blur_at(s, rows, deep) / np.maximum(0.12 * head, 1e-9)) ** 2)
    return best * quiet, place, below
