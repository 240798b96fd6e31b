"""Many figures made of one: a small crowd in rows, along a line or over an area, each a little different."""

from typing import Any, Literal

import numpy as np
from pydantic import Field

from heron.commands.base import Command, Outcome, free_name
from heron.errors import Refused
from heron.model import Id, Label, changed
from heron.scene import Scene, find, replace
from heron.stage.acts.body import Point2
from heron.stage.body.carry import carried
from heron.stage.figure import Figure
from heron.stage.fresh import empty_handed, look_of
from heron.stage.path import FREEHAND_M, FloorPath, few_points
from heron.timebase import parse_rate

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: How much people of a crowd differ: stature as a share (adults of one sex differ by 4 %, common practice), the way they
#: face in degrees, where they stand in shares of the spacing, and when they do what they do, seconds.
_STATURE, _HEADING, _PLACE, _LATER_S = 0.04, 14.0, 0.16, 0.7
#: Nobody stands nearer to another than this, metres.
_NEAREST_M = 0.4
#: Places that are tried for each person over an area; the one that is farthest from everybody is taken.
_TRIES = 60


class CrowdFigure(Command):
    """Copy a figure into rows to its right and behind it, along a line, or over an area, with other looks, statures,
    headings and timing.

    They are ordinary figures from then on, in a group with the one they are made of. The same seed gives the same crowd.
    """

    kind: Literal["figure.crowd"] = "figure.crowd"
    figure: Id
    count: int = Field(default=8, ge=1, le=60)
    #: Points of the line they stand along, or corners of the area they stand in; left out, they stand in rows.
    along: tuple[Point2, ...] = Field(default=(), max_length=4000)
    over: tuple[Point2, ...] = Field(default=(), max_length=4000)
    rows: int = Field(default=2, ge=1, le=10)
    #: Metres from one to the next in rows.
    spacing: float = Field(default=0.9, ge=_NEAREST_M, le=10.0)
    seed: int = Field(default=1, ge=0, le=9999)

    def apply(self, scene: Scene) -> Outcome:
        figure: Figure = find(scene, "figures", self.figure)
        draw = np.random.default_rng(self.seed)
        names = {one.name for one in scene.figures}
        taken = {one.id for one in scene.figures}
        group = figure.group or f"Crowd of {figure.name}"[:80]
        made: list[Figure] = []
        for i, (x, z) in enumerate(self._places(figure, draw)):
            name = free_name(figure.name.rstrip("0123456789").rstrip() or figure.name, names, first=2)
            names.add(name)
            id_ = next(
                one
                for n in range(10_000)
                if (one := f"{figure.id[:28]}-{self.seed}-{i + n * 100}") not in taken
            )
            taken.add(id_)
            made.append(
                self._one(
                    scene, figure, (float(x), float(z)), draw, {"name": name, "id": id_, "group": group}
                )
            )
        where = " along a line" if self.along else " over an area" if self.over else ""
        scene = replace(scene, "figures", changed(figure, group=group))
        said = f"Made a crowd of {self.count} of {figure.name}{where}"
        return scene.having(figures=(*scene.figures, *made)), said

    def _places(self, figure: Figure, draw: np.random.Generator) -> Floats:
        """(count, 2) metres: where they stand.

        Raises:
            Refused: the line or the area has no room for as many.
        """
        if self.along:
            return self._along(draw)
        if self.over:
            return self._over(figure, draw)
        # The figure itself has the first place of the first row.
        at = np.array([divmod(i + 1, self.rows) for i in range(self.count)], dtype=np.float64)
        at = self.spacing * (at + _PLACE * draw.uniform(-1, 1, size=at.shape))
        turn = np.radians(figure.heading)
        across, back = at[:, 0], at[:, 1]
        x = figure.x + across * np.cos(turn) + back * np.sin(turn)
        return np.stack([x, figure.z - across * np.sin(turn) + back * np.cos(turn)], axis=-1)

    def _along(self, draw: np.random.Generator) -> Floats:
        path = FloorPath(few_points(np.array(self.along), FREEHAND_M)) if len(self.along) > 1 else None
        apart = path.length / max(self.count - 1, 1) if path else 0.0
        if path is None or apart < _NEAREST_M:
            most = int((path.length if path else 0.0) / _NEAREST_M) + 1
            raise Refused(
                f"Along this line {most} {'person has' if most == 1 else 'people have'} room, not {self.count}.",
                "Draw a longer line, or ask for fewer.",
                field="count",
            )
        step = path.length / max(self.count - 1, 1)
        s = step * (np.arange(self.count) + _PLACE * draw.uniform(-1, 1, self.count))
        place = path.place(np.clip(s, 0.0, path.length))
        turn = np.radians(path.heading(np.clip(s, 0.0, path.length)))
        aside = _PLACE * min(step, self.spacing) * draw.uniform(-1, 1, self.count)
        return np.asarray(place + aside[:, None] * np.stack([np.cos(turn), -np.sin(turn)], axis=-1))

    def _over(self, figure: Figure, draw: np.random.Generator) -> Floats:
        """Each in turn where it is farthest from everybody who stands there already (Mitchell 1991, from memory)."""
        corners = np.array(self.over)
        low, high = corners.min(axis=0), corners.max(axis=0)
        there = [np.array([figure.x, figure.z])]
        for i in range(self.count):
            tries = draw.uniform(low, high, size=(20 * _TRIES, 2))
            tries = tries[_inside(corners, tries)][:_TRIES]
            far = (
                np.linalg.norm(tries[:, None] - np.array(there)[None], axis=2).min(axis=1)
                if len(tries)
                else [0.0]
            )
            if np.max(far) < _NEAREST_M:
                raise Refused(
                    f"Over this area {i} {'person has' if i == 1 else 'people have'} room, not {self.count}.",
                    "Draw a larger area, or ask for fewer.",
                    field="count",
                )
            there.append(tries[int(np.argmax(far))])
        return np.array(there[1:])

    def _one(
        self, scene: Scene, figure: Figure, at: tuple[float, float], draw: np.random.Generator, own: dict[str, str]
    ) -> Figure:  # fmt: skip
        heading = figure.heading + _HEADING * draw.uniform(-1, 1)
        # The way they walk is the figure's; only what they face while they stand differs.
        here = (figure.x, figure.z, figure.heading)
        there = carried(empty_handed(figure), here, (*at, figure.heading))
        by = round(_LATER_S * float(parse_rate(scene.rate)) * draw.uniform(0, 1))
        stature = figure.stature * float(
            np.clip(draw.normal(1.0, _STATURE), 1 - 2.5 * _STATURE, 1 + 2.5 * _STATURE)
        )
        content: dict[str, Any] = {
            **own, "look": look_of(int(draw.integers(0, 60))), "stature": round(stature, 3),
            "x": round(at[0], 3), "z": round(at[1], 3), "heading": round(float(heading), 1),
            "acts": tuple(act.later(by) for act in there.acts),
        }  # fmt: skip
        return changed(there, **content)


