"""Where a line of sight meets a set piece, or any surface."""

import math
from typing import Any

import numpy as np

from heron.stage.floors import part_in
from heron.stage.models.meeting import solid_of
from heron.stage.piece import Piece

Floats = np.ndarray[Any, np.dtype[np.float64]]


def meets(piece: Piece, origin: Floats, direction: Floats) -> float | None:
    """How far along a ray a piece begins, in lengths of `direction`; None where it is missed or begun inside.

    Args:
        origin, direction: (3,) metres, stage.
    """
    far = float(reach(piece, origin[None], direction[None])[0])
    return far if math.isfinite(far) else None


def reach(piece: Piece, origins: Floats, directions: Floats) -> Floats:
    """(m,) how far along rays a piece begins, in lengths of `directions`; infinity where it is missed or begun inside.

    Args:
        origins, directions: (m, 3) metres, stage.

    A post is an upright cylinder over its footprint, a ramp a wedge that rises to its far edge; what was brought in is as
    its file has it, and its box where that is not here.
    """
    start, along = _own(piece, origins, directions)
    part = part_in(piece)
    if part is not None:
        return solid_of(part).first(start, along)[0]
    walls = [((0.0, -1.0, 0.0), 0.0), ((0.0, 1.0, 0.0), 1.0)]
    if piece.kind != "post":
        walls += [((s, 0.0, 0.0), 0.5) for s in (-1.0, 1.0)] + [((0.0, 0.0, s), 0.5) for s in (-1.0, 1.0)]
    if piece.kind == "ramp":
        walls.append(((0.0, 1.0, 1.0), 0.5))
    normals = np.array([normal for normal, _ in walls])
    toward = along @ normals.T
    gap = np.array([bound for _, bound in walls]) - start @ normals.T
    flat = np.abs(toward) < 1e-12
    missed = (flat & (gap < 0)).any(axis=1)
    with np.errstate(divide="ignore", invalid="ignore"):
        far = gap / toward
        first = np.where(~flat & (toward < 0), far, -np.inf).max(axis=1)
        last = np.where(~flat & (toward > 0), far, np.inf).min(axis=1)
        if piece.kind == "post":
            a = along[:, 0] ** 2 + along[:, 2] ** 2
            b = start[:, 0] * along[:, 0] + start[:, 2] * along[:, 2]
            within = start[:, 0] ** 2 + start[:, 2] ** 2 - 0.25
            root = b * b - a * within
            upright = a < 1e-18
            missed |= np.where(upright, within > 0, root < 0)
            half = np.sqrt(np.maximum(root, 0))
            first = np.where(upright, first, np.maximum(first, (-b - half) / a))
            last = np.where(upright, last, np.minimum(last, (-b + half) / a))
    return np.where(~missed & (first > 0) & (first <= last), first, np.inf)


def meets_back(
    piece: Piece, origins: Floats, directions: Floats
) -> tuple[Floats, np.ndarray[Any, np.dtype[np.bool_]]]:
    """(m,) how far along rays what was brought in is met, and whether from behind; a ray that misses it meets no back."""
    part = part_in(piece)
    assert part is not None
    start, along = _own(piece, origins, directions)
    solid = solid_of(part)
    far, which = solid.first(start, along)
    return far, (which >= 0) & (np.einsum("ij,ij->i", solid.normals[which], along) > 0)


def _own(piece: Piece, origins: Floats, directions: Floats) -> tuple[Floats, Floats]:
    """Rays in shares of a piece's size: it lies between −½ and ½ across and along, and between 0 and 1 in height."""
    turn = math.radians(piece.heading)
    c, s = math.cos(turn), math.sin(turn)
    turned = np.array([[c, 0.0, -s], [0.0, 1.0, 0.0], [s, 0.0, c]]).T
    to_own = turned / [piece.width, piece.height, piece.depth]
    return (origins - [piece.x, piece.base, piece.z]) @ to_own, directions @ to_own


def reach_surface(corners: Floats, origins: Floats, directions: Floats) -> Floats:
    """(m,) how far along rays a surface is met, in lengths of `directions`; infinity where it is missed.

    Möller and Trumbore, "Fast, minimum storage ray/triangle intersection", 1997.

    Args:
        corners: (k, 3, 3) of triangles; origins, directions: (m, 3).
    """
    found = np.full(len(origins), np.inf)
    corner = corners[:, 0]
    one, two = corners[:, 1] - corner, corners[:, 2] - corner
    # All its triple products as products of matrices, of rays and of triangles.
    normal = np.cross(one, two)
    apart, of_two, of_one = np.sum(corner * normal, axis=1), np.cross(two, corner), np.cross(corner, one)
    # Rays by triangles: no more of them at once than a few megabytes.
    step = max(200_000 // max(len(corners), 1), 1)
    for first in range(0, len(origins), step):
        d, o = directions[first : first + step], origins[first : first + step]
        turned = np.cross(o, d)
        size = -(d @ normal.T)
        with np.errstate(divide="ignore", invalid="ignore"):
            u = (turned @ two.T - d @ of_two.T) / size
            v = (-(turned @ one.T) - d @ of_one.T) / size
            far = (o @ normal.T - apart) / size
            hit = (np.abs(size) > 1e-15) & (u >= 0) & (v >= 0) & (u + v <= 1) & (far > 0)
        found[first : first + step] = np.where(hit, far, np.inf).min(axis=1, initial=np.inf)
    return found


def reach_capsules(ends: Floats, radii: Floats, origins: Floats, directions: Floats) -> Floats:
    """(m,) how far along rays the first of some capsules begins, in lengths of `directions`; infinity where all are missed.

    By where the ray and the capsule's middle line are nearest to each other (Ericson, Real-Time Collision Detection, 5.1.9,
    from memory); exact where they are at right angles, and a little late the more they lie one way.

    Args:
        ends: (m, c, 2, 3) of their middle lines; radii: (c,); origins, directions: (m, 3). Metres.
    """
    along = ends[:, :, 1] - ends[:, :, 0]
    off = origins[:, None] - ends[:, :, 0]
    way = directions[:, None]
    a = np.maximum(np.sum(way**2, axis=-1), 1e-12)
    e = np.maximum(np.sum(along**2, axis=-1), 1e-12)
    b, c, f = np.sum(way * along, axis=-1), np.sum(way * off, axis=-1), np.sum(along * off, axis=-1)
    apart = a * e - b * b
    t = np.clip(np.where(apart > 1e-12, (b * f - c * e) / np.maximum(apart, 1e-12), 0.0), 0.0, 1.0)
    s = np.clip((b * t + f) / e, 0.0, 1.0)
    t = np.clip((b * s - c) / a, 0.0, 1.0)
    gap = off + t[..., None] * way - s[..., None] * along
    inside = radii**2 - np.sum(gap**2, axis=-1)
    first = t - np.sqrt(np.maximum(inside, 0.0) / a)
    return np.asarray(np.where((inside > 0) & (first > 0), first, np.inf).min(axis=1, initial=np.inf))
