"""Frames in samples, exactly."""

from fractions import Fraction

#: Samples a second everywhere in here.
RATE = 48_000


def sample_of(frame: int, fps: Fraction) -> int:
    """The sample nearest to where a frame begins, counted from frame 0; never added up, so nothing drifts."""
    return round(Fraction(frame * RATE) / fps)


def frames_for(samples: int, fps: Fraction) -> int:
    """How many frames hold so many samples; at least one."""
    return max(-(-samples * fps.numerator // (RATE * fps.denominator)), 1)
