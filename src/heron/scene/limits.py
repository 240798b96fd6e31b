"""What a camera asks of its lens that the lens cannot do."""

from heron.optics.kit import KitLens, near_breach, reach_breach, stop_breach
from heron.scene.camera import Camera
from heron.scene.document import Scene
from heron.scene.focus import AtDistance, Pulled


def mounted_lens(scene: Scene, camera: Camera) -> KitLens | None:
    """The lens of the kit that is on a camera, if any."""
    return next((lens for lens in scene.lenses if lens.id == camera.mounted), None)


def breaches(scene: Scene, camera: Camera) -> list[str]:
    """Sentences' middles, one for each thing that was forced; empty when the lens can do it all."""
    lens = mounted_lens(scene, camera)
    if lens is None:
        return []
    focals = [k.value for k in camera.focal.keys] or [camera.focal.rest]
    stops = [camera.stop(k.value) for k in camera.aperture.keys] or [camera.stop(camera.aperture.rest)]
    found = [reach_breach(lens, focal) for focal in focals] + [stop_breach(lens, stop) for stop in stops]
    for on in (camera.focus.on, *(mark.on for mark in camera.focus.marks)):
        if isinstance(on, AtDistance):
            found.append(near_breach(lens, on.metres))
        elif isinstance(on, Pulled):
            nearest = max([k.value for k in camera.focus.distance.keys] or [camera.focus.distance.rest])
            found.append(near_breach(lens, 1 / nearest))
    return list(dict.fromkeys(sentence for sentence in found if sentence))
