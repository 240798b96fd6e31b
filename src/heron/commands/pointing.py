"""What a hand points at, turned into what the scene can keep."""

from typing import Annotated, Literal

from pydantic import Field

from heron.model import Id, Metres, Model
from heron.scene import Scene, find
from heron.scene.focus import AtDistance, FocusOn, Pulled
from heron.stage.piece import Piece, shares_on
from heron.stage.reference import AtPoint, OnCamera, OnFigure, OnMover, OnPerch, OnPiece


class PieceAt(Model):
    """A set piece, pointed at where a place on the stage is, metres; without `y`, on its top."""

    kind: Literal["piece_at"] = "piece_at"
    piece: Id
    x: Metres
    y: Metres | None = None
    z: Metres


Pointed = Annotated[
    AtDistance | Pulled | AtPoint | OnFigure | OnMover | OnPiece | OnCamera | OnPerch | PieceAt,
    Field(discriminator="kind"),
]


def meant(scene: Scene, at: Pointed) -> FocusOn:
    """What is pointed at, as a reference that goes with the thing when it is moved, turned or sized.

    Raises:
        NotFound: the piece is not in the scene.
    """
    if not isinstance(at, PieceAt):
        return at
    piece: Piece = find(scene, "pieces", at.piece)
    top = piece.base + piece.height
    across, up, along = shares_on(piece, at.x, top if at.y is None else at.y, at.z)
    return OnPiece(piece=piece.id, across=round(across, 4), up=round(up, 4), along=round(along, 4))
