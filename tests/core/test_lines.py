"""Dialogue: its lengths against rates of speaking, its words in time, and its formats against webvtt-py and by hand."""

import io
import json
from fractions import Fraction

import pytest
import webvtt
from doing import do
from hypothesis import given
from hypothesis import strategies as st

from heron.bake import Bake
from heron.cli import main
from heron.dailies.shot_list import shot_list
from heron.dailies.slate import slate
from heron.demo import slack_tide
from heron.errors import HeronError
from heron.formats.dialogue import scene_fountain, scene_vtt
from heron.lines import speaker, timed
from heron.lines.any_text import read_any
from heron.lines.fountain import read_fountain
from heron.lines.law import onsets, seconds, spoken
from heron.lines.subtitles import read_srt, read_vtt
from heron.lines.timing import next_speaker
from heron.scene import find, read_scene, write_scene

#: The first of the Rainbow Passage (Fairbanks, 1960), 98 words; from memory. Adults read it at 150 to 190 words a minute.
RAINBOW = (
    "When the sunlight strikes raindrops in the air, they act as a prism and form a rainbow. The rainbow is a division "
    "of white light into many beautiful colors. These take the shape of a long round arch, with its path high above, and "
    "its two ends apparently beyond the horizon. There is, according to legend, a boiling pot of gold at one end. People "
    "look, but no one ever finds it. When a man looks for something beyond his reach, his friends say he is looking for "
    "the pot of gold at the end of the rainbow."
)
EMPTY = slack_tide().having(lines=())
TALK = [
    {"kind": "line.add", "id": "a", "figure": "fig-odile", "text": "You've missed the tide.", "first": 1100},
    {"kind": "line.add", "id": "b", "figure": "fig-bram", "text": "Then I'll wait for the next one."},
    {"kind": "line.add", "id": "c", "figure": "fig-odile", "text": "There isn't one.", "pause": -5},
]


def times(scene):
    return {one.line.id: (one.first, one.last) for one in timed(scene)}


def test_a_passage_lasts_as_long_as_people_take_to_read_it():
    assert len(RAINBOW.split()) == 98
    # At an ordinary 150 words a minute, within 15 %.
    assert seconds(RAINBOW) == pytest.approx(98 / 150 * 60, rel=0.15)
    assert seconds(RAINBOW, pace=300) == pytest.approx(seconds(RAINBOW) / 2)
    # No word is said in less than about a third of a second, and a comma is heard.
    assert seconds("O") == 0.35 and seconds("No, no.") > seconds("No no.") + 0.3


def test_numbers_are_said_in_words():
    assert spoken("Bring 6 oars and 1,200 nails.") == "Bring six oars and one thousand, two hundred nails."
    assert onsets(["6", "six"])[1] == 0.5
    assert onsets(["a", "bcd"]) == [0, 2 / 6, 1]


def test_a_line_follows_the_one_before_it_and_moves_with_it():
    scene, _ = do(EMPTY, *TALK)
    at = times(scene)
    # A quarter of a second between speakers (ours), and an overlap of five frames.
    assert at["a"][0] == 1100 and at["b"][0] == at["a"][1] + 1 + 6 and at["c"][0] == at["b"][1] + 1 - 5
    later, said = do(scene, {"kind": "lines.move", "ids": ["a"], "by": 12})
    assert times(later) == {id_: (first + 12, last + 12) for id_, (first, last) in at.items()}
    assert said == "Moved “You've missed the tide.” 12 f later"
    # Both chosen: each by as much, not the second twice.
    assert times(do(scene, {"kind": "lines.move", "ids": ["a", "c"], "by": 12})[0]) == times(later)
    longer, said = do(scene, {"kind": "line.set", "line": "b", "pause": 30})
    assert times(longer)["b"][0] == at["a"][1] + 31 and said.endswith("comes 30 f after the line before it")
    with pytest.raises(HeronError, match=r"before the stage does .1001.*at most 99 f earlier"):
        do(scene, {"kind": "lines.move", "ids": ["a"], "by": -100})


