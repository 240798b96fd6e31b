"""Edits of the cut, against a plain list of what each frame of the cut shows, cut and joined by hand."""

import io
import json
import re
from contextlib import redirect_stdout

import opentimelineio as otio
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from heron.cli import main
from heron.commands import parse_commands, run_one
from heron.commands.cutting import MoveEdges, limits
from heron.errors import HeronError
from heron.formats.otio import write_otio
from heron.scene import empty_scene, write_scene
from heron.sound.clips import clips_of
from heron.timebase import Frames

BLACK = (None, 0)


def cut_of(*shots):
    """A scene of 400 frames with shots (camera, first, last, black before)."""
    commands = [
        {"kind": "camera.add", "id": c, "name": f"Camera {c}", "focal": 35, "pose": dict.fromkeys(("x", "y", "z", "pan", "tilt", "roll"), 0)}
        for c in "abc"
    ]  # fmt: skip
    for n, (camera, first, last, gap) in enumerate(shots, 1):
        id_ = f"s{n}"
        commands.append(
            {
                "kind": "shot.add",
                "id": id_,
                "camera": camera,
                "stage": {"first": first, "last": last},
                "name": f"{n}0",
            }
        )
        commands.append({"kind": "shot.set", "shot": id_, "gap_before": gap})
    scene = empty_scene("Cut").having(frames=Frames(first=1001, last=1400))
    for command in parse_commands(json.dumps(commands)):
        scene, _ = run_one(scene, command)
    return scene


def frames(scene):
    """What each frame of the cut shows: (camera, stage frame), or black."""
    out = []
    for shot in scene.shots:
        out += [BLACK] * shot.gap_before + [(shot.camera, f) for f in shot.stage.array().tolist()]
    return out


def do(scene, **edit):
    return run_one(scene, parse_commands(json.dumps({"kind": "cut.edit", "do": edit}))[0])


def numbers(scene):
    return [(s.gap_before, s.stage.first, s.stage.count) for s in scene.shots]


#: |--10--|..|----20----|--30--|, 20 + 3 + 40 + 30 frames.
CUT = cut_of(("a", 1101, 1120, 0), ("b", 1201, 1240, 3), ("c", 1301, 1330, 0))


