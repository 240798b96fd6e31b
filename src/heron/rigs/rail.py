"""A smooth curve through drawn points, by metres along it."""

from functools import lru_cache
from typing import Any

import numpy as np

Floats = np.ndarray[Any, np.dtype[np.float64]]
Points = tuple[tuple[float, float, float], ...]
#: Points nearer to each other than this are one, metres.
_ONE = 1e-6
#: Cells in a span, and points of Gauss's rule in a cell.
_CELLS, _GAUSS = 16, 8


class Curve:
    """A centripetal Catmull–Rom curve, parametrised by its length.

    Attributes:
        length: metres.
        spans: how many stretches between points that do not lie on each other.
    """

    def __init__(self, points: Points) -> None:
        kept = [np.array(points[0], dtype=np.float64)]
        for point in points[1:]:
            if np.linalg.norm(np.array(point) - kept[-1]) > _ONE:
                kept.append(np.array(point, dtype=np.float64))
        p = np.array(kept)
        # An end goes on as it came.
        p = np.vstack([2 * p[0] - p[1], p, 2 * p[-1] - p[-2]])
        knots = np.sqrt(np.linalg.norm(np.diff(p, axis=0), axis=1))
        d0, d1, d2 = knots[:-2], knots[1:-1], knots[2:]
        a, b = p[1:-2], p[2:-1]
        # Slopes of the centripetal spline at both ends of each span, for a span of length one.
        m = (p[1:-1] - p[:-2]) / knots[:-1, None]
        s = [m[i : i + len(d1)] for i in (0, 1)]
        last = (p[3:] - p[2:-1]) / d2[:, None]
        whole = (b - a) / d1[:, None]
        out = d1[:, None] * (s[0] - (b - p[:-3]) / (d0 + d1)[:, None] + whole)
        into = d1[:, None] * (whole - (p[3:] - a) / (d1 + d2)[:, None] + last)
        # (spans, 4, 3) by powers of u.
        self._c = np.stack([a, out, 3 * (b - a) - 2 * out - into, 2 * (a - b) + out + into], axis=1)
        x, w = np.polynomial.legendre.leggauss(_GAUSS)
        cell = np.linspace(0.0, 1.0, _CELLS + 1)
        u = cell[:-1, None] + (x + 1) / 2 / _CELLS
        speed = np.linalg.norm(self._slope(np.arange(len(a))[:, None, None], u[None]), axis=-1)
        cells = (speed * w).sum(axis=-1) / 2 / _CELLS
        self._at = np.r_[0.0, np.cumsum(cells.ravel())]
        self.length = float(self._at[-1])
        self.spans = len(a)
        # By the knots' own measure the curve runs on smoothly from span to span.
        self._knots = np.r_[0.0, np.cumsum(d1)]
        where = np.r_[(self._knots[:-1, None] + cell[None, :-1] * d1[:, None]).ravel(), self._knots[-1]]
        span, inner = self._split(where)
        ends = np.linalg.norm(self._slope(span, inner), axis=-1) / d1[span]
        chord = np.diff(self._at) / np.diff(where)
        # Of the measure over metres at the cells' edges, held to three chords so that the inverse never turns back.
        slope = 1 / np.maximum(ends, 1e-9)
        most = 3 / np.maximum(np.maximum(np.r_[chord[0], chord], np.r_[chord, chord[-1]]), 1e-12)
        self._u, self._du = where, np.minimum(slope, most)

    def _split(self, where: Floats) -> tuple[np.ndarray[Any, Any], Floats]:
        """The span of a place by the knots' measure, and how far along it, 0 to 1."""
        span = np.clip(np.searchsorted(self._knots, where, side="right") - 1, 0, len(self._c) - 1)
        return span, (where - self._knots[span]) / (self._knots[span + 1] - self._knots[span])

    def _slope(self, span: Any, u: Floats) -> Floats:
        c, u = self._c[span], u[..., None]
        return np.asarray(c[..., 1, :] + 2 * c[..., 2, :] * u + 3 * c[..., 3, :] * u * u)

    def _parameter(self, metres: Floats) -> Floats:
        s = np.clip(metres, 0.0, self.length)
        i = np.clip(np.searchsorted(self._at, s, side="right") - 1, 0, len(self._at) - 2)
        w = np.maximum(self._at[i + 1] - self._at[i], 1e-15)
        v = (s - self._at[i]) / w
        rise = self._u[i + 1] - self._u[i]
        found = self._u[i] + rise * v * v * (3 - 2 * v)
        return np.asarray(found + w * (v * (1 - v) ** 2 * self._du[i] - v * v * (1 - v) * self._du[i + 1]))

    def between(self, span: int) -> float:
        """Metres along to the middle of a span between two points."""
        at = self._at[[span * _CELLS, (span + 1) * _CELLS]]
        return float(at.mean())

    def place(self, metres: Floats) -> Floats:
        """(n,) metres along → (n, 3) metres on the stage; before the first point and after the last the end."""
        span, u = self._split(self._parameter(metres))
        c, u = self._c[span], u[..., None]
        return np.asarray(c[..., 0, :] + u * (c[..., 1, :] + u * (c[..., 2, :] + u * c[..., 3, :])))

    def way(self, metres: Floats) -> Floats:
        """(n,) metres along → (n, 3) unit vectors: which way the rail runs."""
        slope = self._slope(*self._split(self._parameter(metres)))
        return np.asarray(slope / np.maximum(np.linalg.norm(slope, axis=-1, keepdims=True), 1e-12))

    def nearest(self, place: Floats) -> float:
        """Metres along to the place of the rail nearest to one on the stage, (3,)."""
        s = np.linspace(0.0, self.length, 400)
        for _ in range(4):
            i = int(np.argmin(np.sum((self.place(s) - place) ** 2, axis=-1)))
            s = np.linspace(s[max(i - 1, 0)], s[min(i + 1, len(s) - 1)], 40)
        return float(s[int(np.argmin(np.sum((self.place(s) - place) ** 2, axis=-1)))])


@lru_cache(maxsize=256)
def curve(points: Points) -> Curve:
    """The curve through some points; made once."""
    return Curve(points)


def smoothed(points: Points) -> Points:
    """Points between the ends moved halfway to the middle of their neighbours; the ends stay."""
    p = np.array(points, dtype=np.float64)
    p[1:-1] += ((p[:-2] + p[2:]) / 2 - p[1:-1]) / 2
    return tuple((float(x), float(y), float(z)) for x, y, z in p.round(4))
