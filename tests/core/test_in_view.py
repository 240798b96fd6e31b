"""What a line of sight meets, and what a view is of: a new camera is focused on it."""

import json

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from scipy.spatial import Delaunay
from scipy.spatial.transform import Rotation

from heron.bake import Bake, ResultCache
from heron.commands import parse_commands, run_one
from heron.demo import slack_tide
from heron.model import changed
from heron.scene import find
from heron.scene.focus import AtDistance
from heron.stage.piece import Piece
from heron.stage.rays import meets
from heron.stage.reference import AtPoint, OnFigure, OnMover, OnPiece

DEMO = slack_tide()
SOLID = {"id": "p", "name": "P", "x": 1.0, "z": -2.0, "base": 0.4, "width": 2.0, "depth": 1.2, "height": 1.5}


def hull(piece):
    """The solid as scipy has it: the convex hull of its corners, turned about world up."""
    w, d, h = piece.width / 2, piece.depth / 2, piece.height
    if piece.kind == "post":
        round_ = np.linspace(0, 2 * np.pi, 720, endpoint=False)
        points = [(w * np.cos(a), y, d * np.sin(a)) for a in round_ for y in (0.0, h)]
    elif piece.kind == "ramp":
        # It rises towards its own −Z.
        points = [(s * w, 0.0, t * d) for s in (-1, 1) for t in (-1, 1)] + [(s * w, h, -d) for s in (-1, 1)]
    else:
        points = [(s * w, y, t * d) for s in (-1, 1) for t in (-1, 1) for y in (0.0, h)]
    turned = Rotation.from_euler("Y", piece.heading, degrees=True).apply(np.array(points))
    return Delaunay(turned + np.array([piece.x, piece.base, piece.z]))


metres = st.floats(-5, 5)


@settings(max_examples=30, deadline=None)
@given(
    kind=st.sampled_from(["box", "post", "ramp"]),
    heading=st.floats(-180, 180),
    origin=st.tuples(metres, st.floats(-1, 4), metres),
    to=st.tuples(st.floats(0, 2), st.floats(0.3, 2), st.floats(-3, -1)),
)
def test_a_ray_enters_a_solid_where_its_hull_begins(kind, heading, origin, to):
    piece = Piece(kind=kind, heading=heading, **SOLID)
    solid = hull(piece)
    start, way = np.array(origin), np.array(to) - origin
    assume(np.linalg.norm(way) > 0.5)
    along = np.linspace(0, 3, 6001)
    inside = solid.find_simplex(start + along[:, None] * way) >= 0
    assume(not inside[0])
    found = meets(piece, start, way)
    if inside.any():
        # Not a mere touch of an edge, nor along a face: it goes through what lies within by a thousandth too.
        middle = solid.points.mean(axis=0)
        within = solid.find_simplex(middle + 1.001 * (start + along[:, None] * way - middle)) >= 0
        assume(inside.sum() > 8 and within.any())
        assert found == pytest.approx(along[inside.argmax()], abs=2e-3)
    elif found is not None:
        # Beyond what was looked at, or the slightest touch of an edge.
        assert found > 3 or solid.find_simplex(start + (found + 1e-3) * way) < 0


def test_a_ray_that_runs_along_a_face_or_begins_inside():
    box = Piece(kind="box", heading=0, **SOLID)
    post = Piece(kind="post", heading=0, **SOLID)
    for piece in (box, post):
        assert meets(piece, np.array([1.0, 9, -2]), np.array([0.0, -1, 0])) == pytest.approx(9 - 1.9)
        assert meets(piece, np.array([9.0, 9, -2]), np.array([0.0, -1, 0])) is None
        assert meets(piece, np.array([1.0, 1, -2]), np.array([0.0, 0, 1])) is None
        assert meets(piece, np.array([1.0, 1, 9]), np.array([0.0, 0, 1])) is None


def focus_of(scene, **pose):
    command = {"kind": "camera.add", "id": "new", "pose": pose, "frame": 1200}
    after, _ = run_one(scene, parse_commands(json.dumps(command))[0])
    camera = find(after, "cameras", "new")
    return camera.focus.on, Bake(after, ResultCache()).samples(camera).at(1200)


def test_a_new_camera_is_focused_on_the_figure_nearest_the_middle_of_its_view():
    frame = np.array([1200])
    for name in ("fig-odile", "fig-bram"):
        eyes = Bake(DEMO, ResultCache()).place(OnFigure(figure=name, joint="eyes"), frame)[0]
        on, row = focus_of(DEMO, x=eyes[0] + 3, y=eyes[1], z=eyes[2], pan=90)
        assert on == OnFigure(figure=name, joint="eyes")
        assert 1 / row["focus_per_m"] == pytest.approx(3, abs=1e-6)


def test_without_figures_it_is_the_mover_in_the_middle_else_what_the_axis_meets():
    bare = changed(DEMO, figures=(), shots=(), cameras=())
    bake = Bake(bare, ResultCache())
    boat = bake.place(OnMover(mover="mov-boat"), np.array([1200]))[0]
    on, _ = focus_of(bare, x=boat[0], y=boat[1] + 0.3, z=boat[2] + 4)
    assert on == OnMover(mover="mov-boat")
    # Aside by more than a third of the frame it is not what is framed.
    on, _ = focus_of(bare, x=boat[0] - 1.5, y=boat[1] + 0.3, z=boat[2] + 4)
    assert not isinstance(on, OnMover)
    empty = changed(bare, movers=(), pieces=())
    assert focus_of(empty, x=0, y=1, z=0)[0] == AtDistance(metres=None)
    on, row = focus_of(empty, x=2, y=1.5, z=0, tilt=-30, pan=-90)
    # 1.5 m up and 30° down: 3 m along the axis, 1.5·√3 m along the floor.
    assert isinstance(on, AtPoint) and (on.x, on.z) == pytest.approx((2 + 1.5 * 3**0.5, 0), abs=1e-3)
    assert 1 / row["focus_per_m"] == pytest.approx(3, abs=1e-3)
    box = Piece(kind="box", heading=0, **SOLID)
    behind = changed(box, id="q", name="Q", z=-6.0)
    on, row = focus_of(changed(empty, pieces=(behind, box)), x=1, y=1, z=2)
    assert isinstance(on, OnPiece) and on.piece == "p"
    assert 1 / row["focus_per_m"] == pytest.approx(2 + 2 - 0.6, abs=1e-3)


def test_film_back_and_first_lens_are_chosen_once_for_every_new_camera():
    back = {"name": "Custom", "width_mm": 20.0, "height_mm": 15.0}
    command = {"kind": "scene.set", "first_back": back, "first_focal": 50, "first_squeeze": 2}
    scene, said = run_one(DEMO, parse_commands(json.dumps(command))[0])
    assert "first lens to 50 mm" in said
    command = {"kind": "camera.add", "id": "new", "pose": {"x": 0, "y": 1, "z": 9}}
    camera = find(run_one(scene, parse_commands(json.dumps(command))[0])[0], "cameras", "new")
    assert (camera.lens.back.width_mm, camera.lens.squeeze, camera.focal.rest) == (20.0, 2.0, 50.0)
    assert camera.mounted == "lens-50" and scene.first_lens.on.gate == DEMO.first_lens.on.gate
