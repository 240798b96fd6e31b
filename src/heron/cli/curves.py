"""Keys on the command line: their values frame by frame, and fewer of them."""

import argparse
import json
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from heron.cli.words import number, say
from heron.curves import Channel, Key, evaluate
from heron.curves.simplify import simplified
from heron.errors import BadInput, from_validation
from heron.timebase.frames import MAX_FRAMES, Frames, parse_frames

_FIELDS = ("frame", "value", "before", "after", "handle_before", "handle_after")


def _keys(path: str) -> Channel:
    """A file of keys: `[{"frame": 0, "value": 1.5, "after": "shaped", "handle_after": [8, 0.5]}, …]`.

    Raises:
        BadInput: it is not one.
    """
    try:
        data: Any = json.loads(Path(path).read_text(encoding="utf-8"))
    except (OSError, ValueError, RecursionError):
        raise BadInput(
            f"{path} cannot be read as JSON.", "Give a file with a list of keys.", field="keys"
        ) from None
    if not isinstance(data, list) or not all(isinstance(one, dict) for one in data) or not data:
        raise BadInput("Keys come as a JSON list.", 'As [{"frame": 0, "value": 1.5}, …].', field="keys")
    try:
        keys = [Key.model_validate(one) for one in data]
        return Channel(keys=tuple(sorted(keys, key=lambda key: key.frame)))
    except ValidationError as error:
        raise from_validation(error, "Keys") from None


def do_curve(args: argparse.Namespace) -> None:
    """`heron curve`."""
    channel, frames = _keys(args.keys), parse_frames(args.frames)
    say([float(v) for v in evaluate(channel, frames.array())])


def do_simplify(args: argparse.Namespace) -> None:
    """`heron simplify`."""
    channel, error = _keys(args.keys), number(args.error, "error", 0.0, 1e6)
    first, last = channel.keys[0].frame, channel.keys[-1].frame
    if last - first >= MAX_FRAMES:
        raise BadInput(
            f"These keys span {last - first + 1:,} frames.", f"Give at most {MAX_FRAMES:,}.", field="keys"
        )
    few = simplified(first, evaluate(channel, Frames(first=first, last=last).array()), error)
    keys = few.keys or (Key(frame=first, value=few.rest),)
    say([key.model_dump(mode="json", include=set(_FIELDS), exclude_none=True) for key in keys])
