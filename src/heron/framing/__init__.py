"""From the stage to the frame."""

from heron.framing.clipping import Clipped, clipping
from heron.framing.lines import FrameLine, SafeArea, frame_lines
from heron.framing.project import Seen, project
from heron.framing.sharpness import FigureFocus, figures_in_focus, in_words
from heron.framing.shot_size import shot_size
from heron.framing.sizing import Compared, compare, keep_size, usual_lenses

__all__ = [
    "Clipped",
    "Compared",
    "FigureFocus",
    "FrameLine",
    "SafeArea",
    "Seen",
    "clipping",
    "compare",
    "figures_in_focus",
    "frame_lines",
    "in_words",
    "keep_size",
    "project",
    "shot_size",
    "usual_lenses",
]
