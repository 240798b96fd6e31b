"""Acts of the face: a named expression with an amount."""

from typing import ClassVar, Literal

from heron.stage.acts.base import Act, Lane, number

Expression = Literal[
    "joy", "sad", "anger", "fear", "surprise", "disgust", "doubt", "tired", "tender", "laugh"
]  # fmt: skip


class Express(Act):
    """Shows an expression, over whatever else the face does."""

    LANE: ClassVar[Lane] = "face"
    LABEL, TIMED, USUAL_S = "Expression", False, 2.0
    kind: Literal["express"] = "express"
    expression: Expression = "joy"
    amount: float = number(0.7, 0.0, 1.0, "×", "Amount")

    @property
    def called(self) -> str:
        """The expression."""
        return self.expression


AnyFace = Express
