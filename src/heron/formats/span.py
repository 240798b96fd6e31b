"""What of a stage is handed over: some of its frames, and some of its cameras."""

from dataclasses import dataclass

from heron.bake import Bake
from heron.errors import Refused
from heron.scene import Camera, Scene, find
from heron.scene.own import dressed
from heron.scene.shot import Shot
from heron.timebase import Frames


@dataclass(frozen=True)
class Span:
    """Frames of a stage with the cameras that go with them.

    Attributes:
        bake: the stage, dressed as a shot has it where it is one shot's.
        shot: the shot it is of, or none.
    """

    bake: Bake
    frames: Frames
    cameras: tuple[Camera, ...]
    shot: Shot | None = None

    @property
    def rows(self) -> slice:
        """Where its frames are in arrays over the scene's frames."""
        first = self.bake.scene.frames.first
        return slice(self.frames.first - first, self.frames.last + 1 - first)


def whole(bake: Bake) -> Span:
    """All of a scene."""
    return Span(bake, bake.scene.frames, bake.scene.cameras)


def of_shot(scene: Scene, shot: Shot, spare: int = 0) -> Span:
    """A shot's frames with so many spare ones at each end, as far as the scene goes, and its camera.

    Raises:
        Refused: it shows a slate, which has no camera.
    """
    if shot.camera is None:
        raise Refused(
            f"Shot {shot.name} is a slate: there is no stage in it.", "Choose a shot with a camera."
        )
    there = dressed(scene, shot)
    first = max(shot.stage.first - spare, scene.frames.first)
    last = min(shot.stage.last + spare, scene.frames.last)
    return Span(Bake(there), Frames(first=first, last=last), (find(there, "cameras", shot.camera),), shot)
