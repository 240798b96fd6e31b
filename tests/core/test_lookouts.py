"""Views that are searched for, on made stages: what each promises is measured from outside.

Where people are in a frame by OpenCV's pinhole; what stands in the way by points along lines of sight in the box as trimesh
has it; angles and sides by cross products of places. The rules of the trade are common practice.
"""

import json

import cv2
import numpy as np
import pytest
import trimesh
from scipy.spatial import Delaunay
from scipy.spatial.transform import Rotation

from heron.bake import Bake
from heron.cli import main
from heron.commands import parse_commands, run
from heron.demo import slack_tide_film
from heron.demo.looked_over import FOUND
from heron.errors import HeronError
from heron.framing.composing import aimed
from heron.framing.shot_size import SIZES
from heron.lookouts import lookouts, read_asked
from heron.lookouts.candidates import SINGLE, candidates
from heron.lookouts.ground import Ground, Poses
from heron.lookouts.scoring import judge
from heron.optics import field_of_view
from heron.scene import empty_scene, find, write_scene
from heron.stage.reference import OnFigure
from heron.timebase import Frames

OVER_ALL = Frames(first=1001, last=1024)


def do(scene, *commands):
    return run(scene, parse_commands(json.dumps(list(commands))))[0]


def stage(*more):
    """Two who look at each other along Z, 1.6 m apart; Odile faces −Z."""
    people = [
        {"kind": "figure.add", "id": id_, "name": name, "stature": tall, "x": 0, "z": z, "heading": heading}
        for id_, name, tall, z, heading in (("o", "Odile", 1.68, 0.0, 0), ("b", "Bram", 1.82, -1.6, 180))
    ]
    return do(
        empty_scene("Lookouts"),
        {"kind": "scene.set", "frames": {"first": 1001, "last": 1024}},
        *people,
        *more,
    )


def block(x, z, wide, deep, high, id_="p"):
    return {
        "kind": "piece.add", "id": id_, "name": "Crate", "shape": "box", "width": wide, "depth": deep, "height": high, "x": x, "z": z,
    }  # fmt: skip


def ask(scene, words, **more):
    return lookouts(Bake(scene), read_asked(scene, words), OVER_ALL, **more)


def point(scene, who, joint):
    return Bake(scene).place(OnFigure(figure=who, joint=joint), np.array([1012]))[0]


def seen(scene, view, points):
    """(k, 2) where OpenCV's pinhole sees points from a view, −1 to 1, Y up; and how far ahead."""
    p = view.pose
    turn = (
        np.diag([1.0, -1.0, -1.0])
        @ Rotation.from_euler("YXZ", [p.pan, p.tilt, p.roll], degrees=True).inv().as_matrix()
    )
    fields = field_of_view(scene.first_lens.on, scene.delivery.aspect, np.array([view.focal_mm]))[0]
    wide, high = np.tan(np.radians(fields[:2]) / 2)
    inner, at = np.array([[1 / wide, 0, 0], [0, 1 / high, 0], [0, 0, 1.0]]), np.array([p.x, p.y, p.z])
    there = cv2.projectPoints(np.array(points), cv2.Rodrigues(turn)[0], -turn @ at, inner, None)[0][:, 0] * [
        1,
        -1,
    ]
    return there, ((np.array(points) - at) @ turn.T)[:, 2]


def bearing(scene, view, who, looks):
    """Degrees a view is round somebody from the way they look."""
    way = np.array([view.pose.x, view.pose.z]) - point(scene, who, "eyes")[[0, 2]]
    return float(np.degrees(np.arccos(way @ looks / np.linalg.norm(way))))


def elevation(scene, view, who):
    way = np.array([view.pose.x, view.pose.y, view.pose.z]) - point(scene, who, "eyes")
    return float(np.degrees(np.arcsin(way[1] / np.linalg.norm(way))))


@pytest.mark.parametrize("size", ["close-up", "medium", "medium full", "full"])
def test_a_size_that_is_asked_for_is_what_the_frame_holds(size):
    scene = stage()
    found = ask(scene, f"Odile; {size}")
    assert len(found) >= 4
    for view in found[:2]:
        assert view.size == size
        there, ahead = seen(
            scene,
            view,
            [point(scene, "o", name) for name in ("crown", "chin", "chest", "hip_r", "ankle_r", "sole_r")],
        )
        assert (ahead > 0).all() and (np.abs(there[1]) < 1).all()
        low = {"close-up": (1, 2), "medium": (2, 3), "medium full": (3, 5), "full": (5, 5)}[size]
        assert there[low[0], 1] > -1 and (size == "full" or there[low[1], 1] < -0.9)


