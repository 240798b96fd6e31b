"""How good a view is: what a careful eye would say of it, and how well it is what was asked for."""

from dataclasses import dataclass

import numpy as np

from heron.framing.hidden import within_pieces
from heron.framing.shot_size import SIZES
from heron.lookouts.asked import Asked
from heron.lookouts.candidates import HIGH, OVER, SINGLE, THROUGH, TWO, WAYS, heading
from heron.lookouts.ground import Floats, Ground, Ints, Poses
from heron.notes.body import body_notes
from heron.notes.kinds import KINDS
from heron.notes.line_of_action import line_at
from heron.notes.sight import sight_notes
from heron.notes.subject import Subject
from heron.notes.views import AT, Flags

#: What each kind of note costs where it is as severe as it can be; below a severity none does.
_COSTS = {
    "face-hidden": 2.0, "heads-overlap": 1.2, "foreground": 1.2, "headroom-low": 1.0, "headroom-high": 1.0, "growing-out": 1.0,
    "looking-room": 0.8, "joint-cut": 0.7, "touching-edge": 0.7, "merges": 0.7, "feet-cut": 0.7, "lens": 0.6, "separation": 0.4,
    "too-small": 0.6, "thirds": 0.3, "line-through-head": 0.2,
}  # fmt: skip
_FROM = 0.3
#: What it costs: a step of size off, a wish for a way or a height that is not met, a head out of the frame, the other of two missing
#: or turned away, the wrong side of the line, a body that is hidden, and somebody at the edge of a single.
_STEP, _WISH, _OUT, _MISSING, _AWAY, _SIDE, _BODY, _EDGE = 0.5, 1.2, 3.0, 2.5, 0.9, 2.5, 1.2, 1.5
#: Over a shoulder, a near head of more than this of the frame's height costs, times so much; a head's height, statures.
_LARGEST, _LARGE, _HEAD_HIGH = 0.3, 2.0, 0.134
#: Small differences part what else is alike.
_THIRD, _PARTLY, _CALM = 0.3, 0.5, 0.1
#: A camera stands over the floor, not higher without a wish, and clear of people, metres.
_LOW_M, _TALL_M, _CLEAR_M = 0.25, 5.0, 0.45
#: How far off a wish a bearing or a height angle may be, degrees; a side of the line is one from so far off it.
_LOOSE_DEG, _LOOSE_UP_DEG, _OFF_LINE_DEG = 4.0, 5.0, 5.0
#: Without a wish for a height a view is about level: beyond so many degrees each one costs.
_LEVEL_DEG, _STEEP = 10.0, 0.04
#: Of the mean over the moments, and of the worst one.
_MEAN = 0.6
#: What is looked at of whom a view is of: of the head, then of the body.
_HEAD = 3
_LOOKED_AT = ("crown", "eyes", "chin", "chest", "spine", "pelvis", "knee_r", "knee_l")
_OTHERS = ("crown", "chest", "shoulder_r", "shoulder_l", "elbow_r", "elbow_l", "wrist_r", "wrist_l")


@dataclass(frozen=True)
class Judged:
    """n views, judged.

    Attributes:
        cost: (n,) 0 is flawless; seen: (n,) the share of the face that is seen over the moments.
        faces: (n,) whether they face the lens at the middle moment.
        size: (n,) at the middle moment, a place in `SIZES`; notes: kinds that are said, of each.
        round: (n, 2) degrees round from where they look, and up; far: (n,) metres; across: (n,) where the eyes are.
        by: what hides the face most, of each.
    """

    cost: Floats
    seen: Floats
    faces: Flags
    size: Ints
    notes: list[tuple[str, ...]]
    round: Floats
    far: Floats
    across: Floats
    by: list[tuple[str, ...]]


