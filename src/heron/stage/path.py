"""A smooth path on the floor, by distance along it."""

from typing import Any

import numpy as np
from scipy.interpolate import CubicHermiteSpline

Floats = np.ndarray[Any, np.dtype[np.float64]]
_SAMPLES_A_LEG = 48


class FloorPath:
    """A curve through points that leaves no corner for a walker to snap round.

    Attributes:
        length: metres along the curve.
    """

    def __init__(self, points: Floats) -> None:
        """`points`: (k, 2) float64, x and z in metres; neighbours at the same place are merged."""
        apart = np.r_[True, np.hypot(*np.diff(points, axis=0).T) > 1e-6] if len(points) > 1 else [True]
        points = points[np.asarray(apart)]
        if len(points) < 2:
            self.length = 0.0
            self._at, self._xz = np.zeros(2), np.repeat(points[:1], 2, axis=0)
            return
        chord = np.r_[0.0, np.cumsum(np.hypot(*np.diff(points, axis=0).T))]
        slope = np.empty_like(points)
        slope[0] = (points[1] - points[0]) / (chord[1] - chord[0])
        slope[-1] = (points[-1] - points[-2]) / (chord[-1] - chord[-2])
        slope[1:-1] = (points[2:] - points[:-2]) / (chord[2:] - chord[:-2])[:, None]
        u = np.linspace(0.0, chord[-1], _SAMPLES_A_LEG * (len(points) - 1) + 1)
        self._xz = CubicHermiteSpline(chord, points, slope)(u)
        self._at = np.r_[0.0, np.cumsum(np.hypot(*np.diff(self._xz, axis=0).T))]
        self.length = float(self._at[-1])

    def place(self, distance: Floats) -> Floats:
        """(n,) metres along → (n, 2) x and z, metres."""
        return np.stack([np.interp(distance, self._at, self._xz[:, i]) for i in (0, 1)], axis=-1)

    def heading(self, distance: Floats) -> Floats:
        """(n,) metres along → (n,) degrees, unwrapped along the path, 0 towards −Z."""
        step = max(self.length * 1e-3, 1e-4)
        ahead = self.place(np.minimum(distance + step, self.length))
        behind = self.place(np.maximum(distance - step, 0.0))
        dx, dz = (ahead - behind).T
        return np.asarray(np.degrees(np.unwrap(np.arctan2(-dx, -dz))))
