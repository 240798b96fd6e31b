"""A text whose format nobody has named: pasted, or out of a file of any kind."""

from heron.errors import BadInput
from heron.lines.brought import Brought, BroughtLine
from heron.lines.fountain import TURN_S, read_fountain
from heron.lines.subtitles import named, read_srt, read_vtt


def read_any(text: str) -> Brought:
    """Subtitles or a screenplay by how they look; else each row is a line, with or without `Name:` before it.

    Raises:
        BadInput: there is nothing to be said in it.
    """
    if text.lstrip("\ufeff").startswith("WEBVTT"):
        return read_vtt(text)
    if "-->" in text:
        return read_srt(text)
    try:
        return read_fountain(text)
    except BadInput:
        rows = [row.strip() for row in text.splitlines()]
        rows = [row for row in rows if any(c.isalnum() for c in row)]
        if not rows:
            raise
        said = [named(row) for row in rows]
        return Brought([BroughtLine(who, what, pause=TURN_S) for who, what in said])
