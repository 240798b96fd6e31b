"""Film backs, lenses, fields of view, focus and exposure."""

from heron.optics.aperture import aperture_points
from heron.optics.backs import FILM_BACKS, FilmBack, PublishedBack
from heron.optics.delivery import DELIVERIES, Delivery, parse_deliveries, parse_delivery
from heron.optics.exposure import exposure_value, shutter_seconds
from heron.optics.focus import blur_mm, circle_of_confusion, drawn_pupil, hyperfocal, sharp_limits
from heron.optics.kit import FIRST_KIT, KitLens
from heron.optics.shutter import open_over
from heron.optics.view import Gate, Lens, field_of_view, gate_size

__all__ = [
    "DELIVERIES",
    "FILM_BACKS",
    "FIRST_KIT",
    "Delivery",
    "FilmBack",
    "Gate",
    "KitLens",
    "Lens",
    "PublishedBack",
    "aperture_points",
    "blur_mm",
    "circle_of_confusion",
    "drawn_pupil",
    "exposure_value",
    "field_of_view",
    "gate_size",
    "hyperfocal",
    "open_over",
    "parse_deliveries",
    "parse_delivery",
    "sharp_limits",
    "shutter_seconds",
]
