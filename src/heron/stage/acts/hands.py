"""Acts of arms and hands, whatever the body does meanwhile."""

from typing import Annotated, ClassVar, Literal

from heron.stage.acts.base import Act, Lane, Side, number
from heron.stage.reference import Role, Spot

_At = Annotated[Spot, Role("reaches for", moves=True, bare=True, left="{} reaches for where it was")]


class HandsAct(Act):
    """An act of arms and hands."""

    LANE: ClassVar[Lane] = "hands"


class PointAt(HandsAct):
    """Points at a place on the stage, or at something, which the arm then follows."""

    LABEL, TIMED = "Point", False
    kind: Literal["point"] = "point"
    at: Annotated[Spot, Role("points at", moves=True, bare=True, left="{} points at where it was")]

    def frame_of(self, _: str) -> int | None:
        """The frame from which what it points at counts."""
        return self.frames.first


class Reach(HandsAct):
    """Reaches for a place or a thing with one palm, bending the trunk as far as it must."""

    LABEL, TIMED, USUAL_S = "Reach", False, 2.5
    kind: Literal["reach"] = "reach"
    at: _At
    hand: Side = "right"

    def frame_of(self, _: str) -> int | None:
        """The frame from which what it reaches for counts."""
        return self.frames.first


class Wave(HandsAct):
    """Waves."""

    LABEL, USUAL_S = "Wave", 2.6
    kind: Literal["wave"] = "wave"
    hand: Side = "right"
    energy: float = number(1.0, 0.2, 2.0, "×", "Energy")


class Beckon(HandsAct):
    """Beckons somebody over."""

    LABEL, USUAL_S = "Beckon", 2.4
    kind: Literal["beckon"] = "beckon"
    hand: Side = "right"
    energy: float = number(1.0, 0.2, 2.0, "×", "Energy")


class Shrug(HandsAct):
    """Shrugs."""

    LABEL, USUAL_S = "Shrug", 1.6
    kind: Literal["shrug"] = "shrug"
    energy: float = number(1.0, 0.2, 2.0, "×", "Energy")


class FoldArms(HandsAct):
    """Folds its arms."""

    LABEL, USUAL_S = "Fold arms", 4.0
    kind: Literal["fold_arms"] = "fold_arms"


class HandToMouth(HandsAct):
    """Puts a hand to its mouth."""

    LABEL, USUAL_S = "Hand to mouth", 2.5
    kind: Literal["hand_to_mouth"] = "hand_to_mouth"
    hand: Side = "right"


AnyHands = PointAt | Reach | Wave | Beckon | Shrug | FoldArms | HandToMouth
