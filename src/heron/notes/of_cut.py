"""The notes of a cut: of each shot, of each joint, and of three shots in a row."""

from collections.abc import Iterator, Mapping, Sequence, Set
from functools import cached_property

import numpy as np

from heron.bake import Bake
from heron.cut import Placed, lay_out
from heron.framing.shot_size import SIZES, with_article
from heron.model import changed
from heron.notes.joints import Side, eyes_at, off_line, pair, side
from heron.notes.kinds import KINDS
from heron.notes.line_of_action import line_at, set_at
from heron.notes.note import Note
from heron.notes.of_camera import weight
from heron.notes.views import AT, Floats
from heron.timebase import parse_rate

#: Two sizes are as large as each other within this factor as a power of two; and a hand-over that goes unseen.
_SAME, _UNSEEN_DEG, _UNSEEN_SIZE, _UNSEEN_X = 0.58, 2.0, 0.04, 0.03
#: Somebody is on the way from this speed on, m/s.
_WALKS = 0.35
#: How far attention may go across the width for one person, and between two.
_ONE, _TWO = 0.34, 0.46
#: Two look at each other by so much; what counts as a side of the frame; how far their heights of look may miss.
_AT_EACH_OTHER, _ASIDE, _HEIGHT = 0.6, 0.12, 0.22
#: How singles of a pair may differ: in size as a power of two, and in the height of the eyes.
_BY_SIZE, _BY_HEIGHT = 0.55, 0.11
#: A movement, and rest, m/s, of the quickest marks; and rest afterwards.
_MOVES, _RESTS, _STAYS, _QUICKEST, _LATE_F = 0.5, 0.12, 0.3, 5, 26
#: A camera that has come to rest moves by less than this in a frame, of the frame.
_AT_REST = 0.0008


class _Joint:
    """A joint, with what is asked of both sides more than once."""

    def __init__(self, bake: Bake, before: Placed, after: Placed) -> None:
        self.bake, self.before, self.after = bake, before, after
        self.a, self.b = side(bake, before, True), side(bake, after, False)
        self.fps = float(parse_rate(bake.scene.rate))

    @property
    def skipped(self) -> int:
        """How many frames of the stage are left out; negative: shown again."""
        return self.after.shot.stage.first - self.before.shot.stage.last - 1

    @cached_property
    def line(self) -> tuple[str, str] | None:
        """Whom the line of action lies between."""
        return pair(self.bake, self.a, self.b)

    @property
    def same(self) -> bool:
        """Whether both sides are about one person."""
        return self.a.id is not None and self.a.id == self.b.id

    @property
    def singles(self) -> bool:
        """Whether they are singles of two who look at each other."""
        a, b = self.a, self.b
        if self.line is None or {a.id, b.id} != set(self.line) or self.same:
            return False
        return not a.sees(b.id or "") and not b.sees(a.id or "")

    def looks(self, one: Side, other: Side) -> bool:
        """Whether the subject of a side looks to the other's."""
        gaze = one.about.people[one.who].gaze[one.i]
        to = (other.mark(other.id or "", "eyes")) - one.mark(one.id or "", "eyes")
        return float(gaze @ to) > _AT_EACH_OTHER * float(np.linalg.norm(to))


def notes_of_cut(
    bake: Bake,
    thresholds: Mapping[str, float] | None = None,
    silent: Sequence[str] = (),
    around: Set[str] = frozenset(),
) -> list[Note]:
    """What a careful eye says of the scene's cut, in its order; kinds that are silent are left out.

    Args:
        around: ids of shots, if only joints of theirs are judged.
    """
    placed = lay_out(bake.scene)
    found: list[Note] = []
    limits = thresholds or {}
    for one in placed:
        count = one.shot.stage.count
        found += _note(
            "short", limits, (one,), count, f"{one.shot.name} lasts {count} frames: too short to read", one.cut_first, one.cut_last
        )  # fmt: skip
    for before, after in zip(placed[:-1], placed[1:], strict=True):
        if around and around.isdisjoint((before.shot.id, after.shot.id)):
            continue
        black = after.cut_first - before.cut_last - 1
        if black > 0:
            found += _note(
                "gap", limits, (before, after), black, f"{black} frames of black between {before.shot.name} and {after.shot.name}",
                before.cut_last + 1, after.cut_first - 1,
            )  # fmt: skip
        elif before.shot.camera and after.shot.camera:
            here: list[Note] = []
            for kind, measure, sentence in _of_joint(_Joint(bake, before, after)):
                here += _note(kind, limits, (before, after), measure, sentence)
            found += _hung([note for note in here if note.kind not in silent])
    found += _same_size(bake, placed, limits)
    said = [note for note in found if note.kind not in silent]
    return sorted(said, key=lambda note: (note.first, -weight(note)))


def _hung(notes: list[Note]) -> list[Note]:
    """Eye lines that do not meet follow from a line that is crossed: they are told with it."""
    if "line-of-action" not in {note.kind for note in notes}:
        return notes
    lines = [note.kind for note in notes if note.kind == "eye-lines"]
    return [
        changed(note, also=tuple(lines)) if note.kind == "line-of-action" else note
        for note in notes
        if note.kind != "eye-lines"
    ]


