"""The sound that goes with a cut to whoever edits it: the files its timeline names, and a mix with a tone before it."""

from collections.abc import Callable, Iterator

import numpy as np

from heron.scene import Scene
from heron.sound.clips import clips_of
from heron.sound.espeak import spoken
from heron.sound.files import SoundFile, packed
from heron.sound.samples import RATE, Floats
from heron.sound.stand_in import stand_ins

#: Before the first frame: a second of tone, then a second of silence (common practice; the lengths are ours).
TONE_HZ, TONE_DBFS, TONE_S, REST_S = 1000, -20.0, 1.0, 1.0


def sound_files(scene: Scene, stored: Callable[[str], bytes | None]) -> Iterator[tuple[str, bytes]]:
    """What each sound of the cut is heard from, once, as FLAC by its name; stand-ins are spoken, files not here left out."""
    said = {speech.key: speech for _, speech in stand_ins(scene)}
    for key in dict.fromkeys(clip.sound.file for clip in clips_of(scene)):
        if key in said:
            mono = spoken(said[key]).astype(np.float32)
            yield f"{key}.flac", packed(SoundFile(mono[:, None]))
        elif (content := stored(key)) is not None:
            yield f"{key}.flac", content


def with_tone(blocks: Iterator[Floats]) -> Iterator[Floats]:
    """A mix after a leader of tone."""
    at = np.arange(round(TONE_S * RATE)) / RATE
    # The level of a sine in dBFS is that of its peak (AES17 counts a full-scale sine as 0 dBFS).
    tone = 10 ** (TONE_DBFS / 20) * np.sin(2 * np.pi * TONE_HZ * at)
    yield np.repeat(tone[:, None], 2, axis=1)
    yield np.zeros((round(REST_S * RATE), 2))
    yield from blocks
