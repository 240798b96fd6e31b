"""Coats and skirts go with the legs: skinned by scipy as a glTF reader does it."""

import numpy as np
import pytest
from acting import frames, performed
from scipy.spatial.transform import Rotation

from heron.stage.acts.body import Crouch, Kneel, Run, Sit, Walk
from heron.stage.body import INDEX
from heron.stage.figure import Figure, Look
from heron.stage.piece import Piece
from heron.stage.shapes.lay_figure import lay_figure
from heron.stage.skeleton import REST


def cloth(done, row, look, stature):
    """Corners (t, 3, 3) of the triangles of a garment on a row of a performance."""
    mesh = lay_figure(Figure(id="p", name="P", stature=stature, look=look))
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


def beyond(triangles, place, way):
    """How far along a way from a place the outermost of a surface is, metres; −1 where it is not met."""
    a, one, two = triangles[:, 0], triangles[:, 1] - triangles[:, 0], triangles[:, 2] - triangles[:, 0]
    h = np.cross(way, two)
    det = np.sum(one * h, axis=1)
    det = np.where(np.abs(det) < 1e-12, np.inf, det)
    off = place - a
    u = np.sum(off * h, axis=1) / det
    q = np.cross(off, one)
    v = q @ way / det
    far = np.sum(two * q, axis=1) / det
    return float(np.max(np.where((u >= 0) & (v >= 0) & (u + v <= 1) & (far > 0), far, -1.0)))


@pytest.mark.parametrize(
    ("stature", "build"), [(1.25, "middling"), (1.7, "slight"), (1.7, "broad"), (2.0, "middling")]
)
@pytest.mark.parametrize("garment", ["skirt", "coat"])
def test_a_thigh_stays_under_the_cloth(stature, build, garment):
    """From the middle of a thigh ahead and to its outer side there is cloth, farther off than the thigh is thick (0.033 to
    0.05 statures where it was measured: Drillis and Contini, from memory).
    """
    seat = Piece(id="s", name="S", kind="box", x=0, z=0.4, width=0.5, depth=0.5, height=0.26 * stature)
    span, far = frames(1001, 1060), -6 * stature / 1.7
    run = Run(id="a", frames=frames(1001, 1034), points=((0, far),))
    walk = Walk(id="a", frames=frames(1001, 1072), points=((0, far * 0.6),))
    acts = [
        (Sit(id="a", frames=span, on="s"), (85,)),
        (Crouch(id="a", frames=span), (30,)),
        (Kneel(id="a", frames=span), (30,)),
        (run, range(12, 24, 2)),
        (walk, range(24, 48, 5)),
    ]
    # Statures down the thigh from the hip, to the hem; bent far, what is near the hip lies in the fold at the belly.
    places = (0.045, 0.11, 0.17, 0.22) if garment == "skirt" else (0.045, 0.105, 0.115)
    looked = 0
    for act, rows in acts:
        done = performed(act, stature=stature, pieces=[seat], last=1100)
        for row in rows:
            now = cloth(done, row, Look(garment=garment, build=build), stature)
            for side, sign in (("r", 1), ("l", -1)):
                hip, knee = (done.places[row, INDEX[f"{j}_{side}"]] for j in ("hip", "knee"))
                thigh = Rotation.from_quat(done.poses[row, INDEX[f"hip_{side}"]])
                bent = (knee - hip)[1] > -0.85 * np.linalg.norm(knee - hip)
                for down in places[bool(bent) :]:
                    at = hip + (knee - hip) / np.linalg.norm(knee - hip) * down * stature
                    for outwards in (0, 40, 80):
                        turn = np.radians(outwards)
                        way = thigh.apply([sign * np.sin(turn), 0, -np.cos(turn)])
                        # As thick as it is turned there: thickest a third of the way down.
                        girth = {"slight": 0.9, "middling": 1.0, "broad": 1.16}[build]
                        thick = (0.047 if down < 0.12 else 0.036) * girth * stature
                        found = beyond(now, at, way)
                        assert found > thick, (act.kind, row, side, down, outwards, found, thick)
                        looked += 1
    assert looked > 200


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
