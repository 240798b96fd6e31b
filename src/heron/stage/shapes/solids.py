"""Unit set pieces, and the shapes of movers."""

import math
from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Any

import numpy as np

from heron.stage.bird.shape import heron_shape
from heron.stage.colour import typed
from heron.stage.floors import part_in
from heron.stage.grip import OAR_M
from heron.stage.models import Part
from heron.stage.mover import Mover
from heron.stage.piece import Finish, Piece, PieceKind
from heron.stage.shapes.cart import cart_shape
from heron.stage.shapes.mesh import Mesh, about_y, egg, facets, join, lathe, rgb, shade, slab
from heron.stage.shapes.pony import pony_shape


def unit_piece(kind: PieceKind, finish: Finish = "plain") -> Mesh:
    """A white piece 1 m wide, deep and high, its underside's middle at the origin."""
    if kind == "reeds":
        return _reeds()
    if kind == "backdrop" and finish == "trees":
        return _tree_line()
    if kind == "post":
        return lathe([(0, 1), (0.44, 1), (0.5, 0.985), (0.5, 0.02), (0.5, 0), (0, 0)], "#ffffff", 16)
    if kind == "ramp":
        p = np.array(
            [(-0.5, 0, 0.5), (0.5, 0, 0.5), (-0.5, 0, -0.5), (0.5, 0, -0.5), (-0.5, 1, -0.5), (0.5, 1, -0.5)]
        )
        return facets(p, [[0, 1, 5, 4], [3, 2, 4, 5], [1, 3, 5], [2, 0, 4], [0, 2, 3, 1]], "#ffffff")
    return slab(1, 1, 1, "#ffffff")


def shape_of(piece: Piece) -> Mesh:
    """A white piece as it would be 1 m wide, deep and high; what was brought in, in its own colours, or its box."""
    part = part_in(piece)
    return unit_piece(piece.kind, piece.finish) if part is None else _joined(part)


def _joined(part: Part) -> Mesh:
    """All surfaces of what was brought in as one, without their pictures."""
    each = [
        Mesh(
            one.points,
            one.normals,
            typed(one.colours),
            one.triangles,
            np.zeros(len(one.points), dtype=np.int64),
        )
        for one in part.surfaces
    ]
    return join(*each)


def _reeds() -> Mesh:
    """Many blades in a cubic metre, seen from both sides: each bends over its length, some bear a head."""
    rng = np.random.default_rng(7)
    points: list[Any] = []
    colours: list[Any] = []
    normals: list[list[float]] = []
    faces: list[list[int]] = []
    for k in range(80):
        x, z = rng.uniform(-0.5, 0.5), rng.uniform(-0.5, 0.5)
        high, wide = rng.uniform(0.55, 1.0), rng.uniform(0.0036, 0.0068)
        lean, turn = rng.normal(0, 0.055), rng.uniform(0, 2 * np.pi)
        way = np.array([np.cos(turn), 0.0, np.sin(turn) * 1.4])
        tone = rng.uniform(0.72, 1.12)
        heights = (0.0, 0.55, 1.0)
        start = len(points)
        for i, h in enumerate(heights):
            bend = np.array([lean * h * h, h * high, 0.05 * np.sin(turn) * h * h])
            half = wide * (1 - 0.9 * h) + 0.0004
            for s in (-1, 1):
                points.append(np.array([x, 0, z]) + bend + s * half * way)
                colours.append(np.array([1.0, 1.0, 1.0]) * tone * (0.42 + 0.6 * h))
                normals.append([0.25 * np.sin(turn), 0.9, 0.35])
            if i:
                a = start + 2 * (i - 1)
                for tri in ([a, a + 1, a + 2], [a + 1, a + 3, a + 2]):
                    faces += [tri, tri[::-1]]
        if k % 5 == 0:
            tip = points[-1]
            start = len(points)
            for dy, half in ((-0.10, 0.0), (-0.05, 0.0085), (0.03, 0.0)):
                for s in (-1, 1):
                    points.append(tip + np.array([0, dy, 0]) + s * half * way)
                    colours.append(np.array([0.55, 0.42, 0.34]))
                    normals.append([0, 0.8, 0.6])
            for a in (start, start + 2):
                for tri in ([a, a + 1, a + 2], [a + 1, a + 3, a + 2]):
                    faces += [tri, tri[::-1]]
    normal = np.array(normals, dtype=np.float64)
    normal /= np.linalg.norm(normal, axis=-1, keepdims=True)
    return Mesh(
        np.array(points), normal, np.clip(np.array(colours), 0, 1), np.array(faces, dtype=np.int64),
        np.zeros(len(points), dtype=np.int64),
    )  # fmt: skip


