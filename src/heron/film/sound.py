"""The sound of a film: the mixes of its scenes, one after the other."""

from collections.abc import Iterator, Sequence
from fractions import Fraction

import numpy as np
from scipy.signal import resample_poly

from heron.film.frames import Film
from heron.scene import Scene
from heron.sound.mix import BLOCK, mix
from heron.sound.samples import Files, Floats, sample_of
from heron.sound.stand_in import all_sounds


def film_mix(film: Film, scenes: Sequence[Scene], files: Files) -> Iterator[Floats]:
    """The mix of each reel's scene, in blocks of (n, 2), as long as the film's frames of it.

    A scene of another rate that keeps its time sounds as it is; one that is played frame for frame is resampled by as
    much as it runs faster or slower.
    """
    for place, (reel, scene) in enumerate(zip(film.reels, scenes, strict=True)):
        left = sample_of(film.begins[place + 1], film.rate) - sample_of(film.begins[place], film.rate)
        if reel.count and all_sounds(scene):
            blocks = mix(scene, files, reel.first, reel.first + reel.count)
            if reel.fit == "frames" and reel.rate != film.rate:
                blocks = iter([_faster(np.concatenate(list(blocks)), film.rate / reel.rate)])
            for block in blocks:
                yield block[:left]
                left -= min(len(block), left)
        while left > 0:
            yield np.zeros((min(left, BLOCK), 2))
            left -= min(left, BLOCK)


def _faster(data: Floats, by: Fraction) -> Floats:
    """Samples played so many times as fast, the pitch with them."""
    out: Floats = resample_poly(data, by.denominator, by.numerator, axis=0)
    return out
