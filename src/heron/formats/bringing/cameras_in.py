"""Cameras of files from elsewhere, as tracks on the stage: metres, Y up, a value for each frame."""

from typing import Any

import numpy as np
from scipy.spatial.transform import Rotation

from heron.commands.cameras_in import CameraTrack
from heron.errors import BadInput
from heron.formats.bringing.found import METRES, CameraFrames, Eye, Floats, Found, Unit, Up, turned_up
from heron.model import STAGE_LIMIT_M
from heron.optics.backs import LARGEST_BACK_MM, SMALLEST_BACK_MM, FilmBack
from heron.optics.view import LONGEST_MM, SHORTEST_MM
from heron.stage.turning import angles_of

#: The film back that is meant where a file says a field of view alone: 36 mm across (ISO 1007).
_WIDE_MM = 36.0
#: Frames that a camera is read over; ours.
MOST_FRAMES = 20_000


def gltf_camera(found: Found, node: int, yfov: float, aspect: float, told: Any, rate: float) -> CameraFrames:
    """A camera of a glTF file over its first clip. Its lens does not change there; what our own files say besides is taken."""
    told = told if isinstance(told, dict) else {}
    begin = end = 0.0
    if found.clips:
        begin, end = float(found.clips[0].seconds[0]), float(found.clips[0].seconds[-1])
    count = min(round((end - begin) * rate) + 1, MOST_FRAMES)
    places = (
        found.clips[0].places(begin + np.arange(count) / rate)[:, node]
        if found.clips
        else found.rest[node][None]
    )
    n = len(places)

    def over(name: str) -> Floats | None:
        value = told.get(name)
        if isinstance(value, list) and len(value) == n:
            return np.array([np.inf if one is None else float(one) for one in value])
        return np.full(n, float(value)) if isinstance(value, int | float) else None

    back = told.get("film_back_mm")
    back = (float(back[0]), float(back[1])) if isinstance(back, list) and len(back) == 2 else None
    wide = np.full(n, _WIDE_MM)
    high = wide / aspect
    focal = over("focal_mm")
    if focal is None or back is None:
        focal, back = high / (2 * np.tan(yfov / 2)), None
    else:
        wide, high = np.full(n, back[0]), np.full(n, back[1])
    first = told.get("first_frame")
    aperture, focus = over("aperture"), over("focus_m")
    if focus is None and "focus_m" in told:
        focus = np.full(n, np.inf)
    return CameraFrames(
        first if isinstance(first, int) else None, places, focal, wide, high, aperture, focus, back,
        float(told.get("squeeze", 1.0)), _number(told.get("shutter_deg")), _number(told.get("iso")),
    )  # fmt: skip


def _number(value: Any) -> float | None:
    return float(value) if isinstance(value, int | float) else None


def tracks_of(
    found: Found, name: str, rate: float, unit: Unit | None = None, up: Up | None = None
) -> list[CameraTrack]:
    """All cameras of a file, at so many frames a second.

    Raises:
        BadInput: it has none, one leaves the stage, or its lens is none that can be had.
    """
    if not found.eyes:
        raise BadInput(f"{name} has no cameras.", "Give a file with cameras.")
    metres = METRES[unit] if unit is not None else found.metres if found.metres is not None else 1.0
    return [_track(eye, eye.frames(rate), name, metres, up or found.up or "y") for eye in found.eyes]


def _track(eye: Eye, seen: CameraFrames, name: str, metres: float, up: Up) -> CameraTrack:
    at = turned_up(seen.places[:, :3, 3], up) * metres
    axes = np.stack([turned_up(seen.places[:, :3, k], up) for k in range(3)], axis=-1)
    axes = axes / np.maximum(np.linalg.norm(axes, axis=1, keepdims=True), 1e-12)
    if not np.isfinite(at).all() or np.abs(at).max() > STAGE_LIMIT_M or (np.linalg.det(axes) < 0.5).any():
        raise BadInput(f"{name}: {eye.name} leaves the stage, or is mirrored.", "Choose a smaller unit, or export it again.", field="unit")  # fmt: skip
    pan, tilt, roll = (
        np.degrees(np.unwrap(np.radians(one))) for one in angles_of(Rotation.from_matrix(axes).as_quat())
    )
    focal = seen.focal
    if not np.isfinite(focal).all() or focal.min() < SHORTEST_MM or focal.max() > LONGEST_MM:
        raise BadInput(
            f"{name}: {eye.name} has a lens of {float(focal.min()):.3g} to {float(focal.max()):.3g} mm.",
            f"Give it one of {SHORTEST_MM:g} to {LONGEST_MM:g} mm.",
        )
    wide, high = seen.back or (float(seen.wide[0]), float(seen.high[0]))
    if not SMALLEST_BACK_MM <= min(wide, high) <= max(wide, high) <= LARGEST_BACK_MM:
        raise BadInput(
            f"{name}: {eye.name} has a film back of {wide:.3g} × {high:.3g} mm.",
            f"Give it one of {SMALLEST_BACK_MM:g} to {LARGEST_BACK_MM:g} mm a side.",
        )
    focus = None if seen.focus is None else seen.focus * metres
    return CameraTrack(
        name=(eye.name.strip() or "Camera")[:80], first=seen.first, x=_told(at[:, 0]), y=_told(at[:, 1]), z=_told(at[:, 2]), pan=_told(pan),
        tilt=_told(tilt), roll=_told(roll), focal=_told(focal), back=FilmBack(width_mm=round(wide, 4), height_mm=round(high, 4)), squeeze=seen.squeeze,
        f_stop=None if seen.aperture is None else _told(seen.aperture),
        focus_m=None if focus is None else tuple(float(v) if np.isfinite(v) and v < 1e5 else None for v in focus),
        shutter_deg=seen.shutter_deg, iso=seen.iso,
    )  # fmt: skip


def _told(values: Floats) -> tuple[float, ...]:
    return tuple(round(float(v), 7) for v in values)
