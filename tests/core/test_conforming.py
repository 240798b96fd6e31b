"""Cuts that come back from the edit: made round trips with known answers, OpenTimelineIO's own reading, and bad lists."""

import json
import random

import opentimelineio as otio
import pytest

from heron.cli import main
from heron.commands import parse_commands, run
from heron.cut import Clocks
from heron.cut.conforming import Came, compared, conformed
from heron.demo import slack_tide_film
from heron.errors import BadInput, HeronError
from heron.formats.edit_in import read_edit
from heron.formats.edl import write_edl
from heron.formats.otio import NAMESPACE, write_otio
from heron.scene import empty_scene, find, read_scene, write_scene
from heron.timebase import Frames


def do(scene, *commands):
    return run(scene, parse_commands(json.dumps(list(commands))))[0]


def many(shots=9):
    """A scene with three cameras and shots that show different parts of its stage."""
    scene = do(empty_scene("Reel"), {"kind": "scene.set", "frames": {"first": 1001, "last": 1900}})
    for i, letter in enumerate("abc"):
        scene = do(
            scene,
            {
                "kind": "camera.add",
                "id": letter,
                "name": f"Camera {letter}",
                "pose": {"x": i, "y": 1.5, "z": 5, "pan": 0, "tilt": 0},
            },
        )
    for i in range(shots):
        stage = {"first": 1020 + 90 * i, "last": 1020 + 90 * i + 30 + 5 * i}
        scene = do(
            scene,
            {
                "kind": "shot.add",
                "id": f"s{i}",
                "camera": "abc"[i % 3],
                "stage": stage,
                "name": f"{10 * (i + 1):03d}",
            },
        )
    return scene


SCENE = many()


def back(scene, change, form="otio"):
    """What comes back after `change` was done to the timeline with OpenTimelineIO alone."""
    timeline = otio.adapters.read_from_string(write_otio(scene), "otio_json")
    track = timeline.tracks[0]
    change(track)
    if form == "edl":
        text = otio.adapters.write_to_string(timeline_for_edl(timeline), "cmx_3600", rate=24)
        return read_edit(text.encode(), "back.edl", scene)
    return read_edit(timeline.to_json_string().encode(), "back.otio", scene)


def timeline_for_edl(timeline):
    del timeline.tracks[1:]
    for clip in timeline.tracks[0].find_clips():
        clip.markers.clear()
        clip.metadata["cmx_3600"] = {"reel": clip.media_reference.name.split(" ")[0]}
    return timeline


def trimmed(clip, head, tail):
    """A clip that begins so many frames earlier and ends so many later."""
    old = clip.source_range
    clip.source_range = otio.opentime.TimeRange(
        old.start_time - frames(head), old.duration + frames(head + tail)
    )


def frames(n):
    return otio.opentime.RationalTime(n, 24)


def without_ids(track):
    for clip in track:
        if isinstance(clip, otio.schema.Clip):
            clip.metadata.pop(NAMESPACE, None)


def renamed(track):
    for clip in track:
        if isinstance(clip, otio.schema.Clip):
            clip.name = f"REEL_{clip.name}_v003.mov"


def nameless(track):
    without_ids(track)
    for clip in track:
        if isinstance(clip, otio.schema.Clip):
            clip.name = ""


#: What is done to the list besides its edit, and its form; and how a clip is matched then.
GUISES = (
    (lambda track: None, "otio", "id"), (without_ids, "otio", "name"), (lambda track: (without_ids(track), renamed(track)), "otio", "name"),
    (lambda track: None, "edl", "name"), (nameless, "otio", "range"),
)  # fmt: skip


