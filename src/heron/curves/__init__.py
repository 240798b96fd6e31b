"""Channels: a value over time, by keys."""

from heron.curves.channel import Channel, Key, KeyKind
from heron.curves.evaluate import evaluate, jumps
from heron.curves.keyed import Keyed
from heron.curves.spec import ChannelSpec, pose_specs

__all__ = ["Channel", "ChannelSpec", "Key", "KeyKind", "Keyed", "evaluate", "jumps", "pose_specs"]