@pytest.mark.parametrize(
    ("edit", "expected"),
    [
        ({"edit": "trim_in", "shots": ["20"], "by": 5}, lambda f: f[:23] + f[28:]),
        ({"edit": "trim_out", "shots": ["20"], "by": -5}, lambda f: f[:58] + f[63:]),
        ({"edit": "trim_in", "shots": ["20"], "by": 5, "leaving": True}, lambda f: f[:20] + [BLACK] * 8 + f[28:]),
        ({"edit": "trim_out", "shots": ["20"], "by": -5, "leaving": True}, lambda f: f[:58] + [BLACK] * 5 + f[63:]),
        ({"edit": "trim_in", "shots": ["20"], "by": -5, "overwriting": True}, lambda f: f[:18] + [("b", n) for n in range(1196, 1201)] + f[23:]),
        ({"edit": "trim_out", "shots": ["20"], "by": 4, "overwriting": True}, lambda f: f[:63] + [("b", n) for n in range(1241, 1245)] + f[67:]),
        ({"edit": "roll", "shots": ["30"], "by": 5}, lambda f: f[:63] + [("b", n) for n in range(1241, 1246)] + f[68:]),
        ({"edit": "slip", "shots": ["20"], "by": -7}, lambda f: f[:23] + [("b", n) for n in range(1194, 1234)] + f[63:]),
        # Black on the left is used, the neighbour on the right gives its first frames.
        ({"edit": "slide", "shots": ["20"], "by": -2}, lambda f: f[:21] + f[23:63] + [("c", 1299), ("c", 1300)] + f[63:]),
        ({"edit": "lift", "shots": ["20"]}, lambda f: f[:20] + [BLACK] * 43 + f[63:]),
        ({"edit": "ripple_delete", "shots": ["20"]}, lambda f: f[:23] + f[63:]),
        ({"edit": "close_gap", "shots": ["20"]}, lambda f: f[:20] + f[23:]),
        ({"edit": "duplicate", "shots": ["20"]}, lambda f: f[:63] + f[23:63] + f[63:]),
        # The black before 20 stays before 20.
        ({"edit": "duplicate", "shots": ["30", "10"], "before": "20"}, lambda f: f[:20] + f[:20] + f[63:] + f[20:]),
        ({"edit": "insert", "camera": "C", "stage": [1001, 1004], "at": 30}, lambda f: f[:30] + [("c", n) for n in range(1001, 1005)] + f[30:]),
        ({"edit": "insert", "camera": "C", "stage": [1001, 1004], "at": 21}, lambda f: f[:21] + [("c", n) for n in range(1001, 1005)] + f[21:]),
        ({"edit": "overwrite", "camera": "C", "stage": [1001, 1050], "at": 18}, lambda f: f[:18] + [("c", n) for n in range(1001, 1051)] + f[68:]),
        ({"edit": "overwrite", "camera": "C", "stage": [1001, 1003], "at": 99}, lambda f: f + [BLACK] * 6 + [("c", n) for n in range(1001, 1004)]),
        # Three points: where it begins follows from where it ends.
        ({"edit": "overwrite", "camera": "C", "stage_out": 1003, "cut_in": 20, "cut_out": 22}, lambda f: f[:20] + [("c", n) for n in range(1001, 1004)] + f[23:]),
        ({"edit": "split", "at": 30}, lambda f: f),
        ({"edit": "swap_angle", "shots": ["10"], "camera": "B"}, lambda f: [("b", n) for _, n in f[:20]] + f[20:]),
        ({"edit": "replace", "shots": ["10"], "stage": [1001, 1005]}, lambda f: [("a", n) for n in range(1001, 1006)] + f[20:]),
        ({"edit": "replace", "shots": ["10"], "camera": "C", "stage_in": 1001}, lambda f: [("c", n) for n in range(1001, 1021)] + f[20:]),
        # As long as shots usually are: five seconds at 24.
        ({"edit": "insert", "camera": "C", "stage_in": 1001, "at": 30}, lambda f: f[:30] + [("c", n) for n in range(1001, 1121)] + f[30:]),
        ({"edit": "move", "shots": ["30"], "before": "10"}, lambda f: f[63:] + f[:63]),
        ({"edit": "extend", "shots": ["10"], "edge": "out", "to": 21}, lambda f: [*f[:20], ("a", 1121), ("a", 1122), *f[22:]]),
        ({"edit": "extend", "shots": ["30"], "edge": "in", "to": 60}, lambda f: f[:60] + [("c", n) for n in range(1298, 1301)] + f[63:]),
    ],
)  # fmt: skip
def test_each_edit_is_as_it_is_drawn(edit, expected):
    after, said = do(CUT, **edit)
    assert frames(after) == expected(frames(CUT)) and said
    assert len({s.id for s in after.shots}) == len({s.name for s in after.shots}) == len(after.shots)


@pytest.mark.parametrize("edit", ["trim_in", "trim_out", "roll", "slip", "sound"])
@pytest.mark.parametrize("more", [{}, {"leaving": True}, {"overwriting": True}, {"picture_alone": True}])
def test_the_limits_are_the_farthest_that_goes_by_trying_every_frame(edit, more):
    for shot in ("20", "30"):
        if edit in ("roll", "sound") and shot == "20":
            continue  # black lies before it
        asked = MoveEdges(edit=edit, shots=(shot,), **more)
        back, forth = limits(CUT, asked)
        goes = []
        for by in range(-400, 401):
            try:
                do(CUT, edit=edit, shots=[shot], by=by, **more)
                goes.append(by)
            except HeronError:
                pass
        assert (goes[0], goes[-1]) == (back.by, forth.by) and len(goes) == goes[-1] - goes[0] + 1
        with pytest.raises(HeronError) as refused:
            do(CUT, edit=edit, shots=[shot], by=forth.by + 1, **more)
        assert forth.why and forth.why in str(refused.value.reason)


@st.composite
def sequences(draw):
    return draw(st.lists(st.tuples(
        st.sampled_from(["insert", "overwrite", "lift", "ripple_delete", "split", "duplicate", "roll", "trim_in", "trim_out", "slip", "close_gap", "swap_angle", "move"]),
        st.integers(0, 9), st.integers(-30, 30), st.integers(0, 140), st.booleans(),
    ), min_size=3, max_size=12))  # fmt: skip


