"""Figures doing things on a bare floor, baked; for the tests of acts."""

import numpy as np
from scipy.spatial.transform import Rotation

from heron.stage.body import INDEX, JOINTS, perform
from heron.stage.figure import Figure
from heron.stage.reference import AtPoint
from heron.timebase import Frames

FPS = 24


def frames(first, last):
    return Frames(first=first, last=last)


def performed(*acts, last=1200, stature=1.7, pieces=(), fps=FPS, where=None, **more):
    """A figure's acts over frames 1001 to `last`."""
    figure = Figure(id="p", name="P", stature=stature, acts=acts, **more)
    span = Frames(first=1001, last=last)

    def place(spot):
        assert isinstance(spot, AtPoint)
        if where is not None:
            return where
        return np.tile([spot.x, spot.y, spot.z], (span.count, 1))

    return perform(
        figure, lambda p: np.zeros(len(p)), span, fps, place, {piece.id: piece for piece in pieces}
    )


def joint(done, name, stature):
    """(n, 3) metres: a joint, by scipy's rotations down the tree from what is sent to be drawn."""
    i, chain = INDEX[name], []
    while i >= 0:
        chain.append(i)
        i = JOINTS[i].parent
    place, turn = done.root.copy(), None
    for i in reversed(chain):
        own = Rotation.from_quat(done.turns[:, i])
        if turn is None:
            turn = own
            continue
        offset = np.tile(np.array(JOINTS[i].offset) * stature, (len(place), 1))
        place = place + turn.apply(done.pelvis if JOINTS[i].name == "pelvis" else offset)
        turn = turn * own
    return place


def stances(done, side):
    """(first, stop) of each stretch of frames on which a foot is down."""
    down = np.r_[False, done.feet[side].planted, False].astype(int)
    return list(zip(np.flatnonzero(np.diff(down) == 1), np.flatnonzero(np.diff(down) == -1), strict=True))


def slide(done, side):
    """(n stances,) metres by which the ball of a foot strays from its middle place while it is down."""
    ball = done.places[:, INDEX[f"ball_{side}"]][:, [0, 2]]
    return [
        float(np.hypot(*(ball[a:b] - np.median(ball[a:b], axis=0)).T).max())
        for a, b in stances(done, side)
        if b - a > 2
    ]