def judge(ground: Ground, asked: Asked, poses: Poses, whole: bool) -> Judged:
    """Judge views: at the middle moment without rays, or as a whole, at all moments with them."""
    count = len(ground.t) if whole else 1
    moments = np.tile(np.arange(count), len(poses)) if whole else np.full(len(poses), ground.middle)
    rows = np.repeat(np.arange(len(poses)), count)
    each = poses.of(rows)
    s = ground.seen(each, moments)
    quiet = ground.bake.scene.noting
    cost = np.zeros(len(rows))
    said: dict[str, Floats] = {}
    hidden, lost = _in_the_way(ground, s, each, moments) if whole else np.zeros((2, len(rows)))
    by: list[tuple[str, ...]] = [()] * len(rows)
    measured = [*body_notes(s), *(sight_notes(ground.bake, s, 1) if whole else ())]
    for one in measured:
        if one.kind in quiet.silent or one.kind not in _COSTS:
            continue
        severity = KINDS[one.kind].severity(one.measure, quiet.thresholds.get(one.kind), one.usual)
        if one.kind == "face-hidden":
            name = one.who(0)[0] if one.who else ""
            own = np.array([s.people[k].figure.name == name for k in each.who])
            hidden = np.where(own & ~np.isnan(one.measure), one.measure, hidden)
            by = [tuple(one.by(i)) if own[i] else by[i] for i in range(len(by))]
            # Over a shoulder, nobody looks for the face of the near one.
            severity = np.where(own | (each.kind != OVER), severity, 0)
        said[one.kind] = np.maximum(said.get(one.kind, np.zeros(len(rows))), severity)
    for kind, severity in said.items():
        cost += _COSTS[kind] * np.maximum(severity - _FROM, 0) / (1 - _FROM)
    cost += _own_costs(ground, asked, s, each) + _PARTLY * hidden
    cost += _BODY * lost
    middle = ground.middle if whole else 0
    table = cost.reshape(-1, count)
    size = s.size.reshape(-1, count)[:, middle]
    total = _MEAN * table.mean(axis=1) + (1 - _MEAN) * table.max(axis=1) + _of_pose(ground, asked, poses)
    if asked.size is not None:
        total += _STEP * np.abs(size - SIZES.index(asked.size))
    round_, far = around(ground, poses)
    total += _wishes(asked, round_)
    if asked.high is None and not asked.through:
        total += _STEEP * np.maximum(np.abs(round_[:, 1]) - _LEVEL_DEG, 0)
    loud: dict[str, Flags] = {
        kind: np.asarray((severity.reshape(-1, count) >= 0.5).any(axis=1)) for kind, severity in said.items()
    }
    return Judged(
        total, 1 - hidden.reshape(-1, count).mean(axis=1), np.asarray(s.gaze[:, 2].reshape(-1, count)[:, middle] > -0.35), size,
        [tuple(kind for kind, there in loud.items() if there[i]) for i in range(len(poses))], round_, far,
        s.placed("eyes")[:, 0].reshape(-1, count)[:, middle], by[middle::count],
    )  # fmt: skip


def around(ground: Ground, poses: Poses) -> tuple[Floats, Floats]:
    """(n, 2) degrees round whom it is of from where they look, and up from their eyes; (n,) metres away."""
    eyes = np.stack([ground.eyes(k, ground.middle) for k in range(len(ground.people))])[poses.who]
    looks = np.array([heading(ground, k) for k in range(len(ground.people))])[poses.who]
    off = poses.pose[:, :3] - eyes
    far = np.maximum(np.linalg.norm(off, axis=1), 1e-6)
    bearing = np.degrees(np.arctan2(off[:, 0], off[:, 2])) - looks
    return np.column_stack([(bearing + 180) % 360 - 180, np.degrees(np.arcsin(off[:, 1] / far))]), far


def _of_pose(ground: Ground, asked: Asked, poses: Poses) -> Floats:
    """(n,) what standing there costs, whatever is seen."""
    place = poses.pose[:, :3]
    tall = np.inf if asked.high == "high" else _TALL_M
    cost = 9.0 * ((place[:, 1] < _LOW_M) | (place[:, 1] > tall))
    cost = cost + 9.0 * within_pieces(ground.bake.scene.visible.pieces, place)
    if not asked.through:
        for one in ground.people:
            for mark in ("chest", "crown", "pelvis"):
                near = np.linalg.norm(place[:, None] - one.marks[None, :, AT[mark]], axis=2).min(axis=1)
                cost += 3.0 * (near < _CLEAR_M)
        cost += _SIDE * _wrong_side(ground, asked, place)
    return np.asarray(cost)


def _wrong_side(ground: Ground, asked: Asked, place: Floats) -> Floats:
    """(n,) whether a camera is across the line of action from those of the cut."""
    wrong = np.zeros(len(place))
    if asked.either_side:
        return wrong
    named = {one for one in (*asked.figures, asked.over) if one is not None}
    line = line_at(ground.bake, int(ground.t[ground.middle]))
    if line is None or (len(line.of) == 2 and named and not named & set(line.of)):
        return wrong
    side = ground.side(line)
    return np.asarray(side * line.off(place) < -_OFF_LINE_DEG) if side else wrong


def _wishes(asked: Asked, round_: Floats) -> Floats:
    """(n,) what it costs that it is not seen from where it was asked for."""
    return _WISH * (off_way(asked, round_) + off_high(asked, round_))


