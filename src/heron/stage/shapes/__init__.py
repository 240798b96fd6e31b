"""The solids things are drawn and exported with."""

from heron.stage.shapes.lay_figure import lay_figure
from heron.stage.shapes.mesh import Mesh
from heron.stage.shapes.solids import mover_shape, shape_of, shining_shape, unit_piece

__all__ = ["Mesh", "lay_figure", "mover_shape", "shape_of", "shining_shape", "unit_piece"]