@settings(max_examples=80, deadline=None, suppress_health_check=list(HealthCheck))
@given(sequences())
def test_any_edits_leave_what_they_do_not_touch_and_a_whole_cut(made):
    scene = CUT
    for kind, which, by, at, flag in made:
        before = frames(scene)
        if not scene.shots:
            return
        shot = scene.shots[which % len(scene.shots)]
        start = (
            sum(s.gap_before + s.stage.count for s in scene.shots[: scene.shots.index(shot)])
            + shot.gap_before
        )
        stop, n = start + shot.stage.count, shot.stage.count
        edit = {
            "insert": {"camera": "C", "stage": [1010, 1010 + abs(by)], "at": at},
            "overwrite": {"camera": "C", "stage": [1010, 1010 + abs(by)], "at": at},
            "split": {"at": at}, "swap_angle": {"shots": [shot.id], "camera": "A"}, "move": {"shots": [shot.id]},
        }.get(kind, {"shots": [shot.id]})  # fmt: skip
        if kind in ("roll", "trim_in", "trim_out", "slip"):
            edit |= {"by": by, "leaving": flag}
        try:
            scene, _ = do(scene, edit=kind, **edit)
        except HeronError as refused:
            assert refused.reason and refused.remedy
            continue
        now, new = frames(scene), [("c", f) for f in range(1010, 1011 + abs(by))]
        padded = before + [BLACK] * max(at - len(before), 0)
        if kind == "insert":
            assert now == padded[:at] + new + padded[at:]
        elif kind == "overwrite":
            assert now == padded[:at] + new + padded[at + len(new) :]
        elif kind == "lift":
            assert now == (
                before[:start] + [BLACK] * n + before[stop:]
                if shot is not scene and stop < len(before)
                else now
            )
        elif kind == "ripple_delete":
            # The black before it stays, but at the end of the cut there is none.
            kept = before[:start] + before[stop:]
            assert now == kept or now == before[: start - shot.gap_before]
        elif kind in ("split", "swap_angle") or (kind in ("roll", "slip")):
            assert len(now) == len(before)
        elif kind == "duplicate":
            assert now == before[:stop] + before[start:stop] + before[stop:]
        assert all(s.stage.count >= 1 and s.gap_before >= 0 for s in scene.shots)
        assert all(s.stage.first >= 1001 and s.stage.last <= 1400 for s in scene.shots)
        assert len({s.id for s in scene.shots}) == len(scene.shots)
        if kind in ("roll", "slip", "trim_in", "trim_out"):
            # Undone by the same the other way.
            back, _ = do(scene, edit=kind, **{**edit, "by": -by})
            assert frames(back) == before


def sounding(scene):
    """Of which stage frame each frame of the cut has the sound: the picture's, then over again where sound leads or trails."""
    out, at = [n for _, n in frames(scene)], 0
    for i, shot in enumerate(scene.shots):
        at += shot.gap_before
        lead, first, before = shot.sound_lead, shot.stage.first, scene.shots[i - 1].stage.last
        if lead > 0:
            out[at - lead : at] = range(first - lead, first)
        elif lead < 0:
            out[at : at - lead] = range(before + 1, before + 1 - lead)
        at += shot.stage.count
    return out


