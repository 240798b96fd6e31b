"""Few keys that give values frame by frame within an error.

The keys are the knots of a cubic Hermite with free values and slopes, fitted to the values by least squares: shaped keys whose
handles are a third of the way to their neighbours. Knots are put where the fit is farthest off, in every stretch at once,
until none is; where they are not too many, each is then tried away, and moved to where it does most.
"""

import itertools
from typing import Any

import numpy as np
from scipy.linalg import solveh_banded

from heron.curves.channel import Channel, Key
from heron.curves.evaluate import evaluate

Floats = np.ndarray[Any, np.dtype[np.float64]]
Ints = np.ndarray[Any, np.dtype[np.intp]]

#: Slopes that the values do not settle are drawn to the values' own differences this strongly.
_RIDGE = 1e-6
#: How much more the first and the last value weigh.
_KEPT = 1e6
#: With more knots than this, or more frames, none is tried away.
_TRIED_KNOTS = 120
#: As many are moved, and tried away one by one.
_MOVED_KNOTS = 24
_TRIED_FRAMES = 20_000
#: The fit aims a little inside the error, for what rounding takes.
_INSIDE = 1 - 1e-6


def simplified(first: int, values: Floats, error: float, *, quick: bool = False) -> Channel:
    """A channel that is within an error of values at every frame; with none, of a key on every frame.

    Args:
        first: the frame of the first value.
        values: (n,) one for each frame.
        error: in the values' unit.
        quick: with more keys than need be, ten times as soon.
    """
    n = len(values)
    if (np.ptp(values) <= error and error > 0) or n == 1:
        return Channel(rest=float(values[0]))
    if error <= 0 or n == 2:
        return _dense(first, values, np.arange(n))
    fit = _Fit(values)
    at = _grown(fit, error * _INSIDE)
    if not quick and len(at) <= _TRIED_KNOTS and n <= _TRIED_FRAMES:
        at = _thinned(fit, at, error * _INSIDE)
    if len(at) * 2 > n:
        return _dense(first, values, np.arange(n))
    channel = _channel(first, at, *fit.solved(at))
    off = np.abs(evaluate(channel, np.arange(first, first + n)) - values)
    return channel if off.max() <= error else _dense(first, values, np.arange(n))


class _Fit:
    """Values to be fitted by a Hermite through knots at some of their places."""

    def __init__(self, values: Floats) -> None:
        self.values = values
        self.places = np.arange(len(values), dtype=np.float64)
        # The ends are kept: what goes on before and after joins there.
        self.weight = np.ones(len(values))
        self.weight[[0, -1]] = _KEPT
        self.slopes = np.gradient(values)

    def solved(self, at: Ints) -> tuple[Floats, Floats]:
        """(k,) values and slopes at knots, by least squares."""
        k = len(at)
        if k == len(self.values):
            return self.values, self.slopes
        i, basis = self._basis(at)
        # Normal equations in v0, m0, v1, m1, …: each place meets four neighbours, so that they are a band of four.
        bands = np.zeros((4, 2 * k))
        right = np.zeros(2 * k)
        for a in range(4):
            np.add.at(right, 2 * i + a, basis[a] * self.values * self.weight)
            for b in range(a, 4):
                # Lower form: the row is how far below the diagonal.
                np.add.at(bands[b - a], 2 * i + a, basis[a] * basis[b] * self.weight)
        wide = np.gradient(at.astype(np.float64)) if k > 1 else np.ones(1)
        bands[0, 1::2] += _RIDGE * wide**2
        right[1::2] += _RIDGE * wide**2 * self.slopes[at]
        bands[0, 0::2] += _RIDGE
        right[0::2] += _RIDGE * self.values[at]
        found = solveh_banded(bands, right, lower=True)
        knots, slopes = found[0::2], found[1::2]
        knots[[0, -1]] = self.values[[0, -1]]
        return knots, slopes

    def off(self, at: Ints) -> Floats:
        """(n,) how far off the fit through knots is."""
        values, slopes = self.solved(at)
        i, basis = self._basis(at)
        made = (
            basis[0] * values[i] + basis[1] * slopes[i] + basis[2] * values[i + 1] + basis[3] * slopes[i + 1]
        )
        return np.asarray(np.abs(made - self.values))

    def _basis(self, at: Ints) -> tuple[Ints, Floats]:
        i = np.clip(np.searchsorted(at, self.places, side="right") - 1, 0, len(at) - 2)
        width = (at[i + 1] - at[i]).astype(np.float64)
        u = (self.places - at[i]) / width
        w = 1 - u
        return i, np.stack([w * w * (1 + 2 * u), width * u * w * w, u * u * (3 - 2 * u), -width * u * u * w])


