"""Starting points: each is framed for whom it is of, by the trade's habits (common practice, unless said otherwise)."""

import json

import numpy as np
import pytest
from test_rigs import DEMO, HIGH, WIDE, pixels, place, pose, samples

from heron.commands import parse_commands, run
from heron.errors import Refused
from heron.model import changed
from heron.scene import find_named
from heron.stage.skeleton import EYE

#: Where the lower edge cuts a body, shares of stature: a medium at the waist, a medium full at the shin; a full figure
#: takes 0.7 of the frame's height, its eyes on the upper third.
CUTS = {"medium": 0.56, "medium full": 0.2, "full": EYE - 2 / 3 / 0.7}


def started(shot, *figures, frame=1100, camera="cam-b", scene=DEMO):
    command = {"kind": "rig.start", "camera": camera, "shot": shot, "figures": list(figures), "frame": frame}
    return run(scene, parse_commands(json.dumps(command)))


def seen(scene, frame, who, joint="eyes", camera="B", below=0.0):
    """(x, y), −1 to 1, where OpenCV sees a place of somebody, so far below it."""
    found, point = samples(scene, camera), place(scene, joint, who)[frame - 1001] - [0, below, 0]
    at = pixels(found.values[frame - 1001], found.columns, point)
    return np.array([at[0] / WIDE * 2 - 1, 1 - at[1] / HIGH * 2])


@pytest.mark.parametrize(
    ("shot", "size", "across"),
    [
        ("single", "medium", -1 / 6),
        ("front lead", "medium full", 0),
        ("from behind", "medium full", 0),
        ("side track", "full", 1 / 3),
    ],
)
def test_a_start_is_the_size_it_says_at_its_place_and_focused_on_her(shot, size, across):
    scene, (said,) = started(shot, "fig-odile")
    assert said.startswith(f"Camera B is a {shot} of Odile: {size}, from ") and said.endswith("on Odile")
    px = 3 / 960  # of a frame 1,920 wide
    below = (EYE - CUTS[size]) * 1.68
    np.testing.assert_allclose(seen(scene, 1100, "Odile"), [across, 1 / 3], atol=px)
    np.testing.assert_allclose(seen(scene, 1100, "Odile", below=below)[1], -1, atol=px)
    camera = find_named(scene, "cameras", "B")
    assert (camera.focus.on.figure, camera.focus.on.joint) == ("fig-odile", "eyes")
    # A whole figure at 40 mm.
    assert (camera.focal.rest == 40) == (shot == "side track")
    # She stays where she is put, whatever she does: by her head, which nods less than her eyes.
    for frame in (1020, 1150, 1250):
        assert np.abs(seen(scene, frame, "Odile") - [across, 1 / 3]).max() < 0.09


def test_from_the_side_she_has_room_where_she_goes():
    scene, _ = started("side track", "fig-odile")
    root = place(scene)
    there = place(scene, "head")[99] + root[1130 - 1001] - root[1100 - 1001]
    found = samples(scene)
    ahead = pixels(found.values[99], found.columns, there)[0] / WIDE * 2 - 1
    across = seen(scene, 1100, "Odile")[0]
    assert (ahead - across) * across < 0


def head_span(scene, who, frame, camera):
    """Left and right edge of a head in the frame: 0.09 of stature wide (Drillis and Contini, from memory)."""
    at = place(scene, "head", who)[frame - 1001]
    found = samples(scene, camera)
    row = found.values[frame - 1001]
    right = np.array([np.cos(np.radians(row[3])), 0, -np.sin(np.radians(row[3]))])
    half = 0.045 * {"Odile": 1.68, "Bram": 1.86}[who] * right
    return [pixels(row, found.columns, at + way * half)[0] / WIDE * 2 - 1 for way in (-1, 1)]


# Before and after she takes the oar from him: while they reach for it they are too near each other for one lens.
@pytest.mark.parametrize("frame", [1180, 1250])
@pytest.mark.parametrize("first", [0, 1])
def test_over_the_shoulder_shows_the_face_the_shoulder_and_a_pair_that_matches(frame, first):
    """B's face clear, A's head and shoulder in the frame, both directions on one side, one lens."""
    ids, names = ["fig-odile", "fig-bram"], ["Odile", "Bram"]
    a, b = first, 1 - first
    scene, (said,) = started("over the shoulder", ids[a], ids[b], frame=frame, camera="cam-b")
    assert f"an over the shoulder of {names[b]} over {names[a]}: medium" in said
    scene, _ = started("over the shoulder", ids[b], ids[a], frame=frame, camera="cam-a", scene=scene)
    crossing = []
    for letter, near, far in (("B", names[a], names[b]), ("A", names[b], names[a])):
        face = seen(scene, frame, far, camera=letter)
        np.testing.assert_allclose([abs(face[0]), face[1]], [0.28, 1 / 3], atol=3 / 960)
        low = seen(scene, frame, far, camera=letter, below=(EYE - 0.56) * {"Odile": 1.68, "Bram": 1.86}[far])
        np.testing.assert_allclose(low[1], -1, atol=3 / 960)
        left, right = head_span(scene, near, frame, letter)
        # On the other side, well in the frame, and clear of the face.
        assert np.sign(left + right) == -np.sign(face[0]) and min(abs(left), abs(right)) < 0.9
        other = head_span(scene, far, frame, letter)
        assert right < other[0] or left > other[1], (left, right, other)
        shoulders = [seen(scene, frame, near, f"shoulder_{s}", letter) for s in "rl"]
        assert min(np.abs(one).max() for one in shoulders) < 1
        here = pose(scene, letter)[frame - 1001]
        assert 0.6 < np.hypot(*(here[[0, 2]] - place(scene, "eyes", near)[frame - 1001][[0, 2]])) < 2.5
        line = [place(scene, "head", n)[frame - 1001][[0, 2]] for n in names]
        (ux, uz), (vx, vz) = line[1] - line[0], here[[0, 2]] - line[0]
        crossing.append(np.sign(ux * vz - uz * vx))
        assert find_named(scene, "cameras", letter).focus.on.figure == {"Odile": ids[0], "Bram": ids[1]}[far]
    assert crossing[0] == crossing[1]
    one, other = (find_named(scene, "cameras", letter) for letter in "AB")
    assert one.focal.rest == other.focal.rest and one.mounted == other.mounted


