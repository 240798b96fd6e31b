"""Whether a figure has time for what it is asked to do."""

import math

import numpy as np

from heron.bake import Bake, draft
from heron.errors import Refused
from heron.model import changed, wrap_degrees
from heron.scene import Scene, replace
from heron.stage.acts.base import Act
from heron.stage.acts.body import Run, Turn, Walk
from heron.stage.body import pace
from heron.stage.figure import Figure
from heron.stage.path import FloorPath, at_corners
from heron.timebase import parse_rate

#: A walk may be this much faster than brisk, so that one that just fits is not refused for its steps.
_BRISKER = 1.08
_AT_BEST = {False: "a brisk walk", True: "a fast run"}
_NEARER = {False: "bring the points nearer, or have it run", True: "bring the points nearer"}


def standing_at(scene: Scene, figure: Figure, frame: int) -> tuple[float, float, float]:
    """Where a figure is at a frame and the way it faces: x, z in metres, degrees. It need not be in the scene as it is."""
    if frame not in scene.frames:
        frame = min(max(frame, scene.frames.first), scene.frames.last)
    there = _in_scene(scene, figure.id)
    tried = scene if there is figure else replace(scene, "figures", figure)
    x, _, z, heading = draft(tried).rows(figure, np.array([frame]))[0, :4]
    return float(x), float(z), float(heading)


def _in_scene(scene: Scene, id_: str) -> Figure | None:
    """A figure of the scene."""
    return next((one for one in scene.figures if one.id == id_), None)


def check_pace(scene: Scene, figure: Figure, act: Act, *, turning: bool = True) -> None:
    """Whether somebody walks as fast as an act asks, or turns as quickly.

    Without `turning`, as for somebody who was led by hand, a turn before a walk takes none of its time.

    Raises:
        Refused: naming the frame by which it would be done.
    """
    fps = float(parse_rate(scene.rate))
    first, last = act.frames.first, act.frames.last
    if isinstance(act, Walk | Run):
        points = np.array([standing_at(scene, figure, first)[:2], *act.points])
        metres = sum(FloorPath(part).length for part in at_corners(points))
        runs = isinstance(act, Run)
        brisk = pace.sprint_speed(figure.stature) if runs else pace.brisk_speed(figure.stature)
        needed = first + math.ceil((metres / brisk + (pace.HURRIED_RAMP_S if metres > 1 else 0.0)) * fps)
        if last < needed:
            raise Refused(
                f"{figure.name} cannot {act.kind} {metres:.1f} m from {first} to {last}: at {_AT_BEST[runs]} that takes "
                f"until {needed}.",
                f"End it at {needed} or later, begin earlier, or {_NEARER[runs]}.",
                field="frames",
            )
        if turning:
            _check_speed(scene, figure, act, metres, brisk, fps)
    elif isinstance(act, Turn):
        faced = standing_at(scene, figure, first)[2]
        degrees = abs(wrap_degrees(act.heading - faced))
        needed = first + math.ceil(pace.seconds_to_turn(degrees, hurried=True) * fps)
        if last < needed:
            raise Refused(
                f"{figure.name} cannot turn {degrees:.0f}° from {first} to {last}: hurried steps take until {needed}.",
                f"End it at {needed} or later.",
                field="frames",
            )


def _check_speed(
    scene: Scene, figure: Figure, act: Walk | Run, metres: float, brisk: float, fps: float
) -> None:
    """The same for what is left of its time once it has turned to where it goes.

    Raises:
        Refused: naming the frame by which it would be done.
    """
    acts = (
        figure.acts
        if act in figure.acts
        else tuple(sorted([*figure.acts, act], key=lambda one: one.frames.first))
    )
    walker = changed(figure, acts=acts)
    index = walker.placed_by.index(act)
    bake = Bake(replace(scene, "figures", walker))
    speed = bake.made(walker).facts[index].get("speed", 0.0)
    if speed <= _BRISKER * brisk:
        return
    needed = act.frames.last + math.ceil(metres * (1 / brisk - 1 / speed) * fps)
    raise Refused(
        f"{figure.name} cannot turn and {act.kind} {metres:.1f} m from {act.frames.first} to {act.frames.last}: that would "
        f"be {speed:.1f} m/s, and at {_AT_BEST[isinstance(act, Run)]} it takes until about {needed}.",
        f"End it at {needed} or later, begin earlier, or have {figure.name} face that way first.",
        field="frames",
    )
