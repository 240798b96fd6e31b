"""How a body rises and falls in a run: true gravity in the air, and the push that answers it on the ground."""

from typing import Any

import numpy as np
from scipy.ndimage import gaussian_filter1d

from heron.stage.body.travel import Travel
from heron.stage.physique import Physique
from heron.stage.skeleton import HIP

Floats = np.ndarray[Any, np.dtype[np.float64]]
_GRAVITY = 9.81


def running_height(way: Travel, t: Floats, physique: Physique, fps: float) -> Floats:
    """(n,) metres: the height of the hips of somebody who runs over the floor under them."""
    speed = np.hypot(*np.gradient(way.place, axis=0).T) * fps if len(t) > 1 else np.zeros(len(t))
    mean = (0.496 - 0.0075 * gaussian_filter1d(speed, 0.15 * fps, mode="nearest")) * physique.hip / HIP
    return np.asarray(mean + _bounce(way, t, fps))


def _bounce(way: Travel, t: Floats, fps: float) -> Floats:
    """(n,) metres over the mean: parabolas in the air; on the ground half a sine that meets them without a kick."""
    out = np.zeros(len(t))
    contacts = sorted(
        (foot.land[k], foot.lift[k + 1] if k + 1 < len(foot.lift) else np.inf, foot.run[k])
        for foot in way.feet.values()
        for k in range(len(foot.lift))
    )
    flights = [
        (left, lands, max(run, other))
        for (_, left, run), (lands, _, other) in zip(contacts, contacts[1:], strict=False)
    ]
    for k, (left, lands, run) in enumerate(flights):
        if run == 0.0 or lands <= left:
            continue
        air = (lands - left) / fps
        inside = (t >= left) & (t <= lands)
        tau = (t[inside] - left) / fps
        out[inside] = _GRAVITY / 2 * tau * (air - tau)
        off = flights[k + 1][0] if k + 1 < len(flights) else np.inf
        ground = (off - lands) / fps
        if not np.isfinite(ground) or ground <= 0:
            continue
        inside = (t > lands) & (t < off)
        tau = (t[inside] - lands) / fps
        out[inside] = -_GRAVITY * air * ground / (2 * np.pi) * np.sin(np.pi * tau / ground)
    return out
