"""Rotations over arrays against scipy's Rotation."""

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from heron.stage.turning import Turns, about, crossed, pan_tilt_roll, shortest, slerp

RNG = np.random.default_rng(5)
N = 400
ANGLES = RNG.uniform(-720, 720, (N, 3))
VECTORS = RNG.normal(size=(N, 3))


def scipys(angles):
    return Rotation.from_euler("YXZ", angles, degrees=True)


def test_pan_tilt_roll_is_intrinsic_yxz():
    ours = pan_tilt_roll(*ANGLES.T)
    np.testing.assert_allclose(ours.apply(VECTORS), scipys(ANGLES).apply(VECTORS), atol=1e-12)
    np.testing.assert_allclose(ours.as_matrix(), scipys(ANGLES).as_matrix(), atol=1e-12)
    np.testing.assert_allclose(np.linalg.norm(ours.as_quat(), axis=1), 1, atol=1e-12)


@pytest.mark.parametrize("axis", ["X", "Y", "Z"])
def test_about_one_axis(axis):
    ours = about(axis, ANGLES[:, 0]).apply(VECTORS)
    theirs = Rotation.from_euler(axis, ANGLES[:, :1], degrees=True).apply(VECTORS)
    np.testing.assert_allclose(ours, theirs, atol=1e-12)


def test_products_and_opposites():
    a, b = pan_tilt_roll(*ANGLES.T), pan_tilt_roll(*RNG.permutation(ANGLES).T)
    theirs = Rotation.from_quat(a.as_quat()) * Rotation.from_quat(b.as_quat())
    np.testing.assert_allclose((a * b).apply(VECTORS), theirs.apply(VECTORS), atol=1e-12)
    np.testing.assert_allclose(a.inv().apply(a.apply(VECTORS)), VECTORS, atol=1e-12)


def test_one_vector_for_all():
    ours = pan_tilt_roll(*ANGLES.T)
    np.testing.assert_allclose(ours.apply([0.0, 0.0, -1.0]), scipys(ANGLES).apply([0, 0, -1]), atol=1e-12)


def test_turns_from_axes_are_scipys_from_matrices():
    """Half turns about each axis too, where one way of reading a quaternion off a matrix divides by zero."""
    turns = Rotation.concatenate(
        [Rotation.random(200, random_state=3), *(Rotation.from_rotvec(np.pi * v) for v in np.eye(3)[:, None])]
    )
    matrix = turns.as_matrix()
    found = Rotation.from_quat(Turns.from_axes(matrix[..., 0], matrix[..., 1], matrix[..., 2]).quat)
    np.testing.assert_allclose((found.inv() * turns).magnitude(), 0.0, atol=1e-7)
    a, b = matrix[..., 0], matrix[..., 1]
    np.testing.assert_allclose(crossed(a, b), np.cross(a, b), atol=1e-15)


def test_the_shortest_turn_is_scipys():
    rng = np.random.default_rng(5)
    one, two = (v / np.linalg.norm(v, axis=-1, keepdims=True) for v in rng.normal(size=(2, 50, 3)))
    found = shortest(one, two)
    np.testing.assert_allclose(found.apply(one), two, atol=1e-12)
    angle = Rotation.from_quat(found.quat).magnitude()
    np.testing.assert_allclose(angle, np.arccos(np.sum(one * two, axis=-1)), atol=1e-9)
    ends = [Rotation.random(50, random_state=seed) for seed in (1, 2)]
    half = Rotation.from_quat(slerp(ends[0].as_quat(), ends[1].as_quat(), np.full(50, 0.5)))
    np.testing.assert_allclose(*((half.inv() * end).magnitude() for end in ends), atol=1e-9)
