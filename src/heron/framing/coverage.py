"""Coverage of a conversation: a master, pairs over the shoulder, singles in matched sizes, and an insert of a thing.

All cameras stand on one side of the line between the two who talk, so that their looks meet across a cut. The side is the
one from which less is hidden, else the one where cameras of the two stand already; where they do, it is crossed for much that is hidden alone.
"""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Any, Literal

import numpy as np

from heron.bake import Bake
from heron.framing.hidden import Hiding
from heron.framing.shot_size import EYES_AT, cut_at
from heron.lines import timed
from heron.model import wrap_degrees
from heron.optics import gate_size
from heron.rigs import over_shoulder
from heron.rigs.aiming import turn_to
from heron.scene import Scene
from heron.scene.document import spot_called
from heron.scene.links import links
from heron.stage.figure import Figure
from heron.stage.reference import OnFigure, OnMover, Spot
from heron.stage.skeleton import EYE

Floats = np.ndarray[Any, np.dtype[np.float64]]
Kind = Literal["master", "over", "single", "reaction", "insert"]

#: Angles off the line of action from which a face is seen well: nearer to it, the closer the shot (common practice).
_OFF_DEG = {"medium close-up": 35.0, "close-up": 30.0}
_ANGLES_DEG = range(15, 70, 5)
#: Room is left on the side somebody looks to: their eyes are so far from the middle (common practice).
_ROOM = 0.22
#: A master holds people from head to foot with a little room: so many statures high, and so wide beside them, metres.
_TALL, _BESIDE_M = 1.22, 1.1
_MASTER_MM, _FACE_MM, _INSERT_MM = 32.0, 65.0, 85.0
#: An insert sees so much from top to bottom, metres, from so far above.
_INSERT_M, _DOWN_DEG = 0.5, 20.0
#: What is weighed where a single stands: another head in the frame, what is hidden, a step of 30°, doubling the lens.
_IN_FRAME, _HIDDEN, _OFF, _LENS = 3.0, 4.0, 1.0, 0.4
#: Cameras stand on one side of a line already: so much more must be hidden from there, in shares of a picture, to cross it.
_WORTH_CROSSING = 1.0
#: What of a figure must be seen.
SEEN = ("crown", "eyes", "chin", "shoulder_r", "shoulder_l", "chest")
#: How near the near one may be over a shoulder, and how much eyes may differ in height, metres.
_NEAREST_M, _DIFFER_M = 0.45, 0.15
#: Lenses on a full back where a scene has no kit.
_USUAL_MM = (24.0, 32.0, 40.0, 50.0, 65.0, 85.0)


@dataclass(frozen=True)
class Proposal:
    """A camera that is proposed.

    Attributes:
        key: what it is asked for by.
        of: whom it is of; over whom it looks; the thing it shows.
        pose: x, y, z metres, pan and tilt degrees.
        hidden: the share of what must be seen that something stands before.
    """

    key: str
    kind: Kind
    name: str
    of: tuple[str, ...]
    pose: tuple[float, float, float, float, float]
    focal: float
    size: str
    focus: Spot
    hidden: float
    reasons: tuple[str, ...]


@dataclass(frozen=True)
class _Person:
    figure: Figure
    eyes: Floats
    head: Floats
    marks: Floats


