"""Reading words of the command line, and saying answers."""

import json
from typing import Any

from heron.errors import BadInput


def say(value: Any) -> None:
    """Print an answer as JSON."""
    print(json.dumps(value, allow_nan=False))


def number(text: str, field: str, low: float, high: float) -> float:
    """A number within limits.

    Raises:
        BadInput: it is not one.
    """
    try:
        value = float(text)
    except ValueError:
        value = float("nan")
    if not low <= value <= high:
        raise BadInput(
            f"{text!r:.40} is not a {field}.", f"Give a number from {low:g} to {high:g}.", field=field
        )
    return value


def parse_int(text: str, field: str) -> int:
    """A whole number.

    Raises:
        BadInput: it is not one.
    """
    try:
        return int(text)
    except ValueError:
        raise BadInput(f"{text!r:.40} is not a {field}.", "Give a whole number.", field=field) from None
