"""Ready ways to ride on somebody: seeing through their eyes, and facing them, fixed to their body."""

from typing import Literal, cast

import numpy as np
from pydantic import Field

from heron.bake import Bake
from heron.commands.base import Command, Outcome, capital, open_camera
from heron.commands.focusing import called as focus_called
from heron.commands.keys import check_frame
from heron.commands.rigs import AddLayer
from heron.curves import Channel, evaluate
from heron.errors import Refused
from heron.framing.in_view import framed
from heron.model import Id, changed, new_id
from heron.optics import gate_size
from heron.scene import Camera, Scene, find, replace
from heron.scene.document import called
from heron.scene.focus import Focus, FocusOn
from heron.scene.layers import STAGES, Carrier
from heron.stage.figure import Figure
from heron.stage.reference import OnFigure
from heron.stage.skeleton import EYE, INDEX, LANDMARKS, REST
from heron.timebase.frames import FrameNumber

#: What the frame holds of a body that is faced, in shares of stature: head and shoulders, as a close-up (common practice).
FACED = 0.36
_THIRD = 1 / 3


class Ride(Command):
    """Have a camera ride on somebody: through their eyes, or facing them as if it were fixed to their body.

    It is focused on what they look at through their eyes, else on their eyes.
    """

    kind: Literal["rig.ride"] = "rig.ride"
    id: Id = Field(default_factory=lambda: new_id("lay"))
    camera: Id
    figure: Id
    how: Literal["eyes", "facing"]
    frame: FrameNumber

    def apply(self, scene: Scene) -> Outcome:
        camera = open_camera(scene, self.camera)
        figure: Figure = find(scene, "figures", self.figure)
        check_frame(scene, self.frame)
        if any(STAGES[layer.kind] == STAGES["aim"] and not layer.off for layer in camera.layers):
            raise Refused(
                f"{capital(called(camera))} watches something, which would turn it away.",
                "Take its aim off first, or choose another camera.",
                field="camera",
            )
        focal = float(evaluate(camera.focal, np.array([self.frame]))[0])
        high = gate_size(camera.lens, scene.delivery.aspect)[1] / focal
        layer = _eyes(self.id, figure) if self.how == "eyes" else _facing(self.id, figure, high)
        after, _ = AddLayer(camera=self.camera, layer=layer, at=self.frame).apply(scene)
        mounted: Camera = find(after, "cameras", self.camera)
        on = OnFigure(figure=figure.id, joint="eyes")
        focus = self._seen(after, mounted, figure) if self.how == "eyes" else on
        after = replace(after, "cameras", changed(mounted, focus=Focus(on=focus)))
        says = {
            "eyes": f"looks through {figure.name}'s eyes; {figure.name}'s own head is not in its picture",
            "facing": f"faces {figure.name}, fixed to the body",
        }
        said = f"{capital(called(camera))} {says[self.how]}; focused on {focus_called(after, focus)}"
        return after, said

    def _seen(self, scene: Scene, camera: Camera, figure: Figure) -> FocusOn:
        """What somebody looks at: the gaze that is in force, else what is in the middle of their view."""
        for gaze in reversed(figure.gazes):
            if self.frame in gaze.frames:
                return cast(FocusOn, gaze.at)
        return framed(Bake(scene), camera, self.frame, without=figure.id)


def _still(value: float = 0.0) -> Channel:
    return Channel(rest=round(float(value), 4))


def _eyes(id_: str, figure: Figure) -> Carrier:
    return Carrier(
        id=id_, on=OnFigure(figure=figure.id, joint="eyes"), how="all", eyes=True,
        x_m=_still(), y_m=_still(), z_m=_still(), pan_deg=_still(), tilt_deg=_still(), roll_deg=_still(),
    )  # fmt: skip


def _facing(id_: str, figure: Figure, high: float) -> Carrier:
    """In front of the chest, so far that head and shoulders fill the frame, the eyes on its upper third.

    Args:
        high: the height of the frame a metre away, metres.
    """
    tall, chest = figure.stature, REST[INDEX["chest"]]
    frame = FACED * tall
    up = (EYE - chest[1]) * tall - _THIRD * frame / 2
    ahead = (chest[2] + LANDMARKS["eyes"][1][2]) * tall - frame / high
    return Carrier(
        id=id_, on=OnFigure(figure=figure.id, joint="chest"), how="all",
        x_m=_still(), y_m=_still(up), z_m=_still(ahead), pan_deg=_still(180.0), tilt_deg=_still(), roll_deg=_still(),
    )  # fmt: skip
