"""What carries a camera: its keyed base pose, and what pulls its focus."""

from heron.rigs.base_pose import base_pose
from heron.rigs.focus_pull import pull_focus

__all__ = ["base_pose", "pull_focus"]
