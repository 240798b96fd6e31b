"""The stage as a lookout sees it: people and things over some frames, lenses, and the side of the line."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from heron.bake import Bake
from heron.cut import lay_out
from heron.framing.composing import turns
from heron.framing.hidden import Hiding
from heron.notes.joints import eyes_at
from heron.notes.line_of_action import Line, line_at
from heron.notes.subject import Subject
from heron.notes.views import AT, Person, Views, person
from heron.optics import field_of_view, gate_size
from heron.scene import find
from heron.scene.camera import Camera
from heron.stage.figure import Figure
from heron.stage.piece import corners_of
from heron.stage.reference import OnMover, OnPiece
from heron.stage.turning import pan_tilt_roll
from heron.timebase import Frames

Floats = np.ndarray[Any, np.dtype[np.float64]]
Ints = np.ndarray[Any, np.dtype[np.int64]]
#: Lenses on a full back where a scene has no kit; and as many frames of a range are looked at.
_USUAL_MM, LOOKED_AT = (24.0, 32.0, 40.0, 50.0, 65.0, 85.0), 5
#: Of a crowd so many are judged.
PEOPLE = 12
#: A mover is taken as a ball of this radius round its middle, metres.
_BALL_M = 0.8


@dataclass(frozen=True)
class Poses:
    """n cameras: x, y, z, pan, tilt (n, 5); millimetres; what each is of, as a place in a list of kinds; whom it is about."""

    pose: Floats
    focal: Floats
    kind: Ints
    who: Ints

    def __len__(self) -> int:
        return len(self.pose)

    def of(self, rows: Any) -> "Poses":
        """Some of them."""
        return Poses(self.pose[rows], self.focal[rows], self.kind[rows], self.who[rows])

    def __add__(self, other: "Poses") -> "Poses":
        both = ((getattr(self, name), getattr(other, name)) for name in ("pose", "focal", "kind", "who"))
        return Poses(*(np.concatenate(one) for one in both))


def _near(bake: Bake, figures: list[Figure], named: Sequence[str], frame: int) -> list[Figure]:
    """Those who are named and the nearest others, in the scene's order: a crowd is hidden behind, not judged."""
    if len(figures) <= PEOPLE:
        return figures
    places = np.stack([eyes_at(bake, figure, frame) for figure in figures])
    called = [figure.id in named for figure in figures]
    middle = places[called].mean(axis=0) if any(called) else np.median(places, axis=0)
    far = np.where(called, -1.0, np.linalg.norm(places - middle, axis=1))
    chosen = set(np.argsort(far, kind="stable")[: max(PEOPLE, sum(called))].tolist())
    return [figure for k, figure in enumerate(figures) if k in chosen]


