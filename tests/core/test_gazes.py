"""Figures that look: eyes, head and chest, by scipy's rotations and a neck's published range of motion."""

import json

import numpy as np
import pytest
from scipy.spatial.transform import Rotation
from test_rigs import DEMO, pose

from heron.bake import Bake, ResultCache
from heron.commands import parse_commands, run
from heron.errors import HeronError, Refused
from heron.scene import find_named
from heron.stage.reference import OnFigure
from heron.stage.skeleton import JOINTS

FIRST = DEMO.frames.first
BRAM_EYES = {"kind": "figure", "figure": "fig-bram", "joint": "eyes"}


def looking(who, at, first, last, scene=DEMO, **rest):
    command = {
        "kind": "figure.act",
        "figure": f"fig-{who.lower()}",
        "act": {
            "kind": "look_at",
            "id": f"gaz-{who.lower()}",
            "at": at,
            "frames": {"first": first, "last": last},
            **rest,
        },
    }
    return run(scene, parse_commands(json.dumps(command)))


def joints(scene, who):
    """Each joint's rotation on the stage, by scipy down the tree from what is sent to be drawn; and its place."""
    bake = Bake(scene, ResultCache())
    figure = find_named(scene, "figures", who)
    row = bake.samples(figure).values
    turns, places = {}, {}
    for i, joint in enumerate(JOINTS):
        own = Rotation.from_quat(row[:, 7 + 4 * i : 11 + 4 * i])
        turns[joint.name] = own if joint.parent < 0 else turns[JOINTS[joint.parent].name] * own
        places[joint.name] = bake.place(OnFigure(figure=figure.id, joint=joint.name), scene.frames.array())
    return turns, places


def off(turns, places, joint, target):
    """(n,) degrees between the way a joint faces and a target."""
    line = target - places[joint]
    line /= np.linalg.norm(line, axis=1)[:, None]
    return np.degrees(np.arccos(np.clip(np.sum(turns[joint].apply([0, 0, -1]) * line, axis=1), -1, 1)))


def test_both_eyes_meet_on_what_is_near_and_the_head_does_its_share():
    near = {"kind": "point", "x": 0.3, "y": 1.6, "z": -9.1}  # 0.4 m before Bram's face at the end
    scene, said = looking("Bram", near, 1160, 1230)
    assert said == ["Bram looks at the place 0.30, 1.60, -9.10 from 1160 to 1230"]
    turns, places = joints(scene, "Bram")
    # He has nodded until 1216.
    target, held = np.array([0.3, 1.6, -9.1]), slice(1218 - FIRST, 1230 - FIRST)
    before = joints(DEMO, "Bram")
    for eye in ("eye_r", "eye_l"):
        assert off(turns, places, eye, target)[held].max() < 0.05 < off(*before, eye, target)[held].min()
    # The lines of sight come together there: the eyes are turned towards each other by the angle the pupils subtend.
    apart = np.linalg.norm(places["eye_r"] - places["eye_l"], axis=1)[held]
    away = np.linalg.norm(target - (places["eye_r"] + places["eye_l"]) / 2, axis=1)[held]
    between = np.degrees((turns["eye_r"].inv() * turns["eye_l"]).magnitude())[held]
    np.testing.assert_allclose(between, np.degrees(2 * np.arctan(apart / 2 / away)), rtol=0.05)
    # Let go, it is as if it had never looked.
    for joint in ("head", "eye_r", "chest", "wrist_l"):
        np.testing.assert_allclose(places[joint][1275 - FIRST :], before[1][joint][1275 - FIRST :], atol=1e-9)


