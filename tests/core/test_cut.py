"""The cut: its layout, the three clocks, and its edits."""

import json

import opentimelineio as otio
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from strategies import runs

from heron.commands import parse_commands, run_one
from heron.cut import Clocks
from heron.demo import slack_tide
from heron.errors import HeronError, Refused
from heron.formats.otio import write_otio
from heron.model import changed
from heron.scene import Shot, empty_scene, find
from heron.timebase import Frames

DEMO = slack_tide()


def one(scene, **command):
    return run_one(scene, parse_commands(json.dumps(command))[0])[0]


def edited(commands):
    scene = DEMO
    for command in commands:
        try:
            scene = one(scene, **command)
        except HeronError:
            continue
    return scene


@settings(max_examples=30, deadline=None)
@given(runs)
def test_clocks_invert_wherever_they_are_defined(commands):
    clocks = Clocks(edited(commands))
    shown = 0
    for cut in range(clocks.length):
        there = clocks.to_stage(cut)
        if there is None:
            continue
        shown += 1
        shot, stage = there
        assert clocks.to_cut(shot, stage) == cut
        assert 1 <= clocks.shot_frame(shot, stage) <= clocks.placed[shot].shot.stage.count
        first = int(clocks.stage_table[stage - clocks.stage.first])
        assert 0 <= first <= cut and clocks.to_stage(first)[1] == stage
    assert shown == sum(p.shot.stage.count for p in clocks.placed if p.shot.camera is not None)


def test_a_cut_at_n_shows_the_old_camera_up_to_n_minus_one():
    # Common practice.
    scene = one(
        DEMO, kind="cut.edit", do={"edit": "split", "shot": "shot-010", "frame": 1114, "camera": "C"}, id="s"
    )
    clocks = Clocks(scene)
    cameras = [scene.shots[clocks.to_stage(f)[0]].camera for f in (49, 50)]
    assert cameras == ["cam-a", "cam-c"]
    assert [clocks.to_stage(f)[1] for f in (49, 50)] == [1113, 1114]
    assert clocks.length == Clocks(DEMO).length


def test_every_cut_frame_has_its_label_and_so_has_the_one_past_the_last():
    """SMPTE ST 12-1: frames of a second are counted from 0, and the label after …:23 is the next second's :00."""
    alone = DEMO.having(shots=())
    two = one(alone, kind="shot.add", camera="cam-a", stage={"first": 1001, "last": 1048})
    clocks = Clocks(two)
    labels = clocks.timecode_labels()
    assert len(labels) == 49 and labels[23].tolist()[2:] == [0, 23] and labels[48].tolist()[2:] == [2, 0]


def test_two_shots_may_show_the_same_action():
    clocks = Clocks(DEMO)
    both = [c for c in range(clocks.length) if clocks.to_stage(c) and clocks.to_stage(c)[1] == 1170]
    assert len(both) == 2


@settings(max_examples=40, deadline=None)
@given(runs, st.sampled_from(["24/1", "30000/1001", "25/1"]))
def test_otio_read_back_adds_up_to_the_cut(commands, rate):
    scene = one(edited(commands), kind="scene.set", rate=rate)
    if not scene.shots:
        return
    timeline = otio.adapters.read_from_string(write_otio(scene), "otio_json")
    track = timeline.tracks[0]
    clocks = Clocks(scene)
    assert round(track.duration().value) == clocks.length
    assert track.duration().rate == pytest.approx(float(clocks.rate))
    clips = [c for c in track if isinstance(c, otio.schema.Clip)]
    gaps = [g for g in track if isinstance(g, otio.schema.Gap)]
    assert sum(round(g.duration().value) for g in gaps) == sum(s.gap_before for s in scene.shots)
    for clip, placed in zip(clips, clocks.placed, strict=True):
        meta = clip.metadata["mellow_heron"]
        if placed.shot.camera is None:
            assert (clip.name, clip.media_reference.name) == (placed.shot.name, "slate")
            assert round(clip.duration().value) == placed.shot.stage.count
            continue
        assert (meta["stage_first"], meta["stage_last"]) == (placed.shot.stage.first, placed.shot.stage.last)
        start = track.trimmed_range_of_child(clip).start_time.value
        assert round(start) == placed.cut_first
        camera = next(c for c in scene.cameras if c.id == placed.shot.camera)
        assert (clip.name, meta["camera"]) == (placed.shot.name, camera.letter)
        keys = camera.focal.keys
        if not keys or placed.shot.stage.first <= keys[0].frame:
            # Before the first key a channel stands at its value.
            assert meta["lens_mm"] == pytest.approx(keys[0].value if keys else camera.focal.rest, rel=1e-12)
    assert timeline.global_start_time.to_timecode(float(clocks.rate), False) == scene.cut_start


def test_an_empty_cut_is_not_handed_over():
    with pytest.raises(Refused, match="no shots"):
        write_otio(empty_scene("E"))


def added(scene, **more):
    command = {"kind": "shot.add", "camera": "cam-a", "id": "shot-new", **more}
    return find(run_one(scene, parse_commands(json.dumps(command))[0])[0], "shots", "shot-new").stage


def test_a_shot_that_is_added_fits_what_is_there():
    bare = changed(slack_tide(), shots=())
    # From the playhead on, for five seconds at 24: common practice for a first assembly.
    assert added(bare, playhead=1100) == Frames(first=1100, last=1219)
    assert added(bare) == Frames(first=1001, last=1120)
    assert added(bare, playhead=1300) == Frames(first=1300, last=1320)
    assert added(changed(bare, rate="48/1"), playhead=1001) == Frames(first=1001, last=1240)
    assert added(bare, stage={"first": 1200, "last": 1201}) == Frames(first=1200, last=1201)
    one = changed(
        bare, shots=(Shot(id="s", name="010", camera="cam-a", stage=Frames(first=1050, last=1090)),)
    )
    # In a shot already: on from where the last one ended. Before one: up to it.
    assert added(one, playhead=1050).first == added(one, playhead=1090).first == 1091
    assert added(one, playhead=1010) == Frames(first=1010, last=1049)
    assert added(one, playhead=1091).first == 1091
    whole = changed(bare, shots=(Shot(id="s", name="010", camera="cam-a", stage=bare.frames),))
    # All is shown already: another camera shows it again from the playhead on, for a second at least.
    assert added(whole, playhead=1100) == Frames(first=1100, last=1219)
    assert added(whole, playhead=1319) == Frames(first=1297, last=1320)
    assert added(whole) == Frames(first=1001, last=1120)
