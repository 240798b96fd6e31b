"""Coverage of a conversation, against the pinhole camera and rules of the trade."""

import json

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from heron.bake import Bake
from heron.commands.covering import proposed
from heron.commands.registry import parse, run_one
from heron.demo import slack_tide_film
from heron.errors import HeronError
from heron.framing.hidden import Hiding
from heron.framing.project import project
from heron.framing.shot_size import shot_size
from heron.model import changed
from heron.scene import diff, find
from heron.scene.patch import apply_patch
from heron.stage.piece import Piece
from heron.stage.rays import reach, reach_surface
from heron.stage.reference import AtPoint, OnFigure, OnMover
from heron.stage.shapes.solids import placed_piece
from heron.timebase import Frames

FILM = slack_tide_film()
BARE = FILM.having(
    pieces=(), movers=(), cameras=(), shots=(), perches=(), passes=(), cues=(), sounds=(), cuts=(), cut_name="",
    figures=tuple(changed(f, acts=()) for f in FILM.figures),
)  # fmt: skip


def two(apart, turn, tall=(1.7, 1.7)):
    """Two who stand so far apart and face each other."""
    a, b = BARE.figures
    by = np.radians(turn)
    x, z = apart * np.sin(by), -apart * np.cos(by)
    # A figure faces −Z at 0 and turns to the left.
    a = changed(a, x=0, z=0, heading=float(-turn), stature=tall[0])
    b = changed(b, x=float(x), z=float(z), heading=float(180 - turn), stature=tall[1])
    return BARE.having(figures=(a, b), lines=())


IDS = tuple(f.id for f in BARE.figures)


def seen(one, place, high=20.25):
    """Where a place is in the frame, −1 to 1, and how far before the lens: a pinhole by hand."""
    x, y, z, pan, tilt = one.pose
    p, t = np.radians(pan), np.radians(tilt)
    ahead = np.array([-np.sin(p) * np.cos(t), np.sin(t), -np.cos(p) * np.cos(t)])
    right = np.array([np.cos(p), 0, -np.sin(p)])
    up = np.cross(right, ahead)
    way = np.asarray(place) - (x, y, z)
    deep = way @ ahead
    return way @ right / deep * one.focal / 18, way @ up / deep * one.focal / (high / 2), deep


def at_frame(scene, figure, frame):
    return Bake(scene).place(OnFigure(figure=figure, joint="eyes"), np.array([frame]))[0]


def at(scene, figure, joint):
    return Bake(scene).place(OnFigure(figure=figure, joint=joint), np.array([1001]))[0]


