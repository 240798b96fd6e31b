"""Recorded motion: skeletons of six kinds read, mapped and carried over to a figure, against forward kinematics by scipy."""

import json

import numpy as np
import pytest
from kept_files import STORE, files
from rigs_made import OURS, bvh, walking
from scipy.spatial.transform import Rotation

from heron.bake import Bake
from heron.cli import main
from heron.commands import parse_commands, run
from heron.errors import BadInput, HeronError
from heron.formats.bringing.bvh_in import read_bvh
from heron.formats.bringing.kept import keep_motion
from heron.formats.bringing.motion import skeleton_of
from heron.formats.bringing.recognise import inspected
from heron.formats.bringing.retarget import standing
from heron.formats.bringing.side_by_side import MOST
from heron.formats.gltf import write_body, write_stage
from heron.scene import empty_scene, read_scene, write_scene
from heron.stage.models import find_files
from heron.stage.motions import read_recording, write_recording
from heron.stage.motions.recording import LEG
from heron.stage.skeleton import INDEX, JOINTS

assert files  # a fixture of every test here
#: Rest pose, names, unit in metres, up, the way it faces, order of rotations.
KINDS = (
    ("T", "words", 0.01, "y", "+z", "ZXY"), ("A", "prefixed", 0.0254, "z", "-z", "XYZ"), ("hanging", "plain", 1.0, "y", "+x", "YXZ"),
    ("T", "none", 0.001, "z", "+x", "ZYX"), ("A", "words", 1.0, "y", "-x", "XZY"), ("hanging", "none", 0.01, "y", "+z", "YZX"),
)  # fmt: skip


def made(kind, **more):
    rest, names, unit, up, faces, order = kind
    rig = walking(names=names, rest=rest, **more)
    return rig, bvh(rig, unit, up, faces, order)


def stage(content, fps=30, stature=1.8, heading=40.0, **act):
    """A figure that does it from frame 1021 on, after it stood."""
    kept = keep_motion(read_bvh(content, "walk.bvh"), "walk.bvh")
    STORE[kept.key] = kept.content
    first = 1021
    frames = {"first": first, "last": first + (round(kept.seconds * fps) + 1) - 1}
    commands = [
        {"kind": "scene.set", "rate": str(fps)},
        {
            "kind": "figure.add",
            "id": "f",
            "name": "Bram",
            "x": 2,
            "z": -1,
            "stature": stature,
            "heading": heading,
        },
        {
            "kind": "figure.act",
            "figure": "f",
            "act": {"kind": "recorded", "file": kept.key, "name": "walk", "frames": frames, **act},
        },
    ]
    scene = run(empty_scene("S"), parse_commands(json.dumps(commands)))[0]
    done = Bake(scene).performance(scene.figures[0])
    return (
        scene,
        done,
        slice(first - scene.frames.first, first - scene.frames.first + (round(kept.seconds * fps) + 1)),
    )


#: From the rig's frame (left +X, facing +Z) to the stage's (right +X, facing −Z).
TO_STAGE = np.diag([-1.0, 1.0, -1.0])


@pytest.mark.parametrize("kind", KINDS)
def test_joints_are_found_whatever_they_are_called(kind):
    rig, content = made(kind)
    skeleton = read_bvh(content, "a.bvh")
    person, at_rest = standing(skeleton)
    assert at_rest
    found = {ours: rig.keys[rig.names.index(skeleton.names[i])] for ours, i in person.joints.items()}
    assert found == OURS
    told = inspected(content, "a.bvh", lambda n: None)
    assert (
        told["kind"] == "motion"
        and told["clips"] == [{"name": "a", "frames": 91}]
        and len(told["joints"]) == 21
    )
    assert (
        told["unit"] == {0.01: "cm", 0.0254: "inch", 1.0: "m", 0.001: "mm"}[kind[2]] and told["up"] == kind[3]
    )


