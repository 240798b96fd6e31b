"""A figure carried elsewhere with all that it does."""

import math

from heron.model import changed
from heron.stage.acts.base import Act
from heron.stage.acts.body import Point2, Run, Turn, Walk
from heron.stage.figure import Figure

#: Where somebody stands and faces: x, z in metres, heading in degrees.
Standing = tuple[float, float, float]


def carried(figure: Figure, now: Standing, there: Standing) -> Figure:
    """The figure as if what is at `now` were at `there`: its start and its walks go with it, turned about it."""
    turn = math.radians(there[2] - now[2])
    cos, sin = math.cos(turn), math.sin(turn)

    def moved(x: float, z: float) -> Point2:
        dx, dz = x - now[0], z - now[1]
        return there[0] + dx * cos + dz * sin, there[1] - dx * sin + dz * cos

    acts: list[Act] = []
    for act in figure.acts:
        if isinstance(act, Walk | Run):
            acts.append(changed(act, points=tuple(moved(*p) for p in act.points)))
        elif isinstance(act, Turn):
            acts.append(changed(act, heading=act.heading + there[2] - now[2]))
        else:
            acts.append(act)
    x, z = moved(figure.x, figure.z)
    heading = figure.heading + there[2] - now[2]
    return changed(figure, x=x, z=z, heading=heading, acts=tuple(acts))


def moved_end(figure: Figure, frame: int, there: Standing) -> tuple[Figure, str]:
    """The figure with the end of a walk that counts at a frame at another place; the other ends stay.

    Returns:
        the figure, and what was done as a sentence.
    """
    walks = [i for i, act in enumerate(figure.acts) if isinstance(act, Walk | Run)]
    done = [i for i in walks if figure.acts[i].frames.last <= frame]
    x, z, heading = there
    if not done:
        said = f"Moved where {figure.name} starts" + ("; the walk ends where it did" if walks else "")
        return changed(figure, x=x, z=z, heading=heading), said
    i = done[-1]
    walk = figure.acts[i]
    assert isinstance(walk, Walk | Run)
    acts = (*figure.acts[:i], changed(walk, points=(*walk.points[:-1], (x, z))), *figure.acts[i + 1 :])
    return changed(figure, acts=acts), f"Moved where {figure.name} walks to; the walk starts where it did"
