"""What stands before, across and behind: by rays over the set, things and people."""

from collections.abc import Iterator
from typing import Any

import numpy as np

from heron.bake import Bake
from heron.framing.hidden import Hiding
from heron.notes.measured import Measured
from heron.notes.parting import parting_notes
from heron.notes.standing import blur
from heron.notes.subject import Subject
from heron.notes.views import AT, HEAD_HALF, Floats, Person

Ints = np.ndarray[Any, np.dtype[np.int64]]
#: Rays are sent every so many frames; what they find holds for the frames nearest to those.
EVERY_F = 6
#: What of a face is looked at, and what each part counts.
_FACE = (0.28, 0.20, 0.16, 0.18, 0.18)
#: Targets lie so far inside a head; hits count up to so much of the way.
_IN, _UP_TO = 0.1, 0.985
#: Another face counts for less, and only if it is this large, a share of the height.
_OTHER, _LARGE = 0.6, 0.25
#: Rays over the middle of the frame; nearer than this share of the way to the subject counts; and the columns that do.
_ACROSS, _DOWN, _NEARER, _MIDDLE = np.linspace(-0.42, 0.42, 9), np.linspace(-0.72, 0.72, 7), 0.7, 0.21
#: A column covered so far counts as so much of the grid.
_COLUMN = 0.22 / 0.55
#: An upright is narrow up to so many head widths, stands so far behind the head, and so much over it.
_NARROW, _BEHIND_M, _OVER = 1.35, 0.25, 0.22


def sight_notes(bake: Bake, s: Subject, every: int = EVERY_F) -> Iterator[Measured]:
    """All that needs rays; they are sent for one of so many frames."""
    looks, place_of = _looks(len(s.who), every)
    hiding = Hiding(bake, s.seen.t[looks], figures=True)
    for k, one in enumerate(s.people):
        if (found := _face(s, k, one, hiding, looks, place_of)) is not None:
            yield found
    if (s.who >= 0).any():
        yield _foreground(bake, s, hiding, looks, place_of)
        yield _growing(bake, s, hiding, looks, place_of)
        # What stands behind changes more slowly than what comes between.
        some = np.arange(0, len(looks), 1 if every == 1 else 2)
        some = np.unique(np.r_[some, len(looks) - 1])
        middle = (looks[some][1:] + looks[some][:-1]) / 2
        yield from parting_notes(
            bake, s, hiding, some, looks[some], np.searchsorted(middle, np.arange(len(s.who)))
        )


def _looks(n: int, every: int) -> tuple[Ints, Ints]:
    """Frames at which rays are sent, and (n,) which of them holds for each."""
    looks = np.unique(np.r_[np.arange(0, n, every), n - 1])
    return looks, np.searchsorted((looks[1:] + looks[:-1]) / 2, np.arange(n))


