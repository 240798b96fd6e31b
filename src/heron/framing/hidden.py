"""How much of some places set pieces and movers stand before."""

import math
from collections.abc import Callable, Iterable
from typing import Any

import numpy as np

from heron.bake import Bake
from heron.stage.figure import Figure
from heron.stage.floors import part_in
from heron.stage.mover import Mover
from heron.stage.piece import Piece
from heron.stage.rays import meets_back, reach, reach_capsules, reach_surface
from heron.stage.reference import OnFigure
from heron.stage.shapes.mesh import Mesh
from heron.stage.shapes.solids import mover_shape
from heron.stage.turning import pan_tilt_roll

Floats = np.ndarray[Any, np.dtype[np.float64]]
Ints = np.ndarray[Any, np.dtype[np.int64]]
#: How near to a piece a camera may stand, metres.
CLEAR_M = 0.15
#: So many moments are looked at together, or so many rays.
_AT_ONCE, _RAYS = 128, 4096


class Hiding:
    """What can be seen of a set and its movers at some moments, and what that stands before.

    A mover hides as it is shaped, without what its joints do; a figure, where figures count, as round limbs and a trunk.
    """

    def __init__(self, bake: Bake, t: Ints, but: str = "", figures: bool = False) -> None:
        """`t`: (n,) frames of the stage; `but`: the id of a mover that does not count; `figures`: whether they hide."""
        seen = bake.scene.visible
        self._pieces = [piece for piece in seen.pieces if piece.part_of is None]
        middles = [np.tile([p.x, p.base + p.height / 2, p.z], (len(t), 1)) for p in self._pieces]
        radii = [math.hypot(p.width, p.height, p.depth) / 2 for p in self._pieces]
        self._reach: list[Callable[[Ints, Floats, Floats], Floats]] = [
            lambda _, origins, ways, piece=piece: reach(piece, origins, ways)  # type: ignore[misc]
            for piece in self._pieces
        ]
        movers = [one for one in seen.movers if one.id != but]
        for mover in movers:
            mesh = _shape(bake, mover)
            rows = bake.rows(mover, t)[:, :6]
            centre = (mesh.points.min(axis=0) + mesh.points.max(axis=0)) / 2
            turned = pan_tilt_roll(rows[:, 3], rows[:, 4], rows[:, 5])
            middles.append(rows[:, :3] + turned.apply(centre))
            radii.append(float(np.linalg.norm(mesh.points - centre, axis=1).max()))
            self._reach.append(_surface(mesh.points[mesh.triangles], rows))
        people = seen.figures if figures else ()
        for figure in people:
            limbs = limbs_of(bake, figure, t)
            middles.append(limbs[:, :2].mean(axis=(1, 2)))
            radii.append(0.62 * figure.stature)
            self._reach.append(_body(limbs, LIMB_RADII * figure.stature))
        #: What hides, in the order in which it is looked at.
        self.things: list[Piece | Mover | Figure] = [*self._pieces, *movers, *people]
        self.ids, self.names = [one.id for one in self.things], [one.name for one in self.things]
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

    def nearest(
        self, at: Floats, ways: Floats, when: Ints, without: str = "", pieces_alone: bool = False
    ) -> tuple[Floats, Ints]:  # fmt: skip
        """(n, m) how far along rays something is met first, in lengths of the rays, and its place in `ids`; infinity and −1
        where nothing is, or beyond a ray's end.

        Args:
            at: (n, 3) metres, from where; ways: (n, m, 3); when: (n,) which moments they are; without: what does not count.
            pieces_alone: only the set counts, neither movers nor figures.
        """
        most = len(self._pieces) if pieces_alone else len(self.things)
        far = np.full(ways.shape[:2], np.inf)
        which = np.full(ways.shape[:2], -1)
        step = max(_AT_ONCE, _RAYS // max(ways.shape[1], 1))
        for first in range(0, len(at), step):
            one = slice(first, first + step)
            self._meet(at[one], ways[one], when[one], without, most, far[one], which[one])
        return far, which

    def _meet(
        self, at: Floats, ways: Floats, when: Ints, without: str, most: int, far: Floats, which: Ints
    ) -> None:  # fmt: skip
        off = self._middles[when, :most] - at[:, None]
        squared = np.maximum(np.sum(ways**2, axis=2), 1e-12)
        # What no ray is long enough to come to is left out first.
        apart = np.sum(off**2, axis=2)
        long = np.sqrt(squared.max(axis=1, initial=0))
        kept = np.flatnonzero((apart < (long[:, None] + self._radii[:most]) ** 2).any(axis=0))
        off, apart = off[:, kept], apart[:, kept]
        # How far a ray passes from the middle of each ball: the square, from products alone.
        ahead = off @ ways.transpose(0, 2, 1)
        along = np.clip(ahead / squared[:, None], 0.0, 1.0)
        aside = apart[..., None] + along * (along * squared[:, None] - 2 * ahead)
        near = aside < (self._radii[kept] ** 2)[:, None]
        for k in np.flatnonzero(near.any(axis=(0, 2))):
            o = kept[k]
            if self.ids[o] == without:
                continue
            moment, mark = np.nonzero(near[:, k])
            found = self._reach[o](when[moment], at[moment], ways[moment, mark])
            closer = (found < 1) & (found < far[moment, mark])
            far[moment[closer], mark[closer]] = found[closer]
            which[moment[closer], mark[closer]] = o

    def _block(self, at: Floats, marks: Floats, when: Ints) -> Floats:
        far, _ = self.nearest(at, marks - at[:, None], when)
        within = np.zeros(len(at), dtype=bool)
        apart = np.linalg.norm(self._middles[when, : len(self._pieces)] - at[:, None], axis=2)
        close = apart < self._radii[: len(self._pieces)] + CLEAR_M
        for o in np.flatnonzero(close.any(axis=0)):
            within |= _inside(self._pieces[o], at)
        return np.where(within, 1.0, np.isfinite(far).mean(axis=1))


#: Limbs of a figure as joints at their ends, and how thick they are, shares of stature; the head and the trunk come first.
_LIMBS = (
    ("neck", "crown", 0.068), ("neck", "pelvis", 0.095), ("shoulder_r", "elbow_r", 0.032), ("elbow_r", "wrist_r", 0.027),
    ("shoulder_l", "elbow_l", 0.032), ("elbow_l", "wrist_l", 0.027), ("hip_r", "knee_r", 0.05), ("knee_r", "ankle_r", 0.035),
    ("hip_l", "knee_l", 0.05), ("knee_l", "ankle_l", 0.035),
)  # fmt: skip
LIMB_RADII = np.array([thick for _, _, thick in _LIMBS])


def limbs_of(bake: Bake, figure: Figure, t: Ints) -> Floats:
    """(n, 10, 2, 3) metres: the ends of a figure's head, trunk and limbs; a head ends where its crown is round."""
    place = {
        joint: bake.place(OnFigure(figure=figure.id, joint=joint), t)
        for joint in {joint for a, b, _ in _LIMBS for joint in (a, b)}
    }
    ends = np.stack([np.stack([place[a], place[b]], axis=1) for a, b, _ in _LIMBS], axis=1)
    up = ends[:, 0, 1] - ends[:, 0, 0]
    ends[:, 0, 0] += 0.45 * up
    ends[:, 0, 1] -= 0.4 * up
    return ends


def _body(limbs: Floats, radii: Floats) -> Callable[[Ints, Floats, Floats], Floats]:
    """Where rays meet a body that stands otherwise at each moment."""

    def met(when: Ints, origins: Floats, ways: Floats) -> Floats:
        return reach_capsules(limbs[when], radii, origins, ways)

    return met


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


def within_pieces(pieces: Iterable[Piece], at: Floats) -> np.ndarray[Any, np.dtype[np.bool_]]:
    """(n,) whether places, (n, 3) metres, are in one of some pieces, or nearly."""
    within = np.zeros(len(at), dtype=bool)
    for piece in pieces:
        if piece.part_of is None and piece.kind != "reeds":
            within |= _inside(piece, at)
    return within


#: The ways in which a surface near a place, or the inside of one, is looked for: along the axes, and between three of them.
_WAYS = np.array(
    [(x, y, z) for x in (-1, 0, 1) for y in (-1, 0, 1) for z in (-1, 0, 1) if abs(x) + abs(y) + abs(z) in (1, 3)], dtype=np.float64
)  # fmt: skip


def _inside_part(piece: Piece, at: Floats) -> np.ndarray[Any, np.dtype[np.bool_]]:
    """(n,) whether places are nearly in a surface that was brought in, or inside it: where most ways out of it meet its back."""
    many = len(_WAYS)
    ways = np.tile(_WAYS / np.linalg.norm(_WAYS, axis=1)[:, None], (len(at), 1))
    far, back = meets_back(piece, np.repeat(at, many, axis=0), ways)
    far, back = far.reshape(-1, many), back.reshape(-1, many)
    return np.asarray((far < CLEAR_M).any(axis=1) | (back.mean(axis=1) > 0.7))


def _inside(piece: Piece, at: Floats) -> np.ndarray[Any, np.dtype[np.bool_]]:
    """(n,) whether places, (n, 3), are in a piece, or nearly."""
    part = part_in(piece)
    if part is not None:
        return _inside_part(piece, at)
    turn = math.radians(piece.heading)
    dx, dy, dz = (at - [piece.x, piece.base, piece.z]).T
    x, z = dx * math.cos(turn) - dz * math.sin(turn), dx * math.sin(turn) + dz * math.cos(turn)
    beside = (np.abs(x) < piece.width / 2 + CLEAR_M) & (np.abs(z) < piece.depth / 2 + CLEAR_M)
    return np.asarray(beside & (dy > -CLEAR_M) & (dy < piece.height + CLEAR_M))
