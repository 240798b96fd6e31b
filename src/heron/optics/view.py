"""What part of the film back is delivered, and the angles it sees.

Field of view is 2·atan(q·w / 2f): q is the anamorphic squeeze, across only. The gate on
the film back then has the delivery aspect divided by q.
"""

import math
from typing import Any, Literal

import numpy as np
from pydantic import Field

from heron.model import Model
from heron.optics.backs import FilmBack

Gate = Literal["fit", "fill", "width", "height"]
SHORTEST_MM, LONGEST_MM = 1.0, 3000.0


class Lens(Model):
    """A film back and how the delivery frame is taken from it."""

    back: FilmBack
    gate: Gate = "fit"
    squeeze: float = Field(default=1.0, ge=0.5, le=2.5)


def gate_size(lens: Lens, aspect: float) -> tuple[float, float]:
    """The delivery frame on the film back, (width, height) in millimetres.

    fit: the largest inside the back; fill: the smallest that covers it; width or height:
    that side of the back kept.
    """
    wide, high = lens.back.width_mm, lens.back.height_mm
    shape = aspect / lens.squeeze
    by_width, by_height = (wide, wide / shape), (high * shape, high)
    if lens.gate == "width":
        return by_width
    if lens.gate == "height":
        return by_height
    inside = by_width if by_width[1] <= high else by_height
    outside = by_height if by_width[1] <= high else by_width
    return inside if lens.gate == "fit" else outside


def back_over_gate(lens: Lens, aspect: float) -> tuple[float, float]:
    """How many times wider and higher the film back is than the delivery frame on it."""
    width, height = gate_size(lens, aspect)
    return lens.back.width_mm / width, lens.back.height_mm / height


def field_of_view(
    lens: Lens, aspect: float, focal_mm: np.ndarray[Any, Any]
) -> np.ndarray[Any, np.dtype[np.float64]]:
    """Angles seen through the delivery frame.

    Args:
        focal_mm: (n,) focal lengths.

    Returns:
        (n, 3) float64 degrees: horizontal, vertical, diagonal.
    """
    width, height = gate_size(lens, aspect)
    width *= lens.squeeze
    sides = np.array([width, height, math.hypot(width, height)])
    focal = np.asarray(focal_mm, dtype=np.float64)
    return np.asarray(np.degrees(2 * np.arctan(sides / (2 * focal[..., None]))))
