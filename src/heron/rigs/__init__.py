"""What carries a camera: its keyed base pose."""

from heron.rigs.base_pose import base_pose

__all__ = ["base_pose"]
