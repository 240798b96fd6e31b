"""Frames of a render, what each depends on, and the shot list: against plain arithmetic and facts of the trade."""

import csv
import io
import json

import numpy as np
import pytest

from heron.bake import Bake
from heron.cli import main
from heron.commands import parse_commands, run
from heron.cut import Clocks
from heron.dailies.frames import frames_of_cut
from heron.dailies.names import folders, plain
from heron.dailies.shot_list import as_csv, shot_list
from heron.dailies.slate import slate, slate_of_cut
from heron.demo import slack_tide, slack_tide_film
from heron.errors import HeronError, NotFound, Refused
from heron.optics import open_over
from heron.scene import find, write_scene
from heron.scene.document import empty_scene
from heron.timebase import Frames

SCENE = Frames(first=1001, last=1320)


def do(scene, *commands):
    return run(scene, parse_commands(json.dumps(list(commands))))[0]


def prints(scene):
    return {(f.shot, f.stage): f.fingerprint for f in frames_of_cut(scene)}


def others(before, after):
    """Which frames are drawn again."""
    return {key for key, one in after.items() if before.get(key) != one}


def open_at(frame, angle, jumps=()):
    before, after = open_over(np.array([frame]), angle, list(jumps), SCENE)
    return frame - before[0], frame + after[0]


def test_a_shutter_is_open_for_its_angle_centred_on_the_frame():
    # 180 degrees at 24 frames a second is 1/48 s: half a frame. Any handbook of cinematography.
    assert open_at(1100, 180) == (1099.75, 1100.25)
    opens, closes = open_at(1100, 172.8)
    assert (closes - opens) / 24 == pytest.approx(172.8 / 360 / 24)
    assert open_at(1100, 360) == (1099.5, 1100.5)


def test_it_never_reaches_across_a_jump_nor_out_of_the_scene():
    # The camera is suddenly elsewhere on 1100: its frame begins there, and the one before ends before it.
    assert open_at(1100, 360, [1050, 1100]) == (1100, 1100.5)
    assert open_at(1099, 360, [1100, 1200]) == (1098.5, 1099.5)
    assert open_at(1099, 360, [1099.2])[1] == 1099.2
    assert open_at(1001, 180)[0] == 1001 and open_at(1320, 180)[1] == 1320


def test_a_cameras_rows_say_when_its_shutter_is_open():
    scene = do(slack_tide(), {"kind": "camera.glass", "camera": "cam-a", "shutter_deg": 270})
    at = Bake(scene).samples(find(scene, "cameras", "cam-a")).at(1100)
    assert (at["open_before"], at["open_after"]) == (0.375, 0.375)
    frame = next(f for f in frames_of_cut(scene, "010") if f.stage == 1100)
    assert frame.shutter == (1099.625, 1100.375)


def test_every_frame_of_the_cut_is_drawn_once_in_order():
    scene = slack_tide_film()
    found = frames_of_cut(scene)
    assert [f.cut for f in found] == list(range(Clocks(scene).length))
    assert len({f.name for f in found}) == len(found)
    assert found[63].name == "010/Slack_Tide_010.1064" and found[63].camera == "A"
    assert [f.stage for f in frames_of_cut(scene, "020")] == list(range(1165, 1233))
    with pytest.raises(NotFound, match="no shot '099'"):
        frames_of_cut(scene, "099")
    with pytest.raises(Refused, match="no shots"):
        frames_of_cut(empty_scene("Nothing"))


def test_a_gap_is_drawn_by_nobody():
    scene = do(slack_tide(), {"kind": "shot.set", "shot": "shot-020", "gap_before": 12})
    cuts = [f.cut for f in frames_of_cut(scene)]
    first = next(f for f in frames_of_cut(scene) if f.shot == "020")
    assert len(cuts) == Clocks(scene).length - 12
    assert not set(range(first.cut - 12, first.cut)) & set(cuts)


def test_moving_one_camera_draws_its_frames_alone_and_only_those_that_differ():
    scene = slack_tide()
    before = prints(scene)
    keys = [{"thing": "cam-b", "channel": "y", "frame": f, "value": v} for f, v in ((1200, 2.2), (1236, 3.0))]
    after = prints(do(scene, {"kind": "keys.set", "keys": keys}))
    changed = others(before, after)
    assert {shot for shot, _ in changed} == {"020"}
    rows = [
        Bake(s).samples(find(s, "cameras", "cam-b")).values
        for s in (scene, do(scene, {"kind": "keys.set", "keys": keys}))
    ]
    moved = {1001 + i for i in range(320) if (rows[0][i].astype("f4") != rows[1][i].astype("f4")).any()}
    # A frame is another where it moved, or where a frame beside it did into which its shutter reaches.
    near = {f + d for f in moved for d in (-1, 0, 1)}
    assert {stage for _, stage in changed} == {f for f in near if 1165 <= f <= 1232}
    assert len(changed) < 68


def test_names_and_other_cameras_change_no_picture_and_the_light_changes_all():
    scene = slack_tide()
    before = prints(scene)
    renamed = do(
        scene,
        {"kind": "camera.set", "camera": "cam-a", "name": "Else"},
        {"kind": "things.delete", "ids": ["cam-f"]},
    )
    assert others(before, prints(renamed)) == set()
    piece, mover = scene.pieces[0].id, scene.movers[0].id
    for command, seen in (
        ({"kind": "scene.set", "sun_height": 30}, True),
        # Who is taller is another shape, though nobody's place is.
        ({"kind": "figure.set", "figure": "fig-bram", "stature": 1.7}, True),
        ({"kind": "figure.set", "figure": "fig-bram", "name": "Bo"}, False),
        ({"kind": "piece.set", "piece": piece, "colour": "#123456"}, True),
        ({"kind": "piece.set", "piece": piece, "name": "Else"}, False),
        ({"kind": "pieces.group", "ids": [piece], "group": "All"}, False),
        ({"kind": "things.lock", "ids": [piece], "locked": True}, False),
        ({"kind": "mover.set", "mover": mover, "colour": "#123456"}, True),
        ({"kind": "mover.set", "mover": mover, "name": "Else"}, False),
    ):
        drawn = others(before, prints(do(scene, command)))
        assert drawn == (set(before) if seen else set()), command


