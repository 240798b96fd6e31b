"""Following late: a critically damped filter of second order, the same at any frame rate.

x″ + (2/τ)x′ + x/τ² = u/τ² with τ = L/2, so that a steady speed v is followed L·v behind; exact for an input that
goes straight from frame to frame.
"""

import math
from typing import Any, Literal

import numpy as np

Floats = np.ndarray[Any, np.dtype[np.float64]]
Begins = Literal["steady", "rest"]


def _step(tau: float, h: float) -> tuple[float, float, float, float, float, float]:
    """One frame of (x − u, x′): its matrix, and what a change of the input adds to each."""
    a = 1 / tau
    p = math.exp(-a * h)
    f11, f12, f21, f22 = p * (1 + a * h), p * h, -p * a * a * h, p * (1 - a * h)
    t = 2 * tau
    return f11, f12, f21, f22, (-t + t * f11 - f12) / h, (1 + t * f21 - f22) / h


def lagged(values: Floats, seconds: Floats | float, frame_s: float, begins: Begins = "steady") -> Floats:
    """Values as they are followed, late by so many seconds at a steady speed.

    Args:
        values: (n,) one for each frame.
        seconds: how late, or (n,) where that changes.
        frame_s: seconds from frame to frame.
        begins: `steady`, as if the motion of the first frame had gone on before it; or `rest`, on the first value.

    Returns:
        (n,) float64.
    """
    n = len(values)
    late = np.broadcast_to(np.asarray(seconds, dtype=np.float64), (n,))
    du = np.zeros(n)
    du[1:] = np.diff(values)
    speed = du[1] / frame_s if n > 1 and begins == "steady" else 0.0
    if (late == late[0]).all():
        tau = float(late[0]) / 2
        if tau < 1e-9:
            return np.array(values, dtype=np.float64)
        from scipy.signal import lfilter

        f11, f12, f21, f22, k, m = _step(tau, frame_s)
        # The error of a steady follower is −L·v and stays; what is added answers the change from that.
        own = np.concatenate([[0.0], (du[1:] - speed * frame_s)])
        found = lfilter([k, -f22 * k + f12 * m], [1.0, -(f11 + f22), f11 * f22 - f12 * f21], own)
        return np.asarray(values + found - 2 * tau * speed)
    error, rate = -float(late[0]) * speed, speed
    out = np.empty(n)
    for i in range(n):
        tau = float(late[i]) / 2
        if tau < 1e-9:
            error, rate = 0.0, du[i] / frame_s
        elif i:
            f11, f12, f21, f22, k, m = _step(tau, frame_s)
            error, rate = f11 * error + f12 * rate + k * du[i], f21 * error + f22 * rate + m * du[i]
        out[i] = values[i] + error
    return out