class Ground:
    """A stage over a range of frames, as cameras could see it that are not there yet."""

    def __init__(self, bake: Bake, frames: Frames, named: Sequence[str] = ()) -> None:
        """`named`: ids of people who count wherever they are; of all others those who are nearest."""
        self.bake, self.frames = bake, frames
        scene = bake.scene
        self.t = np.unique(np.linspace(frames.first, frames.last, LOOKED_AT).round().astype(np.int64))
        self.middle = len(self.t) // 2
        self.figures = _near(bake, list(scene.visible.figures), named, int(self.t[self.middle]))
        self.people: list[Person] = [person(bake, figure, self.t) for figure in self.figures]
        self.lens, self.aspect = scene.first_lens.on, scene.delivery.aspect
        self._like = Camera(id="lookout", letter="A", name="Lookout", lens=self.lens)
        self.gate_mm = gate_size(self.lens, self.aspect)[1]
        self._kit = np.array(sorted({one.shortest_mm for one in scene.lenses if one.prime}) or _USUAL_MM)
        self.hiding = Hiding(bake, self.t, figures=True)

    def place(self, id_: str) -> int:
        """Somebody's place in `people`."""
        return [figure.id for figure in self.figures].index(id_)

    def lenses(self, wanted: float, count: int) -> list[float]:
        """The primes nearest to a focal length on a back 36 wide, millimetres."""
        usual = wanted * self.gate_mm * self.aspect / 36.0
        order = np.argsort(np.abs(np.log(self._kit / usual)), kind="stable")
        return sorted(self._kit[order[:count]].tolist())

    def half(self, focal: Floats) -> Floats:
        """(n, 2) tangents of half the field across and up of (n,) millimetres."""
        return np.asarray(np.tan(np.radians(field_of_view(self.lens, self.aspect, focal)[:, :2]) / 2))

    def eyes(self, k: int, at: int) -> Floats:
        """(3,) metres."""
        return np.asarray(self.people[k].marks[at, AT["eyes"]])

    def seen(self, poses: Poses, moments: Ints) -> Subject:
        """Cameras at some of the moments, (n,) each, and whom each is about; focused on their eyes."""
        turned = pan_tilt_roll(poses.pose[:, 3], poses.pose[:, 4], np.zeros(len(poses)))
        axes = np.stack([turned.apply(np.tile(one, (len(poses), 1))) for one in np.eye(3)], axis=1)
        people = [
            Person(one.figure, one.marks[moments], one.middle[moments], one.gaze[moments])
            for one in self.people
        ]
        none = np.full(len(poses), np.nan)
        views = Views(
            self.t[moments], poses.pose[:, :3], axes, self.half(poses.focal), poses.focal,
            np.full(len(poses), self._like.aperture.rest), none, np.full(len(poses), self._like.near_m),
            np.tile(none[:, None], 3), self.gate_mm,
        )  # fmt: skip
        marks = np.stack([views.local(one.marks) for one in people])
        rows = np.arange(len(poses))

        def chosen(some: list[Floats]) -> Floats:
            return np.asarray(np.stack(some)[poses.who, rows])

        own = marks[poses.who, rows]
        deep = np.maximum(own[:, AT["eyes"], 2], 0.05)
        object.__setattr__(views, "focus", 1 / deep)
        return Subject(
            views, people, self._like, poses.who, np.zeros(len(poses), dtype=bool), own,
            chosen([views.local(one.top) for one in people]), chosen([views.local(one.middle) for one in people]),
            chosen([views.ways(one.gaze) for one in people]),
            np.array([one.figure.stature for one in people])[poses.who], self.aspect,
        )  # fmt: skip

    def aimed(self, poses: Poses, ways: Floats) -> tuple[Floats, Floats]:
        """Pan and tilt, (n,) degrees, that see along ways (n, 3) where cameras have the eyes of whom they are of now."""
        s = self.seen(poses, np.full(len(poses), self.middle))
        at = s.placed("eyes") * s.seen.half
        return turns(
            np.column_stack([at, -np.ones(len(at))])
            / np.linalg.norm(np.column_stack([at, np.ones(len(at))]), axis=1, keepdims=True),
            ways,
        )

    def corners(self, thing: OnMover | OnPiece) -> Floats:
        """(m, 3) metres round a thing at the middle moment."""
        if isinstance(thing, OnPiece):
            return np.asarray(corners_of(find(self.bake.scene, "pieces", thing.piece)))
        at = self.bake.place(thing, self.t[self.middle : self.middle + 1])[0]
        off = np.array([(x, y, z) for x in (-1, 1) for y in (0, 0.5) for z in (-1, 1)])
        return np.asarray(at + _BALL_M * off)

    @property
    def pair(self) -> tuple[int, int] | None:
        """Between whom the line of action lies at the middle moment, if both are judged."""
        line = line_at(self.bake, int(self.t[self.middle]))
        places = [k for k, figure in enumerate(self.figures) if line is not None and figure.id in line.of]
        return (places[0], places[1]) if len(places) == 2 else None

    def side(self, line: Line) -> int:
        """On which side of a line of action the cameras of the cut stand round these frames: 1, −1, or 0 where none do."""
        total = 0.0
        for placed in lay_out(self.bake.scene):
            stage = placed.shot.stage
            if placed.shot.camera is None or stage.last < self.frames.first or self.frames.last < stage.first:
                continue
            camera = find(self.bake.scene, "cameras", placed.shot.camera)
            frame = min(max(int(self.t[self.middle]), stage.first), stage.last)
            total += float(np.sign(line.off(self.bake.rows(camera, np.array([frame]))[0, :3])))
        return int(np.sign(total))