@pytest.mark.parametrize("round_", [-170, -100, -60, -20, 35, 80, 150])
@pytest.mark.parametrize("rise", [-70, 0, 65])
def test_a_neck_and_eyes_stay_within_what_they_can_do(round_, rise):
    """Rotation 60°, extension and flexion 45° each: American Academy of Orthopaedic Surgeons (1965), from memory.

    Eyes 44° aside, 28° up, 47° down, from memory.
    """
    figure = find_named(DEMO, "figures", "Odile")
    start = Bake(DEMO, ResultCache()).place(OnFigure(figure=figure.id, joint="eyes"), np.array([1255]))[0]
    faces = Bake(DEMO, ResultCache()).rows(figure, np.array([1255]))[0, 3]
    way = Rotation.from_euler("YX", [faces + round_, rise], degrees=True).apply([0, 0, -6.0])
    x, y, z = (float(v) for v in start + way)
    scene, said = looking("Odile", {"kind": "point", "x": x, "y": y, "z": z}, 1242, 1280, head=1.0)
    turns, places = joints(scene, "Odile")
    neck = (turns["chest"].inv() * turns["head"]).as_euler("YXZ", degrees=True)
    assert np.abs(neck[:, 0]).max() <= 60 + 1e-6 and np.abs(neck[:, 1]).max() <= 45 + 1e-6
    for eye in ("eye_r", "eye_l"):
        own = (turns["head"].inv() * turns[eye]).as_euler("YXZ", degrees=True)
        assert np.abs(own[:, 0]).max() <= 44 + 1e-6
        assert own[:, 1].min() >= -47 - 1e-6 and own[:, 1].max() <= 28 + 1e-6
    # Nothing turns more than 30° from frame to frame, but for eyes: those leap (a saccade reaches 500 a second).
    for a, b in (("spine", "chest"), ("chest", "neck"), ("neck", "head")):
        own = turns[a].inv() * turns[b]
        assert np.degrees((own[:-1].inv() * own[1:]).magnitude()).max() < 30
    there = off(turns, places, "eye_r", np.array([x, y, z]))[1275 - FIRST]
    reaches = abs(round_) <= 100  # the neck's 60 and the eyes' 44
    if rise > -70:  # what lies so low behind is seen from either side
        assert (there < 0.1) == reaches and ("farther round" in said[0]) != reaches


def test_amounts_and_weight_share_out_the_turn():
    aside = {"kind": "point", "x": 3.0, "y": 1.6, "z": -11.0}

    def turned(**rest):
        scene, _ = looking("Odile", aside, 1242, 1285, **rest)
        turns, places = joints(scene, "Odile")
        return [
            off(turns, places, joint, np.array([3.0, 1.6, -11.0]))[1280 - FIRST]
            for joint in ("chest", "head", "eye_r")
        ]

    rest = turned(weight=0.0)
    chest, head, eye = turned(chest=0.0, head=0.0, eyes=1.0)
    assert chest == pytest.approx(rest[0]) and head == pytest.approx(rest[1], abs=0.5) and eye < rest[2] - 40
    chest, head, eye = turned(chest=0.0, head=1.0, eyes=0.0)
    assert head < 5 and chest == pytest.approx(rest[0])
    chest, _, _ = turned(chest=0.4, head=1.0, eyes=1.0)
    assert rest[0] - chest == pytest.approx(0.4 * rest[0], abs=3)
    half = turned(weight=0.5, chest=0.0, head=1.0, eyes=0.0)
    assert half[1] == pytest.approx((rest[1] + head) / 2, abs=2)


def test_as_many_looks_as_a_figure_may_have():
    figure, one = find_named(DEMO, "figures", "Bram"), find_named(DEMO, "figures", "Bram").gazes[0].plain
    many = [{**one, "id": f"g{i}"} for i in range(501)]
    assert len(type(figure).model_validate({**figure.plain, "acts": many[:500]}).gazes) == 500
    with pytest.raises(ValueError, match="500"):
        type(figure).model_validate({**figure.plain, "acts": many})
    for amount in ("weight", "eyes", "head", "chest"):
        for wrong in (1.01, -0.01):
            with pytest.raises(HeronError, match=amount.capitalize()):
                looking("Bram", BRAM_EYES, 1100, 1120, **{amount: wrong})


