"""Films: edits on scenes in order against lists of frames, and the nested timeline against OpenTimelineIO's own tools."""

import json
import random

import opentimelineio as otio
import pytest
from pydantic import TypeAdapter

from heron.commands import parse_commands, run
from heron.demo import slack_tide
from heron.errors import HeronError
from heron.film.document import FilmDoc, FilmEdit, SceneCut, edited, laid, usual_fit
from heron.formats.film_otio import write_film

CUTS = {1: SceneCut("One", "24/1", 30), 2: SceneCut("Two", "24/1", 50), 3: SceneCut("Three", "25/1", 40),
        4: SceneCut("Empty", "24/1", 0)}  # fmt: skip
READ = TypeAdapter(FilmEdit).validate_python


def do(film, *edits):
    for edit in edits:
        film, said = edited(film, READ(edit), CUTS)
        assert said
    return film


def frames(film):
    """(scene, frame of its cut) for each film frame."""
    laid_ = laid(film, CUTS)
    return [
        (film.reels[place].scene, cut) for place, cut in (laid_.shows(frame) for frame in range(laid_.length))
    ]


def test_random_edits_against_spliced_lists():
    chance = random.Random(7)
    for _ in range(60):
        film, lists = FilmDoc(name="The Crossing"), []
        for n in range(12):
            edit = chance.choice(["add", "add", "drop", "move", "trim"])
            at = chance.randrange(len(lists)) if lists else 0
            reel = film.reels[at].id if lists else ""
            before = chance.choice([None, *(one.id for one in film.reels)])
            to = next((i for i, one in enumerate(film.reels) if one.id == before), len(lists))
            if edit == "add":
                scene = chance.choice([1, 2])
                film = do(film, {"edit": "add", "id": f"r{n}", "scene": scene, "before": before})
                lists.insert(to, [(scene, k) for k in range(CUTS[scene].length)])
            elif edit == "drop" and lists:
                film = do(film, {"edit": "drop", "reel": reel})
                lists.pop(at)
            elif edit == "move" and lists and before != reel:
                film = do(film, {"edit": "move", "reel": reel, "before": before})
                lists.insert(to - (at < to), lists.pop(at))
            elif edit == "trim" and lists:
                scene = film.reels[at].scene
                first = chance.randrange(CUTS[scene].length)
                last = chance.randrange(first, CUTS[scene].length)
                film = do(film, {"edit": "trim", "reel": reel, "first": first, "last": last})
                lists[at] = [(scene, k) for k in range(first, last + 1)]
            assert frames(film) == [one for part in lists for one in part]


def test_ends_are_trimmed_and_cuts_between_scenes_rolled_as_they_are_drawn():
    """By hand, on lists of frames; a scene of 25 frames a second in a film of 24 by the frames of its own that are nearest."""
    add = [{"edit": "add", "id": "ab"[n - 1], "scene": n} for n in (1, 2)]
    film = do(
        FilmDoc(name="The Crossing"), *add,
        {"edit": "trim", "reel": "a", "first": 0, "last": 19}, {"edit": "trim", "reel": "b", "first": 10, "last": 49},
    )  # fmt: skip
    was, move = frames(film), lambda **more: do(film, {"edit": "end", "reel": "b", **more})
    assert frames(move(end="first", by=4)) == was[:20] + was[24:]
    assert frames(move(end="last", by=-4)) == was[:-4]
    assert frames(move(end="first", by=-3)) == [*was[:20], (2, 7), (2, 8), (2, 9), *was[20:]]
    rolled = [(1, n) for n in range(25)] + [(2, n) for n in range(15, 50)]
    assert frames(move(end="first", by=5, roll=True)) == rolled
    assert frames(do(film, {"edit": "end", "reel": "a", "end": "last", "by": 5, "roll": True})) == rolled
    timed = do(film, {"edit": "add", "id": "c", "scene": 3, "fit": "time"})
    # 24 frames of film are a second, which is 25 frames of the scene.
    after = do(timed, {"edit": "end", "reel": "c", "end": "first", "by": 24})
    assert after.reels[2].first == 25 and len(frames(after)) == len(frames(timed)) - 24
    for more, said in (
        ({"end": "first", "by": -11}, "has frames 0 to 49; -1 to 49 are not all there"),
        ({"end": "first", "by": 11, "roll": True}, "has frames 0 to 29; 0 to 30 are not all there"),
        ({"end": "last", "by": 1, "roll": True}, "no scene beside it"),
    ):
        with pytest.raises(HeronError, match=said):
            move(**more)


