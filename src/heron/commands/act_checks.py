"""What an act asks of a body and of the stage: refused where it cannot be, said where it may surprise."""

import math
from collections.abc import Sequence
from typing import Any

import numpy as np

from heron.bake import draft
from heron.commands.pacing import standing_at
from heron.errors import NotFound, Refused
from heron.scene import Scene, find
from heron.scene.links import links
from heron.stage.acts import Act
from heron.stage.acts.body import Run, Sit, Start, StepAside, StopShort, Walk, WalkBack, WalkWith
from heron.stage.acts.look import LookAt
from heron.stage.body.travel import HIGHEST_SEAT, LOWEST_SEAT, SEATS, SIT_S, seat_on, to_the_seat
from heron.stage.figure import Figure
from heron.stage.floors import walkable_height
from heron.stage.lanes import on_lane
from heron.stage.piece import Piece, PieceKind, into
from heron.stage.reference import OnFigure
from heron.timebase import parse_rate

#: Of the time it takes to get to a seat, so much is needed at least.
_HURRIED = 0.5
#: What nobody walks through, and how high it is stepped over, metres.
_SOLID: tuple[PieceKind, ...] = ("wall", "box", "post", "backdrop")
_STEPPED_OVER_M = 0.3


def short_blend(acts: Sequence[Act], act: Act) -> str:
    """What is said where two moving acts go over into each other too quickly to look right."""
    lane = on_lane(acts, act.LANE)
    i = next(k for k, one in enumerate(lane) if one is act)
    if (
        act.LANE != "body"
        or i == 0
        or not isinstance(act, Walk | Run)
        or not isinstance(lane[i - 1], Walk | Run)
    ):
        return ""
    over = lane[i - 1].frames.last - act.frames.first + 1
    return f"; {over} frames are short for a blend of two walks, 12 look better" if 0 < over < 8 else ""


def check_subject(scene: Scene, figure: Figure, act: Act) -> None:
    at: Any = getattr(act, "at", None)
    if isinstance(at, OnFigure) and at.figure == figure.id:
        raise Refused(
            f"{figure.name} cannot {act.LABEL.lower().removesuffix(' at')} at itself.",
            "Choose something else.",
            field="at",
        )
    there = set(scene.items())
    if any(link.id not in there for link in links(act)):
        raise NotFound(
            f"What {figure.name} is to {act.LABEL.lower()} is not in the scene.",
            "It may have been deleted; choose another.",
            field="at",
        )
    if isinstance(act, StopShort) and not _walks_up_to(figure, act):
        raise Refused(
            f"{figure.name} isn't walking right before {act.frames.first}, so it has nothing to stop short from.",
            "Put it while a walk is under way, or where one ends.",
            field="frames",
        )
    if isinstance(act, Sit):
        _check_seat(scene, figure, act)


def _walks_up_to(figure: Figure, act: Act) -> bool:
    """Whether an act of the body begins where another one ends at speed."""
    return any(one.frames.stop == act.frames.first and getattr(one, "goes_on", False) for one in figure.body)


def past_the_end(scene: Scene, act: Act) -> str:
    if act.frames.last <= scene.frames.last:
        return ""
    return f"; it goes on past the end of the scene, {scene.frames.last}"


def leads_through(after: Scene, id_: str, act: Act) -> str:
    """What is said of a way that leads through something that stands on it."""
    if not isinstance(act, Walk | Run | Start | StopShort | WalkBack | StepAside | WalkWith):
        return ""
    figure: Figure = find(after, "figures", id_)
    t = np.arange(max(act.frames.first, after.frames.first), min(act.frames.stop, after.frames.stop))
    if not len(t):
        return ""
    rows = draft(after).rows(figure, t)
    for piece in after.pieces:
        if piece.kind not in _SOLID or piece.part_of is not None:
            continue
        across, along = into(piece, rows[:, 0], rows[:, 2])
        inside = (np.abs(across) < piece.width / 2) & (np.abs(along) < piece.depth / 2)
        # What is stepped over, or passed under, is not in the way.
        tall = (piece.base < rows[:, 1] + figure.stature) & (
            piece.base + piece.height > rows[:, 1] + _STEPPED_OVER_M
        )
        if (inside & tall).any():
            return f"; at {t[int(np.argmax(inside & tall))]} it leads through {piece.name}"
    return ""


def solid_before(scene: Scene, figure: Figure, act: Act) -> list[Piece]:
    """What nobody walks through and a figure on its way meets: neither stepped over nor passed under where it sets out."""
    frames = scene.frames
    frame = min(max(act.frames.first, frames.first), frames.last)
    floor = float(draft(scene).rows(figure, np.array([frame]))[0, 1])
    return [
        piece
        for piece in scene.pieces
        if piece.kind in _SOLID
        and piece.part_of is None
        and piece.base < floor + figure.stature
        and piece.base + piece.height > floor + _STEPPED_OVER_M
    ]


def _check_seat(scene: Scene, figure: Figure, act: Sit) -> None:
    if act.on is None:
        raise Refused("No seat was named.", "Choose a piece to sit on.", field="on")
    frames = scene.frames
    begins = min(max(act.frames.first, frames.first), frames.last)
    piece: Piece = draft(scene).piece_at(find(scene, "pieces", act.on), begins)
    x, z, faces = standing_at(scene, figure, act.frames.first)
    if piece.kind not in SEATS:
        raise Refused(
            f"{figure.name} cannot sit on {piece.name}: it isn't a box, a post or a platform.",
            "Choose a box, a post or a platform.",
            field="on",
        )
    seat = seat_on(piece, x, z, figure.stature, lambda p: walkable_height(scene.pieces, p))
    if seat is None:
        low, high = LOWEST_SEAT * figure.stature, HIGHEST_SEAT * figure.stature
        word = "high" if piece.base + piece.height > high else "low"
        raise Refused(
            f"{piece.name} is {piece.height:.2f} m high, too {word} for {figure.name} to sit on.",
            f"Choose a seat {low:.2f} to {high:.2f} m high.",
            field="on",
        )
    fps = float(parse_rate(scene.rate))
    there = sum(to_the_seat((x, z, faces), seat[0], seat[1], fps))
    needed = act.frames.first + math.ceil(_HURRIED * (there + SIT_S * fps))
    if there and act.frames.last < needed:
        raise Refused(
            f"{figure.name} cannot get to {piece.name} and sit down from {act.frames.first} to {act.frames.last}: that "
            f"takes until {needed}.",
            f"End it at {needed} or later, or walk there first.",
            field="frames",
        )


def missed_by(after: Scene, id_: str, act: LookAt) -> str:
    figure: Figure = find(after, "figures", id_)
    place = next(i for i, one in enumerate(figure.gazes) if one.id == act.id)
    missed = draft(after).performance(figure).missed[place]
    return "" if missed is None else f"; at {missed} it is farther round than head and eyes can turn"