@settings(max_examples=15, deadline=None)
@given(st.floats(0.9, 3.0), st.floats(-180, 180), st.floats(1.5, 1.9))
def test_every_pair_is_covered_from_one_side_of_its_line(apart, turn, tall):
    scene = two(apart, turn, (1.7, tall))
    found = {one.key: one for one in proposed(scene, IDS, 1001)}
    a, b = (at(scene, id_, "head") for id_ in IDS)
    sides = set()
    for one in found.values():
        x, _, z = one.pose[:3]
        sides.add(np.sign((b[0] - a[0]) * (z - a[2]) - (b[2] - a[2]) * (x - a[0])))
    assert len(sides) == 1 and {"master", "over-fig-odile", "over-fig-bram"} <= set(found)
    # Screen direction: they look across the frame in opposite ways, in every pair.
    for kind in ("single", "close", "over"):
        looks = []
        for id_, other in (IDS, IDS[::-1]):
            one = found[f"{kind}-{other if kind == 'over' else id_}"]
            eyes, to = at(scene, id_, "eyes"), at(scene, other, "eyes")
            looks.append(np.sign(seen(one, eyes + 0.05 * (to - eyes))[0] - seen(one, eyes)[0]))
        assert sorted(looks) == [-1, 1], kind
    # Singles of a pair are as large as each other, by the same lens, eyes on the upper third with room to look.
    for kind, share in (("single", 0.65), ("close", 0.755)):
        pair = [found[f"{kind}-{id_}"] for id_ in IDS]
        assert pair[0].focal == pair[1].focal
        for one, id_ in zip(pair, IDS, strict=True):
            x, y, deep = seen(one, at(scene, id_, "eyes"))
            assert (abs(x), y) == pytest.approx((0.22, 1 / 3), abs=2e-3)
            stature = find(scene, "figures", id_).stature
            cut = at(scene, id_, "eyes") - (0, (0.936 - share) * stature, 0)
            # The lower edge cuts the body where the size is cut.
            assert seen(one, cut)[1] == pytest.approx(-1, abs=0.06)
    for near, far in (IDS, IDS[::-1]):
        one = found[f"over-{near}"]
        x, y, _ = seen(one, at(scene, far, "eyes"))
        assert (abs(x), y) == pytest.approx((0.28, 1 / 3), abs=0.02)
        x_near, _, deep = seen(one, at(scene, near, "head"))
        assert x_near * x < 0 and 0.4 < abs(x_near) < 0.9 and 0.4 < deep < 2
    for id_ in IDS:
        for joint in ("crown", "sole_r"):
            x, y, _ = seen(found["master"], at(scene, id_, joint))
            assert abs(x) < 1 and abs(y) < 1


def test_the_demo_is_covered_as_the_trade_would():
    found = proposed(FILM, (), 1220, OnMover(mover="mov-heron"))
    assert [one.kind for one in found] == [
        "master",
        "over",
        "over",
        "single",
        "single",
        "single",
        # Bram says less.
        "reaction",
        "insert",
    ]
    assert found[6].of == ("fig-bram",)
    # They are called by their sizes, and are of that size by what the frame cuts.
    after, said = run_one(
        FILM,
        parse([{"kind": "coverage.take", "id": "c", "frame": 1220, "keys": [one.key for one in found[:7]]}])[
            0
        ],
    )
    assert apply_patch(after, diff(after, FILM)) == FILM
    assert said.startswith("Covered it with cameras ") and len(after.cameras) == len(FILM.cameras) + 7
    for camera, one in zip(after.cameras[-7:], found, strict=False):
        named = shot_size(Bake(after), camera, 1220)
        assert camera.focal.rest == one.focal and camera.focus.on.figure == one.of[0]
        if one.kind in ("single", "reaction"):
            assert named == (find(FILM, "figures", one.of[0]).name, one.size)
    # The oar that he holds stands before her in one of them: less than a hand beside the line of sight. That is said.
    oar = Bake(FILM).rows(find(FILM, "movers", "mov-oar"), np.array([1220]))[0][[0, 2]]
    for one in found[:7]:
        lens = np.array(one.pose)[[0, 2]]
        for id_ in one.of[:1]:
            way = at_frame(FILM, id_, 1220)[[0, 2]] - lens
            along = (oar - lens) @ way / (way @ way)
            off = np.linalg.norm(oar - lens - along * way)
            assert bool(one.hidden) == (0 < along < 1 and off < 0.1), one.key
        assert bool(one.hidden) == any("of what should be seen is hidden" in why for why in one.reasons)
    assert all(one.reasons for one in found) and any(one.hidden for one in found)


@pytest.mark.parametrize("apart", [1.2, 1.7, 2.5])
def test_a_single_shows_one_of_them_alone(apart):
    scene = two(apart, 30)
    for one in proposed(scene, IDS, 1001):
        if one.kind == "single":
            (other,) = set(IDS) - set(one.of)
            x, _, deep = seen(one, at(scene, other, "head"))
            assert deep < 0 or abs(x) > 1, one.key


