"""Walks cut in two, ended early, and gone on with."""

from collections.abc import Sequence
from typing import Any

import numpy as np

from heron.commands.pacing import standing_at
from heron.model import changed
from heron.scene import Scene
from heron.stage.acts import Act
from heron.stage.acts.body import BodyAct, Way
from heron.stage.figure import Figure
from heron.stage.lanes import on_lane
from heron.timebase import Frames


def split_way(scene: Scene, figure: Figure, act: Any, one: Any, two: Any) -> tuple[Any, Any]:
    """A walk in two: each has the points on its side of where it is cut."""
    x, z, _ = standing_at(scene, figure, one.frames.stop)
    here = (round(x, 3), round(z, 3))
    bx, bz, _ = standing_at(scene, figure, act.frames.first)
    way = np.array([(bx, bz), *act.points])
    legs = np.hypot(*np.diff(way, axis=0).T)
    done = np.r_[0.0, np.cumsum(legs)]
    near = np.hypot(*(way - np.array(here)).T)
    # The leg on which it is: where the ways to its two ends add up to little more than the leg.
    k = int(np.argmin(near[:-1] + near[1:] - legs))
    before = [p for p, s in zip(act.points, done[1:], strict=True) if s <= done[k]]
    after = [p for p, s in zip(act.points, done[1:], strict=True) if s > done[k]]
    return changed(one, points=(*before, here), soft_stop=False), changed(
        two, points=tuple(after), soft_start=False
    )


def cut_short(scene: Scene, figure: Figure, frame: int) -> tuple[list[Any], str]:
    """The acts of somebody who stops short at a frame: a walk that is under way ends there, one that ends there runs on."""
    acts: list[Any] = list(figure.acts)
    for i, way in enumerate(acts):
        if not isinstance(way, Way) or not way.frames.first < frame <= way.frames.stop:
            continue
        if frame == way.frames.stop:
            acts[i] = changed(way, soft_stop=False)
            return acts, ""
        one = changed(way, frames=Frames(first=way.frames.first, last=frame - 1))
        acts[i] = split_way(scene, figure, way, one, way)[0]
        return acts, f"; the {way.LABEL.lower()} ends there"
    return acts, ""


def going_on(acts: Sequence[Act], act: Any) -> Any:
    """A walk goes on at the speed that what comes right before it ends with."""
    before = next((one for one in on_lane(acts, "body") if one.frames.stop == act.frames.first), None)
    goes = isinstance(act, Way) and isinstance(before, BodyAct) and before.goes_on
    return changed(act, soft_start=False) if goes else act
