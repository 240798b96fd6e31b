"""Bodies: the joint tree, and how a figure's acts move it."""

from heron.stage.body.gazing import gaze
from heron.stage.body.perform import Performance, perform
from heron.stage.skeleton import INDEX, JOINTS, LANDMARKS

__all__ = ["INDEX", "JOINTS", "LANDMARKS", "Performance", "gaze", "perform"]
