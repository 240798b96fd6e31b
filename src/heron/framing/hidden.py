"""How much of some places set pieces and movers stand before."""

import math
from collections.abc import Callable
from typing import Any

import numpy as np

from heron.bake import Bake
from heron.stage.mover import Mover
from heron.stage.piece import Piece
from heron.stage.rays import reach, reach_surface
from heron.stage.shapes.mesh import Mesh
from heron.stage.shapes.solids import mover_shape
from heron.stage.turning import pan_tilt_roll

Floats = np.ndarray[Any, np.dtype[np.float64]]
Ints = np.ndarray[Any, np.dtype[np.int64]]
#: How near to a piece a camera may stand, metres.
CLEAR_M = 0.15
#: So many moments are looked at together.
_AT_ONCE = 128


class Hiding:
    """What can be seen of a set and its movers at some moments, and what that stands before.

    A mover hides as it is shaped, without what its joints do.
    """

    def __init__(self, bake: Bake, t: Ints, but: str = "") -> None:
        """`t`: (n,) frames of the stage; `but`: the id of a mover that does not count."""
        seen = bake.scene.visible
        self._pieces = [piece for piece in seen.pieces if piece.part_of is None]
        middles = [np.tile([p.x, p.base + p.height / 2, p.z], (len(t), 1)) for p in self._pieces]
        radii = [math.hypot(p.width, p.height, p.depth) / 2 for p in self._pieces]
        self._reach: list[Callable[[Ints, Floats, Floats], Floats]] = [
            lambda _, origins, ways, piece=piece: reach(piece, origins, ways)  # type: ignore[misc]
            for piece in self._pieces
        ]
        for mover in seen.movers:
            if mover.id == but:
                continue
            mesh = _shape(bake, mover)
            rows = bake.rows(mover, t)[:, :6]
            centre = (mesh.points.min(axis=0) + mesh.points.max(axis=0)) / 2
            turned = pan_tilt_roll(rows[:, 3], rows[:, 4], rows[:, 5])
            middles.append(rows[:, :3] + turned.apply(centre))
            radii.append(float(np.linalg.norm(mesh.points - centre, axis=1).max()))
            self._reach.append(_surface(mesh.points[mesh.triangles], rows))
        #: (n, o, 3) and (o,) a ball round each.
        self._middles = np.stack(middles, axis=1) if middles else np.zeros((len(t), 0, 3))
        self._radii = np.array(radii)

    def share(self, at: Floats, marks: Floats) -> float:
        """The share of some places, (m, 3), that is hidden from one, (3,), at the first moment; all of it from inside a piece."""
        return float(self.shares(at[None], marks[None], np.zeros(1, dtype=np.int64))[0])

    def shares(self, at: Floats, marks: Floats, when: Ints) -> Floats:
        """(n,) the same at some of the moments.

        Args:
            at: (n, 3) metres; marks: (n, m, 3); when: (n,) which moments they are.
        """
        blocks = range(0, len(at), _AT_ONCE)
        parts = [slice(first, first + _AT_ONCE) for first in blocks]
        return np.concatenate([np.zeros(0), *(self._block(at[one], marks[one], when[one]) for one in parts)])

    def _block(self, at: Floats, marks: Floats, when: Ints) -> Floats:
        lost = np.zeros(marks.shape[:2], dtype=bool)
        ways = marks - at[:, None]
        far = self._middles[when] - at[:, None]
        apart = np.linalg.norm(far, axis=2)
        squared = np.maximum(np.sum(ways**2, axis=2), 1e-12)
        along = np.clip(np.einsum("nok,nmk->nom", far, ways) / squared[:, None], 0.0, 1.0)
        off = np.linalg.norm(along[..., None] * ways[:, None] - far[:, :, None], axis=3)
        near = off < self._radii[:, None]
        for o in np.flatnonzero(near.any(axis=(0, 2))):
            moment, mark = np.nonzero(near[:, o] & ~lost)
            if len(moment):
                found = self._reach[o](when[moment], at[moment], ways[moment, mark])
                lost[moment, mark] = found < 1
        within = np.zeros(len(at), dtype=bool)
        close = apart[:, : len(self._pieces)] < self._radii[: len(self._pieces)] + CLEAR_M
        for o in np.flatnonzero(close.any(axis=0)):
            within |= _inside(self._pieces[o], at)
        return np.where(within, 1.0, lost.mean(axis=1))


def _shape(bake: Bake, mover: Mover) -> Mesh:
    parts = bake.parts(mover)
    key = " ".join([mover.shape, *(part.digest for part in parts)])
    made: Mesh = bake.cache.get("what hides", key, lambda: mover_shape(mover, parts))
    return made


def _surface(corners: Floats, rows: Floats) -> Callable[[Ints, Floats, Floats], Floats]:
    """Where rays meet a surface that stands otherwise at each moment: its triangles' corners (k, 3, 3), its poses (n, 6)."""

    low, high = corners.min(axis=(0, 1)), corners.max(axis=(0, 1))

    def met(when: Ints, origins: Floats, ways: Floats) -> Floats:
        here = rows[when]
        back = pan_tilt_roll(here[:, 3], here[:, 4], here[:, 5]).inv()
        start, way = back.apply(origins - here[:, :3]), back.apply(ways)
        # Only those that go through the box round it.
        with np.errstate(divide="ignore", invalid="ignore"):
            ends = np.sort([(low - start) / way, (high - start) / way], axis=0)
        into, out = np.nan_to_num(ends[0], nan=-np.inf), np.nan_to_num(ends[1], nan=np.inf)
        through = into.max(axis=1) <= out.min(axis=1)
        far = np.full(len(start), np.inf)
        far[through] = reach_surface(corners, start[through], way[through])
        return far

    return met


def _inside(piece: Piece, at: Floats) -> np.ndarray[Any, np.dtype[np.bool_]]:
    """(n,) whether places, (n, 3), are in a piece, or nearly."""
    turn = math.radians(piece.heading)
    dx, dy, dz = (at - [piece.x, piece.base, piece.z]).T
    x, z = dx * math.cos(turn) - dz * math.sin(turn), dx * math.sin(turn) + dz * math.cos(turn)
    beside = (np.abs(x) < piece.width / 2 + CLEAR_M) & (np.abs(z) < piece.depth / 2 + CLEAR_M)
    return np.asarray(beside & (dy > -CLEAR_M) & (dy < piece.height + CLEAR_M))
