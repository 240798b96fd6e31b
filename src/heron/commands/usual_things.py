"""The thing that somebody most likely means to hold, give, put down, open or lean on: the nearest that will do."""

import math
from typing import Any

import numpy as np

from heron.bake import Bake, draft
from heron.bake.standing import before, opened, stood
from heron.commands.moving_parts import MakeMover
from heron.commands.pacing import standing_at
from heron.commands.thing_checks import held_at
from heron.errors import Refused
from heron.model import new_id
from heron.scene import Scene
from heron.stage.acts import Act
from heron.stage.acts.body import LeanOn
from heron.stage.acts.hands import HandOver, Hold, Open, PickUp, PutDown
from heron.stage.figure import Figure
from heron.stage.floors import support
from heron.stage.grip import TOO_BIG, WIDEST_M, size_of
from heron.stage.mover import Mover
from heron.stage.piece import Piece, PieceKind, into
from heron.stage.reference import AtPoint

#: Things are looked for so far away; what is held from the start may lie anywhere. Metres.
_NEAR_M = 1.5
#: Set pieces that can be lifted: of these kinds, and no larger, metres.
_LIFTED: tuple[PieceKind, ...] = ("box", "post")
_SMALL_M = 0.7
#: What is leaned on is so high, statures.
_LEAN_LOW, _LEAN_HIGH = 0.38, 0.72


def usual_thing(
    scene: Scene, figure: Figure, kind: type[Act], frame: int
) -> tuple[Scene, str, dict[str, Any]]:
    """What a figure handles when nothing is said of it: the scene, what was done to it, and the act's fields.

    A set piece that is to be lifted is made into a mover first.

    Raises:
        Refused: nothing near will do.
    """
    if kind in (Hold, PickUp):
        scene, said, what = _to_lift(scene, figure, kind, frame)
        return scene, said, {"what": what}
    if kind is LeanOn:
        return scene, "", {"on": _to_lean_on(scene, figure, frame)}
    if kind is Open:
        mover = _to_open(scene, figure, frame)
        assert mover.hinge is not None
        now = float(opened(draft(scene), mover, np.array([frame], dtype=np.float64))[0])
        shut = abs(now - mover.hinge.least) <= abs(now - mover.hinge.most)
        return scene, "", {"what": mover.id, "open": mover.hinge.most if shut else mover.hinge.least}
    held = held_at(scene, figure, frame)
    if not held:
        raise Refused(
            f"{figure.name} holds nothing at {frame}.", "Have it pick something up or hold it first.", field="does"
        )  # fmt: skip
    if kind is HandOver:
        return scene, "", {"what": held[0].id, "to": _nearest_other(scene, figure, frame)}
    assert kind is PutDown
    return scene, "", {"what": held[0].id, "at": _right_before(scene, figure, frame)}


def _to_lift(scene: Scene, figure: Figure, kind: type[Act], frame: int) -> tuple[Scene, str, str]:
    bake, here = draft(scene), _here(scene, figure, frame)
    found: list[tuple[float, Any]] = []
    for mover in scene.movers:
        leg = bake.journey(mover.id).at(frame)
        size = size_of(mover, bake.parts(mover))
        fits = mover.shape not in TOO_BIG and size.wide <= WIDEST_M and mover.hinge is None
        if fits and (leg is None or leg.holder is None):
            place, _ = stood(bake, mover, np.array([frame]))
            found.append((math.dist(place[0][[0, 2]], here), mover))
    for piece in scene.pieces:
        small = max(piece.width, piece.depth, piece.height) <= _SMALL_M and piece.kind in _LIFTED
        if small and piece.part_of is None and not piece.locked:
            found.append((math.dist((piece.x, piece.z), here), piece))
    far, item = min(found, key=lambda one: one[0], default=(math.inf, None))
    if item is None or (kind is PickUp and far > _NEAR_M):
        within = f" within {_NEAR_M:g} m" if kind is PickUp else ""
        raise Refused(
            f"There is nothing{within} that {figure.name} could hold.",
            f"Put an oar or a box up to {_SMALL_M:g} m large near {figure.name} first.",
            field="does",
        )
    if isinstance(item, Mover):
        return scene, "", item.id
    make = MakeMover(id=new_id("mov"), ids=(item.id,))
    after, said = make.apply(scene)
    return after, f"; {said[0].lower()}{said[1:]}", make.id


def _to_lean_on(scene: Scene, figure: Figure, frame: int) -> str:
    x, z = _here(scene, figure, frame)
    bake = draft(scene)
    found = []
    for piece in scene.pieces:
        there = bake.piece_at(piece, frame)
        floor = support(scene.pieces, x, z, frozenset({piece.id}))
        high = (there.base + there.height - floor) / figure.stature
        if piece.kind in ("box", "post", "wall") and _LEAN_LOW <= high <= _LEAN_HIGH:
            found.append((_beside(there, x, z), piece.id))
    if not found or min(found)[0] > _NEAR_M:
        raise Refused(
            f"Nothing within {_NEAR_M:g} m of {figure.name} is of a height to lean on.",
            f"Put up a box, a post or a wall {_LEAN_LOW * figure.stature:.2f} to {_LEAN_HIGH * figure.stature:.2f} m high.",
            field="does",
        )
    return min(found)[1]


def _beside(piece: Piece, x: float, z: float) -> float:
    """How far a place is from a piece, metres."""
    across, along = into(piece, x, z)
    return math.hypot(max(abs(across) - piece.width / 2, 0.0), max(abs(along) - piece.depth / 2, 0.0))


def _to_open(scene: Scene, figure: Figure, frame: int) -> Mover:
    bake, here = draft(scene), _here(scene, figure, frame)
    found = []
    for mover in scene.movers:
        if mover.hinge is not None:
            place, _ = stood(bake, mover, np.array([frame]))
            found.append((math.dist(place[0][[0, 2]], here), mover))
    if not found:
        raise Refused(
            "Nothing on the stage has a hinge or a slide.", "Make a piece movable and give it one on its card.", field="does"
        )  # fmt: skip
    return min(found, key=lambda one: one[0])[1]


def _nearest_other(scene: Scene, figure: Figure, frame: int) -> str:
    here = _here(scene, figure, frame)
    others = [
        (math.dist(_here(scene, one, frame), here), one.id) for one in scene.figures if one is not figure
    ]
    if not others:
        raise Refused("There is nobody to hand it to.", "Put a second figure on the stage.", field="does")
    return min(others)[1]


def _right_before(scene: Scene, figure: Figure, frame: int) -> AtPoint:
    """The place right before a figure, on what stands there."""
    root, heading = Bake(scene).root(figure)
    i = frame - scene.frames.first
    x, y, z = before(figure, root[i], float(heading[i]))
    y = max(float(y), support(tuple(p for p in scene.pieces if p.part_of is None), float(x), float(z)))
    return AtPoint(x=round(float(x), 3), y=round(y, 3), z=round(float(z), 3))


def _here(scene: Scene, figure: Figure, frame: int) -> tuple[float, float]:
    x, z, _ = standing_at(scene, figure, frame)
    return x, z
