"""Commands: exact inverses, all or nothing, and refusals in plain sentences."""

import json

import pytest
from hypothesis import given, settings
from strategies import runs

from heron.commands import parse_commands, run, run_one
from heron.demo import slack_tide
from heron.errors import BadInput, HeronError, Refused
from heron.model import changed
from heron.scene import apply_patch, diff, empty_scene, read_scene, write_scene

DEMO = slack_tide()
WRITTEN = write_scene(DEMO)


def one(scene, **command):
    return run_one(scene, parse_commands(json.dumps(command))[0])


@settings(max_examples=60, deadline=None)
@given(runs)
def test_any_run_of_commands_undone_gives_the_identical_document(commands):
    scene, undo = DEMO, []
    for text in commands:
        try:
            after, sentence = one(scene, **text)
        except HeronError as error:
            assert str(error)
            continue
        assert sentence
        patch, inverse = diff(scene, after), diff(after, scene)
        assert apply_patch(scene, patch) == after
        undo.append(inverse)
        scene = after
    assert read_scene(write_scene(scene)) == scene
    for inverse in reversed(undo):
        scene = apply_patch(scene, inverse)
    assert scene == DEMO
    assert write_scene(scene) == WRITTEN


def test_a_zero_turned_negative_is_a_change_and_is_undone():
    """The two are equal, and written differently (IEEE 754)."""
    first, *others = DEMO.pieces
    turned = changed(DEMO, pieces=(changed(first, z=0.0), *others))
    negative = changed(DEMO, pieces=(changed(first, z=-0.0), *others))
    assert write_scene(apply_patch(negative, diff(negative, turned))) == write_scene(turned)


def test_a_run_that_fails_names_the_command_and_changes_nothing():
    commands = parse_commands(
        '[{"kind": "camera.set", "camera": "cam-a", "focal": 50}, {"kind": "things.delete", "ids": ["nobody"]}]'
    )
    with pytest.raises(
        HeronError,
        match=r"Command 2 of 2 \(things.delete\): There is nothing called nobody",
    ):
        run(DEMO, commands)
    assert slack_tide() == DEMO


@pytest.mark.parametrize(
    ("command", "says"),
    [
        ({"kind": "camera.set", "camera": "cam-a", "focal": 0}, "Focal length must be at least 1"),
        (
            {"kind": "shot.add", "camera": "cam-a", "stage": {"first": 1100, "last": 1050}},
            "ends before it starts",
        ),
        ({"kind": "shot.add", "camera": "gone"}, "no camera gone"),
        ({"kind": "camera.set", "camera": "cam-a", "name": "x" * 10_000}, "at most 80 characters"),
        ({"kind": "camera.set", "camera": "cam-a", "name": "   "}, "must not be empty"),
        ({"kind": "scene.set", "frames": {"first": 1, "last": 9_999_999}}, "longer than 100,000 frames"),
        (
            {"kind": "scene.set", "frames": {"first": 1001, "last": 1100}},
            "Shot 010 shows stage frames 1064–1176",
        ),
        ({"kind": "thing.put", "thing": "cam-b", "frame": 1200, "keep": "rest", "x": 0}, "moved by its keys"),
        (
            {"kind": "thing.put", "thing": "cam-a", "frame": 9, "keep": "key", "x": 0},
            "outside the scene's range",
        ),
        ({"kind": "figure.add", "name": "odile", "x": 0, "z": 0}, "already a figure called odile"),
        ({"kind": "cut.edit", "do": {"edit": "split", "shot": "shot-010", "frame": 1064}}, "after its first"),
        ({"kind": "nonsense"}, "not one of the known kinds"),
        (
            {"kind": "camera.move", "camera": "cam-a", "what": "pan", "amount": 9, "first": 1010, "over": 2},
            "Overshoot must be at most 1",
        ),
        ({"kind": "piece.set", "piece": "set-01", "height": 0}, "Height must be at least 0.001"),
    ],
)
def test_refusals_say_what_and_why(command, says):
    with pytest.raises(HeronError, match=says):
        one(DEMO, **command)


def test_a_rule_across_parts_is_told_with_its_remedy():
    with pytest.raises(Refused) as refused:
        one(DEMO, kind="scene.set", frames={"first": 1001, "last": 1100})
    assert refused.value.reason == "Shot 010 shows stage frames 1064–1176, outside the scene's 1001–1100."
    assert refused.value.remedy == "Change that first; nothing was done." and refused.value.field == "scene"


