"""Where people's eyes are in a frame, and how large they are."""

import numpy as np

from heron.bake import Bake
from heron.framing.shot_size import seen_of
from heron.model import Id, Model
from heron.scene.camera import Camera
from heron.timebase import Frames


class HeadInFrame(Model):
    """Somebody's eyes, −1 to 1 across and up, beyond that outside the frame; `share`: from crown to soles, of its height."""

    figure: Id
    name: str
    x: float
    y: float
    share: float


def heads_in_frame(bake: Bake, camera: Camera, frame: int) -> list[HeadInFrame]:
    """Everybody whose eyes are before a camera, the largest first."""
    here = bake.samples(camera, Frames(first=frame, last=frame))
    found = []
    for figure in bake.scene.visible.figures:
        seen = seen_of(bake, here, figure.id, ["eyes", "crown", "sole_r", "sole_l"])
        x, y = float(seen.x[0, 0]), float(seen.y[0, 0])
        share = float(abs(seen.y[1, 0] - (seen.y[2, 0] + seen.y[3, 0]) / 2) / 2)
        if np.isfinite(x + y + share):
            found.append(
                HeadInFrame(
                    figure=figure.id, name=figure.name, x=round(x, 5), y=round(y, 5), share=round(share, 5)
                )
            )
    return sorted(found, key=lambda one: -one.share)
