"""What happens to all that names something which is deleted."""

from dataclasses import replace as replaced
from typing import Any

import numpy as np

from heron.bake import Bake
from heron.commands.base import Outcome, all_called
from heron.commands.cut_joins import without_chosen
from heron.commands.layers_to_keys import freed
from heron.commands.perches import stood
from heron.commands.shots import lift_out
from heron.lines.timing import in_order, timed
from heron.model import changed
from heron.scene import Scene, replace
from heron.scene.document import TABLES, called
from heron.scene.links import CannotBeWithout, has_links, links, without
from heron.stage.reference import AtPoint, Reference, Spot


def _less(items: tuple[Any, ...], item: Any) -> tuple[Any, ...]:
    return tuple(one for one in items if one is not item)


def _with_parts(scene: Scene, gone: list[Any]) -> tuple[set[str], str]:
    """The ids of things and of all that is part of them, and what is said of the latter."""
    ids, more = {item.id for item in gone}, list(gone)
    riders = [item for table in ("movers", "pieces") for item in getattr(scene, table)]
    parts: list[Any] = []
    while more:
        more = [
            one
            for one in riders
            if one.id not in ids and any(k.role.goes and k.id in ids for k in links(one))
        ]
        ids |= {one.id for one in more}
        parts += more
    # What loses its last part has nothing left to move.
    for mover in scene.movers:
        own = [piece.id for piece in scene.pieces if piece.part_of == mover.id]
        if mover.shape == "pieces" and mover.id not in ids and own and ids.issuperset(own):
            ids.add(mover.id)
    said = f"; {all_called(parts)} {'goes' if len(parts) == 1 else 'go'} with it" if parts else ""
    return ids, said if len(parts) <= 6 else f"; {len(parts)} parts go with it"


def delete(scene: Scene, gone: list[Any]) -> Outcome:
    """A draft without some things, and what that did to others, as the end of a sentence.

    A place that went with one of them stays where it last counted; what can be without it is without;
    what cannot goes too (shots leave gaps, so that the rest of the cut stays put).
    """
    ids, tail = _with_parts(scene, gone)
    # What a layer did by something that goes is kept as keys, while it can still be computed.
    rigged = [c for c in scene.cameras if c.layers and c.id not in ids]
    freed_ = [one for old in rigged if (one := freed(scene, old, ids)) is not old]
    left: dict[str, list[Any]] = {}
    for camera in rigged:
        lost_to = {k.role.left for layer in camera.layers for k in links(layer) if k.id in ids}
        for what in sorted(lost_to):
            left.setdefault(what, []).append(camera)
    scene = replace(scene, "cameras", *freed_)
    # What rode on something that goes stays where it was at first.
    riding = [
        p
        for p in scene.perches
        if p.rides is not None and p.id not in ids and any(k.id in ids for k in links(p))
    ]
    for perch in riding:
        left.setdefault("{} stays where it was", []).append(perch)
    scene = replace(scene, "perches", *(stood(Bake(scene), perch) for perch in riding))
    bake, names = Bake(scene), {id_: called(item) for id_, item in scene.items().items() if id_ in ids}

    def to_point(on: Reference, frame: int | None) -> AtPoint:
        first, last = scene.frames.first, scene.frames.last
        at = min(max(first if frame is None else frame, first), last)
        (link,) = links(on)
        spot: Spot = on  # type: ignore[assignment]
        x, y, z = (round(float(v), 4) for v in bake.place(spot, np.array([at]))[0])
        return AtPoint(x=x, y=y, z=z, of=f"where {names[link.id]} was"[:80])

    update: dict[str, Any] = {}
    for table in TABLES:
        new: list[Any] = []
        lost: list[Any] = []
        for item in getattr(scene, table):
            if item.id in ids:
                continue
            if table == "shots" and item.camera in ids and (other := without_chosen(item, ids)) is not None:
                new.append(other)
                tail += f"; shot {item.name} is “{other.version}” now"
                continue
            if table == "lines" and item.figure in ids:
                # Whoever said it is heard on, as a voice off.
                item = changed(item, figure=None, who=names[item.figure])
                left.setdefault("{} stays as a voice off", []).append(item)
            named = [k.role for k in links(item) if k.id in ids] if has_links(type(item)) else []
            for role in dict.fromkeys(named):
                left.setdefault(role.left, []).append(item)
            try:
                new.append(without(item, ids, to_point) if named else item)
            except CannotBeWithout:
                lost.append(item)
                new.append(item)
        kept: tuple[Any, ...] = tuple(new)
        for item in lost:
            kept = lift_out(kept, item.id, leave_gap=True) if table == "shots" else _less(kept, item)
        update[table] = kept
    if len(update["lines"]) < len(scene.lines):
        kept_lines = {line.id: line for line in update["lines"]}
        there = tuple(replaced(one, line=kept_lines.get(one.line.id, one.line)) for one in timed(scene))
        update["lines"] = in_order(scene, there, ids)
    tail += "".join(f"; {what.format(all_called(items))}" for what, items in left.items())
    return scene.having(**update), tail
