"""A walk that goes round what stands in its way."""

from typing import Any, Literal

import numpy as np

from heron.commands.act_checks import solid_before
from heron.commands.acts import SetAct, act_of
from heron.commands.base import Command, Outcome, listed
from heron.commands.pacing import standing_at
from heron.errors import Refused
from heron.model import Id, changed
from heron.scene import Scene, find
from heron.stage.acts.body import Run, Walk
from heron.stage.clear_way import Blocked, way_round
from heron.stage.figure import Figure


class WalkRound(Command):
    """Have a walk or a run go the shortest way between its points that keeps clear of the set; its frames stay."""

    kind: Literal["figure.walk.round"] = "figure.walk.round"
    figure: Id
    id: Id

    def apply(self, scene: Scene) -> Outcome:
        figure: Figure = find(scene, "figures", self.figure)
        act: Any = act_of(figure, self.id)
        if not isinstance(act, Walk | Run):
            raise Refused("Only a walk or a run goes round things.", "Choose one.", field="id")
        x, z, _ = standing_at(scene, figure, act.frames.first)
        pieces = solid_before(scene, figure, act)
        way = np.array([(x, z), *act.points])
        points: list[tuple[float, float]] = []
        avoided: list[str] = []
        for one, two in zip(way[:-1], way[1:], strict=True):
            found = way_round(one, two, pieces)
            if isinstance(found, Blocked):
                raise Refused(
                    f"{found.piece.name} leaves no clear way there.",
                    f"Move that point of the walk away from {found.piece.name}, or move {found.piece.name}.",
                    field="points",
                )
            corners, round_ = found
            points += [*corners, (float(two[0]), float(two[1]))]
            avoided += [piece.name for piece in round_ if piece.name not in avoided]
        if len(points) == len(act.points):
            raise Refused(f"Nothing is in {figure.name}'s way.", "Leave the walk as it is.", field="id")
        before, after = (
            float(np.hypot(*np.diff(w, axis=0).T).sum()) for w in (way, np.array([(x, z), *points]))
        )
        scene_after, said = SetAct(figure=figure.id, act=changed(act, points=tuple(points))).apply(scene)
        _, semicolon, more = said.partition("; ")
        return (
            scene_after,
            f"{figure.name} goes round {listed(avoided) if avoided else 'what is there'}: {after:.1f} m, not {before:.1f}{semicolon}{more}",
        )
