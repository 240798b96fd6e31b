"""A cut that came back from the edit: which clip is which shot, and what was done to it."""

import re
from collections.abc import Collection, Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field
from scipy.optimize import linear_sum_assignment

from heron.model import Id, Label, Model, changed
from heron.scene import Scene, Shot
from heron.timebase import Frames
from heron.timebase.frames import MAX_FRAMES

How = Literal["id", "name", "range", "none"]
#: What can be taken of what came back.
Taken = Literal["moved", "trimmed", "slipped", "black", "gone", "new", "pieces", "re-timed"]
EVERYTHING: tuple[Taken, ...] = ("moved", "trimmed", "slipped", "black", "gone", "new", "pieces", "re-timed")
#: How much a clip looks like a shot: by its id, its name, its number in the name, its camera; less than the last is no match.
_ID, _NAME, _NUMBER, _CAMERA, _LEAST = 1000.0, 100.0, 80.0, 20.0, 5.0


class Came(Model):
    """A clip of a cut that came back.

    Attributes:
        shot: the id that it was handed over with, or none; camera: a camera's letter.
        first, count: frames of the stage that it shows, where it says that.
        gap: black frames before it; speed: how quick it is played.
    """

    name: Label
    shot: Id | None = None
    camera: Label = ""
    first: Annotated[int, Field(ge=-MAX_FRAMES, le=2 * MAX_FRAMES)]
    count: Annotated[int, Field(ge=1, le=MAX_FRAMES)]
    gap: Annotated[int, Field(ge=0, le=MAX_FRAMES)] = 0
    speed: Annotated[float, Field(ge=-1000, le=1000)] = 1.0

    @property
    def last(self) -> int:
        """Its last frame of the stage."""
        return self.first + self.count - 1


@dataclass(frozen=True)
class Line:
    """What became of a clip, or of a shot that is not in the cut that came back.

    Attributes:
        clip: which of the clips; None of a shot that is gone.
        shot: the id of the shot it is, or a second piece of; None where it is new.
        what: in words of one kind each, as `head +3`.
        shown: whether all of it can be shown.
    """

    clip: int | None
    shot: str | None
    match: How
    what: tuple[str, ...]
    stage: tuple[int, int] | None
    shown: bool
    sentence: str

    @property
    def key(self) -> str:
        """What names it: its shot, or its clip where it is new or a second piece."""
        beside = self.shot is None or "second piece" in self.what
        return f"clip-{self.clip}" if beside else self.shot or ""


def compared(scene: Scene, clips: Sequence[Came]) -> list[Line]:
    """What became of each clip, in order, and then of shots that are gone."""
    shots = list(scene.shots)
    scores = np.array(
        [
            [_score(scene, clip, i, shot, len(clips), k) for i, shot in enumerate(shots)]
            for k, clip in enumerate(clips)
        ]
    )
    scores = scores.reshape(len(clips), len(shots))
    pairs: dict[int, int] = {}
    if scores.size:
        for k, i in zip(*linear_sum_assignment(-scores), strict=True):
            if scores[k, i] >= _LEAST:
                pairs[int(k)] = int(i)
    stays = _longest_run([pairs[k] for k in sorted(pairs)])
    out = []
    for k, clip in enumerate(clips):
        found = pairs.get(k)
        if found is not None:
            out.append(_matched(scene, clip, k, shots[found], found in stays, scores[k, found]))
            continue
        best = int(np.argmax(scores[k])) if scores.shape[1] else -1
        if best >= 0 and scores[k, best] >= _LEAST:
            out.append(_piece(scene, clip, k, shots[best], scores[k, best]))
        else:
            stage, _ = _shown(scene, clip)
            out.append(
                Line(
                    k,
                    None,
                    "none",
                    ("new",),
                    stage,
                    False,
                    f"{clip.name or 'A clip'} is new, {clip.count} f: it becomes a slate",
                )
            )
    gone = [shot for i, shot in enumerate(shots) if i not in pairs.values()]
    out += [Line(None, shot.id, "none", ("gone",), None, False, f"{shot.name} is gone") for shot in gone]
    return out


