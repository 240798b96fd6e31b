"""Commands on the scene itself."""

from typing import Annotated, Any, Literal

from pydantic import Field, StringConstraints

from heron.commands.base import Command, Outcome
from heron.errors import BadInput, Refused
from heron.model import Name, changed
from heron.optics import Delivery, Gate
from heron.optics.backs import FilmBack
from heron.optics.view import LONGEST_MM, SHORTEST_MM
from heron.scene import Scene, diff
from heron.scene.lookup import replace
from heron.scene.parts import PART_CALLED, PARTS, Part, parts_of, seen_of
from heron.timebase import Frames, Rate

_LIGHT = {
    "light_ev": "light to EV {:g}", "sun_bearing": "sun to {:g}° of bearing", "sun_height": "sun to {:g}° of height",
    "water": "floor of water to {}", "haze_m": "haze to {:g} m", "fill": "fill to {:g}", "rim": "rim to {:g}",
}  # fmt: skip


class SetScene(Command):
    """Change the scene's name, rate, range, delivery aspect, light, first lens or the cut's first timecode; or whether
    stand-in voices speak the lines that have no recording.
    """

    kind: Literal["scene.set"] = "scene.set"
    name: Name | None = None
    rate: Rate | None = None
    frames: Frames | None = None
    delivery: Delivery | None = None
    cut_start: Annotated[str, StringConstraints(strip_whitespace=True)] | None = None
    #: The exposure value at ISO 100 that shows the stage as it is lit.
    light_ev: float | None = Field(default=None, ge=-10, le=25)
    #: Where the sun stands: bearing as pan, height above the horizon, degrees.
    sun_bearing: float | None = Field(default=None, ge=-360, le=360)
    sun_height: float | None = Field(default=None, ge=1, le=90)
    water: bool | None = None
    haze_m: float | None = Field(default=None, ge=5, le=20_000)
    fill: float | None = Field(default=None, ge=0, le=2)
    rim: float | None = Field(default=None, ge=0, le=2)
    #: What every new camera gets.
    first_back: FilmBack | None = None
    first_gate: Gate | None = None
    first_squeeze: float | None = Field(default=None, ge=0.5, le=2.5)
    first_focal: float | None = Field(default=None, ge=SHORTEST_MM, le=LONGEST_MM)
    stand_ins: bool | None = None

    def apply(self, scene: Scene) -> Outcome:
        update: dict[str, Any] = {}
        said = []
        for field, word in (
            ("name", "name"), ("rate", "rate"), ("frames", "range"), ("delivery", "delivery"), ("cut_start", "start of the cut"),
        ):  # fmt: skip
            value = getattr(self, field)
            if value is not None:
                update[field] = value
                said.append(f"{word} to {getattr(value, 'label', value)}")
        light = {name: value for name in _LIGHT if (value := getattr(self, name)) is not None}
        if light:
            update["surround"] = changed(scene.surround, **light)
            said += [_LIGHT[name].format(value) for name, value in light.items()]
        update |= self._first(scene, said)
        if self.stand_ins is not None:
            update["stand_ins"] = self.stand_ins
            said.append(f"stand-in voices {'on' if self.stand_ins else 'off'}")
        if not update:
            raise BadInput("Nothing to set was named.", "Give a name, rate, frames, delivery or cut_start.")
        return scene.having(**update), f"Set the scene's {', '.join(said)}"

    def _first(self, scene: Scene, said: list[str]) -> dict[str, Any]:
        """What of the first lens changes."""
        was = scene.first_lens
        on = {"back": self.first_back, "gate": self.first_gate, "squeeze": self.first_squeeze}
        on = {name: value for name, value in on.items() if value is not None}
        if self.first_back is not None:
            said.append(f"first film back to {self.first_back.name or 'a custom one'}")
        if self.first_gate is not None:
            said.append(f"first gate to {self.first_gate}")
        if self.first_squeeze is not None:
            said.append(f"first squeeze to {self.first_squeeze:g}")
        if self.first_focal is not None:
            said.append(f"first lens to {self.first_focal:g} mm")
        if not on and self.first_focal is None:
            return {}
        focal = was.focal_mm if self.first_focal is None else self.first_focal
        return {"first_lens": changed(was, on=changed(was.on, **on), focal_mm=focal)}


class LockPart(Command):
    """Have a part of the scene not be touched, or let it be again: the set, the acting, the cameras, the light, the cut."""

    kind: Literal["part.lock"] = "part.lock"
    part: Part
    locked: bool

    def apply(self, scene: Scene) -> Outcome:
        now = tuple(one for one in PARTS if (one in scene.locked if one != self.part else self.locked))
        return scene.having(locked=now), f"{'Locked' if self.locked else 'Unlocked'} {PART_CALLED[self.part]}"


class HidePart(Command):
    """Have nothing of a part be seen, or all of it again: the set, the acting, the lamps; cameras on the plan and the stage."""

    kind: Literal["part.hide"] = "part.hide"
    part: Part
    hidden: bool

    def apply(self, scene: Scene) -> Outcome:
        chosen = seen_of(scene, self.part)
        if not chosen:
            raise Refused(
                f"There is nothing of {PART_CALLED[self.part]} that could be hidden.",
                "Hide the set, the acting, the cameras or the lamps.",
                field="part",
            )
        for table in dict.fromkeys(table for table, _ in chosen):
            scene = replace(scene, table, *(changed(i, hidden=self.hidden) for t, i in chosen if t == table))
        return scene, f"{'Hid' if self.hidden else 'Showed'} {PART_CALLED[self.part]}"


def refuse_locked(before: Scene, after: Scene) -> None:
    """See that no locked part is touched.

    Raises:
        Refused: one is.
    """
    if not before.locked:
        return
    hit = parts_of(diff(before, after), diff(after, before)).intersection(before.locked)
    for part in PARTS:
        if part in hit:
            name = PART_CALLED[part]
            verb = "are" if part == "cameras" else "is"
            raise Refused(
                f"{name[0].upper()}{name[1:]} {verb} locked.",
                "Unlock it on the scene's card, under Parts.",
                field="part",
            )
