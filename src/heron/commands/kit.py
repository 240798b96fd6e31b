"""Commands on the lens kit."""

from typing import Any, Literal

from pydantic import Field

from heron.commands.base import Command, Outcome, refuse_taken
from heron.errors import Refused
from heron.model import Id, Name, changed, new_id
from heron.optics import KitLens
from heron.scene import Scene, find, replace


class AddLens(Command):
    """Put a lens into the kit: a prime, or a zoom when its ends differ."""

    kind: Literal["lens.add"] = "lens.add"
    id: Id = Field(default_factory=lambda: new_id("lens"))
    name: Name | None = None
    shortest_mm: float
    longest_mm: float | None = None
    widest: float = 2.0
    nearest_m: float = 0.5
    blades: int = 9

    def apply(self, scene: Scene) -> Outcome:
        longest = self.longest_mm or self.shortest_mm
        prime = longest == self.shortest_mm
        name = self.name or (f"{longest:g} mm" if prime else f"Zoom {self.shortest_mm:g}–{longest:g} mm")
        lens = KitLens(
            id=self.id, name=name, shortest_mm=self.shortest_mm, longest_mm=longest,
            widest=self.widest, nearest_m=self.nearest_m, blades=self.blades,
        )  # fmt: skip
        refuse_taken(scene, "lenses", lens.name)
        return _sorted(scene, (*scene.lenses, lens)), f"Put the {name} into the lens kit"


class SetLens(Command):
    """Change a lens of the kit; cameras that already asked more of it are marked as forced."""

    kind: Literal["lens.set"] = "lens.set"
    lens: Id
    name: Name | None = None
    shortest_mm: float | None = None
    longest_mm: float | None = None
    widest: float | None = None
    nearest_m: float | None = None
    blades: int | None = None

    def apply(self, scene: Scene) -> Outcome:
        lens: KitLens = find(scene, "lenses", self.lens)
        fields = ("name", "shortest_mm", "longest_mm", "widest", "nearest_m", "blades")
        update: dict[str, Any] = {f: v for f in fields if (v := getattr(self, f)) is not None}
        if lens.prime and self.shortest_mm is not None and self.longest_mm is None:
            update["longest_mm"] = self.shortest_mm
        new = changed(lens, **update)
        refuse_taken(scene, "lenses", new.name, new.id)
        after = replace(scene, "lenses", new)
        return _sorted(after, after.lenses), f"Changed the {new.name} of the lens kit"


class TakeKit(Command):
    """Use another kit in this scene; lenses on cameras must be in it."""

    kind: Literal["lens.kit"] = "lens.kit"
    lenses: tuple[KitLens, ...] = Field(max_length=200)

    def apply(self, scene: Scene) -> Outcome:
        there = {lens.id for lens in self.lenses}
        for camera in scene.cameras:
            if camera.mounted is not None and camera.mounted not in there:
                lens = find(scene, "lenses", camera.mounted)
                raise Refused(
                    f"Camera {camera.letter} has the {lens.name} on, which is not in that kit.",
                    "Put another lens on it first.",
                    field="lenses",
                )
        return _sorted(scene, self.lenses), f"Took a kit of {len(self.lenses)} lenses"


def _sorted(scene: Scene, lenses: tuple[KitLens, ...]) -> Scene:
    order = sorted(lenses, key=lambda lens: (not lens.prime, lens.shortest_mm, lens.longest_mm))
    return scene.having(lenses=tuple(order))
