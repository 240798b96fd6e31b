"""Many figures made of one: a small crowd in rows, each a little different."""

from typing import Any, Literal

import numpy as np
from pydantic import Field

from heron.commands.base import Command, Outcome, free_name
from heron.model import Id, changed
from heron.scene import Scene, find
from heron.stage.body.carry import carried
from heron.stage.figure import Figure
from heron.stage.fresh import empty_handed, look_of
from heron.timebase import parse_rate

#: How much people of a crowd differ: stature as a share (adults of one sex differ by 4 %, common practice), the way they
#: face in degrees, where they stand in shares of the spacing, and when they do what they do, seconds.
_STATURE, _HEADING, _PLACE, _LATER_S = 0.04, 14.0, 0.16, 0.7


class CrowdFigure(Command):
    """Copy a figure into rows to its right and behind it, with other looks, statures, headings and timing.

    They are ordinary figures from then on. The same seed gives the same crowd.
    """

    kind: Literal["figure.crowd"] = "figure.crowd"
    figure: Id
    count: int = Field(default=8, ge=1, le=60)
    rows: int = Field(default=2, ge=1, le=10)
    #: Metres from one to the next.
    spacing: float = Field(default=0.9, ge=0.4, le=10.0)
    seed: int = Field(default=1, ge=0, le=9999)

    def apply(self, scene: Scene) -> Outcome:
        figure: Figure = find(scene, "figures", self.figure)
        draw = np.random.default_rng(self.seed)
        names = {one.name for one in scene.figures}
        taken = {one.id for one in scene.figures}
        made: list[Figure] = []
        for i in range(self.count):
            # The figure itself has the first place of the first row.
            row, place = (i + 1) % self.rows, (i + 1) // self.rows
            name = free_name(figure.name.rstrip("0123456789").rstrip() or figure.name, names, first=2)
            names.add(name)
            id_ = next(
                one
                for n in range(10_000)
                if (one := f"{figure.id[:28]}-{self.seed}-{i + n * 100}") not in taken
            )
            taken.add(id_)
            made.append(self._one(scene, figure, (place, row), draw, name, id_))
        said = f"Made a crowd of {self.count} of {figure.name}"
        return scene.having(figures=(*scene.figures, *made)), said

    def _one(
        self,
        scene: Scene,
        figure: Figure,
        at: tuple[int, int],
        draw: np.random.Generator,
        name: str,
        id_: str,
    ) -> Figure:
        turn = np.radians(figure.heading)
        across, back = (self.spacing * (n + _PLACE * draw.uniform(-1, 1)) for n in at)
        x = figure.x + across * np.cos(turn) + back * np.sin(turn)
        z = figure.z - across * np.sin(turn) + back * np.cos(turn)
        heading = figure.heading + _HEADING * draw.uniform(-1, 1)
        # The way they walk is the figure's; only what they face while they stand differs.
        there = carried(
            empty_handed(figure), (figure.x, figure.z, figure.heading), (float(x), float(z), figure.heading)
        )
        by = round(_LATER_S * float(parse_rate(scene.rate)) * draw.uniform(0, 1))
        stature = figure.stature * float(
            np.clip(draw.normal(1.0, _STATURE), 1 - 2.5 * _STATURE, 1 + 2.5 * _STATURE)
        )
        content: dict[str, Any] = {
            "id": id_, "name": name, "look": look_of(int(draw.integers(0, 60))), "stature": round(stature, 3),
            "x": round(float(x), 3), "z": round(float(z), 3), "heading": round(float(heading), 1),
            "acts": tuple(act.later(by) for act in there.acts),
        }  # fmt: skip
        return changed(there, **content)
