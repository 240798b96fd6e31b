"""Commands on rails: drawn on the plan, run at one speed, smoothed."""

from typing import Literal

import numpy as np
from pydantic import Field

from heron.bake import draft
from heron.commands.base import Command, Outcome, capital, open_camera
from heron.commands.keys import check_frame
from heron.commands.rigs import AddLayer, having, open_layer, run_as_before
from heron.curves import Channel, Key
from heron.errors import Refused
from heron.model import Id, Metres, changed, new_id
from heron.rigs.rail import curve, smoothed
from heron.scene import Camera, Scene, replace
from heron.scene.document import called
from heron.scene.layers import Rail
from heron.stage.acts.body import Point2
from heron.timebase import Frames, parse_rate
from heron.timebase.frames import FrameNumber

_STILL = Channel()


class DrawRail(Command):
    """Have a camera run along a rail drawn on the plan, at one speed from its first point to its last.

    Without a height it runs as high as the camera stands at the frame; without a range, while the camera is on air,
    else over the whole scene.
    """

    kind: Literal["rig.rail"] = "rig.rail"
    id: Id = Field(default_factory=lambda: new_id("lay"))
    camera: Id
    #: On the floor, (x, z) in metres, in the order in which it runs.
    points: tuple[Point2, ...] = Field(min_length=1, max_length=200)
    height: Metres | None = None
    at: FrameNumber
    first: FrameNumber | None = None
    last: FrameNumber | None = None

    def apply(self, scene: Scene) -> Outcome:
        camera = open_camera(scene, self.camera)
        check_frame(scene, self.at)
        if len(self.points) < 2:
            raise Refused("A rail of one point leads nowhere.", "Click at least two points.", field="points")
        y = _height_of(scene, camera, self.at) if self.height is None else self.height
        rail = Rail(
            id=self.id, points=tuple((x, y, z) for x, z in self.points),
            x_m=_STILL, y_m=_STILL, z_m=_STILL, pan_deg=_STILL, tilt_deg=_STILL, roll_deg=_STILL,
        )  # fmt: skip
        length = curve(rail.points).length
        if length < 0.05:
            raise Refused(
                f"This rail is only {length:.2f} m long.", "Draw it at least 0.05 m long.", field="points"
            )
        run = self._run(scene)
        if run.count < 2:
            raise Refused(
                f"There is one frame only to run it, {run.first}.", "Give it a longer range.", field="last"
            )
        ends = ((run.first, 0.0), (run.last, length))
        keys = tuple(Key(frame=f, value=v, before="straight", after="straight") for f, v in ends)
        rail = changed(rail, metres=Channel(rest=0.0, keys=keys))
        after, _ = AddLayer(camera=camera.id, layer=rail).apply(scene)
        speed = length * float(parse_rate(scene.rate)) / (run.count - 1)
        return after, (
            f"{capital(called(camera))} runs along a rail of {length:.1f} m, from {run.first} to {run.last} "
            f"at {speed:.2f} m/s"
        )

    def _run(self, scene: Scene) -> Frames:
        """The frames over which it goes from one end to the other."""
        shots = [shot.stage for shot in scene.shots if shot.camera == self.camera]
        air = [f for f in shots if f.stop > scene.frames.first and f.first <= scene.frames.last]
        first = min((f.first for f in air), default=scene.frames.first) if self.first is None else self.first
        last = max((f.last for f in air), default=scene.frames.last) if self.last is None else self.last
        first, last = max(first, scene.frames.first), min(last, scene.frames.last)
        if last < first:
            raise Refused(
                f"From {first} to {last} there is no time to run in.", "End it after it begins.", field="last"
            )
        return Frames(first=first, last=last)


class SmoothRail(Command):
    """Take the wobble out of a rail: its points between the ends go halfway to the middle of their neighbours."""

    kind: Literal["rig.rail.smooth"] = "rig.rail.smooth"
    camera: Id
    layer: Id

    def apply(self, scene: Scene) -> Outcome:
        camera, layer = open_layer(scene, self.camera, self.layer)
        if not isinstance(layer, Rail):
            raise Refused(f"The {layer.kind} is not a rail.", "Choose a rail.", field="layer")
        if len(layer.points) < 3:
            raise Refused(
                "A rail of two points is straight already.", "Put a point between them first.", field="layer"
            )
        points = smoothed(layer.points)
        most = float(np.max(np.linalg.norm(np.array(points) - np.array(layer.points), axis=1)))
        new = run_as_before(layer, changed(layer, points=points))
        after = having(camera, [new if one.id == layer.id else one for one in camera.layers])
        return (
            replace(scene, "cameras", after),
            f"Smoothed the rail of {called(camera)}: no point moved farther than {most:.2f} m",
        )


class AddRailPoint(Command):
    """One more point after one of a rail's, counted from 0: on the rail itself, or as far again beyond its end."""

    kind: Literal["rig.rail.point"] = "rig.rail.point"
    camera: Id
    layer: Id
    after: int = Field(ge=0, le=200)

    def apply(self, scene: Scene) -> Outcome:
        camera, layer = open_layer(scene, self.camera, self.layer)
        if not isinstance(layer, Rail) or self.after >= len(layer.points):
            raise Refused(
                f"There is no point {self.after + 1} on the {layer.kind} of {called(camera)}.",
                "Choose one of a rail's points.",
                field="after",
            )
        points = np.array(layer.points)
        if self.after == len(points) - 1:
            new = points[-1] + (points[-1] - points[-2]) / 2
        else:
            # Points that lie on each other are one to the curve: they have no middle to be found on it.
            line = curve(layer.points)
            one = line.spans == len(points) - 1
            here, there = points[self.after], points[self.after + 1]
            new = line.place(np.array([line.between(self.after)]))[0] if one else (here + there) / 2
        kept = [*layer.points]
        kept.insert(self.after + 1, tuple(round(float(v), 4) for v in new))  # type: ignore[arg-type]
        rail = run_as_before(layer, changed(layer, points=tuple(kept)))
        after = having(camera, [rail if one.id == layer.id else one for one in camera.layers])
        return (
            replace(scene, "cameras", after),
            f"Put one more point on the rail of {called(camera)}, after point {self.after + 1}",
        )


def _height_of(scene: Scene, camera: Camera, frame: int) -> float:
    there = draft(scene).rows(camera, np.array([frame]))
    return round(float(there[0, 1]), 3)
