"""Things that hang on words: each keeps its distance to its word, whatever happens to the line."""

import pytest
from doing import do

from heron.demo import slack_tide
from heron.errors import HeronError
from heron.lines import timed
from heron.model import changed
from heron.scene import find, read_scene, write_scene

LINE = {
    "kind": "line.add",
    "id": "a",
    "figure": "fig-odile",
    "text": "You've missed the tide.",
    "first": 1190,
}
NEXT = {"kind": "line.add", "id": "b", "figure": "fig-bram", "text": "Then I'll wait."}
#: "tide" begins at 1221; a nod three frames after it, a cue two before, a key on it and the cut to 030.
BASE, _ = do(
    slack_tide(),
    LINE,
    NEXT,
    {"kind": "cue.add", "id": "cue", "name": "Tide", "frame": 1219},
    {"kind": "figure.act", "figure": "fig-bram", "act": {"kind": "shake_head", "id": "shake", "frames": {"first": 1224, "last": 1240}}},
    {"kind": "cut.edit", "do": {"edit": "roll", "shots": ["030"], "by": -10}},
    {"kind": "keys.set", "keys": [{"thing": "cam-a", "channel": "pan", "frame": f, "value": v} for f, v in ((1221, 10), (1300, 20))]},
)  # fmt: skip
HUNG, SAID = do(
    BASE,
    {
        "kind": "word.hang", "line": "a", "word": 3, "cues": ["cue"], "acts": [["fig-bram", "shake"]], "shots": ["shot-030"],
        "keys": [{"thing": "cam-a", "channel": "pan", "frame": 1221}],
    },
)  # fmt: skip


def word(scene, line="a", n=3):
    one = next(t for t in timed(scene) if t.line.id == line)
    return (*one.words, one.last + 1)[n]


def where(scene):
    """How far from the word the cue, the act, the key and the cut are."""
    at = word(scene)
    act = next(a for a in find(scene, "figures", "fig-bram").acts if a.id == "shake")
    keys = [k.frame for k in find(scene, "cameras", "cam-a").channel("pan").keys if k.bound]
    shot = find(scene, "shots", "shot-030")
    return tuple(
        n - at for n in (find(scene, "cues", "cue").frame, act.frames.first, *keys, shot.stage.first)
    )


def test_what_hangs_is_named_and_stays_where_it_is():
    assert (
        "“tide”" in SAID
        and "the cue “Tide”" in SAID
        and "Bram's shake head" in SAID
        and "the cut to 030" in SAID
    )
    assert where(HUNG) == where_free(BASE) and read_scene(write_scene(HUNG)) == HUNG


def where_free(scene):
    at = word(scene)
    act = next(a for a in find(scene, "figures", "fig-bram").acts if a.id == "shake")
    return (1219 - at, act.frames.first - at, 1221 - at, find(scene, "shots", "shot-030").stage.first - at)


@pytest.mark.parametrize(
    ("change", "by"),
    [
        ({"kind": "lines.move", "ids": ["a"], "by": 7}, 7),
        ({"kind": "lines.move", "ids": ["a"], "by": -11}, -11),
        ({"kind": "line.word", "line": "a", "word": 3, "frame": 1228}, None),
        ({"kind": "line.set", "line": "a", "text": "You have missed the tide."}, None),
        ({"kind": "figure.set", "figure": "fig-odile", "voice": {"pace": 170}}, None),
        ({"kind": "sound.add", "id": "s", "name": "Take", "file": "0" * 24, "samples": 84_000, "line": "a"}, None),
    ],
)  # fmt: skip
def test_what_hangs_moves_with_its_word_and_keeps_its_distance(change, by):
    after, said = do(HUNG, change)
    moved = word(after, n=4 if "have" in str(change) else 3) - word(HUNG)
    assert moved == (moved if by is None else by) != 0
    if "have" in str(change):
        # The word is the fifth now, and is found from the line's end.
        assert find(after, "cues", "cue").bound.word == 4
        assert find(after, "cues", "cue").frame == 1219 + moved
    else:
        assert where(after) == where(HUNG)
    for what in ("1 act moved along", "1 cue moved along", "1 bound key moved along", "1 cut moved along"):
        assert what in said
    # The cut as a whole stays as long, for its joint is rolled.
    assert sum(s.stage.count for s in after.shots) == sum(s.stage.count for s in HUNG.shots)


def test_moved_by_hand_it_hangs_at_its_new_distance():
    dragged, _ = do(
        HUNG,
        {"kind": "figure.acts.move", "figure": "fig-bram", "ids": ["shake"], "by": 5},
        {"kind": "cut.edit", "do": {"edit": "roll", "shots": ["030"], "by": 3}},
    )
    assert [b - a for a, b in zip(where(HUNG), where(dragged), strict=True)] == [0, 5, 0, 3]
    later, _ = do(dragged, {"kind": "lines.move", "ids": ["a"], "by": 4})
    assert where(later) == where(dragged)


