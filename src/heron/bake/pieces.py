"""Set pieces: they stand still."""

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np

from heron.bake.samples import Floats
from heron.stage.piece import WALKABLE, Piece, footprint, place_on
from heron.stage.reference import OnPiece

if TYPE_CHECKING:
    from heron.bake.graph import Bake


def content(piece: Piece, aspect: str) -> str:
    """The fingerprint of its own content."""
    return piece.digest


def reads(bake: "Bake", piece: Piece, aspect: str) -> tuple[Any, ...]:
    """What of the scene it depends on."""
    return ()


def place(bake: "Bake", piece: Piece, spot: OnPiece, t: np.ndarray[Any, Any]) -> Floats:
    """(n, 3) metres: a spot on it."""
    return np.tile(place_on(piece, spot.across, spot.up, spot.along), (len(t), 1))


def stance(bake: "Bake", piece: Piece, spot: OnPiece) -> tuple[Floats, Floats | None]:
    """How it is turned over the scene: (n,) heading in degrees."""
    return np.full(bake.scene.frames.count, float(piece.heading)), None


def jumps(piece: Piece) -> list[int]:
    """Never."""
    return []


@dataclass(frozen=True)
class Floor:
    """What can be stood on, and the corners of the square that holds each, (k, 4): x, z from and to, metres."""

    pieces: tuple[Piece, ...]
    corners: Floats

    def within(self, corners: Floats) -> tuple[Piece, ...]:
        """What reaches into a square of the floor, (4,)."""
        there = (self.corners[:, :2] <= corners[2:]) & (self.corners[:, 2:] >= corners[:2])
        return tuple(self.pieces[i] for i in np.flatnonzero(there.all(axis=1)))


def floor_of(all_pieces: tuple[Piece, ...]) -> Floor:
    """Every piece that can be stood on."""
    bearing = tuple(p for p in all_pieces if p.kind in WALKABLE)
    corners = np.array([footprint(p) for p in bearing]).reshape(-1, 4)
    return Floor(bearing, corners)
