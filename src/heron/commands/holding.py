"""A camera that stands still for some time, or all but still."""

from typing import Literal

import numpy as np
from pydantic import Field

from heron.bake import draft
from heron.commands.base import Command, Outcome, capital, open_camera
from heron.commands.keys import check_frame, put_between
from heron.commands.moves import MoveCamera
from heron.curves import Channel, evaluate
from heron.curves.feel import felt
from heron.model import Id, changed
from heron.rigs import moves
from heron.scene import POSE, Scene, find, replace
from heron.scene.document import called
from heron.timebase import parse_rate
from heron.timebase.frames import FrameNumber


class HoldCamera(Command):
    """A camera stands still for some time, or all but still: with a little drift it is alive.

    One that is carried stands still on what carries it: the numbers of its layers are held. Keys that come later go on after it, unless they are to stay.
    """

    kind: Literal["camera.hold"] = "camera.hold"
    camera: Id
    first: FrameNumber
    seconds: float = Field(gt=0.0, le=3600.0)
    #: Metres it goes on the way it looks, and degrees it pans, over the hold.
    drift_m: float = Field(default=0.0, ge=-100.0, le=100.0)
    drift_deg: float = Field(default=0.0, ge=-360.0, le=360.0)
    later: Literal["goes on after", "stays"] = "goes on after"

    def apply(self, scene: Scene) -> Outcome:
        camera = open_camera(scene, self.camera)
        count = max(round(self.seconds * float(parse_rate(scene.rate))), 1)
        last = self.first + count
        check_frame(scene, self.first)
        check_frame(scene, last)
        layers = {layer.id for layer in camera.layers}
        names = [
            spec.name
            for spec in camera.specs()
            if {spec.name, spec.name.rpartition(".")[0]} & {*POSE, *layers}
        ]
        held = {
            name: self._held(scene, channel, count)
            for name in names
            if (channel := camera.channel(name)).keys
        }
        scene = self._drifted(replace(scene, "cameras", camera.with_channels(held)), last)
        how = "stands"
        if self.drift_m or self.drift_deg:
            parts = [
                f"{abs(self.drift_m):.3g} m {'in' if self.drift_m > 0 else 'out'}" if self.drift_m else "",
                f"{abs(self.drift_deg):.3g}° to the {'left' if self.drift_deg > 0 else 'right'}"
                if self.drift_deg
                else "",
            ]
            how = f"all but stands, drifting {' and '.join(part for part in parts if part)},"
        return scene, f"{capital(called(camera))} {how} for {self.seconds:.3g} s from {self.first}"

    def _held(self, scene: Scene, channel: Channel, count: int) -> Channel:
        """A channel that keeps its value for so many frames, what comes later moved on by them or not."""
        value = float(evaluate(channel, np.array([self.first]))[0])
        if self.later == "goes on after":
            keys = [
                changed(key, frame=key.frame + count) if key.frame > self.first else key
                for key in channel.keys
            ]
            check_frame(scene, max(key.frame for key in keys))
            channel = changed(channel, keys=tuple(keys))
        return put_between(channel, felt(self.first, self.first + count, value, value, "constant"))

    def _drifted(self, scene: Scene, last: int) -> Scene:
        """A little on the way it looks and to the side, on top of what carries it."""
        if not (self.drift_m or self.drift_deg):
            return scene
        pose = draft(scene).rows(find(scene, "cameras", self.camera), np.array([last]))[0, :6]
        target = moves.turned(
            moves.shifted(pose, "dolly", self.drift_m, float(pose[3])), "pan", self.drift_deg
        )
        move = MoveCamera(camera=self.camera, what="dolly", first=self.first, last=last, feel="constant")
        return move.keyed(scene, pose, target)
