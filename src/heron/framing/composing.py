"""Where a camera must look, and stand, for people to sit at places of the frame, with its lens and its roll.

Places of the frame run from −1 to 1 across and up. A pose is x, y, z in metres, pan and tilt in degrees.
"""

import math
from collections.abc import Callable
from typing import Any

import numpy as np
from scipy.optimize import brentq, minimize_scalar

Floats = np.ndarray[Any, np.dtype[np.float64]]
Flags = np.ndarray[Any, np.dtype[np.bool_]]
#: Camera poses by one free number, (n,) to (n, 5); NaN where there is none.
Family = Callable[[Floats], Floats]
#: How far from somebody a camera may come to stand, metres; how much nearer than the other one of two may be.
_NEAREST_M, _FARTHEST_M, _RATIO = 0.15, 400.0, 12.0
#: So many poses of a family are looked at before the best is refined.
_STEPS = 400


def ray(at: tuple[float, float], half: Floats, roll: float = 0.0) -> Floats:
    """(3,) of length one: where a place of the frame is seen, as if the camera were not rolled; to the right, up and back.

    Args:
        half: (2,) tangents of half the field across and up; roll: degrees.
    """
    x, y = at[0] * half[0], at[1] * half[1]
    c, s = math.cos(math.radians(roll)), math.sin(math.radians(roll))
    v = np.array([c * x - s * y, s * x + c * y, -1.0])
    return np.asarray(v / np.linalg.norm(v))


def turns(v: Floats, ways: Floats) -> tuple[Floats, Floats]:
    """Pan and tilt, (n,) degrees, that turn a ray, (3,) or (n, 3), on to ways (n, 3) of length one; NaN where none do.

    The height of the way gives the tilt, its bearing the pan.
    """
    v = np.broadcast_to(v, ways.shape)
    reach = np.hypot(v[:, 1], v[:, 2])
    with np.errstate(invalid="ignore"):
        tilt = np.arcsin(ways[:, 1] / reach) - np.arctan2(v[:, 1], -v[:, 2])
    deep = v[:, 1] * np.sin(tilt) + v[:, 2] * np.cos(tilt)
    pan = np.arctan2(ways[:, 0], ways[:, 2]) - np.arctan2(v[:, 0], deep)
    return np.degrees(np.arctan2(np.sin(pan), np.cos(pan))), np.degrees(tilt)


def aimed(
    place: Floats, eyes: Floats, at: tuple[float, float], half: Floats, roll: float = 0.0
) -> tuple[float, float] | None:  # fmt: skip
    """Pan and tilt with which a camera sees a place at (x, y) of its frame; None where it cannot.

    Args:
        place, eyes: (3,) metres; half: (2,) tangents of half the field across and up.
    """
    way = eyes - place
    pan, tilt = turns(ray(at, half, roll), (way / max(float(np.linalg.norm(way)), 1e-9))[None])
    return None if math.isnan(tilt[0]) else (float(pan[0]), float(tilt[0]))


def swung(place: Floats, eyes: Floats, degrees: float) -> Floats:
    """(3,) metres: a place gone round an upright through the eyes, to the left as seen from there."""
    a = math.radians(degrees)
    x, y, z = place - eyes
    gone = np.array([x * math.cos(a) + z * math.sin(a), y, z * math.cos(a) - x * math.sin(a)])
    return np.asarray(eyes + gone)


def at_distances(point: Floats, at: tuple[float, float], to: Floats, half: Floats, roll: float) -> Family:
    """Cameras that see a point at a place of the frame, by the logarithm of how far off they are.

    Args:
        to: (3,) metres: they stand on the way from the point to there.
    """
    way = (to - point) / max(float(np.linalg.norm(to - point)), 1e-9)

    def poses(u: Floats) -> Floats:
        pan, tilt = turns(ray(at, half, roll), np.tile(-way, (len(u), 1)))
        return np.column_stack([point + np.exp(u)[:, None] * way, pan, tilt])

    return poses


