"""Where each shot lies in the cut."""

from dataclasses import dataclass

from heron.scene.document import Scene
from heron.scene.shot import Shot


@dataclass(frozen=True)
class Placed:
    """A shot and the cut frames it fills, both ends included; the cut starts at 0."""

    shot: Shot
    cut_first: int
    cut_last: int


def stage_step(before: Placed, after: Placed) -> int | None:
    """How stage time goes on at a joint: 0 frame after frame, less than that repeats action, more skips it.

    None where black lies between the two shots, or one of them is a slate.
    """
    if before.shot.camera is None or after.shot.camera is None:
        return None
    if after.cut_first != before.cut_last + 1:
        return None
    return after.shot.stage.first - before.shot.stage.stop


def lay_out(scene: Scene) -> list[Placed]:
    """Every shot in cut order.

    gap_before  shot.stage.count
    |<- black ->|<--- shot --->|
    """
    placed, at = [], 0
    for shot in scene.shots:
        at += shot.gap_before
        placed.append(Placed(shot, at, at + shot.stage.count - 1))
        at += shot.stage.count
    return placed