def test_two_look_at_each_other_and_at_cameras_that_follow_them():
    scene, _ = looking("Odile", BRAM_EYES, 1130, 1280)
    scene, _ = looking("Bram", {**BRAM_EYES, "figure": "fig-odile"}, 1150, 1230, scene)
    sight = {who: joints(scene, who) for who in ("Odile", "Bram")}
    between = {w: (p["eye_r"] + p["eye_l"]) / 2 for w, (_, p) in sight.items()}
    for who, other in (("Odile", "Bram"), ("Bram", "Odile")):
        # To where the other's eyes would be without looking back: a few centimetres off at most.
        assert off(*sight[who], "eye_l", between[other])[1200 - FIRST] < 2.0
    # Camera F follows her root, which never goes with her look: nothing waits for itself, and F does not move for it.
    at_f, said = looking("Odile", {"kind": "camera", "camera": "cam-f"}, 1020, 1100)
    assert said[0].startswith("Odile looks at camera F")
    # (But for its breath, which goes along the camera's own axes: F watches her head.)
    np.testing.assert_allclose(pose(at_f, "F")[:, :3], pose(DEMO, "F")[:, :3], atol=1e-4)
    turns, places = joints(at_f, "Odile")
    assert off(turns, places, "eye_r", pose(at_f, "F")[:, :3])[1060 - FIRST] < 0.5
    # A camera that rides on her head would be: refused by name.
    ride = {"kind": "rig.ride", "camera": "cam-b", "figure": "fig-odile", "how": "eyes", "frame": 1100}
    ridden, _ = run(DEMO, parse_commands(json.dumps(ride)))
    with pytest.raises(Refused, match=r"(?s)(Odile.*amera B|amera B.*Odile)"):
        looking("Odile", {"kind": "camera", "camera": "cam-b"}, 1020, 1100, ridden)
    with pytest.raises(Refused, match="itself"):
        looking("Odile", {**BRAM_EYES, "figure": "fig-odile"}, 1020, 1100)


def test_what_goes_by_a_head_goes_with_its_look_and_what_goes_by_the_root_is_not_baked_anew():
    scene, _ = looking("Odile", {"kind": "mover", "mover": "mov-heron"}, 1020, 1150, chest=0.6)
    was, now = Bake(DEMO, ResultCache()), Bake(scene, ResultCache())
    keys = {c.letter: was.key(c) == now.key(find_named(scene, "cameras", c.letter)) for c in DEMO.cameras}
    # G watches her head; H rides on her root and watches Bram, whose focus it has too.
    assert not keys["G"] and keys["H"] and keys["D"]
    assert np.abs(pose(scene, "G") - pose(DEMO, "G"))[60:140].max() > 1e-4
    deleted, said = run(scene, parse_commands(json.dumps({"kind": "things.delete", "ids": ["mov-heron"]})))
    gaze = find_named(deleted, "figures", "Odile").gazes[0]
    assert gaze.at.kind == "point" and "the look of Odile and Bram stays where it was" in said[0]


@pytest.mark.parametrize(("yaw", "reached"), [(38.0, True), (44.0, False)])
def test_a_look_is_missed_when_either_eye_does_not_reach_it(yaw, reached):
    """Half a metre off, the two eyes differ by 7°: at 44° to the left of the head one is within its 44° and one is not."""
    frame = FIRST + 30
    turns, places = joints(DEMO, "Bram")
    i = frame - FIRST
    middle = (places["eye_r"][i] + places["eye_l"][i]) / 2
    turn = turns["head"][i]
    ahead = [-np.sin(np.radians(yaw)), 0.0, -np.cos(np.radians(yaw))]
    target = middle + 0.5 * turn.apply(ahead)
    own = [turn.inv().apply(target - places[f"eye_{side}"][i]) for side in "rl"]
    round_ = [np.degrees(np.arctan2(-v[0], -v[2])) for v in own]
    assert (min(round_) < 43 and max(round_) > 45) != reached
    at = {"kind": "point", **dict(zip("xyz", map(float, target), strict=True))}
    scene, _ = looking("Bram", at, frame - 20, frame + 20, head=0, chest=0)
    told = Bake(scene, ResultCache()).samples(find_named(scene, "figures", "Bram")).facts
    assert ("gaz-bram" in told["missed"]) != reached