@pytest.mark.parametrize("kind", KINDS)
def test_places_are_those_of_forward_kinematics(kind):
    rig, content = made(kind)
    skeleton = read_bvh(content, "a.bvh")
    ours = [skeleton.names.index(name) for name in rig.names]
    to = {"y": np.eye(3), "z": np.array([[1, 0, 0], [0, 0, -1], [0, 1, 0]])}[kind[3]]
    frame = (
        to
        @ Rotation.from_euler(
            "Y", {"+z": 0, "-z": 180, "+x": 90, "-x": -90}[kind[4]], degrees=True
        ).as_matrix()
    )
    want = rig.places() @ frame.T / kind[2]
    assert skeleton.rate == 30
    # To the digits of the file.
    assert np.abs(skeleton.places[:, :, :3, 3][:, ours] - want).max() < 2e-4 * 1.8 / kind[2] + 1e-3


@pytest.mark.parametrize("kind", KINDS)
def test_limbs_point_where_they_did_hips_and_ankles_are_where_they_were(kind):
    """Arms within 1° of the source, hips within 2 cm and ankles within 3 cm of it scaled, once the feet are set."""
    rig, content = made(kind)
    _, done, rows = stage(content)
    n = rows.stop - rows.start
    theirs = rig.places() @ TO_STAGE.T
    leg = np.linalg.norm(rig.rest[rig.keys.index("rshin")] - rig.rest[rig.keys.index("rthigh")])
    leg += np.linalg.norm(rig.rest[rig.keys.index("rfoot")] - rig.rest[rig.keys.index("rshin")])
    scale = 0.491 * 1.8 / leg
    # It stands at (2, −1), 40° to the left, and begins at the rig's first hips, the way those face.
    first_yaw = rig.turns["hips"][0].as_euler("YXZ", degrees=True)[0]
    turn = Rotation.from_euler("Y", 40.0 - first_yaw, degrees=True)
    settled = slice(rows.start + 10, rows.stop - 10)
    own = slice(10, n - 10)
    place = lambda key: theirs[own, rig.keys.index(key)]  # noqa: E731
    for a, b, one, two in (
        ("shoulder_r", "elbow_r", "rarm", "rfore"), ("elbow_r", "wrist_r", "rfore", "rhand"), ("shoulder_l", "elbow_l", "larm", "lfore"),
        ("elbow_l", "wrist_l", "lfore", "lhand"),
    ):  # fmt: skip
        ours = done.places[settled, INDEX[b]] - done.places[settled, INDEX[a]]
        want = turn.apply(place(two) - place(one))
        cos = np.sum(ours * want, axis=1) / np.linalg.norm(ours, axis=1) / np.linalg.norm(want, axis=1)
        assert np.degrees(np.arccos(np.clip(cos, -1, 1))).max() < 1.0, a
    begin = theirs[0, [rig.keys.index("rthigh"), rig.keys.index("lthigh")]].mean(axis=0) * [1, 0, 1]
    lowest = np.quantile(theirs[:, [rig.keys.index("rfoot"), rig.keys.index("lfoot")], 1].min(axis=1), 0.05)
    up = 0.039 * 1.8

    def scaled(key):
        return np.array([2, 0, -1]) + turn.apply(scale * (place(key) - begin - [0, lowest, 0])) + [0, up, 0]

    # Its hips are as wide as a figure's: their middle is compared.
    middle = (done.places[settled, INDEX["hip_r"]] + done.places[settled, INDEX["hip_l"]]) / 2
    assert np.linalg.norm(middle - (scaled("rthigh") + scaled("lthigh")) / 2, axis=1).max() < 0.02
    for ours, key in (("ankle_r", "rfoot"), ("ankle_l", "lfoot")):
        assert np.linalg.norm(done.places[settled, INDEX[ours]] - scaled(key), axis=1).max() < 0.03, ours