def test_what_cannot_be_done_says_what_to_do():
    film = do(FilmDoc(name="The Crossing"), {"edit": "add", "id": "a", "scene": 1})
    for edit, said in (
        ({"edit": "add", "scene": 3}, r"Scene 2 \(Three\) runs at 25, the film at 24.*Say how to fit it"),
        ({"edit": "add", "scene": 4}, "Empty has no cut yet"),
        ({"edit": "add", "scene": 9}, "no scene 9"),
        (
            {"edit": "trim", "reel": "a", "first": 20, "last": 30},
            "has frames 0 to 29; 20 to 30 are not all there",
        ),
        ({"edit": "drop", "reel": "b"}, "no reel b"),
        ({"edit": "set", "rate": "25/1"}, r"Scene 1 \(One\) runs at 24, the film at 25"),
        ({"edit": "set", "rate": "24/1", "start": "01:00:00;00"}, "drop"),
    ):
        with pytest.raises(HeronError, match=said):
            do(film, edit)
    assert "once more" in edited(film, READ({"edit": "add", "scene": 1}), CUTS)[1]
    # Frames where the two differ by a part in a thousand (NTSC's 1000/1001), else time.
    assert [usual_fit(r, "24/1") for r in ("24000/1001", "25/1", "30/1")] == ["frames", "time", "time"]


def test_shots_begin_and_end_where_their_frames_are_shown():
    film = do(FilmDoc(name="F"), {"edit": "add", "id": "a", "scene": 3, "fit": "time"},
              {"edit": "trim", "reel": "a", "first": 5, "last": 34})  # fmt: skip
    laid_ = laid(film, CUTS)
    shown = [laid_.shows(frame)[1] for frame in range(laid_.length)]
    assert laid_.table(0).tolist() == shown
    for first, last in ((0, 9), (10, 10), (10, 20), (30, 39), (0, 4)):
        inside = [i for i, cut in enumerate(shown) if first <= cut <= last]
        assert laid_.span(0, first, last) == ((inside[0], inside[-1]) if inside else None)


def test_a_nested_timeline_flattens_to_the_films_frames():
    scene = slack_tide()
    other = run(scene, parse_commands(json.dumps([
        {"kind": "scene.set", "name": "Far bank"},
        {"kind": "cut.edit", "do": {"edit": "ripple_delete", "shots": ["010", "020"]}},
    ])))[0]  # fmt: skip
    film = FilmDoc(name="The Crossing", reels=(
        {"id": "a", "scene": 1, "first": 100, "last": 150}, {"id": "b", "scene": 2},
    ))  # fmt: skip
    timeline = otio.adapters.read_from_string(write_film(film, {1: scene, 2: other}), "otio_json")
    (track,) = timeline.tracks
    assert [type(one) for one in track] == [otio.schema.Stack, otio.schema.Stack]
    length = sum(shot.gap_before + shot.stage.count for shot in other.shots)
    assert timeline.duration() == otio.opentime.RationalTime(51 + length, 24)
    # Frames 100 to 112 of the first scene's cut are the end of 010 (stage 1064 to 1176), 113 to 150 the beginning of 020.
    first = timeline.tracks[0][0]
    shown = []
    for at in range(100, 151):
        time = otio.opentime.RationalTime(at, 24)
        clip = first[0].child_at_time(time, shallow_search=True)
        shown.append((clip.name, first[0].transformed_time(time, clip).value))
    assert shown == [("010", 1064 + k) for k in range(100, 113)] + [("020", 1165 + k) for k in range(38)]
