"""A camera's keys and layers, run over frames: place, level, direction with the lens, breath."""

from heron.rigs.context import RigContext
from heron.rigs.keeping_size import lensed, reached
from heron.rigs.pose import Floats
from heron.rigs.rigged import Rigged
from heron.rigs.running import Run
from heron.scene.camera import Camera
from heron.scene.layers import STAGES, in_order


def run(camera: Camera, context: RigContext, before: str | None = None, *, watched: bool = False) -> Rigged:
    """Run a camera's stack.

    Args:
        before: a kind of layer: run only what comes before a new one of it.
        watched: say too on which frames each placement is kept exactly.
    """
    layers = in_order(camera.layers)
    if before is not None:
        layers = [layer for layer in layers if STAGES[layer.kind] <= STAGES[before]]
    one = Run(camera, context, layers)
    sizes = one.by_kind.get(3, [])
    reaches: dict[str, Floats] = {}
    levelled = one.placed(reaches)
    focal = one.base_focal
    for layer, frames in sizes:
        if layer.answers == "reach":
            reaches = reached(one, layer, frames, reaches, focal)
            levelled = one.placed(reaches)
    for layer, frames in sizes:
        if layer.answers == "lens":
            focal = lensed(one, layer, frames, levelled, focal)
    pose = one.aimed(levelled, focal)
    notes = sorted({note for part in one.said.values() for note in part})
    subject, watches = one.subject(focal)
    return Rigged(
        one.breathed(pose), pose, levelled, focal, one.half(focal), subject, watches, one.sun(), one.steps,
        one.watched(focal) if watched else [], notes,
    )  # fmt: skip
