"""How far each act of a lane is under way: it comes in over the one before it, and goes out under the next."""

from typing import Any

import numpy as np

from heron.stage.acts.base import Act, Lane, shaped
from heron.stage.lanes import on_lane, overlap

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: Seconds over which an act blends in and out where it overlaps no other.
BLEND_S = 0.35


def eased(u: Floats) -> Floats:
    """0 to 1 with soft ends."""
    u = np.clip(u, 0.0, 1.0)
    return np.asarray(u * u * (3 - 2 * u))


def weight(act: Act, t: Floats, fps: float) -> Floats:
    """(n,) how far an act is under way that overlaps no other: 0 outside, 1 well inside."""
    blend = min(BLEND_S * fps, act.frames.count / 2)
    return eased(np.minimum(t - act.frames.first + 1, act.frames.stop - t) / max(blend, 1e-6))


def lane_weights(acts: tuple[Act, ...], lane: Lane, t: Floats, fps: float) -> list[tuple[Act, Floats]]:
    """Each act of a lane that blends, in order, with how far it is under way, (n,).

    They are laid over each other in this order: under the next one an act stays whole until that has come in.
    """
    there = on_lane(acts, lane)
    return [
        (act, _coming(act, there[i - 1] if i else None, t, fps) * _going(act, there[i + 1 : i + 2], t, fps))
        for i, act in enumerate(there)
    ]


def _coming(act: Act, before: Act | None, t: Floats, fps: float) -> Floats:
    over = overlap(before, act) if before else 0
    if over:
        return shaped((t + 1 - act.frames.first) / (over + 1), act.shape)
    if act.frames.first <= t[0]:
        # What is under way on the scene's first frame has been so for long.
        return np.ones(len(t))
    return eased((t - act.frames.first + 1) / max(min(BLEND_S * fps, act.frames.count / 2), 1e-6))


def _going(act: Act, after: list[Act], t: Floats, fps: float) -> Floats:
    stays = act.STAYS or act.hold
    for nxt in after:
        over = overlap(act, nxt)
        if over:
            return (t < nxt.frames.first + over).astype(float)
        if stays:
            return 1 - eased((t - nxt.frames.first + 1) / (BLEND_S * fps))
    if stays:
        return np.ones(len(t))
    return eased((act.frames.stop - t) / max(min(BLEND_S * fps, act.frames.count / 2), 1e-6))