def test_words_before_it_move_nothing_and_the_end_of_a_word_and_of_a_line_are_moments_too():
    after, said = do(
        HUNG,
        {"kind": "line.word", "line": "a", "word": 3, "frame": word(HUNG)},
        {"kind": "line.word", "line": "a", "word": 1, "frame": 1200},
    )
    assert where(after) == where(HUNG) and "along" not in said
    for n, end in ((4, "first"), (3, "last")):
        ends, said = do(
            BASE,
            {"kind": "line.word", "line": "a", "word": 3, "frame": word(BASE)},
            {"kind": "word.hang", "line": "a", "word": n, "end": end, "cues": ["cue"]},
        )
        assert "the end of" in said
        # The line's end is dragged 9 frames on; the word before it is a pause longer, and no longer itself.
        longer, _ = do(ends, {"kind": "line.word", "line": "a", "word": 4, "frame": word(BASE, n=4) + 9})
        assert (find(longer, "cues", "cue").frame - 1219 == 9) is (n == 4)


def test_what_cannot_follow_stays_and_says_why():
    long_ago, said = do(HUNG, {"kind": "lines.move", "ids": ["a"], "by": -150})
    assert "the cut to 030 stays: " in said and find(long_ago, "shots", "shot-030") == find(
        HUNG, "shots", "shot-030"
    )
    assert find(long_ago, "cues", "cue").frame == 1219 - 150


def test_two_cuts_that_hang_go_together_farther_than_one_could_alone():
    both, _ = do(
        HUNG,
        {"kind": "cut.edit", "do": {"edit": "roll", "shots": ["020"], "by": 30}},
        {"kind": "word.hang", "line": "a", "word": 0, "shots": ["shot-020"]},
    )
    lengths = [s.stage.count for s in both.shots]
    for by in (25, -20):
        after, said = do(both, {"kind": "lines.move", "ids": ["a"], "by": by})
        assert "2 cuts moved along" in said
        assert [s.stage.count for s in after.shots] == [
            lengths[0] + by,
            lengths[1],
            lengths[2] - by,
            lengths[3],
        ]


def test_a_second_half_and_a_copy_begin_elsewhere_and_hang_on_nothing():
    for edit in ({"edit": "split", "shot": "030", "frame": 1250}, {"edit": "duplicate", "shots": ["030"]}):
        after, _ = do(HUNG, {"kind": "cut.edit", "do": edit})
        assert [s.bound is not None for s in after.shots] == [False, False, True, False, False]


def test_it_is_let_go_and_what_is_gone_moves_nothing():
    free, said = do(
        HUNG,
        {
            "kind": "word.hang",
            "cues": ["cue"],
            "acts": [["fig-bram", "shake"]],
            "shots": ["shot-030"],
            "keys": [{"thing": "cam-a", "channel": "pan", "frame": 1221}],
        },
    )
    assert said.startswith("Let ") and "stay where they are in time" in said
    for scene in (free, do(HUNG, {"kind": "things.delete", "ids": ["a"]})[0]):
        after, said = do(scene, {"kind": "lines.move", "ids": ["b"], "by": 6})
        assert "along" not in said and find(after, "cues", "cue").frame == 1219
    for wrong, words in (
        ({"line": "a", "word": 9, "cues": ["cue"]}, "has 4 words"),
        ({"line": "a"}, "Nothing to hang"),
    ):
        with pytest.raises(HeronError, match=words):
            do(BASE, {"kind": "word.hang", **wrong})


def test_listeners_look_at_who_speaks_and_nod_as_the_last_word_of_a_longer_line_comes():
    bare = slack_tide()
    bare = bare.having(figures=tuple(changed(f, acts=()) for f in bare.figures))
    talk, _ = do(bare, LINE, NEXT)
    after, said = do(talk, {"kind": "lines.react"})
    # Both lines are over 1.2 s long; each listens to the other.
    assert said == "Odile and Bram react: 2 looks and 2 nods"
    first, second = timed(after)
    for listener, line in (("fig-bram", first), ("fig-odile", second)):
        look, nod = find(after, "figures", listener).acts
        assert (look.at.figure, nod.kind) == (line.line.figure, "nod")
        # A quarter of a second after it begins, four tenths after it ends: 6 and 10 frames at 24.
        assert (look.frames.first, look.frames.last) == (line.first + 6, line.last + 10)
        # A nod takes 1.2 s: 29 frames.
        assert nod.frames.last - nod.frames.first == 28
        assert nod.frames.first == line.words[-1] and nod.bound.word == len(line.words) - 1
    _, said = do(after, {"kind": "lines.move", "ids": ["a"], "by": 12})
    assert "4 acts moved along" in said
    with pytest.raises(HeronError, match="Nobody has anything more to react to"):
        do(after, {"kind": "lines.react"})
    # Whoever looks elsewhere goes on doing so.
    busy, _ = do(
        talk,
        {
            "kind": "figure.act",
            "figure": "fig-bram",
            "act": {
                "kind": "look_at",
                "at": {"kind": "mover", "mover": "mov-heron"},
                "frames": {"first": 1150, "last": 1250},
            },
        },
    )
    _, said = do(busy, {"kind": "lines.react", "lines": ["a"]})
    assert said == "Bram reacts: 1 nod"
    with pytest.raises(HeronError, match="No figure says anything"):
        do(bare, {"kind": "lines.react"})
