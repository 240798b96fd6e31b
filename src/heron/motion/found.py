"""All that is wrong with a move: hitches, and chords of round moves."""

from heron.bake import Bake
from heron.motion.chords import chords
from heron.motion.hitches import Hitch, hitches
from heron.motion.signals import Signals, signals
from heron.scene.camera import Camera
from heron.stage.reference import Spot


def found_in(bake: Bake, camera: Camera, spot: Spot, s: Signals | None = None) -> list[Hitch]:
    """Every hitch and chord of a camera's move as it shows a subject, in order of time."""
    s = s or signals(bake, camera, spot)
    return sorted(
        [*hitches(s), *chords(camera, s, bake.scene.delivery.aspect)], key=lambda h: (h.first, h.last)
    )