def _face(s: Subject, k: int, one: Person, hiding: Hiding, looks: Ints, place_of: Ints) -> Measured | None:
    """How much of a face is hidden, and by what."""
    middle = s.seen.local(one.middle)
    at = s.seen.framed(middle)
    deep = np.maximum(middle[:, 2], 0.05)
    share = one.figure.stature / (2 * s.seen.half[:, 1] * deep)
    faces = s.seen.ways(one.gaze)[:, 2]
    with np.errstate(invalid="ignore"):
        inside = (np.abs(at) < 1).all(axis=1)
    counts = inside & np.where(s.who == k, faces > -0.5, (faces > 0) & (share > _LARGE))
    rows = looks[counts[looks]]
    if len(rows) == 0:
        return None
    tall = one.figure.stature
    eyes, chin = one.marks[rows, AT["eyes"]], one.marks[rows, AT["chin"]]
    side = np.cross(one.gaze[rows], [0.0, 1.0, 0.0])
    side /= np.maximum(np.linalg.norm(side, axis=1, keepdims=True), 1e-9)
    brow = eyes + np.array([0.0, 0.03 * tall, 0.0])
    marks = np.stack(
        [eyes, chin, brow, eyes + 0.9 * HEAD_HALF * tall * side, eyes - 0.9 * HEAD_HALF * tall * side], axis=1
    )
    marks += _IN * (one.middle[rows][:, None] - marks)
    far, which = hiding.nearest(
        s.seen.place[rows], marks - s.seen.place[rows][:, None], np.searchsorted(looks, rows), one.figure.id
    )
    lost = (far < _UP_TO) @ np.array(_FACE)
    measure = np.full(len(looks), np.nan)
    by = np.full(len(looks), -1)
    there = np.searchsorted(looks, rows)
    measure[there] = lost * np.where(s.who[rows] == k, 1.0, _OTHER)
    for row, hit, gone in zip(there, which, far < _UP_TO, strict=True):
        if gone.any():
            by[row] = np.bincount(hit[gone]).argmax()
    spread, cause = measure[place_of], by[place_of]
    spread = np.where(counts, spread, np.nan)
    name = one.figure.name

    def causes(i: int) -> list[str]:
        return [hiding.names[cause[i]]] if cause[i] >= 0 else []

    return Measured(
        "face-hidden", spread, at,
        lambda i: f"{', '.join(causes(i))} hides {min(spread[i], 1):.0%} of {name}'s face", by=causes, who=lambda _: [name],
    )  # fmt: skip


def _foreground(bake: Bake, s: Subject, hiding: Hiding, looks: Ints, place_of: Ints) -> Measured:
    rows = looks[s.who[looks] >= 0]
    measure, by = np.full(len(looks), np.nan), np.full(len(looks), -1)
    at = np.zeros((len(looks), 2))
    if len(rows):
        grid = np.array([(x, y) for x in _ACROSS for y in _DOWN])
        deep = _NEARER * s.middle[rows, 2]
        off = np.concatenate(
            [grid[None] * s.seen.half[rows][:, None], np.full((len(rows), len(grid), 1), -1.0)], axis=2
        )
        ways = np.einsum("nmj,njk->nmk", off, s.seen.axes[rows]) * deep[:, None, None]
        there = np.searchsorted(looks, rows)
        _, which = hiding.nearest(s.seen.place[rows], ways, there, pieces_alone=True)
        pieces = [p for p in bake.scene.visible.pieces if p.part_of is None]
        stands = np.array([p.kind not in ("platform", "ramp", "reeds") for p in pieces] + [False])
        hit = (which >= 0) & (which < len(pieces)) & stands[np.minimum(which, len(pieces))]
        cells = hit.reshape(len(rows), len(_ACROSS), len(_DOWN))
        columns = cells.mean(axis=2)[:, np.abs(_ACROSS) < _MIDDLE]
        whole = cells.mean(axis=(1, 2))
        measure[there] = np.maximum(whole, columns.max(axis=1) * _COLUMN)
        for row, hits, what in zip(there, hit, which, strict=True):
            if hits.any():
                by[row] = np.bincount(what[hits]).argmax()
                at[row] = grid[hits].mean(axis=0)
    cause, spread = by[place_of], measure[place_of]

    def causes(i: int) -> list[str]:
        return [hiding.names[cause[i]]] if cause[i] >= 0 else []

    return Measured(
        "foreground", np.where(s.who >= 0, spread, np.nan), at[place_of],
        lambda i: f"{', '.join(causes(i))} stands across the picture, before {', '.join(s.names(i))}", by=causes,
    )  # fmt: skip


