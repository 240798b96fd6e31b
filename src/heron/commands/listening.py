"""Listeners who look at whoever speaks."""

from typing import Any, Literal

from pydantic import Field

from heron.commands.acts import put
from heron.commands.base import Command, Outcome, listed
from heron.errors import Refused
from heron.model import Id, new_id
from heron.scene import Scene, find
from heron.stage.acts.body import Talk
from heron.stage.acts.look import LookAt
from heron.stage.figure import Figure
from heron.stage.reference import OnFigure
from heron.timebase import Frames, parse_rate

#: A listener's eyes come to a speaker so long after the first word, seconds (common practice).
AFTER_S = 0.2


class Listen(Command):
    """Have figures look at whichever of them talks, while it talks; what they look at already stays."""

    kind: Literal["figures.listen"] = "figures.listen"
    #: Who is in the conversation; left out, everybody.
    ids: tuple[Id, ...] = Field(default=(), max_length=100)

    def apply(self, scene: Scene) -> Outcome:
        people: list[Figure] = [find(scene, "figures", id_) for id_ in self.ids] or list(scene.figures)
        after = round(AFTER_S * float(parse_rate(scene.rate)))
        out, looks = scene, 0
        for speaker in people:
            for talk in (act for act in speaker.acts if isinstance(act, Talk)):
                first = min(talk.frames.first + after, talk.frames.last)
                span = Frames(first=first, last=talk.frames.last)
                for other in people:
                    listener: Figure = find(out, "figures", other.id)
                    if other.id == speaker.id or _looks_there(listener, speaker.id, span):
                        continue
                    look = LookAt(id=new_id("act"), at=OnFigure(figure=speaker.id, joint="eyes"), frames=span)
                    acts: list[Any] = list(listener.acts)
                    out, _ = put(out, listener, acts, look)
                    looks += 1
        if not looks:
            raise Refused(
                "Everybody looks at whoever talks already, or nobody talks.",
                "Have somebody talk, or change the looks by hand.",
                field="ids",
            )
        names = listed([one.name for one in people])
        return out, f"{names} look at whoever talks: {looks} look{'s' if looks > 1 else ''}"


def _looks_there(listener: Figure, speaker: str, span: Frames) -> bool:
    """Whether somebody looks at a speaker for most of a span already."""
    there = sum(
        max(min(look.frames.last, span.last) - max(look.frames.first, span.first) + 1, 0)
        for look in listener.gazes
        if isinstance(look.at, OnFigure) and look.at.figure == speaker
    )
    return 2 * there > span.count
