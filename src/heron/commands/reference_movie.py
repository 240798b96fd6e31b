"""Commands on the reference movie of a scene."""

from typing import Literal

from pydantic import Field

from heron.commands.base import Command, Outcome
from heron.errors import Refused
from heron.model import changed
from heron.scene import Scene
from heron.scene.reference_movie import ReferenceMovie


class TakeReference(Command):
    """Make a movie the reference of the scene, in place of the one there was."""

    kind: Literal["reference.take"] = "reference.take"
    movie: ReferenceMovie

    def apply(self, scene: Scene) -> Outcome:
        if scene.reference == self.movie:
            raise Refused(
                f"{self.movie.name} is the reference already.", "Choose another movie.", field="movie"
            )
        return scene.having(reference=self.movie), f"{self.movie.name} is the reference movie"


class MoveReference(Command):
    """Have the reference movie begin at another frame, or go in step with the other clock."""

    kind: Literal["reference.move"] = "reference.move"
    clock: Literal["stage", "cut"] | None = None
    first: int | None = Field(default=None, ge=-100_000, le=1_000_000)

    def apply(self, scene: Scene) -> Outcome:
        movie = _movie(scene)
        clock, first = self.clock or movie.clock, movie.first if self.first is None else self.first
        if self.clock not in (None, movie.clock) and self.first is None:
            # Where the other clock begins.
            first = scene.frames.first if clock == "stage" else 0
        after = changed(movie, clock=clock, first=first)
        if after == movie:
            raise Refused("It begins there already.", "Choose another frame.", field="first")
        return scene.having(reference=after), f"{movie.name} begins at frame {first} of the {clock}"


class LeaveReference(Command):
    """Remove the reference movie."""

    kind: Literal["reference.leave"] = "reference.leave"

    def apply(self, scene: Scene) -> Outcome:
        movie = _movie(scene)
        return scene.having(reference=None), f"{movie.name} is no longer the reference"


def _movie(scene: Scene) -> ReferenceMovie:
    if scene.reference is None:
        raise Refused("There is no reference movie.", "Bring one in first.", field="movie")
    return scene.reference