def _score(scene: Scene, clip: Came, i: int, shot: Shot, clips: int, k: int) -> float:
    score = _ID if clip.shot == shot.id else 0.0
    named = _plain(clip.name)
    known = clip.shot is not None and any(one.id == clip.shot for one in scene.shots)
    if not known:
        if named and named == _plain(shot.name):
            score += _NAME
        elif re.search(rf"(?<![0-9a-z]){re.escape(_plain(shot.name))}(?![0-9a-z])", named):
            score += _NUMBER
    elif not score:
        return 0.0
    both = min(clip.last, shot.stage.last) - max(clip.first, shot.stage.first) + 1
    letter = next((c.letter for c in scene.cameras if c.id == shot.camera), "")
    same_camera = bool(letter) and clip.camera == letter
    if both > 0 and (same_camera or score or not clip.camera):
        union = max(clip.last, shot.stage.last) - min(clip.first, shot.stage.first) + 1
        score += (
            (_CAMERA if same_camera else 0.0)
            + 10.0 * both / union
            + 5.0 * both / min(clip.count, shot.stage.count)
        )
    if score:
        score -= 2.0 * abs(k / max(clips - 1, 1) - i / max(len(scene.shots) - 1, 1))
    return score


def _plain(name: str) -> str:
    """A name without an ending, a version or a frame number, in small letters."""
    text = re.sub(r"\.[a-z0-9]{2,4}$", "", name.strip().lower())
    text = re.sub(r"[._ -]v\d+$", "", text)
    return re.sub(r"[._]\d{4,}$", "", text).strip()


def _how(score: float, clip: Came, shot: Shot) -> How:
    if clip.shot == shot.id:
        return "id"
    return "name" if score >= _NUMBER - 3 else "range"


def _longest_run(places: list[int]) -> set[int]:
    """The longest part of some numbers, in order, that rises: one that moved is one that is not in it."""
    runs: list[list[int]] = []
    for place in places:
        before: list[int] = []
        for run in runs:
            if run[-1] < place and len(run) > len(before):
                before = run
        runs.append([*before, place])
    return set(sorted(runs, key=len)[-1]) if runs else set()


def _shown(scene: Scene, clip: Came) -> tuple[tuple[int, int], bool]:
    return (clip.first, clip.last), scene.frames.first <= clip.first and clip.last <= scene.frames.last


def _matched(scene: Scene, clip: Came, k: int, shot: Shot, stays: bool, score: float) -> Line:
    head, tail = shot.stage.first - clip.first, clip.last - shot.stage.last
    what, said = [], []
    if head == -tail and head:
        what.append("slipped")
        said.append(f"slipped {abs(head)} f {'earlier' if head > 0 else 'later'}")
    else:
        for name, by in (("head", head), ("tail", tail)):
            if by:
                what.append(f"{name} {by:+d}")
                said.append(f"{name} {by:+d} f")
    if not stays:
        what.insert(0, "moved")
        said.insert(0, "moved")
    if clip.gap != shot.gap_before:
        what.append(f"black {clip.gap - shot.gap_before:+d}")
        said.append(f"black before it {shot.gap_before} to {clip.gap} f")
    if clip.speed != 1:
        what.append("re-timed")
        said.append(f"played at {clip.speed:g} times its speed: cannot be shown, kept at 1")
    said += _ends(scene, clip, shot)
    stage, shown = _shown(scene, clip)
    look = " (by its range alone: look)" if _how(score, clip, shot) == "range" else ""
    sentence = f"{shot.name}: unchanged" if not said else f"{shot.name}: {', '.join(said)}"
    return Line(
        k,
        shot.id,
        _how(score, clip, shot),
        tuple(what) or ("same",),
        stage,
        shown and clip.speed == 1,
        sentence + look,
    )


def _piece(scene: Scene, clip: Came, k: int, shot: Shot, score: float) -> Line:
    stage, shown = _shown(scene, clip)
    said = [f"{clip.name or 'A clip'} is a second piece of {shot.name}", *_ends(scene, clip, shot)]
    return Line(k, shot.id, _how(score, clip, shot), ("second piece",), stage, shown, ", ".join(said))


def _ends(scene: Scene, clip: Came, shot: Shot) -> list[str]:
    """What of a clip lies beyond the scene, or beyond where its camera's move ends."""
    out = []
    outside = max(scene.frames.first - clip.first, 0) + max(clip.last - scene.frames.last, 0)
    if outside and shot.camera is not None:
        out.append(
            f"cannot be shown: {min(outside, clip.count)} f lie outside the scene (lengthen it, or trim the shot)"
        )
    camera = next((c for c in scene.cameras if c.id == shot.camera), None)
    if camera is not None and clip.last > shot.stage.last:
        ends = max(
            (key.frame for spec in camera.specs() for key in camera.channel(spec.name).keys), default=None
        )
        if ends is not None and shot.stage.first <= ends < clip.last:
            out.append(f"the camera's move ends at {ends}")
    return out


