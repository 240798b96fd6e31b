"""The camera itself: where it stands, how it is rolled, what it is focused on, and whom it loses."""

import math
from collections.abc import Iterator

import numpy as np

from heron.bake import Bake
from heron.notes.kinds import KINDS
from heron.notes.measured import Measured
from heron.notes.subject import Subject
from heron.notes.views import AT, Floats
from heron.optics import blur_mm
from heron.stage.piece import Piece
from heron.stage.rays import reach

#: A roll larger than this is meant, degrees.
_MEANT_DEG = 4.5
#: The focus is being racked where it changes by more than this in a frame, 1/m; and so many frames round that are.
_RACK_PER_M, _ROUND_F = 0.002, 2
#: Somebody has been the subject who was it for so many frames; an exit belongs to the end of a shot if it is so near to it.
_BEEN_F, _EXIT_F = 12, 24
#: A camera that turns by less in a frame, of its field, is at rest; it moves, and rests, for so many frames at least.
_STILL, _RESTS_F = 0.0003, 6
#: How thick a trunk and a head are for a camera that stands in them, shares of stature.
_TRUNK, _HEAD = 0.11, 0.075
#: Where rays are sent for what is too near, −1 to 1 across the frame and up.
_OVER_FRAME = np.linspace(-1.0, 1.0, 5)


def camera_notes(bake: Bake, s: Subject, ends: list[int]) -> Iterator[Measured]:
    """Notes of the camera itself.

    Args:
        ends: the last stage frames of its shots.
    """
    nowhere = np.full((len(s.who), 2), np.nan)
    middle = np.zeros((len(s.who), 2))
    yield _inside(bake, s, middle)
    high = s.seen.place[:, 1]
    yield Measured(
        "under-floor", np.where(high < 1.0, high, np.nan), middle,
        lambda i: f"Camera {s.camera.letter} is {abs(high[i]):.2f} m {'under' if high[i] < 0 else 'over'} the floor: it must stand over it",
    )  # fmt: skip
    yield _near_plane(bake, s, middle)
    yield _roll(s, nowhere)
    yield _focus(s)
    yield from _leaves(s, ends, middle)
    yield _overshoot(s, middle)


def _own(piece: Piece, at: Floats) -> Floats:
    """(n, 3) metres from the middle of a piece's foot, as it is turned."""
    turn = math.radians(piece.heading)
    dx, dy, dz = (at - [piece.x, piece.base, piece.z]).T
    x = dx * math.cos(turn) - dz * math.sin(turn)
    return np.stack([x, dy, dx * math.sin(turn) + dz * math.cos(turn)], axis=1)


def distance(piece: Piece, at: Floats) -> Floats:
    """(n,) metres from the surface of a piece, negative inside: of a box, a cylinder or a wedge.

    Signed distances of primitives as in Quilez, "Distance functions" (from memory); of a wedge, the larger of two bounds.
    """
    x, y, z = _own(piece, at).T
    y = y - piece.height / 2
    dy = np.abs(y) - piece.height / 2
    if piece.kind == "post":
        # An ellipse as a circle of its smaller half: exact where it is round.
        far = np.hypot(x / piece.width, z / piece.depth) - 0.5
        dx = far * min(piece.width, piece.depth)
        return np.asarray(np.hypot(np.maximum(dx, 0), np.maximum(dy, 0)) + np.minimum(np.maximum(dx, dy), 0))
    d = np.stack([np.abs(x) - piece.width / 2, dy, np.abs(z) - piece.depth / 2])
    box = np.linalg.norm(np.maximum(d, 0), axis=0) + np.minimum(d.max(axis=0), 0)
    if piece.kind != "ramp":
        return np.asarray(box)
    slope = (y * piece.depth + z * piece.height) / math.hypot(piece.depth, piece.height)
    return np.asarray(np.maximum(box, slope))


