"""The search for views: many by closed forms, the best of them over the whole range with rays, then others near those."""

import numpy as np

from heron.bake import Bake
from heron.errors import BadInput, Refused
from heron.framing.shot_size import SIZES
from heron.lookouts.asked import Asked, checked, said
from heron.lookouts.candidates import OVER, THROUGH, candidates
from heron.lookouts.ground import Ground, Poses
from heron.lookouts.reasons import reasons
from heron.lookouts.scoring import Judged, judge
from heron.model import Model, changed
from heron.timebase import Frames

#: So many are looked at over the whole range, with so many at most of one direction and lens; and so many near the best of them.
_SECOND, _ALIKE, _BEST, _NEAR = 160, 6, 12, 96
#: How far from one of the best another is tried, in the first round: degrees, metres, share of the distance.
_BY_DEG, _BY_M, _BY_FAR = 7.0, 0.12, 0.06
#: Two views are different enough if they differ so far in one of these, or by a size: degrees round and up, a power of two of the
#: distance, and across the frame.
_DIFFER, _DIFFER_OVER = np.array([22.0, 9.0, 0.6, 0.7]), np.array([10.0, 9.0, 0.6, 0.7])
_ROUND_DEG, _UP_DEG = 10.0, 6.0
#: What is so much worse than the best is not shown, unless there would be fewer than these.
_WORSE, _LEAST, MOST = 1.3, 4, 8
#: A cost of this leaves a score of 1 / e.
_SCALE = 1.5
#: Nobody sees a face of which so little is left, nor stands where it costs so much.
_UNSEEN, _NOWHERE = 0.05, 8.0


#: Wishes in the order in which they are given up.
_GIVEN_UP = ("way", "high", "thing", "size", "over", "through")


class ViewPose(Model):
    """Metres and degrees, level."""

    x: float
    y: float
    z: float
    pan: float
    tilt: float
    roll: float = 0.0


class Lookout(Model):
    """A view that was found.

    Attributes:
        score: 0 to 1, higher is better; seen: the share of the face that rays reach over the range.
        notes: kinds of notes that would be said of it.
        focus: the id of who is in focus; focus_m: how far off their eyes are at the middle of the range.
    """

    pose: ViewPose
    focal_mm: float
    score: float
    size: str
    seen: float
    notes: tuple[str, ...]
    reasons: tuple[str, ...]
    focus: str
    focus_m: float


def lookouts(bake: Bake, asked: Asked, frames: Frames, count: int = 6, rounds: int = 2) -> list[Lookout]:
    """The best views of what is asked for over some frames, different from each other, the best first.

    Args:
        rounds: how often others near the best are tried: without, they come sooner and are a little worse.

    Raises:
        BadInput, NotFound: it asks for nobody there; Refused: from nowhere is it seen.
    """
    scene = bake.scene
    checked(scene, asked)
    if not (scene.frames.first <= frames.first and frames.last <= scene.frames.last):
        raise BadInput(
            f"The stage has no frames {frames.first}–{frames.last}.",
            f"Give frames within {scene.frames.first}-{scene.frames.last}.", field="frames",
        )  # fmt: skip
    named = [one for one in (*asked.figures, asked.over, asked.through) if one is not None]
    ground = Ground(bake, frames, named)
    whole, judged = _found(ground, asked, count, rounds)
    if whole:
        return whole
    # The nearest to it: without one of the wishes, the least missed first.
    for name in _GIVEN_UP:
        if (wish := getattr(asked, name)) is not None:
            fewer = changed(asked, **{name: None})
            rest, _ = _found(ground, fewer, count, rounds)
            if rest:
                why = f"give up “{said(scene, name, wish)}”: nowhere is {_name(ground, asked)} seen so"
                return [changed(one, reasons=(*one.reasons, why)) for one in rest]
    by = sorted({one for some in judged.by for one in some}) if judged else []
    why = f": {', '.join(by[:3])} {'hides' if len(by) == 1 else 'hide'} them" if by else ""
    raise Refused(
        f"From nowhere outside the set is {_name(ground, asked)} seen{why}.",
        "Take other frames, or move what stands in the way.", field="ask",
    )  # fmt: skip


def _name(ground: Ground, asked: Asked) -> str:
    return str(ground.figures[ground.place(asked.figures[0]) if asked.figures else 0].name)


def _found(ground: Ground, asked: Asked, count: int, rounds: int) -> tuple[list[Lookout], Judged | None]:
    found = candidates(ground, asked)
    if not len(found):
        return [], None
    first = judge(ground, asked, found, whole=False)
    poses = found.of(_spread(first, found))
    judged = judge(ground, asked, poses, whole=True)
    rng = np.random.default_rng(7)
    for k in range(rounds):
        near = _near(ground, poses.of(np.argsort(judged.cost, kind="stable")[:_BEST]), rng, 0.5**k)
        poses, judged = poses + near, _joined(judged, judge(ground, asked, near, whole=True))
    chosen = _different(poses, judged, min(max(count, 1), MOST))
    return [_lookout(ground, asked, poses, judged, i) for i in chosen], judged


