"""Shots beside each other: how many frames they have to spare for their ends, their fades and their dissolves."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

from heron.model import changed
from heron.scene.shot import Shot
from heron.timebase import Frames


@dataclass(frozen=True)
class Part:
    """A shot's numbers: black frames before it, its first stage frame, and how many it shows."""

    shot: Shot
    gap: int
    first: int
    count: int

    @property
    def done(self) -> Shot:
        """The shot with these numbers."""
        stage = Frames(first=self.first, last=self.first + self.count - 1)
        kept = self.shot.stage == stage and self.shot.gap_before == self.gap
        return self.shot if kept else changed(self.shot, stage=stage, gap_before=self.gap)


@dataclass(frozen=True)
class Room:
    """Frames left of something that must not run out; what is said where it does is made when it is asked for."""

    frames: int
    why: Callable[[], str]


def parts_of(shots: Sequence[Shot]) -> list[Part]:
    """The numbers of some shots, in order."""
    return [Part(shot, shot.gap_before, shot.stage.first, shot.stage.count) for shot in shots]


def rooms(parts: Sequence[Part], i: int, stage: Frames) -> Iterator[Room]:
    """What is left for one of some shots in order; every number is linear in the numbers of it and its neighbours.

    A dissolve takes frames beyond the ends of both shots, so that no place in the cut changes: so many more of the shot
    before after the joint, and so many earlier ones of the shot itself before it. A fade takes its shot's own frames.
    """
    part = parts[i]
    shot, name = part.shot, part.shot.name
    before, after = shot.dissolve or (0, 0)
    later = parts[i + 1].shot.dissolve if i + 1 < len(parts) else None
    taken = max(after, shot.fade_in) + max(later[0] if later else 0, shot.fade_out)
    yield Room(
        part.count - max(taken, 1),
        lambda: (
            f"shot {name} has fades and dissolves on those frames"
            if taken > 1
            else f"shot {name} would have no frames left"
        ),
    )
    yield Room(part.gap, lambda: f"shot {name} would begin before the shot in front of it ends")
    if shot.camera is not None:
        yield Room(
            part.first - before - stage.first,
            lambda: f"the stage begins at {stage.first}: shot {name} has no earlier frames",
        )
        yield Room(
            stage.stop - (part.first + part.count) - (later[1] if later else 0),
            lambda: f"the stage ends at {stage.last}: shot {name} has no later frames",
        )


def misfits(shots: Sequence[Shot], stage: Frames) -> Iterator[str]:
    """What a cut lacks frames for, in sentences without their ends."""
    parts = parts_of(shots)
    for i, shot in enumerate(shots):
        yield from (
            f"{room.why()} ({-room.frames} f missing)" for room in rooms(parts, i, stage) if room.frames < 0
        )
        if shot.dissolve and (i == 0 or shot.gap_before):
            yield f"shot {shot.name} dissolves in, but touches no shot before it"


def parted(before: Sequence[Shot], after: Sequence[Shot]) -> tuple[tuple[Shot, ...], str]:
    """A cut without the dissolves whose two shots no longer touch, and what is said of that, as the end of a sentence."""
    led = {two.id: one for one, two in zip(before, before[1:], strict=False)}
    had = {shot.id: shot.dissolve for shot in before}
    out, said = [], ""
    for i, shot in enumerate(after):
        if shot.dissolve and shot.dissolve == had.get(shot.id):
            ahead, was = after[i - 1] if i else None, led.get(shot.id)
            # What ends as the shot before did is its second half, or what it was joined with.
            ends = ahead and was and (ahead.camera, ahead.stage.stop) == (was.camera, was.stage.stop)
            if not ahead or not was or shot.gap_before or not (ahead.id == was.id or ends):
                shot = changed(shot, dissolve=None)
                said += f"; the dissolve into shot {shot.name} is a plain cut now"
        out.append(shot)
    return tuple(out), said
