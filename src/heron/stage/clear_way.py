"""The shortest way on the floor that keeps clear of what stands there."""

from dataclasses import dataclass
from typing import Any

import numpy as np
from scipy.sparse import csr_matrix
from scipy.sparse.csgraph import dijkstra

from heron.stage.piece import Piece, into, place_on

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: Somebody passes at this distance from what stands in the way, metres: half of the width of shoulders, and a little.
CLEAR_M = 0.35
#: Corners are gone round so much farther out than they are cleared, metres.
_OUT_M = 0.001


@dataclass(frozen=True)
class Blocked:
    """A place that no way leads to, and what stands there."""

    piece: Piece


def way_round(
    start: Floats, end: Floats, pieces: list[Piece]
) -> tuple[list[tuple[float, float]], list[Piece]] | Blocked:
    """The corners of the shortest way between two places, (2,) metres each, and the pieces that it goes round.

    Only what turns out to be in the way is looked at; the rest of a set costs one check each.
    """
    for place in (start, end):
        inside = next((p for p in pieces if _within(p, place[None], CLEAR_M - 0.03)[0]), None)
        if inside is not None:
            return Blocked(inside)
    round_: list[Piece] = []
    corners: list[tuple[float, float]] = []
    while True:
        way = np.array([start, *corners, end])
        hit = [p for p in pieces if p not in round_ and _crosses(p, way[:-1], way[1:]).any()]
        if not hit:
            return corners, [p for p in round_ if _touched(p, corners)]
        round_ += hit
        found = _shortest(start, end, round_)
        if found is None:
            return Blocked(hit[0])
        corners = found


def _touched(piece: Piece, corners: list[tuple[float, float]]) -> bool:
    """Whether a way turns at a corner of a piece."""
    return bool(corners) and bool(_within(piece, np.array(corners), CLEAR_M + 2 * _OUT_M).any())


def _shortest(start: Floats, end: Floats, pieces: list[Piece]) -> list[tuple[float, float]] | None:
    """By the visibility graph of the corners of pieces, each drawn larger by the clearance (Lozano-Pérez and Wesley 1979)."""
    nodes = [start, end]
    for piece in pieces:
        for corner in _corners(piece):
            if not any(_within(p, corner[None], CLEAR_M)[0] for p in pieces):
                nodes.append(corner)
    at = np.array(nodes)
    i, j = np.triu_indices(len(at), 1)
    clear = np.ones(len(i), dtype=bool)
    for piece in pieces:
        clear &= ~_crosses(piece, at[i], at[j])
    i, j = i[clear], j[clear]
    graph = csr_matrix((np.hypot(*(at[i] - at[j]).T), (i, j)), shape=(len(at), len(at)))
    far, before = dijkstra(graph, directed=False, indices=0, return_predecessors=True)
    if not np.isfinite(far[1]):
        return None
    way = []
    node = int(before[1])
    while node > 0:
        way.append((round(float(at[node, 0]), 3), round(float(at[node, 1]), 3)))
        node = int(before[node])
    return way[::-1]


def _corners(piece: Piece) -> Floats:
    """(4, 2) metres: the corners of a piece's footprint, farther out by the clearance and a little."""
    wide, deep = piece.width / 2 + CLEAR_M + _OUT_M, piece.depth / 2 + CLEAR_M + _OUT_M
    out = [
        place_on(piece, sx * wide / piece.width, 0.0, sz * deep / piece.depth)
        for sx, sz in ((-1, -1), (1, -1), (1, 1), (-1, 1))
    ]
    return np.array(out)[:, [0, 2]]


def _within(piece: Piece, places: Floats, clear: float) -> np.ndarray[Any, np.dtype[np.bool_]]:
    """(n,) whether places (n, 2) are on a piece's footprint, or nearer to it than so much along either side."""
    across, along = into(piece, places[:, 0], places[:, 1])
    return np.asarray((np.abs(across) < piece.width / 2 + clear) & (np.abs(along) < piece.depth / 2 + clear))


def _crosses(piece: Piece, one: Floats, two: Floats) -> np.ndarray[Any, np.dtype[np.bool_]]:
    """(n,) whether straight ways between places, (n, 2) each, come nearer to a piece than the clearance."""
    half = np.array([piece.width, piece.depth]) / 2 + CLEAR_M
    a = np.stack(into(piece, one[:, 0], one[:, 1]), axis=-1)
    b = np.stack(into(piece, two[:, 0], two[:, 1]), axis=-1)
    way = np.where(np.abs(b - a) < 1e-12, 1e-12, b - a)
    enters = np.minimum((-half - a) / way, (half - a) / way).max(axis=1)
    leaves = np.maximum((-half - a) / way, (half - a) / way).min(axis=1)
    return np.asarray((enters < leaves - 1e-9) & (leaves > 0) & (enters < 1))