def test_feet_that_stand_do_not_slide_though_the_recording_drifts():
    rig = walking()
    # A drift of 2 cm a second under everything.
    rig.root[:, 0] += 0.02 * np.arange(len(rig.root)) / rig.fps
    _, done, rows = stage(bvh(rig))
    for side in "rl":
        foot = done.feet[side]
        planted = foot.planted[rows.start + 10 : rows.stop - 10]
        ball = done.places[rows.start + 10 : rows.stop - 10, INDEX[f"ball_{side}"]]
        assert planted.mean() > 0.3
        edges = np.flatnonzero(np.diff(np.r_[0, planted.astype(int), 0]))
        for a, b in zip(edges[::2], edges[1::2], strict=True):
            if b - a > 4:
                inside = ball[a + 1 : b - 1, [0, 2]]
                assert np.linalg.norm(inside - inside.mean(axis=0), axis=1).max() < 0.015


def test_it_is_resampled_to_the_scene_s_rate_and_blends_in_over_eight_frames():
    _, content = made(KINDS[0])
    _, at30, rows30 = stage(content, fps=30)
    _, at24, rows24 = stage(content, fps=24)
    assert rows24.stop - rows24.start == 73  # three seconds
    elbow = INDEX["wrist_r"]
    for second in (1.0, 2.0):
        a = at30.places[rows30.start + round(30 * second), elbow]
        b = at24.places[rows24.start + round(24 * second), elbow]
        assert a == pytest.approx(b, abs=0.01)
    steps = np.linalg.norm(np.diff(at30.places[:, elbow], axis=0), axis=1)
    assert steps.max() < 0.16  # no jump where it begins or ends


def test_it_begins_where_the_figure_stands_and_can_stay_there():
    _, content = made(KINDS[0])
    _, done, rows = stage(content)
    assert done.root[rows.start, [0, 2]] == pytest.approx([2, -1], abs=1e-6)
    went = done.root[rows.stop - 1, [0, 2]] - done.root[rows.start, [0, 2]]
    leg = 0.9 * (0.49 + 0.49)
    assert np.linalg.norm(went) == pytest.approx(3.6 * 0.491 * 1.8 / leg, rel=0.01)
    ahead = -np.array([np.sin(np.radians(40)), np.cos(np.radians(40))])
    assert went @ ahead / np.linalg.norm(went) > 0.999
    _, stays, rows = stage(content, goes=False)
    assert np.abs(stays.root[:, [0, 2]] - [2, -1]).max() < 1e-6
    # Played three times it goes on from where it was.
    scene, _, rows = stage(content)
    act = scene.figures[0].acts[0]
    again = {
        "kind": "figure.act.set",
        "figure": "f",
        "act": {
            **act.model_dump(mode="json"),
            "repeat": 3,
            "frames": {"first": 1021, "last": 1021 + 3 * 91 - 1},
        },
    }
    scene = run(
        scene,
        parse_commands(json.dumps([{"kind": "scene.set", "frames": {"first": 1001, "last": 1400}}, again])),
    )[0]
    three = Bake(scene).performance(scene.figures[0])
    far = np.linalg.norm(three.root[-1, [0, 2]] - [2, -1])
    assert far == pytest.approx(3 * np.linalg.norm(went), rel=0.03)
    assert np.linalg.norm(np.diff(three.root[:, [0, 2]], axis=0), axis=1).max() < 0.09


def test_a_pose_for_setting_up_is_left_out_and_root_offsets_are_told_apart():
    rig = walking(rest="T")
    first = bvh(rig).decode().split("\n")
    at = next(i for i, line in enumerate(first) if line.startswith("Frame Time")) + 1
    first.insert(at, " ".join(["0"] * len(first[at].split())))
    first[at - 2] = f"Frames: {len(rig.root) + 1}"
    kept = keep_motion(read_bvh("\n".join(first).encode(), "a.bvh"), "a.bvh")
    assert any("setting up" in one for one in kept.said)
    assert len(read_recording(kept.content).heading) == len(rig.root)


