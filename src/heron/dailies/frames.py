"""The frames of a render, and for each the fingerprint of everything its picture depends on."""

import hashlib
import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np

from heron.bake import Bake
from heron.bake.cameras import jumps
from heron.cut import Clocks
from heron.dailies.names import folders, picture
from heron.dailies.shutter import open_over
from heron.errors import Refused
from heron.model import fingerprint
from heron.scene import Camera, Scene, find, find_named
from heron.scene.limits import mounted_lens
from heron.scene.shot import Shot

#: Raised when the same numbers are drawn another way.
DRAWN = 1


@dataclass(frozen=True)
class DrawnFrame:
    """One frame of the cut that is drawn.

    Attributes:
        cut: counted from 0.
        shutter: the stage frames between which it is open.
        name: the path of its file below the render's folder, without the kind.
        fingerprint: of all that the picture depends on: the same one, the same picture.
    """

    cut: int
    shot: str
    camera: str
    stage: int
    shutter: tuple[float, float]
    name: str
    fingerprint: str


def frames_of_cut(scene: Scene, only: str | None = None) -> list[DrawnFrame]:
    """Every frame of the cut that shows something, or of one shot of it; gaps are black and drawn by nobody.

    Raises:
        Refused: there is no cut.
        NotFound: there is no such shot.
    """
    if not scene.shots:
        raise Refused(
            "There are no shots in the cut yet.", "Put a camera on the assembly first.", field="shot"
        )
    chosen = find_named(scene, "shots", only) if only is not None else None
    clocks, depends = Clocks(scene), _Depends(scene)
    out = []
    places = folders([shot.name for shot in scene.shots])
    for placed, folder in zip(clocks.placed, places, strict=True):
        if chosen is not None and placed.shot.id != chosen.id:
            continue
        camera: Camera = find(scene, "cameras", placed.shot.camera)
        for stage, shutter, print_ in _of_shot(scene, depends, camera, placed.shot):
            out.append(
                DrawnFrame(
                    cut=placed.cut_first + stage - placed.shot.stage.first,
                    shot=placed.shot.name,
                    camera=camera.letter,
                    stage=stage,
                    shutter=shutter,
                    name=picture(scene, folder, stage),
                    fingerprint=print_,
                )
            )
    return out


def _of_shot(
    scene: Scene, depends: "_Depends", camera: Camera, shot: Shot
) -> Iterator[tuple[int, tuple[float, float], str]]:
    breaks = sorted(jumps(camera))
    for stage in shot.stage.each():
        shutter = open_over(stage, camera.shutter_deg, breaks, scene.frames)
        yield stage, shutter, depends.on(camera, shutter)


class _Depends:
    """What pictures of a scene depend on: what stands still, worked out once, and rows of what moves."""

    def __init__(self, scene: Scene) -> None:
        self.scene, self.bake = scene, Bake(scene)
        self.still = fingerprint(
            DRAWN,
            scene.pieces,
            scene.surround,
            scene.delivery,
            scene.rate,
            [(one.id, one.stature, one.look, one.holds) for one in scene.figures],
            [(one.id, one.shape, one.colour) for one in scene.movers],
        )
        self.moves = [self._rows(one) for one in (*scene.figures, *scene.movers)]
        self.cameras: dict[str, tuple[str, Any]] = {}

    def on(self, camera: Camera, shutter: tuple[float, float]) -> str:
        """The fingerprint of a picture: between frames everything goes straight, so that these rows say it all."""
        known = self.cameras.get(camera.id)
        if known is None:
            lens = mounted_lens(self.scene, camera)
            facts = self.bake.samples(camera).facts
            own = fingerprint(lens.blades if lens else 0, facts["back_over_gate"], facts["eyes"])
            known = self.cameras[camera.id] = (own, self._rows(camera))
        own, rows = known
        first = self.scene.frames.first
        part = slice(math.floor(shutter[0]) - first, math.ceil(shutter[1]) - first + 1)
        made = hashlib.sha256(f"{self.still} {own} {shutter[0]!r} {shutter[1]!r}".encode())
        # When it is open counts too: water moves with the time.
        for one in (rows, *self.moves):
            made.update(one[part].tobytes())
        return made.hexdigest()[:24]

    def _rows(self, item: Any) -> Any:
        """(n, columns) as they are sent to whoever draws."""
        return np.ascontiguousarray(self.bake.samples(item).values.astype("<f4"))
