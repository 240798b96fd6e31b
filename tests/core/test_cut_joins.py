"""Slates, fades, dissolves, versions, live cuts and films, against counting by hand and OpenTimelineIO."""

import io
import json
from contextlib import redirect_stdout
from fractions import Fraction

import numpy as np
import opentimelineio as otio
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.core.test_cut_edits import BLACK, CUT, cut_of, do, frames, numbers

from heron.cli import main
from heron.commands import parse_commands, run_one
from heron.cut import Clocks
from heron.cut.differs import differences
from heron.cut.live import Press, taken
from heron.errors import HeronError
from heron.film.frames import Film, Reel
from heron.formats.otio import write_otio
from heron.scene import write_scene

#: |--10--|----20----|--30--|, 20 + 40 + 30 frames, on a, b and c.
TOUCHING = cut_of(("a", 1101, 1120, 0), ("b", 1201, 1240, 0), ("c", 1301, 1330, 0))


def after(scene, *edits):
    for edit in edits:
        scene, _ = do(scene, **edit)
    return scene


DISSOLVE = {"edit": "dissolve", "shots": ["20"], "frames": [4, 6]}


def test_a_dissolve_moves_nothing_and_adds_up_to_one_picture_on_every_frame():
    scene = after(TOUCHING, DISSOLVE)
    assert frames(scene) == frames(TOUCHING)
    mix = Clocks(scene).mix_table
    mixed = mix.frames
    assert mixed.tolist() == list(range(16, 26))
    # By hand: until the joint the picture of 20 comes in over 10, from four frames before its first; then 10 goes on.
    assert mix.stage[mixed].tolist() == [1197, 1198, 1199, 1200, 1121, 1122, 1123, 1124, 1125, 1126]
    incoming = np.where(mix.other == 1, mix.others, mix.own)[mixed]
    assert np.allclose(incoming, (np.arange(10) + 0.5) / 10) and not mix.light.any()
    assert np.allclose((mix.own + mix.others)[mixed], 1)


def test_fades_go_evenly_over_a_shots_own_frames():
    scene = after(
        CUT,
        {"edit": "fade_in", "shots": ["10"], "frames": 4, "colour": "#ffffff"},
        {"edit": "fade_out", "shots": ["30"], "frames": 5},
    )
    mix = Clocks(scene).mix_table
    own = mix.own
    assert np.allclose(own[:5], [0.125, 0.375, 0.625, 0.875, 1]) and np.allclose(
        own[-5:], [0.9, 0.7, 0.5, 0.3, 0.1]
    )
    # To white light is added, to black none.
    assert np.allclose(mix.light[0], 0.875) and not mix.light[-5:].any()
    assert [s.fade_colour for s in scene.shots] == ["#ffffff", "#000000", "#000000"]


@pytest.mark.parametrize(
    ("before", "edit", "words"),
    [
        ([], {"edit": "dissolve", "shots": ["10"], "frames": [2, 2]}, "no shot lies before it"),
        ([], {"edit": "dissolve", "shots": ["20"], "frames": [3, 41]}, r"20 has fades and dissolves on those frames \(1 f missing\)"),
        ([{"edit": "slip", "shots": ["30"], "by": -298}], {"edit": "dissolve", "shots": ["30"], "frames": [4, 2]}, r"begins at 1001: shot 30 has no earlier frames \(2 f"),
        ([{"edit": "fade_out", "shots": ["20"], "frames": 30}], {"edit": "fade_in", "shots": ["20"], "frames": 11}, r"\(1 f missing\)"),
        # What is mixed already stops a trim and a slip.
        ([DISSOLVE, {"edit": "slip", "shots": ["10"], "by": 270}], {"edit": "slip", "shots": ["10"], "by": 5}, r"10 has no later frames: at most \+4 f"),
        ([DISSOLVE], {"edit": "trim_out", "shots": ["20"], "by": -35}, r"20 has fades and dissolves on those frames: at most -34 f"),
        ([{"edit": "overwrite", "camera": None, "frames": 5, "at": 90}], {"edit": "slip", "shots": ["040"], "by": 5}, "is a slate"),
        ([], {"edit": "insert", "camera": None, "at": 3}, "needs a place and a length"),
        ([], {"edit": "choose", "shots": ["10"], "version": "b"}, "no other version called b"),
        ([], {"edit": "choose", "shots": ["10"], "step": -1}, "Shot 10 has one version"),
        ([], {"edit": "add_version", "shots": ["10"], "name": "b", "stage": [1, 9]}, "the scene runs"),
        ([], {"edit": "live", "start": 90, "presses": [[0, "B"]]}, "no frame 90"),
        ([], {"edit": "live", "start": 0, "presses": []}, "No camera was pressed"),
        ([], {"edit": "live", "start": 0, "presses": [[1, "Q"]]}, "no camera Q"),
    ],
)  # fmt: skip
def test_what_lacks_frames_is_refused_and_says_how_many(before, edit, words):
    with pytest.raises(HeronError, match=words):
        do(after(TOUCHING, *before), **edit)


