"""How much of some places set pieces stand before."""

import math
from typing import Any

import numpy as np

from heron.stage.piece import Piece
from heron.stage.rays import reach

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: How near to a piece a camera may stand, metres.
CLEAR_M = 0.15


class Hiding:
    """Set pieces, and what they stand before."""

    def __init__(self, pieces: tuple[Piece, ...]) -> None:
        self._pieces = pieces
        self._middles = np.array([(p.x, p.base + p.height / 2, p.z) for p in pieces]).reshape(-1, 3)
        self._radii = np.array([math.hypot(p.width, p.height, p.depth) / 2 for p in pieces])

    def share(self, at: Floats, marks: Floats) -> float:
        """The share of some places, (m, 3), that is hidden from one, (3,); all of it where that is inside a piece. Metres."""
        return float(self.shares(at[None], marks[None])[0])

    def shares(self, at: Floats, marks: Floats) -> Floats:
        """(n,) the same at n moments.

        Args:
            at: (n, 3); marks: (n, m, 3).
        """
        n, m = marks.shape[:2]
        lost = np.zeros((n, m), dtype=bool)
        within = np.zeros(n, dtype=bool)
        ways = marks - at[:, None]
        squared = np.maximum(np.sum(ways**2, axis=2), 1e-12)
        for piece, middle, radius in zip(self._pieces, self._middles, self._radii, strict=True):
            far = middle - at
            close = np.linalg.norm(far, axis=1) < radius + CLEAR_M
            for i in np.flatnonzero(close):
                within[i] |= _inside(piece, at[i])
            along = np.clip(np.einsum("nk,nmk->nm", far, ways) / squared, 0.0, 1.0)
            near = np.linalg.norm(along[..., None] * ways - far[:, None], axis=2) < radius
            near &= ~lost
            if near.any():
                moment, mark = np.nonzero(near)
                lost[moment, mark] = reach(piece, at[moment], ways[moment, mark]) < 1
        return np.where(within, 1.0, lost.mean(axis=1))


def _inside(piece: Piece, at: Floats) -> bool:
    turn = math.radians(piece.heading)
    dx, dz = at[0] - piece.x, at[2] - piece.z
    x, z = dx * math.cos(turn) - dz * math.sin(turn), dx * math.sin(turn) + dz * math.cos(turn)
    y = at[1] - piece.base
    return bool(
        abs(x) < piece.width / 2 + CLEAR_M
        and abs(z) < piece.depth / 2 + CLEAR_M
        and -CLEAR_M < y < piece.height + CLEAR_M
    )
