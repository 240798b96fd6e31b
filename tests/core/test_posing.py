"""Poses made by hand: parts dragged on the stage, numbers of acts with keys, kept poses put on others."""

import json

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from heron.bake import Bake
from heron.commands import parse_commands, run
from heron.commands.posing import HELD_BY
from heron.errors import HeronError
from heron.scene import empty_scene, find, read_scene, write_scene
from heron.stage.reference import OnFigure

AT = 1060


def do(scene, *commands):
    return run(scene, parse_commands(json.dumps(list(commands))))


def stage(*commands, heading=25):
    return do(
        empty_scene("Poses"),
        {
            "kind": "figure.add",
            "id": "o",
            "name": "Odile",
            "stature": 1.68,
            "x": 1,
            "z": 2,
            "heading": heading,
        },
        {"kind": "figure.add", "id": "b", "name": "Bram", "stature": 1.4, "x": 4, "z": 2},
        *commands,
    )[0]


def drag(part, dx=0.0, dy=0.0, dz=0.0, **more):
    return {"kind": "figure.pose.move", "figure": "o", "named": "p", "part": part, "frame": AT, "dx": dx, "dy": dy, "dz": dz, **more}  # fmt: skip


def place(scene, joint, figure="o", frame=AT):
    return Bake(scene).place(OnFigure(figure=figure, joint=joint), np.array([frame]))[0]


def pose(scene, figure="o"):
    return next(act for act in find(scene, "figures", figure).acts if act.kind == "pose")


@pytest.mark.parametrize("heading", [0, 25, -140])
@pytest.mark.parametrize("part", ["right_hand", "left_hand", "right_foot"])
def test_what_is_dragged_comes_along_with_the_hand_on_the_stage(part, heading):
    """The palm or the ankle goes by what it was dragged by, whichever way the figure faces; and back by as much."""
    scene, by = stage(heading=heading), np.array([0.08, 0.16, -0.05])
    after, (said,) = do(scene, drag(part, *by))
    assert said == f"Moved Odile's {part.replace('_', ' ')} at {AT}; made a pose at 1051–1098"
    joint = HELD_BY[part]
    np.testing.assert_allclose(place(after, joint) - place(scene, joint), by, atol=0.004)
    # Elsewhere in time nothing is otherwise.
    np.testing.assert_allclose(place(after, joint, frame=1140), place(scene, joint, frame=1140), atol=1e-9)
    back, _ = do(after, drag(part, *-by))
    np.testing.assert_allclose(place(back, joint), place(scene, joint), atol=0.004)


def test_hips_carry_the_body_and_a_head_bends_the_trunk():
    scene = stage(heading=0)
    low, _ = do(scene, drag("hips", 0.05, -0.2, 0))
    np.testing.assert_allclose(place(low, "pelvis") - place(scene, "pelvis"), [0.05, -0.2, 0], atol=0.012)
    # The feet stay where they are.
    np.testing.assert_allclose(place(low, "ankle_r"), place(scene, "ankle_r"), atol=0.003)
    # Faces −Z: dragged ahead the head comes ahead, by the trunk's own length at about that angle.
    bent, _ = do(scene, drag("head", 0, 0, -0.25))
    moved = place(bent, "head") - place(scene, "head")
    assert moved[2] == pytest.approx(-0.25, abs=0.06) and abs(moved[0]) < 0.02
    angle = pose(bent).bend.rest
    trunk = Rotation.from_euler("x", -angle, degrees=True).apply(place(scene, "head") - place(scene, "spine"))
    assert moved[2] == pytest.approx(trunk[2], abs=0.06)


