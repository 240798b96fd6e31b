"""What “Slack Tide” sounds like: water, steps on planks and the heron, all of it synthesised."""

from dataclasses import dataclass
from typing import Any

import numpy as np
from scipy.signal import butter, lfilter

from heron.bake import Bake
from heron.cut import Clocks
from heron.model import Id
from heron.scene import Scene, find
from heron.sound.samples import RATE, sample_of
from heron.stage.figure import Figure
from heron.timebase import parse_rate

Samples = np.ndarray[Any, np.dtype[np.float64]]
#: The frame on which the heron calls, as it rises.
_CALL = 1287


@dataclass(frozen=True)
class DemoSound:
    """A sound with the fields of the command that lays it."""

    name: str
    data: Samples
    laid: dict[str, Any]


def demo_sounds(scene: Scene, walker: Id) -> list[DemoSound]:
    """A bed of water under the whole cut; a step on the planks for each heel that comes down; the heron's call."""
    noise = np.random.default_rng(7)
    fps, length = parse_rate(scene.rate), Clocks(scene).length
    steps, first = _steps(scene, walker, noise)
    return [
        DemoSound(
            "Water", _water(sample_of(length, fps), noise),
            {"lane": "bed", "on": "cut", "first": 0, "frames": length, "gain_db": -22.0, "fade_in": 12, "fade_out": 18},
        ),
        DemoSound("Steps on planks", steps, {"lane": "effects", "first": first, "gain_db": -8.0}),
        DemoSound("Heron calls", _call(noise), {"lane": "effects", "first": _CALL, "gain_db": -12.0}),
    ]  # fmt: skip


def _band(data: Samples, low: float, high: float) -> Samples:
    b, a = butter(2, [low, high], "bandpass", fs=RATE)
    found = lfilter(b, a, data, axis=0)
    out: Samples = found / np.abs(found).max()
    return out


def _water(count: int, noise: np.random.Generator) -> Samples:
    """Noise that swells slowly, on each side for itself."""
    t = np.arange(count) / RATE
    swell = np.stack([0.6 + 0.4 * np.sin(2 * np.pi * t / period) for period in (5.3, 7.1)], axis=1)
    return 0.7 * _band(noise.normal(0, 1, (count, 2)), 180, 1400) * swell


def _steps(scene: Scene, walker: Id, noise: np.random.Generator) -> tuple[Samples, int]:
    """A knock of wood at each moment that a foot comes down, and the frame of the first."""
    figure: Figure = find(scene, "figures", walker)
    feet = Bake(scene).performance(figure).feet
    downs = sorted(
        int(at) + 1 for foot in feet.values() for at in np.flatnonzero(np.diff(foot.planted.astype(int)) == 1)
    )
    fps = parse_rate(scene.rate)
    knock = RATE // 5
    t = np.arange(knock) / RATE
    start = sample_of(downs[0], fps)
    out = np.zeros(sample_of(downs[-1], fps) - start + knock)
    for n, down in enumerate(downs):
        tone = np.sin(2 * np.pi * (112 + 9 * (n % 3)) * t) * np.exp(-t / 0.03)
        tap = noise.normal(0, 0.35, knock) * np.exp(-t / 0.006)
        at = sample_of(down, fps) - start
        out[at : at + knock] += 0.6 * tone + tap
    return out / np.abs(out).max() * 0.9, scene.frames.first + downs[0]


def _call(noise: np.random.Generator) -> Samples:
    """Two harsh croaks: a falling buzz through a narrow band."""
    croak = RATE * 2 // 5
    t = np.arange(croak) / RATE
    buzz = np.sign(np.sin(2 * np.pi * np.cumsum(95 - 60 * t) / RATE)) + noise.normal(0, 0.5, croak)
    one = _band(buzz, 500, 1900) * np.sin(np.pi * np.minimum(t / 0.36, 1)) ** 0.7
    return np.concatenate([one, np.zeros(RATE // 4), 0.7 * one])
