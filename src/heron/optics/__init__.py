"""Film backs, lenses and fields of view."""

from heron.optics.backs import FILM_BACKS, FilmBack, PublishedBack
from heron.optics.delivery import DELIVERIES, Delivery, parse_delivery
from heron.optics.view import Gate, Lens, field_of_view, gate_size

__all__ = [
    "DELIVERIES",
    "FILM_BACKS",
    "Delivery",
    "FilmBack",
    "Gate",
    "Lens",
    "PublishedBack",
    "field_of_view",
    "gate_size",
    "parse_delivery",
]
