"""What an assembly is judged by: what each frame of each camera costs, and each length of a shot."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from heron.assembling.angles import SEES, Angles
from heron.assembling.drama import Drama
from heron.assembling.wishes import Wishes
from heron.framing.shot_size import SIZES

Floats = np.ndarray[Any, np.dtype[np.float64]]

#: The longest shot, seconds.
LONGEST_S = 15.0
#: What counts by the second: not to see who matters; a step of size off; and another shot than the one of all, at first.
_UNSEEN, _SIZE, _START = 1.6, 0.5, 1.3
#: How far lengths stray from the pace, as a share of e; what that counts; and what a moment that falls badly counts.
_SPREAD, _LENGTH, _MOMENT = 0.5, 0.8, 0.9


@dataclass(frozen=True)
class Judged:
    """What an assembly is judged by. (c, n) for what a frame of a camera costs; its parts are kept for the reasons."""

    attention: Floats
    size: Floats
    start: Floats
    moment: Floats
    length: Floats

    @property
    def view(self) -> Floats:
        """(c, n) all that a frame of a camera costs."""
        return np.asarray(self.attention.sum(axis=1) + self.size + self.start)


def lengths(fps: float, pace: float, most: int) -> Floats:
    """(most + 1,) what a shot of so many frames costs: as the logarithm of its length strays from the pace's."""
    seconds = np.maximum(np.arange(most + 1), 0.5) / fps
    return np.asarray(_LENGTH * np.log(seconds / pace) ** 2 / (2 * _SPREAD**2))


def judge(found: Angles, story: Drama, fps: float, wishes: Wishes) -> Judged:
    """What each camera costs on each frame, and shots by their lengths."""
    attention = _UNSEEN * story.worth[None] * (1 - found.seen) / fps
    off = np.abs(np.minimum(found.size, len(SIZES)) - story.size)
    start = np.zeros_like(off)
    opening = min(round(wishes.master * fps), off.shape[1])
    master = (found.subject == found.several) & (found.seen > SEES).all(axis=1)
    if opening and master[:, 0].any():
        start[:, :opening] = _START / fps * ~master[:, :1]
    moment = _MOMENT * story.moment[found.subject, np.arange(off.shape[1])]
    length = lengths(fps, wishes.pace, min(round(LONGEST_S * fps), off.shape[1]))
    return Judged(attention, _SIZE * off / fps, start, moment, length)
