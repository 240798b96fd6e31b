"""From the stage to the frame."""

from heron.framing.project import Seen, project

__all__ = ["Seen", "project"]