def _inside(bake: Bake, s: Subject, at: Floats) -> Measured:
    n = len(s.who)
    best, by = np.full(n, np.inf), np.full(n, "", dtype=object)
    for piece in bake.scene.visible.pieces:
        if piece.part_of is not None or piece.kind == "reeds":
            continue
        far = distance(piece, s.seen.place)
        best, by = np.where(far < best, far, best), np.where(far < best, piece.name, by)
    for one in s.people:
        tall = one.figure.stature
        ends = (
            (one.marks[:, AT["neck"]], one.marks[:, AT["pelvis"]], _TRUNK),
            (one.middle, one.middle, _HEAD),
        )
        through_eyes = np.linalg.norm(s.seen.place - one.marks[:, AT["eyes"]], axis=1) < 0.12
        for a, b, thick in ends:
            along = b - a
            t = np.clip(
                np.sum((s.seen.place - a) * along, axis=1) / np.maximum(np.sum(along**2, axis=1), 1e-9), 0, 1
            )
            far = np.linalg.norm(s.seen.place - a - t[:, None] * along, axis=1) - thick * tall
            # A picture as somebody sees it is taken in their head.
            far = np.where(through_eyes, np.inf, far)
            best, by = np.where(far < best, far, best), np.where(far < best, one.figure.name, by)
    return Measured(
        "inside", np.where(np.isfinite(best), best, np.nan), at,
        lambda i: f"Camera {s.camera.letter} is {'inside' if best[i] < 0 else f'{best[i]:.2f} m from'} {by[i]}", by=lambda i: [str(by[i])],
    )  # fmt: skip


def _near_plane(bake: Bake, s: Subject, at: Floats) -> Measured:
    """Rays all over the frame: how far things are along its axis, in lengths of the nearest that is drawn."""
    n = len(s.who)
    best, by = np.full(n, np.inf), np.full(n, "", dtype=object)
    # As far as the largest threshold asks.
    most = s.seen.near * KINDS["near-plane"].most
    reach_m = most * np.sqrt(1 + (s.seen.half**2).sum(axis=1))
    for piece in bake.scene.visible.pieces:
        if piece.part_of is not None:
            continue
        close = np.flatnonzero(np.abs(distance(piece, s.seen.place)) < reach_m)
        if len(close) == 0:
            continue
        for x in _OVER_FRAME:
            for y in _OVER_FRAME:
                off = np.column_stack([s.seen.half[close] * [x, y], np.full(len(close), -1.0)])
                way = np.einsum("nj,njk->nk", off, s.seen.axes[close]) * s.seen.near[close, None]
                far = reach(piece, s.seen.place[close], way)
                nearer = far < best[close]
                best[close[nearer]], by[close[nearer]] = far[nearer], piece.name
    return Measured(
        "near-plane", np.where(np.isfinite(best), best, np.nan), at,
        lambda i: f"{by[i]} is {best[i] * s.seen.near[i]:.2f} m before the lens: nearer than {s.seen.near[i]:g} m nothing is drawn",
        by=lambda i: [str(by[i])],
    )  # fmt: skip


def _roll(s: Subject, at: Floats) -> Measured:
    roll = np.degrees(np.arctan2(s.seen.axes[:, 0, 1], s.seen.axes[:, 1, 1]))
    still = not s.camera.roll.keys and bool(np.ptp(roll) < 1e-6)
    measure = np.abs(roll) if still else np.full(len(roll), np.nan)
    return Measured(
        "roll", np.where(measure <= _MEANT_DEG, measure, np.nan), at,
        lambda i: f"The camera is rolled by {roll[i]:.1f}°: too little to look meant",
    )  # fmt: skip


def blur(s: Subject, deep: Floats) -> Floats:
    """(n,) the disc of blur of what is so far off, shares of the frame's height."""
    with np.errstate(invalid="ignore", divide="ignore"):
        return blur_mm(s.seen.focal, s.seen.aperture, s.seen.focus, 1 / deep) / s.seen.gate_mm


