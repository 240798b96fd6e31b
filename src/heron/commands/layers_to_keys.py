"""A camera's layers as keys of its own."""

from heron.bake import draft
from heron.bake.cameras import rig_context
from heron.curves.simplify import simplified
from heron.model import changed
from heron.rigs.stack import run
from heron.scene import POSE, Camera, Scene
from heron.scene.layers import STAGES, SizeHold
from heron.scene.links import links

#: What turning a rig into keys may leave a camera off by: metres, and ten times as many degrees.
ERROR = 0.001
#: What goes on over such keys sees their error larger the nearer it looks.
_BELOW = 0.0001


def as_keys(
    scene: Scene, camera: Camera, stage: int, error: float, *, quick: bool = False
) -> tuple[Camera, int]:
    """The camera with its layers up to a stage as keys of its own; those after it go on as layers."""
    kept = [layer for layer in camera.layers if STAGES[layer.kind] > stage]
    gone = changed(camera, layers=tuple(layer for layer in camera.layers if STAGES[layer.kind] <= stage))
    rigged = run(gone, rig_context(draft(scene), gone))
    first = scene.frames.first
    # Pan, tilt and roll to a hundredth of a degree for a millimetre.
    channels = {
        name: simplified(first, values, error if k < 3 else 10 * error, quick=quick)
        for k, (name, values) in enumerate(zip(POSE, rigged.pose, strict=True))
    }
    if any(isinstance(layer, SizeHold) for layer in gone.layers):
        channels["focal"] = simplified(first, rigged.focal, error * 10, quick=quick)
    count = sum(len(channel.keys) for channel in channels.values())
    return changed(camera.with_channels(channels), layers=tuple(kept)), count


def freed(scene: Scene, camera: Camera, gone: set[str]) -> Camera:
    """The camera with what its layers did by things that are to go turned into keys; what came before goes with it.

    A layer that is put off did nothing: it goes alone.
    """
    lost = [layer for layer in camera.layers if any(link.id in gone for link in links(layer))]
    if not lost:
        return camera
    idle = {layer.id for layer in lost if layer.off}
    camera = changed(camera, layers=tuple(layer for layer in camera.layers if layer.id not in idle))
    stages = [STAGES[layer.kind] for layer in lost if not layer.off]
    return as_keys(scene, camera, max(stages), _BELOW, quick=True)[0] if stages else camera