@pytest.mark.parametrize("seed", range(60))
def test_a_made_conform_is_told_as_it_was_made(seed):
    """Trims, moves, deletions, black and new clips by chance: each clip's shot, range and gap are known."""
    rng = random.Random(seed)
    guise, form, how = GUISES[seed % len(GUISES)]
    wanted = []

    def change(track):
        clips = list(track)
        names = {id(clip): shot.id for clip, shot in zip(clips, SCENE.shots, strict=True)}
        gone = rng.sample(clips, rng.randint(0, 2))
        clips = [clip for clip in clips if clip not in gone]
        moves = rng.random() < 0.5
        if moves:
            one = clips.pop(rng.randrange(len(clips)))
            clips.insert(rng.randrange(len(clips) + 1), one)
        out = []
        for clip in clips:
            if rng.random() < 0.4:
                trimmed(clip, rng.randint(-8, 6), rng.randint(-8, 6))
            gap = rng.choice([0, 0, 0, 12])
            if gap:
                out.append(otio.schema.Gap(source_range=otio.opentime.TimeRange(frames(0), frames(gap))))
            start, count = int(clip.source_range.start_time.value), int(clip.source_range.duration.value)
            wanted.append((names[id(clip)], start, count, gap))
            out.append(clip)
        track[:] = []
        track.extend(out)
        guise(track)

    clips = back(SCENE, change, form)
    lines = [line for line in compared(SCENE, clips) if line.clip is not None]
    assert [
        (line.shot, clips[line.clip].first, clips[line.clip].count, clips[line.clip].gap) for line in lines
    ] == wanted
    assert {line.match for line in lines} <= ({how, "range"} if how == "range" else {how})
    told = {line.shot for line in compared(SCENE, clips) if line.clip is None}
    assert told == {shot.id for shot in SCENE.shots} - {one[0] for one in wanted}
    # Taken whole, the cut is what came back.
    after = do(SCENE, {"kind": "cut.conform", "clips": [one.model_dump(mode="json") for one in clips]}) if told or any(
        line.what != ("same",) for line in lines
    ) else SCENE  # fmt: skip
    assert [(shot.id, shot.stage.first, shot.stage.count, shot.gap_before) for shot in after.shots] == wanted


def test_each_kind_of_change_is_said():
    def change(track):
        clips = list(track)
        trimmed(clips[0], 3, -5)
        trimmed(clips[1], -4, 4)
        clips[2].effects.append(otio.schema.LinearTimeWarp(time_scalar=2.0))
        piece = clips[3].deepcopy()
        piece.source_range = otio.opentime.TimeRange(
            clips[3].source_range.start_time + frames(20), frames(10)
        )
        trimmed(clips[3], 0, -25)
        fresh = otio.schema.Clip("Sunrise", source_range=otio.opentime.TimeRange(frames(5000), frames(48)))
        last = track.pop(8)
        track.insert(0, last)
        track.insert(5, piece)
        track.insert(6, fresh)

    clips = back(SCENE, change)
    lines = {(line.shot, line.what): line for line in compared(SCENE, clips)}
    what = [line.what for line in compared(SCENE, clips)]
    assert what[0] == ("moved",) and what[1] == ("head +3", "tail -5") and what[2] == ("slipped",)
    assert (
        what[3] == ("re-timed",)
        and what[4] == ("tail -25",)
        and what[5] == ("second piece",)
        and what[6] == ("new",)
    )
    assert what[7:] == [("same",)] * 4
    sentence = {line.what: line.sentence for line in lines.values()}
    assert (
        sentence["moved",] == "090: moved" and sentence["head +3", "tail -5"] == "010: head +3 f, tail -5 f"
    )
    assert "played at 2 times its speed: cannot be shown, kept at 1" in sentence["re-timed",]
    assert sentence["new",] == "Sunrise is new, 48 f: it becomes a slate"
    assert not lines["s2", ("re-timed",)].shown


def test_what_cannot_be_shown_and_where_a_move_ends_is_said():
    scene = do(
        many(2),
        {"kind": "thing.put", "thing": "a", "frame": 1030, "x": 0, "y": 1.5, "z": 5, "pan": 0, "tilt": 0, "roll": 0, "keep": "key"},
        {"kind": "thing.put", "thing": "a", "frame": 1045, "x": 1, "y": 1.5, "z": 5, "pan": 0, "tilt": 0, "roll": 0, "keep": "key"},
    )  # fmt: skip

    def change(track):
        trimmed(track[0], 25, 8)

    one, _ = compared(scene, back(scene, change))
    assert one.stage == (995, 1058) and not one.shown
    assert "6 f lie outside the scene" in one.sentence and "the camera's move ends at 1045" in one.sentence
    # So much as there is of it is taken.
    assert conformed(scene, back(scene, change))[0].stage == Frames(first=1001, last=1058)


