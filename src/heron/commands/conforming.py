"""A cut that came back from the edit, taken over as one command."""

from typing import Annotated, Literal

from pydantic import Field

from heron.commands.base import Outcome
from heron.commands.kept_cuts import Signed, before_kept, whole_cut
from heron.cut.conforming import EVERYTHING, Came, Taken, compared, conformed
from heron.errors import Refused
from heron.model import Id, new_id
from heron.scene import Scene


class ConformCut(Signed):
    """Make the cut what came back, or take some of what was done to it. The cut before is kept under its name."""

    kind: Literal["cut.conform"] = "cut.conform"
    #: Begins the ids of what is new.
    id: Id = Field(default_factory=lambda: new_id("cut"))
    clips: tuple[Came, ...] = Field(min_length=1, max_length=2000)
    take: Annotated[tuple[Taken, ...], Field(min_length=1, max_length=8)] = EVERYTHING
    #: Keys of lines that are left as they are: shots, or clips that are new.
    leave: Annotated[tuple[Id, ...], Field(max_length=4000)] = ()

    def apply(self, scene: Scene) -> Outcome:
        lines = compared(scene, self.clips)
        if all(line.match == "none" for line in lines):
            raise Refused(
                "This list shows none of our shots: is it another scene?",
                "Open the scene it was made of.",
                field="clips",
            )
        shots = conformed(scene, self.clips, self.take, self.id[:24], set(self.leave))
        if shots == scene.shots:
            raise Refused(
                "There is nothing to take: the cut is as it came back, or none of that was chosen.",
                "Choose what to take.",
                field="take",
            )
        shots, parting = whole_cut(
            scene, shots, "Shorten what that shot dissolves, or leave its trim out.", "take"
        )
        cuts, name, kept_as = before_kept(scene, self)
        count = sum(1 for line in lines if line.what != ("same",) and line.key not in self.leave)
        said = f"Conformed the cut: {count} change{'' if count == 1 else 's'}; the cut before is kept as “{kept_as}”"
        return scene.having(shots=shots, cuts=cuts, cut_name=name), said + parting
