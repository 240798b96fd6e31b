"""Two takes held against each other: which frame stands beside which, and what became different."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import groupby
from typing import Literal


@dataclass(frozen=True)
class Shown:
    """A frame of a take's movie: where in the cut it is, what it shows, and the fingerprint of its picture."""

    shot: str
    camera: str
    stage: int
    picture: str


@dataclass(frozen=True)
class Did:
    """A line of the history: its kind is do, undo or redo; `of` is the revision that the latter two are about."""

    revision: int
    kind: str
    sentence: str
    of: int | None = None


#: A frame of a movie; None is black.
Movie = Sequence[Shown | None]


def beside(one: Movie, other: Movie, by: Literal["cut", "stage"]) -> list[int | None]:
    """For each frame of one movie, which of the other's stands beside it; None where nothing does.

    By the cut it is the frame at the same place. By the stage it is the one that shows the same moment through the
    same camera: in the shot of the same name, else in whichever shot has it; where timing changed, what happens is
    the same on both sides.
    """
    if by == "cut":
        return [i if i < len(other) else None for i in range(len(one))]
    exact: dict[tuple[str, str, int], int] = {}
    same: dict[tuple[str, int], int] = {}
    for i, there in reversed(list(enumerate(other))):
        if there is not None:
            exact[there.shot, there.camera, there.stage] = i
            same[there.camera, there.stage] = i
    return [
        None
        if shown is None
        else exact.get((shown.shot, shown.camera, shown.stage), same.get((shown.camera, shown.stage)))
        for shown in one
    ]


def different(one: Movie, other: Movie) -> list[str]:
    """Which shots of the newer movie, `one`, look different than in the other, in sentences."""
    out = []
    pairs = beside(one, other, "stage")
    shots = [(shown, pairs[i]) for i, shown in enumerate(one) if shown is not None]
    was = {shown.shot: shown.camera for shown in other if shown is not None}
    for name, group in groupby(shots, key=lambda pair: pair[0].shot):
        frames = list(group)
        count, camera = len(frames), frames[0][0].camera
        called = f"Shot {name}" if name else f"Camera {camera}"
        if name and name not in was:
            out.append(f"{called} is new.")
            continue
        if name and was[name] != camera:
            out.append(f"{called} is on camera {camera}; it was on {was[name]}.")
            continue
        again = sum(at is None for _, at in frames)
        others = sum(1 for shown, at in frames if at is not None and _picture(other, at) != shown.picture)
        length = sum(1 for shown in other if shown is not None and shown.shot == name)
        if length != count:
            out.append(f"{called} is {count} frames; it was {length}.")
        if others or again:
            told = (
                "all frames look" if others + again == count else f"{others + again} of {count} frames look"
            )
            out.append(f"{called}: {told} different.")
    there = {shown.shot for shown in one if shown is not None}
    out += [f"Shot {name} is gone." for name in was if name and name not in there]
    return out or ["No frame changed."]


def _picture(movie: Movie, at: int) -> str:
    shown = movie[at]
    return shown.picture if shown else ""


def done_between(history: Iterable[Did]) -> list[str]:
    """What was done, the oldest first, less what was taken back again within it."""
    standing: dict[int, str] = {}
    taken_back: dict[int, str] = {}
    for did in history:
        if did.kind == "do":
            standing[did.revision] = did.sentence
        elif did.kind == "undo" and did.of in standing:
            taken_back[did.of] = standing.pop(did.of)
        elif did.kind == "redo" and did.of in taken_back:
            standing[did.of] = taken_back.pop(did.of)
        else:
            # It is about something from before.
            standing[did.revision] = did.sentence
    return [standing[at] for at in sorted(standing)]
