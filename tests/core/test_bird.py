"""The heron: it holds together, stands on its perch, prepares to fly, and beats as herons do."""

import numpy as np
import pytest
from khronos import assert_valid
from scipy.spatial.transform import Rotation

from heron.bake import Bake, ResultCache
from heron.bake.movers import COLUMNS
from heron.demo import slack_tide
from heron.formats.gltf import write_body, write_mover
from heron.scene import find
from heron.stage.bird import BIRD, BIRD_INDEX
from heron.stage.bird.joints import BIRD_OFFSETS
from heron.stage.body import INDEX
from heron.stage.reference import OnMover
from heron.stage.shapes import lay_figure, mover_shape, unit_piece
from heron.stage.skeleton import REST

DEMO = slack_tide()
HERON = find(DEMO, "movers", "mov-heron")
#: It stands until 1284 and is away by 1294.
STANDS, GONE = slice(0, 250), slice(1300 - 1001, 1318 - 1001)


def carried():
    """Each joint's place and turn on the stage, by scipy, (n, J, 3) and a Rotation for each joint."""
    rows = Bake(DEMO, ResultCache()).samples(HERON).values
    first = COLUMNS.index("joint0.x")
    turns = rows[:, first : first + 4 * len(BIRD)].reshape(len(rows), len(BIRD), 4)
    places, poses = np.empty((len(rows), len(BIRD), 3)), []
    for i, joint in enumerate(BIRD):
        if joint.parent < 0:
            poses.append(Rotation.from_euler("YXZ", rows[:, [3, 4, 5]], degrees=True))
            places[:, i] = rows[:, :3]
            continue
        offset = np.tile(BIRD_OFFSETS[i], (len(rows), 1))
        if joint.name == "body":
            offset[:, 1] -= rows[:, COLUMNS.index("sink")]
        places[:, i] = places[:, joint.parent] + poses[joint.parent].apply(offset)
        poses.append(poses[joint.parent] * Rotation.from_quat(turns[:, i]))
    return places, poses


PLACES, POSES = carried()
HERON_PLACE = PLACES[:, 0]


def at(name):
    return PLACES[:, BIRD_INDEX[name]]


def test_it_stands_on_its_perch_and_its_feet_stay_there_while_it_crouches():
    for side in "rl":
        feet = at(f"toes_{side}")[:284]
        assert np.abs(feet[:, 1] - 1.55).max() < 0.05
        assert np.linalg.norm(feet - feet[0], axis=-1).max() < 0.08
    # About 1 m tall with its neck up (grey heron, handbook, from memory: 0.9 to 1 m).
    assert at("head")[STANDS, 1].mean() - 1.55 == pytest.approx(1.0, abs=0.12)


def test_it_prepares_before_it_goes():
    """Common practice: an action is prepared; it crouches, then the wings open, then it leaves."""
    sunk = at("body")[:, 1] - HERON_PLACE[:, 1]
    lowest = int(sunk[:295].argmin()) + 1001
    assert 1274 <= lowest <= 1288
    span = np.linalg.norm(at("tip_r") - at("tip_l"), axis=-1)
    assert span[STANDS].max() < 0.45
    opens = int(np.flatnonzero(span > 0.55)[0]) + 1001
    leaves = int(np.flatnonzero(HERON_PLACE[:, 1] > 1.55 + 0.05)[0]) + 1001
    assert lowest - 12 < opens < leaves + 2


def test_in_flight_its_neck_is_folded_and_its_legs_trail():
    way = POSES[0].apply([0, 0, -1])
    for name, share in (("toes_r", -0.35), ("toes_l", -0.35)):
        ahead = np.sum((at(name) - at("body")) * way, axis=-1)
        assert ahead[GONE].max() < share
    folded = np.linalg.norm(at("head") - at("neck1"), axis=-1)
    assert folded[GONE].max() < 0.62 * folded[STANDS].mean()


