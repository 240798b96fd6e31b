"""The assembly: where shots lie in the cut, and the three clocks."""

from heron.cut.clocks import Clocks
from heron.cut.layout import Placed, lay_out

__all__ = ["Clocks", "Placed", "lay_out"]