@pytest.mark.parametrize(
    "edit",
    [
        {"edit": "trim_in", "shots": ["20"], "by": 3, "leaving": True},
        {"edit": "lift", "shots": ["10"]},
        {"edit": "move", "shots": ["20"]},
        {"edit": "insert", "camera": "C", "stage": [1001, 1004], "at": 20},
    ],
)
def test_a_dissolve_whose_shots_are_parted_is_a_plain_cut_and_that_is_said(edit):
    scene, said = do(after(TOUCHING, DISSOLVE), **edit)
    assert said.endswith("; the dissolve into shot 20 is a plain cut now")
    assert all(shot.dissolve is None for shot in scene.shots)


def test_a_split_leaves_joins_at_their_ends_and_joined_again_it_is_as_it_was():
    scene = after(TOUCHING, DISSOLVE, {"edit": "fade_out", "shots": ["20"], "frames": 7})
    for at in (8, 40):
        split = after(scene, {"edit": "split", "at": at})
        heads = [(s.dissolve, s.fade_out) for s in split.shots]
        # Before the joint, the half beside it goes on into it; after it, the second half has the end.
        assert heads == (
            [(None, 0), (None, 0), ((4, 6), 7), (None, 0)]
            if at == 8
            else [(None, 0), ((4, 6), 0), (None, 7), (None, 0)]
        )
        names = [s.name for s in split.shots]
        i = 0 if at == 8 else 1
        assert after(split, {"edit": "join", "shots": names[i : i + 2]}).shots == scene.shots


def test_a_version_is_chosen_and_the_other_kept_and_a_camera_that_goes_takes_its_versions():
    scene = after(
        CUT, {"edit": "add_version", "shots": ["20"], "name": "close", "camera": "C", "stage": [1205, 1216]}
    )
    assert frames(scene) == frames(CUT)
    chosen = after(scene, {"edit": "choose", "shots": ["20"], "version": "close"})
    assert frames(chosen) == frames(CUT)[:23] + [("c", f) for f in range(1205, 1217)] + frames(CUT)[63:]
    back = after(chosen, {"edit": "choose", "shots": ["20"], "version": chosen.shots[1].versions[0].name})
    # Round and round in the order of their names: 1, take 2, take 10.
    many = after(
        TOUCHING,
        *({"edit": "add_version", "shots": ["20"], "name": f"take {n}", "camera": "A"} for n in (10, 2)),
    )
    for step, names in ((1, ["take 2", "take 10", "1"]), (-1, ["take 10", "take 2", "1"])):
        now = many
        for name in names:
            now = after(now, {"edit": "choose", "shots": ["20"], "step": step})
            assert now.shots[1].version == name
    assert frames(back) == frames(CUT)

    def delete(scene, camera):
        return run_one(scene, parse_commands(json.dumps({"kind": "things.delete", "ids": [camera]}))[0])

    less, said = delete(scene, "c")
    assert [s.versions for s in less.shots] == [(), ()] and "a version of shot 20 goes with it" in said
    other, said = delete(chosen, "c")
    assert other.shots[1].camera == "b" and "shot 20 is “1” now" in said