def test_a_frame_time_that_was_rounded_is_the_rate_it_stands_for():
    rig = walking()
    for time, rate in (
        (0.0333333, 30),
        (0.041667, 24),
        (0.0083333, 120),
        (0.0417083, 23.976023976),
        (0.05, 20),
    ):
        assert read_bvh(bvh(rig, time=time), "a.bvh").rate == pytest.approx(rate, rel=1e-6)


def cut(text, old, new):
    assert old in text
    return text.replace(old, new, 1)


WHOLE = bvh(walking(seconds=0.5)).decode()
BAD = {
    "no hierarchy": ("MOTION\nFrames: 2", "no HIERARCHY"),
    "no motion": (WHOLE.split("MOTION")[0], "no MOTION"),
    "no frames": (cut(WHOLE, "Frames: 16", "Frames: 0"), "no frames"),
    "frame time": (cut(WHOLE, "Frame Time: 0.0333333", "Frame Time: 5"), "frame time"),
    "values short": (WHOLE.rsplit(" ", 5)[0], "16 frames of 66 channels need 1,056"),
    "nan": (WHOLE.rsplit("\n", 1)[0] + "\n" + " ".join(["nan"] * 66), "aren't numbers, in frame 16"),
    "words": (WHOLE.rsplit(" ", 1)[0] + " hello", "aren't numbers"),
    "channels": (cut(WHOLE, "CHANNELS 3 Zrotation", "CHANNELS 4 Zrotation"), "hierarchy that cannot be read"),
    "open": (cut(WHOLE, "}\nMOTION", "\nMOTION"), "hierarchy without an end"),
    "one frame": (cut("\n".join(WHOLE.split("\n")[: -15]), "Frames: 16", "Frames: 1"), "one frame alone"),
    "no legs": (None, "no legs|no hips"),
    "one arm": (None, "arm"),
}  # fmt: skip


@pytest.mark.parametrize("what", BAD)
def test_a_bad_file_is_refused_with_what_is_missing(what):
    text, says = BAD[what]
    if text is None:
        rig = walking(seconds=0.5)
        gone = ("thigh", "shin", "foot", "toe") if what == "no legs" else ("rclav", "rarm", "rfore", "rhand")
        keep = [i for i, key in enumerate(rig.keys) if not key.endswith(gone) if key not in gone]
        rig.parents = [keep.index(rig.parents[i]) if rig.parents[i] >= 0 else -1 for i in keep]
        rig.names, rig.keys, rig.rest = (
            [rig.names[i] for i in keep],
            [rig.keys[i] for i in keep],
            rig.rest[keep],
        )
        text = bvh(rig).decode()
    with pytest.raises(BadInput, match=says) as told:
        keep_motion(read_bvh(text.encode(), "a.bvh"), "a.bvh")
    assert told.value.remedy


def test_joints_can_be_said():
    rig = walking(names="words")
    content = bvh(rig)
    kept = keep_motion(read_bvh(content, "a.bvh"), "a.bvh", {"elbow_l": "LeftForeArm", "head": "Neck"})
    assert kept.joints["head"] == "Neck" and kept.joints["elbow_l"] == "LeftForeArm"
    for wrong, says in (
        ({"elbow_l": "Nothing"}, "no joint 'Nothing'"),
        ({"tail": "Hips"}, "no joint 'tail'"),
    ):
        with pytest.raises(BadInput, match=says):
            keep_motion(read_bvh(content, "a.bvh"), "a.bvh", wrong)