def _spread(first: Judged, found: Poses) -> list[int]:
    """The best, with only so many of one direction and lens."""
    chosen: list[int] = []
    taken: dict[tuple[int, int, int, int], int] = {}
    for i in np.argsort(first.cost, kind="stable").tolist():
        if first.cost[i] > _NOWHERE and chosen:
            break
        bucket = (
            int(first.round[i, 0] // 30),
            round(2 * float(np.log2(found.focal[i]))),
            int(found.kind[i]),
            int(found.who[i]),
        )
        if taken.get(bucket, 0) < _ALIKE:
            taken[bucket] = taken.get(bucket, 0) + 1
            chosen.append(i)
        if len(chosen) == _SECOND:
            break
    return chosen


def _near(ground: Ground, best: Poses, rng: np.random.Generator, by: float) -> Poses:
    """Others near the best, that keep the eyes where those have them in the frame."""
    poses = best.of(np.resize(np.arange(len(best)), _NEAR))
    n = len(poses)
    eyes = np.stack([ground.eyes(k, ground.middle) for k in range(len(ground.people))])[poses.who]
    turn = np.radians(rng.uniform(-_BY_DEG, _BY_DEG, n) * by)
    off = (poses.pose[:, :3] - eyes) * (1 + rng.uniform(-_BY_FAR, _BY_FAR, n) * by)[:, None]
    c, s = np.cos(turn), np.sin(turn)
    off = np.stack([off[:, 0] * c + off[:, 2] * s, off[:, 1], off[:, 2] * c - off[:, 0] * s], axis=1)
    off[:, 1] += rng.uniform(-_BY_M, _BY_M, n) * by
    still = poses.kind == THROUGH
    place = np.where(still[:, None], poses.pose[:, :3], eyes + off)
    way = (eyes - place) / np.maximum(np.linalg.norm(eyes - place, axis=1, keepdims=True), 1e-9)
    pan, tilt = ground.aimed(poses, way)
    pose = np.where(still[:, None], poses.pose, np.column_stack([place, pan, tilt]))
    good = np.isfinite(pose).all(axis=1)
    return Poses(pose, poses.focal, poses.kind, poses.who).of(good)


def _joined(a: Judged, b: Judged) -> Judged:
    return Judged(
        np.r_[a.cost, b.cost], np.r_[a.seen, b.seen], np.r_[a.faces, b.faces], np.r_[a.size, b.size], a.notes + b.notes, np.r_[a.round, b.round],
        np.r_[a.far, b.far], np.r_[a.across, b.across], a.by + b.by,
    )  # fmt: skip


def _different(poses: Poses, judged: Judged, count: int) -> list[int]:
    """The best that are different from each other; where those are few, also such as differ less, but never alike."""
    ok = (judged.cost < _NOWHERE) & (judged.seen > _UNSEEN)
    order = [i for i in np.argsort(judged.cost, kind="stable").tolist() if ok[i]]
    chosen: list[int] = []
    for least in (1.0, 0.0):
        for i in order:
            worse = judged.cost[i] > judged.cost[order[0]] + _WORSE
            if len(chosen) >= count or (worse and len(chosen) >= _LEAST):
                break
            if i not in chosen and all(
                _unlike(judged, i, j) and _apart(poses, judged, i, j) > least for j in chosen
            ):
                chosen.append(i)
        if len(chosen) >= _LEAST:
            break
    return sorted(chosen, key=lambda i: float(judged.cost[i]))


def _unlike(judged: Judged, i: int, j: int) -> bool:
    off = np.abs((judged.round[i] - judged.round[j] + 180) % 360 - 180)
    return bool(off[0] >= _ROUND_DEG or off[1] >= _UP_DEG or judged.size[i] != judged.size[j])


def _apart(poses: Poses, judged: Judged, i: int, j: int) -> float:
    if poses.who[i] != poses.who[j] or poses.kind[i] != poses.kind[j]:
        return 9.0
    off = np.abs((judged.round[i] - judged.round[j] + 180) % 360 - 180)
    far = abs(float(np.log2(judged.far[i] / judged.far[j])))
    by = _DIFFER_OVER if poses.kind[i] == OVER else _DIFFER
    return float(
        np.linalg.norm(np.array([off[0], off[1], far, abs(judged.across[i] - judged.across[j])]) / by)
    )


def _lookout(ground: Ground, asked: Asked, poses: Poses, judged: Judged, i: int) -> Lookout:
    x, y, z, pan, tilt = (round(float(v), 4) for v in poses.pose[i])
    figure = ground.figures[poses.who[i]]
    return Lookout(
        pose=ViewPose(x=x, y=y, z=z, pan=pan, tilt=tilt), focal_mm=float(poses.focal[i]),
        score=round(float(np.exp(-judged.cost[i] / _SCALE)), 4), size=SIZES[judged.size[i]],
        seen=round(float(judged.seen[i]), 4), notes=judged.notes[i], reasons=tuple(reasons(ground, asked, poses, judged, i)),
        focus=figure.id, focus_m=round(float(judged.far[i]), 3),
    )  # fmt: skip
