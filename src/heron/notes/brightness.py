"""How bright what stands behind somebody is: an estimate by the light that the stage is painted with, without shadows and lamps."""

import math
from typing import Any

import numpy as np

from heron.bake import Bake
from heron.framing.hidden import Hiding
from heron.stage.colour import brightness
from heron.stage.figure import Figure
from heron.stage.piece import Piece

Floats = np.ndarray[Any, np.dtype[np.float64]]
Ints = np.ndarray[Any, np.dtype[np.int64]]
#: Light of the sun, and of the sky on what faces it, as the picture is painted.
_SUN, _SKY = 1.05 * brightness("#fff1d8"), 0.86
#: Nothing is lost in the haze nearer than this, metres; rays end so far off.
_CLEAR_M, _FAR_M = 12.0, 400.0
#: What water mirrors where it is looked down on, and how much more at a glance.
_MIRRORS, _GLANCE = 0.03, 0.90
#: What `Behind.look` has for the floor and for the sky.
FLOOR, SKY = -2, -1


class Behind:
    """What is met beyond somebody, and how bright it is there."""

    def __init__(self, bake: Bake, hiding: Hiding) -> None:
        self._around = bake.scene.surround
        self._hiding = hiding
        around = self._around
        b, h = math.radians(around.sun_bearing), math.radians(around.sun_height)
        self._sun = np.array([-math.sin(b) * math.cos(h), math.sin(h), -math.cos(b) * math.cos(h)])
        self._low, self._high = brightness(around.sky_low), brightness(around.sky_high)
        self._ground = brightness(around.ground)
        self._paint = np.array(
            [brightness(one.look.coat if isinstance(one, Figure) else one.colour) for one in hiding.things]
        )

    def painted(self, bright: Any, normals: Floats, ways: Floats) -> Floats:
        """(n,) light of surfaces, of so much of white, that face (n, 3), looked at along unit ways (n, 3)."""
        sun = _SUN * np.maximum(normals @ self._sun, 0)
        up = 0.5 + 0.5 * normals[:, 1]
        sky = _SKY * (up * self._high + (1 - up) * self._ground)
        turned = np.maximum(-np.sum(normals * ways, axis=1), 0)
        fill = _SKY * self._around.fill * self._low * (0.4 + 0.6 * turned)
        return np.asarray(bright * (sun + sky + fill))

    def look(
        self, places: Floats, ways: Floats, when: Ints, without: str, before: Floats
    ) -> tuple[Floats, Floats, Ints]:
        """How bright it is, how far off, and what it is, along rays; a place in `Hiding.things`, FLOOR or SKY.

        Args:
            places: (n, 3) metres, where they begin; ways: (n, 3) of length one; when: (n,) which moments; without: the id of
                what does not count; before: (n,) metres from the camera to where they begin.
        """
        far, which = self._hiding.nearest(places, _FAR_M * ways[:, None], when, without)
        metres, what = _FAR_M * far[:, 0], which[:, 0].copy()
        with np.errstate(divide="ignore", invalid="ignore"):
            down = np.where(ways[:, 1] < -1e-6, -places[:, 1] / ways[:, 1], np.inf)
        floor = (down > 0) & (down < metres)
        metres, what = np.where(floor, down, metres), np.where(floor, FLOOR, what)
        bright = self._sky(ways)
        hit = places + np.where(np.isfinite(metres), metres, 0)[:, None] * ways
        for k in np.unique(what[what >= 0]):
            rows = what == k
            thing = self._hiding.things[k]
            normals = _faces(thing, hit[rows]) if isinstance(thing, Piece) else -ways[rows]
            bright[rows] = self.painted(self._paint[k], normals, ways[rows])
        if floor.any():
            bright[floor] = self._floor(ways[floor])
        deep = np.maximum(before + metres - _CLEAR_M, 0)
        lost = np.where(np.isfinite(metres), 1 - np.exp2(-deep / self._around.haze_m), 0)
        return bright + lost * (self._low - bright), metres, what

    def _sky(self, ways: Floats) -> Floats:
        sky = self._low + (self._high - self._low) * _smooth(ways[:, 1] / 0.42)
        sky += _SUN * 0.10 * np.maximum(ways @ self._sun, 0) ** 3
        return np.asarray(self._low + (sky - self._low) * _smooth((ways[:, 1] + 0.01) / 0.10))

    def _floor(self, ways: Floats) -> Floats:
        bright = self.painted(self._ground, np.tile([0.0, 1.0, 0.0], (len(ways), 1)), ways)
        if not self._around.water:
            return bright
        shine = _MIRRORS + _GLANCE * (1 + ways[:, 1]) ** 4
        return np.asarray(bright + shine * (self._sky(ways * [1.0, -1.0, 1.0]) - bright))


def _smooth(u: Floats) -> Floats:
    u = np.clip(u, 0, 1)
    return np.asarray(u * u * (3 - 2 * u))


def _faces(piece: Piece, hit: Floats) -> Floats:
    """(n, 3) which way the surface of a piece faces at places on it, (n, 3)."""
    turn = math.radians(piece.heading)
    dx, dy, dz = (hit - [piece.x, piece.base, piece.z]).T
    x = (dx * math.cos(turn) - dz * math.sin(turn)) / piece.width * 2
    z = (dx * math.sin(turn) + dz * math.cos(turn)) / piece.depth * 2
    top = (dy > 0.999 * piece.height) | (piece.kind == "ramp")
    along = np.abs(x) > np.abs(z)
    a, c = np.where(along, np.sign(x), 0), np.where(along, 0, np.sign(z))
    if piece.kind == "post":
        a, c = x / np.maximum(np.hypot(x, z), 1e-9), z / np.maximum(np.hypot(x, z), 1e-9)
    a, c = np.where(top, 0, a), np.where(top, 0, c)
    own = np.stack(
        [a * math.cos(turn) + c * math.sin(turn), top * 1.0, c * math.cos(turn) - a * math.sin(turn)], axis=1
    )
    return np.asarray(own)