def test_a_limb_and_a_joint_go_no_farther_than_they_can_and_it_is_said():
    """An arm is 0.386 statures long from shoulder to knuckles (Drillis and Contini, from memory)."""
    scene = stage()
    far, (said,) = do(scene, drag("right_hand", 1.3, 0.6, 0))
    shoulder, hand = place(far, "shoulder_r"), place(far, "knuckle_r")
    assert "the arm reaches no farther" in said
    assert np.linalg.norm(hand - shoulder) <= (0.186 + 0.146 + 0.054) * 1.68 + 1e-6
    under, (said,) = do(scene, drag("right_foot", 0, -0.3, 0))
    assert "r foot up goes no farther" in said and pose(under).right_foot_up.rest == 0.0
    bowed, (said,) = do(scene, drag("head", 0, 0, -4), drag("head", 0, 0, -4))[0], [""]
    assert pose(bowed).bend.rest <= 80
    late = do(scene, drag("right_hand", 0, 0.2, 0))[0]
    with pytest.raises(HeronError, match="hardly begun at 1051"):
        do(late, {**drag("right_hand", 0, 0.1, 0), "frame": 1051})


def test_numbers_of_a_pose_have_keys_that_go_with_it_in_time():
    scene, _ = do(stage(), drag("right_hand", 0, 0.1, 0))
    # Without a key it is the number itself that is set, at whatever frame.
    still, _ = do(
        scene, {"kind": "number.set", "thing": "o", "channel": "p.twist", "value": 9, "frame": 1070}
    )
    assert (pose(still).twist.rest, pose(still).twist.keys) == (9, ())
    up = {"kind": "number.set", "thing": "o", "channel": "p.right_hand_up", "key": True}
    scene, said = do(scene, {**up, "value": 0.1, "frame": 1065}, {**up, "value": 0.4, "frame": 1085})
    assert said[-1] == "Set r hand up of Odile's pose to 0.4 m at 1085"
    rise = place(scene, "knuckle_r", frame=1085)[1] - place(scene, "knuckle_r", frame=1065)[1]
    assert rise == pytest.approx(0.3, abs=0.01)
    # Halfway between two eased keys it is halfway.
    assert place(scene, "knuckle_r", frame=1075)[1] - place(scene, "knuckle_r", frame=1065)[
        1
    ] == pytest.approx(0.15, abs=0.01)
    # A drag between them sets a key there.
    dragged, _ = do(scene, {**drag("right_hand", 0, 0.1, 0), "frame": 1075})
    assert [k.frame for k in pose(dragged).right_hand_up.keys] == [1065, 1075, 1085]
    moved, _ = do(scene, {"kind": "figure.acts.move", "figure": "o", "ids": ["p"], "by": 20})
    assert [k.frame for k in pose(moved).right_hand_up.keys] == [1085, 1105]
    shaped, _ = do(
        scene,
        {
            "kind": "keys.move",
            "keys": [{"thing": "o", "channel": "p.right_hand_up", "frame": 1085}],
            "by": 5,
            "up": 0.1,
        },
    )
    assert pose(shaped).right_hand_up.keys[-1].frame == 1090 and pose(shaped).right_hand_up.keys[
        -1
    ].value == pytest.approx(0.5)
    assert read_scene(write_scene(shaped)) == shaped
    facts = Bake(scene).samples(find(scene, "figures", "o")).facts["keyed"]["p.right_hand_up"]
    assert (facts[64], facts[84]) == (0.1, 0.4)
    with pytest.raises(HeronError, match=r"R hand up must be from -1\.5 m to 1\.5 m"):
        do(scene, {**up, "value": 2, "frame": 1065})


def test_an_expression_grows_by_its_keys_and_a_face_made_by_hand_too():
    joy = {
        "kind": "express",
        "id": "j",
        "frames": {"first": 1010, "last": 1200},
        "expression": "joy",
        "amount": 0.2,
    }
    scene, _ = do(
        stage(),
        {"kind": "figure.act", "figure": "o", "act": joy},
        {"kind": "number.set", "thing": "o", "channel": "j.amount", "value": 0.2, "frame": 1060, "key": True},
        {"kind": "number.set", "thing": "o", "channel": "j.amount", "value": 0.8, "frame": 1120, "key": True},
    )
    corner = Bake(scene).samples(find(scene, "figures", "o")).column("face.corner")
    # Joy raises the corners by 0.9 at its full amount.
    assert corner[59] == pytest.approx(0.9 * 0.2) and corner[119] == pytest.approx(0.9 * 0.8)


