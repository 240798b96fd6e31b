"""Coats and skirts go with the legs: skinned by scipy as a glTF reader does it."""

import numpy as np
import pytest
from acting import frames, performed
from scipy.spatial.transform import Rotation

from heron.stage.acts.body import Crouch, Kneel, Run, Sit
from heron.stage.body import INDEX
from heron.stage.figure import Figure, Look
from heron.stage.piece import Piece
from heron.stage.shapes.lay_figure import lay_figure
from heron.stage.skeleton import REST


def cloth(done, row, garment, stature):
    """Corners (t, 3, 3) of the triangles of a garment on a row of a performance."""
    mesh = lay_figure(Figure(id="p", name="P", stature=stature, look=Look(garment=garment)))
    of = np.flatnonzero(mesh.shares.sum(axis=1) > 0)
    mine = mesh.triangles[np.isin(mesh.triangles, of).all(axis=1)]

    def by(joints):
        turn = Rotation.from_quat(done.poses[row, joints])
        return turn.apply(mesh.points - REST[joints] * stature) + done.places[row, joints]

    least = np.minimum(mesh.joints, len(REST) - 1)
    points = by(least) * (1 - mesh.shares.sum(axis=1, keepdims=True))
    for k in (0, 1):
        points = points + mesh.shares[:, k : k + 1] * by(np.minimum(mesh.others[:, k], len(REST) - 1))
    return points[mine]


def over(triangles, place):
    """How far above a place a surface is, metres; −1 where it is not."""
    a, b, c = (triangles[:, k] - place for k in range(3))

    def cross(one, two):
        return one[:, 0] * two[:, 2] - one[:, 2] * two[:, 0]

    area = cross(b - a, c - a)
    area = np.where(area == 0, np.inf, area)
    u, v = cross(b, c) / area, cross(c, a) / area
    high = u * a[:, 1] + v * b[:, 1] + (1 - u - v) * c[:, 1]
    return float(np.max(np.where((u >= 0) & (v >= 0) & (u + v <= 1), high, -1.0)))


@pytest.mark.parametrize("stature", [1.25, 1.7, 2.0])
@pytest.mark.parametrize("garment", ["skirt", "coat"])
def test_a_bent_thigh_stays_under_the_cloth(stature, garment):
    """Straight up from the middle of a thigh there is cloth, farther up than the thigh is thick: nothing comes through."""
    seat = Piece(id="s", name="S", kind="box", x=0, z=0.4, width=0.5, depth=0.5, height=0.26 * stature)
    span, far = frames(1001, 1060), -6 * stature / 1.7
    acts = [
        (Sit(id="a", frames=span, on="s"), 85),
        (Crouch(id="a", frames=span), 30),
        (Kneel(id="a", frames=span), 30),
        *((Run(id="a", frames=frames(1001, 1034), points=((0, far),)), row) for row in range(12, 24)),
    ]
    # Statures down the thigh from the hip: from before the belly to the hem.
    places, looked = ((0.11, 0.17, 0.22) if garment == "skirt" else (0.105, 0.115)), 0
    for act, row in acts:
        done = performed(act, stature=stature, pieces=[seat], last=1100)
        now = cloth(done, row, garment, stature)
        for side in "rl":
            hip, knee = (done.places[row, INDEX[f"{j}_{side}"]] for j in ("hip", "knee"))
            thigh = (knee - hip) / np.linalg.norm(knee - hip)
            # A thigh that hangs has its cloth beside it, not above.
            if thigh[1] < -0.6:
                continue
            for down in places:
                thick = 0.033 * stature / np.hypot(thigh[0], thigh[2])
                above = over(now, hip + thigh * down * stature)
                assert above > thick, (act.kind, row, side, down, above, thick)
                looked += 1
    assert looked >= 12


@pytest.mark.parametrize("garment", ["plain", "coat", "skirt"])
@pytest.mark.parametrize("build", ["slight", "middling", "broad"])
def test_whatever_somebody_wears_is_on_the_body(garment, build):
    """A body with its arms hanging is no wider than a third of its height, and a hat adds a few centimetres (common practice)."""
    look = Look(garment=garment, build=build, headwear="cap")
    points = lay_figure(Figure(id="p", name="P", stature=1.7, look=look)).points / 1.7
    assert np.abs(points[:, 0]).max() < 0.17 and np.abs(points[:, 2]).max() < 0.16
    assert -0.004 < points[:, 1].min() < 0.005 and 1.0 <= points[:, 1].max() < 1.04
    # A belt or a hem goes all round: it is as wide on both sides.
    np.testing.assert_allclose(points[:, 0].max(), -points[:, 0].min(), atol=0.002)
