"""Content that earlier versions could write and today's rules refuse: brought within them, and said."""

from typing import Any

from heron.model import STAGE_LIMIT_M

_PLACES = ("x", "y", "z")


def repaired(content: dict[str, Any]) -> tuple[dict[str, Any], list[str]]:
    """A thing's content with places brought back to the stage, and a sentence for each of its channels that was.

    Until places had a limit, keys could lie farther out than a picture can show.
    """
    told: list[str] = []
    out = dict(content)
    for axis in _PLACES:
        channel = out.get(axis)
        if not isinstance(channel, dict):
            continue
        keys = [{**key, "value": _within(key.get("value"))} for key in channel.get("keys", ())]
        new = {**channel, "rest": _within(channel.get("rest", 0.0)), "keys": keys}
        if new != {**channel, "keys": list(channel.get("keys", ()))} and _values(new) != _values(channel):
            out[axis] = new
            told.append(
                f"{content.get('name', 'Something')}: keys of {axis} beyond {STAGE_LIMIT_M:g} m were brought to the stage's edge"
            )
    return out, told


def _values(channel: dict[str, Any]) -> list[Any]:
    return [channel.get("rest", 0.0), *(key.get("value") for key in channel.get("keys", ()))]


def _within(value: Any) -> Any:
    if not isinstance(value, int | float) or isinstance(value, bool):
        return value
    return min(max(value, -STAGE_LIMIT_M), STAGE_LIMIT_M)
