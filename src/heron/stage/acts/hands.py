"""Acts of arms and hands, whatever the body does meanwhile."""

from typing import Annotated, ClassVar, Literal

from heron.model import Id
from heron.stage.acts.base import Act, Lane, Side, number
from heron.stage.reference import LinkTo, Role, Spot

#: Which hands hold something.
Hands = Literal["right", "left", "both"]

_At = Annotated[Spot, Role("reaches for", moves=True, bare=True, left="{} reaches for where it was")]


class HandsAct(Act):
    """An act of arms and hands."""

    LANE: ClassVar[Lane] = "hands"


class PointAt(HandsAct):
    """Points at a place on the stage, or at something, which the arm then follows; the feet come round to it too."""

    LABEL, TIMED, MOVES_ROOT = "Point", False, True
    kind: Literal["point"] = "point"
    at: Annotated[Spot, Role("points at", moves=True, bare=True, root=True, left="{} points at where it was")]

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


class Handling(HandsAct):
    """An act of the hands with a thing.

    Attributes:
        WHEN: the share of the act after which the thing changes hands, or is put down.
    """

    WHEN: ClassVar[float] = 0.0
    TIMED = False
    what: Annotated[
        Id | None,
        LinkTo("movers"),
        Role("handles", moves=True, needs="rest", back="is held by", left="{} handles nothing then"),
    ] = None

    @property
    def at_frame(self) -> int:
        """The frame from which the thing is where this act brings it."""
        return self.frames.first + round(self.WHEN * (self.frames.count - 1))


class Hold(Handling):
    """Has a thing in its hand from the first frame on, until it is handed over or put down."""

    LABEL, USUAL_S = "Hold", 0.5
    kind: Literal["hold"] = "hold"
    hand: Hands = "right"


class PickUp(Handling):
    """Picks a thing up, bending the knees as far as it must, and holds it from then on."""

    LABEL, USUAL_S, WHEN = "Pick up", 2.4, 0.46
    kind: Literal["pick_up"] = "pick_up"
    hand: Hands = "right"


class PutDown(Handling):
    """Puts down what it holds, where it then lies."""

    LABEL, USUAL_S, WHEN = "Put down", 2.5, 0.56
    kind: Literal["put_down"] = "put_down"
    at: Annotated[
        Spot | None, Role("puts it on", moves=True, bare=True, left="{} puts it where that was")
    ] = None

    def frame_of(self, _: str) -> int | None:
        """The frame from which what it is put on counts."""
        return self.at_frame


class HandOver(Handling):
    """Hands what it holds to somebody who stands before it, and who holds it from then on."""

    LABEL, USUAL_S, WHEN = "Hand over", 2.2, 0.5
    kind: Literal["hand_over"] = "hand_over"
    to: Annotated[
        Id | None,
        LinkTo("figures"),
        Role(
            "hands it to", moves=True, needs="root", back="takes it from", back_needs="root",
            left="{} hands it to nobody",
        ),
    ] = None  # fmt: skip
    #: The hand that takes it.
    hand: Hands = "right"


class Open(Handling):
    """Opens or closes a thing that has a hinge or a slide, with a hand on it all the way."""

    LABEL, USUAL_S, WHEN = "Open or close", 2.5, 0.75
    kind: Literal["open"] = "open"
    hand: Side = "right"
    open: float = number(90.0, -360.0, 360.0, "", "Open to")


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


AnyHands = (
    PointAt | Reach | Hold | PickUp | PutDown | HandOver | Open | Wave | Beckon | Shrug | FoldArms | HandToMouth
)  # fmt: skip
