"""Where a mover's channels must be for it to be somewhere on the stage, whatever it is on."""

import numpy as np

from heron.bake import draft
from heron.bake.standing import hinged, stood
from heron.curves import evaluate
from heron.errors import Refused
from heron.scene import POSE, Scene
from heron.scene.document import called
from heron.stage.mover import Mover
from heron.stage.turning import angles_of, pan_tilt_roll

#: A value nearer than this to what it was is the same, metres and degrees.
_SAME = 1e-9


def local_pose(scene: Scene, mover: Mover, frame: int, wanted: dict[str, float]) -> dict[str, float]:
    """What the channels of a mover must be at a frame for it to be somewhere on the stage: only what differs.

    Raises:
        Refused: it is in somebody's hand then, or lies where somebody put it.
    """
    bake = draft(scene)
    leg = bake.journey(mover.id).at(frame)
    if leg is not None:
        who = leg.holder or leg.by
        raise Refused(
            f"{called(who)} {'holds' if leg.holder else 'has put down'} {mover.name} at {frame}.",
            f"Change what {called(leg.by)} does with it, or go to a frame before {leg.frame}.",
            field="frame",
        )
    if mover.on is None and mover.hinge is None:
        return wanted
    t = np.array([frame])
    now, turn = stood(bake, mover, t)
    pose = dict(zip(POSE, (*now[0], *(float(v[0]) for v in angles_of(turn.quat))), strict=True)) | wanted
    place = np.array([[pose[n] for n in "xyz"]])
    way = pan_tilt_roll(*(np.array([pose[n]]) for n in ("pan", "tilt", "roll")))
    if mover.hinge is not None:
        # Its pose is that of the closed thing.
        by, off = hinged(bake, mover, t)
        way = way * by.inv()
        place = place - way.apply(off)
    if mover.on is not None:
        under, facing = stood(bake, bake.mover(mover.on), t)
        place, way = facing.inv().apply(place - under), facing.inv() * way
    own = dict(zip(POSE, (*place[0], *(float(v[0]) for v in angles_of(way.quat))), strict=True))
    was = {n: float(evaluate(mover.channel(n), t)[0]) for n in POSE}
    for n in ("pan", "tilt", "roll"):
        own[n] += 360.0 * round((was[n] - own[n]) / 360.0)
    return {n: float(v) for n, v in own.items() if abs(v - was[n]) > _SAME or n in wanted}


def local_shift(scene: Scene, mover: Mover, by: dict[str, float]) -> dict[str, float]:
    """A shift on the stage, metres, as what a mover is on has it at the scene's first frame."""
    if mover.on is None:
        return by
    bake = draft(scene)
    _, facing = stood(bake, bake.mover(mover.on), np.array([scene.frames.first]))
    own = facing.inv().apply([by["x"], by["y"], by["z"]])[0]
    return dict(zip("xyz", (float(v) for v in own), strict=True))
