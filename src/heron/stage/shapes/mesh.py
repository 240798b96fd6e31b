"""Triangles with colours, and the few ways they are made here."""

import math
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Any

import numpy as np
from scipy.interpolate import PchipInterpolator

Floats = np.ndarray[Any, np.dtype[np.float64]]
Ints = np.ndarray[Any, np.dtype[np.int64]]
Profile = list[tuple[float, float]]


@dataclass(frozen=True)
class Mesh:
    """A surface.

    Attributes:
        points, normals: (v, 3) float64, metres and unit.
        colours: (v, 3) float64, 0 to 1, as typed (sRGB).
        triangles: (t, 3) int64, counter-clockwise from outside.
        joints: (v,) int64, the joint each point is fixed to.
        others: (v, 2) int64, two more that it goes with, by `shares` (v, 2) float64, 0 to 1 together.
    """

    points: Floats
    normals: Floats
    colours: Floats
    triangles: Ints
    joints: Ints
    others: Ints | None = None
    shares: Floats | None = None

    def moved(self, offset: tuple[float, float, float], joint: int | None = None) -> "Mesh":
        """Shifted, and fixed to a joint if one is given."""
        joints = self.joints if joint is None else np.full(len(self.points), joint)
        return replace(self, points=self.points + np.array(offset), joints=joints)

    def turned(self, matrix: Floats) -> "Mesh":
        """Turned by a (3, 3) rotation about the origin."""
        return replace(self, points=self.points @ matrix.T, normals=self.normals @ matrix.T)

    def scaled(self, by: float) -> "Mesh":
        """Scaled evenly about the origin."""
        return replace(self, points=self.points * by)


def about_x(degrees: float) -> Floats:
    """A turn about X, for `turned`."""
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    return np.array([[1.0, 0.0, 0.0], [0.0, c, -s], [0.0, s, c]])


def about_y(degrees: float) -> Floats:
    """A turn about Y, for `turned`."""
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    return np.array([[c, 0.0, s], [0.0, 1.0, 0.0], [-s, 0.0, c]])


def about_z(degrees: float) -> Floats:
    """A turn about Z, for `turned`."""
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    return np.array([[c, -s, 0.0], [s, c, 0.0], [0.0, 0.0, 1.0]])


def rgb(colour: str) -> Floats:
    """`#rrggbb` to (3,) float64, 0 to 1."""
    return np.array([int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)])


def shade(colour: str, by: float) -> str:
    """A colour made lighter (over 1) or darker (under 1)."""
    return "#" + "".join(f"{min(255, max(0, round(v * 255 * by))):02x}" for v in rgb(colour))


def join(*meshes: Mesh) -> Mesh:
    """All of them as one."""
    start = np.cumsum([0, *(len(m.points) for m in meshes[:-1])])
    return Mesh(
        np.concatenate([m.points for m in meshes]),
        np.concatenate([m.normals for m in meshes]),
        np.concatenate([m.colours for m in meshes]),
        np.concatenate([m.triangles + s for m, s in zip(meshes, start, strict=True)]),
        np.concatenate([m.joints for m in meshes]),
        np.concatenate(
            [np.zeros((len(m.points), 2), np.int64) if m.others is None else m.others for m in meshes]
        ),
        np.concatenate([np.zeros((len(m.points), 2)) if m.shares is None else m.shares for m in meshes]),
    )


