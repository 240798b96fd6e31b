"""A rim light, set by where it is to catch."""

from typing import Any, Literal

import numpy as np
from pydantic import Field

from heron.bake import Bake
from heron.commands.base import Command, Outcome, capital, free_name
from heron.commands.keys import check_frame
from heron.commands.moving_parts import check_lamps
from heron.commands.pointed import subject
from heron.commands.pointing import Pointed
from heron.curves import Channel
from heron.errors import Refused
from heron.model import Id, changed, new_id
from heron.scene import POSE, Scene, find, replace
from heron.scene.document import called, spot_called
from heron.stage.fresh import MOVERS
from heron.stage.light import Light
from heron.stage.mover import Mover
from heron.timebase.frames import FrameNumber

#: How far behind the subject it stands, how far to the side of the line of sight, degrees, and how high over it: common
#: practice puts a rim light behind the subject and above, opposite the camera.
_AWAY_M, _ROUND_DEG, _UP_M = 2.4, 35.0, 0.9
#: Its cone and its brightness, stops over the sun a metre away.
_CONE_DEG, _STOPS = 45.0, 2.5


class RimLamp(Command):
    """Stand a lamp behind a subject, so that its light catches one edge as a camera sees it at a frame, and nothing of its face.

    Without a lamp to move, a new one is made.
    """

    kind: Literal["lamp.rim"] = "lamp.rim"
    id: Id = Field(default_factory=lambda: new_id("mov"))
    lamp: Id | None = None
    camera: Id
    on: Pointed
    edge: Literal["left", "right", "top"] = "right"
    frame: FrameNumber

    def apply(self, scene: Scene) -> Outcome:
        camera = find(scene, "cameras", self.camera)
        check_frame(scene, self.frame)
        spot = subject(scene, self.on, "look")
        bake, t = Bake(scene), np.array([self.frame])
        place = self._place(bake.place(spot, t)[0], bake.rows(camera, t)[0][:3])
        values = dict(zip(POSE, (*place, 0.0), strict=True))
        if self.lamp is None:
            check_lamps(scene)
            usual, colour = MOVERS["lamp"]
            name = free_name(usual, {m.name for m in scene.movers})
            light = Light(
                spread="cone", colour="#fff1d8", stops=Channel(rest=_STOPS), cone_deg=Channel(rest=_CONE_DEG)
            )
            rest: Any = {n: Channel(rest=v) for n, v in values.items()}
            lamp = Mover(id=self.id, name=name, shape="lamp", colour=colour, light=light, **rest)
            after = scene.having(movers=(*scene.movers, lamp))
        else:
            lamp = find(scene, "movers", self.lamp)
            if lamp.light is None:
                raise Refused(
                    f"{lamp.name} isn't a lamp.", "Give it a light, or leave the lamp out.", field="lamp"
                )
            if bake.journey(lamp.id).legs or any(lamp.keyed(n) for n in POSE):
                raise Refused(
                    f"{lamp.name} moves.", "Delete its keys, or have somebody put it down; or leave the lamp out.", field="lamp"
                )  # fmt: skip
            rest = {n: lamp.channel(n).at_rest(v) for n, v in values.items()}
            after = replace(scene, "movers", changed(lamp.with_channels(rest), on=None, with_camera=None))
        side = "top edge" if self.edge == "top" else f"{self.edge} edge"
        return (
            after,
            f"{capital(lamp.name)} catches the {side} of {spot_called(scene, spot)} in {called(camera)}",
        )

    def _place(self, at: Any, eye: Any) -> tuple[float, ...]:
        """x, y, z, pan and tilt: behind the subject as the camera sees it, to one side of the line of sight."""
        line = at - eye
        flat = np.array([line[0], 0.0, line[2]])
        far = float(np.linalg.norm(flat))
        if far < 0.1:
            raise Refused("The camera looks straight down on it.", "Go to a frame at which it sees it from the side.", field="frame")  # fmt: skip
        ahead = flat / far
        right = np.array([-ahead[2], 0.0, ahead[0]])
        sign = {"left": -1.0, "right": 1.0, "top": 0.0}[self.edge]
        round_ = np.radians(_ROUND_DEG)
        up = _UP_M * (1.6 if self.edge == "top" else 1.0)
        place = (
            at + _AWAY_M * (np.cos(round_ * sign) * ahead + np.sin(round_ * sign) * right) + [0.0, up, 0.0]
        )
        way = at - place
        pan = float(np.degrees(np.arctan2(-way[0], -way[2])))
        tilt = float(np.degrees(np.arctan2(way[1], np.hypot(way[0], way[2]))))
        return (*(round(float(v), 3) for v in place), round(pan, 2), round(tilt, 2))
