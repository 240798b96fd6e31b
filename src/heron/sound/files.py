"""Sound files: read whatever libsndfile opens, kept as 24-bit FLAC at 48 kHz under the hash of their content."""

import hashlib
import io
from dataclasses import dataclass
from math import gcd
from typing import Any

import numpy as np
import soundfile
from scipy.signal import resample_poly

from heron.errors import BadInput
from heron.sound.samples import RATE

Floats = np.ndarray[Any, np.dtype[np.float32]]
MOST_CHANNELS, MOST_HOURS = 8, 4
_BLOCK = 1 << 20


@dataclass(frozen=True)
class SoundFile:
    """A file that was read: (n, channels) samples at 48 kHz, and what was done to it, in sentences."""

    data: Floats
    said: tuple[str, ...] = ()

    @property
    def stereo(self) -> Floats:
        """(n, 2): what is heard of it."""
        return both_sides(self.data)


def both_sides(data: Floats) -> Floats:
    """(n, 2) of (n, channels): one channel goes to both sides at its own level; of more than two the first two are heard."""
    return np.repeat(data, 2, axis=1) if data.shape[1] == 1 else data[:, :2]


def read_part(content: bytes, start: int, stop: int) -> Floats:
    """(n, 2): what is heard of a kept file from a sample to before another; fewer where it ends."""
    with soundfile.SoundFile(io.BytesIO(content)) as file:
        if start >= file.frames:
            return np.zeros((0, 2), dtype=np.float32)
        file.seek(start)
        return both_sides(file.read(min(stop, file.frames) - start, dtype="float32", always_2d=True))


def read_sound(content: bytes, name: str) -> SoundFile:
    """Read a sound file; one that is cut off is kept as far as it goes.

    Raises:
        BadInput: it is no sound file, or holds nothing that can be heard.
    """
    try:
        with soundfile.SoundFile(io.BytesIO(content)) as file:
            rate, channels, promised = file.samplerate, file.channels, file.frames
            if channels > MOST_CHANNELS:
                raise BadInput(f"{name} has {channels} channels.", f"Save it with {MOST_CHANNELS} at most.")
            if promised > rate * 3600 * MOST_HOURS and promised < 1 << 60:
                raise BadInput(f"{name} is longer than {MOST_HOURS} hours.", "Bring in the part you need.")
            blocks = []
            while len(block := file.read(_BLOCK, dtype="float32", always_2d=True)):
                blocks.append(block)
    except soundfile.LibsndfileError:
        raise BadInput(
            f"{name} is not a sound file that can be read.", "Save it as WAV, FLAC, Ogg or MP3."
        ) from None
    data = np.concatenate(blocks) if blocks else np.zeros((0, channels), dtype=np.float32)
    if len(data) == 0:
        raise BadInput(f"{name} holds no samples.", "Export it again, with something in it.")
    if not np.isfinite(data).all():
        raise BadInput(
            f"{name} holds values that are not numbers.", "Export it again from where it was made."
        )
    said = []
    if len(data) < promised < 1 << 60:
        said.append(f"{name} ends {len(data) / rate:.1f} s in, and was meant to last {promised / rate:.1f} s")
    if rate != RATE:
        common = gcd(rate, RATE)
        data = resample_poly(data, RATE // common, rate // common, axis=0)
        said.append(f"{name} was resampled from {rate / 1000:g} kHz to 48 kHz")
    over = float(np.abs(data).max())
    if over > 1:
        data = np.clip(data, -1.0, 1.0)
        said.append(f"{name} goes {20 * np.log10(over):.1f} dB over full scale; what is over was cut off")
    return SoundFile(data, tuple(said))


def heard_until(sound: SoundFile) -> int:
    """The sample after which nothing is heard in a recording: a tenth of a second after its last that is at most 40 dB
    below the loudest (ours).
    """
    level = np.abs(sound.data).max(axis=1)
    loud = np.flatnonzero(level > level.max() / 100)
    return min(int(loud[-1]) + 1 + RATE // 10, len(level)) if len(loud) else len(level)


def packed(sound: SoundFile) -> bytes:
    """The sound as 24-bit FLAC at 48 kHz."""
    out = io.BytesIO()
    soundfile.write(out, sound.data, RATE, format="FLAC", subtype="PCM_24")
    return out.getvalue()


def key_of(content: bytes) -> str:
    """The key that a file's content is kept under."""
    return hashlib.sha256(content).hexdigest()[:24]