def test_a_line_put_or_taken_out_between_others_moves_none_of_them():
    scene, _ = do(EMPTY, *TALK)
    at = times(scene)
    between, said = do(
        scene, {"kind": "line.add", "id": "x", "who": "Voice off", "text": "Hey!", "first": at["b"][0] + 3}
    )
    assert [one.id for one in between.lines] == ["a", "b", "x", "c"]
    assert {k: v for k, v in times(between).items() if k != "x"} == at
    gone, _ = do(between, {"kind": "things.delete", "ids": ["b"]})
    assert times(gone)["c"] == at["c"] and [one.id for one in gone.lines] == ["a", "x", "c"]
    # One that is put after another pushes what follows.
    pushed, _ = do(scene, {"kind": "line.add", "id": "x", "figure": "fig-bram", "text": "Hm.", "after": "a"})
    assert times(pushed)["x"][0] == at["a"][1] + 7 and times(pushed)["b"][0] == times(pushed)["x"][1] + 7
    _, said = do(
        scene, {"kind": "line.add", "id": "x", "figure": "fig-odile", "text": "I said no.", "first": 1101}
    )
    assert said.endswith("Odile says two lines at once there")


def test_a_word_is_held_and_those_after_it_keep_their_lengths():
    scene, _ = do(EMPTY, *TALK)
    line = timed(scene)[0]
    held, said = do(scene, {"kind": "line.word", "line": "a", "word": 3, "frame": line.words[3] + 20})
    now = timed(held)[0]
    assert said == "Held “tide” of “You've missed the tide.” at " + str(line.words[3] + 20)
    assert now.words[3] == line.words[3] + 20 and now.last == line.last + 20 and now.first == line.first
    # Words before it share the longer time as they shared the shorter one, to a frame.
    stretch = (now.words[3] - now.first) / (line.words[3] - line.first)
    assert all(
        abs(b - now.first - stretch * (a - line.first)) <= 1.5
        for a, b in zip(line.words[:3], now.words[:3], strict=True)
    )
    # The line after it follows.
    assert times(held)["b"][0] == times(scene)["b"][0] + 20
    assert timed(do(held, {"kind": "line.word", "line": "a", "word": 3})[0])[0] == line
    ended, _ = do(scene, {"kind": "line.word", "line": "a", "word": 4, "frame": 1180})
    assert times(ended)["a"] == (1100, 1179)
    for word, frame, why in (
        (0, 1101, "begins with its line"),
        (2, 1101, "It can begin from 1102"),
        (5, 1150, "4 words"),
    ):
        with pytest.raises(HeronError, match=why):
            do(scene, {"kind": "line.word", "line": "a", "word": word, "frame": frame})
    # Other words: those that stand as they did are held.
    other, said = do(held, {"kind": "line.set", "line": "a", "text": "You've missed it."})
    assert other.lines[0].held == () and said.endswith("1 of its words is no longer held")
    assert (
        do(held, {"kind": "line.set", "line": "a", "text": "You've missed the tide, Bram."})[0].lines[0].held
        == ()
    )


def test_who_says_a_line_is_deleted_renamed_or_a_voice_off():
    scene, _ = do(EMPTY, *TALK, {"kind": "figure.set", "figure": "fig-bram", "name": "Abram"})
    assert [speaker(scene, one) for one in scene.lines] == ["Odile", "Abram", "Odile"]
    gone, said = do(scene, {"kind": "things.delete", "ids": ["fig-bram"]})
    assert speaker(gone, gone.lines[1]) == "Abram" and "stays as a voice off" in said
    assert times(gone) == times(scene) and read_scene(write_scene(gone)).lines == gone.lines
    back, said = do(gone, {"kind": "line.set", "line": "b", "figure": "fig-odile"})
    assert speaker(back, back.lines[1]) == "Odile" and said.startswith("Odile says “Then")
    listed = {one.shot: one.lines for one in shot_list(scene)}
    # 010 shows 1064 to 1176, 040 from 1278 on; the lines lie from 1100 to 1235.
    assert listed["040"] == ""
    camera = find(scene, "cameras", "cam-b")
    written = [slate(scene, Bake(scene), camera, frame, said=True) for frame in (1150, 1236)]
    assert written[0].endswith(" · Abram: Then I'll wait for the next one.") and written[1].endswith(
        "stage 1236"
    )
    assert listed["010"] == "Odile: You've missed the tide. / Abram: Then I'll wait for the next one."


