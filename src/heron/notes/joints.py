"""Two shots at a joint: whom each is about, and how they look at each other."""

from dataclasses import dataclass

import numpy as np

from heron.bake import Bake
from heron.cut import Placed
from heron.notes.of_camera import judged
from heron.notes.subject import Subject
from heron.notes.views import AT, Floats
from heron.scene import find
from heron.stage.figure import Figure
from heron.timebase import Frames

#: What leads up to a cut, and what comes of it, frames.
BEFORE_F, AFTER_F = 40, 12
#: Two people farther apart than this have no line between them, metres; they must look at each other by so much.
APART_M, LOOK = 9.0, 0.2
#: What each of them in sight counts, and each metre between.
_SEEN, METRE = 0.4, 0.08


@dataclass(frozen=True)
class Side:
    """One side of a joint: some frames of a shot, and the one at the joint."""

    shot: Placed
    about: Subject
    i: int

    @property
    def who(self) -> int:
        """Whom it is about; −1 nobody."""
        return int(self.about.who[self.i])

    @property
    def id(self) -> str | None:
        """The id of whom it is about."""
        return None if self.who < 0 else self.about.people[self.who].figure.id

    @property
    def name(self) -> str:
        """The name of whom it is about."""
        return self.about.people[self.who].figure.name

    def mark(self, id_: str, name: str) -> Floats:
        """(3,) metres: a mark of somebody at the joint."""
        return np.asarray(next(p for p in self.about.people if p.figure.id == id_).marks[self.i, AT[name]])

    def has(self, id_: str) -> bool:
        """Whether somebody is in or near the frame."""
        return any(p.figure.id == id_ for p in self.about.people)

    def sees(self, id_: str) -> bool:
        """Whether somebody's eyes are in the frame."""
        for one in self.about.people:
            if one.figure.id == id_:
                at = self.about.seen.framed(self.about.seen.local(one.marks[:, AT["eyes"]]))[self.i]
                return bool((np.abs(at) < 1).all())
        return False

    @property
    def place(self) -> Floats:
        """(3,) metres, of the camera."""
        return np.asarray(self.about.seen.place[self.i])

    @property
    def eyes(self) -> Floats:
        """(2,) where the subject's eyes are in the frame."""
        return np.asarray(self.about.placed("eyes")[self.i])


def side(bake: Bake, shot: Placed, last: bool) -> Side:
    """A side of a joint: the last frames of a shot, or the first."""
    stage = shot.shot.stage
    if last:
        frames = Frames(first=max(stage.last - BEFORE_F + 1, bake.scene.frames.first), last=stage.last)
        return Side(
            shot, judged(bake, find(bake.scene, "cameras", shot.shot.camera or ""), frames), frames.count - 1
        )
    frames = Frames(first=stage.first, last=min(stage.first + AFTER_F - 1, bake.scene.frames.last))
    return Side(shot, judged(bake, find(bake.scene, "cameras", shot.shot.camera or ""), frames), 0)


def pair(bake: Bake, a: Side, b: Side) -> tuple[str, str] | None:
    """Who look at each other most at a joint, by id: whom the line of action lies between."""
    people = bake.scene.visible.figures
    best: tuple[float, tuple[str, str]] | None = None
    heads = {one.id: eyes_at(bake, one, a.shot.shot.stage.last) for one in people}
    gazes = {p.figure.id: p.gaze[a.i] for p in a.about.people} | {
        p.figure.id: p.gaze[b.i] for p in b.about.people if not a.has(p.figure.id)
    }
    for k, one in enumerate(people):
        for two in people[k + 1 :]:
            way = heads[two.id] - heads[one.id]
            apart = float(np.linalg.norm(way))
            if apart > APART_M or apart < 0.1 or one.id not in gazes or two.id not in gazes:
                continue
            look = float((gazes[one.id] - gazes[two.id]) @ way) / apart
            if look <= LOOK:
                continue
            seen = sum(s.sees(one.id) + s.sees(two.id) for s in (a, b))
            value = look + _SEEN * seen - METRE * apart
            if best is None or value > best[0]:
                best = (value, (one.id, two.id))
    return None if best is None else best[1]


def eyes_at(bake: Bake, figure: Figure, frame: int) -> Floats:
    """(3,) metres: somebody's eyes at a frame, wherever they are."""
    rows = np.array([frame - bake.scene.frames.first])
    return np.asarray(bake.performance(figure).landmark("eyes", rows)[0])


def off_line(camera: Floats, one: Floats, two: Floats) -> Floats:
    """Degrees that a camera, or each of (n, 3), is off the line between two places, from above: positive to the right of the way from one to two.

    From its middle; beyond its ends from the nearer end.
    """
    a, b, c = one[[0, 2]], two[[0, 2]], camera[..., [0, 2]]
    far = float(np.linalg.norm(b - a))
    way = (b - a) / max(far, 1e-9)
    along = ((c - a) @ way)[..., None]
    off = c - np.where(along < 0, a, np.where(along > far, b, (a + b) / 2))
    across = way[0] * off[..., 1] - way[1] * off[..., 0]
    return np.asarray(np.degrees(np.arctan2(np.abs(across), np.abs(off @ way))) * np.sign(across))
