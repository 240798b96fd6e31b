"""Hitches: where a move stalls, kicks or pumps for a moment, against the move's own scale.

Each signal's change from frame to frame is looked at through windows of one to eight frames. In a stall the window goes
much slower than both its shoulders, in a kick much faster, in a pump it goes back; and it changes there far more
suddenly than round about. Straight keys that were asked for, holds of more than eight frames, and a move that goes a
little too far and swings back to rest, are none.
"""

import itertools
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np

from heron.motion.signals import Signals

Floats = np.ndarray[Any, np.dtype[np.float64]]
Ints = np.ndarray[Any, np.dtype[np.int_]]
Kind = Literal["stall", "kick", "pump", "chord"]

SHAPES: tuple[Kind, ...] = ("stall", "pump", "kick")
#: Changes a frame below these are nothing: of the logarithm of a size, pixels of 1080, metres, degrees.
FLOORS = {"size": 0.0006, "place": 0.6, "own": 0.0015, "pan": 0.02, "tilt": 0.02, "zoom": 0.0006}
#: Of the smaller shoulder, and of the larger: slower is a stall, faster a kick.
STALL, KICK = 0.65, 1.7
#: Windows, ramps on both sides of them, and how far round about is looked, frames.
WINDOWS, RAMPS, ROUND = range(1, 9), range(3), 14
#: A component counts where it is this share of all of the change.
SEEN = 0.5
#: Of what a wide window differs by from its shoulders, as much as it may vary within.
EVEN = 0.3
#: It changes so many times as suddenly as round about.
SUDDEN = 6.0
#: Something of the camera's own rests where it is below this share of its peaks within a second on both sides, which must
#: be so many times as much as nothing.
REST, SECOND, PEAK = 0.1, 24, 6.0
#: It has come to rest when it stays so for more frames than this; swings before that last no longer, and the first goes
#: back by no more than this share of the move.
AT_REST, SETTLES, SWING = 5, 48, 0.45
#: A dolly zoom: focal length and distance go together by this much (natural logarithms), the size by this share of it at
#: most; a size that goes and comes back by
#: more than this pumps, by more than the most it was meant; and how nearly they must go together (correlation).
ZOOM_LEAST, ZOOM_SIZE, PUMP, PUMP_MOST, TOGETHER = 0.08, 0.35, 0.015, 0.2, 0.97
#: Two keys of a round move come this much nearer to its middle than a circle would.
CHORD = 0.01

_WORDS = {
    "size": "the subject's size", "place": "the subject in the frame", "own": "the camera's move", "pan": "the pan",
    "tilt": "the tilt", "zoom": "the zoom", "distance": "the distance",
}  # fmt: skip
_DOES = {"stall": "stops for a moment", "kick": "jerks", "pump": "goes back for a moment"}


@dataclass(frozen=True)
class Hitch:
    """One hitch.

    Attributes:
        measure: what hitches: `size`, `place`, `own`, `pan`, `tilt`, `zoom` or `distance`.
        severity: how far off: of a stall the share of the speed that is missing, of a kick how many times too fast less
            one, of a pump how far it goes back as a share of the size.
    """

    first: int
    last: int
    kind: Kind
    measure: str
    severity: float

    @property
    def sentence(self) -> str:
        """That in plain words."""
        when = f"at {self.first}" if self.first == self.last else f"from {self.first} to {self.last}"
        if self.kind == "chord":
            return f"Two keys make a chord of the round move {when}: it comes {self.severity * 100:.0f} % nearer in between"
        if self.kind == "pump" and self.measure == "size":
            return f"The subject swells or shrinks by {self.severity * 100:.1f} % {when} and comes back"
        what = _WORDS[self.measure]
        return f"{what[:1].upper()}{what[1:]} {_DOES[self.kind]} {when}"


