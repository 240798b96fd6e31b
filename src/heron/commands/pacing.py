"""Whether a figure has time for what it is asked to do."""

import math

import numpy as np

from heron.bake import Bake
from heron.errors import Refused
from heron.model import changed, wrap_degrees
from heron.scene import Scene, replace
from heron.stage.body import pace
from heron.stage.figure import Act, Figure, Turn, Walk
from heron.stage.path import FloorPath, at_corners
from heron.timebase import parse_rate

#: A walk may be this much faster than brisk, so that one that just fits is not refused for its steps.
_BRISKER = 1.08


def start_of(figure: Figure, act: Act) -> tuple[float, float]:
    """Where a walk begins: where the last one before it ended, x and z in metres."""
    before = [a for a in figure.acts if isinstance(a, Walk) and a.frames.last < act.frames.first]
    return before[-1].points[-1] if before else (figure.x, figure.z)


def heading_at(scene: Scene, figure: Figure, frame: int) -> float:
    """The way it faces at a frame, degrees."""
    if frame not in scene.frames:
        return figure.heading
    return float(Bake(scene).rows(figure, np.array([frame]))[0, 3])


def check_pace(scene: Scene, figure: Figure, act: Act, *, turning: bool = True) -> None:
    """Whether somebody walks as fast as an act asks, or turns as quickly.

    Without `turning`, as for somebody who was led by hand, a turn before a walk takes none of its time.

    Raises:
        Refused: naming the frame by which it would be done.
    """
    fps = float(parse_rate(scene.rate))
    first, last = act.frames.first, act.frames.last
    if isinstance(act, Walk):
        points = np.array([start_of(figure, act), *act.points])
        metres = sum(FloorPath(part).length for part in at_corners(points))
        brisk = pace.brisk_speed(figure.stature)
        needed = first + math.ceil((metres / brisk + (pace.HURRIED_RAMP_S if metres > 1 else 0.0)) * fps)
        if last < needed:
            raise Refused(
                f"{figure.name} cannot walk {metres:.1f} m from {first} to {last}: at a brisk walk that takes "
                f"until {needed}.",
                f"End it at {needed} or later, begin earlier, or bring the points nearer.",
                field="frames",
            )
        if turning:
            _check_speed(scene, figure, act, metres, brisk, fps)
    elif isinstance(act, Turn):
        faced = heading_at(scene, figure, first)
        degrees = abs(wrap_degrees(act.heading - faced))
        needed = first + math.ceil(pace.seconds_to_turn(degrees, hurried=True) * fps)
        if last < needed:
            raise Refused(
                f"{figure.name} cannot turn {degrees:.0f}° from {first} to {last}: hurried steps take until {needed}.",
                f"End it at {needed} or later.",
                field="frames",
            )


def _check_speed(scene: Scene, figure: Figure, act: Walk, metres: float, brisk: float, fps: float) -> None:
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
    index = walker.acts.index(act)
    bake = Bake(replace(scene, "figures", walker))
    speed = bake.made(walker).facts[index].get("speed", 0.0)
    if speed <= _BRISKER * brisk:
        return
    needed = act.frames.last + math.ceil(metres * (1 / brisk - 1 / speed) * fps)
    raise Refused(
        f"{figure.name} cannot turn and walk {metres:.1f} m from {act.frames.first} to {act.frames.last}: that would "
        f"be {speed:.1f} m/s, and at a brisk walk it takes until about {needed}.",
        f"End it at {needed} or later, begin earlier, or have {figure.name} face that way first.",
        field="frames",
    )
