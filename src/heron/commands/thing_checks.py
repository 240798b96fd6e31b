"""What hands may do with things: one thing in a hand at a time, within reach, no larger than can be held."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from heron.bake import Bake, draft
from heron.bake.handling import tasks_of
from heron.bake.standing import OPENED, OPENS
from heron.commands.moving_parts import check_opening
from heron.errors import Refused
from heron.scene import Scene, find
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
    PutDown,
)
from heron.stage.body.handling import Task
from heron.stage.figure import Figure
from heron.stage.grip import TOO_BIG, WIDEST_M, size_of
from heron.stage.journey import Journey, Misfit
from heron.stage.mover import Mover
from heron.stage.reference import OnFigure

#: A palm nearer than this to what it reaches for is on it, metres.
ON_IT_M = 0.002
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
    if isinstance(act, Handling | LeanOn):
        _check_reach(after, figure, act)


def things_said(before: Scene, after: Scene) -> str:
    """What is said of acts that can no longer do what they say with their things, as the end of a sentence."""
    known = {one.act.id for one in _misfits(before)}
    new = [one for one in _misfits(after) if one.act.id not in known]
    return "".join(
        f"; at {one.act.frames.first} {one.by.name} no longer has what it is to {one.act.LABEL.lower()}"
        for one in new
    )


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


def _check_reach(after: Scene, figure: Figure, act: Handling | LeanOn) -> None:
    bake = draft(after)
    there: Figure = find(after, "figures", figure.id)
    if isinstance(act, HandOver):
        _check_apart(after, bake, there, act)
        assert act.to is not None
        other: Figure = find(after, "figures", act.to)
        for one, does in ((there, "give"), (other, "take")):
            _check_palm(after, bake, one, act, does)
    elif isinstance(act, LeanOn):
        _check_palm(after, bake, there, act, "lean_on")
    elif isinstance(act, PickUp | PutDown | Open):
        _check_palm(after, bake, there, act, getattr(act, "kind", ""))


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


def _check_palm(after: Scene, bake: Bake, figure: Figure, act: Any, does: str) -> None:
    task = next(
        (t for t in tasks_of(bake, figure) if isinstance(t, Task) and t.does == does and t.frames == act.frames), None
    )  # fmt: skip
    if task is None:
        return
    count = act.frames.count
    shares = (OPENS, OPENED) if isinstance(act, Open) else (0.5,) if isinstance(act, LeanOn) else (act.WHEN,)
    for share in shares:
        frame = act.frames.first + round(share * (count - 1))
        if frame not in after.frames:
            continue
        side = "l" if task.hand == "left" else "r"
        at = np.array([frame])
        palm = bake.place(OnFigure(figure=figure.id, joint=f"knuckle_{side}"), at, bare=True)[0]
        target = np.broadcast_to(task.target, (after.frames.count, 3))[frame - after.frames.first]
        short = float(np.linalg.norm(target - palm))
        if short > ON_IT_M:
            what = (
                find(after, "pieces", act.on or "")
                if isinstance(act, LeanOn)
                else find(after, "movers", act.what)
            )
            raise Refused(
                f"{figure.name} cannot reach {what.name}: the palm stays {short:.2f} m short of it at {frame}.",
                "Bring it nearer, or have the figure walk closer first.",
                field="what",
            )
