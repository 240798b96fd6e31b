"""How high a place can be stood on: the floor, tops of set pieces, and what was brought in, storey by storey."""

import math
from collections.abc import Callable, Iterable, Sequence
from typing import Any

import numpy as np
from scipy.spatial import cKDTree

from heron.stage.models.kept import part_of
from heron.stage.models.meeting import solid_of
from heron.stage.models.part import Part
from heron.stage.piece import WALKABLE, Piece, PieceKind, into

Floats = np.ndarray[Any, np.dtype[np.float64]]
Bools = np.ndarray[Any, np.dtype[np.bool_]]
Ground = Callable[[Floats], Floats]
#: Steeper ground than this nobody stands on, degrees; so much higher is a step up; so much room above a floor is enough to
#: stand there. Common practice.
STEEPEST_DEG, STEP_UP_M, HEADROOM_M = 38.0, 0.45, 1.5
#: Surfaces nearer to each other than this are one, metres.
_SAME_M = 0.02


def part_in(piece: Piece) -> Part | None:
    """What a piece is made of where it was brought in; None of another, or where its file is not here."""
    return part_of(piece.source.file, piece.source.part) if piece.source is not None else None


def bears(piece: Piece) -> bool:
    """Whether figures can stand on a piece."""
    if piece.source is not None:
        return piece.source.stood_on and part_in(piece) is not None
    return piece.kind in WALKABLE


def support(pieces: Iterable[Piece], x: float, z: float, without: frozenset[str] = frozenset()) -> float:
    """The height a set piece stands on at a place: the floor's, or that of what lies under it, metres.

    Platforms, ramps and boxes bear others, and what was brought in; `without` names those that are not there.
    """
    bearing = tuple(p for p in pieces if p.id not in without)
    return float(_bridged(lambda at: _standing(bearing, at, WALKABLE | {"box"}), np.array([[x, z]]))[0])


def walkable_height(pieces: Sequence[Piece], points: Floats) -> Floats:
    """Height of the floor, or of the highest platform or ramp, under points; in what was brought in, of its lowest storey.

    Args:
        points: (n, 2) float64, x and z in metres, stage.

    Returns:
        (n,) float64 metres; 0 is the floor.
    """
    if not any(piece.source for piece in pieces):
        return _tops(pieces, points, WALKABLE)
    return _bridged(lambda at: _standing(pieces, at, WALKABLE), points)


