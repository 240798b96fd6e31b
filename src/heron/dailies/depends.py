"""What a frame's picture depends on: the same fingerprint, the same picture."""

import hashlib
import math
from typing import Any

import numpy as np

from heron.bake import Bake
from heron.model import fingerprint
from heron.scene import Camera, Scene, Shot
from heron.scene.limits import mounted_lens
from heron.scene.own import dressed
from heron.stage.figure import Figure
from heron.stage.mover import Mover

#: Raised when the same numbers are drawn another way.
DRAWN = 3
#: What a set piece is called and how it is kept; nobody sees that.
_CALLED = {"name", "group", "locked", "hidden"}


class Depends:
    """What pictures of a scene depend on: what stands still, computed once, and rows of what moves."""

    def __init__(self, scene: Scene) -> None:
        self.scene, self.bake = scene, Bake(scene)
        seen = scene.visible
        self.still = fingerprint(
            DRAWN,
            [one.model_dump(exclude=_CALLED) for one in seen.pieces],
            scene.surround,
            scene.delivery.aspect,
            scene.rate,
            [(one.id, one.stature, one.look) for one in seen.figures],
            [(one.id, one.shape, one.colour, one.light) for one in seen.movers],
        )
        moving: tuple[Figure | Mover, ...] = (*seen.figures, *seen.movers)
        self.moves = [self._rows(one) for one in moving]
        self.cameras: dict[str, tuple[str, Any, Any]] = {}
        self._shots: dict[str, Depends] = {}

    def of_shot(self, shot: Shot | None) -> "Depends":
        """The same for the scene as a shot has it."""
        if shot is None or not shot.own:
            return self
        if shot.id not in self._shots:
            self._shots[shot.id] = Depends(dressed(self.scene, shot))
        return self._shots[shot.id]

    def on(self, camera: Camera, stage: int) -> tuple[tuple[float, float], str]:
        """When the shutter is open for a frame, and the fingerprint of its picture.

        Between frames everything goes straight, so that the rows about the open shutter say it all.
        """
        known = self.cameras.get(camera.id)
        if known is None:
            lens = mounted_lens(self.scene, camera)
            samples = self.bake.samples(camera)
            facts = samples.facts
            own = fingerprint(lens.blades if lens else 0, facts["back_over_gate"], facts["eyes"])
            moments = np.column_stack([samples.column("open_before"), samples.column("open_after")])
            known = self.cameras[camera.id] = (own, self._rows(camera), moments)
        own, rows, moments = known
        first = self.scene.frames.first
        before, after = moments[stage - first]
        opens, closes = stage - float(before), stage + float(after)
        part = slice(math.floor(opens) - first, math.ceil(closes) - first + 1)
        # When it is open counts too: water moves with the time.
        made = hashlib.sha256(f"{self.still} {own} {opens!r} {closes!r}".encode())
        for one in (rows, *self.moves):
            made.update(one[part].tobytes())
        return (opens, closes), made.hexdigest()[:24]

    def _rows(self, item: Any) -> Any:
        """(n, columns) as they are sent to whoever draws."""
        return np.ascontiguousarray(self.bake.samples(item).values.astype("<f4"))
