"""What is sharp: hyperfocal distance, near and far limits, and the blur of a point.

Thin lens, lengths from the lens along its axis. Distances come and go as their reciprocals,
`per_m` in 1/m, so that infinity is plain zero and a rack runs evenly as the eye sees it.

    H    = f²/(N·c) + f
    near = s(H−f)/(H+s−2f)      far = s(H−f)/(H−s), infinite from s ≥ H
    blur = (f/N)·(f/(s−f))·|d−s|/d

These are the forms of the usual handbooks of cinematography; from memory.
"""

import math
from typing import Any

import numpy as np

from heron.optics.backs import FilmBack

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: Common handbook value: the film back's diagonal over this many parts still reads as a point.
CONFUSION_PARTS = 1500.0
#: Distances engraved on a focus ring, metres; common practice.
FOCUS_RING = (0.3, 0.35, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 1.0, 1.2, 1.5, 2.0, 2.5, 3.0, 4.0, 5.0, 7.0, 10.0, 20.0, 50.0)  # fmt: skip


def circle_of_confusion(back: FilmBack, given_mm: float | None = None) -> float:
    """The widest blur on the film back that still reads as sharp, millimetres."""
    return given_mm or math.hypot(back.width_mm, back.height_mm) / CONFUSION_PARTS


def hyperfocal(focal_mm: Floats, aperture: Floats, confusion_mm: float) -> Floats:
    """Focus here and everything from half of it to infinity is sharp, metres."""
    return np.asarray((focal_mm**2 / (aperture * confusion_mm) + focal_mm) / 1000.0)


def sharp_limits(
    focal_mm: Floats, aperture: Floats, focus_per_m: Floats, confusion_mm: float
) -> tuple[Floats, Floats]:
    """Where sharpness begins and ends, as reciprocals: (near, far) in 1/m; far is 0 at infinity.

    Args:
        focal_mm, aperture, focus_per_m: (n,) each.
    """
    f = focal_mm / 1000.0
    far_focus = hyperfocal(focal_mm, aperture, confusion_mm)
    near = ((far_focus - 2 * f) * focus_per_m + 1) / (far_focus - f)
    far = np.maximum((far_focus * focus_per_m - 1) / (far_focus - f), 0.0)
    return near, far


def blur_mm(focal_mm: Floats, aperture: Floats, focus_per_m: Floats, at_per_m: Floats) -> Floats:
    """Diameter on the film back of the blur of a point, millimetres.

    Args:
        at_per_m: reciprocal of the point's distance along the axis, 1/m.
    """
    f = focal_mm / 1000.0
    return np.asarray(focal_mm * f / aperture * np.abs(focus_per_m - at_per_m) / (1 - f * focus_per_m))


def drawn_pupil(focal_mm: Floats, aperture: Floats, focus_per_m: Floats) -> Floats:
    """Radius in metres of the disc from which pinhole pictures add up to that blur.

    A pinhole picture keeps the angles of focus at infinity, whatever the focus, where the thin
    lens moves out by s/(s−f); the disc grows by as much, so that the blur is the lens's own.
    """
    f = focal_mm / 1000.0
    return np.asarray(f / (2 * aperture) / (1 - f * focus_per_m))


def nearest_possible(focal_mm: float) -> float:
    """Nothing can be focused nearer than this, metres: at twice the focal length it is life size."""
    return 2 * focal_mm / 1000.0
