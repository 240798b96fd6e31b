"""What a command is."""

from abc import abstractmethod

from heron.errors import Refused
from heron.model import Model
from heron.scene import Camera, Scene, find

Outcome = tuple[Scene, str]


class Command(Model):
    """A change, typed. `apply` is pure: a scene in, a scene and a sentence for the history out."""

    @abstractmethod
    def apply(self, scene: Scene) -> Outcome:
        """The changed scene and what was done, in a plain sentence.

        Raises:
            HeronError: it cannot be done; nothing has changed.
        """


def open_camera(scene: Scene, id_: str) -> Camera:
    """A camera that may be changed.

    Raises:
        Refused: it is locked.
    """
    camera: Camera = find(scene, "cameras", id_)
    if camera.locked:
        raise Refused(f"{title(camera)} is locked.", "Unlock it on its card first.", field="camera")
    return camera


def title(camera: Camera) -> str:
    """How a camera is called in sentences."""
    return f"Camera {camera.letter} “{camera.name}”"


def listed(names: list[str]) -> str:
    """Names as a person would list them: `a, b and c`."""
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"


def copy_name(name: str, taken: set[str]) -> str:
    """A name for a copy: the name with the next free number behind it."""
    stem = name.rstrip("0123456789").rstrip() or name
    number = 2
    while f"{stem} {number}" in taken:
        number += 1
    return f"{stem} {number}"[:80]