def _focus(s: Subject) -> Measured:
    deep = s.marks[:, AT["eyes"], 2]
    pixels = 1080 * blur(s, deep)
    rack = np.abs(np.diff(s.seen.focus, prepend=s.seen.focus[:1])) > _RACK_PER_M
    racks = np.convolve(rack, np.ones(2 * _ROUND_F + 1), "same") > 0 if len(rack) else rack
    ok = ~s.thing & ~racks
    for k, one in enumerate(s.people):
        local = s.seen.local(one.marks[:, AT["eyes"]])
        there = s.seen.framed(local)
        with np.errstate(invalid="ignore"):
            sharp = (np.abs(there) < 1).all(axis=1) & (1080 * blur(s, local[:, 2]) <= 4) & (s.who != k)
        ok &= ~(sharp & s.away)

    def say(i: int) -> str:
        side = "before" if s.seen.focus[i] > 1 / deep[i] else "behind"
        on = f"{1 / s.seen.focus[i]:.2f} m" if s.seen.focus[i] > 1e-6 else "infinity"
        name = s.people[s.who[i]].figure.name
        return f"{name}'s eyes are soft by {pixels[i]:.0f} px: the focus is {side} them, at {on}; they are at {deep[i]:.2f} m"

    return Measured("focus", np.where(ok & (s.who >= 0), pixels, np.nan), s.placed("eyes"), say)


def _overshoot(s: Subject, at: Floats) -> Measured:
    """Where a pan or tilt goes past where it comes to rest, and back: not where something that moves is watched."""
    back = s.seen.axes[:, 2]
    turned = np.column_stack(
        [np.unwrap(np.arctan2(back[:, 0], back[:, 2])), np.arcsin(np.clip(-back[:, 1], -1, 1))]
    )
    turned[:, 0] *= np.cos(turned[:, 1])
    field = 2 * np.arctan(s.seen.half[:, 0])
    n = len(turned)
    measure = np.full(n, np.nan)
    if n > 2 * _RESTS_F and not np.isfinite(s.seen.watched).any():
        moves = np.r_[np.linalg.norm(np.diff(turned, axis=0), axis=1) / field[1:] > _STILL, False]
        changes = np.flatnonzero(np.diff(np.r_[0, moves.astype(int), 0]))
        for first, stop in changes.reshape(-1, 2).tolist():
            rests = int(np.argmax(np.r_[moves[stop:], True]))
            way = turned[stop] - turned[first]
            if rests < _RESTS_F or stop - first < _RESTS_F or (far := float(np.linalg.norm(way))) < 1e-6:
                continue
            along = (turned[first : stop + 1] - turned[first]) @ (way / far)
            past = np.flatnonzero(along > far * (1 + 1e-6))
            if len(past):
                measure[first + past[0] : stop + 1] = (along.max() - far) / field[stop]
    return Measured(
        "overshoot",
        measure,
        at,
        lambda i: f"Camera {s.camera.letter} goes {measure[i]:.1%} of the width too far, and comes back",
    )


def _leaves(s: Subject, ends: list[int], at: Floats) -> Iterator[Measured]:
    """Whom most of it is about, where they are out of the frame after they were in it."""
    n = len(s.who)
    there = s.who[s.who >= 0]
    if len(there) == 0:
        return
    main = int(np.bincount(there).argmax())
    middle = s.seen.framed(s.seen.local(s.people[main].middle))
    with np.errstate(invalid="ignore"):
        inside = np.asarray((np.abs(middle) < 1).all(axis=1))
    measure = np.full(n, np.nan)
    changes = np.flatnonzero(np.r_[True, inside[1:] != inside[:-1]])
    been = 0
    for first, stop in zip(changes.tolist(), [*changes[1:].tolist(), n], strict=True):
        if inside[first]:
            been += stop - first
            continue
        begins, last = int(s.seen.t[first]), int(s.seen.t[stop - 1])
        exit_ = any(begins >= end - _EXIT_F and last >= end for end in [*ends, int(s.seen.t[-1])])
        if been >= _BEEN_F and not exit_:
            measure[first:stop] = stop - first
    name = s.people[main].figure.name
    yield Measured(
        "leaves", measure, at, lambda i: f"{name}, whom it is about, is out of the frame for {measure[i]:.0f} frames",
        who=lambda _: [name],
    )  # fmt: skip