def test_a_slate_counts_frames_of_its_own_until_it_is_given_a_camera():
    scene = after(CUT, {"edit": "insert", "camera": None, "frames": 50, "at": 63})
    slate = scene.shots[2]
    assert (slate.camera, slate.stage.count) == (None, 50) and Clocks(scene).to_stage(70) is None
    longer = after(
        scene, {"edit": "trim_in", "shots": [slate.id], "by": -9}, {"edit": "roll", "shots": ["30"], "by": 4}
    )
    assert longer.shots[2].stage.count == 63
    # The action goes on from the shot before it.
    given_ = after(longer, {"edit": "swap_angle", "shots": [slate.id], "camera": "A"})
    assert (given_.shots[2].stage.first, given_.shots[2].stage.count) == (1241, 63)


def test_what_is_refused_says_why_first_and_what_to_do_then():
    long = after(TOUCHING, {"edit": "insert", "camera": None, "frames": 401, "at": 0})
    for scene, edit, why, remedy in (
        (TOUCHING, {"edit": "insert", "camera": "A", "stage": [1390, 1410], "at": 0}, "A shot cannot show 1390–1410", "Choose frames inside"),
        (long, {"edit": "swap_angle", "shots": [long.shots[0].id], "camera": "A"}, "is 401 f long; the scene has 400", "Shorten the shot"),
        (TOUCHING, {"edit": "dissolve", "shots": ["10"], "frames": [0, 1]}, "Shot 10 can't dissolve in: no shot lies before it", "Fade it in"),
        (TOUCHING, {"edit": "live", "start": 0, "presses": [[0, "B"]], "speed": 4.5}, "at most 4", "Correct it"),
        (TOUCHING, {"edit": "split", "frame": 1110}, "Where to split was not said", "Give a frame of the cut"),
        (TOUCHING, {"edit": "split", "shot": "10", "frame": 1101}, "it cannot be cut at 1101", "Cut it at a frame"),
    ):  # fmt: skip
        with pytest.raises(HeronError) as refused:
            do(scene, **edit)
        assert why in refused.value.reason and refused.value.remedy.startswith(remedy)


def test_new_shots_go_under_the_id_that_was_asked_for():
    # The desk selects them by it; of several the first has it alone.
    command = {"kind": "cut.edit", "id": "mine", "do": {"edit": "duplicate", "shots": ["10", "20"]}}
    scene, _ = act(TOUCHING, **command)
    assert [s.id for s in scene.shots] == ["s1", "mine", "s2", "mine-2", "s3"]
    assert [s.name for s in scene.shots] == ["10", "015", "20", "025", "30"]


def test_a_dissolve_of_no_frames_is_a_plain_cut():
    scene, said = do(after(TOUCHING, DISSOLVE), edit="dissolve", shots=["20"], frames=[0, 0])
    assert scene.shots[1].dissolve is None and said == "Made a plain cut to shot 20"
    one, said = do(TOUCHING, edit="dissolve", shots=["20"], frames=[0, 1])
    assert one.shots[1].dissolve == (0, 1) and said.endswith("over 1 f (0 before the cut, 1 after)")


def read(scene):
    return otio.adapters.read_from_string(write_otio(scene), "otio_json").video_tracks()[0]


def test_editors_read_joins_as_transitions_and_the_handles_are_there():
    scene = after(
        cut_of(("a", 1101, 1120, 0), ("b", 1201, 1240, 0), ("c", 1301, 1330, 0), ("a", 1101, 1120, 7)),
        DISSOLVE, {"edit": "fade_in", "shots": ["10"], "frames": 5}, {"edit": "fade_out", "shots": ["20"], "frames": 3},
        {"edit": "fade_in", "shots": ["30"], "frames": 2}, {"edit": "fade_out", "shots": ["40"], "frames": 9},
    )  # fmt: skip
    track = read(scene)
    kinds = [
        (
            type(i).__name__,
            (int(i.in_offset.value), int(i.out_offset.value))
            if isinstance(i, otio.schema.Transition)
            else None,
        )
        for i in track
    ]
    assert [k for k in kinds if k[0] != "Clip"] == [
        ("Transition", (0, 5)), ("Transition", (4, 6)), ("Transition", (3, 2)), ("Gap", None), ("Transition", (9, 0)),
    ]  # fmt: skip
    assert [i for i, k in enumerate(kinds) if k[0] == "Transition"] == [0, 2, 4, 8]
    # What the dissolve draws on beyond both clips is there, by OpenTimelineIO's own algebra.
    out, in_ = track[1], track[3]
    six, four = (otio.opentime.RationalTime(n, 24) for n in (6, 4))
    for clip, more in ((out, otio.opentime.TimeRange(out.trimmed_range().start_time, out.duration() + six)),
                       (in_, otio.opentime.TimeRange(in_.trimmed_range().start_time - four, in_.duration() + four))):  # fmt: skip
        assert clip.available_range().contains(more)


