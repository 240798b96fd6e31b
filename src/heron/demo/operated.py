"""A camera of the demo that is worked by hand: an operator made up of being late and of trembling a little."""

from typing import Any

import numpy as np
from scipy import signal

from heron.bake import Bake
from heron.commands import AnyCommand
from heron.commands.passes import RecordPass, Sampled
from heron.scene import Scene, find
from heron.stage.reference import OnFigure
from heron.timebase import parse_rate

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: Ten seconds: Odile comes up the jetty, stops, and talks.
FIRST, LAST = 1066, 1306
#: How late the hand is, seconds, and how much it trembles, degrees.
_LATE_S, _TREMBLE = 0.3, 0.05
_LOOKS_A_FRAME = 2


def operated(scene: Scene) -> list[AnyCommand]:
    """Camera E follows Odile's head, and comes to the view it was set up for."""
    camera = find(scene, "cameras", "cam-e")
    frames = np.arange(scene.frames.first, LAST + 1)
    bake = Bake(scene)
    stands = bake.rows(camera, frames[-1:])[0, :6]
    d = bake.place(OnFigure(figure="fig-odile", joint="head"), frames) - stands[:3]
    pan = np.degrees(np.unwrap(np.arctan2(-d[:, 0], -d[:, 2])))
    tilt = np.degrees(np.arctan2(d[:, 1], np.hypot(d[:, 0], d[:, 2])))
    rng, fps = np.random.default_rng(20), float(parse_rate(scene.rate))
    at = np.arange(FIRST * _LOOKS_A_FRAME, LAST * _LOOKS_A_FRAME + 1) / _LOOKS_A_FRAME
    hand = []
    for name, way in (("pan", pan), ("tilt", tilt)):
        by = np.interp(at, frames, _late(way - way[-1], fps)) + _tremble(rng, len(at))
        hand.append(Sampled(channel=name, by=tuple(round(float(v), 4) for v in by)))
    return [
        RecordPass(id="pas-close", thing="cam-e", at=tuple(map(float, at)), hand=tuple(hand), smooth_s=0.25)
    ]


def _late(way: Floats, fps: float) -> Floats:
    """What follows some way late, as a weight on a spring that does not swing."""
    p = np.exp(-2 / (_LATE_S * fps))
    b, a = [(1 - p) ** 2], [1.0, -2 * p, p * p]
    return np.asarray(signal.lfilter(b, a, way, zi=signal.lfilter_zi(b, a) * way[0])[0])


def _tremble(rng: Any, n: int) -> Floats:
    return np.asarray(signal.lfilter([0.3], [1, -0.7], rng.normal(0.0, _TREMBLE, n)))