def test_a_kept_pose_fits_who_it_is_put_on():
    """A hand raised by a share of one stature is raised by the same share of another."""
    scene = stage()
    numbers = {"right_hand_up": 0.336, "twist": 20.0}
    put = {
        "kind": "figure.pose.put",
        "figure": "b",
        "id": "q",
        "frame": AT,
        "name": "Hail",
        "numbers": numbers,
        "stature": 1.68,
    }
    after, (said,) = do(scene, put)
    made = pose(after, "b")
    assert said == "Had Bram pose “Hail” at 1051–1098 (48 f)" and made.name == "Hail"
    assert made.right_hand_up.rest == pytest.approx(0.28) and made.twist.rest == 20
    rise = place(after, "knuckle_r", "b") - place(scene, "knuckle_r", "b")
    assert rise[1] == pytest.approx(0.28, abs=0.03)
    # Copied from one to the other it is scaled, too; and back, as it was.
    copy = {"kind": "figure.acts.copy", "figure": "b", "ids": ["q"], "to": "o"}
    hers = pose(do(after, copy)[0])
    assert hers.right_hand_up.rest == pytest.approx(0.336, abs=1e-4) and hers.twist.rest == 20
    with pytest.raises(HeronError, match="no channel 'left_knee'"):
        do(scene, {**put, "numbers": {"left_knee": 1}})


def test_a_pose_is_named_by_its_id_and_only_poses_are_dragged_or_kept_as_such():
    wave = {
        "kind": "figure.act",
        "figure": "o",
        "act": {"kind": "wave", "id": "w", "frames": {"first": 1040, "last": 1100}},
    }
    scene, _ = do(stage(), wave, drag("hips", 0, -0.1, 0))
    with pytest.raises(HeronError, match="Only a pose is dragged"):
        do(scene, drag("hips", 0, -0.1, 0, id="w"))
    second = {**drag("left_hand", 0, 0.1, 0), "named": "p2", "frame": 1140}
    both, (said,) = do(scene, second)
    assert "made a pose at 1131–1178" in said
    # The one that is named is moved, though another is under way; what is not there begins a new one.
    named, _ = do(both, {**drag("left_hand", 0, 0.2, 0, id="p2"), "frame": 1150})
    hands = {a.id: a.left_hand_up.rest for a in find(named, "figures", "o").acts if a.kind == "pose"}
    assert hands == {"p": 0.0, "p2": pytest.approx(0.3)}
    gone, _ = do(both, drag("left_hand", 0, 0.2, 0, id="nobody"))
    assert next(a for a in find(gone, "figures", "o").acts if a.id == "p").left_hand_up.rest == pytest.approx(
        0.2
    )


@pytest.mark.parametrize(
    ("command", "words"),
    [
        ({"kind": "number.set", "thing": "o", "channel": "p.left_knee", "value": 1, "frame": AT}, "no channel 'p.left_knee'"),
        ({"kind": "number.set", "thing": "o", "channel": "p.twist", "value": 90, "frame": AT}, "Turn left must be from -45° to 45°; it was 90°"),
        ({"kind": "number.set", "thing": "o", "channel": "p.twist", "value": 9, "frame": 5, "key": True}, "outside the scene"),
        ({"kind": "keys.set", "keys": [{"thing": "o", "channel": "p.twist", "frame": AT, "value": 90}]}, "Turn left must be from"),
        ({**drag("hips", 0, 0.1, 0), "frame": 5}, "outside the scene"),
        ({"kind": "figure.pose.mirror", "figure": "o", "id": "q"}, "has no act q"),
    ],
)  # fmt: skip
def test_what_no_pose_can_have_is_refused_with_its_reason(command, words):
    scene, _ = do(stage(), drag("hips", 0, -0.1, 0))
    with pytest.raises(HeronError, match=words):
        do(scene, command)
