"""Listeners who react to lines: they look at who speaks, and nod a little."""

from typing import Annotated, Literal

from pydantic import Field

from heron.commands.acts import AddAct
from heron.commands.base import Command, Outcome, listed
from heron.curves.channel import OnWord
from heron.errors import BadInput, HeronError, Refused
from heron.lines import TimedLine, timed
from heron.model import Id
from heron.scene import Scene, find
from heron.stage.acts import AnyAct
from heron.stage.acts.look import LookAct, LookAt, Nod
from heron.stage.figure import Figure
from heron.stage.reference import OnFigure
from heron.timebase import Frames, parse_rate

#: Somebody looks up so long after a line has begun, and looks on so long after it has ended, seconds (ours).
_LATE_S, _STAYS_S = 0.25, 0.4
#: Listeners nod to lines at least this long, as the last word comes, seconds; little and briefly.
_NODS_FROM_S, _NOD_S, _NOD_ENERGY = 1.2, 1.2, 0.5


class React(Command):
    """Have listeners look at whoever speaks, and nod to longer lines; all of it hangs on the words, to be changed by hand.

    Who looks elsewhere, nods or shakes their head at that time already goes on doing so.
    """

    kind: Literal["lines.react"] = "lines.react"
    #: Left out, all lines of figures.
    lines: Annotated[tuple[Id, ...], Field(max_length=5000)] = ()
    #: Who reacts; left out, all who speak in this scene, or everybody where one speaks alone.
    figures: Annotated[tuple[Id, ...], Field(max_length=200)] = ()

    def apply(self, scene: Scene) -> Outcome:
        for id_ in self.lines:
            find(scene, "lines", id_)
        said = [
            one for one in timed(scene) if one.line.figure and (not self.lines or one.line.id in self.lines)
        ]
        if not said:
            raise BadInput(
                "No figure says anything there.", "Write a line for a figure first.", field="lines"
            )
        speak = {one.line.figure for one in timed(scene)}
        usual = [f.id for f in scene.figures if len(speak - {None}) < 2 or f.id in speak]
        looks = nods = 0
        who: dict[str, None] = {}
        for id_ in self.figures or usual:
            name = find(scene, "figures", id_).name
            for one in said:
                if one.line.figure == id_:
                    continue
                for act in _reactions(scene, id_, one):
                    try:
                        scene, _ = AddAct(figure=id_, act=act).apply(scene)
                    except HeronError:
                        # There is no room for it beside what they do.
                        continue
                    looks, nods = looks + isinstance(act, LookAt), nods + isinstance(act, Nod)
                    who[name] = None
        if not who:
            raise Refused(
                "Nobody has anything more to react to.",
                "They look at who speaks already: change those acts by hand, or choose other lines.",
            )
        counts = [f"{n} {word}{'' if n == 1 else 's'}" for n, word in ((looks, "look"), (nods, "nod")) if n]
        return scene, f"{listed(list(who))} react{'s' if len(who) == 1 else ''}: {listed(counts)}"


def _reactions(scene: Scene, id_: str, one: TimedLine) -> list[AnyAct]:
    """What a listener does to a line, beside what they do already."""
    figure: Figure = find(scene, "figures", id_)
    fps, stage = float(parse_rate(scene.rate)), scene.frames
    out: list[AnyAct] = []
    first = one.first + round(_LATE_S * fps)
    last = min(one.last + round(_STAYS_S * fps), stage.last)
    busy = [act for act in figure.acts if isinstance(act, LookAct)]
    looks = any(isinstance(act, LookAt) and _meets(act.frames, first, last) for act in busy)
    if not looks and stage.first <= first < last:
        out.append(
            LookAt(
                at=OnFigure(figure=str(one.line.figure)),
                frames=Frames(first=first, last=last),
                bound=OnWord(line=one.line.id, word=0),
            )
        )
    begins = one.words[-1]
    ends = min(begins + round(_NOD_S * fps) - 1, stage.last)
    nods = any(not isinstance(act, LookAt) and _meets(act.frames, begins, ends) for act in busy)
    speaks = any(other.line.figure == id_ and other.first <= begins <= other.last for other in timed(scene))
    if (one.last - one.first + 1) / fps >= _NODS_FROM_S and not nods and not speaks and begins < ends:
        bound = OnWord(line=one.line.id, word=len(one.words) - 1)
        out.append(Nod(frames=Frames(first=begins, last=ends), energy=_NOD_ENERGY, bound=bound))
    return out


def _meets(frames: Frames, first: int, last: int) -> bool:
    return frames.first <= last and frames.last >= first