class Coverage:
    """People who talk at a frame, and how they can be covered: the line of action is that of the first two."""

    def __init__(self, bake: Bake, people: Sequence[Figure], frame: int) -> None:
        self._bake, self._frame = bake, frame
        scene = bake.scene
        self._lens = scene.first_lens.on
        wide, self._high = gate_size(self._lens, scene.delivery.aspect)
        self._aspect = wide * self._lens.squeeze / self._high
        self._kit = sorted({one.shortest_mm for one in scene.lenses if one.prime}) or list(_USUAL_MM)
        self._a, self._b, *self._others = (self._person(figure) for figure in people)
        said = {figure.id: 0 for figure in people}
        for one in timed(scene):
            if one.line.figure in said:
                said[one.line.figure] += one.last - one.first + 1
        # Whoever says less; nobody, where nothing is said.
        self._listens = min(said, key=lambda id_: said[id_]) if any(said.values()) else None
        self._hidden = Hiding(bake, np.array([frame])).share

    def proposals(self, thing: Spot | None = None, side: Literal[-1, 1] | None = None) -> list[Proposal]:
        """What covers them, the master first.

        Args:
            side: 1, all from the right of the line from the first to the second as seen from above; −1, from its left.
        """
        if side is not None:
            return list(self._from(side, thing))
        sides = {one: list(self._from(one, thing)) for one in (1, -1)}
        hidden = {one: round(sum(each.hidden for each in found), 6) for one, found in sides.items()}
        existing = self._existing_side()
        best = min(sides, key=lambda one: (hidden[one], one != existing))
        if existing and hidden[existing] - hidden[best] <= _WORTH_CROSSING:
            best = existing
        if hidden[-best] > hidden[best]:
            why = "less is hidden from this side of their line"
        elif existing == best:
            why = "on the side of the line where cameras stand already"
        else:
            why = "all from one side of the line between them"
        return [replace(one, reasons=(*one.reasons, why)) for one in sides[best]]

    def _person(self, figure: Figure) -> _Person:
        def at(joint: str) -> Floats:
            return np.asarray(
                self._bake.place(OnFigure(figure=figure.id, joint=joint), np.array([self._frame]))[0]
            )

        return _Person(figure, at("eyes"), at("head"), np.array([at(joint) for joint in SEEN]))

    def _from(self, side: int, thing: Spot | None) -> Iterator[Proposal]:
        yield self._master(side)
        yield from self._overs(side)
        for size in ("medium close-up", "close-up"):
            one = self._single(self._a, self._b, side, size, None)
            yield one
            yield self._single(self._b, self._a, -side, size, one.focal)
            for other in self._others:
                yield self._other(other, side, size, one.focal)
        if thing is not None:
            yield self._insert(thing, side)

    def _other(self, of: _Person, side: int, size: str, focal: float) -> Proposal:
        """A single of one more than two: on the side of the line of those two, if they can be seen from there."""
        to = min((self._a, self._b), key=lambda one: float(np.linalg.norm(one.head - of.head)))
        found = [self._single(of, to, way, size, focal) for way in (side, -side)]
        fits = [one for one in found if self._side_of(np.array(one.pose[:3])) == side]
        if fits:
            return min(fits, key=lambda one: one.hidden)
        across = f"from across the line of {self._a.figure.name} and {self._b.figure.name}, which they face"
        best = min(found, key=lambda one: one.hidden)
        return replace(best, reasons=(*best.reasons, across))

    def _side_of(self, at: Floats) -> int:
        """On which side of the line a place is: 1, its right as seen from above."""
        line, way = self._b.head - self._a.head, at - self._a.head
        off = line[0] * way[2] - line[2] * way[0]
        return int(off > 1e-3) - int(off < -1e-3)

    def _master(self, side: int) -> Proposal:
        people = [self._a, self._b, *self._others]
        tall = max(one.figure.stature for one in people)
        line = _level(self._b.head - self._a.head)
        square = side * np.array([-line[2], 0.0, line[0]])
        along, nearer = (
            np.array([(one.head - self._a.head) @ way for one in people]) for way in (line, square)
        )
        high = max(_TALL * tall, (float(np.ptp(along)) + _BESIDE_M) / self._aspect)
        focal = min(self._kit, key=lambda mm: abs(math.log(mm / _MASTER_MM)))
        middle = self._a.head + (along.max() + along.min()) / 2 * line + float(nearer.max()) * square
        floor = float(np.mean([one.eyes[1] - EYE * one.figure.stature for one in people]))
        middle[1] = floor + (_TALL / 2 - 0.08) * tall
        away = high * focal / self._high
        found = []
        for swing in (0, 12, -12, 24, -24, 36, -36):
            at = middle + away * _turned(square, swing)
            at[1] = floor + EYE * min(one.figure.stature for one in people)
            hidden = self._hidden(at, np.concatenate([one.marks for one in people]))
            found.append((round(hidden, 3), abs(swing), at, hidden))
        _, swing, at, hidden = min(found, key=lambda one: one[:2])
        first, last = [one.figure.name for one in people[:-1]], people[-1].figure.name
        names = f"{', '.join(first)} and {last}"
        why = [
            f"{'all' if self._others else 'both'} of them from head to foot, square to their line{f' but for {swing}°' if swing else ''}"
        ]
        return self._made(
            "master",
            "master",
            f"Master of {names}",
            tuple(people),
            at,
            middle,
            focal,
            (0.0, 0.0),
            "full",
            hidden,
            why,
        )

    def _overs(self, side: int) -> Iterator[Proposal]:
        """Over one shoulder and over the other, through the same lens: the one with which both near people are best placed."""
        pairs = []
        for mm in self._kit:
            one = self._stand(self._a, self._b, side, mm)
            two = self._stand(self._b, self._a, -side, mm)
            if one is not None and two is not None:
                off = sum(abs(stand.near_m - over_shoulder.NEAR_M) for stand in (one, two))
                pairs.append((off, mm, one, two))
        if pairs:
            _, mm, one, two = min(pairs, key=lambda pair: pair[0])
            yield self._over(self._a, self._b, mm, one)
            yield self._over(self._b, self._a, mm, two)

    def _stand(self, near: _Person, far: _Person, side: int, focal: float) -> over_shoulder.Stand | None:
        away, half = self._away(far.figure, "medium", focal), self._half(focal)[0]
        on = [(float(one[0]), float(one[2])) for one in (near.head, far.eyes)]
        return over_shoulder.stand(on[0], on[1], away, half, side, _NEAREST_M)

    def _over(self, near: _Person, far: _Person, focal: float, stand: over_shoulder.Stand) -> Proposal:
        # Between both eye heights where they differ by much, so that neither head leaves the frame.
        differ = abs(near.eyes[1] - far.eyes[1])
        high = (near.eyes[1] + far.eyes[1]) / 2 if differ > _DIFFER_M else near.eyes[1]
        at = np.array([stand.x, high, stand.z])
        name, over = far.figure.name, near.figure.name
        why = [f"{over}'s shoulder {stand.near_m:.2f} m before the lens", f"{focal:g} mm from both sides"]
        return self._made(
            f"over-{near.figure.id}", "over", f"{name} over {over}", (far, near), at, far.eyes, focal,
            (stand.far_x, EYES_AT), "medium", self._hidden(at, far.marks), why,
        )  # fmt: skip

    def _single(self, of: _Person, to: _Person, side: int, size: str, focal: float | None) -> Proposal:
        line = _level(to.head - of.head)
        best: tuple[float, Any] | None = None
        for mm in self._kit if focal is None else [focal]:
            away = self._away(of.figure, size, mm)
            for angle in _ANGLES_DEG:
                at = of.eyes + away * _turned(line, -side * angle)
                at[1] = of.eyes[1]
                # They look to whom they talk to: right of the lens from one side, left of it from the other.
                x = -_ROOM if _right_of(at, of.eyes, to.eyes) else _ROOM
                pan, tilt = self._aimed(at, of.eyes, mm, (x, EYES_AT))
                hidden = self._hidden(at, of.marks)
                cost = (
                    _IN_FRAME * self._in_frame(at, pan, tilt, mm, to.head) + _HIDDEN * hidden
                    + _OFF * abs(angle - _OFF_DEG[size]) / 30 + _LENS * abs(math.log2(mm / self._face_mm()))
                )  # fmt: skip
                if best is None or cost < best[0] - 1e-9:
                    best = cost, (at, mm, angle, x, hidden)
        assert best is not None
        at, mm, angle, x, hidden = best[1]
        name = of.figure.name
        why = [f"{angle}° off the line they look along, from {np.linalg.norm(at - of.eyes):.1f} m"]
        if focal is not None:
            why.append(f"{mm:g} mm, as the single that it is cut with")
        listens = size == "close-up" and of.figure.id == self._listens
        if listens:
            why.insert(
                0, f"says {'least' if self._others else 'less of the two'}: what is said is seen to be heard"
            )
        key = f"{'single' if size == 'medium close-up' else 'close'}-{of.figure.id}"
        kind: Kind = "reaction" if listens else "single"
        label = f"{name}, {'reaction' if listens else size}"
        return self._made(key, kind, label, (of,), at, of.eyes, mm, (x, EYES_AT), size, hidden, why)

    def _insert(self, thing: Spot, side: int) -> Proposal:
        where = np.asarray(self._bake.place(thing, np.array([self._frame]))[0])
        focal = min(self._kit, key=lambda mm: abs(math.log(mm / _INSERT_MM)))
        away = _INSERT_M * focal / self._high
        line = _level(self._b.head - self._a.head)
        flat = side * np.array([-line[2], 0.0, line[0]])
        down = math.radians(_DOWN_DEG)
        at = where + away * (math.cos(down) * flat + np.array([0.0, math.sin(down), 0.0]))
        name = spot_called(self._bake.scene, thing)
        # It does not hide itself.
        but = thing.mover if isinstance(thing, OnMover) else ""
        hidden = Hiding(self._bake, np.array([self._frame]), but).share(at, where[None])
        why = [f"from {_DOWN_DEG:g}° above, half a metre of it high in the frame"]
        made = self._made(
            "insert", "insert", f"Insert of {name}", (), at, where, focal, (0.0, 0.0), "insert", hidden, why
        )
        return replace(made, focus=thing)

    def _made(
        self, key: str, kind: Kind, name: str, of: tuple[_Person, ...], at: Floats, target: Floats, focal: float,
        placed: tuple[float, float], size: str, hidden: float, why: list[str],
    ) -> Proposal:  # fmt: skip
        pan, tilt = self._aimed(at, target, focal, placed)
        if hidden:
            why = [*why, f"{hidden:.0%} of what should be seen is hidden"]
        elif of:
            why = [*why, "nothing stands before them"]
        focus: Any = OnFigure(figure=of[0].figure.id, joint="eyes") if of else None
        x, y, z = (round(float(v), 4) for v in at)
        return Proposal(
            key, kind, name, tuple(one.figure.id for one in of), (x, y, z, round(wrap_degrees(pan), 4), round(tilt, 4)), focal,
            size, focus, hidden, tuple(why),
        )  # fmt: skip

    def _away(self, figure: Figure, size: str, focal: float) -> float:
        """Metres to the eyes for a size: the eyes on the upper third, the lower edge where it cuts the body."""
        tall = (EYE * figure.stature - cut_at(size, figure.stature)) * 2 / (1 + EYES_AT)
        return tall * focal / self._high

    def _half(self, focal: float) -> tuple[float, float]:
        up = self._high / 2 / focal
        return up * self._aspect, up

    def _face_mm(self) -> float:
        """The lens for faces, on this film back: usual on one 24 mm high."""
        return _FACE_MM * self._high * max(self._aspect, 1.0) / 36.0

    def _aimed(
        self, at: Floats, target: Floats, focal: float, placed: tuple[float, float]
    ) -> tuple[float, float]:
        way = target - at
        unit = way / np.linalg.norm(way)
        v = (unit[:1], unit[1:2], unit[2:])
        x, y, zero = np.array([placed[0]]), np.array([placed[1]]), np.zeros(1)
        wide, up = self._half(focal)
        pan, tilt, _ = turn_to(v, x, y, zero, (np.array([wide]), np.array([up])))
        return float(pan[0]), float(tilt[0])

    def _in_frame(self, at: Floats, pan: float, tilt: float, focal: float, place: Floats) -> bool:
        """Whether a head is in the frame, or so near its edge that a part of it is."""
        a, b = math.radians(pan), math.radians(tilt)
        ahead = np.array([-math.sin(a) * math.cos(b), math.sin(b), -math.cos(a) * math.cos(b)])
        right = np.array([math.cos(a), 0.0, -math.sin(a)])
        way = place - at
        depth = float(way @ ahead)
        if depth <= 0.05:
            return False
        margin = 0.14 / depth
        return abs(float(way @ right)) / depth < self._half(focal)[0] + margin

    def _existing_side(self) -> int:
        """On which side of their line cameras that have to do with both stand; 0, there are none."""
        ids = {self._a.figure.id, self._b.figure.id}
        sum_ = 0
        for camera in self._bake.scene.cameras:
            if ids & {link.id for link in links(camera)}:
                sum_ += self._side_of(self._bake.rows(camera, np.array([self._frame]))[0, :3])
        return (sum_ > 0) - (sum_ < 0)


def _level(v: Floats) -> Floats:
    flat = np.array([v[0], 0.0, v[2]])
    return flat / max(float(np.linalg.norm(flat)), 1e-9)


def _turned(v: Floats, degrees: float) -> Floats:
    """A level direction turned to the left as seen from above, for more than 0."""
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    return np.array([v[0] * c + v[2] * s, v[1], -v[0] * s + v[2] * c])


def _right_of(at: Floats, one: Floats, other: Floats) -> bool:
    """Whether one place is to the right of another as seen from a camera: +X is right of a look along −Z."""
    a, b = one - at, other - at
    return bool(a[0] * b[2] - a[2] * b[0] > 0)


def who_talks(scene: Scene, figures: tuple[str, ...]) -> list[str]:
    """Who is covered: those named, else the two with the most lines, in the order in which they speak."""
    if figures:
        return list(dict.fromkeys(figures))
    said: dict[str, int] = {}
    for line in scene.lines:
        if line.figure:
            said[line.figure] = said.get(line.figure, 0) + 1
    most = sorted(said, key=lambda one: -said[one])[:2]
    return [one for one in said if one in most]
