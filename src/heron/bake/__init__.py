"""Scene to samples, by content: what has not changed is not computed again."""

from heron.bake.cache import CACHE, OverlayCache, ResultCache
from heron.bake.cameras import COLUMNS as CAMERA_COLUMNS
from heron.bake.graph import BAKE_VERSION, Bake, draft
from heron.bake.samples import Samples, between

__all__ = [
    "BAKE_VERSION",
    "CACHE",
    "CAMERA_COLUMNS",
    "Bake",
    "OverlayCache",
    "ResultCache",
    "Samples",
    "between",
    "draft",
]