def of_two(
    a: Floats, b: Floats, at_a: tuple[float, float], at_b: tuple[float, float], half: Floats, roll: float, back: bool = False
) -> Family:  # fmt: skip
    """Cameras that see two points at two places of the frame, by the logarithm of how much farther the second is.

    With the rays to both known, that ratio gives the triangle between the camera and the points; its side from point to point
    is turned on to theirs. The manifold of published research on toric spaces (from memory), with the roll taken out.

    Args:
        back: the other tilt, over the top: most of these look from upside down, and are none.
    """
    ray_a, ray_b = ray(at_a, half, roll), ray(at_b, half, roll)
    between = b - a
    long = float(np.linalg.norm(between))

    def poses(u: Floats) -> Floats:
        w = np.exp(u)[:, None] * ray_b - ray_a
        size = np.maximum(np.linalg.norm(w, axis=1), 1e-12)
        unit = w / size[:, None]
        up = between[1] / long
        reach = np.hypot(unit[:, 1], unit[:, 2])
        with np.errstate(invalid="ignore"):
            lift = np.arcsin(up / reach)
        tilt = (np.pi - lift if back else lift) - np.arctan2(unit[:, 1], -unit[:, 2])
        deep = unit[:, 1] * np.sin(tilt) + unit[:, 2] * np.cos(tilt)
        pan = np.arctan2(between[0], between[2]) - np.arctan2(unit[:, 0], deep)
        tilt = np.arctan2(np.sin(tilt), np.cos(tilt))
        tilt = np.where(np.abs(tilt) < np.radians(89.9), tilt, np.nan)
        # The ray to the first, turned: tilt about X, then pan about Y.
        y = ray_a[1] * np.cos(tilt) - ray_a[2] * np.sin(tilt)
        z = ray_a[1] * np.sin(tilt) + ray_a[2] * np.cos(tilt)
        way = np.stack(
            [ray_a[0] * np.cos(pan) + z * np.sin(pan), y, z * np.cos(pan) - ray_a[0] * np.sin(pan)], axis=1
        )
        place = a - (long / size)[:, None] * way
        pan = np.arctan2(np.sin(pan), np.cos(pan))
        return np.column_stack([place, np.degrees(pan), np.degrees(tilt)])

    return poses


def heights(poses: Floats, top: Floats, foot: Floats, half: Floats, roll: float) -> Floats:
    """(n,) how high something is in the frame from a foot to a top, (3,) each, as a share of its height; NaN where it is not ahead."""
    up = []
    p, t, r = np.radians(poses[:, 3]), np.radians(poses[:, 4]), math.radians(roll)
    for point in (top, foot):
        off = point - poses[:, :3]
        x = off[:, 0] * np.cos(p) - off[:, 2] * np.sin(p)
        z = off[:, 0] * np.sin(p) + off[:, 2] * np.cos(p)
        y, z = off[:, 1] * np.cos(t) + z * np.sin(t), z * np.cos(t) - off[:, 1] * np.sin(t)
        with np.errstate(invalid="ignore", divide="ignore"):
            up.append(np.where(-z > 1e-6, (y * math.cos(r) - x * math.sin(r)) / -z / half[1], np.nan))
    return np.asarray(np.abs(up[0] - up[1]) / 2)


def nearest(
    families: list[tuple[Family, bool]],
    to: Floats,
    free: Callable[[Floats], Flags],
    size: Callable[[Floats], Floats] | None,
) -> Floats | None:
    """(5,) of some families the pose nearest to a place, (3,), of those that are free; None where there is none.

    Args:
        families: each with whether its number is a ratio, not a distance.
        free: whether a camera may stand at places (n, 3).
        size: (n,) how much too large somebody is from some poses: only where that is nothing; None: wherever they stand.
    """
    best: tuple[float, Floats] | None = None
    for family, ratio in families:
        low, high = (
            (-math.log(_RATIO), math.log(_RATIO)) if ratio else (math.log(_NEAREST_M), math.log(_FARTHEST_M))
        )
        u = np.linspace(low, high, _STEPS)

        def far(v: float, family: Family = family) -> float:
            return float(np.linalg.norm(family(np.array([v]))[0, :3] - to))

        found = _met(family, u, size) if size else [_least(family, u, far, to, free)]
        for v in found:
            if v is None:
                continue
            pose = family(np.array([v]))
            if np.isfinite(pose).all() and free(pose[:, :3])[0] and (best is None or far(v) < best[0]):
                best = (far(v), pose[0])
    return None if best is None else best[1]


def _met(family: Family, u: Floats, size: Callable[[Floats], Floats]) -> list[float | None]:
    """Where somebody is as large as asked."""
    over = size(family(u))
    with np.errstate(invalid="ignore"):
        crosses = np.flatnonzero(over[1:] * over[:-1] <= 0)

    def at(v: float) -> float:
        return float(size(family(np.array([v])))[0])

    return [float(brentq(at, u[k], u[k + 1], xtol=1e-12)) for k in crosses]


def _least(
    family: Family, u: Floats, far: Callable[[float], float], to: Floats, free: Callable[[Floats], Flags]
) -> float | None:
    """Where it is nearest to a place, and free."""
    poses = family(u)
    apart = np.linalg.norm(poses[:, :3] - to, axis=1)
    ok: Flags = np.asarray(np.isfinite(poses).all(axis=1))
    ok[ok] &= free(poses[ok, :3])
    if not ok.any():
        return None
    k = int(np.argmin(np.where(ok, apart, np.inf)))
    low, high = u[max(k - 1, 0)], u[min(k + 1, len(u) - 1)]
    finer = minimize_scalar(
        lambda v: f if math.isfinite(f := far(v)) else 1e9,
        bounds=(low, high),
        method="bounded",
        options={"xatol": 1e-9},
    )
    pose = family(np.array([finer.x]))
    good = np.isfinite(pose).all() and free(pose[:, :3])[0] and finer.fun <= apart[k]
    return float(finer.x) if good else float(u[k])