def ground_along(pieces: Sequence[Piece], way: Floats) -> Ground:
    """Heights of the ground near a way, (n, 2) metres, on the storey that whoever goes along it is on.

    It begins on the lowest storey with room to stand, goes up by steps, and down by any. A place beside the way is on the
    storey of the part of the way that is nearest.
    """
    if not any(piece.source for piece in pieces):
        return lambda points: walkable_height(pieces, points)
    around = _around(way)
    tops, found = _both(pieces, around.reshape(-1, 2), WALKABLE)
    tops, found = tops.reshape(len(_ROUND), len(way)), found.reshape(len(found), len(_ROUND), len(way))
    here, height = walkable_height(pieces, way[:1])[0], np.zeros(len(way))
    for i in range(len(way)):
        height[i] = here = _over_gaps(
            _nearest_below(tops[:, i], found[:, :, i], np.full(len(_ROUND), here))[:, None]
        )[0]
    tree = cKDTree(way)

    def ground(points: Floats) -> Floats:
        _, near = tree.query(points)

        def below(at: Floats) -> Floats:
            tops, found = _both(pieces, at, WALKABLE)
            return _nearest_below(tops, found, np.tile(height[near], len(at) // len(near)))

        return _bridged(below, points)

    return ground


#: A place and four round it: gaps between boards that are narrower are stepped over, metres.
_GAP_M = 0.03
_ROUND = _GAP_M * np.array([(0, 0), (1, 0), (-1, 0), (0, 1), (0, -1)], dtype=np.float64)


def _around(points: Floats) -> Floats:
    return np.asarray(points[None] + _ROUND[:, None])


def _over_gaps(heights: Floats) -> Floats:
    """(n,) heights of places from those round each, (5, n): a gap is as high as what lies on both sides of it."""
    across = np.minimum(heights[1], heights[2])
    along = np.minimum(heights[3], heights[4])
    return np.asarray(np.maximum(heights[0], np.maximum(across, along)))


def _bridged(height: Callable[[Floats], Floats], points: Floats) -> Floats:
    return _over_gaps(height(_around(points).reshape(-1, 2)).reshape(len(_ROUND), len(points)))


def _both(pieces: Sequence[Piece], points: Floats, kinds: frozenset[PieceKind]) -> tuple[Floats, Floats]:
    tops = _tops(pieces, points, kinds)
    heights, walkable = _storeys(pieces, points)
    return tops, np.where(walkable, heights, -np.inf)


def _nearest_below(tops: Floats, storeys: Floats, where: Floats) -> Floats:
    """The highest that can be stepped on from heights, (n,)."""
    within = np.where(storeys <= where + STEP_UP_M, storeys, -np.inf)
    return np.asarray(np.maximum(tops, within.max(axis=0, initial=-np.inf)))


def _standing(pieces: Sequence[Piece], points: Floats, kinds: frozenset[PieceKind]) -> Floats:
    """The lowest storey with room to stand; the highest where there is none."""
    tops = _tops(pieces, points, kinds)
    heights, walkable = _storeys(pieces, points)
    if not len(heights):
        return tops
    heights = np.vstack([tops, heights])
    walkable = np.vstack([np.ones((1, len(tops)), dtype=bool), walkable]) & (heights >= tops - _SAME_M)
    order = np.argsort(np.where(np.isnan(heights), np.inf, heights), axis=0, kind="stable")
    heights, walkable = np.take_along_axis(heights, order, 0), np.take_along_axis(walkable, order, 0)
    room = np.full(heights.shape, np.inf)
    for k in range(len(heights) - 1):
        over = np.where(heights[k + 1 :] > heights[k] + _SAME_M, heights[k + 1 :], np.inf)
        room[k] = over.min(axis=0) - heights[k]
    there = walkable & ~np.isnan(heights)
    free = there & (room >= HEADROOM_M)
    lowest = free.argmax(axis=0)
    highest = len(heights) - 1 - there[::-1].argmax(axis=0)
    chosen = np.where(free.any(axis=0), lowest, highest)
    return np.asarray(np.maximum(heights[chosen, np.arange(len(tops))], tops))


def _storeys(pieces: Sequence[Piece], points: Floats) -> tuple[Floats, Bools]:
    """(k, n) heights of surfaces of what was brought in over and under points, NaN where there is none, and whether each can be stood on."""
    found, stood = [np.zeros((0, len(points)))], [np.zeros((0, len(points)), dtype=bool)]
    for piece in pieces:
        part = part_in(piece)
        if part is None or piece.source is None:
            continue
        across, along = into(piece, points[:, 0], points[:, 1])
        over = np.flatnonzero((np.abs(across) <= piece.width / 2) & (np.abs(along) <= piece.depth / 2))
        if not len(over):
            continue
        solid = solid_of(part)
        heights, which = solid.layers(across[over] / piece.width, along[over] / piece.depth)
        normals = solid.normals / [piece.width, piece.height, piece.depth]
        upright = np.abs(normals[:, 1]) >= math.cos(math.radians(STEEPEST_DEG)) * np.linalg.norm(
            normals, axis=1
        )
        level = np.full((len(heights), len(points)), np.nan)
        level[:, over] = piece.base + heights * piece.height
        walkable = np.zeros(level.shape, dtype=bool)
        walkable[:, over] = (which >= 0) & upright[which] & piece.source.stood_on
        found.append(level)
        stood.append(walkable)
    return np.concatenate(found), np.concatenate(stood)


def _tops(pieces: Sequence[Piece], points: Floats, kinds: frozenset[PieceKind]) -> Floats:
    top = np.zeros(len(points))
    for piece in pieces:
        if piece.kind not in kinds:
            continue
        across, along = into(piece, points[:, 0], points[:, 1])
        over = (np.abs(across) <= piece.width / 2) & (np.abs(along) <= piece.depth / 2)
        share = (0.5 - along / piece.depth) if piece.kind == "ramp" else np.ones(len(points))
        top = np.where(over, np.maximum(top, piece.base + piece.height * share), top)
    return top