def hitches(s: Signals) -> list[Hitch]:
    """Every hitch, in order; of several that overlap the worst, and what the subject itself does is none."""
    found: list[Hitch] = []
    n = len(s.size)
    edges = [0, *(f - s.first for f in s.breaks if 0 < f - s.first < n), n]
    going = _own(s)
    for begin, end in zip(edges, edges[1:], strict=False):
        if end - begin < 6:
            continue
        part = slice(begin, end)
        parts = [one for one in _measures(s, part) if np.isfinite(one[1]).all()]
        changes = [np.diff(value) for _, value, _ in parts]
        settles = [_settling(v, FLOORS[measure]) for v, (measure, _, _) in zip(changes, parts, strict=True)]
        # Where the camera comes to rest, what is seen does so with it.
        resting = [
            np.any(
                [
                    one for one, (other, _, _) in zip(settles, parts, strict=True)
                    if other == measure or (measure in ("size", "place") and other not in ("size", "place"))
                ], axis=0,
            )
            for measure, _, _ in parts
        ]  # fmt: skip
        for k, first, last, kind, severity in _in(changes, parts):
            if resting[k][first : last + 1].any():
                continue
            measure = parts[k][0]
            hit = Hitch(s.first + begin + first + 1, s.first + begin + last + 1, kind, measure, severity)
            if measure in ("size", "place") and _subjects_own(s, hit, going):
                continue
            found.append(hit)
        found += _rests(s, part)
        found += _pumps(s, part)
    return _apart(found)


def _measures(s: Signals, part: slice) -> list[tuple[str, Floats, Floats | None]]:
    """Each signal by its components, and how much all of them change: along its way it would seem to slow down wherever
    it turns a corner, and what is a small part of a move is not seen.
    """
    frame, place = np.stack([s.x[part], s.y[part]], axis=-1), s.place[part]
    turns = np.stack([s.pan[part], s.tilt[part]], axis=-1)

    def parts(measures: tuple[str, ...], way: Floats) -> list[tuple[str, Floats, Floats | None]]:
        whole = np.linalg.norm(np.diff(way, axis=0), axis=1)
        return [(measure, way[:, k], whole) for k, measure in enumerate(measures)]

    return [
        ("size", s.size[part], None),
        *parts(("place", "place"), frame),
        *parts(("own", "own", "own"), place),
        *parts(("pan", "tilt"), turns),
        ("zoom", s.focal[part], None),
    ]


def _own(s: Signals) -> Floats:
    """(n − 1,) whether the camera itself does anything from frame to frame: shares of its floors."""
    went = np.linalg.norm(np.diff(s.place, axis=0), axis=1) / FLOORS["own"]
    turned = np.maximum(np.abs(np.diff(s.pan)), np.abs(np.diff(s.tilt))) / FLOORS["pan"]
    return np.asarray(np.maximum(went, np.maximum(turned, np.abs(np.diff(s.focal)) / FLOORS["zoom"])))


def _subjects_own(s: Signals, hit: Hitch, going: Floats) -> bool:
    """Whether what is seen there is the subject's doing: the camera stands, or the subject's own pace changes there."""
    a, b = max(hit.first - s.first - 3, 0), hit.last - s.first + 2
    if going[a:b].max(initial=0.0) < 1:
        return True
    pace = np.linalg.norm(np.diff(s.subject, axis=0), axis=1)[max(a - 3, 0) : b + 3]
    return bool(np.ptp(pace) > 0.004)


def _in(
    changes: list[Floats], parts: list[tuple[str, Floats, Floats | None]]
) -> list[tuple[int, int, int, Kind, float]]:
    """(which component, first, last, kind, severity) of windows that hitch.

    Args:
        changes: (m,) of each component, from frame to frame.
        parts: the components, as `_measures` gives them.
    """
    if not changes:
        return []
    found: list[tuple[int, int, int, Kind, float]] = []
    v = np.stack(changes)
    m = v.shape[1]
    floor = np.array([[FLOORS[measure]] for measure, _, _ in parts])
    # What is a component of nothing is all there is, and counts everywhere.
    whole = np.stack([np.zeros(m) if all_ is None else all_ for _, _, all_ in parts])
    start = np.zeros((len(v), 1))
    sums = np.concatenate([start, np.cumsum(v, axis=1)], axis=1)
    squares = np.concatenate([start, np.cumsum(v * v, axis=1)], axis=1)
    jerk = np.abs(np.diff(v, axis=1))
    for w in WINDOWS:
        for r in RAMPS:
            # The window's first change; its shoulders are two changes each, beyond the ramps.
            i = np.arange(2 + r, m - w - r - 1)
            if len(i) == 0:
                continue
            middle = (sums[:, i + w] - sums[:, i]) / w
            a = (v[:, i - 2 - r] + v[:, i - 1 - r]) / 2
            b = (v[:, i + w + r] + v[:, i + w + r + 1]) / 2
            least, most = np.minimum(np.abs(a), np.abs(b)), np.maximum(np.abs(a), np.abs(b))
            # Within a wide window it goes on evenly: a smooth dip does not.
            spread = np.sqrt(np.maximum((squares[:, i + w] - squares[:, i]) / w - middle**2, 0.0))
            level = spread <= EVEN * np.maximum(np.abs(a - middle), np.abs(b - middle))
            same = (a * b > 0) & (least > 2 * floor) & (level | (w < 3))
            same &= least > SEEN * np.minimum(whole[:, i - 1 - r], whole[:, i + w + r])
            along = middle * np.sign(a)
            slow = same & (along < STALL * least) & (along > -0.2 * least)
            back = same & (along <= -0.2 * least)
            fast = same & (along > KICK * most) & (w <= 4)
            if w <= 2:
                # Out of rest, or nearly: a jump of a frame or two.
                fast |= (np.abs(middle) > 8 * floor) & (most < 0.2 * np.abs(middle))
            edge = np.abs(middle - (a + b) / 2) / (r + 1)
            kinds, which, at = np.nonzero(np.stack([slow, back, fast]) & (edge > floor))
            if not len(at):
                continue
            first = i[at]
            sudden = edge[which, at] > SUDDEN * _usual(jerk, which, first - r - 1, first + w + r)
            beside = np.maximum(np.where(kinds == 2, most[which, at], least[which, at]), floor[which, 0])
            off = np.abs(1.0 - along[which, at] / beside)
            found += [
                (int(which[n]), int(first[n]), int(first[n]) + w - 1, SHAPES[kinds[n]], float(off[n]))
                for n in np.flatnonzero(sudden)
            ]
    # Of equals the first component is told.
    return sorted(found, key=lambda one: one[0])


