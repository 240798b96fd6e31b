"""A stand-in voice: pulses of a throat through the formants of each sound of a word, plainly a machine's.

It says when each word is spoken, how high and how fast, and not what it is like.
"""

from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
from scipy.signal import butter, lfilter, sosfilt

from heron.lines.mouth import phone_spans
from heron.lines.spelling import Phone
from heron.model import fingerprint
from heron.sound.samples import RATE

Floats = np.ndarray[Any, np.dtype[np.float64]]

_VERSION = 1
#: Up to this pitch formants are those of the table; a higher voice has a shorter throat.
_MENS_HZ = 130.0
#: The voice falls by so much over a line (common practice: declination), and rises at the end of a question.
_FALLS, _RISES = 0.16, 0.28
_STRESS = 0.08
#: Widths of the formants, Hz.
_WIDTHS = (70.0, 100.0, 140.0)
_LEVEL = 0.16
_SOFT_S = 0.012
_EDGE = int(_SOFT_S * RATE)


@dataclass(frozen=True)
class Speech:
    """What is to be spoken.

    Attributes:
        words: each with its first sample and the one after its last, from the line's beginning.
        samples: how long the line is.
        pitch: Hz.
    """

    words: tuple[tuple[str, int, int], ...]
    samples: int
    pitch: float

    @property
    def key(self) -> str:
        """What it is kept under, in the form of the key of a file."""
        return fingerprint("stand-in", _VERSION, self.words, self.samples, self.pitch)[:24]


@lru_cache(maxsize=256)
def speak(speech: Speech) -> Floats:
    """(samples,): a line spoken by the stand-in; the same for the same words, bit for bit."""
    noise = np.random.default_rng(int(speech.key[:12], 16))
    out = np.zeros(speech.samples + _EDGE)
    for i, (word, start, stop) in enumerate(speech.words):
        asks, stressed = word.rstrip("\"'”’)").endswith("?"), True
        for one, begins, ends in phone_spans(word, start, stop):
            a, b = round(begins), round(ends)
            along = (a + b) / 2 / speech.samples
            pitch = speech.pitch * (1 + _FALLS / 2 - _FALLS * along)
            if one.vowel and stressed:
                pitch, stressed = pitch * (1 + _STRESS), False
            if asks and i == len(speech.words) - 1:
                pitch *= 1 + _RISES * (a - start) / (stop - start)
            # Each sound fades into the next.
            count = b - a + _EDGE
            if one.formants is not None:
                out[a : a + count] += one.voice * _voiced(one, count, pitch, a) * _window(count)
            if one.hiss:
                out[a : a + count] += one.hiss * _noise(one, count, noise) * _window(count)
    made = _LEVEL * out[: speech.samples]
    made.flags.writeable = False
    return made


def _window(count: int) -> Floats:
    """(count,): soft at both ends."""
    edge = min(_EDGE, count // 2)
    out = np.ones(count)
    rise = np.sin(np.pi / 2 * (np.arange(edge) + 0.5) / edge) ** 2
    out[:edge], out[count - edge :] = rise, rise[::-1]
    return out


def _voiced(one: Phone, count: int, pitch: float, start: int) -> Floats:
    """(count,): pulses of the throat through the formants, as loud for every sound."""
    phase = (start + np.arange(count + RATE // 20)) * pitch / RATE
    turn = phase % 1.0
    # A throat opens slowly and shuts at once: its overtones fall by 12 dB an octave (common practice).
    flow = np.where(turn < 0.6, turn**2 * (0.6 - turn), 0.0)
    wave = np.diff(flow, prepend=flow[0])
    scale = 1 + 0.16 * np.log2(max(pitch, _MENS_HZ) / _MENS_HZ)
    for centre, wide in zip(one.formants or (), _WIDTHS, strict=True):
        radius = np.exp(-np.pi * wide / RATE)
        turns = 2 * np.pi * centre * scale / RATE
        a = [1.0, -2 * radius * np.cos(turns), radius**2]
        wave = lfilter([sum(a)], a, wave)
    wave = wave[RATE // 20 :]
    return np.asarray(wave / (np.sqrt(np.mean(wave**2)) + 1e-12))


def _noise(one: Phone, count: int, noise: np.random.Generator) -> Floats:
    """(count,): noise in the sound's band."""
    made = sosfilt(butter(2, one.band, "bandpass", fs=RATE, output="sos"), noise.standard_normal(count))
    return np.asarray(made / (np.sqrt(np.mean(made**2)) + 1e-12))
