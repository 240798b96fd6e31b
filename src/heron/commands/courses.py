"""A mover's course: drawn on the plan, gone along at a speed or to arrive at a frame, leaning into its bends."""

import math
from typing import Any, Literal

import numpy as np
from pydantic import Field

from heron.bake import Bake
from heron.commands.base import Command, Outcome, unlocked
from heron.commands.keys import check_frame
from heron.commands.local_pose import local_pose
from heron.curves import Channel, Key
from heron.curves.simplify import simplified
from heron.errors import BadInput, Refused
from heron.model import Id
from heron.scene import Scene, find, replace
from heron.stage.acts.base import shaped
from heron.stage.acts.body import Point2
from heron.stage.mover import Mover, MoverShape
from heron.stage.path import FREEHAND_M, FloorPath, few_points
from heron.timebase import parse_rate
from heron.timebase.frames import FrameNumber

#: How fast things usually go, metres a second (common practice), and whether they lean into a bend.
USUAL: dict[MoverShape, tuple[float, float]] = {
    "heron": (9.0, 1.0), "boat": (1.5, 0.0), "cart": (1.2, 0.0), "pony": (1.4, 0.1), "oar": (1.0, 0.0), "lamp": (1.0, 0.0),
    "pieces": (1.0, 0.0),
}  # fmt: skip
#: Seconds to gather speed, and to lose it.
_RAMP_S = 0.8
#: Keys stay this near the course: metres, degrees.
_NEAR_M, _NEAR_DEG = 0.01, 0.3
_GRAVITY = 9.81
#: Nothing leans farther than this, degrees.
_MOST_BANK = 60.0
Floats = np.ndarray[Any, np.dtype[np.float64]]


class CourseMover(Command):
    """Have a mover go from where it is through points on the floor, (x, z) metres, facing the way it goes.

    Its keys on place and direction from the first frame on are replaced by as few as keep within 1 cm and 0.3° of the course.
    It leans into bends by `bank` of the angle at which it would need no other hold: tan = v²/(g·r).
    """

    kind: Literal["mover.course"] = "mover.course"
    mover: Id
    points: tuple[Point2, ...] = Field(min_length=1, max_length=4000)
    #: They are a line drawn by hand.
    freehand: bool = False
    first: FrameNumber
    #: Metres a second; left out, what such a thing usually does, or what brings it there by `arrive`.
    speed: float | None = Field(default=None, ge=0.01, le=200.0)
    arrive: FrameNumber | None = None
    soft_start: bool = True
    soft_stop: bool = True
    bank: float | None = Field(default=None, ge=0.0, le=2.0)

    def apply(self, scene: Scene) -> Outcome:
        mover: Mover = unlocked(find(scene, "movers", self.mover))
        check_frame(scene, self.first)
        if self.speed is not None and self.arrive is not None:
            raise BadInput(
                "A course has a speed or a frame of arrival, not both.",
                "Leave one of them out.",
                field="speed",
            )
        if mover.on is not None or mover.with_camera is not None:
            raise Refused(
                f"{mover.name} rides on something.",
                "Put it on the stage first, or move what it rides on.",
                field="mover",
            )
        # What is in somebody's hand then goes where that goes.
        local_pose(scene, mover, self.first, {})
        now = Bake(scene).rows(mover, np.array([self.first]))[0]
        drawn = np.array(self.points)
        path = FloorPath(
            np.array([(now[0], now[2]), *(few_points(drawn, FREEHAND_M) if self.freehand else drawn)])
        )
        if path.length < 1e-3:
            raise Refused(f"{mover.name} is there already.", "Give it a point farther away.", field="points")
        fps = float(parse_rate(scene.rate))
        usual, leans = USUAL[mover.shape]
        last = self._last(scene, mover, path.length, usual, fps)
        t = np.arange(self.first, last + 1, dtype=np.float64)
        gone = self._gone(t, path.length, fps)
        place = path.place(gone)
        heading = path.heading(gone)
        heading = heading + 360.0 * round((float(now[3]) - heading[0]) / 360.0)
        if self.soft_start:
            # It comes round to its way from how it stands, over its first second.
            u = shaped((t - self.first) / min(fps, max(len(t) - 1, 1)), "soft")
            heading = now[3] + (heading - now[3]) * u if abs(heading[0] - now[3]) > 1e-6 else heading
        bank = leans if self.bank is None else self.bank
        roll = now[5] + bank * _leaning(gone, heading, fps)
        channels = {
            "x": _from(mover.x, self.first, place[:, 0], _NEAR_M), "z": _from(mover.z, self.first, place[:, 1], _NEAR_M),
            "pan": _from(mover.pan, self.first, heading, _NEAR_DEG), "roll": _from(mover.roll, self.first, roll, _NEAR_DEG),
        }  # fmt: skip
        speed = path.length / max(len(t) - 1, 1) * fps
        said = f"{mover.name} goes {path.length:.1f} m from {self.first} to {last}, at {speed:.1f} m/s on average"
        return replace(scene, "movers", mover.with_channels(channels)), said

    def _last(self, scene: Scene, mover: Mover, length: float, usual: float, fps: float) -> int:
        if self.arrive is not None:
            check_frame(scene, self.arrive)
            if self.arrive <= self.first:
                raise Refused(
                    f"It would arrive at {self.arrive}, before it sets out at {self.first}.", "Choose a later frame.", field="arrive"
                )  # fmt: skip
            return self.arrive
        seconds = length / (self.speed or usual) + _RAMP_S * (self.soft_start + self.soft_stop) / 2
        last = self.first + max(math.ceil(seconds * fps), 1)
        if last not in scene.frames:
            raise Refused(
                f"{mover.name} would go on until {last}; the scene ends at {scene.frames.last}.",
                "Let it go faster, give it a frame to arrive at, or lengthen the scene.",
                field="speed",
            )
        return last

    def _gone(self, t: Floats, length: float, fps: float) -> Floats:
        """(n,) metres along at frames, evenly but for what is soft."""
        seconds = (t - t[0]) / fps
        total = float(seconds[-1])
        ramp = min(_RAMP_S, total / 2)
        rises = shaped(seconds / ramp, "soft") if self.soft_start else np.ones(len(t))
        falls = shaped((total - seconds) / ramp, "soft") if self.soft_stop else np.ones(len(t))
        speed = np.minimum(rises, falls)
        done = np.concatenate([[0.0], np.cumsum((speed[1:] + speed[:-1]) / 2)])
        return np.asarray(length * done / done[-1])


def _leaning(gone: Floats, heading: Floats, fps: float) -> Floats:
    """(n,) degrees to the left at which weight and the turn are in balance: tan of it is v·ω/g."""
    if len(gone) < 3:
        return np.zeros(len(gone))
    speed, turns = np.gradient(gone) * fps, np.radians(np.gradient(heading)) * fps
    return np.clip(np.degrees(np.arctan(speed * turns / _GRAVITY)), -_MOST_BANK, _MOST_BANK)


def _from(channel: Channel, first: int, values: Floats, near: float) -> Channel:
    """A channel as it was before a frame, and within so much of values from there on."""
    kept = tuple(key for key in channel.keys if key.frame < first)
    new = simplified(first, np.asarray(values, dtype=np.float64), near)
    if not kept and not new.keys:
        return new
    keys = new.keys or (Key(frame=first, value=new.rest),)
    return Channel(rest=channel.rest, keys=(*kept, *keys))