# Cutting live

FPS = Fraction(24)


@pytest.mark.parametrize(
    ("presses", "expected"),
    [
        # By the rule: (2.2 s − 0.2 s)·24 = 48.
        ([(2.2, "b")], [(0, "a"), (48, "b")]),
        ([(2.2, "a")], [(0, "a")]),
        # Sooner than the shortest length: the opening angle.
        ([(0.4, "b")], [(0, "b")]),
        # A correction keeps the first decision's time; there and back never was.
        ([(2.2, "b"), (2.4, "c")], [(0, "a"), (48, "c")]),
        ([(2.2, "b"), (2.4, "a")], [(0, "a")]),
        ([(2.2, "b"), (2.7, "c")], [(0, "a"), (48, "b"), (60, "c")]),
        # None that leaves less than the shortest before the end, none after it.
        ([(4.05, "b")], [(0, "a")]),
        ([(9.0, "b")], [(0, "a")]),
    ],
)
def test_presses_land_on_the_frames_that_the_stated_rule_gives(presses, expected):
    found = taken([Press(*p) for p in presses], "a", 0, 100, FPS)
    assert [(t.at, t.camera) for t in found] == expected


def test_at_half_speed_half_as_many_frames_have_passed():
    assert taken([Press(2.2, "b")], "a", 10, 100, FPS, speed=0.5)[1].at == 34


@settings(max_examples=100, deadline=None)
@given(
    st.lists(st.tuples(st.floats(0, 6), st.sampled_from("ABC")), min_size=1, max_size=25), st.integers(0, 80)
)
def test_any_run_shows_the_same_action_with_the_angles_of_the_hand(presses, start):
    presses = sorted(presses)
    scene, said = do(CUT, edit="live", start=start, presses=presses)
    takes = taken(
        [Press(s, c.lower()) for s, c in presses], frames(CUT)[start][0] or frames(CUT)[23][0], start, 93, FPS
    )
    expected = list(frames(CUT))
    for take in takes:
        expected[take.at :] = [(take.camera, f) if c else BLACK for c, f in expected[take.at :]]
    assert frames(scene) == expected and said.startswith(f"Cut live from frame {start}")
    assert len({s.id for s in scene.shots}) == len({s.name for s in scene.shots}) == len(scene.shots)
    # No needless joint: where two shots meet, the camera changes or the action jumps.
    for one, two in zip(scene.shots, scene.shots[1:], strict=False):
        assert (
            two.gap_before
            or one.camera != two.camera
            or one.stage.stop != two.stage.first
            or one.stage.stop == 1240
        )


def test_of_a_long_run_the_first_angles_are_told_and_how_many_more():
    long = after(TOUCHING, {"edit": "replace", "shots": ["10"], "stage": [1001, 1200]})
    presses = [[0.2 + n / 2, "BC"[n % 2]] for n in range(10)]
    _, said = do(long, edit="live", start=0, presses=presses)
    # The first press opens; then one every 12 frames.
    assert said == (
        "Cut live from frame 0 of the cut: B from 0, C from 12, B from 24, C from 36, B from 48, C from 60, B from 72, C from 84"
        " and 2 more"
    )


