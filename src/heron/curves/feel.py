"""How a move begins and ends: as keys from one value to another, and as its progress frame by frame."""

from typing import Any, Literal

import numpy as np

from heron.curves.channel import Channel, Key
from heron.curves.evaluate import evaluate

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: The same speed all along; gathering speed; coming to rest; both.
Feel = Literal["constant", "soft start", "soft end", "soft"]
FEELS: dict[Feel, str] = {
    "soft": "soft at both ends", "constant": "at one speed", "soft start": "gathering speed", "soft end": "coming to rest",
}  # fmt: skip
#: An overshoot goes back past its end by this share of itself before it rests, over this share of its settling: 3 frames
#: down and 4 up of 7 (common practice; how far back is ours).
_BACK, _DOWN = 1 / 3, 3 / 7


def felt(
    first: int, last: int, a: float, b: float, feel: Feel, *, over: float = 0.0, settle: int = 0
) -> list[Key]:
    """Keys that go from a at the first frame to b at the last.

    Args:
        over: a share of the way by which it goes past b at the last frame, to come to rest on it `settle` frames later.
    """
    out = "straight" if feel in ("constant", "soft end") else "shaped"
    into = "straight" if feel in ("constant", "soft start") else "shaped"
    third = (last - first) / 3
    flat: dict[str, Any] = {"handle_after": (third, 0.0)} if out == "shaped" else {}
    begin = Key(frame=first, value=a, after=out, **flat)
    if not over:
        flat = {"handle_before": (-third, 0.0)} if into == "shaped" else {}
        return [begin, Key(frame=last, value=b, before=into, **flat)]
    down = max(1, min(round(settle * _DOWN), settle - 1))
    points = [
        (last, b + over * (b - a)), (last + down, b - over * _BACK * (b - a)), (last + settle, b),
    ]  # fmt: skip
    # At an extreme an eased key is level, and the last one comes to rest.
    return [begin, *(Key(frame=frame, value=value) for frame, value in points)]


def progress(count: int, feel: Feel, *, over: float = 0.0, settle: int = 0) -> Floats:
    """(count + settle,) how much of a move of so many frames is done at each: 0 at the first, 1 at the last."""
    keys = felt(0, count - 1, 0.0, 1.0, feel, over=over, settle=settle)
    return evaluate(Channel(keys=tuple(keys)), np.arange(count + (settle if over else 0)))


def feel_said(feel: Feel, over: float, settle: int) -> str:
    """A feel at the end of a sentence."""
    if over:
        return f", {over * 100:.3g} % too far and settling in {settle} frames"
    return f", {FEELS[feel]}"
