"""Cameras frame by frame, as numbers: place and turn, lens, stop and focus (CSV and JSON).

Metres, Y up; pan, tilt and roll in degrees, turned in that order; a camera at rest looks along −Z. Focus at infinity is left empty.
"""

import csv
import io
import json
from typing import Any

import numpy as np

from heron.cut import Clocks
from heron.formats.span import Span
from heron.scene import Camera

#: What is written of each frame: its name, the column of a camera's samples, and how many decimals.
_NUMBERS = (
    ("x_m", "x", 5), ("y_m", "y", 5), ("z_m", "z", 5), ("pan_deg", "pan", 5), ("tilt_deg", "tilt", 5), ("roll_deg", "roll", 5),
    ("focal_mm", "focal_mm", 4), ("f_stop", "aperture", 4), ("focus_m", "focus_per_m", 5),
    ("horizontal_deg", "horizontal_deg", 5), ("vertical_deg", "vertical_deg", 5),
)  # fmt: skip
COLUMNS = tuple(name for name, _, _ in _NUMBERS)


def numbers_of(span: Span, camera: Camera) -> list[list[float | None]]:
    """A row for each frame, in the order of `COLUMNS`; None for focus at infinity."""
    samples = span.bake.samples(camera)
    columns = []
    for _, column, digits in _NUMBERS:
        values = samples.column(column)[span.rows]
        if column == "focus_per_m":
            with np.errstate(divide="ignore"):
                values = np.where(values > 1e-9, 1 / np.maximum(values, 1e-12), np.inf)
        columns.append([round(float(v), digits) if np.isfinite(v) else None for v in values])
    return [list(row) for row in zip(*columns, strict=True)]


def write_camera_csv(span: Span) -> str:
    """A line for each camera and frame, with the shot that shows it and its place in the cut where it is on air."""
    scene = span.bake.scene
    clocks = Clocks(scene)
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\n")
    fixed = ("film_back_width_mm", "film_back_height_mm", "squeeze", "shutter_deg", "iso")
    table.writerow(["camera", "name", "shot", "stage_frame", "cut_frame", "timecode", *COLUMNS, *fixed])
    for camera in span.cameras:
        aired = _aired(clocks, camera, span)
        still = (
            camera.lens.back.width_mm,
            camera.lens.back.height_mm,
            camera.lens.squeeze,
            camera.shutter_deg,
            camera.iso,
        )
        for frame, row in zip(
            range(span.frames.first, span.frames.last + 1), numbers_of(span, camera), strict=True
        ):
            shot, cut = aired.get(frame, ("", None))
            where = ["", ""] if cut is None else [cut, clocks.timecode(cut)]
            numbers = ["" if value is None else value for value in row]
            table.writerow([camera.letter, camera.name, shot, frame, *where, *numbers, *still])
    return out.getvalue()


def write_camera_json(span: Span) -> str:
    """The same as JSON: a list of rows for each camera."""
    scene = span.bake.scene
    told: dict[str, Any] = {
        "scene": scene.name, "rate": scene.rate, "unit": "m", "up": "y", "shot": span.shot.name if span.shot else None,
        "first": span.frames.first, "last": span.frames.last, "columns": COLUMNS,
        "cameras": [
            {
                "camera": one.letter, "name": one.name, "film_back_mm": [one.lens.back.width_mm, one.lens.back.height_mm],
                "squeeze": one.lens.squeeze, "shutter_deg": one.shutter_deg, "iso": one.iso, "rows": numbers_of(span, one),
            }
            for one in span.cameras
        ],
    }  # fmt: skip
    return json.dumps(told, ensure_ascii=False, allow_nan=False)


def _aired(clocks: Clocks, camera: Camera, span: Span) -> dict[int, tuple[str, int]]:
    """The stage frames on which a camera is on air: in which shot, and where in the cut first."""
    out: dict[int, tuple[str, int]] = {}
    for placed in clocks.placed:
        shot = placed.shot
        if shot.camera != camera.id or (span.shot is not None and shot.id != span.shot.id):
            continue
        for k, frame in enumerate(range(shot.stage.first, shot.stage.last + 1)):
            out.setdefault(frame, (shot.name, placed.cut_first + k))
    return out