def test_a_run_that_is_stopped_leaves_the_rest_as_it_was_but_no_scrap_of_a_shot():
    # By hand: 20 lies on 20 to 59; stopped at 40, 19 of its frames go on as they were; stopped at 52, none would be a shot.
    for to, angles in (
        (40, [("a", 20), ("c", 21), ("b", 19), ("c", 30)]),
        (52, [("a", 20), ("c", 40), ("c", 30)]),
    ):
        scene, _ = do(TOUCHING, edit="live", start=20, to=to, presses=[[0.1, "C"]])
        names = [int(shot.name) for shot in scene.shots]
        assert names == sorted(names)
        assert [(s.camera, s.stage.count) for s in scene.shots] == angles
        assert [f for _, f in frames(scene)] == [f for _, f in frames(TOUCHING)]


# Films

RATES = [Fraction(24000, 1001), Fraction(24), Fraction(25), Fraction(30000, 1001), Fraction(30), Fraction(48)]


@pytest.mark.parametrize("rate", RATES)
def test_a_film_frame_shows_what_is_on_screen_in_its_middle(rate):
    film = Film([Reel("one", 30, Fraction(24), "time"), Reel("two", 240, Fraction(25), "time")], rate)
    for frame in range(film.length):
        place, cut = film.shows(frame)
        reel = film.reels[place]
        # OpenTimelineIO holds times as doubles: enough to tell one frame from the next here.
        middle = otio.opentime.RationalTime(frame - film.begins[place] + 0.5, float(rate))
        there = middle.rescaled_to(float(reel.rate)).value
        assert cut == min(int(there + 1e-7), reel.count - 1)
        back = film.shown_at(place, cut)
        assert back is not None and back <= frame and film.shows(back) == (place, cut)
    ends = [float(b / rate) for b in film.begins]
    assert abs(ends[1] - 30 / 24) < 1 / rate and abs(ends[2] - ends[1] - 240 / 25) < 1 / rate


def test_a_scene_of_another_rate_is_refused_until_it_is_said_how_it_fits():
    with pytest.raises(HeronError, match=r"Scene 2 \(two\) runs at 25, the film at 24"):
        Film([Reel("one", 30, Fraction(24)), Reel("two", 30, Fraction(25))], Fraction(24))
    assert Film([Reel("two", 30, Fraction(25), "frames")], Fraction(24)).length == 30
    skipped = Film([Reel("two", 50, Fraction(25), "time")], Fraction(24))
    assert [c for c in range(50) if skipped.shown_at(0, c) is None]
    with pytest.raises(HeronError, match="no frame 48"):
        skipped.shows(skipped.length)


def test_the_command_line_of_joins_live_cuts_and_films(tmp_path, capsys):
    path, out = tmp_path / "a.json", tmp_path / "b.json"
    path.write_text(write_scene(TOUCHING))

    def cli(*args):
        with redirect_stdout(io.StringIO()) as told:
            code = main([str(a) for a in args])
        return code, json.loads(told.getvalue() or "null")

    edits = [
        DISSOLVE,
        {"edit": "fade_in", "shots": ["10"], "frames": 3, "colour": "#ffffff"},
        {"edit": "add_version", "shots": ["30"], "name": "wide", "camera": "A"},
    ]
    assert cli("edit", path, *(x for e in edits for x in ("--do", json.dumps(e))), "--out", out)[0] == 0
    one, two, three = cli("cut", out)[1]["shots"]
    assert (one["fade_in"], one["fade_colour"], one["dissolve"]) == (3, "#ffffff", None)
    assert two["dissolve"] == [4, 6] and "fade_colour" not in two and three["versions"] == ["wide"]
    assert cli("live", path, "--presses", '[[1.2, "C"]]', "--from", 10, "--out", out)[0] == 0
    assert [(s["camera"], s["cut"]) for s in cli("cut", out)[1]["shots"]][:3] == [
        ("A", [0, 19]),
        ("A", [20, 33]),
        ("C", [34, 59]),
    ]
    told = cli("film", path, path, "--rate", 24, "--at", 95)[1]
    assert told["length"] == 180 and told["scenes"][1]["film"] == [90, 179]
    assert told["at"] == {"scene": "Cut", "shot": "10", "cut": 5, "stage": 1106}
    assert cli("film", path, "--rate", "23.976")[0] == 2 and "time keeps" in capsys.readouterr().err
    assert cli("film", path, "--rate", "24000/1001", "--fit", "frames")[1]["length"] == 90
    assert numbers(TOUCHING)[0] == (0, 1101, 20)


