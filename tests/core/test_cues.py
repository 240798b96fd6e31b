"""Cues, and frames put in or taken out of what is keyed."""

import json

import numpy as np
import opentimelineio as otio
import pytest

from heron.commands import parse_commands, run
from heron.curves import evaluate
from heron.demo import slack_tide
from heron.errors import HeronError
from heron.formats.otio import write_otio


def do(scene, **command):
    scene, said = run(scene, parse_commands(json.dumps(command)))
    return scene, said[0]


def cued():
    scene, _ = do(slack_tide(), kind="cue.add", id="cue-b", name="The hand drops", frame=1260)
    return do(scene, kind="cue.add", id="cue-a", frame=1118)[0]


def test_cues_stand_in_order_each_on_its_own_frame_and_by_its_own_name():
    scene = cued()
    assert [(c.name, c.frame) for c in scene.cues] == [("Cue 1", 1118), ("The hand drops", 1260)]
    after, said = do(scene, kind="cue.set", cue="cue-a", name="She turns", frame=1300)
    assert [c.name for c in after.cues] == ["The hand drops", "She turns"]
    assert said == "Moved the cue “She turns” to 1300"
    for command, says in (
        ({"kind": "cue.add", "frame": 1118}, "a cue at 1118 already"),
        ({"kind": "cue.add", "frame": 1200, "name": "the HAND drops"}, "already a cue called"),
        ({"kind": "cue.set", "cue": "cue-a", "frame": 1260}, "a cue at 1260 already"),
        ({"kind": "cue.add", "frame": 2}, "outside the scene"),
        ({"kind": "cue.set", "cue": "cue-a"}, "Nothing about the cue"),
    ):
        with pytest.raises(HeronError, match=says):
            do(scene, **command)
    assert do(scene, kind="things.delete", ids=["cue-a"])[0].cues == scene.cues[1:]


def test_a_cue_moves_with_the_act_it_is_set_on_until_it_is_let_go():
    # Bram's turn begins at 1118 and is his first act.
    scene, said = do(
        cued(), kind="cue.set", cue="cue-a", figure="fig-bram", act=cued().figures[1].body[0].id, end="first"
    )
    assert said == "The cue “Cue 1” goes with the start of Bram's turn"
    turn = scene.figures[1].body[0].model_dump(mode="json")
    later = {**turn, "frames": {"first": 1125, "last": 1160}}
    ask = {"kind": "figure.act.set", "figure": "fig-bram", "act": later}
    after, said = do(scene, **ask)
    assert after.cues[0].frame == 1125 and said.endswith("1 cue moved along")
    free, _ = do(scene, kind="cue.set", cue="cue-a", free=True)
    assert do(free, **ask)[0].cues[0].frame == 1118
    with pytest.raises(HeronError, match="Bram has no act none"):
        do(scene, kind="cue.set", cue="cue-a", figure="fig-bram", act="none")


def test_cues_are_handed_over_as_markers_on_the_clips_that_show_them():
    timeline = otio.adapters.read_from_string(write_otio(cued()), "otio_json")
    marks = {
        clip.name: [(m.name, m.marked_range.start_time.value) for m in clip.markers]
        for clip in timeline.tracks[0]
    }
    assert marks == {"010": [("Cue 1", 1118)], "020": [], "030": [("The hand drops", 1260)], "040": []}


def test_what_would_leave_the_scene_is_refused_and_some_channels_alone_follow():
    scene = slack_tide()
    with pytest.raises(HeronError, match="outside the scene"):
        do(scene, kind="keys.frames", thing="mov-boat", frame=1300, count=12)
    b = {"kind": "keys.frames", "thing": "cam-b", "frame": 1171}
    after, said = do(scene, **b, channels=["x", "pan"], count=10)
    was, now = scene.cameras[1], after.cameras[1]
    assert [k.frame for k in now.x.keys] == [1170, 1246] and [k.frame for k in now.y.keys] == [1170, 1236]
    assert said == "Put 10 frames in at 1171 for camera B: 2 later keys follow"
    assert evaluate(now.x, np.array([1246]))[0] == evaluate(was.x, np.array([1236]))[0]
    after, said = do(scene, **b, count=-66)
    assert after.cameras[1].key_frames("pose") == [1170] and "6 keys with them" in said
    after, _ = do(scene, **b, count=-20)
    assert after.cameras[1].key_frames("pose") == [1170, 1216]
    with pytest.raises(HeronError, match="no keys from 1300 on"):
        do(scene, **{**b, "frame": 1300}, count=3)