@pytest.mark.parametrize(
    ("way", "least", "most"),
    [("front", 0, 25), ("three-quarter", 15, 67), ("profile", 65, 115), ("behind", 113, 180)],
)
def test_a_way_that_is_asked_for_is_where_it_stands(way, least, most):
    scene = stage()
    found = ask(scene, f"Odile; {way}")
    assert found
    for view in found:
        assert least <= bearing(scene, view, "o", np.array([0.0, -1.0])) <= most


def test_high_and_low_and_eye_level():
    scene = stage()
    assert all(elevation(scene, view, "o") > 5 for view in ask(scene, "Odile; high"))
    assert all(elevation(scene, view, "o") < -3 for view in ask(scene, "Odile; low"))
    assert all(abs(elevation(scene, view, "o")) < 10 for view in ask(scene, "Odile; eye level"))


def test_over_a_shoulder_both_heads_are_in_the_frame_and_the_near_one_is_larger():
    scene = stage()
    found = ask(scene, "Odile; over Bram")
    assert len(found) >= 2
    for view in found:
        there, ahead = seen(scene, view, [point(scene, "o", "eyes"), point(scene, "b", "crown")])
        assert (np.abs(there[0]) < 1).all() and abs(there[1, 0]) < 1.1
        assert 1.5 < ahead[0] / ahead[1] < 6
        # On either side of the frame's middle.
        assert there[0, 0] * there[1, 0] < 0


def test_two_who_are_named_are_both_seen_and_a_thing_is_in_the_frame():
    scene = stage(block(1.6, 0.4, 0.5, 0.5, 0.6))
    for view in ask(scene, "Odile, Bram")[:3]:
        there, ahead = seen(scene, view, [point(scene, who, "eyes") for who in "ob"])
        assert (ahead > 0).all() and (np.abs(there) < 1).all()
    for view in ask(scene, "Odile; with Crate")[:3]:
        there, ahead = seen(scene, view, [point(scene, "o", "eyes"), np.array([1.6, 0.3, 0.4])])
        assert (ahead > 0).all() and (np.abs(there) < 1).all()


def test_as_somebody_sees_it_stands_at_their_eyes():
    scene = stage()
    for view in ask(scene, "Odile; through Bram's eyes"):
        assert (
            np.linalg.norm(np.array([view.pose.x, view.pose.y, view.pose.z]) - point(scene, "b", "eyes"))
            < 0.15
        )


def test_no_two_are_alike():
    """10° round, 6° up, or a size apart; and the best is first."""
    scene = stage(block(1.6, 0.4, 0.5, 0.5, 0.6))
    for words in ("", "Odile", "Odile; over Bram", "Odile, Bram", "Odile; with Crate"):
        found = ask(scene, words)
        assert [view.score for view in found] == sorted((view.score for view in found), reverse=True)
        assert all(0 <= view.score <= 1 for view in found)
        for k, one in enumerate(found):
            for other in found[:k]:
                if one.focus != other.focus:
                    continue
                eyes = point(scene, one.focus, "eyes")
                ways = [np.array([v.pose.x, v.pose.z]) - eyes[[0, 2]] for v in (one, other)]
                round_ = np.degrees(
                    np.arccos(
                        np.clip(ways[0] @ ways[1] / np.linalg.norm(ways[0]) / np.linalg.norm(ways[1]), -1, 1)
                    )
                )
                up = abs(elevation(scene, one, one.focus) - elevation(scene, other, one.focus))
                assert round_ >= 9.9 or up >= 5.9 or one.size != other.size, words


def test_what_stands_in_the_way_is_gone_round_and_no_camera_is_in_it():
    """A wall before her from the right: without it views from there are good."""
    box = block(1.3, -1.2, 1.0, 0.3, 2.6)
    scene = stage(box)
    solid = trimesh.creation.box((1.0, 2.6, 0.3))
    solid.apply_translation([1.3, 1.3, -1.2])
    inside = Delaunay(solid.vertices)
    found = ask(scene, "Odile")
    for view in found:
        at = np.array([view.pose.x, view.pose.y, view.pose.z])
        assert at[1] > 0.25 and inside.find_simplex(at[None])[0] < 0
        eyes = point(scene, "o", "eyes")
        along = at + np.linspace(0, 0.95, 2000)[:, None] * (eyes - at)
        hidden = bool((inside.find_simplex(along) >= 0).any())
        assert not hidden or view.seen < 0.9
    assert found[0].seen > 0.95