def test_a_recording_is_kept_whole_and_without_its_file_the_figure_stands():
    kept = keep_motion(read_bvh(bvh(walking()), "a.bvh"), "a.bvh")
    one = read_recording(kept.content)
    assert write_recording(one) == kept.content
    with pytest.raises(BadInput, match="damaged"):
        read_recording(kept.content[:-200])
    scene, done, _ = stage(bvh(walking()))
    assert np.linalg.norm(done.root[-1] - done.root[0]) > 3
    find_files(lambda key: None)
    lost = Bake(scene).performance(scene.figures[0])
    assert np.isfinite(lost.places).all() and np.linalg.norm(lost.root[-1] - lost.root[0]) < 1e-6
    assert scene.files == (scene.figures[0].acts[0].file,)


def test_the_command_line_brings_a_motion_in(tmp_path, capsys):
    (tmp_path / "walk.bvh").write_bytes(bvh(walking()))
    two = [
        {"kind": "figure.add", "id": one, "name": one.capitalize(), "x": 0, "z": 0}
        for one in ("bram", "odile")
    ]
    (tmp_path / "s.json").write_text(write_scene(run(empty_scene("S"), parse_commands(json.dumps(two)))[0]))

    def heron(*words):
        code = main([str(word) for word in words])
        out = capsys.readouterr()
        return code, json.loads(out.out) if out.out else out.err

    bring = ("bring", tmp_path / "s.json", tmp_path / "walk.bvh", "--out", tmp_path / "s2.json")
    code, told = heron(*bring)
    assert code == 2 and "Bram, Odile" in told
    code, told = heron(*bring, "--figure", "Odile", "--at", 1050, "--map", '{"head": "Head"}')
    assert code == 0 and told["joints"]["pelvis"] == "Hips"
    scene = read_scene((tmp_path / "s2.json").read_text())
    act = scene.figures[1].acts[0]
    assert (act.kind, act.frames.first, act.frames.count) == ("recorded", 1050, 73)
    assert (tmp_path / "files" / f"{told['file']}.npz").exists()
    code, told = (
        heron("bake", tmp_path / "s2.json", "--figure", "Odile", "--frames", "1100-1100")
        if False
        else (0, "")
    )
    assert heron(*bring, "--figure", "Odile", "--map", "no")[0] == 2
    assert heron(*bring, "--figure", "Nobody")[0] == 2


def test_it_lies_on_its_lane_as_any_act():
    scene, _, _ = stage(bvh(walking()))
    walk = {"kind": "walk", "frames": {"first": 1105, "last": 1199}, "points": [[-1.5, -6.5]]}
    after = run(
        scene,
        parse_commands(
            json.dumps(
                [
                    {"kind": "scene.set", "frames": {"first": 1001, "last": 1200}},
                    {"kind": "figure.act", "figure": "f", "act": walk},
                ]
            )
        ),
    )[0]
    both = Bake(after).performance(after.figures[0])
    assert np.isfinite(both.places).all() and both.root[-1, [0, 2]] == pytest.approx([-1.5, -6.5], abs=0.01)
    assert np.linalg.norm(np.diff(both.places, axis=0), axis=2).max() < 0.4
    with pytest.raises(HeronError):
        run(scene, parse_commands(json.dumps([{"kind": "figure.act", "figure": "f", "act": {"kind": "recorded", "file": "x", "name": "y", "frames": {"first": 1, "last": 5}}}])))  # fmt: skip