# Cuts that are kept


def act(scene, **command):
    return run_one(scene, parse_commands(json.dumps(command))[0])


def test_a_cut_is_kept_played_again_and_told_apart_in_words():
    kept, said = act(TOUCHING, kind="cut.keep", id="k", name="Long", when="2026-11-30")
    assert kept.shots == TOUCHING.shots and said == "Kept the cut as “Long”"
    other = after(
        kept, {"edit": "trim_out", "shots": ["20"], "by": -5}, {"edit": "slip", "shots": ["30"], "by": 4}, {"edit": "move", "shots": ["30"], "before": "10"},
        {"edit": "swap_angle", "shots": ["10"], "camera": "C"}, {"edit": "insert", "camera": None, "frames": 12, "at": 0}, {"edit": "fade_in", "shots": ["20"], "frames": 6},
    )  # fmt: skip
    letters = {"a": "on A", "b": "on B", "c": "on C", None: "a slate"}
    new = other.shots[0].name
    assert differences(TOUCHING.shots, other.shots, letters.get, Fraction(24)) == [
        f"{new} is new at the beginning: a slate, 12 f", f"30 stands after {new}, shows the action 4 f later", "10 is on C in place of on A",
        "20 ends 5 f earlier, fades in over 6 f", "It is 7 f (0.3 s) longer",
    ]  # fmt: skip
    back, said = act(other, kind="cut.use", cut="k")
    assert back.shots == TOUCHING.shots and (back.cut_name, back.cuts[0].name) == ("Long", "Cut 1")
    again, _ = act(back, kind="cut.use", cut="k")
    assert again.shots == other.shots and [one.name for one in again.cuts] == ["Long"]
    with pytest.raises(HeronError, match="called “Long” already"):
        act(kept, kind="cut.keep", name="Long")
    # A camera that has gone meanwhile leaves slates, and that is said.
    gone, _ = act(
        after(kept, {"edit": "swap_angle", "shots": ["20"], "camera": "A"}), kind="things.delete", ids=["b"]
    )
    used, said = act(gone, kind="cut.use", cut="k")
    assert [s.camera for s in used.shots] == ["a", None, "c"] and said.endswith("no camera for 20 any more")
    assert act(used, kind="cut.drop", cut="k")[0].cuts == ()


@settings(max_examples=100, deadline=None)
@given(st.permutations(range(7)))
def test_what_is_said_to_have_moved_is_as_little_as_can_be(order):
    scene = after(TOUCHING, *({"edit": "split", "at": at} for at in (5, 10, 30, 70)))
    two = [scene.shots[i] for i in order]
    said = differences(scene.shots, two, str, Fraction(24))
    # By trying all: the longest run that keeps its order.
    best = max(
        bin(m).count("1")
        for m in range(128)
        if (run := [p for i, p in enumerate(order) if m >> i & 1]) == sorted(run)
    )
    assert sum("stands" in one for one in said) == 7 - best


# A list of shots from a spreadsheet


def listed(text):
    return act(TOUCHING, kind="shots.list", id="l", csv=text)


@pytest.mark.parametrize("parted", [",", ";", "\t"])
def test_a_list_as_spreadsheets_write_it_becomes_slates(parted):
    # RFC 4180: a cell with the parting sign, a quote or a line break in it stands in quotes, quotes doubled.
    rows = [
        ["Shot", "Takes", "Length", "Description"],
        ["100", "1", "48", 'She says "no, wait"; then'],
        ["110", "", "2.5s", ""],
        [],
    ]
    quoted = ['"' + cell.replace('"', '""') + '"' for cell in rows[1]]
    text = "\ufeff" + "\r\n".join([parted.join(rows[0]), parted.join(quoted), parted.join(rows[2]), ""])
    scene, said = listed(text)
    assert [(s.name, s.camera, s.stage.count, s.note) for s in scene.shots[3:]] == [
        ("100", None, 48, 'She says "no, wait"; then'), ("110", None, 60, ""),
    ]  # fmt: skip
    assert said == "Brought in 2 shots from a list (108 f)"


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "The list is empty"),
        ("name,what\na,b", "no column for the length"),
        ("name,length\n100,48\n100,48\n,3\nx,\ny,soon\nz,-4\n20,9", r"6 of 7 rows .*row 3: a shot is called 100 already; row 4: it has no name; row 5: it has no length; row 6: 'soon' is not a length.*row 8: a shot is called 20 already"),
        ("name,length\n" + "".join(f"s{n},1\n" for n in range(10_000)), "10,000 rows; 5,000 are the most"),
    ],
)  # fmt: skip
def test_a_list_with_anything_wrong_makes_nothing_and_says_where(text, words):
    with pytest.raises(HeronError, match=words):
        listed(text)


