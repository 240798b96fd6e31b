"""How loud a mix is: integrated loudness (ITU-R BS.1770) and its true peak."""

import numpy as np
import pyloudnorm
from scipy.signal import resample_poly

from heron.errors import BadInput
from heron.sound.files import SoundFile
from heron.sound.samples import RATE

#: Shorter sounds have no integrated loudness: the standard's gate is so long, seconds.
_GATE_S = 0.4
#: True peaks are looked for between samples (BS.1770, annex 2: four times at 48 kHz).
_OVER = 4


def loudness(sound: SoundFile) -> tuple[float | None, float | None]:
    """(integrated loudness in LUFS, true peak in dBTP); None of silence.

    Raises:
        BadInput: it is too short to have a loudness.
    """
    data = sound.stereo
    if len(data) < _GATE_S * RATE:
        raise BadInput(
            f"{len(data) / RATE:.2f} s are too short to have a loudness.", f"Give at least {_GATE_S} s."
        )
    lufs = float(pyloudnorm.Meter(RATE).integrated_loudness(data))
    peak = float(np.abs(resample_poly(data, _OVER, 1, axis=0)).max())
    return (lufs if np.isfinite(lufs) else None), (20 * np.log10(peak) if peak > 0 else None)
