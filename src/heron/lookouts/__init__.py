"""Lookouts: views that are searched for, with their reasons."""

from heron.lookouts.asked import Asked, read_asked
from heron.lookouts.search import Lookout, lookouts

__all__ = ["Asked", "Lookout", "lookouts", "read_asked"]
