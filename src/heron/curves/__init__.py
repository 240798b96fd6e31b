"""Channels: a value over time, by keys."""

from heron.curves.channel import Channel, Key, KeyKind
from heron.curves.evaluate import evaluate

__all__ = ["Channel", "Key", "KeyKind", "evaluate"]