def test_a_figure_goes_out_as_bvh_and_scipy_puts_its_joints_where_they_were():
    """Forward kinematics of the file by scipy alone: Z, X, Y in turn, centimetres, facing +Z; and back in again."""
    from heron.demo import slack_tide
    from heron.formats.bvh import write_bvh

    scene = slack_tide()
    bake = Bake(scene)
    content = write_bvh(bake, scene.figures[0]).decode()
    head, tail = content.split("MOTION\n")
    done = bake.performance(scene.figures[0])
    rows = np.array([line.split() for line in tail.splitlines()[2:]], dtype=float)
    names, parents, offsets, stack, ends = [], [], [], [], 0
    for line in head.splitlines():
        word, *rest = line.split()
        if word in ("ROOT", "JOINT"):
            names.append(rest[0])
            parents.append(stack[-1] if stack else -1)
        elif word == "End":
            ends = 1
        elif word == "{" and not ends:
            stack.append(len(names) - 1)
        elif word == "OFFSET" and not ends:
            offsets.append([float(v) for v in rest])
        elif word == "}":
            stack, ends = (stack, 0) if ends else (stack[:-1], 0)
    turns, places, column = [], [], 3
    for i, parent in enumerate(parents):
        local = Rotation.from_euler("ZXY", rows[:, column : column + 3], degrees=True)
        column += 3
        if parent < 0:
            turns.append(local)
            places.append(rows[:, :3])
        else:
            turns.append(turns[parent] * local)
            places.append(places[parent] + turns[parent].apply(offsets[i]))
    back = np.diag([-1.0, 1.0, -1.0])
    for name, found in zip(names, places, strict=True):
        assert np.abs(found @ back / 100 - done.places[:, INDEX[name]]).max() < 2e-5, name
    assert np.abs(np.diff(rows[:, 3:], axis=0)).max() < 180
    # Its rest pose is a T: hands out at the height of the shoulders.
    again = read_bvh(content.encode(), "a.bvh")
    rest = {name: again.rest[i, :3, 3] for i, name in enumerate(again.names)}
    assert (
        rest["wrist_r"][1] == pytest.approx(rest["shoulder_r"][1], abs=1e-3) and abs(rest["wrist_l"][0]) > 50
    )
    kept = keep_motion(again, "a.bvh")
    assert kept.joints["elbow_l"] == "elbow_l" and kept.seconds == pytest.approx(319 / 24)


def one_walks():
    """Somebody alone on a stage, who walks and waves; and what that one does."""
    acts = (
        {"kind": "walk", "frames": {"first": 1005, "last": 1080}, "points": [[0.5, -3.0]]},
        {"kind": "wave", "frames": {"first": 1030, "last": 1075}},
    )
    commands = [
        {"kind": "scene.set", "frames": {"first": 1001, "last": 1090}},
        {"kind": "figure.add", "id": "f", "name": "Bram", "x": 0, "z": 0, "stature": 1.7},
        *({"kind": "figure.act", "figure": "f", "act": act} for act in acts),
    ]
    scene = run(empty_scene("S"), parse_commands(json.dumps(commands)))[0]
    return scene, Bake(scene)


def test_a_clip_of_a_glb_is_carried_over_as_it_was(tmp_path):
    """The clip of a skin goes out as glTF and comes back on another figure: its arms point the same ways."""
    _, bake = one_walks()
    content = write_stage(bake)
    skeleton, clips = skeleton_of(content, "walk.glb", lambda name: None)
    assert clips == ["stage"]
    kept = keep_motion(skeleton, "walk.glb")
    assert kept.joints["elbow_l"] == "Bram/elbow_l" and kept.seconds == pytest.approx(89 / 24, abs=1 / 60)
    STORE[kept.key] = kept.content
    first = 1021
    commands = [
        {"kind": "figure.add", "id": "o", "name": "Odile", "x": 4, "z": 1, "stature": 1.7},
        {
            "kind": "motion.bring",
            "figure": "o",
            "file": kept.key,
            "name": "walk",
            "seconds": kept.seconds,
            "frame": first,
        },
    ]
    scene = run(empty_scene("T"), parse_commands(json.dumps(commands)))[0]
    done, was = Bake(scene).performance(scene.figures[0]), bake.performance(bake.scene.figures[0])
    rows = np.arange(12, 78)
    for a, b in (("shoulder_r", "elbow_r"), ("elbow_l", "wrist_l"), ("neck", "head")):
        ours = done.places[rows + first - 1001][:, INDEX[b]] - done.places[rows + first - 1001][:, INDEX[a]]
        want = was.places[rows][:, INDEX[b]] - was.places[rows][:, INDEX[a]]
        cos = np.sum(ours * want, axis=1) / np.linalg.norm(ours, axis=1) / np.linalg.norm(want, axis=1)
        assert np.degrees(np.arccos(np.clip(cos, -1, 1))).max() < 1.0
    went = done.root[rows[-1] + first - 1001] - done.root[first - 1001]
    assert went == pytest.approx(was.root[rows[-1]] - was.root[0], abs=0.03)
    for asked, says in ((("walk.glb", "nothing"), "no clip 'nothing'"),):
        with pytest.raises(BadInput, match=says):
            skeleton_of(content, asked[0], lambda name: None, asked[1])


