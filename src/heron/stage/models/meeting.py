"""Where rays meet a part, how high it can be stood on, and how a level plane cuts it. All in shares of its size.

Embree finds the triangle in single precision; where it is met is worked out on that triangle's plane in double.
"""

from functools import cached_property
from typing import Any
from weakref import WeakKeyDictionary

import numpy as np
from embreex.mesh_construction import TriangleMesh
from embreex.rtcore_scene import EmbreeScene

from heron.stage.models.part import Part

Floats = np.ndarray[Any, np.dtype[np.float64]]
Ints = np.ndarray[Any, np.dtype[np.int64]]
#: As many floors one above the other are looked for.
MOST_FLOORS = 24
#: So far past a surface the next one is looked for, shares of the part's size.
_PAST = 1e-5


class Solid:
    """A part that rays can be sent at."""

    def __init__(self, corners: Floats) -> None:
        """`corners`: (t, 3, 3) of its triangles."""
        self._corners = corners
        self._scene = EmbreeScene(robust=True)
        self._mesh = TriangleMesh(
            self._scene, corners.reshape(-1, 3).astype(np.float32), np.arange(3 * len(corners), dtype=np.int32).reshape(-1, 3)
        )  # fmt: skip

    @cached_property
    def normals(self) -> Floats:
        """(t, 3) of its triangles, as long as twice their area."""
        c = self._corners
        return np.cross(c[:, 1] - c[:, 0], c[:, 2] - c[:, 0])

    def first(self, origins: Floats, ways: Floats) -> tuple[Floats, Ints]:
        """(m,) how far along rays it is met, in lengths of `ways`, and which triangle; infinity and −1 where it is missed."""
        if not len(origins):
            return np.zeros(0), np.zeros(0, dtype=np.int64)
        found = self._scene.run(
            np.ascontiguousarray(origins, dtype=np.float32),
            np.ascontiguousarray(ways, dtype=np.float32),
            output=True,
        )
        which = found["primID"].astype(np.int64)
        hit = which >= 0
        far = np.full(len(origins), np.inf)
        normal, corner = self.normals[which[hit]], self._corners[which[hit], 0]
        toward = np.einsum("ij,ij->i", normal, ways[hit])
        gap = np.einsum("ij,ij->i", normal, corner - origins[hit])
        with np.errstate(divide="ignore", invalid="ignore"):
            exact = gap / toward
        # A ray that runs along a triangle meets its plane nowhere in particular.
        near = found["tfar"][hit].astype(np.float64)
        far[hit] = np.where(np.isfinite(exact) & (np.abs(exact - near) < 1e-3 * (1 + near)), exact, near)
        return far, which

    def layers(self, x: Floats, z: Floats) -> tuple[Floats, Ints]:
        """(k, n) heights at which upright lines meet it, from the top down, and the triangles; NaN and −1 beyond the last."""
        n = len(x)
        heights, which = np.full((MOST_FLOORS, n), np.nan), np.full((MOST_FLOORS, n), -1)
        start, left = np.full(n, 1.0 + 1e-3), np.arange(n)
        for level in range(MOST_FLOORS):
            if not len(left):
                return heights[:level], which[:level]
            origins = np.stack([x[left], start[left], z[left]], axis=1)
            far, triangle = self.first(origins, np.tile([0.0, -1.0, 0.0], (len(left), 1)))
            hit = np.isfinite(far)
            left = left[hit]
            heights[level, left] = start[left] - far[hit]
            which[level, left] = triangle[hit]
            start[left] = np.minimum(heights[level, left], start[left]) - _PAST
        return heights, which

    def outline(self, height: float) -> Floats:
        """(s, 2, 2) where a level plane cuts it: lines, each from x, z to x, z."""
        c = self._corners
        above = c[:, :, 1] >= height
        cut = c[above.any(axis=1) & ~above.all(axis=1)]
        over = cut[:, :, 1] >= height
        # The corner that lies alone on its side comes first; both its edges are cut.
        lone = np.where(over.sum(axis=1) == 1, over.argmax(axis=1), (~over).argmax(axis=1))
        row = np.arange(len(cut))
        apex = cut[row, lone]
        ends = []
        for step in (1, 2):
            other = cut[row, (lone + step) % 3]
            share = (height - apex[:, 1]) / (other[:, 1] - apex[:, 1])
            ends.append((apex + share[:, None] * (other - apex))[:, [0, 2]])
        return np.stack(ends, axis=1)


_SOLIDS: WeakKeyDictionary[Part, Solid] = WeakKeyDictionary()


def solid_of(part: Part) -> Solid:
    """What rays meet of a part, made once."""
    found = _SOLIDS.get(part)
    if found is None:
        found = _SOLIDS[part] = Solid(part.corners)
    return found