def test_they_stay_on_the_side_of_the_cameras_of_the_cut():
    """The 180° rule: the cut looks from +X, so do they; unless either side is asked for."""
    scene = do(
        stage(), {"kind": "camera.add", "id": "c", "pose": {"x": 3, "y": 1.6, "z": -0.8, "pan": 90, "tilt": 0, "roll": 0}, "focal": 40},
        {"kind": "shot.add", "camera": "c", "stage": {"first": 1001, "last": 1024}},
    )  # fmt: skip
    for view in ask(scene, "Odile; medium")[:4]:
        assert view.pose.x > -0.15
    other = ask(scene, "Odile; medium; either side")
    assert any(view.pose.x < -0.3 for view in other)


def test_what_cannot_be_met_is_given_up_and_said():
    """Her back to a wall: from behind there is only the wall."""
    wall = block(0.0, 0.55, 12.0, 0.3, 6.0)
    found = ask(stage(wall), "Odile; behind; medium")
    assert found and all(any("give up “behind”" in why for why in view.reasons) for view in found)


def test_nobody_can_be_seen_in_a_box():
    box = block(0.0, 0.0, 1.0, 1.0, 2.4)
    with pytest.raises(HeronError, match="Crate hides") as refused:
        ask(stage(box), "Odile")
    assert refused.value.remedy


@pytest.mark.parametrize(
    ("words", "says"),
    [
        ("Odile; hugh", "is nobody"), ("Odile; medium; wide", "says again"), ("Odile; over Odile", "named twice"),
        ("over Bram; through Bram's eyes", "or through"), ("with the moon", "There is no"), ("Odile, Odile", "named twice"),
    ],
)  # fmt: skip
def test_what_makes_no_sense_is_refused(words, says):
    with pytest.raises(HeronError, match=says) as refused:
        ask(stage(), words)
    assert refused.value.remedy


def test_nobody_there_is_said():
    with pytest.raises(HeronError, match="Nobody is on the stage"):
        ask(empty_scene("Empty"), "")


def test_the_command_line_finds_views(tmp_path, capsys):
    source = tmp_path / "s.json"
    source.write_text(write_scene(stage()), encoding="utf-8")
    assert (
        main(
            [
                "lookouts",
                str(source),
                "--ask",
                "Odile; medium; over Bram",
                "--frames",
                "1001-1012",
                "--count",
                "5",
            ]
        )
        == 0
    )
    found = json.loads(capsys.readouterr().out)
    assert 1 <= len(found) <= 5
    assert set(found[0]) == {"pose", "focal_mm", "score", "size", "seen", "notes", "reasons"}
    assert set(found[0]["pose"]) == {"x", "y", "z", "pan", "tilt", "roll"} and found[0]["size"] in SIZES
    assert main(["lookouts", str(source), "--frames", "900-1012"]) == 2
    assert capsys.readouterr().err.count("\n") == 1


def test_a_lookout_found_one_of_the_demos_cameras():
    scene = slack_tide_film()
    camera = find(scene, "cameras", "cam-found")
    words, frames = FOUND
    found = lookouts(Bake(scene), read_asked(scene, words), frames)
    there = np.array([camera.x.rest, camera.y.rest, camera.z.rest])
    off = [np.linalg.norm(np.array([v.pose.x, v.pose.y, v.pose.z]) - there) for v in found]
    view = found[int(np.argmin(off))]
    assert min(off) < 0.15 and view.focal_mm == camera.focal.rest
    assert abs(view.pose.pan - camera.pan.rest) < 2 and abs(view.pose.tilt - camera.tilt.rest) < 0.5


def cost(scene, words, *, bearing=30.0, up=0.0, far=2.2, x=0.15, down=1 / 3, focal=40.0, whole=True):
    """What a view of Odile costs: round her from where she looks, up, metres, her eyes across and down the frame."""
    asked = read_asked(scene, words)
    ground = Ground(Bake(scene), OVER_ALL)
    eyes, turn, rise = point(scene, "o", "eyes"), np.radians(180 + bearing), np.radians(up)
    place = eyes + far * np.array([np.sin(turn) * np.cos(rise), np.sin(rise), np.cos(turn) * np.cos(rise)])
    fields = field_of_view(scene.first_lens.on, scene.delivery.aspect, np.array([focal]))[0]
    pan, tilt = aimed(place, eyes, (x, 1 - 2 * down), np.tan(np.radians(fields[:2]) / 2))
    pose = Poses(
        np.array([[*place, pan, tilt]]), np.array([focal]), np.array([SINGLE]), np.array([ground.place("o")])
    )
    return float(judge(ground, asked, pose, whole).cost[0])


