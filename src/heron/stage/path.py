"""A smooth path on the floor, by distance along it."""

from typing import Any

import numpy as np
from scipy.interpolate import CubicHermiteSpline
from scipy.ndimage import gaussian_filter1d

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: What is drawn by hand is kept to this, metres.
FREEHAND_M = 0.12
#: Samples lie about this far apart along a path, metres; a leg has at least, and at most, so many.
_APART, _FEWEST, _MOST = 0.05, 24, 400
#: A corner sharper than this is turned on the spot, degrees: a walker does not swing round it.
SHARP = 100.0
#: A body comes round over this much of its path, metres: it leads into a bend and out of it.
_ROUND_M = 0.22


class FloorPath:
    """A curve through points that leaves no corner for a walker to snap round.

    Attributes:
        length: metres along the curve.
    """

    def __init__(self, points: Floats) -> None:
        """`points`: (k, 2) float64, x and z in metres; neighbours at the same place are merged."""
        points = merged(points)
        if len(points) < 2:
            self.length = 0.0
            self._at, self._xz = np.zeros(2), np.repeat(points[:1], 2, axis=0)
            self._heading = np.zeros(2)
            return
        chord = np.r_[0.0, np.cumsum(np.hypot(*np.diff(points, axis=0).T))]
        legs = np.diff(chord)
        way = np.diff(points, axis=0) / legs[:, None]
        slope = np.empty_like(points)
        slope[0], slope[-1] = way[0], way[-1]
        # The nearer neighbour has more say, so that a short leg beside a long one is not overshot.
        slope[1:-1] = (way[:-1] * legs[1:, None] + way[1:] * legs[:-1, None]) / (legs[1:] + legs[:-1])[
            :, None
        ]
        spline = CubicHermiteSpline(chord, points, slope)
        counts = np.clip(np.ceil(legs / _APART), _FEWEST, _MOST).astype(int)
        u = np.r_[
            np.concatenate(
                [
                    np.linspace(a, b, n, endpoint=False)
                    for a, b, n in zip(chord, chord[1:], counts, strict=False)
                ]
            ),
            chord[-1],
        ]
        self._xz = spline(u)
        self._at = np.r_[0.0, np.cumsum(np.hypot(*np.diff(self._xz, axis=0).T))]
        self.length = float(self._at[-1])
        dx, dz = spline(u, 1).T
        bare = np.degrees(np.unwrap(np.arctan2(-dx, -dz)))
        even = np.linspace(0.0, self.length, max(int(self.length / _APART), 2) + 1)
        smooth = gaussian_filter1d(
            np.interp(even, self._at, bare),
            _ROUND_M / (even[1] - even[0]) if self.length else 1.0,
            mode="nearest",
        )
        self._even, self._heading = even, np.asarray(smooth)

    def place(self, distance: Floats) -> Floats:
        """(n,) metres along → (n, 2) x and z, metres."""
        return np.stack([np.interp(distance, self._at, self._xz[:, i]) for i in (0, 1)], axis=-1)

    def heading(self, distance: Floats) -> Floats:
        """(n,) metres along → (n,) degrees, unwrapped along the path, 0 towards −Z; a body's, which comes round."""
        if self.length == 0.0:
            return np.zeros(len(distance))
        return np.asarray(np.interp(distance, self._even, self._heading))


def few_points(points: Floats, near: float) -> Floats:
    """As few of the points of a line drawn by hand, (n, 2), as keep the smooth path through them within so much of it, metres.

    Points are left out by their distance from a chord (Ramer 1972; Douglas and Peucker 1973), and fewer of them until the path,
    which swings a little between points, is near enough.
    """
    points = merged(points)
    within = near
    while len(points) > 2:
        kept = points[_needed(points, within)]
        path = FloorPath(kept)
        drawn = path.place(np.linspace(0.0, path.length, max(int(path.length / _APART), 2)))
        away = np.sqrt(((points[:, None] - drawn[None]) ** 2).sum(axis=-1)).min(axis=1)
        if away.max() <= near or within < near / 50 or len(kept) == len(points):
            return kept
        within /= 1.6
    return points


def _needed(points: Floats, within: float) -> list[int]:
    """The places of points that a chord does not stand for."""
    found, todo = {0, len(points) - 1}, [(0, len(points) - 1)]
    while todo:
        a, b = todo.pop()
        if b - a < 2:
            continue
        chord = points[b] - points[a]
        long = np.hypot(*chord)
        off = points[a + 1 : b] - points[a]
        if long > 1e-9:
            along = np.clip(off @ chord / long**2, 0.0, 1.0)
            off = off - along[:, None] * chord
        far = np.hypot(*off.T)
        if far.max() > within:
            k = a + 1 + int(np.argmax(far))
            found.add(k)
            todo += [(a, k), (k, b)]
    return sorted(found)


def merged(points: Floats) -> Floats:
    """The points, less those at the place of the one before."""
    if len(points) < 2:
        return points
    kept = [points[0]]
    for point in points[1:]:
        if np.hypot(*(point - kept[-1])) > 1e-6:
            kept.append(point)
    return np.array(kept)


def at_corners(points: Floats) -> list[Floats]:
    """The path in parts that are each walked in one go: it ends and begins again at every sharp corner."""
    points = merged(points)
    if len(points) < 3:
        return [points]
    way = np.diff(points, axis=0)
    bearing = np.degrees(np.arctan2(-way[:, 0], -way[:, 1]))
    turn = (np.diff(bearing) + 180.0) % 360.0 - 180.0
    cuts = [0, *(np.flatnonzero(np.abs(turn) > SHARP) + 1).tolist(), len(points) - 1]
    return [points[a : b + 1] for a, b in zip(cuts, cuts[1:], strict=False)]