def _tree_line() -> Mesh:
    """A flat set whose upper edge goes up and down as trees do."""
    n = 160
    x = np.linspace(-0.5, 0.5, n + 1)
    rng = np.random.default_rng(3)
    top = 0.62 + 0.16 * np.sin(23 * x + 1) * np.sin(7 * x + 2) + 0.10 * np.sin(61 * x)
    top = np.clip(top + 0.09 * np.abs(np.sin(190 * x)) + 0.05 * rng.random(n + 1), 0.1, 1.0)
    # It sinks to the ground at both ends: a cut edge would stand there like a wall.
    top *= np.clip((0.5 - np.abs(x)) / 0.06, 0.02, 1) ** 0.5
    points = np.array([(v, y, z) for z in (0.5, -0.5) for v, t in zip(x, top, strict=True) for y in (0.0, t)])
    faces = []
    for i in range(n):
        a, b = 2 * i, 2 * (n + 1) + 2 * i
        faces += [[a, a + 2, a + 3, a + 1], [b + 2, b, b + 1, b + 3], [a + 1, a + 3, b + 3, b + 1]]
    return facets(points, faces, "#ffffff")


def mover_shape(mover: Mover, parts: Sequence[Piece] = ()) -> Mesh:
    """A mover's shape, metres, facing −Z: its own, and the set pieces that are part of it or ride on it; without what shines."""
    made = _SHAPES.get(mover.shape)
    own = made(mover.colour) if made else None
    meshes = [*([own] if own else []), *(placed_piece(part) for part in parts if part.finish != "lit")]
    # What has lost all of its parts, or only shines, has a mark at its foot.
    return join(*meshes) if meshes else slab(0.02, 0.02, 0.02, mover.colour)


def shining_shape(mover: Mover, parts: Sequence[Piece] = ()) -> Mesh | None:
    """What of a mover shines by itself: a lamp's glass, and parts that do; none where nothing does."""
    glass = [_glass(mover.light.colour if mover.light else "#8c8678")] if mover.shape == "lamp" else []
    meshes = [*glass, *(placed_piece(part) for part in parts if part.finish == "lit")]
    return join(*meshes) if meshes else None


def placed_piece(piece: Piece) -> Mesh:
    """A set piece in its place and colour, metres."""
    unit = shape_of(piece)
    size = np.array([piece.width, piece.height, piece.depth])
    normals = unit.normals / size
    normals /= np.linalg.norm(normals, axis=-1, keepdims=True)
    tinted = replace(
        unit, points=unit.points * size, normals=normals, colours=unit.colours * rgb(piece.colour)
    )
    return tinted.turned(about_y(piece.heading)).moved((piece.x, piece.base, piece.z))


def _oar(colour: str) -> Mesh:
    """An oar, upright with its blade up, its foot at the origin."""
    wood, blade = colour, "#e3d3ae"
    shaft = lathe(
        [(0.0, 1.98), (0.0225, 1.95), (0.0265, 1.1), (0.0245, 0.12), (0.020, 0.04), (0.0, 0.04)], wood, 10
    )
    flat = egg((0.080, 0.34, 0.013), blade, 12, -0.1).moved((0, OAR_M - 0.34, 0))
    grip = lathe([(0.0, 0.24), (0.031, 0.22), (0.031, 0.02), (0.0, 0.0)], shade(wood, 0.7), 10)
    return join(shaft, flat, grip)


def _glass(colour: str) -> Mesh:
    """The glass of a storm lamp."""
    profile = [(0.0, 0.085), (0.045, 0.08), (0.062, 0.02), (0.058, -0.06), (0.045, -0.085), (0.0, -0.085)]
    return lathe(profile, colour, 14)


def _lamp(colour: str) -> Mesh:
    """A storm lamp round its origin, without its glass: a foot, a cap, and bars between them."""
    foot = lathe([(0.0, -0.08), (0.06, -0.085), (0.075, -0.12), (0.08, -0.15), (0.0, -0.16)], colour, 14)
    cap = lathe([(0.0, 0.145), (0.03, 0.135), (0.06, 0.10), (0.052, 0.078), (0.0, 0.08)], colour, 14)
    bars = [
        slab(0.008, 0.18, 0.008, colour).moved((0.068 * math.cos(a), -0.09, 0.068 * math.sin(a)))
        for a in np.linspace(0, 2 * np.pi, 4, endpoint=False) + 0.4
    ]
    return join(foot, cap, *bars)


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
    # The gunwale is one strip over the edge of each side, from bow to stern.
    strip = np.array([(-0.025, -0.03), (0.03, -0.03), (0.03, 0.02), (-0.025, 0.02), (-0.025, -0.03)])
    rims = [
        _loft(
            np.array([ring[k] + np.c_[side * strip[:, 0], strip[:, 1], np.zeros(5)] for ring in hull]),
            shade(colour, 0.7),
            flip=side < 0,
        )
        for k, side in ((0, -1.0), (8, 1.0))
    ]
    seats = [
        slab(w, 0.04, 0.24, "#c8b48c").moved((0, 0.3, z))
        for z, w in ((-0.45, 0.86), (0.45, 1.0), (1.2, 0.88))
    ]
    return join(outside, inside, board, *rims, *seats)


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


_SHAPES: dict[str, Callable[[str], Mesh]] = {
    "heron": heron_shape, "boat": _boat, "cart": cart_shape, "pony": pony_shape, "oar": _oar, "lamp": _lamp,
}  # fmt: skip