@pytest.mark.parametrize(
    ("take", "order", "first"),
    [(["moved"], ["s3", "s0", "s1", "s2"], 1020), (["trimmed"], ["s0", "s1", "s2", "s3"], 1017), (["moved", "trimmed"], ["s3", "s0", "s1", "s2"], 1017)],
)  # fmt: skip
def test_only_what_is_taken_changes_and_one_undo_brings_all_back(take, order, first):
    scene = many(4)

    def change(track):
        trimmed(track[0], 3, 0)
        track.insert(0, track.pop(3))

    clips = [one.model_dump(mode="json") for one in back(scene, change)]
    after = do(scene, {"kind": "cut.conform", "id": "c", "clips": clips, "take": take})
    assert [shot.id for shot in after.shots] == order and find(after, "shots", "s0").stage.first == first
    assert after.cuts[-1].shots == scene.shots and after.cuts[-1].name == "Cut 1"


def test_gone_and_new_are_taken_or_left():
    scene = many(4)

    def change(track):
        del track[1]
        track.insert(
            2, otio.schema.Clip("Insert", source_range=otio.opentime.TimeRange(frames(9000), frames(24)))
        )

    clips = back(scene, change)
    assert [shot.id for shot in conformed(scene, clips, ["gone"])] == ["s0", "s2", "s3"]
    left = conformed(scene, clips, ["new"])
    assert [shot.name for shot in left] == ["010", "020", "030", "Insert", "040"] and left[3].camera is None
    assert left[3].stage.count == 24


def test_a_list_at_another_rate_is_read_frame_for_frame_or_by_time():
    def change(track):
        for clip in track:
            old = clip.source_range
            clip.source_range = otio.opentime.TimeRange(
                otio.opentime.RationalTime(old.start_time.value, 25),
                otio.opentime.RationalTime(old.duration.value, 25),
            )

    timeline = otio.adapters.read_from_string(write_otio(SCENE), "otio_json")
    change(timeline.tracks[0])
    content = timeline.to_json_string().encode()
    assert {line.what for line in compared(SCENE, read_edit(content, "a.otio", SCENE))} == {("same",)}
    by_time = read_edit(content, "a.otio", SCENE, by="time")
    assert by_time[0].count == round(31 * 24 / 25) and by_time[0].first == round(1020 * 24 / 25)


def test_nested_tracks_and_movies_are_read():
    timeline = otio.adapters.read_from_string(write_otio(SCENE), "otio_json")
    track = timeline.tracks[0]
    inner = otio.schema.Track("Inner", children=[track.pop(0) for _ in range(3)])
    track.insert(0, otio.schema.Stack("Nest", children=[inner]))
    # One points at a movie: its range is in that one's own timecode.
    clip = track[3]
    clip.metadata[NAMESPACE]["source_first"] = 86_400
    clip.source_range = otio.opentime.TimeRange(frames(86_405), clip.source_range.duration - frames(5))
    lines = compared(SCENE, read_edit(timeline.to_json_string().encode(), "a.otio", SCENE))
    assert [line.what for line in lines] == [("same",)] * 5 + [("head -5",)] + [("same",)] * 3


def test_the_edl_says_what_the_cut_is_by_opentimelineio_s_own_reading():
    """Record times add up to the cut; source times are stage frames; a dissolve comes back as it lay."""
    scene = slack_tide_film()
    text = write_edl(scene)
    track = otio.adapters.read_from_string(text, "cmx_3600", rate=24).tracks[0]
    assert (
        sum(item.duration().value for item in track if not isinstance(item, otio.schema.Transition))
        == Clocks(scene).length
    )
    assert [clip.name for clip in track.find_clips()] == ["005", "010", "020", "030", "040"]
    third = list(track.find_clips())[2]
    assert third.source_range.start_time.value == scene.shots[2].stage.first
    lines = compared(scene, read_edit(text.encode(), "a.edl", scene))
    assert [line.what for line in lines] == [("same",)] * 5 and {line.match for line in lines} == {"name"}


BAD = {
    "empty": (b"", "isn't a list of shots"),
    "no json": (b'{"OTIO_SCHEMA": ', "not an OpenTimelineIO file"),
    "no timeline": (b'{"a": 1}', "not an OpenTimelineIO file|no picture|no clips"),
    "words": (b"hello there", "isn't a list of shots"),
    "bad line": (b"TITLE: X\n\n001  A V C 00:00:01:00 00:00:02:00 00:00:00:00\n", "line 3 of it cannot be read"),
    "no clips": (otio.schema.Timeline("x", tracks=[otio.schema.Track("v")]).to_json_string().encode(), "no clips"),
    "sound alone": (
        otio.schema.Timeline("x", tracks=[otio.schema.Track("a", kind=otio.schema.TrackKind.Audio)]).to_json_string().encode(), "no picture track",
    ),
}  # fmt: skip