def alone(*more):
    return do(stage(), {"kind": "things.delete", "ids": ["b"]}, *more)


CUT_FROM_RIGHT = (
    {"kind": "camera.add", "id": "c", "pose": {"x": -3, "y": 1.6, "z": -0.8, "pan": -90, "tilt": 0, "roll": 0}, "focal": 40},
    {"kind": "shot.add", "camera": "c", "stage": {"first": 1001, "last": 1024}},
)  # fmt: skip


@pytest.mark.parametrize(
    ("better", "worse", "least"),
    [
        # Eyes on the upper third, and off it by a fifth of the height.
        (lambda: cost(alone(), "Odile"), lambda: cost(alone(), "Odile", down=0.4), 0.005),
        # Half of her face behind a crate; and all of it.
        (lambda: cost(alone(), "Odile"), lambda: cost(alone(block(-0.36, -0.6, 0.16, 0.16, 1.9)), "Odile"), 0.4),
        # The whole of another one at the frame's edge, nearer than she is.
        (lambda: cost(alone(), "Odile", bearing=8.0), lambda: cost(stage(), "Odile", bearing=8.0), 0.3),
        # A size that was asked for, and two steps from it.
        (lambda: cost(alone(), "Odile; medium", far=1.6), lambda: cost(alone(), "Odile; close-up", far=1.6), 0.7),
        # From where it was asked for; from as high as that was.
        (lambda: cost(alone(), "Odile; three-quarter"), lambda: cost(alone(), "Odile; profile"), 1.1),
        (lambda: cost(alone(), "Odile; eye level"), lambda: cost(alone(), "Odile; high"), 1.1),
        # Without a wish each degree over ten of height.
        (lambda: cost(alone(), "Odile; high", up=22.0), lambda: cost(alone(), "Odile", up=22.0), 0.45),
        # Where a camera cannot stand: in the floor, in a thing, in somebody.
        (lambda: cost(alone(), "Odile; low"), lambda: cost(alone(), "Odile; low", up=-40.0), 5.0),
        (lambda: cost(alone(), "Odile"), lambda: cost(alone(block(-1.1, -1.9, 0.6, 0.6, 3.0)), "Odile"), 5.0),
        (lambda: cost(alone(), "Odile"), lambda: cost(alone(), "Odile", far=0.35), 2.0),
        # Across the line from the cut's cameras, and on their side.
        (lambda: cost(stage(*CUT_FROM_RIGHT), "Odile", bearing=50.0), lambda: cost(stage(*CUT_FROM_RIGHT), "Odile", bearing=-50.0), 2.0),
        (lambda: cost(stage(*CUT_FROM_RIGHT), "Odile; either side", bearing=-50.0), lambda: cost(stage(*CUT_FROM_RIGHT), "Odile", bearing=-50.0), 2.4),
        # Out of the frame.
        (lambda: cost(alone(), "Odile"), lambda: cost(alone(), "Odile", x=1.4), 2.5),
    ],
)  # fmt: skip
def test_what_an_artist_would_rather_have_costs_less(better, worse, least):
    """Common practice; how much, in the units of the search: a head out of the frame is 3."""
    assert worse() - better() >= least


