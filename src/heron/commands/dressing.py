"""What a shot has for itself: any change to the set, the light or who is there, kept for one shot alone."""

from collections.abc import Callable
from typing import Literal

from pydantic import Field

from heron.commands.base import Command, Outcome, listed
from heron.model import Id, changed
from heron.scene import Scene, Shot, apply_patch, diff, find, fine, replace
from heron.scene.document import called
from heron.scene.own import OWN_FIELDS, OWN_SURROUND, Own, differences, dressed
from heron.scene.patch import FinePatch


def dress(scene: Scene, shot: Shot, do: Callable[[Scene], Outcome]) -> Outcome:
    """Do something on the scene as a shot has it, keep with the shot what it can have for itself, and the rest in the scene.

    Raises:
        HeronError: it cannot be done; nothing has changed.
    """
    before = dressed(scene, shot)
    after, sentence = do(before)
    base = apply_patch(scene, _shared(scene, fine(diff(before, after), before)))
    now: Shot | None = next((one for one in base.shots if one.id == shot.id), None)
    own = differences(base, after)
    if now is None or own == now.own:
        return base, sentence
    return replace(base, "shots", changed(now, own=own)), f"For shot {shot.name} alone: {sentence}"


def _shared(scene: Scene, patch: FinePatch) -> FinePatch:
    """A patch without what a shot can have for itself."""
    parts = {
        table: {
            id_: kept
            for id_, fields in items.items()
            if (kept := {n: v for n, v in fields.items() if n not in OWN_FIELDS.get(table, ())})  # type: ignore[call-overload]
        }
        for table, items in patch.parts.items()
    }
    settings = dict(patch.settings)
    if "surround" in settings:
        as_it_is = {name: getattr(scene.surround, name) for name in OWN_SURROUND}
        settings["surround"] = settings["surround"] | as_it_is
    return FinePatch(settings=settings, items=patch.items, order=patch.order, parts=parts)


class UndressShot(Command):
    """Take off what a shot has for itself: of some things, of the surround, or all of it."""

    kind: Literal["shot.undress"] = "shot.undress"
    shot: Id
    #: Things whose changes go; left out with `surround`, all of them.
    ids: tuple[Id, ...] = Field(default=(), max_length=1000)
    surround: bool = False

    def apply(self, scene: Scene) -> Outcome:
        shot: Shot = find(scene, "shots", self.shot)
        everything = not self.ids and not self.surround

        def goes(one: Own) -> bool:
            return everything or (self.surround if one.of is None else one.of[1] in self.ids)

        gone = [one for one in shot.own if goes(one)]
        if not gone:
            return scene, f"Shot {shot.name} has nothing of that for itself"
        kept = tuple(one for one in shot.own if not goes(one))
        names = [_called(scene, one) for one in gone]
        what = listed(names) if len(names) <= 4 else f"{len(names)} things"
        after = replace(scene, "shots", changed(shot, own=kept))
        return after, f"Shot {shot.name} has {what} as the scene does again"


def _called(scene: Scene, one: Own) -> str:
    return "the light" if one.of is None else called(find(scene, *one.of))
