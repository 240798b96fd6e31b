"""How far a recording opens a mouth: its level, quickly followed up and slowly down."""

import numpy as np

from heron.scene.sound import LEVELS, LEVELS_PER_S
from heron.sound.files import SoundFile
from heron.sound.samples import RATE

#: Longer sounds are no lines, and have none, seconds.
_MOST_S = 90
#: A mouth is shut from so far below the loud parts on, dB, and opens by this power of what is above that: the best of ten
#: settings tried against the openness of the vowels of 50 spoken sentences.
_RANGE_DB, _POWER = 18.0, 1.5
#: How long it takes to shut, seconds.
_RELEASE_S = 0.06


def level_of(sound: SoundFile) -> str:
    """A character for each fiftieth of a second, from `LEVELS`; none of a sound too long to be a line."""
    mono = sound.data.mean(axis=1)
    step = RATE // LEVELS_PER_S
    if len(mono) > _MOST_S * RATE:
        return ""
    rows = np.pad(mono, (0, -len(mono) % step)).reshape(-1, step)
    rms = np.sqrt((rows.astype(np.float64) ** 2).mean(axis=1))
    loud = float(np.percentile(rms, 95))
    if loud <= 1e-4:
        return LEVELS[0] * len(rms)
    db = 20 * np.log10(np.maximum(rms, 1e-9) / loud)
    opened = np.clip((db + _RANGE_DB) / _RANGE_DB, 0.0, 1.0) ** _POWER
    keeps, out, held = float(np.exp(-1 / (_RELEASE_S * LEVELS_PER_S))), "", 0.0
    for one in opened.tolist():
        held = max(one, held * keeps)
        out += LEVELS[round(held * (len(LEVELS) - 1))]
    return out
