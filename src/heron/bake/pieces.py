"""Set pieces: they stand still, or go with the mover that they are part of."""

from typing import Any

import numpy as np

from heron.bake.kind import Baking
from heron.bake.samples import Floats
from heron.bake.standing import stood
from heron.model import changed
from heron.scene.links import Aspect
from heron.stage.piece import Piece, place_on
from heron.stage.reference import OnPiece
from heron.stage.turning import about, angles_of


def content(piece: Piece, aspect: str) -> str:
    """The fingerprint of its own content."""
    return piece.digest


def reads(bake: Baking, piece: Piece, aspect: str) -> tuple[Any, ...]:
    """What of the scene it depends on."""
    return ()


def place(
    bake: Baking, piece: Piece, spot: OnPiece, t: np.ndarray[Any, Any], *, bare: bool = False
) -> Floats:
    """(n, 3) metres: a spot on it."""
    own = place_on(piece, spot.across, spot.up, spot.along)
    if piece.part_of is None:
        return np.tile(own, (len(t), 1))
    aspect: Aspect = "place" if bare else "pose"
    under, turn = stood(bake, bake.mover(piece.part_of), t, aspect)
    return np.asarray(under + turn.apply(own))


def stance(bake: Baking, piece: Piece, spot: OnPiece) -> tuple[Floats, Floats | None]:
    """How it is turned over the scene: (n,) heading in degrees, and all of it where it is part of something."""
    frames = bake.scene.frames
    if piece.part_of is None:
        return np.full(frames.count, float(piece.heading)), None
    _, turn = stood(bake, bake.mover(piece.part_of), frames.array())
    turn = turn * about("Y", np.full(frames.count, float(piece.heading)))
    return angles_of(turn.quat)[0], turn.quat


def on_stage(bake: Baking, piece: Piece, frame: int) -> Piece:
    """It as it stands on the stage at a frame, upright."""
    if piece.part_of is None:
        return piece
    under, turn = stood(bake, bake.mover(piece.part_of), np.array([frame]))
    x, base, z = (under + turn.apply([piece.x, piece.base, piece.z]))[0]
    heading = piece.heading + float(angles_of(turn.quat)[0][0])
    return changed(piece, x=float(x), z=float(z), base=float(base), heading=heading, part_of=None)


def jumps(bake: Baking, piece: Piece) -> list[int]:
    """Never."""
    return []