def test_a_skinned_character_is_told_with_its_joints():
    scene, _ = one_walks()
    told = inspected(write_body(scene.figures[0]), "bram.glb", lambda name: None)
    assert told["kind"] == "character" and told["height_m"] == pytest.approx(1.7, abs=0.05)
    assert (
        told["joints"]["knee_r"] == "knee_r"
        and told["joints"]["head"] == "head"
        and len(told["joints"]) == 23
    )


@pytest.mark.parametrize("kind", KINDS)
def test_what_is_shown_beside_a_figure_is_the_file_itself_and_the_figure_points_its_limbs_alike(kind):
    """The skeleton's shape against the rig's own forward kinematics by scipy, scaled to the figure's legs and no more."""
    rig, content = made(kind)
    skeleton = read_bvh(content, "walk.bvh")
    kept = keep_motion(skeleton, "walk.bvh")
    beside = kept.beside
    rows = np.rint(np.array(beside.seconds) * rig.fps).astype(int)
    assert len(rows) == MOST and rows[0] == 0 and rows[-1] == len(rig.root) - 1
    order = [rig.names.index(name) for name in skeleton.names]
    theirs, ours = rig.places()[rows][:, order], np.array(beside.bones)
    key = {name: order.index(rig.keys.index(theirs)) for name, theirs in OURS.items()}

    def legs(at):
        return sum(
            np.linalg.norm(at[0, key[a]] - at[0, key[b]])
            for a, b in (("hip_r", "knee_r"), ("knee_r", "ankle_r"))
        )

    def apart(at):
        return np.linalg.norm(at[:, :, None] - at[:, None], axis=-1)

    np.testing.assert_allclose(apart(ours) / legs(ours), apart(theirs) / legs(theirs), atol=6e-3)
    assert legs(ours) == pytest.approx(LEG * 1.7, abs=4e-3)
    # On the spot, on the floor, and facing away: its right hip to the right.
    hips = (ours[:, key["hip_r"]] + ours[:, key["hip_l"]]) / 2
    np.testing.assert_allclose(hips[:, [0, 2]], 0, atol=2e-3)
    assert (ours[:, key["hip_r"], 0] > 0.02).all() and 0 < ours[:, key["ankle_r"], 1].min() < 0.14
    # The figure's limbs, by turning its own bones down the tree, point as the file's do.
    at, world = {"root": np.zeros((len(rows), 3))}, {"root": Rotation.identity(len(rows))}
    turns = np.array(beside.turns)
    for i, joint in enumerate(JOINTS):
        if joint.parent < 0:
            continue
        above = JOINTS[joint.parent].name
        world[joint.name] = world[above] * Rotation.from_quat(turns[:, i])
        at[joint.name] = at[above] + world[above].apply(joint.offset)
    for a, b in (("shoulder_l", "elbow_l"), ("elbow_r", "wrist_r"), ("hip_l", "knee_l")):
        mine, own = at[b] - at[a], ours[:, key[b]] - ours[:, key[a]]
        cos = (mine * own).sum(axis=1) / np.linalg.norm(mine, axis=1) / np.linalg.norm(own, axis=1)
        assert np.degrees(np.arccos(np.clip(cos, -1, 1))).max() < 1.0
