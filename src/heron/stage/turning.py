"""Rotations from angles in degrees, many at once.

A thin set of quaternion operations over arrays: scipy's Rotation does the same and is what the
tests hold these against, but takes ten times as long over tens of thousands of frames.
"""

from typing import Any

import numpy as np
from scipy.spatial.transform import Rotation

Floats = np.ndarray[Any, np.dtype[np.float64]]


def by_component(size: int, *shape: int) -> Floats:
    """Room for (n, …, size) numbers in which each component over n lies in one piece: three times as quick to work on."""
    return np.empty((size, *shape[::-1])).T


def crossed(one: Floats, two: Floats) -> Floats:
    """(n, 3) cross products."""
    ax, ay, az = one[..., 0], one[..., 1], one[..., 2]
    bx, by, bz = two[..., 0], two[..., 1], two[..., 2]
    out = by_component(3, *np.broadcast(ax, bx).shape)
    out[..., 0], out[..., 1], out[..., 2] = ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx
    return out


def dotted(one: Floats, two: Floats) -> Floats:
    """(n,) dot products."""
    return np.asarray(one[..., 0] * two[..., 0] + one[..., 1] * two[..., 1] + one[..., 2] * two[..., 2])


def unit(vectors: Floats) -> Floats:
    """(n, 3) directions of vectors that are not zero."""
    return np.asarray(vectors / np.sqrt(dotted(vectors, vectors))[..., None])


class Turns:
    """Many rotations: `quat` is (..., 4) float64, x y z w, of length one."""

    __slots__ = ("quat",)

    def __init__(self, quat: Floats) -> None:
        self.quat = quat

    @classmethod
    def from_axes(cls, x: Floats, y: Floats, z: Floats) -> "Turns":
        """Where the three axes go: (n, 3) unit vectors at right angles, right-handed.

        Of the four ways to read a quaternion off a matrix the one with the largest divisor is taken
        (Shepperd 1978, from memory).
        """
        xx, yy, zz = x[..., 0], y[..., 1], z[..., 2]
        squares = [1 + xx - yy - zz, 1 - xx + yy - zz, 1 - xx - yy + zz, 1 + xx + yy + zz]
        a, b, c = y[..., 2] - z[..., 1], z[..., 0] - x[..., 2], x[..., 1] - y[..., 0]
        d, e, f = x[..., 1] + y[..., 0], z[..., 0] + x[..., 2], y[..., 2] + z[..., 1]
        rows = [(squares[0], d, e, a), (d, squares[1], f, b), (e, f, squares[2], c), (a, b, c, squares[3])]
        best = np.argmax(squares, axis=0)
        out = by_component(4, *xx.shape)
        for i in range(4):
            out[..., i] = np.choose(best, [row[i] for row in rows])
        return cls(out / (2 * np.sqrt(np.choose(best, squares)))[..., None])

    def as_quat(self) -> Floats:
        """(n, 4) float64, x y z w."""
        return self.quat

    def as_matrix(self) -> Floats:
        """(n, 3, 3) float64."""
        return np.asarray(Rotation.from_quat(self.quat).as_matrix())

    def inv(self) -> "Turns":
        """The opposite of each."""
        return Turns(self.quat * np.array([-1.0, -1.0, -1.0, 1.0]))

    def __mul__(self, other: "Turns") -> "Turns":
        """First `other`, then this."""
        a, b = self.quat, other.quat
        ax, ay, az, aw = a[..., 0], a[..., 1], a[..., 2], a[..., 3]
        bx, by, bz, bw = b[..., 0], b[..., 1], b[..., 2], b[..., 3]
        out = by_component(4, *np.broadcast(ax, bx).shape)
        out[..., 0] = aw * bx + ax * bw + ay * bz - az * by
        out[..., 1] = aw * by - ax * bz + ay * bw + az * bx
        out[..., 2] = aw * bz + ax * by - ay * bx + az * bw
        out[..., 3] = aw * bw - ax * bx - ay * by - az * bz
        return Turns(out)

    def apply(self, vectors: Any) -> Floats:
        """Vectors turned: one for each rotation, or one (3,) for all, giving (n, 3); or one for each of a row, (k, 3)."""
        v = np.asarray(vectors, dtype=np.float64)
        if v.ndim == 1 and np.count_nonzero(v) < 3:
            return self._apply_flat(v.tolist())
        if v.ndim == 2 and self.quat.ndim == 3:
            columns = [column if column.any() else 0.0 for column in v.T]
            if not all(isinstance(column, np.ndarray) for column in columns):
                return self._apply_flat(columns)
        q = self.quat
        x, y, z, w = q[..., 0], q[..., 1], q[..., 2], q[..., 3]
        vx, vy, vz = v[..., 0], v[..., 1], v[..., 2]
        # v + 2·w·(q × v) + 2·q × (q × v)
        cx, cy, cz = 2 * (y * vz - z * vy), 2 * (z * vx - x * vz), 2 * (x * vy - y * vx)
        out = by_component(3, *np.broadcast(x, vx).shape)
        out[..., 0] = vx + w * cx + y * cz - z * cy
        out[..., 1] = vy + w * cy + z * cx - x * cz
        out[..., 2] = vz + w * cz + x * cy - y * cx
        return out

    def _apply_flat(self, vector: list[Any]) -> Floats:
        """One vector turned, or one for each of a row, of which a component or two are zero, as most bones lie along an
        axis: a third of the work. A component that is not zero is a number, or (k,) of them.
        """
        q = self.quat
        xyz, w = [q[..., 0], q[..., 1], q[..., 2]], q[..., 3]
        out: list[Any] = [0.0, 0.0, 0.0]
        for k, length in enumerate(vector):
            if isinstance(length, np.ndarray) or length:
                i, j, twice = (k + 1) % 3, (k + 2) % 3, 2 * length
                a, b, c = xyz[k], xyz[i], xyz[j]
                out[k] = out[k] + (length - twice * (b * b + c * c))
                out[i] = out[i] + twice * (a * b + w * c)
                out[j] = out[j] + twice * (a * c - w * b)
        turned = by_component(3, *np.broadcast(w, *vector).shape)
        turned[..., 0], turned[..., 1], turned[..., 2] = out
        return turned


