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