def test_a_voice_off_is_given_to_a_figure_or_put_on_the_stage():
    voices = [{"kind": "line.add", "who": "FELL", "text": text} for text in ("Who calls?", "Wait.")]
    scene, _ = do(EMPTY, *TALK, *voices)
    staged, said = do(scene, {"kind": "voice.cast", "id": "fig-fell", "who": "Fell"})
    assert (
        said == "Put Fell on the stage; Fell says the 2 lines of Fell" and staged.figures[-1].id == "fig-fell"
    )
    assert [one.figure for one in staged.lines[3:]] == ["fig-fell"] * 2 and times(staged) == times(scene)
    given, _ = do(scene, {"kind": "voice.cast", "who": "fell", "figure": "fig-bram"})
    assert [one.figure for one in given.lines[3:]] == ["fig-bram"] * 2 and len(given.figures) == 2
    with pytest.raises(HeronError, match="No voice off is called Moor"):
        do(scene, {"kind": "voice.cast", "who": "Moor"})


VTT = """\ufeffWEBVTT - Slack Tide

STYLE
::cue { color: white }

NOTE not heard

1
00:00:01.000 --> 00:00:02.500 align:start
<v.loud Odile>You've <i>missed</i> the tide &amp; the boat.</v>

00:00:02.000 --> 00:00:03.000
BRAM: Then I'll wait.

00:00:09.000 --> 00:00:08.000
Backwards.

00:00:04,000 --> 00:00:05,000
Not WebVTT.
"""


def test_subtitles_are_read_as_webvtt_says():
    found = read_vtt(VTT.replace("\n", "\r\n"))
    assert [(one.who, one.text, one.start, one.end) for one in found.lines] == [
        ("Odile", "You've missed the tide & the boat.", 1.0, 2.5), ("BRAM", "Then I'll wait.", 2.0, 3.0),
    ]  # fmt: skip
    assert found.said == [
        "One cue was left out: its times cannot be read (00:00:04,000 --> 00:00:05,000)",
        "One cue was left out: it ends before it begins (00:00:09.000 --> 00:00:08.000)",
    ]
    srt = read_srt(
        "1\n00:00:01,000 --> 00:00:02,500\n- Odile: It's\ngone.\n\n2\n00:00:03,000 --> 00:00:04,000\nGone.\n"
    )
    assert [(one.who, one.text) for one in srt.lines] == [("Odile", "It's gone."), ("", "Gone.")]
    for text, why in (
        ("1\n00:00:01.000 --> 00:00:02.000\nHi\n", "not WebVTT"),
        ("WEBVTT\n\nHello\n", "no subtitles"),
    ):
        with pytest.raises(HeronError, match=why):
            read_vtt(text)


@pytest.mark.parametrize("rate", ["24/1", "24000/1001", "30000/1001", "25/1"])
def test_lines_go_out_as_webvtt_and_come_back_on_the_same_frames(rate):
    scene, _ = do(
        EMPTY.having(rate=rate), *TALK, {"kind": "line.add", "who": "Voice & <echo>", "text": "a < b & c"}
    )
    text = scene_vtt(scene)
    cues = list(webvtt.from_buffer(io.StringIO(text)))
    assert [cue.voice for cue in cues[:3]] == ["Odile", "Bram", "Odile"] and len(cues) == 4
    for cue, one in zip(cues, timed(scene), strict=True):
        starts, ends = (
            sum(float(n) * u for n, u in zip(t.split(":"), (3600, 60, 1), strict=True))
            for t in (cue.start, cue.end)
        )
        # To the thousandth that the format holds.
        assert starts == pytest.approx(float((one.first - 1001) / Fraction(rate)), abs=6e-4)
        assert ends == pytest.approx(float((one.last + 1 - 1001) / Fraction(rate)), abs=6e-4)
    bare = EMPTY.having(rate=rate)
    back, said = do(bare, {"kind": "lines.bring", "form": "vtt", "text": text})
    assert [(one.first, one.last) for one in timed(back)] == [(one.first, one.last) for one in timed(scene)]
    assert [speaker(back, one) for one in back.lines] == [speaker(scene, one) for one in scene.lines]
    assert said == "Brought in 4 lines; Voice & <echo> is a voice off"