def test_a_version_is_called_by_its_camera_and_chosen_in_one_step():
    keep = {"edit": "add_version", "shots": ["20"], "camera": "A", "choose": True}
    scene = after(TOUCHING, keep, keep)
    was, now = TOUCHING.shots[1], scene.shots[1]
    assert now.version == "on A, 2" and now.camera == next(c.id for c in scene.cameras if c.letter == "A")
    assert {one.name: one.camera for one in now.versions} == {"1": was.camera, "on A": now.camera}
    assert now.stage == was.stage


def test_a_usual_dissolve_takes_a_quarter_of_a_second_to_either_side_or_what_there_is():
    usual = {"edit": "dissolve", "shots": ["20"], "usual": True}
    # At 24 frames a second six and six.
    assert after(TOUCHING, usual).shots[1].dissolve == (6, 6)
    # 10 ends four frames before the stage does: halved until it fits, three and three.
    late = cut_of(("a", 1381, 1396, 0), ("b", 1201, 1240, 0))
    assert late.frames.last == 1400 and after(late, usual).shots[1].dissolve == (3, 3)


@pytest.mark.parametrize(
    ("stage", "places"),
    [
        # By hand, of shots of 20, 40 and 30 frames one behind the other: 10 more or fewer, and the third ends at 89 as before.
        ((1201, 1230), [(0, 19), (20, 49), (60, 89)]),
        ((1201, 1250), [(0, 19), (20, 69), (70, 89)]),
    ],
)
def test_a_version_of_another_length_leaves_the_rest_in_its_place_where_that_is_asked(stage, places):
    kept = after(TOUCHING, {"edit": "add_version", "shots": ["20"], "name": "other", "stage": list(stage)})
    choose = {"edit": "choose", "shots": ["20"], "version": "other"}
    shown = [(p.cut_first, p.cut_last) for p in Clocks(after(kept, {**choose, "keep_place": True})).placed]
    assert shown == places
    grown = stage[1] - stage[0] + 1 - 40
    assert Clocks(after(kept, choose)).length == 90 + grown
    back = {"edit": "choose", "shots": ["20"], "version": "1", "keep_place": True}
    assert Clocks(after(kept, {**choose, "keep_place": True}, back)).length == 90


def test_a_version_too_long_for_its_place_is_refused():
    kept = after(TOUCHING, {"edit": "add_version", "shots": ["20"], "name": "long", "stage": [1201, 1270]})
    with pytest.raises(HeronError, match=r"30 f longer than there is room for.*no frames left"):
        after(kept, {"edit": "choose", "shots": ["20"], "version": "long", "keep_place": True})


def test_a_list_names_pictures_that_came_with_it_or_nothing_is_made():
    listed = 'name,length,text,picture\r\n050,24,"She waits, alone",wait.png\r\n060,1s,,\r\n'
    with pytest.raises(HeronError, match=r"row 2: its picture wait\.png was not given"):
        run_one(TOUCHING, parse_commands(json.dumps({"kind": "shots.list", "csv": listed}))[0])
    key = "0123456789abcdef01234567"
    boards = {"wait.png": key, "other.png": "f" * 24}
    scene = run_one(
        TOUCHING, parse_commands(json.dumps({"kind": "shots.list", "csv": listed, "boards": boards}))[0]
    )[0]
    assert [(s.name, s.stage.count, s.note, s.board) for s in scene.shots[3:]] == [
        ("050", 24, "She waits, alone", key), ("060", 24, "", ""),
    ]  # fmt: skip
