"""Words spoken by the program `espeak-ng`, where it is on this machine; it is called, never linked."""

import io
import os
import shutil
import subprocess
from collections.abc import Iterator
from functools import lru_cache

import numpy as np
import soundfile
from scipy.signal import resample_poly

from heron.sound.samples import RATE, Floats
from heron.sound.stretched import MARGIN, stretched
from heron.sound.voice import Speech, speak

#: Set to `own`, the stand-in never asks another program.
ASKED = "HERON_VOICE"
#: Words closer than this are spoken in one breath, samples.
_BREATH = RATE // 5
#: From this pitch on a woman's voice speaks, Hz.
_WOMANS_HZ = 165.0
#: What it takes for its pitch, 0 to 99, and Hz: measured of its voices in version 1.52, and a line between.
_PITCHES = {"en": ((40, 95.0), (60, 114.0)), "en+f3": ((40, 180.0), (60, 248.0))}
_QUIET = 1e-3
_LEVEL = 0.12


def spoken(speech: Speech) -> Floats:
    """(samples,): a line spoken in words where that can be, by the stand-in's own voice otherwise."""
    program = None if os.environ.get(ASKED) == "own" else shutil.which("espeak-ng")
    return speak(speech) if program is None else _said(program, speech)


@lru_cache(maxsize=256)
def _said(program: str, speech: Speech) -> Floats:
    out = np.zeros(speech.samples)
    try:
        for words, start, stop in _breaths(speech):
            out[start:stop] = _fitted(_asked(program, words, speech.pitch, stop - start), stop - start)
    except (OSError, subprocess.SubprocessError, soundfile.SoundFileError):
        return speak(speech)
    if not out.any():
        return speak(speech)
    heard = out[np.abs(out) > _QUIET]
    out *= _LEVEL / np.sqrt(np.mean(heard**2))
    out.flags.writeable = False
    return out


def _breaths(speech: Speech) -> Iterator[tuple[list[str], int, int]]:
    """Words that follow each other closely, with the first sample of the first and the one after the last of the last."""
    held: list[tuple[str, int, int]] = []
    for one in speech.words:
        if held and one[1] - held[-1][2] > _BREATH:
            yield [word for word, _, _ in held], held[0][1], held[-1][2]
            held = []
        held.append(one)
    if held:
        yield [word for word, _, _ in held], held[0][1], min(held[-1][2], speech.samples)


def _asked(program: str, words: list[str], pitch: float, samples: int) -> Floats:
    """What the program says, (n,) at 48 kHz, without the silence around it."""
    voice = "en+f3" if pitch >= _WOMANS_HZ else "en"
    (low, low_hz), (high, high_hz) = _PITCHES[voice]
    number = round(low + (pitch - low_hz) / (high_hz - low_hz) * (high - low))
    pace = len(words) * 60 * RATE / samples
    asked = [
        program, "-v", voice, "-p", str(min(max(number, 0), 99)), "-s", str(min(max(round(pace), 80), 400)),
        "--stdin", "--stdout",
    ]  # fmt: skip
    answer = subprocess.run(
        asked, input=" ".join(words).encode(), capture_output=True, check=True, timeout=20
    )
    data, rate = soundfile.read(io.BytesIO(answer.stdout), dtype="float64", always_2d=True)
    made = resample_poly(data.mean(axis=1), RATE, rate) if rate != RATE else data.mean(axis=1)
    loud = np.flatnonzero(np.abs(made) > _QUIET)
    return np.asarray(made[loud[0] : loud[-1] + 1]) if len(loud) else np.zeros(0)


def _fitted(sound: Floats, samples: int) -> Floats:
    """(samples,): a sound as long as that, at its own pitch."""
    if not len(sound):
        return np.zeros(samples)
    wide = np.pad(np.repeat(sound[:, None], 2, axis=1), ((MARGIN, MARGIN), (0, 0)))
    return np.asarray(stretched(wide, samples)[:, 0])