def lathe(profile: Profile, colour: str, sides: int = 12, squash: tuple[float, float] = (1.0, 1.0)) -> Mesh:
    """A form turned about the Y axis, as a wood turner would.

    Args:
        profile: (radius, height) from the top down; a radius of zero closes an end.
        squash: how wide it is across X and across Z.
    """
    r, y = np.array(profile, dtype=np.float64).T
    angle = np.linspace(0, 2 * np.pi, sides, endpoint=False)
    ring = np.stack([np.sin(angle) * squash[0], np.cos(angle) * squash[1]], axis=-1)
    points = np.stack(
        [np.outer(r, ring[:, 0]), np.repeat(y[:, None], sides, 1), np.outer(r, ring[:, 1])], axis=-1
    )
    slope_r, slope_y = np.gradient(r), np.gradient(y)
    across = np.stack([np.sin(angle) / squash[0], np.cos(angle) / squash[1]], axis=-1)
    normals = np.stack(
        [
            np.outer(-slope_y, across[:, 0]),
            np.repeat(slope_r[:, None], sides, 1),
            np.outer(-slope_y, across[:, 1]),
        ],
        axis=-1,
    )
    length = np.linalg.norm(normals, axis=-1, keepdims=True)
    normals = np.where(length > 1e-12, normals / np.maximum(length, 1e-12), [0.0, 1.0, 0.0])
    i, j = np.meshgrid(np.arange(len(r) - 1), np.arange(sides), indexing="ij")
    a, b = i * sides + j, i * sides + (j + 1) % sides
    c, d = a + sides, b + sides
    triangles = np.concatenate(
        [np.stack([a, c, b], -1).reshape(-1, 3), np.stack([b, c, d], -1).reshape(-1, 3)]
    )
    return _made(points.reshape(-1, 3), normals.reshape(-1, 3), triangles, colour)


def rounded(profile: Profile, times: int = 3) -> Profile:
    """A profile through the same points, with others between them along a curve that goes no farther out than they do."""
    points = np.array(profile, dtype=np.float64)
    along = np.r_[0.0, np.cumsum(np.linalg.norm(np.diff(points, axis=0), axis=1))]
    curve = PchipInterpolator(along, points)
    at = np.concatenate([np.linspace(a, b, times, endpoint=False) for a, b in pairwise(along)])
    return [(float(r), float(y)) for r, y in (*curve(at), points[-1])]


def egg(radii: tuple[float, float, float], colour: str, sides: int = 12, taper: float = 0.0) -> Mesh:
    """An ellipsoid; `taper` narrows its lower end."""
    v = np.linspace(0, np.pi, max(6, sides * 2 // 3) + 1)
    r = np.sin(v) * (1 + taper * np.cos(v))
    profile = [(float(a), float(radii[1] * np.cos(b))) for a, b in zip(r, v, strict=True)]
    return lathe(profile, colour, sides, (radii[0], radii[2]))


def facets(points: Floats, faces: list[list[int]], colour: str) -> Mesh:
    """Flat faces (counter-clockwise from outside), each with its own normal."""
    out_p: list[Floats] = []
    out_n: list[Floats] = []
    out_t: list[list[int]] = []
    for face in faces:
        corner = points[face]
        normal = np.cross(corner[1] - corner[0], corner[2] - corner[0])
        normal = normal / np.linalg.norm(normal)
        base = len(out_p)
        out_p += list(corner)
        out_n += [normal] * len(face)
        out_t += [[base, base + k, base + k + 1] for k in range(1, len(face) - 1)]
    return _made(np.array(out_p), np.array(out_n), np.array(out_t, dtype=np.int64), colour)


def slab(width: float, height: float, depth: float, colour: str) -> Mesh:
    """A box whose underside's middle is the origin."""
    x, z = width / 2, depth / 2
    points = np.array([(sx * x, sy * height, sz * z) for sy in (0, 1) for sz in (-1, 1) for sx in (-1, 1)])
    return facets(
        points,
        [[0, 1, 3, 2], [4, 6, 7, 5], [0, 4, 5, 1], [2, 3, 7, 6], [0, 2, 6, 4], [1, 5, 7, 3]],
        colour,
    )


def _made(points: Floats, normals: Floats, triangles: Ints, colour: str) -> Mesh:
    p = points[triangles]
    area = np.linalg.norm(np.cross(p[:, 1] - p[:, 0], p[:, 2] - p[:, 0]), axis=-1)
    return Mesh(
        points,
        normals,
        np.tile(rgb(colour), (len(points), 1)),
        triangles[area > 1e-14],
        np.zeros(len(points), dtype=np.int64),
    )
