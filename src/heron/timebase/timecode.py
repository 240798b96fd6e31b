"""Timecode by SMPTE ST 12-1, with drop-frame counting for 29.97 and 59.94."""

import re
from fractions import Fraction
from typing import Any

import numpy as np

from heron.errors import BadInput

_TIMECODE = re.compile(r"^(\d{2}):(\d{2}):(\d{2})([:;])(\d{2})$", re.ASCII)
#: The rates whose drop-frame counting ST 12-1 defines, and labels dropped each minute.
_DROPPED = {Fraction(30000, 1001): 2, Fraction(60000, 1001): 4}


def nominal(rate: Fraction) -> int:
    """The whole number of frame labels in a second: 30 for 29.97."""
    return round(rate)


def may_drop(rate: Fraction) -> bool:
    """Whether drop-frame counting exists for a rate."""
    return rate in _DROPPED


def labels(frames: np.ndarray[Any, Any], rate: Fraction, drop: bool) -> np.ndarray[Any, np.dtype[np.int64]]:
    """Timecode fields of frame counts; a day wraps to zero.

    Args:
        frames: (n,) int64 frames since 00:00:00:00.

    Returns:
        (n, 4) int64: hours, minutes, seconds, frames.
    """
    per_second = nominal(rate)
    count = np.asarray(frames, dtype=np.int64)
    if drop:
        gone = _DROPPED[rate]
        per_minute = per_second * 60 - gone
        per_ten = per_minute * 10 + gone
        tens, rest = np.divmod(count % (per_ten * 144), per_ten)
        # The first minute of each ten keeps all its labels; the other nine lose `gone`.
        minutes = np.where(rest < per_second * 60, 0, 1 + (rest - per_second * 60) // per_minute)
        count = count % (per_ten * 144) + gone * (9 * tens + minutes)
    else:
        count = count % (per_second * 86_400)
    seconds, ff = np.divmod(count, per_second)
    return np.stack([seconds // 3600, seconds // 60 % 60, seconds % 60, ff], axis=-1)


def format_timecode(frame: int, rate: Fraction, drop: bool = False) -> str:
    """Frame count to `HH:MM:SS:FF`, or `HH:MM:SS;FF` where labels are dropped.

    Raises:
        BadInput: a negative frame, or dropping at a rate that has no drop-frame.
    """
    _check_drop(rate, drop)
    if frame < 0:
        raise BadInput(f"Frame {frame} is before zero.", "Timecode starts at frame 0.", field="frame")
    h, m, s, f = (int(v) for v in labels(np.array([frame]), rate, drop)[0])
    return f"{h:02d}:{m:02d}:{s:02d}{';' if drop else ':'}{f:02d}"


def parse_timecode(text: str, rate: Fraction) -> int:
    """`HH:MM:SS:FF` (or `;FF` for drop-frame) to frames since zero.

    Raises:
        BadInput: malformed, out of range, or a label that drop-frame counting skips.
    """
    match = _TIMECODE.match(text.strip())
    if not match:
        raise BadInput(f"{text!r:.40} is not a timecode.", "Write it as HH:MM:SS:FF.", field="timecode")
    h, m, s, f = (int(match[i]) for i in (1, 2, 3, 5))
    drop = match[4] == ";"
    _check_drop(rate, drop)
    per_second = nominal(rate)
    if h > 23 or m > 59 or s > 59 or f >= per_second:
        raise BadInput(
            f"{text} is past the end of a day, an hour, a minute or a second.",
            f"Hours go to 23, minutes and seconds to 59, frames to {per_second - 1}.",
            field="timecode",
        )
    count = ((h * 60 + m) * 60 + s) * per_second + f
    if drop:
        gone = _DROPPED[rate]
        if s == 0 and f < gone and m % 10:
            raise BadInput(
                f"{text} does not exist: drop-frame counting skips it.",
                f"The minute begins at {h:02d}:{m:02d}:00;{gone:02d}.",
                field="timecode",
            )
        minutes = h * 60 + m
        count -= gone * (minutes - minutes // 10)
    return count


def plain_timecode(text: str) -> str:
    """A timecode as it is written in documents: no space round it, and digits 0 to 9.

    Raises:
        ValueError: it is not written so.
    """
    if not _TIMECODE.fullmatch(text):
        raise ValueError(f"{text!r:.40} is not a timecode; write it as HH:MM:SS:FF")
    return text


def _check_drop(rate: Fraction, drop: bool) -> None:
    if drop and not may_drop(rate):
        raise BadInput(
            f"Drop-frame timecode does not exist at {rate} frames a second.",
            "Use it at 30000/1001 or 60000/1001, or leave --drop out.",
            field="drop",
        )