def off_way(asked: Asked, round_: Floats) -> Floats:
    """(n,) whether a bearing is not the one asked for."""
    if asked.way is None or asked.over or asked.through:
        return np.zeros(len(round_))
    low, high = WAYS[asked.way]
    off = np.abs(round_[:, 0])
    return np.asarray(((off < low - _LOOSE_DEG) | (off > high + _LOOSE_DEG)) * 1.0)


def off_high(asked: Asked, round_: Floats) -> Floats:
    """(n,) whether a height is not the one asked for."""
    if asked.high is None or asked.through:
        return np.zeros(len(round_))
    up = HIGH[asked.high]
    return np.asarray(
        ((round_[:, 1] < min(up) - _LOOSE_UP_DEG) | (round_[:, 1] > max(up) + _LOOSE_UP_DEG)) * 1.0
    )


def _own_costs(ground: Ground, asked: Asked, s: Subject, each: Poses) -> Floats:
    """(n,) who is in the frame, who should be, and who should not."""
    eyes = s.placed("eyes")
    with np.errstate(invalid="ignore"):
        out = ~(np.abs(s.seen.framed(s.middle)) < 1).all(axis=1)
    cost = _OUT * out + _THIRD * np.nan_to_num(np.abs((1 - eyes[:, 1]) / 2 - 1 / 3), nan=1.0)
    cost += _CALM * np.abs(np.log(np.maximum(each.focal, 1) / 40.0))
    marks = [AT[name] for name in _OTHERS]
    named = {ground.place(one) for one in (*asked.figures, asked.over) if one is not None}
    for k, one in enumerate(s.people):
        local = s.seen.local(one.marks[:, marks])
        framed = s.seen.framed(local)
        inside = _within(framed)
        nearer = local[:, 0, 2] < s.middle[:, 2]
        other = each.who != k
        # At the edge of a single, a part of somebody: the less of them the more it looks a mistake.
        part = inside.mean(axis=1)
        high = _HEAD_HIGH * one.figure.stature / (2 * s.seen.half[:, 1] * np.maximum(local[:, 0, 2], 0.05))
        cost += np.where(
            other & (each.kind == OVER) & nearer & (part > 0), _LARGE * np.maximum(high - _LARGEST, 0), 0
        )
        cost += np.where(other & (each.kind == SINGLE), _EDGE * part * np.where(nearer, 1.0, 0.25), 0)
        head = inside[:, 0] | inside[:, 1]
        wanted = (
            other & (np.isin(each.kind, (OVER, TWO)) if not named else k in named) & (each.kind != THROUGH)
        )
        cost += np.where(wanted & ~head, _MISSING, 0)
        faces = s.seen.ways(one.gaze)[:, 2]
        # The more both turn away from the lens, the less a two-shot is of them.
        cost += np.where(each.kind == TWO, _AWAY * np.clip(-faces / 0.45, 0, 1), 0)
    own = s.gaze[:, 2]
    turned = (
        (each.kind == OVER) | (each.kind == SINGLE) if asked.way is None else np.zeros(len(cost), dtype=bool)
    )
    return np.asarray(cost + np.where(turned & (own < -0.2), _AWAY, 0))


def _within(framed: Floats) -> Flags:
    """(n, m) whether places of the frame, (n, m, 2), are in it."""
    with np.errstate(invalid="ignore"):
        return np.asarray((np.abs(framed) < 1).all(axis=2))


def _in_the_way(ground: Ground, s: Subject, each: Poses, moments: Ints) -> Floats:
    """(2, n) how much of a head, and of what the frame has of a body, something stands before."""
    marks = np.stack([np.stack([one.marks[:, AT[name]] for name in _LOOKED_AT], axis=1) for one in s.people])
    points = marks[each.who, np.arange(len(each))]
    framed = s.seen.framed(s.seen.local(points))
    inside = _within(framed)
    lost = np.zeros((2, len(each)))
    for k in np.unique(each.who):
        rows = each.who == k
        far, _ = ground.hiding.nearest(
            s.seen.place[rows], 0.93 * (points[rows] - s.seen.place[rows][:, None]), moments[rows],
            s.people[k].figure.id,
        )  # fmt: skip
        lost[0, rows] = np.isfinite(far[:, :_HEAD]).mean(axis=1)
        body = np.isfinite(far[:, _HEAD:]) & inside[rows, _HEAD:]
        lost[1, rows] = body.sum(axis=1) / np.maximum(inside[rows, _HEAD:].sum(axis=1), 1)
    return lost
