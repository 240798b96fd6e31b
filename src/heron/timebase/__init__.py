"""Rates, frames, ranges and timecode."""

from heron.timebase.frames import MAX_FRAMES, Frames
from heron.timebase.rate import Rate, parse_rate
from heron.timebase.timecode import format_timecode, parse_timecode

__all__ = ["MAX_FRAMES", "Frames", "Rate", "format_timecode", "parse_rate", "parse_timecode"]
