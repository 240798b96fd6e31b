"""Acts copied from a figure of any scene, put on a figure of this one."""

from typing import Annotated, Any, Literal

from pydantic import Field

from heron.commands.acting import ahead_of
from heron.commands.acts import put
from heron.commands.base import Command, Outcome, listed
from heron.commands.keys import check_frame
from heron.errors import Refused
from heron.model import Id, Name, changed, new_id
from heron.scene import Scene, find
from heron.scene.links import links, renamed, without
from heron.stage.acts import AnyAct
from heron.stage.figure import Figure
from heron.stage.reference import AtPoint, Reference
from heron.timebase.frames import FrameNumber


class PasteActs(Command):
    """Put copied acts on a figure, the earliest at a frame.

    What they name is found by its id, else by its name among things of the same kind; what is not in this scene is let go of:
    a look or a reach goes ahead instead.
    """

    kind: Literal["figure.acts.paste"] = "figure.acts.paste"
    figure: Id
    frame: FrameNumber
    acts: Annotated[tuple[AnyAct, ...], Field(min_length=1, max_length=500)]
    #: What the things are called that the acts name, by their ids.
    names: dict[Id, Name] = Field(default_factory=dict, max_length=500)

    def apply(self, scene: Scene) -> Outcome:
        figure: Figure = find(scene, "figures", self.figure)
        check_frame(scene, self.frame)
        by = self.frame - min(act.frames.first for act in self.acts)
        out, told, lost = scene, "", []
        for act in sorted(self.acts, key=lambda one: one.frames.first):
            if act.frames.first + by > scene.frames.last:
                raise Refused(
                    f"{act.LABEL} would begin at {act.frames.first + by}; the scene ends at {scene.frames.last}.",
                    "Go to an earlier frame, or lengthen the scene.",
                    field="frame",
                )
            here, gone = self._here(out, figure, act)
            lost += gone
            now: Figure = find(out, "figures", figure.id)
            out, said = put(out, now, list(now.acts), changed(here.later(by), id=new_id("act")))
            told += said
        what = listed([act.LABEL.lower() for act in self.acts])
        missing = (
            f"; {listed(sorted(set(lost)))} {'is' if len(set(lost)) == 1 else 'are'} not in this scene"
            if lost
            else ""
        )
        return out, f"Pasted {what} on {figure.name} at {self.frame}{missing}{told}"

    def _here(self, scene: Scene, figure: Figure, act: Any) -> tuple[Any, list[str]]:
        """An act that names things of this scene, and what is not in it."""
        there, names, gone = set(scene.items()), {}, []
        for link in links(act):
            if link.id in there:
                continue
            called = self.names.get(link.id, "")
            found = next(
                (i for i in getattr(scene, link.table) if called and i.name.lower() == called.lower()), None
            )
            if found is None:
                gone.append((link.id, called or "what it names"))
            else:
                names[link.id] = found.id
        here = renamed(act, names) if names else act

        def ahead(on: Reference, frame: int | None) -> AtPoint:
            return ahead_of(scene, figure, self.frame)

        if gone:
            here = without(here, {id_ for id_, _ in gone}, ahead)
        return here, [called for _, called in gone]