def _settling(v: Floats, floor: float) -> np.ndarray[Any, np.dtype[np.bool_]]:
    """(m,) where a component swings back to rest, each swing clearly smaller than the one before it, after a move."""
    out = np.zeros(len(v), dtype=bool)
    way = np.where(np.abs(v) <= floor, 0, np.sign(v))
    # Runs of one direction, those too slow to count left out: (first, last, how far).
    edges = np.flatnonzero(np.diff(np.concatenate([[0.0], way, [0.0]])))
    runs = [(int(a), int(b) - 1, float(np.abs(v[a:b].sum()))) for a, b in itertools.pairwise(edges) if way[a]]
    for k in range(1, len(runs)):
        begins = runs[k + 1][0] if k + 1 < len(runs) else len(v)
        if begins - runs[k][1] <= AT_REST:
            continue
        # Backwards from a rest: swings to and fro, up to the move that they end.
        at = k
        while at and _swings_on(v, runs[at - 1], runs[at]):
            at -= 1
        if at < k and runs[at + 1][2] < SWING * runs[at][2] and runs[k][1] - runs[at][1] <= SETTLES:
            out[runs[at][1] : runs[k][1] + 1] = True
    return out


def _swings_on(v: Floats, before: tuple[int, int, float], now: tuple[int, int, float]) -> bool:
    """Whether a run goes back on the one before it, by clearly less."""
    turned = v[before[0]] * v[now[0]] < 0 and now[0] - before[1] <= 3
    return bool(turned and now[2] < 0.6 * before[2])


def _rests(s: Signals, part: slice) -> list[Hitch]:
    """Where something of the camera's own all but rests for a moment, and goes on the same way."""
    out = []
    begin = s.first + part.start
    for measure, value, whole in _measures(s, part):
        if measure in ("size", "place"):
            continue
        v, floor = np.diff(value), FLOORS[measure]
        speed = np.abs(v)
        # It went one way and goes on the same way: where it turns back it must rest.
        on, back = (
            np.minimum(_peaks(np.maximum(way * v, 0.0), -1), _peaks(np.maximum(way * v, 0.0), 1))
            for way in (1, -1)
        )
        other = np.maximum(_peaks(np.maximum(-v, 0.0), -1), _peaks(np.maximum(-v, 0.0), 1))
        other = np.where(
            on >= back, other, np.maximum(_peaks(np.maximum(v, 0.0), -1), _peaks(np.maximum(v, 0.0), 1))
        )
        least = np.maximum(on, back)
        seen = (least > PEAK * floor) & (other < REST * least)
        if whole is not None:
            seen &= whole < REST * np.minimum(_peaks(whole, -1), _peaks(whole, 1))
        for a, b in _stretches(seen & (speed < REST * least)):
            if b - a + 1 > 8 or a == 0 or b == len(v) - 1 or v[a - 1] * v[b + 1] <= 0:
                continue
            level = float(speed[a : b + 1].max() / least[a : b + 1].min())
            out.append(Hitch(begin + a + 1, begin + b + 1, "stall", measure, 1 - level))
    return out


