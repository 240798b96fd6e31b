"""Unit set pieces, and the shapes of movers."""

import itertools
import math
from typing import Any

import numpy as np

from heron.stage.mover import Mover
from heron.stage.piece import PieceKind
from heron.stage.shapes.mesh import Mesh, about_x, egg, facets, join, lathe, shade, slab


def unit_piece(kind: PieceKind) -> Mesh:
    """A white piece 1 m wide, deep and high, its underside's middle at the origin."""
    if kind == "post":
        return lathe([(0, 1), (0.44, 1), (0.5, 0.985), (0.5, 0.02), (0.5, 0), (0, 0)], "#ffffff", 16)
    if kind == "ramp":
        p = np.array(
            [(-0.5, 0, 0.5), (0.5, 0, 0.5), (-0.5, 0, -0.5), (0.5, 0, -0.5), (-0.5, 1, -0.5), (0.5, 1, -0.5)]
        )
        return facets(p, [[0, 1, 5, 4], [3, 2, 4, 5], [1, 3, 5], [2, 0, 4], [0, 2, 3, 1]], "#ffffff")
    return slab(1, 1, 1, "#ffffff")


def mover_shape(mover: Mover) -> Mesh:
    """A mover's shape, metres, facing −Z."""
    return _heron(mover.colour) if mover.shape == "heron" else _boat(mover.colour)


def _heron(colour: str) -> Mesh:
    dark, pale = shade(colour, 0.62), shade(colour, 1.45)
    parts = [
        egg((0.11, 0.26, 0.13), colour, 14, 0.25).turned(about_x(52)).moved((0, 0.62, 0.02)),
        egg((0.125, 0.27, 0.07), dark, 12, 0.3).turned(about_x(56)).moved((0, 0.66, 0.06)),
    ]
    # The neck is an S of short turned pieces.
    bend = [(0.70, -0.16), (0.80, -0.235), (0.90, -0.215), (0.985, -0.165), (1.07, -0.17), (1.13, -0.22)]
    for (y0, z0), (y1, z1) in itertools.pairwise(bend):
        length = math.hypot(y1 - y0, z1 - z0)
        tilt = math.degrees(math.atan2(z1 - z0, y1 - y0))
        piece = lathe([(0.036, length * 1.1), (0.042, length / 2), (0.04, -0.01)], pale, 10)
        parts.append(piece.turned(about_x(tilt)).moved((0, y0, z0)))
    parts.append(egg((0.05, 0.055, 0.085), pale, 12).moved((0, 1.15, -0.25)))
    beak = (
        lathe([(0.0, 0.24), (0.012, 0.12), (0.024, 0.0)], "#c9973c", 8)
        .turned(about_x(-96))
        .moved((0, 1.145, -0.31))
    )
    crest = (
        lathe([(0.0, 0.2), (0.012, 0.1), (0.016, 0.0)], "#2b2f36", 6)
        .turned(about_x(108))
        .moved((0, 1.19, -0.23))
    )
    legs = [
        lathe([(0.014, 0.5), (0.012, 0.25), (0.014, 0.0)], "#8b7a4d", 6).moved((x, 0.0, 0.03))
        for x in (-0.05, 0.05)
    ]
    toes = [slab(0.07, 0.015, 0.16, "#8b7a4d").moved((x, 0, 0.0)) for x in (-0.05, 0.05)]
    return join(*parts, beak, crest, *legs, *toes)


def _boat(colour: str) -> Mesh:
    """A clinker rowing boat 3.6 m long: lofted sections from bow to stern."""
    stations = np.linspace(-1.8, 1.8, 13)
    hull, inner = [], []
    for z in stations:
        u = (z + 1.8) / 3.6
        half = 0.68 * math.sin(math.pi * min(1.0, u * 0.78 + 0.02)) ** 0.7
        rim = 0.42 + 0.22 * (1 - u) ** 2 + 0.06 * u**2
        keel = -0.12 + 0.35 * max(0.0, 1 - u * 6) ** 2
        turn = np.linspace(-1, 1, 9)
        x = half * np.sign(turn) * np.abs(turn) ** 0.6
        y = keel + (rim - keel) * np.abs(turn) ** 2.2
        hull.append(np.stack([x, y, np.full(9, z)], -1))
        inner.append(np.stack([x * 0.93, y + 0.035 * (1 - np.abs(turn)), np.full(9, z)], -1))
    outside = _loft(np.array(hull), shade(colour, 0.9), flip=False)
    inside = _loft(np.array(inner), shade(colour, 1.25), flip=True)
    stern = np.array(hull[-1])
    board = facets(np.vstack([stern, stern[::-1] * [0.96, 1, 1]])[:9], [list(range(9))], shade(colour, 0.8))
    rims = [
        slab(0.05, 0.045, float(np.linalg.norm(b[k] - a[k])) * 1.05, shade(colour, 0.7))
        .turned(_yaw_along(b[k] - a[k]))
        .moved(tuple((a[k] + b[k]) / 2))
        for k in (0, 8)
        for a, b in itertools.pairwise(hull)
    ]
    seats = [
        slab(w, 0.04, 0.24, "#c8b48c").moved((0, 0.3, z))
        for z, w in ((-0.45, 0.86), (0.45, 1.0), (1.2, 0.88))
    ]
    return join(outside, inside, board, *rims, *seats)


def _yaw_along(line: Any) -> np.ndarray[Any, np.dtype[np.float64]]:
    a = math.atan2(line[0], line[2])
    return np.array([[math.cos(a), 0, math.sin(a)], [0, 1, 0], [-math.sin(a), 0, math.cos(a)]])


def _loft(rings: np.ndarray[Any, Any], colour: str, flip: bool) -> Mesh:
    rows, cols = rings.shape[:2]
    quads = [
        [i * cols + j, (i + 1) * cols + j, (i + 1) * cols + j + 1, i * cols + j + 1]
        for i in range(rows - 1)
        for j in range(cols - 1)
    ]
    faces = []
    points = rings.reshape(-1, 3)
    for quad in quads:
        for tri in ([quad[0], quad[1], quad[2]], [quad[0], quad[2], quad[3]]):
            corner = points[tri]
            if np.linalg.norm(np.cross(corner[1] - corner[0], corner[2] - corner[0])) > 1e-9:
                faces.append(tri[::-1] if flip else tri)
    return facets(points, faces, colour)
