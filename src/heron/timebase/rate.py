"""Frame rates as exact fractions."""

from fractions import Fraction
from typing import Annotated

from pydantic import AfterValidator

from heron.errors import BadInput

#: SMPTE ST 12-1 and ST 428-11 rates in use; anything else is refused rather than guessed.
RATES = tuple(
    Fraction(text) for text in ("24", "25", "30", "48", "50", "60", "24000/1001", "30000/1001", "60000/1001")
)


def parse_rate(text: str) -> Fraction:
    """Read `24`, `23.976`, `24/1` or `30000/1001` as an exact rate in frames a second.

    Raises:
        BadInput: not a fraction, or not one of `RATES`.
    """
    named = {rate_name(rate): rate for rate in RATES}
    try:
        rate = named.get(text.strip()) or Fraction(text.strip())
    except (ValueError, ZeroDivisionError):
        rate = Fraction(0)
    if rate not in RATES:
        known = ", ".join(show_rate(r) for r in RATES)
        raise BadInput(f"{text!r:.40} is not a frame rate.", f"Use one of {known}.", field="rate")
    return rate


def show_rate(rate: Fraction) -> str:
    """Write a rate as `24/1` or `30000/1001`."""
    return f"{rate.numerator}/{rate.denominator}"


def rate_name(rate: Fraction) -> str:
    """A rate as people say it: `24`, `29.97`, `23.976`."""
    return f"{float(rate):.3f}".rstrip("0").rstrip(".")


def _normal(text: str) -> str:
    try:
        return show_rate(parse_rate(text))
    except BadInput as error:
        raise ValueError(str(error)) from None


Rate = Annotated[str, AfterValidator(_normal)]
