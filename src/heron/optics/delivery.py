"""The delivery aspect: the shape of the picture the audience sees."""

import re
from typing import Annotated

from pydantic import Field

from heron.errors import BadInput
from heron.model import Model, Name

NARROWEST, WIDEST = 0.2, 5.0
_RATIO = re.compile(r"^\s*(\d+(?:\.\d+)?)(?:\s*[:x×/]\s*(\d+(?:\.\d+)?))?\s*$")


class Delivery(Model):
    """A picture's width over its height, with the name people call it by."""

    label: Name
    aspect: Annotated[float, Field(ge=NARROWEST, le=WIDEST)]


DELIVERIES = (
    Delivery(label="2.39", aspect=2.39),
    Delivery(label="1.85", aspect=1.85),
    Delivery(label="16:9", aspect=16 / 9),
    Delivery(label="4:3", aspect=4 / 3),
    Delivery(label="1:1", aspect=1.0),
    Delivery(label="9:16", aspect=9 / 16),
)


def parse_delivery(text: str) -> Delivery:
    """Read `16:9`, `1920x1080` or `2.39`.

    Raises:
        BadInput: not a ratio, or one outside 0.2 to 5.
    """
    match = _RATIO.match(text)
    aspect = 0.0
    if match:
        below = float(match[2] or 1)
        aspect = float(match[1]) / below if below else 0.0
    if not NARROWEST <= aspect <= WIDEST:
        raise BadInput(
            f"{text!r:.40} is not a delivery aspect.",
            f"Write it as 16:9 or 2.39; the ratio must lie between {NARROWEST} and {WIDEST}.",
            field="delivery",
        )
    return Delivery(label=text.strip(), aspect=aspect)


def parse_deliveries(text: str) -> tuple[float, ...]:
    """Aspects with commas between, as `9:16, 1:1`; none of an empty text.

    Raises:
        BadInput: one of them is none, or there are more than four.
    """
    words = [one for one in text.split(",") if one.strip()]
    if len(words) > 4:
        raise BadInput("Four aspects can be protected.", "Leave some out.", field="delivery")
    return tuple(parse_delivery(one).aspect for one in words)
