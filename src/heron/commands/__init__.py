"""The verbs: every change to a scene is one of these, and nothing else changes it."""

from heron.commands.base import Command
from heron.commands.registry import AnyCommand, parse_commands, run, run_one

__all__ = ["AnyCommand", "Command", "parse_commands", "run", "run_one"]
