"""Acts of the face: a named expression with an amount, or a face made by hand."""

from typing import ClassVar, Literal

from heron.curves import Channel
from heron.stage.acts.base import Act, Lane, keyed_number

Expression = Literal[
    "joy", "sad", "anger", "fear", "surprise", "disgust", "doubt", "tired", "tender", "laugh"
]  # fmt: skip


class FaceAct(Act):
    """An act of the face; those that overlap add up."""

    LANE: ClassVar[Lane] = "face"


class Express(FaceAct):
    """Shows an expression, over whatever else the face does."""

    LABEL, TIMED, USUAL_S = "Expression", False, 2.0
    kind: Literal["express"] = "express"
    expression: Expression = "joy"
    amount: Channel = keyed_number(0.7, 0.0, 1.0, "×", "Amount")

    @property
    def called(self) -> str:
        """The expression."""
        return self.expression


class FaceByHand(FaceAct):
    """A face made of its ten numbers, added to whatever else the face does."""

    LABEL, TIMED, USUAL_S = "By hand", False, 2.0
    kind: Literal["face"] = "face"
    brow_in: Channel = keyed_number(0.0, -1.0, 1.0, "×", "Inner brows")
    brow_out: Channel = keyed_number(0.0, -1.0, 1.0, "×", "Outer brows")
    knit: Channel = keyed_number(0.0, 0.0, 1.0, "×", "Brows knit")
    lid_up: Channel = keyed_number(0.0, -1.0, 1.0, "×", "Upper lids")
    lid_low: Channel = keyed_number(0.0, 0.0, 1.0, "×", "Lower lids")
    open: Channel = keyed_number(0.0, 0.0, 1.0, "×", "Mouth open")
    wide: Channel = keyed_number(0.0, -1.0, 1.0, "×", "Mouth wide")
    corner: Channel = keyed_number(0.0, -1.0, 1.0, "×", "Mouth corners")
    lip_up: Channel = keyed_number(0.0, 0.0, 1.0, "×", "Upper lip")
    side: Channel = keyed_number(0.0, 0.0, 1.0, "×", "Right side only")


AnyFace = Express | FaceByHand
