"""Which cameras have to do with a stretch of the stage, or with a figure."""

from heron.scene.camera import Camera
from heron.scene.document import Scene
from heron.scene.links import links
from heron.timebase import Frames


def cameras_of_range(scene: Scene, frames: Frames) -> list[str]:
    """Those that a shot, or another version of one, shows on some of these stage frames, or that have keys there."""
    spans = [(shot.camera, shot.stage) for shot in scene.shots]
    spans += [(one.camera, one.stage) for shot in scene.shots for one in shot.versions]
    shown = {camera for camera, span in spans if span.first <= frames.last and frames.first <= span.last}
    return [
        camera.id
        for camera in scene.cameras
        if camera.id in shown or any(frame in frames for frame in camera.key_frames())
    ]


def cameras_of_figure(scene: Scene, figure: str) -> list[str]:
    """Those that do anything by a figure: watch it, follow it, focus on it, look through its eyes."""
    return [camera.id for camera in scene.cameras if _names(camera, figure)]


def _names(camera: Camera, figure: str) -> bool:
    return any(link.table == "figures" and link.id == figure for link in links(camera))
