"""The assembly: where shots lie in the cut, and the three clocks."""

from heron.cut.clocks import Clocks, Mix
from heron.cut.layout import Placed, lay_out

__all__ = ["Clocks", "Mix", "Placed", "lay_out"]