def test_file_names_are_plain_and_no_two_alike():
    assert plain("Wide / über: “A”") == "Wide_ber_A" and plain("…") == "unnamed"
    assert folders(["1/2", "1_2", "A", "a"]) == ["1_2", "1_2-2", "A", "a-2"]


def test_the_slate_says_which_frame_it_is_on_all_three_clocks():
    scene = slack_tide()
    clocks = Clocks(scene)
    text = slate_of_cut(scene, Bake(scene), clocks, clocks.to_cut(1, 1200))
    # Shot 020 is the second, 1165 to 1232; the one before it is 113 frames long; the cut starts at one hour.
    cut = 113 + 35
    assert text.split(" · ")[:3] == ["Slack Tide", "020", "B Odile over Bram"]
    assert "50 mm f/2.8" in text and "stage 1200" in text and "shot 36/68" in text
    assert text.endswith(f"01:00:{cut // 24:02d}:{cut % 24:02d}")
    gap = do(scene, {"kind": "shot.set", "shot": "shot-020", "gap_before": 5})
    assert slate_of_cut(gap, Bake(gap), Clocks(gap), 113) == ""
    # Outside the cut there is one clock.
    alone = slate(scene, Bake(scene), find(scene, "cameras", "cam-e"), 1300)
    assert alone.startswith("Slack Tide · E Odile, close · 50 mm f/2 · ") and alone.endswith("stage 1300")


def only_camera(**pose):
    """A scene whose only camera looks towards −Z and goes to a pose over two seconds."""
    scene = empty_scene("Moves")
    keys = [
        {"thing": "cam-1", "channel": name, "frame": 1049, "value": value} for name, value in pose.items()
    ]
    at = {"x": 0, "y": 1.6, "z": 0, "pan": 0, "tilt": 0, "roll": 0}
    start = [
        {**key, "frame": 1001, "value": 35 if key["channel"] == "focal" else at[key["channel"]]}
        for key in keys
    ]
    return do(
        scene,
        {"kind": "camera.add", "id": "cam-1", "name": "One", "pose": at},
        {"kind": "camera.mount", "camera": "cam-1", "lens": None},
        {"kind": "shot.add", "camera": "cam-1", "stage": {"first": 1001, "last": 1049}},
        *([{"kind": "keys.set", "keys": start + keys}] if keys else []),
    )


@pytest.mark.parametrize(
    ("pose", "words"),
    [
        # The words of the trade; pan to the left is positive here, and the camera looks towards −Z.
        ({}, "Still"),
        ({"z": -1.2}, "Pushes in 1.2 m"),
        ({"z": 0.8}, "Pulls back 0.8 m"),
        ({"x": 0.5, "y": 1.1}, "Trucks 0.5 m to the right, booms down 0.5 m"),
        ({"pan": 20, "tilt": -5}, "Pans 20° to the left, tilts down 5°"),
        ({"roll": 4, "focal": 70}, "Rolls 4° counter-clockwise, zooms in"),
        ({"x": 0.01}, "Still"),
    ],
)
def test_a_move_is_said_in_the_words_of_the_trade(pose, words):
    (line,) = shot_list(only_camera(**pose))
    assert line.move == words
    assert line.lens == ("35 to 70 mm" if "focal" in pose else line.lens)
    assert (line.frames, line.seconds) == (49, round(49 / 24, 3))


def test_the_list_is_csv_that_others_read_and_json(tmp_path, capsys):
    scene = slack_tide_film()
    rows = list(csv.DictReader(io.StringIO(as_csv(shot_list(scene)))))
    assert [row["shot"] for row in rows] == ["005", "010", "020", "030", "040"]
    assert rows[0]["move"].startswith("Flies from In the reeds by Over the reeds and Over the water")
    assert rows[1]["timecode"] == "01:00:02:15" and rows[1]["first"] == "1064"
    path = tmp_path / "s.json"
    path.write_text(write_scene(scene))
    assert main(["shotlist", str(path), "--to", "csv"]) == 0
    assert (
        capsys.readouterr().out.splitlines()[0]
        == "shot,camera,sees,lens,timecode,first,last,frames,seconds,move,note,lines,frame_notes"
    )
    assert main(["frames", str(path), "--shot", "040"]) == 0
    frames = json.loads(capsys.readouterr().out)
    assert len(frames) == 37 and set(frames[0]) == {
        "cut",
        "shot",
        "camera",
        "stage",
        "shutter",
        "name",
        "fingerprint",
    }
    assert main(["frames", str(path), "--shot", "none"]) == 2


def test_a_note_on_a_shot_is_one_trimmed_line_of_at_most_400_letters():
    note = lambda text: {"kind": "shot.set", "shot": "shot-010", "note": text}  # noqa: E731
    assert do(slack_tide(), note("  Wait for her  ")).shots[0].note == "Wait for her"
    assert len(do(slack_tide(), note("a" * 400)).shots[0].note) == 400
    for wrong in ("a" * 401, "two\nlines"):
        with pytest.raises(HeronError) as refused:
            do(slack_tide(), note(wrong))
        assert "Note must be" in str(refused.value) or "line" in str(refused.value)
