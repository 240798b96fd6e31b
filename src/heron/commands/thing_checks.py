"""What hands may do with things: one thing in a hand at a time, within reach, no larger than can be held."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from heron.bake import Bake, draft
from heron.bake.handling import Miss, misses
from heron.commands.moving_parts import check_opening
from heron.errors import Refused
from heron.scene import Scene, find
from heron.scene.document import spot_called
from heron.stage.acts import Act
from heron.stage.acts.body import LeanOn
from heron.stage.acts.hands import (
    FoldArms,
    Handling,
    HandOver,
    HandsAct,
    Hold,
    Open,
    PickUp,
    PointAt,
    Reach,
)
from heron.stage.figure import Figure
from heron.stage.grip import TOO_BIG, WIDEST_M, size_of
from heron.stage.journey import Journey, Misfit
from heron.stage.mover import Mover

#: Two who hand something over stand so far apart, metres.
NEAREST_M, FARTHEST_M = 0.45, 1.4


@dataclass(frozen=True)
class _Busy:
    """A hand that is taken: from a frame up to another, by what, and how that is told."""

    figure: str
    hand: str
    first: int
    stop: float
    of: str
    told: str


def check_things(before: Scene, after: Scene, figure: Figure, act: Act) -> None:
    """Whether what is to be done with a thing can be done, and whether the hands for it are free.

    Raises:
        Refused: it cannot; nothing has changed.
    """
    if isinstance(act, Handling):
        _check_named(after, figure, act)
        _check_holder(after, figure, act)
    if isinstance(act, HandsAct):
        _check_hands(before, after, figure, act)
    if isinstance(act, Handling | LeanOn | Reach):
        _check_reach(after, figure, act)


def things_said(before: Scene, after: Scene) -> str:
    """What is said of acts that can no longer do what they say with their things, as the end of a sentence."""
    if before.figures is after.figures and before.movers is after.movers and before.pieces is after.pieces:
        return ""
    known = {(one.by.id, one.act.id) for one in _misfits(before)}
    # What lost its thing or whom it is for when that was deleted was told already.
    new = [
        one
        for one in _misfits(after)
        if (one.by.id, one.act.id) not in known and getattr(one.act, "to", one.act.what) is not None
    ]
    said = [
        f"; at {one.act.frames.first} {one.by.name} no longer has what it is to {one.act.LABEL.lower()}"
        for one in new
    ]
    short = {one.key for one in _out_of_reach(before, after)}
    worst: dict[tuple[str, str | None], Miss] = {}
    for one in sorted(_out_of_reach(after, before), key=lambda miss: miss.short):
        if one.key not in short:
            worst[one.of, one.act.id] = one
    said += [
        f"; at {one.frame} {one.figure.name} no longer reaches {_goal_of(after, one.act)}: {one.short:.2f} m short"
        for one in worst.values()
    ]
    return "".join(said)


def _out_of_reach(scene: Scene, other: Scene) -> list[Miss]:
    """What is not reached in a scene, by those who do not go and stand as in another one."""
    bake, known = draft(scene), draft(other)
    keys = {figure.id: known.key(figure, "place") for figure in other.figures}
    return [
        miss
        for figure in scene.figures
        if keys.get(figure.id) != bake.key(figure, "place")
        for miss in misses(bake, figure)
    ]


def _goal_of(scene: Scene, act: Act) -> str:
    """What an act takes a palm to, by its name."""
    if isinstance(act, Reach):
        return spot_called(scene, act.at)
    if isinstance(act, LeanOn):
        return str(find(scene, "pieces", act.on or "").name)
    return str(find(scene, "movers", getattr(act, "what", None) or "").name)


def held_at(scene: Scene, figure: Figure, frame: int) -> list[Mover]:
    """What a figure has in its hands at a frame."""
    bake = draft(scene)
    legs = [(mover, bake.journey(mover.id).at(frame)) for mover in scene.movers]
    return [mover for mover, leg in legs if leg and leg.holder and leg.holder.id == figure.id]


def _misfits(scene: Scene) -> list[Misfit]:
    bake = draft(scene)
    return [one for mover in scene.movers for one in bake.journey(mover.id).misfits]


def _check_named(after: Scene, figure: Figure, act: Handling) -> None:
    if act.what is None:
        raise Refused(f"Nothing to {act.LABEL.lower()} was named.", "Choose a thing.", field="what")
    mover: Mover = find(after, "movers", act.what)
    if isinstance(act, Open):
        if mover.hinge is None:
            raise Refused(
                f"{mover.name} has no hinge or slide.", "Give it one on its card, or choose another thing.", field="what"
            )  # fmt: skip
        return check_opening(mover, act.open)
    size = size_of(mover, draft(after).parts(mover))
    if mover.shape in TOO_BIG or size.wide > WIDEST_M or mover.hinge is not None:
        why = "turns on its hinge" if mover.hinge else "is too large to hold"
        raise Refused(f"{mover.name} {why}.", f"Choose a thing up to {WIDEST_M:g} m wide.", field="what")
    if isinstance(act, HandOver):
        if act.to is None:
            raise Refused("Nobody to hand it to was named.", "Choose a figure.", field="to")
        if act.to == figure.id:
            raise Refused(
                f"{figure.name} cannot hand {mover.name} to itself.", "Choose somebody else.", field="to"
            )
    return None


def _check_holder(after: Scene, figure: Figure, act: Handling) -> None:
    assert act.what is not None
    been = draft(after).journey(act.what)
    if all(one.act.id != act.id or one.by.id != figure.id for one in been.misfits):
        return
    mover: Mover = find(after, "movers", act.what)
    leg = been.at(act.at_frame)
    has = leg.holder if leg else None
    if isinstance(act, Hold | PickUp):
        who = has.name if has else "somebody"
        raise Refused(
            f"{who} holds {mover.name} at {act.at_frame}: it would be in two hands at once.",
            f"Have {who} put it down or hand it over first.",
            field="what",
        )
    holds = f", {has.name} does" if has else ""
    raise Refused(
        f"{figure.name} does not hold {mover.name} at {act.at_frame}{holds}.",
        f"Have {figure.name} hold it or pick it up first, or hand it to {figure.name}.",
        field="what",
    )


def _check_hands(before: Scene, after: Scene, figure: Figure, act: HandsAct) -> None:
    known = {(one.of, other.of) for one, other in _clashes(before)}
    for one, other in _clashes(after):
        if (one.of, other.of) in known:
            continue
        until = "" if one.stop == np.inf else f" to {one.stop - 1:g}"
        name = next(f.name for f in after.figures if f.id == one.figure)
        raise Refused(
            f"{name} {one.told} in the {one.hand} hand from {one.first}{until} and cannot {other.told} with it.",
            "Choose the other hand, or put it down first.",
            field="hand",
        )


def _clashes(scene: Scene) -> list[tuple[_Busy, _Busy]]:
    """Pairs of things that want the same hand at once; the first of each is one that is held."""
    bake = draft(scene)
    held: list[_Busy] = []
    for mover in scene.movers:
        been: Journey = bake.journey(mover.id)
        for leg in been.legs:
            if leg.holder is None:
                continue
            until = been.until(leg)
            for hand in _hands(leg.hand):
                stop = np.inf if until is None else float(until)
                told = f"holds {mover.name}"
                held.append(_Busy(leg.holder.id, hand, leg.frame, stop, f"{mover.id}/{leg.act.id}", told))
    out: list[tuple[_Busy, _Busy]] = []
    for i, one in enumerate(held):
        others = [_wanted(other) for other in held[i + 1 :]] + list(_acts(scene, one.figure))
        for other in others:
            same = (one.figure, one.hand) == (other.figure, other.hand)
            if same and one.first < other.stop and other.first < one.stop:
                out.append((one, other) if one.first <= other.first or "/" not in other.of else (other, one))
    return out


def _wanted(one: _Busy) -> _Busy:
    """A held thing as what is wanted of a hand."""
    return _Busy(one.figure, one.hand, one.first, one.stop, one.of, one.told.replace("holds", "hold", 1))


def _acts(scene: Scene, id_: str) -> list[_Busy]:
    """What the acts of a figure want of its hands, beside holding."""
    figure: Figure = find(scene, "figures", id_)
    out = []
    for act in figure.acts:
        if not isinstance(act, HandsAct) or (isinstance(act, Handling) and not isinstance(act, Open)):
            continue
        for hand in _wants(act):
            first, stop = act.frames.first, float(act.frames.stop)
            out.append(_Busy(id_, hand, first, stop, f"{id_}:{act.id}", act.LABEL.lower()))
    return out


def _wants(act: Any) -> tuple[str, ...]:
    if isinstance(act, FoldArms):
        return ("right", "left")
    if isinstance(act, PointAt):
        return ("right",)
    return _hands(act.hand) if hasattr(act, "hand") else ()


def _hands(hand: str) -> tuple[str, ...]:
    return ("right", "left") if hand == "both" else (hand,)


def _check_reach(after: Scene, figure: Figure, act: Handling | LeanOn | Reach) -> None:
    bake = draft(after)
    people: list[Figure] = [find(after, "figures", figure.id)]
    if isinstance(act, HandOver):
        _check_apart(after, bake, people[0], act)
        assert act.to is not None
        people.append(find(after, "figures", act.to))
    for miss in (one for person in people for one in misses(bake, person)):
        if (miss.of, miss.act.id) == (figure.id, act.id):
            raise Refused(
                f"{miss.figure.name} cannot reach {_goal_of(after, act)}: the palm stays {miss.short:.2f} m short of it at "
                f"{miss.frame}.",
                "Bring it nearer, or have the figure walk closer first.",
                field="at" if isinstance(act, Reach) else "what",
            )


def _check_apart(after: Scene, bake: Bake, figure: Figure, act: HandOver) -> None:
    other: Figure = find(after, "figures", act.to or "")
    frames = after.frames
    if act.at_frame not in frames:
        return
    i = act.at_frame - frames.first
    apart = float(np.linalg.norm((bake.root(figure)[0][i] - bake.root(other)[0][i])[[0, 2]]))
    if not NEAREST_M <= apart <= FARTHEST_M:
        raise Refused(
            f"{figure.name} and {other.name} stand {apart:.2f} m apart at {act.at_frame}.",
            f"To hand something over they stand {NEAREST_M:g} to {FARTHEST_M:g} m apart: have one of them walk first.",
            field="frames",
        )
