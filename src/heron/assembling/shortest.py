"""The cheapest cut: shots over frames, each of a camera, by dynamic programming over where each begins (semi-Markov)."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

Floats = np.ndarray[Any, np.dtype[np.float64]]
Ints = np.ndarray[Any, np.dtype[np.int64]]
#: Costs of cuts are asked for so many frames at once.
_AT_ONCE = 512


@dataclass(frozen=True)
class Forced:
    """Frames, the end not among them, that are one shot of a camera, whatever its length."""

    camera: int
    first: int
    stop: int


@dataclass(frozen=True)
class Run:
    """A shot: a camera, its first frame and the one after its last."""

    camera: int
    first: int
    stop: int


def shortest(
    view: Floats, moment: Floats, cuts: Callable[[Ints], Floats], length: Floats, least: int, forced: Sequence[Forced] = (),
) -> tuple[float, list[Run]] | None:  # fmt: skip
    """The cut that costs least, and what it costs; None where there is none.

    Args:
        view: (c, n) what a frame of a camera costs. A forced shot has a camera of its own, that nothing else uses.
        moment: (c, n) what it costs to begin a shot of a camera at a frame; at the first frame of all, nothing.
        cuts: for (m,) frames, (m, c, c) what it costs to cut there from one camera to another.
        length: (most + 1,) what a shot of so many frames costs.
        least: the fewest frames of a shot. A stretch between two forced shots, or an end, that is shorter is one shot.
    """
    c, n = view.shape
    most = len(length) - 1
    cum = np.concatenate([np.zeros((1, c)), np.cumsum(view.T, axis=0)])
    every = np.arange(c)
    own = {one.camera for one in forced}
    free = np.array([k not in own for k in range(c)])
    begins = {one.first: one for one in forced}
    stops = {one.stop: one for one in forced}
    inside = np.zeros(n + 1, dtype=bool)
    for one in forced:
        inside[one.first + 1 : one.stop] = True
    # What it costs until a frame with the last shot on a camera, and to begin one there.
    until, start = np.full((n + 1, c), np.inf), np.full((n + 1, c), np.inf)
    begun, came = np.zeros((n + 1, c), dtype=np.int64), np.zeros((n + 1, c), dtype=np.int64)
    start[0] = np.where(free, 0.0, np.inf)
    if 0 in begins:
        start[0] = np.inf
        start[0, begins[0].camera] = 0.0
    # Less what was spent on the camera before it began: what is left depends on the end alone.
    ready = np.full((n + 1, c), np.inf)
    ready[0] = start[0]
    # Added to what is ready at earlier frames: the longest first.
    falling = length[::-1, None]
    low = 0
    block: Floats = np.empty(0)
    block_at = -1
    for t in range(1, n + 1):
        if inside[t]:
            continue
        if t in stops:
            one = stops[t]
            until[t, one.camera] = ready[one.first, one.camera] + cum[t, one.camera]
            begun[t, one.camera] = one.first
            low = t
        elif t > low:
            short = t - low < least and (t == n or t in begins)
            first, last = (low, low) if short else (max(t - most, low), t - least)
            if last >= first:
                window = ready[first : last + 1] + falling[most - t + first : most - t + last + 1]
                best = window.argmin(axis=0)
                until[t] = np.where(free, window[best, every] + cum[t], np.inf)
                begun[t] = first + best
        if t == n:
            break
        if until[t].min() < np.inf:
            if block_at < 0 or t >= block_at + len(block):
                block_at, block = t, cuts(np.arange(t, min(t + _AT_ONCE, n)))
                # From a camera to itself is no cut.
                block[:, every, every] = np.inf
            over = until[t][:, None] + block[t - block_at]
            came[t] = over.argmin(axis=0)
            start[t] = over[came[t], every] + moment[:, t]
            only = begins.get(t)
            start[t, free if only is not None else ~free] = np.inf
            if only is not None:
                start[t, [k for k in own if k != only.camera]] = np.inf
            ready[t] = start[t] - cum[t]
    end = int(np.argmin(until[n]))
    cost = float(until[n, end])
    if not np.isfinite(cost):
        return None
    runs: list[Run] = []
    t, camera = n, end
    while True:
        first = int(begun[t, camera])
        runs.append(Run(camera, first, t))
        if first == 0:
            return cost, runs[::-1]
        t, camera = first, int(came[first, camera])