def test_a_wall_on_one_side_has_them_covered_from_the_other_and_that_is_said():
    scene = two(1.5, 0)
    sides = []
    for x in (1.2, -1.2):
        box = {"kind": "piece.add", "shape": "box", "x": x, "z": -0.75, "width": 0.1, "height": 3, "depth": 8}
        wall = parse([box])[0]
        walled, _ = run_one(scene, wall)
        found = proposed(walled, IDS, 1001)
        sides.append(np.sign(found[0].pose[0]))
        assert np.sign(found[0].pose[0]) == -np.sign(x)
        assert "less is hidden from this side of their line" in found[0].reasons
    assert sides == [-1, 1]


@pytest.mark.parametrize("z", [1.0, -1.0])
def test_a_third_who_talks_is_covered_from_the_side_of_the_first_two(z):
    """Two face each other along X, the third stands on one side of their line and looks at its middle."""
    a, b = BARE.figures
    a, b = changed(a, x=-0.7, z=0, heading=-90), changed(b, x=0.7, z=0, heading=90)
    # At 0 a figure faces −Z.
    third = changed(a, id="fig-third", name="Third", x=0, z=z, heading=0 if z > 0 else 180)
    scene = BARE.having(figures=(a, b, third), lines=())
    # From −X to +X right is +Z: each is covered from where the third is seen from in front.
    side = "left" if z > 0 else "right"
    found = {one.key: one for one in proposed(scene, (a.id, b.id, "fig-third"), 1001, side=side)}
    assert (
        set(found) >= {"single-fig-third", "close-fig-third"}
        and found["master"].name == "Master of Odile, Bram and Third"
    )
    for one in found.values():
        assert one.pose[2] * z < 0 and not one.hidden
    for one in found.values():
        whom = one.of if one.kind == "master" else one.of[:1]
        for id_ in whom:
            x, y, deep = seen(one, at(scene, id_, "eyes"))
            assert abs(x) < 0.95 and abs(y) < 0.95 and deep > 0
    assert seen(found["single-fig-third"], at(scene, "fig-third", "eyes"))[1] == pytest.approx(
        1 / 3, abs=0.02
    )
    assert found["single-fig-third"].focal == found[f"single-{b.id}"].focal
    # Who looks at one of them square to their line is seen in front from across it alone: that is done, and said.
    near = scene.having(figures=(a, b, changed(third, x=-0.7, z=0.9 * z)))
    other = "right" if side == "left" else "left"
    across = {one.key: one for one in proposed(near, (a.id, b.id, "fig-third"), 1001, side=other)}
    assert across["close-fig-third"].pose[2] * z < 0 < across["master"].pose[2] * z
    assert "from across the line of Odile and Bram, which they face" in across["close-fig-third"].reasons
    with pytest.raises(HeronError, match=r"Third and \w+ stand 9"):
        proposed(scene.having(figures=(a, b, changed(third, x=10))), (a.id, b.id, "fig-third"), 1001)


def test_a_mover_hides_as_it_is_shaped_and_one_is_not_worth_crossing_the_line():
    scene = two(1.5, 0)
    (face,) = [one for one in proposed(scene, IDS, 1001, side="left") if one.key == f"close-{IDS[1]}"]
    x, _, z = (np.array(face.pose[:3]) + at(scene, IDS[1], "eyes")) / 2
    post = {"kind": "mover.add", "id": "post", "shape": "oar", "pose": {"x": float(x), "y": 0, "z": float(z)}}
    there, _ = run_one(scene, parse([post])[0])
    hiding = Hiding(Bake(there), np.array([1001]))
    eyes, lens = at(scene, IDS[1], "eyes"), np.array(face.pose[:3])
    way = eyes - lens
    beside = np.array([-way[2], 0, way[0]]) / np.hypot(way[0], way[2])
    # It stands halfway: a line of sight passes it half as far off as its end is beside the eyes. Its shaft is 5 cm wide.
    for off in np.linspace(-0.5, 0.5, 41):
        hidden = hiding.share(lens, (eyes + off * beside)[None])
        if abs(off) / 2 < 0.02 or abs(off) / 2 > 0.09:
            assert hidden == (abs(off) / 2 < 0.02)
    # From its own eyes' side nothing is in the way; as what is shown itself it does not count.
    assert hiding.share(2 * eyes - lens, eyes[None]) == 0
    assert Hiding(Bake(there), np.array([1001]), but="post").share(lens, eyes[None]) == 0
    # Two who are covered stay on the side where cameras of theirs stand, though something is before one of them.
    free = proposed(FILM, ("fig-odile", "fig-bram"), 1220, side="right")
    kept = proposed(FILM, ("fig-odile", "fig-bram"), 1220)
    assert not any(one.hidden for one in free) and any(one.hidden for one in kept)
    assert kept[0].pose == proposed(FILM, ("fig-odile", "fig-bram"), 1220, side="left")[0].pose