def conformed(
    scene: Scene, clips: Sequence[Came], take: Sequence[Taken] = EVERYTHING, prefix: str = "came", leave: Collection[str] = ()
) -> tuple[Shot, ...]:  # fmt: skip
    """The cut as it came back, or with what is taken of it alone.

    Args:
        take: what kinds of changes; leave: keys of lines that are left as they are now; prefix: begins the ids of what is new.
    """
    lines = compared(scene, clips)
    by_id = {shot.id: shot for shot in scene.shots}
    taken = set(take)
    ids, names = set(by_id), {shot.name for shot in scene.shots}
    made: dict[int, Shot] = {}
    for line in lines:
        if line.clip is None or (line.key in leave and line.key.startswith("clip-")):
            continue
        clip = clips[line.clip]
        shot = by_id.get(line.shot or "")
        if shot is None:
            if "new" in taken:
                made[line.clip] = Shot(
                    id=_unused(f"{prefix}-{line.clip}", ids), name=_free(clip.name or "New", names), stage=Frames(first=1, last=clip.count),
                    gap_before=clip.gap if "black" in taken else 0,
                )  # fmt: skip
        elif "second piece" in line.what:
            if "pieces" in taken and line.shown:
                made[line.clip] = changed(
                    shot, id=_unused(f"{prefix}-{line.clip}", ids), name=_free(shot.name, names), stage=Frames(first=clip.first, last=clip.last),
                    gap_before=clip.gap if "black" in taken else 0, dissolve=None, fade_in=0, fade_out=0, sound_lead=0,
                )  # fmt: skip
        else:
            made[line.clip] = shot if line.key in leave else _changed(scene, shot, clip, line, taken)
    done = {lines[k].shot: k for k in made if "second piece" not in lines[k].what}
    ids_now = [shot.id for shot in scene.shots]
    remains = {
        shot.id for shot in scene.shots if shot.id not in done and ("gone" not in taken or shot.id in leave)
    }
    if "moved" in taken:
        # What moved and is left goes back behind the shots that it was behind, as what is gone and left does.
        stays = {line.shot for line in lines if line.key in leave and "moved" in line.what}
        order = [made[k] for k in sorted(made) if made[k].id not in stays]
        for i, shot in enumerate(scene.shots):
            if shot.id in remains or shot.id in stays:
                at = max((k for k, one in enumerate(order) if one.id in ids_now[:i]), default=-1)
                order.insert(at + 1, shot)
        return tuple(order)
    order = [
        made[done[shot.id]] if shot.id in done else shot
        for shot in scene.shots
        if shot.id in done or shot.id in remains
    ]
    for k in sorted(made):
        if made[k].id in {one.id for one in order}:
            continue
        ahead = [made[j].id for j in range(k) if j in made]
        at = max((i for i, one in enumerate(order) if ahead and one.id == ahead[-1]), default=-1)
        order.insert(at + 1, made[k])
    return tuple(order)


def _changed(scene: Scene, shot: Shot, clip: Came, line: Line, taken: set[Taken]) -> Shot:
    first, last = shot.stage.first, shot.stage.last
    if "slipped" in line.what:
        if "slipped" in taken:
            first, last = clip.first, clip.last
    elif "trimmed" in taken:
        first, last = clip.first, clip.last
    if shot.camera is not None:
        # What lies outside the scene cannot be shown: so much of it stays black.
        first, last = max(first, scene.frames.first), min(last, scene.frames.last)
    if last < first:
        first, last = shot.stage.first, shot.stage.last
    gap = clip.gap if "black" in taken else shot.gap_before
    return changed(shot, stage=Frames(first=first, last=last), gap_before=gap)


def _unused(id_: str, ids: set[str]) -> str:
    one, k = id_, 2
    while one in ids:
        one, k = f"{id_}-{k}", k + 1
    ids.add(one)
    return one


def _free(name: str, names: set[str]) -> str:
    one, k = name[:76] or "New", 2
    while one in names:
        one, k = f"{name[:74]} {k}", k + 1
    names.add(one)
    return one
