"""Three clocks for one moment: stage frame, shot frame, cut timecode."""

from functools import cached_property
from typing import Any

import numpy as np

from heron.cut.layout import lay_out
from heron.scene.document import Scene
from heron.timebase import format_timecode, parse_rate, parse_timecode
from heron.timebase.timecode import labels

Ints = np.ndarray[Any, np.dtype[np.int64]]


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
        """For each cut frame: (n,) the shot's index and (n,) the stage frame; −1 in a gap."""
        shot = np.full(self.length, -1, dtype=np.int64)
        stage = np.full(self.length, -1, dtype=np.int64)
        for i, p in enumerate(self.placed):
            shot[p.cut_first : p.cut_last + 1] = i
            stage[p.cut_first : p.cut_last + 1] = p.shot.stage.array()
        return shot, stage

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
        """(shot index, stage frame) at a cut frame; None in a gap or outside the cut."""
        if not 0 <= cut < self.length:
            return None
        shot, stage = (int(table[cut]) for table in self.cut_table)
        return None if shot < 0 else (shot, stage)

    def to_cut(self, shot: int, stage: int) -> int:
        """The cut frame at which a shot shows a stage frame; the inverse of `to_stage`."""
        placed = self.placed[shot]
        return placed.cut_first + stage - placed.shot.stage.first

    def shot_frame(self, shot: int, stage: int) -> int:
        """Frames since the shot's first, counted from 1."""
        return stage - self.placed[shot].shot.stage.first + 1