@pytest.mark.parametrize("what", BAD)
def test_a_bad_list_is_refused(what):
    content, says = BAD[what]
    with pytest.raises(BadInput, match=says) as told:
        read_edit(content, "back.otio", SCENE)
    assert told.value.remedy


def test_a_list_of_another_scene_is_refused_and_nothing_changes():
    clips = [Came(name="Other", first=90_000, count=10).model_dump(mode="json")]
    with pytest.raises(HeronError, match="none of our shots"):
        do(SCENE, {"kind": "cut.conform", "clips": clips})
    same = [one.model_dump(mode="json") for one in back(SCENE, lambda track: None)]
    with pytest.raises(HeronError, match="nothing to take"):
        do(SCENE, {"kind": "cut.conform", "clips": same})


def test_the_command_line_conforms(tmp_path, capsys):
    def heron(*words):
        code = main([str(word) for word in words])
        out = capsys.readouterr()
        return code, json.loads(out.out) if out.out else out.err

    (tmp_path / "s.json").write_text(write_scene(SCENE))
    assert heron("export", tmp_path / "s.json", "--to", "edl", "--out", tmp_path / "a.edl")[0] == 0
    timeline = otio.adapters.read_from_string(write_otio(SCENE), "otio_json")
    trimmed(timeline.tracks[0][1], 2, 0)
    del timeline.tracks[0][0]
    (tmp_path / "back.otio").write_text(timeline.to_json_string())
    code, told = heron(
        "conform",
        tmp_path / "s.json",
        tmp_path / "back.otio",
        "--take",
        "trimmed",
        "--out",
        tmp_path / "s2.json",
    )
    assert code == 0 and told[0] == {
        "clip": "020", "shot": "s1", "match": "id", "what": ["head +2"], "stage": [1108, 1145], "shown": True, "sentence": "020: head +2 f",
    }  # fmt: skip
    assert told[-1]["clip"] is None and told[-1]["shot"] == "s0" and told[-1]["what"] == ["gone"]
    after = read_scene((tmp_path / "s2.json").read_text())
    assert [shot.id for shot in after.shots] == [shot.id for shot in SCENE.shots] and after.shots[
        1
    ].stage.first == 1108
    assert heron("conform", tmp_path / "s.json", tmp_path / "a.edl", "--rate", 24)[0] == 0
    assert heron("conform", tmp_path / "s.json", tmp_path / "back.otio", "--take", "nothing")[0] == 2
    assert heron("conform", tmp_path / "s.json", tmp_path / "s.json")[0] == 2


def test_lines_are_left_one_by_one():
    """A trim, a move, a deletion and a new clip: each is left as it is, the others are taken."""
    scene = many(4)

    def change(track):
        trimmed(track[0], 3, 0)
        del track[1]
        track.insert(0, track.pop(2))
        track.append(
            otio.schema.Clip("Insert", source_range=otio.opentime.TimeRange(frames(9000), frames(24)))
        )

    clips = back(scene, change)
    keys = {line.what: line.key for line in compared(scene, clips)}
    assert keys == {
        ("moved",): "s3",
        ("head +3",): "s0",
        ("same",): "s2",
        ("new",): "clip-3",
        ("gone",): "s1",
    }

    def left(*leave):
        return [
            (shot.id if shot.camera else shot.name, shot.stage.first)
            for shot in conformed(scene, clips, leave=leave)
        ]

    assert left() == [("s3", 1290), ("s0", 1017), ("s2", 1200), ("Insert", 1)]
    assert left("s0") == [("s3", 1290), ("s0", 1020), ("s2", 1200), ("Insert", 1)]
    assert left("s3") == [("s0", 1017), ("s2", 1200), ("s3", 1290), ("Insert", 1)]
    assert left("s1") == [("s3", 1290), ("s0", 1017), ("s1", 1110), ("s2", 1200), ("Insert", 1)]
    assert left("clip-3") == [("s3", 1290), ("s0", 1017), ("s2", 1200)]
