"""Where things are: by their keys, on what they are on, as far as their hinge is open, and in whose hand they are."""

from typing import Any

import numpy as np

from heron.bake.kind import Baking
from heron.bake.samples import Floats, between
from heron.curves import evaluate
from heron.rigs import base_pose
from heron.scene.links import Aspect
from heron.stage.acts.base import shaped
from heron.stage.acts.hands import HandOver, PutDown
from heron.stage.figure import Figure
from heron.stage.grip import grips, size_of, taken_at
from heron.stage.journey import Leg
from heron.stage.mover import AXES, Hinge, Mover
from heron.stage.reference import OnFigure
from heron.stage.turning import Turns, about, pan_tilt_roll

#: A thing that is opened begins to move after so much of the act, and has moved after so much.
OPENS, OPENED = 0.30, 0.75
#: Whoever puts something down without a place for it puts it so far ahead, statures.
_AHEAD = 0.30


def stood(
    bake: Baking, mover: Mover, t: np.ndarray[Any, Any], aspect: Aspect = "pose"
) -> tuple[Floats, Turns]:
    """(n, 3) metres on the stage, and how it is turned, at moments (n,).

    Args:
        aspect: `rest` leaves out where hands carry it to; `place` has them where they are without their owner's looks.
    """
    if not bake.journey(mover.id).legs:
        return _by_itself(bake, mover, np.asarray(t, dtype=np.float64), aspect)
    place, quat = carried(bake, mover, aspect)
    first = bake.scene.frames.first
    sudden = bake.jumps(mover)
    turns = between(quat, first, t, sudden)
    return between(place, first, t, sudden), Turns(turns / np.linalg.norm(turns, axis=-1, keepdims=True))


def by_keys_alone(bake: Baking, mover: Mover) -> bool:
    """Whether a mover is where its keys have it, and nothing else."""
    alone = mover.on is None and mover.with_camera is None and mover.hinge is None
    return alone and not bake.journey(mover.id).legs


def _by_itself(bake: Baking, mover: Mover, t: Floats, aspect: Aspect) -> tuple[Floats, Turns]:
    """By its keys and its hinge, on the stage or on what it is on."""
    pose = base_pose(mover, t)
    place, turn = pose[:, :3], pan_tilt_roll(pose[:, 3], pose[:, 4], pose[:, 5])
    if mover.on is not None:
        under, way = stood(bake, bake.mover(mover.on), t, aspect)
        place, turn = under + way.apply(place), way * turn
    elif mover.with_camera is not None:
        seen = bake.rows(bake.camera(mover.with_camera), t)[:, :6]
        way = pan_tilt_roll(seen[:, 3], seen[:, 4], seen[:, 5])
        place, turn = seen[:, :3] + way.apply(place), way * turn
    if mover.hinge is not None:
        by, off = hinged(bake, mover, t)
        place, turn = place + turn.apply(off), turn * by
    return place, turn


def hinged(bake: Baking, mover: Mover, t: Floats) -> tuple[Turns, Floats]:
    """How far a hinge turns a thing, and (n, 3) metres how far a slide moves it, in its own frame."""
    assert mover.hinge is not None
    axis, far = AXES[mover.hinge.axis], opened(bake, mover, t)
    if isinstance(mover.hinge, Hinge):
        return about("XYZ"[int(np.argmax(axis))], far), np.zeros((len(t), 3))
    return about("Y", np.zeros(len(t))), far[:, None] * np.array(axis)


def opened(bake: Baking, mover: Mover, t: Floats) -> Floats:
    """(n,) how far a thing is open, degrees or metres: by its keys, until somebody opens or closes it."""
    assert mover.hinge is not None
    t = np.asarray(t, dtype=np.float64)
    out = evaluate(mover.hinge.open, t)
    was: float | None = None
    for _, act in bake.journey(mover.id).opens:
        begins = act.frames.first + OPENS * act.frames.count
        if was is None:
            was = float(evaluate(mover.hinge.open, np.array([begins]))[0])
        far = shaped((t - begins) / ((OPENED - OPENS) * act.frames.count), "soft")
        to = min(max(act.open, mover.hinge.least), mover.hinge.most)
        out = np.where(t >= begins, was + far * (to - was), out)
        was = to
    return np.asarray(out)


def carried(bake: Baking, mover: Mover, aspect: Aspect) -> tuple[Floats, Floats]:
    """(n, 3) and (n, 4) over the scene's frames: a thing that goes through somebody's hands."""
    kept: tuple[Floats, Floats] = bake.cache.get(
        "carried", bake.key(mover, aspect), lambda: _carried(bake, mover, aspect)
    )
    return kept


def _carried(bake: Baking, mover: Mover, aspect: Aspect) -> tuple[Floats, Floats]:
    frames = bake.scene.frames
    t = frames.array().astype(np.float64)
    place, turn = _by_itself(bake, mover, t, aspect)
    place, quat = place.copy(), turn.quat.copy()
    size = size_of(mover, bake.parts(mover))
    held = np.zeros(3)
    for leg in bake.journey(mover.id).legs:
        i = min(max(leg.frame - frames.first, 0), frames.count - 1)
        if leg.frame > frames.last:
            break
        was = Turns(quat[i][None])
        if leg.holder is None:
            place[i:] = put_where(bake, leg, t)[i:]
            quat[i:] = quat[i]
            continue
        if isinstance(leg.act, HandOver):
            held = held + was.inv().apply([0.0, taken_at(size), 0.0])[0]
            if leg.hand == "both":
                held = grips(mover, size, leg.hand)[0]
        else:
            held = grips(mover, size, leg.hand)[0]
        # It keeps the way it is turned to who holds it, upright or not.
        heading = bake.root(leg.holder)[1]
        turned = about("Y", heading[i:] - heading[i]) * was
        quat[i:] = turned.quat
        if aspect != "rest":
            side = "l" if leg.hand == "left" else "r"
            palm = bake.place(
                OnFigure(figure=leg.holder.id, joint=f"knuckle_{side}"), t[i:], bare=aspect == "place"
            )
            place[i:] = palm - turned.apply(held)
    return place, quat


def put_where(bake: Baking, leg: Leg, t: Floats) -> Floats:
    """(n, 3) metres: where a thing's foot is while it lies where it was put; it goes with what it is put on."""
    assert isinstance(leg.act, PutDown)
    if leg.act.at is not None:
        return bake.place(leg.act.at, t, bare=True)
    root, heading = bake.root(leg.by)
    i = min(max(leg.frame - bake.scene.frames.first, 0), len(root) - 1)
    return np.tile(before(leg.by, root[i], float(heading[i])), (len(t), 1))


def before(figure: Figure, root: Floats, heading: float) -> Floats:
    """(3,) metres: the place on the floor right before a figure."""
    turn = np.radians(heading)
    return np.asarray(root + _AHEAD * figure.stature * np.array([-np.sin(turn), 0.0, -np.cos(turn)]))
