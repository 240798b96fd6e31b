"""Cutting live: presses of a hand while the cut plays, as shots."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

#: How long a hand takes from what it sees to the press, seconds (reaction to a sight, 0.18 to 0.25 s, from memory), and
#: the least frames a shot has.
REACTION_S, SHORTEST = 0.2, 10


@dataclass(frozen=True)
class Press:
    """A camera's letter, pressed so many seconds after play began."""

    seconds: float
    camera: str


@dataclass(frozen=True)
class Take:
    """A camera from a frame of the cut on."""

    at: int
    camera: str


def taken(
    presses: Sequence[Press], opens: str, first: int, stop: int, fps: Fraction, *, speed: float = 1.0,
    delay: float = REACTION_S, shortest: int = SHORTEST,
) -> list[Take]:  # fmt: skip
    """The shots that presses amount to, from the frame on which play began.

    A press cuts where the hand decided: earlier by its delay, of the time that passed for the eye. Pressing the letter that is on
    air does nothing. A press sooner than the shortest length after the last cut corrects it: the letter is the new one, the
    time is that of the first decision; back to the letter before, there never was a cut. A cut that would leave less than
    the shortest length before the end is none.

    Args:
        presses: in the order of their times.
        opens: the camera on air when play begins.
        first, stop: the cut frames of the run, the end not included.
        speed: how much of real time it plays at.
        delay: seconds.
    """
    out = [Take(first, opens)]
    for press in presses:
        # Half a frame goes up, the same on every machine.
        late = Fraction(press.seconds).limit_denominator(10**6) - Fraction(delay).limit_denominator(10**6)
        at = max(
            first, first + math.floor(late * Fraction(speed).limit_denominator(1000) * fps + Fraction(1, 2))
        )
        if at >= stop:
            break
        on = out[-1]
        if press.camera == on.camera:
            continue
        if at - on.at < shortest:
            before = out[-2].camera if len(out) > 1 else None
            if before == press.camera:
                out.pop()
            else:
                out[-1] = Take(on.at, press.camera)
        elif stop - at >= shortest:
            out.append(Take(at, press.camera))
    return out
