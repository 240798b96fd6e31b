"""Set pieces: sized by a corner, pointed at, and the band a camera keeps sharp across the plan."""

import json

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from heron.bake import Bake, ResultCache
from heron.commands import parse_commands, run, run_one
from heron.curves import Channel
from heron.demo import slack_tide
from heron.errors import NotFound
from heron.model import changed
from heron.scene import find
from heron.stage.piece import place_on
from heron.stage.reference import AtPoint, OnPiece

DEMO = slack_tide()
BOX = {
    "kind": "piece.add", "id": "set-box", "shape": "box",
    "x": 2, "z": -3, "base": 0.5, "heading": 30, "width": 2, "depth": 1, "height": 1.5,
}  # fmt: skip


def one(scene, **command):
    return run_one(scene, parse_commands(json.dumps(command))[0])[0]


WITH_BOX = run(DEMO, parse_commands(json.dumps([BOX])))[0]


def corner(piece, across, along):
    """A corner of its footprint, turned by scipy about world up."""
    out = Rotation.from_euler("Y", piece.heading, degrees=True).apply(
        [across * piece.width / 2, 0, along * piece.depth / 2]
    )
    return piece.x + out[0], piece.z + out[2]


@pytest.mark.parametrize("which", [(-1, -1), (1, -1), (1, 1), (-1, 1)])
def test_a_dragged_corner_goes_where_the_hand_is_and_the_opposite_one_stays(which):
    was = find(WITH_BOX, "pieces", "set-box")
    away = np.array(corner(was, *which)) - corner(was, -which[0], -which[1])
    to = np.array(corner(was, -which[0], -which[1])) + 1.7 * away
    now = find(
        one(WITH_BOX, kind="piece.size", piece="set-box", corner=which, to=list(to)), "pieces", "set-box"
    )
    # Kept to the millimetre.
    assert corner(now, *which) == pytest.approx(to, abs=2e-3)
    assert corner(now, -which[0], -which[1]) == pytest.approx(corner(was, -which[0], -which[1]), abs=2e-3)
    assert (now.width, now.depth) == pytest.approx((3.4, 1.7), abs=2e-3)
    assert (now.base, now.height, now.heading) == (was.base, was.height, was.heading)


def test_a_corner_dragged_onto_the_opposite_one_leaves_a_thin_piece():
    was = find(WITH_BOX, "pieces", "set-box")
    there = list(corner(was, 1, 1))
    now = find(
        one(WITH_BOX, kind="piece.size", piece="set-box", corner=[-1, -1], to=there), "pieces", "set-box"
    )
    assert (now.width, now.depth) == (0.05, 0.05)
    assert corner(now, 1, 1) == pytest.approx(there, abs=2e-3)


@pytest.mark.parametrize("kind", ["focus.set", "focus.rack"])
def test_what_is_pointed_at_on_a_piece_is_focused_where_it_was_pointed_at(kind):
    """And stays on the same spot of it when the piece is moved and turned."""
    box = find(WITH_BOX, "pieces", "set-box")
    there = place_on(box, 0.2, 0.75, -0.5)
    at = dict(zip("xyz", there, strict=True))
    scene = one(
        WITH_BOX, kind=kind, camera="cam-a", frame=1100, on={"kind": "piece_at", "piece": "set-box", **at}
    )
    focus = find(scene, "cameras", "cam-a").focus
    on = focus.in_force(1100)
    assert isinstance(on, OnPiece)
    frame = np.array([1100])
    assert Bake(scene, ResultCache()).place(on, frame)[0] == pytest.approx(there, abs=1e-3)
    moved = one(scene, kind="things.move", ids=["set-box"], dx=1, dy=0.5, dz=-2, turn=90)
    # A quarter turn to the left about the middle of its foot takes (x, z) to (z, −x).
    dx, dz = there[0] - box.x, there[2] - box.z
    expected = [box.x + 1 + dz, there[1] + 0.5, box.z - 2 - dx]
    assert Bake(moved, ResultCache()).place(on, frame)[0] == pytest.approx(expected, abs=1e-3)


def test_pointing_at_a_piece_on_the_plan_means_its_top_and_beside_it_means_its_edge():
    on = {"kind": "piece_at", "piece": "set-box", "x": 2, "z": -3}
    focus = find(one(WITH_BOX, kind="focus.set", camera="cam-a", on=on), "cameras", "cam-a").focus
    assert focus.on == OnPiece(piece="set-box", across=0.0, up=1.0, along=0.0)
    on |= {"x": 90, "y": -4}
    focus = find(one(WITH_BOX, kind="focus.set", camera="cam-a", on=on), "cameras", "cam-a").focus
    assert abs(focus.on.across) == 0.5 and focus.on.up == 0.0
    with pytest.raises(NotFound, match="piece"):
        one(WITH_BOX, kind="focus.set", camera="cam-a", on={**on, "piece": "set-none"})