def test_an_insert_is_of_whatever_is_pointed_at():
    post = next(piece for piece in FILM.pieces if piece.kind == "post")
    hand = {"kind": "figure", "figure": "fig-bram", "joint": "wrist_r"}
    on = {"kind": "piece_at", "piece": post.id, "x": post.x, "z": post.z}
    for thing, called, where in (
        (hand, "Insert of Bram's right wrist", OnFigure(figure="fig-bram", joint="wrist_r")),
        (on, f"Insert of {post.name}", AtPoint(x=post.x, y=post.base + post.height, z=post.z)),
    ):
        take = {"kind": "coverage.take", "id": "c", "frame": 1220, "thing": thing, "keys": ["insert"]}
        after, _ = run_one(FILM, parse([take])[0])
        camera = after.cameras[-1]
        assert camera.name == called
        # It is in the middle of the frame, half a metre of it from top to bottom.
        here = Bake(after).samples(camera, Frames(first=1220, last=1220))
        place = Bake(after).place(where, np.array([1220]))
        seen_ = project(here, place)
        assert (seen_.x[0], seen_.y[0]) == pytest.approx((0, 0), abs=1e-3)
        ahead = (place[0] - here.values[0, :3]) * np.array([1, 0, 1])
        tilted = np.sin(np.radians(20)) * ahead / np.linalg.norm(ahead) + [0, np.cos(np.radians(20)), 0]
        assert project(here, place + 0.25 * tilted).y[0] == pytest.approx(1, abs=1e-3)
    with pytest.raises(HeronError, match="An insert is of a thing"):
        run_one(FILM, parse([{**take, "thing": {"kind": "distance", "metres": 2}}])[0])


def test_rays_meet_the_triangles_of_a_box_where_they_meet_the_box():
    box = Piece(id="b", name="b", kind="box", x=1, base=0.5, z=-2, width=2, height=1, depth=0.5, heading=25)
    mesh = placed_piece(box)
    random = np.random.default_rng(5)
    middle = np.array([1, 1, -2])
    off = random.normal(0, 1, (400, 3))
    origins = middle + 6 * off / np.linalg.norm(off, axis=1, keepdims=True)
    ways = middle + random.normal(0, 0.7, (400, 3)) - origins
    far = reach(box, origins, ways)
    assert 60 < np.isfinite(far).sum() < 340
    assert reach_surface(mesh.points[mesh.triangles], origins, ways) == pytest.approx(far)


@pytest.mark.parametrize(
    ("asked", "words"),
    [
        ({"frame": 1220, "figures": ["fig-odile"]}, "It takes two"),
        ({"frame": 1001}, "m apart at 1001"),
        ({"frame": 1220, "keys": ["none"]}, "No camera none is proposed"),
        ({"frame": 1220, "keys": []}, "No camera was chosen"),
        ({"frame": 9999}, "9999"),
    ],
)
def test_what_cannot_be_covered_says_why(asked, words):
    with pytest.raises(HeronError, match=words):
        run_one(FILM, parse(json.loads(json.dumps([{"kind": "coverage.take", **asked}])))[0])
