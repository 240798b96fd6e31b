"""Three clocks for one moment: stage frame, shot frame, cut timecode."""

from functools import cached_property
from typing import Any

import numpy as np

from heron.cut.layout import Placed, lay_out
from heron.scene.document import Scene
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
    def mix_table(self) -> tuple[Ints, Ints, Floats, Floats, Floats]:
        """For each cut frame, (n,) each, what is mixed into its picture.

        The other shot of a dissolve (−1: none) and its stage frame (−1 on a slate), the other's share, and how much of
        the shot and of the other are left by their fades. Shares are those of the middle of a frame, so that a fade of n
        frames goes evenly from 1/2n to 1 − 1/2n, and the two of a dissolve add up to 1.
        """
        n = self.length
        other, stage = np.full(n, -1, dtype=np.int64), np.full(n, -1, dtype=np.int64)
        share, own, others = np.zeros(n), np.ones(n), np.ones(n)
        at = np.arange(n)
        for i, p in enumerate(self.placed):
            own[p.cut_first : p.cut_last + 1] = _faded(p, at[p.cut_first : p.cut_last + 1])
            if not p.shot.dissolve or i == 0:
                continue
            before, after = p.shot.dissolve
            first = p.cut_first - before
            comes = (np.arange(before + after) + 0.5) / (before + after)
            for k, q, cuts in (
                (i, p, at[first : p.cut_first]),
                (i - 1, self.placed[i - 1], at[p.cut_first : p.cut_first + after]),
            ):
                other[cuts], others[cuts] = k, _faded(q, cuts)
                if q.shot.camera is not None:
                    stage[cuts] = q.shot.stage.first + cuts - q.cut_first
                share[cuts] = comes[cuts - first] if k == i else 1 - comes[cuts - first]
        return other, stage, share, own, others

    @cached_property
    def stage_table(self) -> Ints:
        """For each stage frame of the scene, (n,) the first cut frame that shows it, or −1."""
        first = np.full(self.stage.count, -1, dtype=np.int64)
        stage = self.cut_table[1]
        for cut in range(self.length - 1, -1, -1):
            if stage[cut] >= 0:
                first[stage[cut] - self.stage.first] = cut
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


def _faded(placed: Placed, cuts: Ints) -> Floats:
    """(n,) how much of a shot's picture its fades leave at cut frames, also beyond its ends."""
    shot, left = placed.shot, np.ones(len(cuts))
    if shot.fade_in:
        left *= np.clip((cuts - placed.cut_first + 0.5) / shot.fade_in, 0.0, 1.0)
    if shot.fade_out:
        left *= np.clip((placed.cut_last - cuts + 0.5) / shot.fade_out, 0.0, 1.0)
    return left