@pytest.mark.parametrize("tilt", [0.0, -40.0, 65.0, -90.0])
def test_the_band_on_the_plan_is_where_the_axis_passes_what_is_sharp(tilt):
    camera = changed(
        DEMO.cameras[0],
        pan=Channel(rest=25.0), tilt=Channel(rest=tilt), roll=Channel(), aperture=Channel(rest=4.0),
        focus=changed(DEMO.cameras[0].focus, on=AtPoint(x=3, y=1, z=-4), marks=()),
    )  # fmt: skip
    at = Bake(DEMO, ResultCache()).samples(camera).at(1001)
    axis = Rotation.from_euler("YX", [25.0, tilt], degrees=True).apply([0, 0, -1])
    for plane, band in (("sharp_near_per_m", "band_near_per_m"), ("sharp_far_per_m", "band_far_per_m")):
        along_floor = np.hypot(axis[0], axis[2]) / at[plane]
        assert 1 / at[band] == pytest.approx(along_floor, rel=1e-9, abs=1e-4)


def pieces(scene):
    return {p.id: p for p in scene.pieces}


BARE = changed(DEMO, pieces=(), shots=(), cameras=(), figures=(), movers=())
STEP = {
    "kind": "piece.add",
    "id": "set-step",
    "shape": "platform",
    "x": 0,
    "z": 0,
    "width": 4,
    "depth": 2,
    "height": 0.4,
}
CRATE = {
    "kind": "piece.add",
    "id": "set-crate",
    "shape": "box",
    "x": 5,
    "z": 0,
    "width": 1,
    "depth": 1,
    "height": 1,
}
LID = {
    "kind": "piece.add",
    "id": "set-lid",
    "shape": "box",
    "x": 5,
    "z": 0,
    "base": 1,
    "width": 1,
    "depth": 1,
    "height": 0.2,
}
YARD = run(BARE, parse_commands(json.dumps([STEP, CRATE, LID])))[0]


@pytest.mark.parametrize(
    ("shape", "size"),
    [
        ("post", (0.2, 0.2, 2.0)),
        ("wall", (3.0, 0.15, 2.6)),
        ("box", (1.0, 1.0, 1.0)),
        ("backdrop", (6.0, 0.1, 4.0)),
    ],
)
def test_a_press_without_a_drag_puts_up_one_of_a_sane_size_square_to_the_plan(shape, size):
    scene = one(YARD, kind="piece.draw", id="set-new", shape=shape, start=[9, 9], end=[9, 9])
    new = pieces(scene)["set-new"]
    assert (new.width, new.depth, new.height) == size
    assert (new.x, new.z, new.base, new.heading) == (9, 9, 0, 0)


def test_what_is_put_up_on_something_stands_on_it():
    scene = one(YARD, kind="piece.draw", id="set-new", shape="post", start=[1, 0.5], end=[1, 0.5])
    assert pieces(scene)["set-new"].base == 0.4
    scene = one(YARD, kind="piece.draw", id="set-new", shape="post", start=[5.2, 0], end=[5.2, 0])
    assert pieces(scene)["set-new"].base == 1.2


def test_what_is_dragged_on_to_something_climbs_it_with_what_stands_on_it_and_comes_down_again():
    crate = {"kind": "things.move", "ids": ["set-crate", "set-lid"], "dx": -4}
    up = pieces(one(YARD, **crate, climb=True))
    assert (up["set-crate"].base, up["set-lid"].base) == (0.4, 1.4)
    through = pieces(one(YARD, **crate))
    assert (through["set-crate"].base, through["set-lid"].base) == (0, 1)
    back = one(
        one(YARD, **crate, climb=True), kind="things.move", ids=["set-crate", "set-lid"], dx=4, climb=True
    )
    assert pieces(back) == pieces(YARD)
    # What hangs in the air stays at its height.
    hung = one(YARD, kind="piece.set", piece="set-lid", base=3)
    assert pieces(one(hung, kind="things.move", ids=["set-lid"], dx=-4, climb=True))["set-lid"].base == 3


def test_the_end_of_a_walk_that_counts_is_moved_and_the_other_stays():
    def odile(scene):
        return find(scene, "figures", "fig-odile")

    walk = next(i for i, act in enumerate(odile(DEMO).acts) if act.kind == "walk")
    frames, points = odile(DEMO).acts[walk].frames, odile(DEMO).acts[walk].points
    put = {"kind": "thing.put", "thing": "fig-odile", "keep": "end", "x": 0.5, "z": 2.4}
    start, said = run_one(DEMO, parse_commands(json.dumps({**put, "frame": frames.first}))[0])
    assert said == "Moved where Odile starts; the walk ends where it did"
    assert (odile(start).x, odile(start).z) == (0.5, 2.4) and odile(start).acts == odile(DEMO).acts
    end, said = run_one(DEMO, parse_commands(json.dumps({**put, "z": -8.0, "frame": frames.last}))[0])
    assert said == "Moved where Odile walks to; the walk starts where it did"
    assert odile(end).acts[walk].points == (*points[:-1], (0.5, -8.0))
    assert (odile(end).x, odile(end).z) == (odile(DEMO).x, odile(DEMO).z)
    there = Bake(end, ResultCache()).rows(odile(end), np.array([frames.last]))[0]
    assert (there[0], there[2]) == pytest.approx((0.5, -8.0), abs=1e-9)