@pytest.mark.parametrize(
    "text",
    ['[{"kind": "thing.put", "thing": "cam-a", "frame": 1100, "keep": "rest", "x": NaN}]', "{", "3", "[[]]"],
)
def test_what_is_not_commands_is_refused(text):
    with pytest.raises(BadInput):
        parse_commands(text)


@pytest.mark.parametrize(
    "text",
    [
        "",
        "[]",
        "{}",
        '{"format": "heron-scene", "version": 9}',
        '{"format": "heron-scene", "version": 1, "name": "x", "frames": {"first": 0, "last": 10000000}}',
        "[" * 100_000,
    ],
)
def test_what_is_not_a_scene_is_refused(text):
    with pytest.raises(BadInput):
        read_scene(text)


def test_a_scene_of_version_1_is_read_with_what_it_meant():
    old = json.loads(write_scene(DEMO))
    old["version"] = 1
    del old["lenses"], old["surround"]["light_ev"]
    for camera in old["cameras"]:
        for name in (
            "aperture",
            "exposure",
            "mounted",
            "focus",
            "shutter_deg",
            "iso",
            "confusion_mm",
            "near_m",
            "far_m",
        ):
            del camera[name]
    scene = read_scene(json.dumps(old))
    assert (scene.version, scene.lenses, scene.cameras[0].mounted) == (5, (), None)
    assert scene.cameras[0].stop(scene.cameras[0].aperture.rest) == 4.0
    assert [c.x for c in scene.cameras] == [c.x for c in DEMO.cameras]
    assert read_scene(write_scene(scene)) == scene


def test_deleting_a_camera_takes_its_shots_and_leaves_the_rest_in_place():
    after, sentence = one(DEMO, kind="things.delete", ids=["cam-b"])
    assert sentence == "Deleted camera B “Odile over Bram”; the cut has a gap in place of shot 020"
    assert [s.name for s in after.shots] == ["010", "030", "040"]
    assert after.shots[1].gap_before == 68


def test_a_locked_camera_refuses_and_can_be_unlocked():
    locked, _ = one(DEMO, kind="camera.set", camera="cam-a", locked=True)
    for command in (
        {"kind": "camera.set", "camera": "cam-a", "focal": 50},
        {"kind": "things.delete", "ids": ["cam-a"]},
        {"kind": "things.move", "ids": ["cam-a"], "dx": 1},
        {"kind": "thing.put", "thing": "cam-a", "frame": 1100, "keep": "rest", "x": 1},
        {"kind": "keys.here", "thing": "cam-a", "frame": 1100},
    ):
        with pytest.raises(Refused, match="is locked"):
            one(locked, **command)
    assert not one(locked, kind="camera.set", camera="cam-a", locked=False)[0].cameras[0].locked


def test_there_is_never_a_key_nobody_asked_for():
    scene = empty_scene("E")
    for command in (
        {"kind": "camera.add", "id": "c", "name": "Wide", "pose": {"x": 0, "y": 1.6, "z": 5}},
        {"kind": "thing.put", "thing": "c", "frame": 1001, "keep": "rest", "x": 1},
        {"kind": "things.duplicate", "ids": ["c"], "copies": ["d"]},
    ):
        scene, _ = one(scene, **command)
    assert all(camera.key_frames() == [] for camera in scene.cameras)
    assert [c.letter for c in scene.cameras] == ["A", "B"]


def test_moving_a_figure_carries_its_walk():
    before = DEMO.figures[0]
    after = one(DEMO, kind="thing.put", thing="fig-odile", frame=1001, keep="rest", x=before.x + 1)[
        0
    ].figures[0]
    assert [p[0] for p in after.acts[0].points] == pytest.approx([p[0] + 1 for p in before.acts[0].points])


@pytest.mark.parametrize(
    ("range_", "reason", "remedy"),
    [
        ({"first": 1100, "last": 1090}, "A layer from 1100 to 1090 ends before it begins.", "Correct it and send it again."),
        (
            {"first": 1100, "last": 1110, "blend_in": 8, "blend_out": 8},
            "The blends take 16 frames, but from 1100 to 1110 there are only 10.",
            "Shorten them or lengthen the range.",
        ),
    ],
)  # fmt: skip
def test_a_rule_of_the_documents_says_its_own_remedy_or_the_plain_one(range_, reason, remedy):
    layer = {"kind": "level", **range_}
    with pytest.raises(BadInput) as refused:
        parse_commands(json.dumps({"kind": "rig.add", "camera": "cam-a", "layer": layer}))
    assert (refused.value.reason, refused.value.remedy) == (reason, remedy)
