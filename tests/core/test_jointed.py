"""Movers with joints: a pony that walks and trots, a cart whose wheels roll; joints by scipy from what is drawn."""

import json

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from heron.bake import Bake
from heron.bake.movers import COLUMNS
from heron.commands import parse_commands, run
from heron.scene import empty_scene, find
from heron.stage.jointed import JOINTED
from heron.stage.mover import Mover
from heron.stage.reference import OnMover
from heron.stage.shapes import mover_shape

FPS = 24


def driven(shape, speed, frames=200):
    """A mover that goes along −Z at an even speed over the whole scene."""
    commands = [
        {"kind": "mover.add", "id": "m", "shape": shape, "pose": {"x": 0, "y": 0, "z": 0}},
        {"kind": "keys.set", "keys": [
            {"thing": "m", "channel": "z", "frame": 1001, "value": 0, "after": "straight"},
            {"thing": "m", "channel": "z", "frame": 1240, "value": -speed * 239 / FPS, "before": "straight"},
        ]},
    ]  # fmt: skip
    return run(empty_scene("Going"), parse_commands(json.dumps(commands)))[0]


def places(scene, shape):
    """By name, (n, 3) metres on the stage of each joint, and the turn of each."""
    rows = Bake(scene).samples(find(scene, "movers", "m")).values
    joints = JOINTED[shape].joints
    first = COLUMNS.index("joint0.x")
    turns = [Rotation.from_quat(rows[:, first + 4 * i : first + 4 * i + 4]) for i in range(len(joints))]
    where, poses = {}, []
    for i, joint in enumerate(joints):
        if joint.parent < 0:
            poses.append(Rotation.from_euler("YXZ", rows[:, 3:6], degrees=True))
            where[joint.name] = rows[:, :3]
            continue
        offset = np.tile(joint.offset, (len(rows), 1)).astype(float)
        if i == 1:
            offset[:, 1] -= rows[:, 6]
        above = joints[joint.parent].name
        where[joint.name] = where[above] + poses[joint.parent].apply(offset)
        poses.append(poses[joint.parent] * turns[i])
    return where, dict(zip([j.name for j in joints], poses, strict=True))


def hoofs(scene):
    """The ends of the legs, less a hoof's own height."""
    where, poses = places(scene, "pony")
    return {
        leg: where[f"shin_{leg}"] + poses[f"shin_{leg}"].apply([0, -0.415, 0]) - [0, 0.03, 0]
        for leg in ("hl", "fl", "hr", "fr")
    }


@pytest.mark.parametrize(("speed", "order", "share"), [(1.2, "hl fl hr fr", 0.62), (3.0, None, 0.42)])
def test_hoofs_fall_in_the_order_of_a_walk_or_in_pairs_at_a_trot_and_stand_while_down(speed, order, share):
    """Hildebrand (1965), from memory: the lateral sequence of a walk a quarter of a stride apart; diagonals at a trot."""
    feet = hoofs(driven("pony", speed))
    inside = slice(40, 200)
    falls, long = {}, None
    for leg, at in feet.items():
        assert at[:, 1].min() > -0.012
        down = at[:, 1] < 0.001
        assert down[inside].mean() == pytest.approx(share, abs=0.08)
        starts = np.flatnonzero(~down[:-1] & down[1:]) + 1
        starts = starts[(starts > 40) & (starts < 200)]
        long = np.diff(starts).mean()
        falls[leg] = starts
        for a in starts[:-1]:
            ends = a + int(np.argmin(down[a:]))
            assert ends - a < 4 or np.ptp(at[a + 1 : ends - 1, 2]) < 0.02
    since = {leg: ((starts[0] - falls["hl"][0]) / long) % 1 for leg, starts in falls.items()}
    if order:
        assert sorted(since, key=since.get) == order.split()
        assert [since[leg] for leg in order.split()] == pytest.approx([0, 0.25, 0.5, 0.75], abs=0.06)
    else:
        assert min(abs(since["fr"]), abs(since["fr"] - 1)) < 0.06 and since["fl"] == pytest.approx(
            since["hr"], abs=0.06
        )
        assert since["hr"] == pytest.approx(0.5, abs=0.06)


def test_a_pony_that_stands_has_all_hoofs_on_the_ground_and_is_looked_at_in_the_face():
    scene = driven("pony", 0.0)
    for at in hoofs(scene).values():
        np.testing.assert_allclose(at[:, 1], 0, atol=0.01)
    face = Bake(scene).place(OnMover(mover="m"), scene.frames.array())
    assert face[:, 1].min() > 1.3 and face[:, 2].max() < -0.5


@pytest.mark.parametrize("speed", [1.0, 4.0])
def test_wheels_roll_as_far_as_the_cart_goes(speed):
    _, poses = places(driven("cart", speed), "cart")
    # A point of the rim that touches the ground stands still: the angle is the way over the radius.
    rim = poses["axle"].apply([0, 1, 0])
    angle = np.unwrap(np.arctan2(-rim[:, 2], rim[:, 1]))
    assert angle[-1] - angle[0] == pytest.approx(speed * 239 / FPS / 0.48, rel=1e-6)


def unturned(shape):
    mesh = mover_shape(Mover(id="m", name="M", shape=shape))
    np.testing.assert_allclose(np.linalg.norm(mesh.normals, axis=1), 1, atol=1e-6)
    return mesh.points


def test_a_pony_is_as_high_as_a_pony_and_a_cart_stands_on_its_wheels():
    """A pony is at most 1.48 m at the withers (common practice); its back is where the neck begins."""
    pony = unturned("pony")
    back = pony[(np.abs(pony[:, 2]) < 0.2) & (np.abs(pony[:, 0]) < 0.1)]
    assert 1.0 < back[:, 1].max() < 1.48 and -0.08 < pony[:, 1].min() < 0  # its legs bend to stand
    assert 1.4 < np.ptp(pony[:, 2]) < 2.4 and np.ptp(pony[:, 0]) < 0.7
    np.testing.assert_allclose(pony[:, 0].max(), -pony[:, 0].min(), atol=0.01)
    cart = unturned("cart")
    assert cart[:, 1].min() == pytest.approx(0, abs=0.005)
    wheel = cart[np.abs(np.abs(cart[:, 0]) - 0.62) < 0.04]
    # Two wheels of 0.48 m, whose rims touch the ground.
    assert np.hypot(wheel[:, 1] - 0.48, wheel[:, 2] - 0.1).max() == pytest.approx(0.48, abs=0.005)
    assert np.ptp(cart[:, 0]) == pytest.approx(2 * 0.62 + 0.14, abs=0.03)
