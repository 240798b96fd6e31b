"""Three clocks for one moment: stage frame, shot frame, cut timecode."""

from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np

from heron.cut.layout import Placed, lay_out
from heron.scene.document import Scene
from heron.stage.colour import light_of
from heron.timebase import format_timecode, parse_rate, parse_timecode
from heron.timebase.timecode import labels

Ints = np.ndarray[Any, np.dtype[np.int64]]
Floats = np.ndarray[Any, np.dtype[np.float64]]


class Clocks:
    """Maps between the clocks of a scene.

    A cut frame shows at most one stage frame, of one shot. A stage frame may be shown by
    several shots, or by none; it maps back to the first cut frame that shows it.
    """

    def __init__(self, scene: Scene) -> None:
        self.placed = lay_out(scene)
        self.stage = scene.frames
        self.rate = parse_rate(scene.rate)
        self.drop = ";" in scene.cut_start
        self.start = parse_timecode(scene.cut_start, self.rate)

    @property
    def length(self) -> int:
        """Frames in the cut, gaps included."""
        return self.placed[-1].cut_last + 1 if self.placed else 0

    @cached_property
    def cut_table(self) -> tuple[Ints, Ints]:
        """For each cut frame: (n,) the shot's index and (n,) the stage frame; −1 in a gap, and no stage frame on a slate."""
        shot = np.full(self.length, -1, dtype=np.int64)
        stage = np.full(self.length, -1, dtype=np.int64)
        for i, p in enumerate(self.placed):
            shot[p.cut_first : p.cut_last + 1] = i
            if p.shot.camera is not None:
                stage[p.cut_first : p.cut_last + 1] = p.shot.stage.array()
        return shot, stage

    @cached_property
    def mix_table(self) -> "Mix":
        """What the picture of each cut frame is added up from, where it is more than its shot's own."""
        n = self.length
        mix = Mix(
            np.full(n, -1, dtype=np.int64),
            np.full(n, -1, dtype=np.int64),
            np.ones(n),
            np.zeros(n),
            np.zeros((n, 3)),
        )
        for i, p in enumerate(self.placed):
            if p.shot.fade_in or p.shot.fade_out:
                own = np.arange(p.cut_first, p.cut_last + 1)
                mix.add(own, p, np.ones(len(own)), mix.own)
            if p.shot.dissolve and i > 0:
                before, after = p.shot.dissolve
                cuts = np.arange(p.cut_first - before, p.cut_first + after)
                share = (np.arange(before + after) + 0.5) / (before + after)
                mix.dissolve(cuts[:before], i, p, share[:before])
                mix.dissolve(cuts[before:], i - 1, self.placed[i - 1], 1 - share[before:])
        return mix

    @cached_property
    def stage_table(self) -> Ints:
        """For each stage frame of the scene, (n,) the first cut frame that shows it, or −1."""
        first = np.full(self.stage.count, -1, dtype=np.int64)
        stage = self.cut_table[1]
        # Of several that show it, the last one written stays: so from the last to the first.
        cuts = np.flatnonzero(stage >= 0)[::-1]
        first[stage[cuts] - self.stage.first] = cuts
        return first

    def timecode(self, cut: int) -> str:
        """The cut timecode of a cut frame."""
        return format_timecode(self.start + cut, self.rate, self.drop)

    def timecode_labels(self) -> Ints:
        """(n, 4) hours, minutes, seconds, frames for each cut frame and the one past the last."""
        return labels(self.start + np.arange(self.length + 1), self.rate, self.drop)

    def to_stage(self, cut: int) -> tuple[int, int] | None:
        """(shot index, stage frame) at a cut frame; None in a gap, on a slate or outside the cut."""
        if not 0 <= cut < self.length:
            return None
        shot, stage = (int(table[cut]) for table in self.cut_table)
        return None if stage < 0 else (shot, stage)

    def to_cut(self, shot: int, stage: int) -> int:
        """The cut frame at which a shot shows a stage frame; the inverse of `to_stage`."""
        placed = self.placed[shot]
        return placed.cut_first + stage - placed.shot.stage.first

    def shot_frame(self, shot: int, stage: int) -> int:
        """Frames since the shot's first, counted from 1."""
        return stage - self.placed[shot].shot.stage.first + 1


@dataclass(frozen=True)
class Mix:
    """What the pictures of the cut are added up from, in linear light; (n,) for the cut's frames.

    Shares are those of the middle of a frame: a fade of n frames goes evenly from 1/2n to 1 − 1/2n, and the two of a
    dissolve add up to 1.

    Attributes:
        other: the shot that is mixed in, −1 where none is; stage is its stage frame, −1 on a slate.
        own, others: the weights of the two.
        light: (n, 3) what the colours of fades add.
    """

    other: Ints
    stage: Ints
    own: Floats
    others: Floats
    light: Floats

    def add(self, cuts: Ints, placed: Placed, share: Floats, weights: Floats) -> None:
        """A shot's picture by its share, as its fades leave it, also beyond its ends."""
        shot, left = placed.shot, np.ones(len(cuts))
        if shot.fade_in:
            left *= np.clip((cuts - placed.cut_first + 0.5) / shot.fade_in, 0.0, 1.0)
        if shot.fade_out:
            left *= np.clip((placed.cut_last - cuts + 0.5) / shot.fade_out, 0.0, 1.0)
        weights[cuts] = share * left
        self.light[cuts] += (share * (1 - left))[:, None] * light_of(shot.fade_colour)

    def dissolve(self, cuts: Ints, i: int, placed: Placed, share: Floats) -> None:
        """Mix another shot into frames that are there."""
        self.own[cuts] *= 1 - share
        self.light[cuts] *= (1 - share)[:, None]
        self.other[cuts] = i
        if placed.shot.camera is not None:
            self.stage[cuts] = placed.shot.stage.first + cuts - placed.cut_first
        self.add(cuts, placed, share, self.others)

    @property
    def frames(self) -> Ints:
        """The cut frames whose picture is more than their shot's own."""
        return np.flatnonzero((self.other >= 0) | (self.own < 1))
