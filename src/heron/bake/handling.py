"""What the hands of a figure do with things: where those are then, and where they are to be."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np

from heron.bake.kind import Baking
from heron.bake.samples import Floats
from heron.bake.standing import OPENED, OPENS, put_where, stood
from heron.model import Model
from heron.scene.links import links
from heron.stage.acts.base import Act
from heron.stage.acts.body import LeanOn
from heron.stage.acts.hands import Handling, HandOver, Hands, Open, PickUp, PutDown, Reach
from heron.stage.body.handling import Carry, Task
from heron.stage.figure import Figure
from heron.stage.grip import Size, grips, how_carried, size_of, taken_at
from heron.stage.journey import Journey, Leg
from heron.stage.mover import Mover
from heron.stage.piece import Piece, into, place_on
from heron.stage.reference import OnFigure
from heron.stage.turning import Turns

#: Two who hand something over meet at this share of their mean stature.
_MEET = 0.69
#: A palm nearer than this to where it goes is there, metres.
_ON_IT_M = 0.002
#: A palm that leans on a piece lies so far in from its edge, metres.
_INSET = 0.06


def _things(bake: Baking, figure: Figure) -> list[Mover]:
    """What it handles, or is handed, in the order of its acts."""
    ids = [act.what for act in figure.acts if isinstance(act, Handling) and act.what]
    for other in bake.scene.figures:
        ids += [
            act.what
            for act in other.acts
            if isinstance(act, HandOver) and act.to == figure.id and act.what and other is not figure
        ]
    return [bake.mover(id_) for id_ in dict.fromkeys(ids)]


def handled_by(bake: Baking, figure: Figure) -> list[Any]:
    """What it depends on beside its own acts: how things come to it, and how large they are."""
    return [
        # Not by links alone: whoever is given something names neither it nor who gives it.
        (bake.key(mover, "rest"), [(leg.frame, leg.act.digest, leg.by.id) for leg in bake.journey(mover.id).legs])
        for mover in _things(bake, figure)
    ]  # fmt: skip


def tasks_of(bake: Baking, figure: Figure) -> list[Task | Carry]:
    """All that its hands do with things over the scene."""

    def find_them() -> list[Task | Carry]:
        handlers = (_Handler(bake, figure, mover) for mover in _things(bake, figure))
        return [*_leaning(bake, figure), *(task for one in handlers for task in one.tasks())]

    found: list[Task | Carry] = bake.cache.get("tasks", bake.key(figure, "place"), find_them)
    return found


@dataclass(frozen=True)
class Miss:
    """A palm that does not get to where an act takes it: by so many metres, at a frame.

    Attributes:
        of: whose act it is.
        figure: whose palm it is.
    """

    act: Act
    of: str
    figure: Figure
    frame: int
    short: float

    @property
    def key(self) -> tuple[str, str, str | None]:
        """What tells it from others."""
        return self.figure.id, self.of, self.act.id


def misses(bake: Baking, figure: Figure) -> list[Miss]:
    """What the hands of a figure do not reach, by its own acts and by acts that hand it something."""
    found: list[Miss] = bake.cache.get(
        "misses", bake.key(figure, "place"), lambda: list(_missed(bake, figure))
    )
    return found


def _missed(bake: Baking, figure: Figure) -> Iterator[Miss]:
    frames = bake.scene.frames
    for act, of, hand, target in _goals(bake, figure):
        spot = OnFigure(figure=figure.id, joint="knuckle_l" if hand == "left" else "knuckle_r")
        palm = bake.place(spot, frames.array(), bare=True)
        off = np.linalg.norm(np.broadcast_to(target, palm.shape) - palm, axis=-1)
        for share in _on_it(act):
            frame = act.frames.first + round(share * (act.frames.count - 1))
            if frame in frames and off[frame - frames.first] > _ON_IT_M:
                yield Miss(act, of, figure, frame, float(off[frame - frames.first]))
                break


def _goals(bake: Baking, figure: Figure) -> Iterator[tuple[Act, str, Hands, Floats]]:
    """Acts that take a palm somewhere, whose acts they are, which hand, and where to, (3,) or (n, 3) metres."""
    for act in figure.acts:
        if isinstance(act, Reach):
            yield act, figure.id, act.hand, bake.place(act.at, bake.scene.frames.array(), bare=True)
    for task in (one for one in tasks_of(bake, figure) if isinstance(one, Task)):
        yield task.act, task.of or figure.id, task.hand, task.target


def _on_it(act: Act) -> tuple[float, ...]:
    """Shares of an act at which the palm is on what it goes to."""
    if isinstance(act, Open):
        return OPENS, OPENED
    return (act.WHEN,) if isinstance(act, Handling) else (0.5,)


class _Handler:
    """What the hands of one figure do with one thing."""

    def __init__(self, bake: Baking, figure: Figure, mover: Mover) -> None:
        self.bake, self.figure, self.mover = bake, figure, mover
        self.been: Journey = bake.journey(mover.id)
        self.size: Size = size_of(mover, bake.parts(mover))
        self.t = bake.scene.frames.array().astype(np.float64)
        place, turn = stood(bake, mover, self.t, "rest")
        self.place, self.turn = place, turn

    def tasks(self) -> Iterator[Task | Carry]:
        held = np.zeros(3)
        for leg in self.been.legs:
            # Where the palm that leads has it, in the thing's own frame.
            was, held = held, self._grip(leg, held)
            if leg.by.id == self.figure.id:
                yield from self._does(leg, was, held)
            if leg.holder is not None and leg.holder.id == self.figure.id:
                if isinstance(leg.act, HandOver):
                    target = self._meets(leg, 0.5)
                    yield Task("take", leg.act, leg.hand, target, self._other(leg), of=leg.by.id)
                until = self.been.until(leg)
                half = float((self.size.high - self.size.low)[0]) / 2
                yield Carry(leg.frame, until, leg.hand, how_carried(self.size), self._other(leg), half)
        for figure, act in self.been.opens:
            if figure.id == self.figure.id and self.mover.hinge is not None:
                handle = self.place + self.turn.apply(grips(self.mover, self.size, act.hand)[0])
                yield Task("open", act, act.hand, handle, low=self._low(handle[self._row(act.at_frame)]))

    def _row(self, frame: int) -> int:
        return int(np.clip(frame - self.t[0], 0, len(self.t) - 1))

    def _grip(self, leg: Leg, held: Floats) -> Floats:
        if leg.holder is None:
            return held
        if isinstance(leg.act, HandOver) and leg.hand != "both":
            turn = Turns(self.turn.quat[self._row(leg.frame)][None])
            return np.asarray(held + turn.inv().apply([0.0, taken_at(self.size), 0.0])[0])
        return grips(self.mover, self.size, leg.hand)[0]

    def _other(self, leg: Leg) -> Floats | None:
        """(n, 3) metres on the stage: from the palm that leads to the other one."""
        one, two = grips(self.mover, self.size, leg.hand)
        return None if two is None else self.turn.apply(two - one)

    def _does(self, leg: Leg, was: Floats, held: Floats) -> Iterator[Task]:
        i, act = self._row(leg.frame), leg.act
        turn = Turns(self.turn.quat[i][None])
        if isinstance(act, PickUp):
            # Just before it is in the hand it lies where it is taken.
            i = self._row(leg.frame - 1)
            target = self.place[i] + turn.apply(held)[0]
            yield Task("pick_up", act, leg.hand, target, self._other(leg), self._low(target))
        elif isinstance(act, PutDown):
            hand = before.hand if (before := self.been.before(act)) else "right"
            target = put_where(self.bake, leg, self.t)[i] + turn.apply(was)[0]
            yield Task("put_down", act, hand, target, low=self._low(target))
        elif isinstance(act, HandOver):
            hand = before.hand if (before := self.been.before(act)) else "right"
            yield Task("give", act, hand, self._meets(leg, -0.5))

    def _low(self, target: Floats) -> float:
        """How high a place is over the floor under the figure, statures."""
        root = self.bake.root(self.figure)[0]
        near = int(np.argmin(np.linalg.norm(root - target, axis=-1)))
        return float(target[1] - root[near, 1]) / self.figure.stature

    def _meets(self, leg: Leg, share: float) -> Floats:
        """(3,) metres: where the two who hand it over meet: nearer to who has shorter arms, one hand a little above the
        other, half of that each.
        """
        assert leg.holder is not None
        i = self._row(leg.frame)
        gives, takes = (self.bake.root(one)[0][i] for one in (leg.by, leg.holder))
        mean = (leg.by.stature + leg.holder.stature) / 2
        way = leg.by.stature / (2 * mean)
        return np.asarray(
            gives + way * (takes - gives) + [0.0, _MEET * mean + share * taken_at(self.size), 0.0]
        )


def _leaning(bake: Baking, figure: Figure) -> Iterator[Task]:
    for act in figure.acts:
        if not isinstance(act, LeanOn) or act.on is None:
            continue
        piece: Model = bake.item(links(act)[0])
        if isinstance(piece, Piece):
            yield Task("lean_on", act, act.hand, leaned_on(bake, figure, act, piece))


def leaned_on(bake: Baking, figure: Figure, act: LeanOn, piece: Piece) -> Floats:
    """(3,) metres: the place on the top of a piece nearest to the shoulder of somebody who leans on it."""
    frames = bake.scene.frames
    frame = min(max((act.frames.first + act.frames.last) // 2, frames.first), frames.last)
    there = bake.piece_at(piece, frame)
    root, heading = bake.root(figure)
    i = frame - frames.first
    turn, side = np.radians(heading[i]), 1.0 if act.hand == "right" else -1.0
    aside = 0.12 * side * figure.stature
    x, z = root[i, 0] + aside * np.cos(turn), root[i, 2] - aside * np.sin(turn)
    across, along = into(there, x, z)
    half = np.maximum([there.width / 2 - _INSET, there.depth / 2 - _INSET], 0.0)
    own = np.clip([across, along], -half, half)
    return place_on(there, float(own[0]) / there.width, 1.0, float(own[1]) / there.depth)