_AXES = {"X": 0, "Y": 1, "Z": 2}


def about(axis: str, degrees: np.ndarray[Any, Any]) -> Turns:
    """(n,) degrees about one axis, `X` `Y` or `Z`, right-handed."""
    half = np.radians(np.asarray(degrees, dtype=np.float64)) / 2
    quat = by_component(4, len(half))
    quat[:, :3] = 0.0
    quat[:, _AXES[axis]] = np.sin(half)
    quat[:, 3] = np.cos(half)
    return Turns(quat)


def pan_tilt_roll(pan: np.ndarray[Any, Any], tilt: np.ndarray[Any, Any], roll: np.ndarray[Any, Any]) -> Turns:
    """Degrees each, of one shape: pan about world up, then tilt about right, then roll about the axis."""
    half = [np.radians(np.asarray(v, dtype=np.float64)) / 2 for v in (pan, tilt, roll)]
    (sy, sx, sz), (cy, cx, cz) = [np.sin(h) for h in half], [np.cos(h) for h in half]
    quat = by_component(4, *np.broadcast(sy, sx, sz).shape)
    quat[..., 0] = cy * sx * cz + sy * cx * sz
    quat[..., 1] = sy * cx * cz - cy * sx * sz
    quat[..., 2] = cy * cx * sz - sy * sx * cz
    quat[..., 3] = cy * cx * cz + sy * sx * sz
    return Turns(quat)


def shortest(one: Floats, two: Floats) -> Turns:
    """The least turns that take some unit directions, (n, 3), to others; not for opposite ones."""
    quat = by_component(4, len(one))
    quat[:, :3] = crossed(one, two)
    quat[:, 3] = np.maximum(1.0 + dotted(one, two), 1e-6)
    return Turns(quat / np.linalg.norm(quat, axis=-1, keepdims=True))


def slerp(one: Floats, two: Floats, share: Floats) -> Floats:
    """(n, 4) a share (n,) of the way from one rotation to another, the shorter way round."""
    dot = np.sum(one * two, axis=-1)
    two = np.where(dot[:, None] < 0, -two, two)
    angle = np.arccos(np.clip(np.abs(dot), 0.0, 1.0))
    sin = np.sin(angle)
    near = sin < 1e-6
    safe = np.where(near, 1.0, sin)
    a = np.where(near, 1 - share, np.sin((1 - share) * angle) / safe)
    b = np.where(near, share, np.sin(share * angle) / safe)
    out = a[:, None] * one + b[:, None] * two
    return np.asarray(out / np.linalg.norm(out, axis=-1, keepdims=True))


def angles_of(quat: Floats) -> tuple[Floats, Floats, Floats]:
    """Pan, tilt and roll, (n,) degrees, unwrapped along the first axis, of whole turns (n, 4); or (n, k) of (n, k, 4)."""
    x, y, z, w = (quat[..., i] for i in range(4))
    # The axis a camera looks along, −Z, and its right and up, turned.
    ahead_x, ahead_y, ahead_z = -2 * (x * z + w * y), -2 * (y * z - w * x), -(1 - 2 * (x * x + y * y))
    pan = np.arctan2(-ahead_x, -ahead_z)
    tilt = np.arcsin(np.clip(ahead_y, -1.0, 1.0))
    right_y, up_y = 2 * (x * y + w * z), 1 - 2 * (x * x + z * z)
    roll = np.arctan2(right_y, up_y)
    return np.degrees(np.unwrap(pan, axis=0)), np.degrees(tilt), np.degrees(np.unwrap(roll, axis=0))
