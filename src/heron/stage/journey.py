"""Whose hands a thing goes through, and where it is put down: found from the acts of all figures."""

from collections.abc import Iterable
from dataclasses import dataclass

from heron.stage.acts.hands import Handling, HandOver, Hands, Hold, Open, PickUp, PutDown
from heron.stage.figure import Figure


@dataclass(frozen=True)
class Leg:
    """From a frame on a thing is held by somebody, or lies where it was put.

    Attributes:
        by: whose act brought it there.
        holder: who holds it from then on; None where it was put down.
    """

    frame: int
    act: Handling
    by: Figure
    holder: Figure | None
    hand: Hands


@dataclass(frozen=True)
class Misfit:
    """An act that cannot do what it says with its thing, and what is wrong: a clause that says who has it instead."""

    act: Handling
    by: Figure
    other: Figure | None


@dataclass(frozen=True)
class Journey:
    """A thing's legs in order of frame, the acts that open or close it, and the acts that do nothing."""

    legs: tuple[Leg, ...] = ()
    opens: tuple[tuple[Figure, Open], ...] = ()
    misfits: tuple[Misfit, ...] = ()

    def at(self, frame: int) -> Leg | None:
        """The leg it is on at a frame; None before anybody has had it."""
        return next((leg for leg in reversed(self.legs) if leg.frame <= frame), None)

    def before(self, act: Handling) -> Leg | None:
        """The leg that ends when an act brings the thing elsewhere."""
        at = next((i for i, leg in enumerate(self.legs) if leg.act.id == act.id and leg.act == act), None)
        return self.legs[at - 1] if at else None

    def until(self, leg: Leg) -> int | None:
        """The frame on which a leg ends; None where it goes on."""
        at = self.legs.index(leg)
        return self.legs[at + 1].frame if at + 1 < len(self.legs) else None


def journeys(figures: Iterable[Figure]) -> dict[str, Journey]:
    """By the id of each thing that somebody handles: where that takes it."""
    found: dict[str, list[tuple[int, Figure, Handling]]] = {}
    everybody = {figure.id: figure for figure in figures}
    for figure in everybody.values():
        for act in figure.acts:
            if isinstance(act, Handling) and act.what is not None:
                found.setdefault(act.what, []).append((act.at_frame, figure, act))
    return {what: _journey(sorted(acts, key=lambda one: one[0]), everybody) for what, acts in found.items()}


def _journey(acts: list[tuple[int, Figure, Handling]], everybody: dict[str, Figure]) -> Journey:
    legs: list[Leg] = []
    opens: list[tuple[Figure, Open]] = []
    misfits: list[Misfit] = []
    holder: Figure | None = None
    hand: Hands = "right"
    for frame, figure, act in acts:
        if isinstance(act, Open):
            opens.append((figure, act))
            continue
        takes = isinstance(act, Hold | PickUp)
        has_it = holder is not None and holder.id == figure.id
        to = everybody.get(act.to or "") if isinstance(act, HandOver) else None
        if holder is not None if takes else not has_it:
            misfits.append(Misfit(act, figure, holder))
            continue
        if isinstance(act, HandOver) and (to is None or to.id == figure.id):
            misfits.append(Misfit(act, figure, to))
            continue
        if isinstance(act, Hold | PickUp):
            holder, hand = figure, act.hand
        elif isinstance(act, HandOver):
            holder, hand = to, act.hand
        elif isinstance(act, PutDown):
            holder = None
        legs.append(Leg(frame, act, figure, holder, hand))
    return Journey(tuple(legs), tuple(opens), tuple(misfits))