def _growing(bake: Bake, s: Subject, hiding: Hiding, looks: Ints, place_of: Ints) -> Measured:
    """Narrow uprights whose image goes up from a head."""
    n = len(s.who)
    best, by = np.zeros(n), np.full(n, -1)
    top = s.seen.framed(s.top)
    reach = s.stature / (2 * s.seen.half[:, 1] * np.maximum(s.middle[:, 2], 0.05))
    head, tall = HEAD_HALF * reach, 0.134 * reach
    pieces = [p for p in bake.scene.visible.pieces if p.part_of is None]
    for k, piece in enumerate(pieces):
        if piece.kind not in ("post", "box", "wall") or piece.height < 0.25:
            continue
        foot = s.seen.local(np.tile([piece.x, piece.base, piece.z], (n, 1)))
        up = s.seen.local(np.tile([piece.x, piece.base + piece.height, piece.z], (n, 1))) - foot
        rise = top[:, 1] * s.seen.half[:, 1]
        with np.errstate(invalid="ignore", divide="ignore"):
            t = (rise * foot[:, 2] - foot[:, 1]) / (up[:, 1] - rise * up[:, 2])
            met = foot + t[:, None] * up
            deep = met[:, 2]
            turn = np.radians(piece.heading)
            right = s.seen.axes[:, 0]
            across = np.abs(right[:, 0] * np.cos(turn) - right[:, 2] * np.sin(turn)) * piece.width / 2
            across += np.abs(right[:, 0] * np.sin(turn) + right[:, 2] * np.cos(turn)) * piece.depth / 2
            wide = across / (2 * s.seen.half[:, 1] * deep)
            x = met[:, 0] / deep / s.seen.half[:, 0] * s.aspect / 2
            end = foot + up
            over = np.where(end[:, 2] > 0.05, end[:, 1] / end[:, 2] / s.seen.half[:, 1], 9.0)
            above = (np.minimum(over, 1.0) - top[:, 1]) / 2 / tall
            ok = (
                (t > 0)
                & (t < 1)
                & (deep > s.middle[:, 2] + _BEHIND_M)
                & (above >= _OVER)
                & (wide < _NARROW * head)
            )
            gap = np.abs(x - top[:, 0] * s.aspect / 2)
            quiet = 1 / (1 + (blur(s, deep) / np.maximum(1.1 * wide, 1e-9)) ** 2)
            score = np.clip((1.12 * head + 0.35 * wide - gap) / (0.4 * head), 0, 1) * quiet
            score *= np.clip(above / 0.5, 0.4, 1)
        score = np.where(ok & (s.who >= 0), np.nan_to_num(score), 0)
        more = score > best
        best[more], by[more] = score[more], k
    # It must be what is seen over the head.
    rows = looks[(best[looks] > 0.1) & (by[looks] >= 0)]
    seen = np.zeros(len(looks), dtype=bool)
    if len(rows):
        aim = np.array([[pieces[k].x, pieces[k].z] for k in by[rows]])
        crown = s.top[rows, 1] + 0.18 * 0.134 * s.stature[rows]
        rise = crown / s.top[rows, 2]
        place = s.seen.place[rows]
        level = np.linalg.norm(aim - place[:, [0, 2]], axis=1)
        # Up its middle line, where the line of sight over the crown meets it.
        up = place[:, 1] + level * _slope(s, rows, rise)
        target = np.column_stack([aim[:, 0], up, aim[:, 1]])
        ways = 1.2 * (target - place)[:, None]
        there = np.searchsorted(looks, rows)
        _, which = hiding.nearest(place, ways, there)
        seen[there] = which[:, 0] == by[rows]
    best = np.where(seen[place_of], best, 0)

    def causes(i: int) -> list[str]:
        return [pieces[by[i]].name] if by[i] >= 0 else []

    return Measured(
        "growing-out", np.where(s.who >= 0, best, np.nan), top,
        lambda i: f"{', '.join(causes(i))} grows out of {', '.join(s.names(i))}'s head", by=causes,
    )  # fmt: skip


def _slope(s: Subject, rows: Ints, rise: Floats) -> Floats:
    """How steeply lines of sight through (k,) heights in the frame, tangents, go up over the floor, in the middle of it."""
    ahead = -s.seen.axes[rows, 2] + rise[:, None] * s.seen.axes[rows, 1]
    return np.asarray(ahead[:, 1] / np.maximum(np.hypot(ahead[:, 0], ahead[:, 2]), 1e-6))
