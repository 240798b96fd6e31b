"""Cameras that cover a conversation, proposed and taken."""

from typing import Annotated, Literal, cast

import numpy as np
from pydantic import Field

from heron.bake import Bake
from heron.commands.base import Command, Outcome, listed
from heron.commands.cameras import AddCamera, Pose
from heron.commands.keys import check_frame
from heron.commands.pointing import Pointed, meant
from heron.errors import NotFound, Refused
from heron.framing.coverage import Coverage, Proposal, who_talks
from heron.model import Id, Label, new_id
from heron.scene import Scene, find
from heron.scene.focus import AtDistance, Pulled
from heron.stage.figure import Figure
from heron.stage.reference import Spot
from heron.timebase.frames import FrameNumber

#: Nearer to each other than this nobody can be told from the other, and farther apart they do not talk, metres.
_APART_M = (0.3, 8.0)


Side = Literal["left", "right"]


def proposed(
    scene: Scene, figures: tuple[Id, ...], frame: int, thing: Pointed | None = None, side: Side | None = None
) -> list[Proposal]:
    """The cameras that cover a conversation at a frame.

    Args:
        side: of the line from the first of the two to the second, seen from above; left out, the better one.

    Raises:
        Refused: there are not two who talk, or they stand too near or too far apart.
    """
    check_frame(scene, frame)
    if isinstance(thing, AtDistance | Pulled):
        raise Refused("An insert is of a thing.", "Point at one.", field="thing")
    names = who_talks(scene, figures)
    if len(names) < 2:
        raise Refused(
            "It takes two to be covered in a conversation.",
            "Select two figures, or write lines for two.",
            field="figures",
        )
    people: list[Figure] = [find(scene, "figures", id_) for id_ in names]
    spot = None if thing is None else cast(Spot, meant(scene, thing))
    bake = Bake(scene)
    at = np.array([bake.rows(one, np.array([frame]))[0, [0, 2]] for one in people])
    for i, one in enumerate(people):
        # Of the first two each from the other; of any more, each from whoever of those two is nearer.
        apart = [float(np.hypot(*(at[i] - at[k]))) for k in (0, 1) if k != i]
        if not _APART_M[0] <= min(apart) <= _APART_M[1]:
            nearest = people[1 - i] if i < 2 else people[int(np.argmin(apart))]
            raise Refused(
                f"{one.name} and {nearest.name} stand {min(apart):.1f} m apart at {frame}.",
                "Go to a frame where they talk to each other.",
                field="frame",
            )
    return Coverage(bake, people, frame).proposals(
        spot, None if side is None else 1 if side == "right" else -1
    )


class TakeCoverage(Command):
    """Make cameras that cover a conversation: all that are proposed, or some of them by their keys."""

    kind: Literal["coverage.take"] = "coverage.take"
    #: Begins the ids of the cameras.
    id: Id = Field(default_factory=lambda: new_id("cover"))
    #: Who talks, the two whose line counts first; left out, the two with the most lines.
    figures: tuple[Id, ...] = Field(default=(), max_length=8)
    frame: FrameNumber
    #: What an insert is of.
    thing: Pointed | None = None
    #: Of the line from the first of them to the second, seen from above; left out, the better one.
    side: Side | None = None
    keys: Annotated[tuple[Label, ...], Field(max_length=20)] | None = None

    def apply(self, scene: Scene) -> Outcome:
        found = proposed(scene, self.figures, self.frame, self.thing, self.side)
        keys = [one.key for one in found]
        unknown = [key for key in self.keys or () if key not in keys]
        if unknown:
            raise NotFound(f"No camera {unknown[0]} is proposed there.", "Ask again what is.", field="keys")
        taken = [one for one in found if self.keys is None or one.key in self.keys]
        if not taken:
            raise Refused("No camera was chosen.", "Tick the ones that you want.", field="keys")
        names = {camera.name for camera in scene.cameras}
        letters = []
        for one in taken:
            name = next(
                n for k in range(1, 1000) if (n := one.name if k == 1 else f"{one.name} {k}") not in names
            )
            names.add(name)
            x, y, z, pan, tilt = one.pose
            scene, _ = AddCamera(
                id=f"{self.id[:26]}-{keys.index(one.key)}", name=name[:80], pose=Pose(x=x, y=y, z=z, pan=pan, tilt=tilt),
                focal=one.focal, focus=one.focus, frame=self.frame,
            ).apply(scene)  # fmt: skip
            letters.append(scene.cameras[-1].letter)
        many = "s" if len(taken) > 1 else ""
        return scene, f"Covered it with camera{many} {listed(letters)}"