#: By the syntax page of Fountain, from memory: a name in capitals after a blank row and before what is said; forced by @;
#: ^ beside another; directions in brackets; two blanks keep a speech open; notes, boneyard, headings, transitions.
PLAY = """Title: Slack Tide
Credit: by

INT. BOATHOUSE - DAWN

The tide is out.

ODILE (O.S.)
You've missed
the *tide*. [[soft]]

BRAM ^
(looks up)
Then I'll wait.
(a beat)
For the next one.
\x20\x20
Or not.

@McAuley
Hm.

/* BRAM
Cut this. */

CUT TO:

> THE END <
"""


def test_a_screenplay_is_read_speech_by_speech():
    found = read_fountain(PLAY)
    assert [(one.who, one.text, one.pause) for one in found.lines] == [
        ("ODILE", "You've missed the tide.", 0.0), ("BRAM", "Then I'll wait.", 0.25 + 0.8),
        ("BRAM", "For the next one. Or not.", 0.8), ("McAuley", "Hm.", 0.25),
    ]  # fmt: skip
    for text in ("", "INT. BOATHOUSE\n\nNobody is here.\n", "\x00\x01"):
        with pytest.raises(HeronError, match="No dialogue found"):
            read_fountain(text)
    scene, said = do(
        EMPTY, {"kind": "lines.bring", "form": "fountain", "text": PLAY, "at": 1050, "make": True}
    )
    assert [speaker(scene, one) for one in scene.lines] == ["Odile", "Bram", "Bram", "McAuley"]
    assert timed(scene)[0].first == 1050 and timed(scene)[2].first == timed(scene)[1].last + 1 + round(
        0.8 * 24
    )
    assert "McAuley put on the stage" in said and scene.figures[-1].name == "McAuley"
    written = scene_fountain(scene)
    # A name in capitals needs no mark to be read as one.
    assert "\nBRAM\n" in written and "\nMCAULEY\n" in written
    again = read_fountain(written)
    assert [(one.who.casefold(), one.text) for one in again.lines] == [
        (one.who.casefold(), one.text) for one in found.lines
    ]
    late, said = do(EMPTY, {"kind": "lines.bring", "form": "fountain", "text": PLAY, "at": 1310})
    assert (
        said.endswith("McAuley is a voice off; 4 of them end after the stage does") and len(late.lines) == 4
    )
    with pytest.raises(HeronError, match="before the stage begins"):
        do(EMPTY, {"kind": "lines.bring", "form": "fountain", "text": PLAY, "at": 900})


@given(st.lists(st.tuples(st.sampled_from("abcde"), st.integers(-60, 200), st.booleans()), max_size=12))
def test_whatever_is_moved_lines_stay_in_order_and_those_not_moved_stay_or_follow(moves):
    scene, _ = do(
        EMPTY,
        *TALK,
        {"kind": "line.add", "id": "d", "who": "V", "text": "Oh.", "first": 1200},
        {"kind": "line.add", "id": "e", "who": "W", "text": "Ah, the heron."},
    )
    counts = {id_: last - first for id_, (first, last) in times(scene).items()}
    for id_, by, follows in moves:
        was = times(scene)
        try:
            scene, _ = do(
                scene,
                {"kind": "lines.move", "ids": [id_], "by": by},
                {"kind": "line.set", "line": id_, "follows": follows},
            )
        except HeronError:
            continue
        now = times(scene)
        assert [now[one.id][0] for one in scene.lines] == sorted(first for first, _ in now.values())
        assert {k: last - first for k, (first, last) in now.items()} == counts
        assert now[id_][0] == was[id_][0] + by
        assert all(now[k] == was[k] or now[k][0] == was[k][0] + by for k in now)