def test_in_a_crowd_of_200_whoever_is_named_is_found():
    crowd = [
        {
            "kind": "figure.add",
            "id": f"f{k}",
            "name": f"P{k}",
            "stature": 1.7,
            "x": 2.5 * (k % 20) - 25,
            "z": 2.5 * (k // 20) + 3,
        }
        for k in range(198)
    ]
    scene = do(stage(), *crowd)
    (view, *_) = ask(scene, "P197; medium", rounds=0)
    there, ahead = seen(scene, view, [point(scene, "f197", "eyes")])
    assert view.focus == "f197" and (np.abs(there) < 1).all() and ahead[0] > 0


def framed(scene, pose, focal, points):
    """(k, 2) where OpenCV's pinhole sees points from a pose of five numbers."""
    x, y, z, pan, tilt = pose
    turn = (
        np.diag([1.0, -1.0, -1.0])
        @ Rotation.from_euler("YXZ", [pan, tilt, 0], degrees=True).inv().as_matrix()
    )
    fields = field_of_view(scene.first_lens.on, scene.delivery.aspect, np.array([focal]))[0]
    wide, high = np.tan(np.radians(fields[:2]) / 2)
    inner = np.array([[1 / wide, 0, 0], [0, 1 / high, 0], [0, 0, 1.0]])
    at = np.array([x, y, z])
    return cv2.projectPoints(np.array(points), cv2.Rodrigues(turn)[0], -turn @ at, inner, None)[0][:, 0] * [
        1,
        -1,
    ]


def possible(scene, words):
    found = candidates(Ground(Bake(scene), OVER_ALL), read_asked(scene, words))
    return list(zip(found.pose, found.focal, strict=True))


def test_each_possible_single_has_the_eyes_on_the_upper_third_with_room_where_they_look():
    """Common practice: eyes 0.30 or 0.36 down, the room on the side somebody looks to."""
    scene = stage()
    eyes = point(scene, "o", "eyes")
    for pose, focal in possible(scene, "Odile; medium; three-quarter")[::7]:
        (x, y), (ahead, _) = framed(scene, pose, focal, [eyes, eyes + np.array([0, 0, -0.3])])
        assert min(abs((1 - y) / 2 - down) for down in (0.30, 0.36)) < 0.01
        assert min(abs(abs(x) - across) for across in (0.15, 0.33)) < 0.01
        # She looks along −Z: to where a point ahead of her eyes is.
        assert (ahead - x) * x < 0


def test_each_possible_view_over_a_shoulder_has_both_heads_on_either_side_the_near_one_larger():
    scene = stage()
    eyes = [point(scene, who, "eyes") for who in "ob"]
    poses = possible(scene, "Odile; over Bram")
    assert len(poses) > 500
    for pose, focal in poses[::41]:
        (seen_x, seen_y), (near_x, near_y) = framed(scene, pose, focal, eyes)
        assert 0.13 < abs(seen_x) < 0.41 and 0.49 < abs(near_x) < 0.73 and seen_x * near_x < 0
        assert 0.25 < (1 - seen_y) / 2 < 0.45 and 0.13 < (1 - near_y) / 2 < 0.35
        apart = [np.linalg.norm(one - pose[:3]) for one in eyes]
        assert 1.79 < apart[0] / apart[1] < 4.01


def test_each_possible_view_of_two_has_them_level_and_on_either_side():
    scene = stage()
    eyes = [point(scene, who, "eyes") for who in "ob"]
    for pose, focal in possible(scene, "Odile, Bram")[::29]:
        (ax, ay), (bx, by) = framed(scene, pose, focal, eyes)
        assert ax * bx < 0 and abs(abs(ax) - abs(bx)) < 1e-6 and 0.19 < abs(ax) < 0.51
        assert abs(ay - by) / 2 < 0.15 and 0.19 < (1 - (ay + by) / 2) / 2 < 0.45


def test_each_possible_view_with_a_thing_holds_all_of_both():
    scene = stage(block(1.6, 0.4, 0.5, 0.5, 0.6))
    corners = [(1.6 + x, y, 0.4 + z) for x in (-0.25, 0.25) for y in (0, 0.6) for z in (-0.25, 0.25)]
    body = [point(scene, "o", name) for name in ("crown", "sole_r", "sole_l")]
    for pose, focal in possible(scene, "Odile; with Crate")[::13]:
        there = framed(scene, pose, focal, [*corners, *body])
        # As large as they can be with a little room: 0.82 of the frame in one way.
        assert np.abs(there).max() < 0.95 and np.ptp(there, axis=0).max() / 2 == pytest.approx(0.82, abs=0.06)


def test_reasons_say_whom_it_is_of_over_whom_and_from_where():
    scene = stage(block(1.6, 0.4, 0.5, 0.5, 0.6))
    assert all(
        "of Odile over Bram's shoulder," in one.reasons[0] for one in ask(scene, "Odile; over Bram", rounds=0)
    )
    assert all("of Odile and Bram," in one.reasons[0] for one in ask(scene, "Odile, Bram", rounds=0))
    assert all("of Odile with Crate," in one.reasons[0] for one in ask(scene, "Odile; with Crate", rounds=0))
    assert all(
        "Odile as Bram sees them," in one.reasons[0]
        for one in ask(scene, "Odile; through Bram's eyes", rounds=0)
    )
    for view in ask(scene, "Odile; medium", rounds=0):
        way = np.array([view.pose.x, view.pose.z]) - point(scene, "o", "eyes")[[0, 2]]
        # She faces −Z: her right is +X.
        if abs(way[0]) > 0.5:
            assert f"from their {'right' if way[0] > 0 else 'left'}" in view.reasons[0]
        assert (
            f"{view.focal_mm:g} mm from {np.linalg.norm([*way, view.pose.y - point(scene, 'o', 'eyes')[1]]):.1f} m"
            in view.reasons[0]
        )
        assert view.focus_m == pytest.approx(
            np.linalg.norm([*way, view.pose.y - point(scene, "o", "eyes")[1]]), abs=2e-3
        )
