"""A first assembly from the lines: what cameras show, who matters when, and the cheapest cut through it."""

from heron.assembling.first_cut import Assembly, Chosen, Kept, assemble
from heron.assembling.wishes import Wishes

__all__ = ["Assembly", "Chosen", "Kept", "Wishes", "assemble"]