def test_it_beats_as_often_as_herons_do():
    """Pennycuick (2001), from memory: a grey heron beats about 2.5 times a second."""
    span = POSES[BIRD_INDEX["wing_r"]].apply([1, 0, 0])[:, 1]
    flight = span[1292 - 1001 :]
    tops = np.flatnonzero((flight[1:-1] > flight[:-2]) & (flight[1:-1] >= flight[2:]) & (flight[1:-1] > 0.2))
    assert np.diff(tops).mean() / 24 == pytest.approx(1 / 2.5, abs=0.06)
    assert np.ptp(flight) > 0.6


def test_nothing_of_it_jumps():
    for i, joint in enumerate(BIRD):
        step = (POSES[i][:-1].inv() * POSES[i][1:]).magnitude()
        assert np.degrees(step).max() < 60, joint.name


def test_what_is_focused_on_it_is_its_head():
    frames = np.array([1100, 1200, 1310])
    there = Bake(DEMO, ResultCache()).place(OnMover(mover="mov-heron"), frames)
    assert np.linalg.norm(there - at("head")[frames - 1001], axis=-1).max() < 0.08


def test_its_shape_and_a_figures_are_valid_gltf():
    """The Khronos validator finds no error in a skin with cloth that goes with two thighs, nor in a bird's."""
    assert_valid(write_mover(HERON), write_body(DEMO.figures[0]))


def test_shapes_are_whole():
    for mesh in (
        mover_shape(HERON),
        lay_figure(DEMO.figures[0]),
        unit_piece("reeds"),
        unit_piece("backdrop", "trees"),
    ):
        assert np.isfinite(mesh.points).all() and np.isfinite(mesh.normals).all()
        assert mesh.triangles.min() >= 0 and mesh.triangles.max() < len(mesh.points)
        assert np.linalg.norm(mesh.normals, axis=-1) == pytest.approx(1, abs=1e-6)
        assert mesh.colours.min() >= 0 and mesh.colours.max() <= 1
    skirt = lay_figure(DEMO.figures[0])
    assert skirt.shares.min() >= 0 and skirt.shares.sum(axis=1).max() <= 1
    # Many blades in one draw, within the unit cube but for what bends over.
    reeds = unit_piece("reeds")
    assert len(reeds.triangles) > 500 and np.abs(reeds.points[:, [0, 2]]).max() < 0.75


def test_cloth_covers_the_thighs_that_move_under_it():
    """The skirt's points go with both thighs: however she strides, a knee stays inside the hem's ring seen from above."""
    figure = DEMO.figures[0]
    mesh = lay_figure(figure)
    done = Bake(DEMO, ResultCache()).performance(figure)
    cloth = (mesh.shares.sum(axis=1) > 0.5) & (mesh.joints == INDEX["pelvis"])
    rest = REST * figure.stature
    for frame in range(1040, 1140, 7):
        i = frame - 1001
        moved = []
        for joint, share in (
            (mesh.joints, 1 - mesh.shares.sum(axis=1)), (mesh.others[:, 0], mesh.shares[:, 0]), (mesh.others[:, 1], mesh.shares[:, 1]),
        ):  # fmt: skip
            turn = Rotation.from_quat(done.poses[i][joint[cloth]])
            place = done.places[i][joint[cloth]] + turn.apply(mesh.points[cloth] - rest[joint[cloth]])
            moved.append(share[cloth][:, None] * place)
        points = sum(moved)
        root = Rotation.from_quat(done.poses[i, 0]).inv()
        own = root.apply(points - done.root[i])
        for side in "rl":
            hip, knee = done.places[i, INDEX[f"hip_{side}"]], done.places[i, INDEX[f"knee_{side}"]]
            half = root.apply((hip + knee) / 2 - done.root[i])
            level = own[np.abs(own[:, 1] - half[1]) < 0.06]
            assert level[:, 2].min() < half[2] < level[:, 2].max(), (frame, side)
