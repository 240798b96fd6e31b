"""What is needed to draw a thing's curves: each key's handles as they count, and how far the curve goes."""

from dataclasses import dataclass

import numpy as np

from heron.curves.channel import Channel
from heron.curves.evaluate import evaluate
from heron.curves.handles import CUT_AFTER, CUT_BEFORE, HELD, OVER_AFTER, OVER_BEFORE, drawn_handles
from heron.curves.segments import Floats, segments

#: What is sent of each key of a curve, in this order; and what the bits mean.
KEY_NUMBERS = ("frame", "value", "backX", "backY", "outX", "outY", "bits", "shown")
BITS = {
    "cutBefore": CUT_BEFORE, "cutAfter": CUT_AFTER, "overBefore": OVER_BEFORE, "overAfter": OVER_AFTER, "held": HELD,
}  # fmt: skip


@dataclass(frozen=True)
class DrawnCurve:
    """A channel as it is drawn.

    Attributes:
        handles: (k, 5) as `drawn_handles` gives them.
        low, high: the least and the most of the curve, in the measure the channel is kept in.
    """

    handles: Floats
    low: float
    high: float


_KEPT = "curve as it is drawn"


def drawn_curve(channel: Channel) -> DrawnCurve:
    """A channel as it is drawn; found once for each channel."""
    found: DrawnCurve | None = channel.__dict__.get(_KEPT)
    if found is None:
        found = channel.__dict__[_KEPT] = DrawnCurve(drawn_handles(channel), *_reach(channel))
    return found


def _reach(channel: Channel) -> tuple[float, float]:
    keys = channel.keys
    if not keys:
        return channel.rest, channel.rest
    values = [key.value for key in keys]
    low, high = min(values), max(values)
    if len(keys) > 1 and any("shaped" in (key.before, key.after) for key in keys):
        # Near enough for a picture: sixteen looks at each segment, at least one a frame.
        s = segments(channel)
        looks = np.unique(np.round(s.x[:-1, None] + s.width[:, None] * np.linspace(0, 1, 17), 3))
        found = evaluate(channel, looks)
        low, high = min(low, float(found.min())), max(high, float(found.max()))
    return low, high