class GroupFigures(Command):
    """Give figures a group by name; an empty name takes them out of theirs."""

    kind: Literal["figures.group"] = "figures.group"
    ids: tuple[Id, ...] = Field(min_length=1, max_length=5000)
    group: Label

    def apply(self, scene: Scene) -> Outcome:
        chosen: list[Figure] = [find(scene, "figures", id_) for id_ in self.ids]
        what = chosen[0].name if len(chosen) == 1 else f"{len(chosen)} figures"
        said = f"Grouped {what} as “{self.group}”" if self.group else f"Ungrouped {what}"
        return replace(scene, "figures", *(changed(one, group=self.group) for one in chosen)), said


def _inside(corners: Floats, points: Floats) -> np.ndarray[Any, np.dtype[np.bool_]]:
    """(n,) whether points lie in a polygon: a ray to the right crosses its edges an odd number of times."""
    inside = np.zeros(len(points), dtype=bool)
    for a, b in zip(corners, np.roll(corners, -1, axis=0), strict=True):
        spans = (a[1] > points[:, 1]) != (b[1] > points[:, 1])
        at = a[0] + (points[:, 1] - a[1]) / ((b[1] - a[1]) or np.inf) * (b[0] - a[0])
        inside ^= spans & (points[:, 0] < at)
    return inside
