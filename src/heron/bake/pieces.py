"""Set pieces: they stand still."""

from typing import Any

import numpy as np

from heron.bake.kind import Baking
from heron.bake.samples import Floats
from heron.stage.piece import Piece, place_on
from heron.stage.reference import OnPiece


def content(piece: Piece, aspect: str) -> str:
    """The fingerprint of its own content."""
    return piece.digest


def reads(bake: Baking, piece: Piece, aspect: str) -> tuple[Any, ...]:
    """What of the scene it depends on."""
    return ()


def place(bake: Baking, piece: Piece, spot: OnPiece, t: np.ndarray[Any, Any]) -> Floats:
    """(n, 3) metres: a spot on it."""
    return np.tile(place_on(piece, spot.across, spot.up, spot.along), (len(t), 1))


def stance(bake: Baking, piece: Piece, spot: OnPiece) -> tuple[Floats, Floats | None]:
    """How it is turned over the scene: (n,) heading in degrees."""
    return np.full(bake.scene.frames.count, float(piece.heading)), None


def jumps(piece: Piece) -> list[int]:
    """Never."""
    return []
