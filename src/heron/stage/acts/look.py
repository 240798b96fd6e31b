"""Acts of head and eyes, on top of whatever the body does."""

from typing import Annotated, ClassVar, Literal

from heron.stage.acts.base import Act, Lane, number
from heron.stage.reference import Role, Spot


class LookAct(Act):
    """An act of head and eyes."""

    LANE: ClassVar[Lane] = "look"


class LookAt(LookAct):
    """Looks at something, whatever else it does: shares of the turn that eyes, head and chest make."""

    LABEL, TIMED, USUAL_S = "Look at", False, 2.0
    kind: Literal["look_at"] = "look_at"
    at: Annotated[Spot, Role("looks at", turns=True, bare=True, left="the look of {} stays where it was")]
    weight: float = number(1.0, 0.0, 1.0, "×", "Weight")
    eyes: float = number(1.0, 0.0, 1.0, "×", "Eyes")
    head: float = number(0.75, 0.0, 1.0, "×", "Head")
    chest: float = number(0.15, 0.0, 1.0, "×", "Chest")

    def frame_of(self, _: str) -> int | None:
        """The frame from which what it looks at counts."""
        return self.frames.first


class Nod(LookAct):
    """Nods."""

    LABEL, USUAL_S = "Nod", 1.5
    kind: Literal["nod"] = "nod"
    energy: float = number(1.0, 0.2, 2.0, "×", "Energy")


class ShakeHead(LookAct):
    """Shakes its head."""

    LABEL, USUAL_S = "Shake head", 1.8
    kind: Literal["shake_head"] = "shake_head"
    energy: float = number(1.0, 0.2, 2.0, "×", "Energy")


class LookAbout(LookAct):
    """Looks to one side, then to the other."""

    LABEL, USUAL_S = "Look about", 3.5
    kind: Literal["look_about"] = "look_about"
    angle: float = number(40.0, 10.0, 60.0, "°", "Angle")


AnyLook = LookAt | Nod | ShakeHead | LookAbout