@pytest.mark.parametrize("first", [1, -1])
def test_the_second_of_a_pair_comes_to_the_side_of_the_line_where_the_first_stands(first):
    """Common practice: both of a pair stay on one side, wherever the second camera stood before."""
    a, b = (place(DEMO, "head", who)[199][[0, 2]] for who in ("Odile", "Bram"))
    # None of the demo's cameras goes by the two any more.
    scene = DEMO.having(cameras=tuple(changed(camera, layers=()) for camera in DEMO.cameras))
    for id_, side in (("one", first), ("two", -first)):
        x, z = (a + b) / 2 + 3 * side * np.array([b[1] - a[1], a[0] - b[0]]) / np.hypot(*(b - a))
        add = {"kind": "camera.add", "id": id_, "name": id_, "pose": {"x": float(x), "y": 1.6, "z": float(z)}}
        scene, _ = run(scene, parse_commands(json.dumps(add)))
    scene, _ = started("over the shoulder", "fig-odile", "fig-bram", frame=1200, camera="one", scene=scene)
    scene, _ = started("over the shoulder", "fig-bram", "fig-odile", frame=1200, camera="two", scene=scene)
    for camera in scene.cameras[-2:]:
        x, z = pose(scene, camera.letter)[199, [0, 2]] - a
        assert np.sign(x * (b - a)[1] - z * (b - a)[0]) == first


def test_two_people_are_both_in_it_and_stay_so_all_round():
    scene, _ = started("two-shot", "fig-odile", "fig-bram", frame=1200)
    both = [seen(scene, 1200, who) for who in ("Odile", "Bram")]
    assert max(one[1] for one in both) == pytest.approx(1 / 3, abs=3 / 960)
    assert all(np.abs(one).max() < 0.65 for one in both) and both[0][0] * both[1][0] < 0
    scene, (said,) = started("orbit", "fig-odile", "fig-bram", frame=1200)
    assert "an orbit of Odile and Bram" in said
    for frame in range(1200, 1297, 12):
        assert all(np.abs(seen(scene, frame, who)).max() < 0.95 for who in ("Odile", "Bram")), frame
    here, there = (pose(scene)[frame - 1001, [0, 2]] for frame in (1200, 1296))
    assert np.hypot(*(there - here)) > 1.5
    # It begins on the side where the camera stood.
    middle = np.mean([place(scene, "head", who)[199][[0, 2]] for who in ("Odile", "Bram")], axis=0)
    was, now = pose(DEMO)[199, [0, 2]] - middle, here - middle
    assert was @ now > 0 and abs(was[0] * now[1] - was[1] * now[0]) < 1e-6 * np.hypot(*was)
    with pytest.raises(Refused, match="outside the scene"):
        started("single", "fig-odile", frame=900)
    with pytest.raises(Refused, match="two figures"):
        started("two-shot", "fig-odile")
    with pytest.raises(Refused, match="m apart"):
        started("over the shoulder", "fig-odile", "fig-bram", frame=1001)


def test_an_orbit_goes_round_evenly_however_they_turn_meanwhile():
    odile = find_named(DEMO, "figures", "Odile")
    turn = next(act.id for act in odile.acts if act.kind == "turn")
    stays = run(
        DEMO, parse_commands(json.dumps({"kind": "figure.act.delete", "figure": odile.id, "ids": [turn]}))
    )[0]
    paths = [
        pose(started("orbit", odile.id, "fig-bram", frame=1280, scene=one)[0])[279:, [0, 2]]
        for one in (DEMO, stays)
    ]
    # She turns by tens of degrees; only her head moves by a little.
    assert np.hypot(*(paths[0][-1] - paths[0][0])) > 0.5
    np.testing.assert_allclose(paths[0], paths[1], atol=0.15)


def test_through_somebodys_eyes_it_is_focused_on_what_they_look_at():
    for frame, on in ((1200, "fig-bram"), (1300, "mov-heron")):
        ride = {"kind": "rig.ride", "camera": "cam-b", "figure": "fig-odile", "how": "eyes", "frame": frame}
        scene, (said,) = run(DEMO, parse_commands(json.dumps(ride)))
        focus = find_named(scene, "cameras", "B").focus.on
        assert getattr(focus, "figure", None) == on or getattr(focus, "mover", None) == on, said
        assert "focused on" in said
    facing = {"kind": "rig.ride", "camera": "cam-b", "figure": "fig-odile", "how": "facing", "frame": 1200}
    scene, _ = run(DEMO, parse_commands(json.dumps(facing)))
    assert find_named(scene, "cameras", "B").focus.on.figure == "fig-odile"