#: A kind, its measure, and the sentence.
Said = tuple[str, float, str]


def _note(
    kind_name: str, limits: Mapping[str, float], shots: tuple[Placed, ...], measure: float, sentence: str,
    first: int | None = None, last: int | None = None,
) -> list[Note]:  # fmt: skip
    kind = KINDS[kind_name]
    limit = limits.get(kind_name, kind.threshold)
    severity = float(kind.severity(measure, limit))
    over = kind.worse * (measure - limit)
    # A threshold in whole frames is met from it on; what is too short is so below it.
    if over < 0 or (over == 0 and kind.worse < 0):
        return []
    at = shots[-1].cut_first if first is None else first
    return [
        Note(
            kind=kind_name, joint=tuple(one.shot.name for one in shots), of=tuple(one.shot.id for one in shots), first=at, last=at if last is None else last, worst=at,
            measure=round(float(measure), 5), threshold=limit, unit=kind.unit, severity=round(severity, 4),
            sentence=f"{sentence}.",
        )
    ]  # fmt: skip


def _of_joint(j: _Joint) -> Iterator[Said]:
    if j.skipped:
        word = "are skipped" if j.skipped > 0 else "are shown twice"
        yield "time", abs(j.skipped), f"{abs(j.skipped)} frames of the stage {word}"
    yield from _line(j)
    yield from _eye_lines(j)
    yield from _jump(j)
    yield from _direction(j)
    yield from _eye_jump(j)
    yield from _singles(j)
    yield from _late(j)
    yield from _unsettled(j)


def _line(j: _Joint) -> Iterator[Said]:
    last, first = j.before.shot.stage.last, j.after.shot.stage.first
    names = {figure.id: figure.name for figure in j.bake.scene.figures}
    if set_at(j.bake, first) is not None:
        # One that was set holds whoever the pictures are about.
        lines = [line_at(j.bake, last) or line_at(j.bake, first), line_at(j.bake, first)]
        if lines[0] is None or lines[1] is None:
            return
        off = [float(line.off(at.place)) for line, at in zip(lines, (j.a, j.b), strict=True) if line]
        of = lines[1].of
        where = (
            f" between {names[of[0]]} and {names[of[1]]}"
            if len(of) == 2
            else f" along {names[of[0]]}'s way"
            if of
            else ""
        )
    else:
        if j.line is None or j.a.id not in j.line or j.b.id not in j.line:
            return
        one, two = (figure for figure in j.bake.scene.figures if figure.id in j.line)
        off = [
            float(off_line(at.place, eyes_at(j.bake, one, frame), eyes_at(j.bake, two, frame)))
            for at, frame in ((j.a, last), (j.b, first))
        ]
        where = f" between {one.name} and {two.name}"
    if off[0] * off[1] >= 0:
        return
    measure = min(abs(off[0]), abs(off[1]))
    yield (
        "line-of-action", measure,
        f"The cut crosses the line{where}: cameras {abs(off[0]):.0f}° and {abs(off[1]):.0f}° off it on either side",
    )  # fmt: skip


def _bearing(one: Side) -> float:
    to = one.place - one.mark(one.id or "", "eyes")
    return float(np.degrees(np.arctan2(to[0], to[2])))


def _jump(j: _Joint) -> Iterator[Said]:
    if not j.same:
        return
    turned = abs((_bearing(j.a) - _bearing(j.b) + 180) % 360 - 180)
    size = abs(float(np.log2(j.b.about.share[j.b.i] / j.a.about.share[j.a.i])))
    one_camera = j.before.shot.camera == j.after.shot.camera
    if one_camera and not j.skipped:
        return
    place = abs(float(j.a.eyes[0] - j.b.eyes[0])) / 2
    if not j.skipped and turned < _UNSEEN_DEG and size < np.log2(1 + _UNSEEN_SIZE) and place < _UNSEEN_X:
        return
    if size < _SAME:
        yield (
            "jump",
            turned,
            f"{j.a.name} is cut to {j.a.name} only {turned:.0f}° round, at nearly the same size",
        )


def _direction(j: _Joint) -> Iterator[Said]:
    if not j.same:
        return
    across = []
    for one in (j.a, j.b):
        way = one.about.people[one.who].speed[one.i] * j.fps
        speed = float(np.linalg.norm(way))
        if speed < _WALKS:
            return
        across.append(float(way @ one.about.seen.axes[one.i, 0]) / speed)
    if across[0] * across[1] < 0:
        to = ["right" if one > 0 else "left" for one in across]
        measure = min(abs(one) for one in across)
        yield "direction", measure, f"{j.a.name} goes {to[0]}, and after the cut {to[1]}"


def _eye_jump(j: _Joint) -> Iterator[Said]:
    if j.a.id is None or j.b.id is None or j.a.about.thing[-1] or j.b.about.thing[0]:
        return
    far = abs(float(j.a.eyes[0] - j.b.eyes[0])) / 2
    usual = _ONE if j.same else _TWO
    if np.isfinite(far):
        yield "eye-jump", far / usual, f"Eyes go {far:.0%} of the width from {j.a.name} to {j.b.name}"