def _grown(fit: _Fit, error: float) -> Ints:
    """Knots added where the fit is farthest off, until it is within the error or there is one at every place."""
    at = np.array([0, len(fit.values) - 1])
    while True:
        off = fit.off(at)
        new = []
        for a, b in itertools.pairwise(at.tolist()):
            worst = a + 1 + int(np.argmax(off[a + 1 : b])) if b - a > 1 else a
            if off[a : b + 1].max() > error and b - a > 1:
                # Not at the very edge of a stretch: what is off there is off on both sides of the knot.
                new.append(min(max(worst, a + (b - a) // 4), b - (b - a) // 4) if b - a > 3 else worst)
        if not new:
            return at
        at = np.unique(np.r_[at, new])


def _thinned(fit: _Fit, at: Ints, error: float) -> Ints:
    """Knots tried away, those first that do least; few of them are then moved to where they do most, and tried again."""
    at = _dropped(fit, at, error)
    for _ in range(3):
        if not 2 < len(at) <= _MOVED_KNOTS:
            break
        before = len(at)
        at = _dropped(fit, _moved(fit, at), error)
        if len(at) == before:
            break
    return at


def _dropped(fit: _Fit, at: Ints, error: float) -> Ints:
    """Without the knots that can go: of few the least each time again, of many all in one order."""
    while len(at) > 2:
        worst = sorted((float(fit.off(np.delete(at, k)).max()), int(at[k])) for k in range(1, len(at) - 1))
        gone = False
        for off, place in worst:
            if off > error:
                break
            less = at[at != place]
            if not gone or float(fit.off(less).max()) <= error:
                at, gone = less, True
            if len(worst) <= _MOVED_KNOTS:
                break
        if not gone:
            break
    return at


def _moved(fit: _Fit, at: Ints) -> Ints:
    """Each knot moved to where the worst of the fit is least."""
    worst = float(fit.off(at).max())
    for k in range(1, len(at) - 1):
        for by in (-8, 8, -4, 4, -2, 2, -1, 1):
            to = at[k] + by
            if not at[k - 1] < to < at[k + 1]:
                continue
            tried = at.copy()
            tried[k] = to
            now = float(fit.off(tried).max())
            if now < worst:
                at, worst = tried, now
    return at


def _channel(first: int, at: Ints, values: Floats, slopes: Floats) -> Channel:
    widths = np.diff(at) / 3
    last = len(at) - 1
    return Channel(
        rest=float(values[0]),
        keys=tuple(
            Key(
                frame=first + int(at[k]),
                value=float(values[k]),
                before="shaped" if k else "straight",
                after="shaped" if k < last else "straight",
                handle_before=(-float(widths[k - 1]), float(-widths[k - 1] * slopes[k])) if k else None,
                handle_after=(float(widths[k]), float(widths[k] * slopes[k])) if k < last else None,
            )
            for k in range(last + 1)
        ),
    )


def _dense(first: int, values: Floats, at: Ints) -> Channel:
    keys = [
        Key(frame=first + int(i), value=float(values[i]), before="straight", after="straight") for i in at
    ]
    return Channel(rest=keys[0].value, keys=tuple(keys))
