"""A rig and a look kept for any camera and any figure."""

from typing import Literal

from pydantic import Field

from heron.commands.base import Command, Outcome, all_called, open_camera, unlocked
from heron.commands.own_things import kept_things
from heron.commands.rigs import give_rig
from heron.errors import Refused
from heron.model import Id, Model, changed
from heron.scene import Camera, Scene, find, replace
from heron.scene.links import links
from heron.scene.lookup import validate_scene
from heron.stage.figure import Figure
from heron.stage.reference import Tables

#: What is kept with a rig that is about it, and what takes its place elsewhere.
_SUBJECTS: tuple[Tables, ...] = ("figures", "movers", "pieces", "cameras")


def kept_rig(scene: Scene, id_: str) -> Scene:
    """A scene of one camera's rig and what that is about; its figures do nothing in it.

    Raises:
        NotFound, Refused: there is no such camera, or it has no rig.
    """
    camera: Camera = find(scene, "cameras", id_)
    if not camera.layers:
        raise Refused(f"Camera {camera.letter} has no rig.", "Add a layer to it first.", field="ids")
    alone = kept_things(scene, (camera.id, *_about(camera)))
    figures = tuple(changed(one, acts=()) for one in alone.figures)
    return validate_scene(alone.having(figures=figures, name=f"Rig of {camera.name}"[:80]))


def _about(camera: Camera) -> tuple[Id, ...]:
    """What a camera's layers name, each once."""
    named = (link.id for layer in camera.layers for link in links(layer) if link.table in _SUBJECTS)
    return tuple(dict.fromkeys(named))


def kept_look(scene: Scene, id_: str) -> Scene:
    """A scene of one figure that does nothing: how it looks.

    Raises:
        NotFound: there is no such figure.
    """
    figure: Figure = find(scene, "figures", id_)
    alone = kept_things(scene, (figure.id,))
    bare = changed(next(one for one in alone.figures if one.id == figure.id), acts=())
    return validate_scene(
        alone.having(figures=(bare,), movers=(), pieces=(), name=f"Look of {figure.name}"[:80])
    )


class TakeRig(Command):
    """Give a camera a kept rig, about those of this scene: who is called the same, else one after the other."""

    kind: Literal["kept.rig"] = "kept.rig"
    camera: Id
    kept: Scene

    def apply(self, scene: Scene) -> Outcome:
        target = open_camera(scene, self.camera)
        source = next((one for one in self.kept.cameras if one.layers), None)
        if source is None:
            raise Refused("It holds no rig.", "Keep the rig of a camera first.", field="kept")
        # Parts of what it is about were kept with that, and need no place here.
        about, instead = _about(source), dict[Id, Id]()
        for table in _SUBJECTS:
            theirs = [one for one in getattr(self.kept, table) if one.id in about]
            ours = [one for one in getattr(scene, table) if one.id != target.id]
            instead |= _in_place(theirs, ours, table)
        return give_rig(
            scene, source, target, instead
        ), f"Gave camera {target.letter} the {_called(self.kept)}"


def _in_place(theirs: list[Model], ours: list[Model], table: str) -> dict[Id, Id]:
    """For each of some things one of a scene: of the same name, else the next that is free.

    Raises:
        Refused: there are fewer here.
    """
    by_name = {str(getattr(one, "name", "")).lower(): one for one in ours}
    out: dict[Id, Id] = {}
    for one in theirs:
        same = by_name.get(str(getattr(one, "name", "")).lower())
        if same is not None:
            out[_id(one)] = _id(same)
    free = iter([one for one in ours if _id(one) not in out.values()])
    for one in theirs:
        if _id(one) in out:
            continue
        other = next(free, None)
        if other is None:
            raise Refused(
                f"The rig is about {_count(len(theirs), table)}, and there {'is' if len(ours) == 1 else 'are'} {len(ours) or 'none'} here.",
                f"Put more {table} on the stage first.", field="camera",
            )  # fmt: skip
        out[_id(one)] = _id(other)
    return out


def _count(many: int, table: str) -> str:
    """How many things of a table: `1 figure`, `2 figures`."""
    return f"{many} {table[:-1] if many == 1 else table}"


def _id(item: Model) -> str:
    return str(getattr(item, "id", ""))


def _called(kept: Scene) -> str:
    return kept.name[:1].lower() + kept.name[1:]


class TakeLook(Command):
    """Have figures look as a kept one: what it wears, and its body where it was brought in."""

    kind: Literal["kept.look"] = "kept.look"
    figures: tuple[Id, ...] = Field(min_length=1, max_length=200)
    kept: Scene

    def apply(self, scene: Scene) -> Outcome:
        if not self.kept.figures:
            raise Refused("It holds no look.", "Keep the look of a figure first.", field="kept")
        look = self.kept.figures[0]
        who: list[Figure] = [unlocked(find(scene, "figures", one)) for one in dict.fromkeys(self.figures)]
        after = [changed(one, look=look.look, character=look.character) for one in who]
        if after == who:
            raise Refused("They look like that already.", "Choose others.", field="figures")
        return replace(scene, "figures", *after), f"Gave {all_called(who)} the {_called(self.kept)}"
