"""A heron: its joints, and how it stands, crouches and flies."""

from heron.stage.bird.flight import bird_at
from heron.stage.bird.joints import BIRD, BIRD_INDEX

__all__ = ["BIRD", "BIRD_INDEX", "bird_at"]
