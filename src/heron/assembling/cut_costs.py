"""What it costs to cut from one camera to another: a line crossed, a jump, sizes that differ."""

from typing import Any

import numpy as np

from heron.assembling.angles import Angles
from heron.framing.shot_size import SIZES

Floats = np.ndarray[Any, np.dtype[np.float64]]
Ints = np.ndarray[Any, np.dtype[np.int64]]

#: The line of action is crossed, or the same subject is seen from nearly the same place: as good as never done.
BROKEN = 50.0
#: The same subject from elsewhere; two in matched sizes; each step between sizes of two; each step over three.
_SAME, _MATCHED, _STEP, _FAR = 0.9, -0.09, 0.35, 0.25
#: By so much an angle on the same subject must differ, degrees, or by so many sizes (common practice).
TURN_DEG, SIZES_APART = 30.0, 2
#: A camera is on neither side of a line that it stands so near to, degrees.
_ON_LINE_DEG = 8.0


class CutCosts:
    """What cuts between cameras cost, and which rules they break, by the frame."""

    def __init__(self, angles: Angles, pair: Ints) -> None:
        """Args: pair: (2, n) the people whose line counts."""
        self._angles, self._pair = angles, pair
        n = pair.shape[1]
        one, two = angles.heads[pair[0], np.arange(n)], angles.heads[pair[1], np.arange(n)]
        line, way = two - one, angles.places - (one + two) / 2
        cross = line[:, 0] * way[..., 1] - line[:, 1] * way[..., 0]
        away = np.linalg.norm(line, axis=1) * np.linalg.norm(way, axis=2)
        off = np.sin(np.radians(_ON_LINE_DEG))
        #: (c, n) on which side of the line a camera stands.
        self._side = np.where(np.abs(cross) > off * np.maximum(away, 1e-9), np.sign(cross), 0)
        seen = angles.seen > 0
        self._sees = seen[:, pair[0], np.arange(n)] | seen[:, pair[1], np.arange(n)]
        middle = np.append(angles.heads, ((one + two) / 2)[None], axis=0)
        #: (c, n, 2) unit: from where its subject is to a camera.
        self._way = _units(angles.places - middle[np.minimum(angles.subject, angles.several), np.arange(n)])

    def crossed(self, t: Ints) -> Any:
        """(m, c, c) whether cuts on some frames cross the line, from and to a camera."""
        side, sees = self._side[:, t].T, self._sees[:, t].T
        both = sees[:, :, None] & sees[:, None, :]
        return both & (side[:, :, None] * side[:, None, :] < 0)

    def jumps(self, t: Ints) -> Any:
        """(m, c, c) whether they are jumps: the same subject, under 30° off and not two sizes apart."""
        way = self._way[:, t].transpose(1, 0, 2)
        near = way @ way.transpose(0, 2, 1) > np.cos(np.radians(TURN_DEG)) + 1e-9
        size = self._angles.size[:, t].T
        alike = np.abs(size[:, :, None] - size[:, None, :]) < SIZES_APART
        return self._same(t) & near & alike

    def _same(self, t: Ints) -> Any:
        of = self._angles.subject[:, t].T
        return (of[:, :, None] == of[:, None, :]) & (of[:, :, None] <= self._angles.several)

    def of(self, t: Ints) -> Floats:
        """(m, c, c) what cuts on some frames cost, from and to a camera."""
        of, size = self._angles.subject[:, t].T, self._angles.size[:, t].T
        apart = np.abs(size[:, :, None] - size[:, None, :]).astype(float)
        single = of < self._angles.several
        reverse = single[:, :, None] & single[:, None, :]
        cost = np.where(reverse, np.where(apart == 0, _MATCHED, _STEP * apart), 0.0)
        cost += _FAR * np.maximum(apart - 3, 0) * (size < len(SIZES))[:, :, None]
        cost = np.where(self._same(t), _SAME, cost)
        return np.asarray(cost + BROKEN * (self.crossed(t) | self.jumps(t)))


def _units(v: Floats) -> Floats:
    return np.asarray(v / np.maximum(np.linalg.norm(v, axis=-1, keepdims=True), 1e-9))
