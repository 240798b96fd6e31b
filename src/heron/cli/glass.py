"""Lenses, sharpness and exposure on the command line."""

import argparse

import numpy as np

from heron.cli.words import number, say
from heron.errors import BadInput
from heron.model import STAGE_LIMIT_M
from heron.optics import (
    Lens,
    blur_mm,
    circle_of_confusion,
    exposure_value,
    field_of_view,
    gate_size,
    hyperfocal,
    parse_delivery,
    sharp_limits,
    shutter_seconds,
)
from heron.optics.backs import parse_back
from heron.optics.exposure import (
    FASTEST_ISO,
    LARGEST_SHUTTER,
    NARROWEST_STOP,
    SLOWEST_ISO,
    SMALLEST_SHUTTER,
    WIDEST_STOP,
)
from heron.optics.focus import nearest_possible
from heron.optics.view import LONGEST_MM, SHORTEST_MM
from heron.timebase import parse_rate


def do_lens(args: argparse.Namespace) -> None:
    """`heron lens`."""
    focal = number(args.focal, "focal length", SHORTEST_MM, LONGEST_MM)
    lens = Lens(back=parse_back(args.back), gate=args.gate, squeeze=number(args.squeeze, "squeeze", 0.5, 2.5))
    aspect = parse_delivery(args.delivery).aspect
    wide, high, diagonal = (float(v) for v in field_of_view(lens, aspect, np.array([focal]))[0])
    say(
        {
            "gate_mm": list(gate_size(lens, aspect)),
            "horizontal_deg": wide,
            "vertical_deg": high,
            "diagonal_deg": diagonal,
        }
    )


def _distance(text: str, field: str) -> float:
    """Metres as their reciprocal, 1/m; infinity is 0."""
    if text.strip().lower() in ("inf", "infinity", "∞"):
        return 0.0
    return 1 / number(text, field, 1e-3, STAGE_LIMIT_M)


def do_dof(args: argparse.Namespace) -> None:
    """`heron dof`."""
    back = parse_back(args.back)
    focal = number(args.focal, "focal length", SHORTEST_MM, LONGEST_MM)
    stop = number(args.aperture, "stop", WIDEST_STOP, NARROWEST_STOP)
    focus = _distance(args.focus, "focus distance")
    if focus * nearest_possible(focal) > 1:
        raise BadInput(
            f"Nothing at {args.focus} m can be sharp through {focal:g} mm.",
            f"Focus at {nearest_possible(focal):g} m or farther.",
            field="focus",
        )
    given = number(args.coc, "circle of confusion", 1e-4, 1.0) if args.coc else None
    confusion = circle_of_confusion(back, given)
    f, n, s = np.array([focal]), np.array([stop]), np.array([focus])
    near, far = (float(v[0]) for v in sharp_limits(f, n, s, confusion))
    blur = float(blur_mm(f, n, s, np.array([_distance(args.at, "distance")]))[0]) if args.at else None
    wide = number(args.width, "width", 1, 100_000) if args.width else None
    say(
        {
            "hyperfocal_m": float(hyperfocal(f, n, confusion)[0]),
            "near_m": 1 / near,
            "far_m": 1 / far if far > 0 else None,
            "total_m": 1 / far - 1 / near if far > 0 else None,
            "blur_mm": blur,
            "blur_px": blur / back.width_mm * wide if blur is not None and wide else None,
        }
    )


def do_exposure(args: argparse.Namespace) -> None:
    """`heron exposure`."""
    stop = number(args.aperture, "stop", WIDEST_STOP, NARROWEST_STOP)
    angle = number(args.shutter, "shutter angle", SMALLEST_SHUTTER, LARGEST_SHUTTER)
    iso = number(args.iso, "sensitivity", SLOWEST_ISO, FASTEST_ISO)
    seconds = shutter_seconds(angle, float(parse_rate(args.rate)))
    say({"shutter_s": seconds, "ev": float(exposure_value(np.array([stop]), seconds, iso)[0])})