def _eye_lines(j: _Joint) -> Iterator[Said]:
    if not j.singles or not (j.b.has(j.a.id or "") and j.a.has(j.b.id or "")):
        return
    if not (j.looks(j.a, j.b) and j.looks(j.b, j.a)):
        return
    (ax, ay, _), (bx, by, _) = (one.about.gaze[one.i] for one in (j.a, j.b))
    if ax * bx > 0 and min(abs(ax), abs(bx)) > _ASIDE:
        side_ = "right" if ax > 0 else "left"
        yield (
            "eye-lines",
            1 + min(abs(ax), abs(bx)),
            f"{j.a.name} and {j.b.name} both look {side_}: they do not look at each other",
        )
    else:
        yield (
            "eye-lines", abs(ay + by) / _HEIGHT,
            f"{j.a.name} looks {'up' if ay > 0 else 'down'} to where {j.b.name} is not",
        )  # fmt: skip


def _singles(j: _Joint) -> Iterator[Said]:
    if not j.singles:
        return
    head = [one.about.share[one.i] / one.about.stature[one.i] for one in (j.a, j.b)]
    size = abs(float(np.log2(head[0] / head[1])))
    high = abs(float(j.a.eyes[1] - j.b.eyes[1])) / 2
    if size / _BY_SIZE >= high / _BY_HEIGHT:
        yield (
            "singles",
            size / _BY_SIZE,
            f"{j.a.name}'s single and {j.b.name}'s differ in size by {2**size:.1f} times",
        )
    else:
        yield (
            "singles",
            high / _BY_HEIGHT,
            f"Eyes are at other heights in {j.a.name}'s single and {j.b.name}'s, by {high:.0%}",
        )


def _quickest(one: Side, fps: float) -> Floats:
    """(n,) m/s of the five marks of the subject that are quickest."""
    marks = one.about.people[one.who].marks
    if len(marks) < 2:
        return np.zeros(len(marks))
    speed = np.linalg.norm(np.gradient(marks, axis=0), axis=2) * fps
    return np.asarray(np.sort(speed, axis=1)[:, -_QUICKEST:].mean(axis=1))


def _late(j: _Joint) -> Iterator[Said]:
    if not j.same:
        return
    before, after = _quickest(j.a, j.fps), _quickest(j.b, j.fps)
    moving = np.flatnonzero(before[-30:] > _RESTS)
    if before[-1] >= _RESTS or len(moving) == 0 or before[-30:].max() < _MOVES or after.max() > _STAYS:
        return
    since = len(before[-30:]) - 1 - int(moving[-1])
    if since <= _LATE_F:
        yield "late", since, f"The cut comes {since} frames after {j.a.name} has come to rest"


def _restless(one: Side) -> Floats:
    """(n − 1,) how much of the frame a camera's move takes, from each frame to the next."""
    seen = one.about.seen
    turn = np.arccos(np.clip(np.sum(seen.axes[1:, 2] * seen.axes[:-1, 2], axis=1), -1, 1))
    deep = np.nan_to_num(np.abs(one.about.marks[1:, AT["eyes"], 2]), nan=5.0)
    way = np.linalg.norm(np.diff(seen.place, axis=0), axis=1) / np.maximum(deep, 0.3)
    field = 2 * np.arctan(seen.half[1:, 0])
    return np.asarray((turn + way) / field + 0.5 * np.abs(np.diff(np.log(seen.focal))))


def _unsettled(j: _Joint) -> Iterator[Said]:
    a, b = _restless(j.a), _restless(j.b)
    if len(a) == 0 or len(b) == 0 or np.isfinite(j.a.about.seen.watched[-1]).all():
        return
    if j.a.who >= 0 and float(np.linalg.norm(j.a.about.people[j.a.who].speed[j.a.i])) * j.fps > _WALKS:
        return
    if b[0] < _AT_REST:
        letter = j.a.about.camera.letter
        yield "unsettled", float(a[-1]), f"Camera {letter} has not come to rest when it is cut from"


def _same_size(bake: Bake, placed: list[Placed], limits: Mapping[str, float]) -> list[Note]:
    sizes = []
    for one in placed:
        if one.shot.camera is None:
            sizes.append(-1)
            continue
        about = side(bake, one, False).about
        sizes.append(int(about.size[0]))
    found: list[Note] = []
    least = int(limits.get("same-size", KINDS["same-size"].threshold))
    first = 0
    for k in range(1, len(sizes) + 1):
        if k < len(sizes) and sizes[k] == sizes[first]:
            continue
        run = placed[first:k]
        if k - first >= least and 0 <= sizes[first] < SIZES.index("wide"):
            found += _note(
                "same-size", limits, tuple(run), k - first, f"{k - first} shots in a row are each {with_article(SIZES[sizes[first]])}",
                run[0].cut_first, run[-1].cut_last,
            )  # fmt: skip
        first = k
    return found
