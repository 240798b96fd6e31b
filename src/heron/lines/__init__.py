"""Dialogue: how long lines last, when their words fall, and the text formats that hold them."""

from heron.lines.timing import TimedLine, speaker, timed

__all__ = ["TimedLine", "speaker", "timed"]
