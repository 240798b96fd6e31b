"""Shots beside each other: how many frames they have to spare for their ends, fades, dissolves and the sound they lead by."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

from heron.model import changed
from heron.scene.shot import Shot
from heron.timebase import Frames


@dataclass(frozen=True)
class Part:
    """A shot's numbers: black frames before it, its first stage frame, how many it shows, and by how many its sound leads."""

    shot: Shot
    gap: int
    first: int
    count: int
    lead: int = 0

    @property
    def done(self) -> Shot:
        """The shot with these numbers."""
        stage = Frames(first=self.first, last=self.first + self.count - 1)
        numbers = (stage, self.gap, self.lead)
        if numbers == (self.shot.stage, self.shot.gap_before, self.shot.sound_lead):
            return self.shot
        return changed(self.shot, stage=stage, gap_before=self.gap, sound_lead=self.lead)


@dataclass(frozen=True)
class Room:
    """Frames left of something that must not run out; what is said where it does is made when it is asked for."""

    frames: int
    why: Callable[[], str]


def parts_of(shots: Sequence[Shot]) -> list[Part]:
    """The numbers of some shots, in order."""
    return [
        Part(shot, shot.gap_before, shot.stage.first, shot.stage.count, shot.sound_lead) for shot in shots
    ]


def heard(shots: Sequence[Shot], i: int) -> Frames | None:
    """The stage frames of which a shot has the sound: those it shows, as far as sound does not lead or trail at its ends.

    None on a slate.
    """
    shot = shots[i]
    if shot.camera is None:
        return None
    later = shots[i + 1].sound_lead if i + 1 < len(shots) else 0
    return Frames(first=shot.stage.first - shot.sound_lead, last=shot.stage.last - later)


def rooms(parts: Sequence[Part], i: int, stage: Frames) -> Iterator[Room]:
    """What is left for one of some shots in order; every number is linear in the numbers of it and its neighbours.

    A dissolve takes frames beyond the ends of both shots, so that no place in the cut changes: so many more of the shot
    before after the joint, and so many earlier ones of the shot itself before it. A fade takes its shot's own frames. Sound that
    leads or trails takes frames beyond the ends as well.
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
    trail = -parts[i + 1].lead if i + 1 < len(parts) else 0
    yield Room(
        part.count + part.lead + trail - 1, lambda: f"the sound of shot {name} would have no frames left"
    )
    if shot.camera is not None:
        for ahead in (before, part.lead):
            yield Room(
                part.first - ahead - stage.first,
                lambda: f"the stage begins at {stage.first}: shot {name} has no earlier frames",
            )
        for behind in (later[1] if later else 0, trail):
            yield Room(
                stage.stop - (part.first + part.count) - behind,
                lambda: f"the stage ends at {stage.last}: shot {name} has no later frames",
            )


def misfits(shots: Sequence[Shot], stage: Frames) -> Iterator[str]:
    """What a cut lacks frames for, in sentences without their ends."""
    parts = parts_of(shots)
    for i, shot in enumerate(shots):
        yield from (
            f"{room.why()} ({-room.frames} f missing)" for room in rooms(parts, i, stage) if room.frames < 0
        )
        if i and not shot.gap_before:
            continue
        if shot.dissolve:
            yield f"shot {shot.name} dissolves in, but touches no shot before it"
        if shot.sound_lead:
            yield f"the sound of shot {shot.name} leads or trails, but the shot touches none before it"


def parted(before: Sequence[Shot], after: Sequence[Shot]) -> tuple[tuple[Shot, ...], str]:
    """A cut without the dissolves, and the leads of sound, whose two shots no longer touch; and what is said of that, as
    the end of a sentence.
    """
    led = {two.id: one for one, two in zip(before, before[1:], strict=False)}
    had = {shot.id: (shot.dissolve, shot.sound_lead) for shot in before}
    out, said = [], ""
    for i, shot in enumerate(after):
        joined = (shot.dissolve, shot.sound_lead)
        if any(joined) and joined == had.get(shot.id):
            ahead, was = after[i - 1] if i else None, led.get(shot.id)
            # What ends as the shot before did is its second half, or what it was joined with.
            ends = ahead and was and (ahead.camera, ahead.stage.stop) == (was.camera, was.stage.stop)
            if not ahead or not was or shot.gap_before or not (ahead.id == was.id or ends):
                said += f"; the dissolve into shot {shot.name} is a plain cut now" if shot.dissolve else ""
                said += (
                    f"; sound and picture of shot {shot.name} begin together now" if shot.sound_lead else ""
                )
                shot = changed(shot, dissolve=None, sound_lead=0)
        out.append(shot)
    return tuple(out), said