def clipped(scene):
    """The same, of a sound that lies over the whole stage, as it is mixed: 2,000 samples a frame at 24."""
    sound = {"id": "all", "name": "All", "lane": "effects", "file": "0" * 24, "samples": 800_000}
    sound |= {"kind": "sound.add", "on": "stage", "first": 1001}
    scene, _ = run_one(scene, parse_commands(json.dumps(sound))[0])
    out = [0] * len(frames(scene))
    for clip in clips_of(scene):
        begin, end = clip.start // 2000, clip.stop // 2000
        assert out[begin:end] == [0] * (end - begin)
        out[begin:end] = range(1001 + clip.into // 2000, 1001 + clip.into // 2000 + end - begin)
    return out


LED, _ = do(
    cut_of(("a", 1101, 1120, 0), ("b", 1201, 1240, 0), ("c", 1301, 1330, 0)),
    edit="sound",
    shots=["20"],
    lead=6,
)
LED, _ = do(LED, edit="sound", shots=["30"], by=4)  # fmt: skip


@pytest.mark.parametrize(
    ("edit", "leads"),
    [
        ({"edit": "trim_in", "shots": ["20"], "by": 5}, (6, -4)),
        ({"edit": "trim_out", "shots": ["20"], "by": -30}, (6, -4)),
        ({"edit": "roll", "shots": ["20"], "by": 3}, (6, -4)),
        ({"edit": "slip", "shots": ["20"], "by": 9}, (6, -4)),
        ({"edit": "slide", "shots": ["20"], "by": -3}, (6, -4)),
        ({"edit": "swap_angle", "shots": ["20"], "camera": "A"}, (6, -4)),
        ({"edit": "roll", "shots": ["20"], "by": 3, "picture_alone": True}, (9, -4)),
        ({"edit": "sound", "shots": ["20", "30"], "by": -2}, (8, -2)),
        ({"edit": "sound", "shots": ["20", "30"], "lead": 1}, (1, 1)),
        # Its halves are heard as one, and the joints at the ends stay.
        ({"edit": "split", "at": 40}, (6, 0, -4)),
        ({"edit": "ripple_delete", "shots": ["10"]}, (-4,)),
        ({"edit": "lift", "shots": ["20"]}, (0,)),
        ({"edit": "move", "shots": ["30"], "before": "10"}, (0, 6)),
    ],
)
def test_where_sound_leads_or_trails_it_goes_on_doing_so_while_its_shots_touch(edit, leads):
    assert [s.sound_lead for s in LED.shots] == [0, 6, -4]
    after, said = do(LED, **edit)
    assert tuple(s.sound_lead for s in after.shots[1:]) == leads
    assert clipped(after) == sounding(after)
    had = {s.id for s in LED.shots if s.sound_lead}
    parted = [s.name for s in after.shots if s.id in had and not s.sound_lead]
    assert re.findall(r"sound and picture of shot (\w+) begin together now", said) == parted
    if edit.get("picture_alone"):
        assert sounding(after) == sounding(LED) and frames(after) != frames(LED)


@pytest.mark.parametrize(
    ("edit", "words"),
    [
        ({"edit": "sound", "shots": ["20"], "lead": 20}, "the sound of shot 10 would have no frames left: at most -13 f"),
        ({"edit": "sound", "shots": ["10"], "lead": 1}, "there is no cut before it"),
        ({"edit": "trim_out", "shots": ["10"], "by": -14}, "the sound of shot 10 would have no frames left: at most -13 f"),
        ({"edit": "replace", "shots": ["20"], "stage": [1005, 1040]}, "the stage begins at 1001: shot 20 has no earlier frames (2 f missing)"),
    ],
)  # fmt: skip
def test_sound_has_frames_of_its_own_to_lead_and_trail_by(edit, words):
    with pytest.raises(HeronError, match=re.escape(words)):
        do(LED, **edit)


def test_several_at_once_are_added_up_and_all_or_nothing_is_done():
    both, said = do(CUT, edit="slip", shots=["20", "30"], by=4)
    assert said == "Slipped shots 20 and 30 by +4 f" and numbers(both)[1:] == [(3, 1205, 40), (0, 1305, 30)]
    # Both joints of a shot rolled alike: it moves with what it shows.
    touching = do(CUT, edit="close_gap", shots=["20"])[0]
    moved, _ = do(touching, edit="roll", shots=["20", "30"], by=6)
    assert numbers(moved) == [(0, 1101, 26), (0, 1207, 40), (0, 1307, 24)]
    # A run of neighbours slides as one block.
    slid, _ = do(touching, edit="slide", shots=["20"], by=3)
    assert numbers(slid) == [(0, 1101, 23), (0, 1201, 40), (0, 1304, 27)]
    with pytest.raises(HeronError, match="shot 30 has no later frames: at most"):
        do(CUT, edit="slip", shots=["20", "30"], by=80)


def test_what_is_split_is_joined_again_and_others_are_not():
    split, _ = do(CUT, edit="split", at=30)
    names = [s.name for s in split.shots]
    joined, said = do(split, edit="join", shots=names[1:3])
    assert numbers(joined) == numbers(CUT) and said == f"Joined shots 20 and {names[2]}"
    other = do(split, edit="swap_angle", shots=[names[2]], camera="C")[0]
    late = do(split, edit="slip", shots=[names[2]], by=3)[0]
    for scene, shots, words in (
        (other, names[1:3], "20 is on B, .* on C"),
        (late, names[1:3], r"begins \+3 f from where 20 ends"),
        (CUT, ["10", "20"], "10 is on A, 20 on B"),
        (split, [names[0], names[2]], "Two neighbours"),
    ):
        with pytest.raises(HeronError, match=words):
            do(scene, edit="join", shots=shots)


@pytest.mark.parametrize(
    ("edit", "words"),
    [
        ({"edit": "roll", "shots": ["10"], "by": 1}, "10 is the first: there is no cut before it"),
        ({"edit": "roll", "shots": ["20"], "by": 1}, "20 does not touch the shot before it: 3 black frames"),
        ({"edit": "trim_in", "shots": ["20"], "by": 40}, r"20 would have no frames left: at most \+39 f"),
        ({"edit": "trim_in", "shots": ["20"], "by": -4, "leaving": True}, "20 would begin before the shot in front of it ends: at most -3 f"),
        ({"edit": "slip", "shots": ["30"], "by": 71}, r"the stage ends at 1400: shot 30 has no later frames: at most \+70 f"),
        ({"edit": "slip", "shots": ["99"], "by": 1}, "no shot 99"),
        ({"edit": "split", "at": 21}, "no shot has frames on both sides"),
        ({"edit": "split", "at": 23}, "no shot has frames on both sides"),
        ({"edit": "insert", "camera": "D", "stage": [1001, 1004], "at": 0}, "no camera D"),
        ({"edit": "insert", "camera": "A", "stage": [1390, 1410], "at": 0}, "the scene runs"),
        ({"edit": "overwrite", "camera": "A", "stage": [1001, 1048], "cut_in": 0, "cut_out": 49}, "48 f of the stage do not fill 50 f of the cut"),
        ({"edit": "overwrite", "camera": "A", "stage_out": 1001, "cut_in": 0}, "Three of the four points"),
        ({"edit": "overwrite", "camera": "A", "stage_in": 1010, "stage_out": 1001, "cut_in": 0}, "end before it starts"),
        ({"edit": "overwrite", "camera": "A", "stage": [1001, 1048], "cut_out": 9}, "begin 38 f before the cut does"),
        ({"edit": "replace", "shots": ["10"]}, "Nothing to put in its place"),
        ({"edit": "move", "shots": ["10"], "before": "10"}, "can't go before itself"),
        ({"edit": "extend", "shots": ["10", "20"], "edge": "in", "to": 3}, "done to one shot"),
    ],
)  # fmt: skip
def test_what_cannot_be_done_says_what_is_missing(edit, words):
    with pytest.raises(HeronError, match=words):
        do(CUT, **edit)


def test_what_editors_read_of_an_edited_cut_shows_the_same_frames():
    scene = do(CUT, edit="overwrite", camera="A", stage=[1001, 1012], at=55)[0]
    scene = do(scene, edit="slide", shots=["30"], by=-3)[0]
    timeline = otio.adapters.read_from_string(write_otio(scene), "otio_json")
    read = []
    for item in timeline.video_tracks()[0]:
        span = item.trimmed_range()
        first, count = int(span.start_time.value), int(span.duration.value)
        read += [first + k if isinstance(item, otio.schema.Clip) else 0 for k in range(count)]
    assert read == [frame for _, frame in frames(scene)]


def test_the_command_line_edits_all_or_nothing_and_tells_limits(tmp_path, capsys):
    path, out = tmp_path / "cut.json", tmp_path / "out.json"
    path.write_text(write_scene(CUT))

    def cli(*args):
        with redirect_stdout(io.StringIO()) as told:
            code = main([*args])
        return code, told.getvalue()

    said = json.loads(cli("cut", str(path))[1])
    assert said["length"] == 93 and [s["cut"] for s in said["shots"]] == [[0, 19], [23, 62], [63, 92]]
    assert (said["shots"][1]["camera"], said["shots"][1]["stage"], said["shots"][1]["gap_before"]) == (
        "B",
        [1201, 1240],
        3,
    )
    told = json.loads(cli("edit", str(path), "--do", '{"edit": "slip", "shots": ["20"]}', "--limits")[1])
    assert told[0]["by"] == [-200, 160] and "no earlier frames" in told[0]["stops"][0]
    two = [
        "--do",
        '{"edit": "roll", "shots": ["30"], "by": 5}',
        "--do",
        '{"edit": "slip", "shots": ["20"], "by": 3}',
    ]
    assert (
        json.loads(cli("edit", str(path), *two, "--out", str(out))[1])["said"][1] == "Slipped shot 20 by +3 f"
    )
    assert json.loads(cli("cut", str(out))[1])["shots"][1]["stage"] == [1204, 1248]
    out.unlink()
    last = ["--do", '{"edit": "roll", "shots": ["10"], "by": 1}']
    code, _ = cli("edit", str(path), *two, *last, "--out", str(out))
    assert code == 2 and not out.exists() and "no cut before it" in capsys.readouterr().err