def test_the_command_line_brings_in_lists_and_hands_over(tmp_path, capsys):
    def heron(*words):
        code = main([str(word) for word in words])
        return code, capsys.readouterr()

    scene, play, out = tmp_path / "s.json", tmp_path / "talk.fountain", tmp_path / "o.json"
    scene.write_text(write_scene(EMPTY))
    play.write_text(PLAY)
    assert heron("bring", scene, play, "--at", 1100, "--out", out)[0] == 0
    code, told = heron("lines", out)
    first = json.loads(told.out)[0]
    assert code == 0 and (first["who"], first["text"], first["first"], first["sound"]) == (
        "Odile",
        "You've missed the tide.",
        1100,
        None,
    )
    assert [word["text"] for word in first["words"]] == ["You've", "missed", "the", "tide."] and first[
        "words"
    ][0]["first"] == 1100
    assert heron("export", out, "--to", "vtt", "--out", tmp_path / "o.vtt")[0] == 0
    assert (tmp_path / "o.vtt").read_text().startswith("WEBVTT\n\n00:00:04.125 --> ")
    (tmp_path / "talk.doc").write_text("x")
    for words, why in (
        (("bring", scene, tmp_path / "talk.doc", "--out", out), "dialogue (.fountain, .vtt, .srt)"),
        (("bring", scene, play, "--at", 1000, "--out", out), "before the stage begins"),
        (("export", scene, "--to", "vtt", "--out", out), "This scene has no lines"),
    ):
        code, told = heron(*words)
        assert code == 2 and why in told.err


def test_a_pasted_text_is_known_by_how_it_looks():
    forms = {VTT: 2, PLAY: 4, "1\n00:00:01,000 --> 00:00:02,000\nHi.\n": 1}
    assert [len(read_any(text).lines) for text in forms] == list(forms.values())
    rows = read_any("Odile: You've missed the tide.\n\nThen I'll wait: here.\n---\nBram Oakes: Fine.")
    assert [(one.who, one.text) for one in rows.lines] == [
        ("Odile", "You've missed the tide."), ("", "Then I'll wait: here."), ("Bram Oakes", "Fine."),
    ]  # fmt: skip
    scene, _ = do(EMPTY, *TALK)
    more, said = do(
        scene, {"kind": "lines.bring", "form": "any", "text": "Bram: Hm.\nGood.", "figure": "fig-odile"}
    )
    # It goes on after the last line.
    assert times(more)["c"] == times(scene)["c"] and timed(more)[3].first == times(scene)["c"][1] + 7
    assert [speaker(more, one) for one in more.lines[3:]] == [
        "Bram",
        "Odile",
    ] and said == "Brought in 2 lines"
    first, _ = do(EMPTY, {"kind": "lines.bring", "form": "any", "text": "Bram: Hm.", "playhead": 1077})
    timed_too, _ = do(EMPTY, {"kind": "lines.bring", "form": "any", "text": VTT, "playhead": 1077})
    assert timed(first)[0].first == 1077 and timed(timed_too)[0].first == 1001 + 24


def test_talk_goes_to_and_fro():
    scene, said = do(EMPTY, {"kind": "line.add", "text": "Bram!"})
    assert said.startswith("Odile says")
    scene, said = do(
        scene, {"kind": "line.add", "text": "Here."}, {"kind": "line.add", "text": "You're late."}
    )
    assert [speaker(scene, one) for one in scene.lines] == ["Odile", "Bram", "Odile"]
    alone, _ = do(scene, {"kind": "things.delete", "ids": ["fig-bram"]})
    assert next_speaker(alone) == "fig-odile" and next_speaker(EMPTY.having(figures=())) is None
