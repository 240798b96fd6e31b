"""The line of action at a moment: as it was set, else between the two who look at each other most."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from heron.bake import Bake
from heron.model import Model
from heron.notes.joints import APART_M, LOOK, METRE, eyes_at, off_line
from heron.notes.views import Floats, gaze_of
from heron.scene import Camera
from heron.scene.noting import ActionLine
from heron.stage.figure import Figure
from heron.timebase import Frames

#: A line along somebody's way reaches so far behind and ahead of them, metres; slower than this they go nowhere, m a frame; and
#: half a stride, frames.
_REACH_M, _STANDS_M, _STRIDE_F = 1.0, 0.004, 13
#: Nearer to the line than this a camera is on it, degrees.
ON_LINE_DEG = 8.0


@dataclass(frozen=True)
class Line:
    """A line of action.

    Attributes:
        one, two: (3,) metres, its ends; of: ids of whom it lies between, or whose way it follows; set: what it was set by.
    """

    one: Floats
    two: Floats
    of: tuple[str, ...]
    set: ActionLine | None

    def off(self, camera: Floats) -> Floats:
        """Degrees that a camera, (3,) or (n, 3), is off it: positive to the right of the way from one end to the other."""
        return off_line(camera, self.one, self.two)


class CameraSide(Model):
    """On which side of the line a camera is.

    Attributes:
        off: degrees, positive to the right of the way from its first end to its second; side: left, right or on it.
        crosses: the first frame on which it is on the other side than where it began.
    """

    camera: str
    off: float
    side: str
    crosses: int | None


def set_at(bake: Bake, frame: int) -> ActionLine | None:
    """What a line was set by that is in force at a frame: the last one that is."""
    for one in reversed(bake.scene.noting.lines):
        if one.frames is None or one.frames.first <= frame <= one.frames.last:
            return one
    return None


def line_at(bake: Bake, frame: int) -> Line | None:
    """The line of action at a stage frame; None where there is none, or it was taken off."""
    given = set_at(bake, frame)
    if given is None:
        return _looks(bake, frame)
    if given.off:
        return None
    if given.points is not None:
        (ax, az), (bx, bz) = given.points
        return Line(np.array([ax, 0.0, az]), np.array([bx, 0.0, bz]), given.of, given)
    figures = {one.id: one for one in bake.scene.figures}
    if any(id_ not in figures for id_ in given.of):
        # Whose line it was is gone.
        return _looks(bake, frame)
    if len(given.of) == 1:
        return _way(bake, figures[given.of[0]], frame, given)
    one, two = (eyes_at(bake, figures[id_], frame) for id_ in given.of)
    return Line(one, two, given.of, given)


def _way(bake: Bake, figure: Figure, frame: int, given: ActionLine) -> Line | None:
    """Along somebody's way, as they go just then; before they begin and after they stop, as they last or next did."""
    places = bake.performance(figure).landmark("pelvis")
    steps = np.gradient(places[:, [0, 2]], axis=0) if len(places) > 1 else np.zeros((1, 2))
    goes = np.flatnonzero(np.linalg.norm(steps, axis=1) > _STANDS_M)
    if len(goes) == 0:
        return None
    at = frame - bake.scene.frames.first
    then = int(goes[np.argmin(np.abs(goes - at))])
    # Over a stride: hips sway.
    around = [min(max(then + by, 0), len(places) - 1) for by in (-_STRIDE_F, _STRIDE_F)]
    step = places[around[1], [0, 2]] - places[around[0], [0, 2]]
    way = np.array([step[0], 0.0, step[1]]) / float(np.linalg.norm(step))
    return Line(places[at] - _REACH_M * way, places[at] + _REACH_M * way, given.of, given)


def _looks(bake: Bake, frame: int) -> Line | None:
    """Between the two who look at each other most."""
    figures = bake.scene.visible.figures
    if len(figures) < 2:
        return None
    row = np.array([frame - bake.scene.frames.first])
    eyes = np.stack([eyes_at(bake, figure, frame) for figure in figures])
    gaze = np.stack([gaze_of(bake.performance(figure), row)[0] for figure in figures])
    a, b = np.triu_indices(len(figures), 1)
    between = eyes[b] - eyes[a]
    far = np.maximum(np.linalg.norm(between, axis=1), 1e-9)
    look = np.sum((gaze[a] - gaze[b]) * between, axis=1) / far
    value = np.where((far > 0.1) & (far < APART_M) & (look > LOOK), look - METRE * far, -np.inf)
    k = int(np.argmax(value))
    if not np.isfinite(value[k]):
        return None
    return Line(eyes[a[k]], eyes[b[k]], (figures[a[k]].id, figures[b[k]].id), None)


def sides(bake: Bake, line: Line, frame: int) -> Iterator[CameraSide]:
    """On which side each camera is; and where it crosses, over its shot at that frame, else over the whole stage."""
    for camera in bake.scene.cameras:
        off = float(line.off(bake.rows(camera, np.array([frame]))[0, :3]))
        yield CameraSide(
            camera=camera.id, off=round(off, 2), side="on" if abs(off) < ON_LINE_DEG else "right" if off > 0 else "left",
            crosses=_crosses(bake, camera, line, frame),
        )  # fmt: skip


def _crosses(bake: Bake, camera: Camera, line: Line, frame: int) -> int | None:
    stage = next(
        (
            s.stage
            for s in bake.scene.shots
            if s.camera == camera.id and s.stage.first <= frame <= s.stage.last
        ),
        bake.scene.frames,
    )
    whole = Frames(
        first=max(stage.first, bake.scene.frames.first), last=min(stage.last, bake.scene.frames.last)
    )
    off = line.off(bake.samples(camera, whole).values[:, :3])
    clear = np.flatnonzero(np.abs(off) >= ON_LINE_DEG)
    if len(clear) == 0:
        return None
    other = clear[np.sign(off[clear]) != np.sign(off[clear[0]])]
    return whole.first + int(other[0]) if len(other) else None