def _peaks(speed: Floats, way: int) -> Floats:
    """(m,) the most within `SECOND` changes before each, or after it."""
    padded = np.concatenate([np.zeros(SECOND), speed, np.zeros(SECOND)])
    windows = np.lib.stride_tricks.sliding_window_view(padded, SECOND)
    n = len(speed)
    return np.asarray((windows[:n] if way < 0 else windows[SECOND + 1 : SECOND + 1 + n]).max(axis=1))


def _stretches(on: np.ndarray[Any, Any]) -> list[tuple[int, int]]:
    """(first, last) places of each unbroken run."""
    edges = np.flatnonzero(np.diff(np.concatenate([[0], on.astype(int), [0]])))
    return [(int(a), int(b) - 1) for a, b in zip(edges[::2], edges[1::2], strict=True)]


def _usual(jerk: Floats, which: Ints, first: Ints, last: Ints) -> Floats:
    """(n,) how suddenly things change round about windows: the third quartile, the windows themselves left out.

    Args:
        jerk: (k, m) of each component.
        which: (n,) the component; `first` and `last`: (n,) where in it.
    """
    beside = np.pad(jerk, ((0, 0), (ROUND, ROUND)), constant_values=np.inf)
    spread = np.arange(ROUND)
    at = np.concatenate([first[:, None] + spread, last[:, None] + 1 + ROUND + spread], axis=1)
    there = np.sort(beside[which[:, None], at], axis=1)
    place = 0.75 * np.maximum(np.isfinite(there).sum(axis=1) - 1, 0)
    low, high = (
        np.take_along_axis(there, f(place).astype(int)[:, None], 1)[:, 0] for f in (np.floor, np.ceil)
    )
    return np.asarray(np.where(np.isfinite(low), low + (high - low) * (place % 1), 0.0))


def _pumps(s: Signals, part: slice) -> list[Hitch]:
    """Dolly zooms whose size goes and comes back: lens and distance do not ease together."""
    focal, away, size = s.focal[part], np.log(np.maximum(s.away[part], 1e-6)), s.size[part]
    if not np.isfinite(size).all():
        return []
    begin = s.first + part.start
    moving = (np.abs(np.diff(focal)) > FLOORS["zoom"] / 3) | (np.abs(np.diff(away)) > FLOORS["size"] / 3)
    found = []
    for a, b in _runs(moving, 10):
        df, da, ds = focal[b] - focal[a], away[b] - away[a], size[b] - size[a]
        if min(abs(df), abs(da)) < ZOOM_LEAST or df * da < 0 or abs(ds) > ZOOM_SIZE * abs(df):
            continue
        if float(np.corrcoef(focal[a : b + 1], away[a : b + 1])[0, 1]) < TOGETHER:
            continue
        line = size[a] + ds * (focal[a : b + 1] - focal[a]) / df if abs(df) > 0 else size[a : b + 1]
        off = size[a : b + 1] - line
        worst = int(np.abs(off).argmax())
        if PUMP < abs(off[worst]) < PUMP_MOST:
            there = np.flatnonzero(np.abs(off) > abs(off[worst]) / 2)
            found.append(
                Hitch(
                    begin + a + int(there[0]),
                    begin + a + int(there[-1]),
                    "pump",
                    "size",
                    abs(float(off[worst])),
                )
            )
    return found


def _runs(on: np.ndarray[Any, Any], least: int) -> list[tuple[int, int]]:
    """(first, last) places between which something is on, bridging gaps of two."""
    at = np.flatnonzero(on)
    if not len(at):
        return []
    groups = np.split(at, np.flatnonzero(np.diff(at) > 3) + 1)
    return [(int(g[0]), int(g[-1]) + 1) for g in groups if g[-1] + 1 - g[0] >= least]


def _apart(found: list[Hitch]) -> list[Hitch]:
    """Of hitches that overlap or touch the worst one, in order of time."""
    kept: list[Hitch] = []
    for hit in sorted(found, key=lambda h: (-h.severity, h.last - h.first)):
        if all(hit.last < other.first - 3 or hit.first > other.last + 3 for other in kept):
            kept.append(hit)
    return sorted(kept, key=lambda h: h.first)
