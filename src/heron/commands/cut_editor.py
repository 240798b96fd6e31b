"""A cut that is being edited: what is named in it, and what new shots are called."""

from collections.abc import Sequence
from dataclasses import replace

from heron.commands.base import listed
from heron.commands.shots import next_name
from heron.cut import edits
from heron.errors import BadInput, NotFound, Refused
from heron.model import changed
from heron.scene import Camera, Scene, Shot
from heron.scene.joins import Part, parts_of
from heron.timebase import Frames


class Editor:
    """A cut that is being edited."""

    _names: tuple[Shot, ...] = ()

    def __init__(self, scene: Scene, id_: str) -> None:
        self.scene, self._id = scene, id_
        self.parts = parts_of(scene.shots)
        self._made = 0
        #: The places of new shots behind those of the scene, by their ids.
        self._copied: dict[str, int] = {}

    def chosen(self, names: Sequence[str], most: int | None = None) -> list[int]:
        """The places of shots in the order.

        Raises:
            NotFound: one is not there.
            BadInput: there are more than can be done at once.
        """
        found = sorted({self.find(name) for name in names})
        if most is not None and len(found) > most:
            raise BadInput("This is done to one shot.", "Name one.", field="shots")
        return found

    def find(self, name: str) -> int:
        """The place of a shot in the order, by its id or its name."""
        for i, part in enumerate(self.parts):
            if name in (part.shot.id, part.shot.name):
                return i
        raise NotFound(
            f"There is no shot {name} in the cut.", "It may have been deleted; choose another.", field="shots"
        )

    def camera(self, name: str) -> Camera:
        """A camera by its id or its letter."""
        for camera in self.scene.cameras:
            if name in (camera.id, camera.letter):
                return camera
        raise NotFound(
            f"There is no camera {name} in this scene.", "Choose one that is there.", field="camera"
        )

    @staticmethod
    def stage_of(stage: Frames | tuple[int, int] | None) -> Frames | None:
        """Frames of the stage, however they were given."""
        return Frames(first=stage[0], last=stage[1]) if isinstance(stage, tuple) else stage

    def inside(self, stage: Frames) -> None:
        """Refuse frames that the scene has not."""
        frames = self.scene.frames
        if stage.first < frames.first or stage.last > frames.last:
            raise Refused(
                f"A shot cannot show {stage}: the scene runs {frames}.", "Choose frames inside the scene.", field="stage"
            )  # fmt: skip

    def told(self, chosen: Sequence[int]) -> str:
        """Shots in a sentence."""
        names = [self.parts[i].shot.name for i in chosen]
        return (
            f"shot{'s' if len(names) > 1 else ''} {listed(names)}"
            if len(names) < 8
            else f"{len(names)} shots"
        )

    def copy_of(self, part: Part, gap: int) -> Part:
        """The same as another shot, under a name and an id of its own, cut to plainly."""
        places = {one.shot.id: i for i, one in enumerate(self.parts)}
        at = self._copied.get(part.shot.id, places.get(part.shot.id))
        name = next_name((*self.scene.shots, *self._names), at)
        shot: Shot = changed(part.shot, id=self.next_id(), name=name, dissolve=None, bound=None)
        # What is copied of this one again comes after it.
        self._copied[shot.id] = len(self.scene.shots) + len(self._names)
        self._names = (*self._names, shot)
        return replace(part, shot=shot, gap=gap, lead=0)

    def free_name(self, at: int) -> str:
        """A name for a shot that begins at a cut frame."""
        before = [i for i, one in enumerate(edits.laid_out(self.parts)) if one.at < at]
        return next_name((*self.scene.shots, *self._names), before[-1] if before else None)

    def next_id(self) -> str:
        """An id for a new shot."""
        self._made += 1
        return self._id if self._made == 1 else f"{self._id[:36]}-{self._made}"

    def follow_on(self, i: int) -> int:
        """The stage frame on which a slate begins that is given a camera: the action goes on from the shot before."""
        before = next((part for part in reversed(self.parts[:i]) if part.shot.camera is not None), None)
        first = self.scene.frames.first if before is None else before.first + before.count
        count, last = self.parts[i].count, self.scene.frames.last
        first = min(first, last - count + 1)
        if first < self.scene.frames.first:
            raise Refused(
                f"Shot {self.parts[i].shot.name} is {count} f long; the scene has {self.scene.frames.count}.",
                "Shorten the shot, or lengthen the scene.",
                field="shots",
            )
        return first
