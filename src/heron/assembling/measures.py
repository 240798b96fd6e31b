"""A cut in four numbers, those that an assembly is asked by: pace, reaction, lead and how close it is."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from heron.assembling.angles import angles
from heron.assembling.people import said, speaking, talkers
from heron.bake import Bake
from heron.framing.shot_size import SIZES
from heron.scene import Shot, find
from heron.timebase import Frames, parse_rate

#: A cut belongs to the beginning of a line that is no farther off, seconds.
_NEAR_S = 1.0


@dataclass(frozen=True)
class Measures:
    """Of a cut.

    Attributes:
        pace: the median length of a shot, seconds.
        hearing: the share of what is said over pictures that are of somebody else than who says it.
        lead: the median of frames from the beginning of a line to the cut to its speaker; None, there is no such cut.
        size: the median, as the trade says it.
    """

    pace: float
    hearing: float
    lead: int | None
    size: str


def measured(bake: Bake, shots: Sequence[Shot]) -> Measures | None:
    """Measure some shots; None where there is nothing of a conversation in them."""
    on = [shot for shot in shots if shot.camera is not None]
    if not on:
        return None
    frames = Frames(first=min(s.stage.first for s in on), last=max(s.stage.last for s in on))
    people = talkers(bake, frames)
    if not people:
        return None
    fps = float(parse_rate(bake.scene.rate))
    ids = list(dict.fromkeys(shot.camera or "" for shot in on))
    found = angles(bake, tuple(find(bake.scene, "cameras", id_) for id_ in ids), people, frames)
    lines = said(bake, frames, people)
    speaks = speaking(lines, frames.count)
    spoken = heard = 0
    sizes: list[int] = []
    leads = []
    for shot in on:
        camera = ids.index(shot.camera or "")
        at = slice(shot.stage.first - frames.first, shot.stage.stop - frames.first)
        subject, who = found.subject[camera, at], speaks[at]
        spoken += int((who >= 0).sum())
        heard += int(((who >= 0) & (subject != who) & (subject < len(people))).sum())
        sizes += [int(one) for one in found.size[camera, at] if one < len(SIZES)]
        near = [at.start - one.first for one in lines if one.speaker == subject[0]]
        near = [by for by in near if abs(by) <= _NEAR_S * fps]
        leads += [min(near, key=abs)] if near and at.start else []
    return Measures(
        round(float(np.median([shot.stage.count for shot in on])) / fps, 2),
        round(heard / max(spoken, 1), 3),
        round(float(np.median(leads))) if leads else None,
        SIZES[round(float(np.median(sizes)))] if sizes else "",
    )
