"""Set pieces: they stand still."""

from typing import TYPE_CHECKING, Any

import numpy as np

from heron.bake.samples import Floats
from heron.model import fingerprint
from heron.stage.piece import WALKABLE, Piece, place_on
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


def jumps(piece: Piece) -> list[int]:
    """Never."""
    return []


def floor_key(all_pieces: tuple[Piece, ...]) -> str:
    """The fingerprint of every piece that can be stood on."""
    return fingerprint("floor", [p.digest for p in all_pieces if p.kind in WALKABLE])
