"""How long a line lasts when it is spoken, and how its words share that.

The law was fitted to a speech synthesiser over 50 sentences of 1 to 20 words (rms 0.20 s, worst 0.65 s at 196 words a
minute) and brought to 150 words a minute, an ordinary rate of speaking (common practice).
"""

import re
from functools import lru_cache

from num2words import num2words

from heron.stage.figure import PACE

#: Nothing that is said is shorter, seconds.
LEAST_S = 0.35
_BEFORE, _LETTER, _COMMA, _STOP = 0.18, 0.071, 0.32, 0.39
_NUMBER = re.compile(r"\d[\d,]*(?:\.\d+)?")
_STOPS = re.compile(r"[.!?…]+(?=\s+\S)")
_COMMAS = re.compile(r"[,;:]|—|–")


def spoken(text: str) -> str:
    """A text as it is spoken: numbers in words."""

    def words(found: re.Match[str]) -> str:
        digits = found.group().replace(",", "").rstrip(".")
        if len(digits) > 15:
            return " ".join(num2words(int(one)) for one in digits if one.isdigit())
        return str(num2words(float(digits) if "." in digits else int(digits)))

    return _NUMBER.sub(words, text)


@lru_cache(maxsize=4096)
def seconds(text: str, pace: float = PACE) -> float:
    """How long a text lasts, seconds, at a pace in words a minute."""
    said = spoken(text)
    pauses = _COMMA * len(_COMMAS.findall(said)) + _STOP * len(_STOPS.findall(said))
    return max((_BEFORE + _LETTER * len(said) + pauses) * PACE / pace, LEAST_S)


def onsets(words: list[str]) -> list[float]:
    """Where each word begins, and the end, in shares of the line: by letters and one more, 0 to 1."""
    weights = [sum(c.isalnum() for c in spoken(word)) + 1 for word in words]
    total, out = sum(weights), [0.0]
    for weight in weights:
        out.append(out[-1] + weight / total)
    return [*out[:-1], 1.0]
