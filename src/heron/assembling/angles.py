"""What cameras show of people, read from their pictures: of whom they are, how large, and from where."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from heron.bake import Bake, Samples
from heron.framing.coverage import SEEN
from heron.framing.hidden import Hiding
from heron.framing.shot_size import SIZES, seen_of, sizes_of
from heron.scene import Camera
from heron.stage.figure import Figure
from heron.stage.reference import OnFigure
from heron.timebase import Frames, parse_rate

Floats = np.ndarray[Any, np.dtype[np.float64]]
Ints = np.ndarray[Any, np.dtype[np.int64]]
#: Who is turned away counts for less than who is seen from the side or from in front.
_BACK = 0.3
#: A shot is of one person who has this much more of it than anyone else.
_MORE = 0.25
#: Somebody is seen who has more of a picture than this.
SEES = 0.05
#: What hides is looked at so often, seconds.
_EVERY_S = 0.5


@dataclass(frozen=True)
class Angles:
    """c cameras and p people over n frames.

    Attributes:
        seen: (c, p, n) what of a picture is of whom, 0 to 1: all of it a single's, half of it each for two side by side.
        subject: (c, n) of whom it is: a person's place, p where it is of several, p + 1 where it is of nobody.
        size: (c, n) how large they are in it, as places in `SIZES`; past those, of nobody.
        places: (c, n, 2) x and z of the cameras; heads: (p, n, 2), of the people. Metres.
    """

    cameras: tuple[Camera, ...]
    seen: Floats
    subject: Ints
    size: Ints
    places: Floats
    heads: Floats

    @property
    def several(self) -> int:
        """What stands for several people as a subject."""
        return int(self.seen.shape[1])


def angles(bake: Bake, cameras: tuple[Camera, ...], people: list[Figure], frames: Frames) -> Angles:
    """Read what cameras show of some people."""
    t = frames.array()
    step = max(round(_EVERY_S * float(parse_rate(bake.scene.rate))), 1)
    looks = np.unique(np.r_[0 : len(t) : step, len(t) - 1])
    hiding = Hiding(bake, t[looks])

    def at(figure: Figure, joint: str) -> Floats:
        return np.asarray(bake.place(OnFigure(figure=figure.id, joint=joint), t))

    heads = [at(one, "head") for one in people]
    ahead = [_level(at(one, "eyes") - head) for one, head in zip(people, heads, strict=True)]
    marks = [np.stack([at(one, joint) for joint in SEEN], axis=1) for one in people]
    seen, subject, size, places = [], [], [], []
    for camera in cameras:
        here = bake.samples(camera, frames)
        lens = here.values[:, :3]
        weights, sizes = np.zeros((len(people), len(t))), np.zeros((len(people), len(t)), dtype=np.int64)
        clear = np.zeros((len(people), len(t)))
        for k, one in enumerate(people):
            there = seen_of(bake, here, one.id, ["eyes"])
            inside, depth = there.inside[0], there.depth[0]
            if not inside.any():
                continue
            facing = np.sum(_level(lens - heads[k]) * ahead[k], axis=1)
            front = _BACK + (1 - _BACK) * np.clip((facing + 0.5) / 0.75, 0, 1)
            weights[k] = np.where(inside, front * np.sqrt(1 / np.maximum(depth, 0.1)), 0)
            clear[k] = _clear(hiding, here, marks[k], inside, looks)
            sizes[k] = sizes_of(bake, here, one.id)
        shares = weights * clear / np.maximum(weights.sum(axis=0), 1e-9)
        most = np.argmax(shares, axis=0)
        order = np.sort(shares, axis=0)
        second = order[-2] if len(people) > 1 else np.zeros(len(t))
        of = np.where(order[-1] - second >= _MORE, most, len(people))
        nobody = order[-1] <= SEES
        seen.append(shares)
        subject.append(np.where(nobody, len(people) + 1, of))
        size.append(np.where(nobody, len(SIZES), sizes[most, np.arange(len(t))]))
        places.append(lens[:, [0, 2]])
    flat = [head[:, [0, 2]] for head in heads]
    return Angles(
        cameras, np.array(seen), np.array(subject), np.array(size), np.array(places), np.array(flat)
    )


def _clear(hiding: Hiding, here: Samples, marks: Floats, inside: Any, looks: Ints) -> Floats:
    """(n,) the share of somebody that nothing stands before, looked at now and then."""
    shares = np.ones(len(looks))
    there = np.flatnonzero(inside[looks])
    at = looks[there]
    shares[there] = 1 - hiding.shares(here.values[at, :3], marks[at], there)
    return np.interp(np.arange(len(marks)), looks, shares)


def _level(v: Floats) -> Floats:
    flat = v * np.array([1.0, 0.0, 1.0])
    return np.asarray(flat / np.maximum(np.linalg.norm(flat, axis=1, keepdims=True), 1e-9))
