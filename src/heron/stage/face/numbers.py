"""A face as ten numbers over frames: expressions by their amounts, and blinks.

`knit`, `lid_low`, `open`, `lip_up` and `side` go from 0 to 1, the others from −1 to 1. Brows are raised by more than 0;
an upper lid is shut at −1 and wide at 1; the left half of the upper face follows less as `side` grows.
"""

import hashlib
from typing import Any

import numpy as np

from heron.curves import evaluate
from heron.stage.acts.base import shaped
from heron.stage.acts.face import Express, Expression, FaceAct
from heron.stage.figure import Figure
from heron.stage.turning import angles_of

Floats = np.ndarray[Any, np.dtype[np.float64]]
NUMBERS = ("brow_in", "brow_out", "knit", "lid_up", "lid_low", "open", "wide", "corner", "lip_up", "side")
_LEAST = np.array([-1.0, -1.0, 0.0, -1.0, 0.0, 0.0, -1.0, -1.0, 0.0, 0.0])
#: What each expression does to a face at its full amount: by the action units of the published facial coding system
#: (Ekman and Friesen 1978, from memory).
EXPRESSIONS: dict[Expression, dict[str, float]] = {
    "joy": {"corner": 0.9, "wide": 0.45, "lid_low": 0.55, "lid_up": -0.15, "open": 0.22, "lip_up": 0.25},
    "sad": {"brow_in": 0.95, "brow_out": -0.45, "knit": 0.35, "lid_up": -0.35, "corner": -0.75},
    "anger": {"brow_in": -1.0, "brow_out": 0.25, "knit": 1.0, "lid_up": 0.15, "lid_low": 0.55, "wide": -0.25, "corner": -0.35},
    "fear": {"brow_in": 1.0, "brow_out": 0.55, "knit": 0.6, "lid_up": 0.85, "wide": 0.75, "open": 0.3, "corner": -0.3},
    "surprise": {"brow_in": 0.9, "brow_out": 1.0, "lid_up": 1.0, "open": 0.75, "wide": -0.25},
    "disgust": {"brow_in": -0.6, "knit": 0.5, "lid_low": 0.75, "lid_up": -0.3, "corner": -0.55, "lip_up": 0.9},
    "doubt": {"side": 0.9, "brow_out": 0.5, "corner": -0.15, "lid_low": 0.25},
    "tired": {"lid_up": -0.62, "brow_out": -0.2, "corner": -0.15},
    "tender": {"brow_in": 0.35, "lid_up": -0.2, "lid_low": 0.25, "corner": 0.4},
    "laugh": {"corner": 1.0, "wide": 0.6, "open": 0.8, "lid_low": 0.85, "lid_up": -0.55, "lip_up": 0.4},
}  # fmt: skip
#: An expression comes within so long and goes within so long, seconds (common practice); brows two frames of 24 before the mouth.
COMES_S, GOES_S, _BROWS_FIRST_S = 0.32, 0.65, 2 / 24
#: How much less an expression shapes the mouth while it speaks.
_SPOKEN = 0.7
_UPPER = ("brow_in", "brow_out", "knit")
#: People blink every 3 to 6 seconds when they talk (Bentivoglio and others 1997, from memory), shut for 3 frames of 24 and
#: open again within 4; and when the eyes go far elsewhere.
BLINK_EVERY_S, SHUTS_S, OPENS_S = (3.0, 6.0), 3 / 24, 4 / 24
_GLANCE_DEG, _GLANCE_S = 20.0, 0.3


def face_numbers(
    figure: Figure, t: Floats, fps: float, eyes: Floats | None = None, mouth: Floats | None = None
) -> Floats:
    """(n, 10) `NUMBERS` over frames (n,).

    Args:
        eyes: (n, 4) how an eye is turned on the stage, whose quick turns bring a blink; None, they stay.
        mouth: (n, 3) how far open and how wide speech has it, and how much it speaks, 0 to 1; None, it says nothing.
    """
    out = np.zeros((len(t), len(NUMBERS)))
    for act in figure.acts:
        if isinstance(act, FaceAct):
            for name, values in _full(act, t).items():
                early = _BROWS_FIRST_S * fps if name in _UPPER else 0.0
                out[:, NUMBERS.index(name)] += values * _under_way(act, t + early, fps)
    if mouth is not None:
        # While it speaks, what it says shapes the mouth, and its expression the less.
        for name, said in (("open", mouth[:, 0]), ("wide", mouth[:, 1])):
            at = NUMBERS.index(name)
            out[:, at] = out[:, at] * (1 - _SPOKEN * mouth[:, 2]) + said
        out[(mouth[:, 2] == 1) & (mouth[:, 0] == 0), NUMBERS.index("open")] = 0.0
    out = np.clip(out, _LEAST, 1.0)
    shut = _blinks(figure, t, fps, eyes)
    lid = NUMBERS.index("lid_up")
    out[:, lid] += shut * (-1.0 - out[:, lid])
    return out


def _full(act: FaceAct, t: Floats) -> dict[str, Floats]:
    """The numbers of a face once an act has come, (n,) each."""
    if isinstance(act, Express):
        amount = evaluate(act.amount, t)
        return {name: amount * value for name, value in EXPRESSIONS[act.expression].items()}
    return {spec.name: evaluate(getattr(act, spec.name), t) for spec in act.CHANNELS}


def _under_way(act: FaceAct, t: Floats, fps: float) -> Floats:
    """(n,) how far an expression has come."""
    comes, goes = COMES_S * fps, GOES_S * fps
    fits = min(1.0, act.frames.count / (comes + goes))
    rise = shaped((t + 1 - act.frames.first) / (comes * fits), "soft")
    fall = 1.0 if act.hold else shaped((act.frames.stop - t) / (goes * fits), "soft")
    return np.asarray(rise * fall)


def _blinks(figure: Figure, t: Floats, fps: float, eyes: Floats | None) -> Floats:
    """(n,) how far the lids are shut by blinks: by the time since the first frame, seeded by the figure."""
    seed = int(hashlib.sha256(figure.id.encode()).hexdigest()[:8], 16)
    draw = np.random.default_rng(seed)
    seconds = (t - t[0]) / fps
    at = np.cumsum(draw.uniform(*BLINK_EVERY_S, size=int(seconds[-1] / BLINK_EVERY_S[0]) + 2)) - 1.5
    moments = [*at, *(() if eyes is None else _glances(eyes, seconds, fps))]
    shut = np.zeros(len(t))
    for moment in moments:
        since = seconds - moment
        shut = np.maximum(
            shut, shaped(since / SHUTS_S, "soft") * shaped(1 - (since - SHUTS_S) / OPENS_S, "soft")
        )
    return shut


def _glances(eyes: Floats, seconds: Floats, fps: float) -> list[float]:
    """Seconds at which the eyes go far elsewhere at once."""
    over = max(1, round(_GLANCE_S * fps))
    pan, tilt, _ = angles_of(eyes)
    if len(pan) <= over:
        return []
    far = np.hypot(pan[over:] - pan[:-over], tilt[over:] - tilt[:-over]) > _GLANCE_DEG
    begins = np.flatnonzero(far & ~np.r_[False, far[:-1]])
    kept: list[float] = []
    for i in begins:
        if not kept or seconds[i] - kept[-1] > 1.0:
            kept.append(float(seconds[i]))
    return kept
