"""Where a line of sight meets a set piece."""

import math
from typing import Any

import numpy as np

from heron.stage.piece import Piece

Floats = np.ndarray[Any, np.dtype[np.float64]]


def meets(piece: Piece, origin: Floats, direction: Floats) -> float | None:
    """How far along a ray a piece begins, in lengths of `direction`; None where it is missed or begun inside.

    Args:
        origin, direction: (3,) metres, stage.

    A post is an upright cylinder over its footprint, a ramp a wedge that rises to its far edge.
    """
    turn = math.radians(piece.heading)
    size = np.array([piece.width, piece.height, piece.depth])

    def own(v: Floats) -> Floats:
        x, z = v[0] * math.cos(turn) - v[2] * math.sin(turn), v[0] * math.sin(turn) + v[2] * math.cos(turn)
        return np.asarray(np.array([x, v[1], z]) / size)

    start = own(origin - np.array([piece.x, piece.base, piece.z]))
    along = own(direction)
    # In shares of its size it lies between −½ and ½ across and along, and between 0 and 1 in height.
    walls = [((0.0, -1.0, 0.0), 0.0), ((0.0, 1.0, 0.0), 1.0)]
    if piece.kind != "post":
        walls += [((s, 0.0, 0.0), 0.5) for s in (-1.0, 1.0)] + [((0.0, 0.0, s), 0.5) for s in (-1.0, 1.0)]
    if piece.kind == "ramp":
        walls.append(((0.0, 1.0, 1.0), 0.5))
    first, last = -math.inf, math.inf
    for normal, bound in walls:
        toward, gap = float(np.dot(normal, along)), bound - float(np.dot(normal, start))
        if abs(toward) < 1e-12:
            if gap < 0:
                return None
        elif toward < 0:
            first = max(first, gap / toward)
        else:
            last = min(last, gap / toward)
    if piece.kind == "post":
        a = along[0] ** 2 + along[2] ** 2
        b = start[0] * along[0] + start[2] * along[2]
        c = start[0] ** 2 + start[2] ** 2 - 0.25
        root = b * b - a * c
        if a < 1e-18:
            if c > 0:
                return None
        elif root < 0:
            return None
        else:
            first = max(first, (-b - math.sqrt(root)) / a)
            last = min(last, (-b + math.sqrt(root)) / a)
    return first if 0 < first <= last else None
