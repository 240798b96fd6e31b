"""A first assembly: the cheapest cut against trying every one, and rules of the trade (common practice) on a made dialogue."""

import itertools
import json

import numpy as np
import pytest
from doing import do
from hypothesis import given, settings
from hypothesis import strategies as st
from test_coverage import IDS, two

from heron.assembling import Wishes
from heron.assembling.drama import drama
from heron.assembling.measures import measured
from heron.assembling.people import said, talkers
from heron.assembling.shortest import Forced, shortest
from heron.bake import Bake
from heron.commands.registry import parse, run, run_one
from heron.errors import HeronError
from heron.framing.shot_size import SIZES, shot_size
from heron.lines import timed
from heron.model import changed
from heron.scene import find
from heron.stage.reference import OnFigure
from heron.timebase import Frames

FPS = 24


def every_cut(n, cameras, least, most, forced):
    """All ways to cut n frames, as (camera, first, stop): made from the definition, shot by shot."""
    own = {one.camera for one in forced}
    edges = sorted({0, n, *(e for one in forced for e in (one.first, one.stop))})

    def shots(at):
        here = next((one for one in forced if one.first == at), None)
        if here:
            yield here.camera, here.stop
            return
        wall = next(e for e in edges if e > at)
        # A stretch too short for a shot is one all the same.
        whole = next(e for e in reversed(edges) if e <= at) == at and wall - at < least
        for stop in range(at + 1, wall + 1):
            if (whole and stop == wall) or least <= stop - at <= most:
                yield from ((camera, stop) for camera in range(cameras) if camera not in own)

    def runs(at, last):
        if at == n:
            yield ()
            return
        for camera, stop in shots(at):
            if camera != last:
                yield from ((((camera, at, stop)), *rest) for rest in runs(stop, camera))

    return runs(0, None)


@pytest.mark.parametrize("seed", range(24))
def test_no_cut_costs_less(seed):
    random = np.random.default_rng(seed)
    n, c, least, most = 9, 3, 2, 5
    forced = [[], [Forced(3, 2, 5)], [Forced(3, 0, 3), Forced(4, 7, 9)], [Forced(3, 1, 3), Forced(4, 4, 6)]][
        seed % 4
    ]
    all_ = c + len(forced)
    view, moment = random.random((all_, n)), random.random((all_, n))
    over, length = random.random((n, all_, all_)) - 0.2, random.random(most + 1)

    def costs(runs):
        sum_ = 0.0
        for i, (camera, first, stop) in enumerate(runs):
            sum_ += view[camera, first:stop].sum()
            sum_ += 0 if camera >= c else length[stop - first]
            if i:
                sum_ += over[first, runs[i - 1][0], camera] + moment[camera, first]
        return sum_

    cost, runs = shortest(view, moment, lambda t: over[t], length, least, forced)
    found = [(one.camera, one.first, one.stop) for one in runs]
    best = min(every_cut(n, all_, least, most, forced), key=costs)
    assert (cost, costs(found)) == pytest.approx((costs(best), costs(best)), abs=1e-12)


SAID = (
    "You came back.", "I said I would.", "The boat has been here since the spring, and nobody has touched it, not even to bail.",
    "I know.", "You know. You stood on the jetty for a week and watched it fill, and you did not say a word to me.",
    "What was there to say?", "That you were going.", "I wasn't.", "Then what is the bag for?",
    "It's the oar locks. I took them out so that nobody else would go.", "Nobody else was ever going to go.",
)  # fmt: skip
PAUSES = (0, 4, 10, 40, 2, 6, 3, 30, 5, 6, 8)


def talk():
    """Two who talk for forty seconds, covered by seven cameras."""
    scene = two(1.6, 20, (1.68, 1.86)).having(frames=Frames(first=1001, last=1980), stand_ins=False)
    lines = [
        {"kind": "line.add", "id": f"l{i}", "figure": IDS[i % 2], "text": text, **({"pause": PAUSES[i]} if i else {"first": 1040})}
        for i, text in enumerate(SAID)
    ]  # fmt: skip
    cover = {"kind": "coverage.take", "id": "c", "frame": 1040, "figures": list(IDS)}
    return run(scene, parse([*lines, cover]))[0]


TALK = talk()
A, B, C = (f"c-{k}" for k in range(3))


def assembled(scene=TALK, **more):
    return run_one(scene, parse([{"kind": "cut.assemble", "id": "cut", **more}])[0])


def turn(a, b):
    """Of two ways over the floor, more than 0 where the second is to the right of the first as seen from above (+X, +Z)."""
    return a[0] * b[1] - a[1] * b[0]


def head(scene, figure, frame):
    return Bake(scene).place(OnFigure(figure=figure, joint="eyes"), np.array([frame]))[0][[0, 2]]


def broken(scene, shots):
    """Rules that two shots in a row break, by the poses of their cameras."""
    bake = Bake(scene)
    for one, two_ in itertools.pairwise(shots):
        frame = two_.stage.first
        a, b = (head(scene, id_, frame) for id_ in IDS)
        at, of = [], []
        for shot in (one, two_):
            camera = find(scene, "cameras", shot.camera)
            at.append(bake.rows(camera, np.array([frame]))[0][[0, 2]])
            of.append((shot_size(bake, camera, frame), "over" in camera.name, "Master" in camera.name))
        sides = [turn(b - a, place - a) for place in at]
        if sides[0] * sides[1] < 0:
            yield f"{one.name} to {two_.name} crosses the line"
        who = [None if master else size[0] for size, _, master in of]
        subject = (
            (a + b) / 2
            if who[0] is None
            else head(scene, next(f.id for f in scene.figures if f.name == who[0]), frame)
        )
        ways = [place - subject for place in at]
        angle = np.degrees(np.arccos(np.clip(np.dot(*[w / np.linalg.norm(w) for w in ways]), -1, 1)))
        steps = abs(SIZES.index(of[0][0][1]) - SIZES.index(of[1][0][1]))
        if who[0] == who[1] and angle < 30 and steps < 2:
            yield f"{one.name} to {two_.name} jumps"


@settings(max_examples=12, deadline=None)
@given(
    st.floats(1.2, 8), st.floats(0, 1), st.floats(0, 1), st.integers(-12, 12), st.sampled_from([None, *IDS])
)
def test_it_keeps_the_rules_whatever_is_asked(pace, close, reaction, lead, favour):
    wishes = {"pace": pace, "close": close, "reaction": reaction, "lead": lead, "favour": favour}
    scene, _ = assembled(wishes=wishes)
    shots = scene.shots
    # All of the stage, once, in order.
    assert shots[0].stage.first == 1001 and shots[-1].stage.last == 1980
    assert all(b.stage.first == a.stage.last + 1 for a, b in itertools.pairwise(shots))
    assert all(20 <= shot.stage.count <= 15 * FPS for shot in shots)
    assert list(broken(scene, shots)) == []
    assert [shot.name for shot in shots] == [f"{10 * k:03d}" for k in range(1, len(shots) + 1)]
    assert all(shot.proposed.why and not shot.by_hand for shot in shots)


def on(scene, frame):
    """The name of the camera that is cut to at a stage frame."""
    return find(scene, "cameras", next(s.camera for s in scene.shots if frame in s.stage)).name


def test_it_is_cut_as_the_trade_would():
    scene, said = assembled()
    assert said.startswith("Assembled the cut from the lines: ")
    # Where we are, first; then whoever speaks, most of the time.
    assert on(scene, 1001).startswith("Master")
    lines = timed(scene)
    names = {f.id: f.name for f in scene.figures}
    shown = [
        on(scene, f).startswith((names[one.line.figure], "Master"))
        for one in lines
        for f in range(one.first, one.last + 1)
    ]
    assert np.mean(shown) > 0.6
    # What lands is seen to be heard: in the long silence after her complaint it is on him, if he matters.
    scene, _ = assembled(wishes={"reaction": 0.8})
    assert on(scene, lines[2].last + 10).startswith(names[IDS[1]])
    # A cut says why, and on which word.
    (heard,) = [shot.proposed.why for shot in scene.shots if lines[2].last + 10 in shot.stage]
    assert f"to see {names[IDS[1]]} hear it" in heard
    words = {word.strip(".,?") for one in lines for word in one.line.words}
    told = [shot.proposed.why.split("“")[1].split("”")[0] for shot in scene.shots if "“" in shot.proposed.why]
    assert len(told) >= 4 and set(told) <= words


def test_a_word_put_in_while_somebody_speaks_leaves_no_silence_behind_it():
    lines = [
        {"kind": "line.add", "id": "long", "figure": IDS[0], "text": SAID[4], "first": 1040},
        {"kind": "line.add", "id": "in", "figure": IDS[1], "text": "Yes.", "first": 1080},
        {"kind": "line.add", "id": "after", "figure": IDS[1], "text": SAID[1], "first": 1400},
    ]
    scene = run(TALK.having(lines=()), parse(lines))[0]
    people = talkers(Bake(scene), scene.frames)
    long, inside, _ = (one for one in said(Bake(scene), scene.frames, people))
    assert inside.stop < long.stop and inside.until == inside.stop and long.until == 1400 - 1001
    feet = np.zeros((2, scene.frames.count, 2))
    story = drama(said(Bake(scene), scene.frames, people), ["A", "B"], feet, FPS, Wishes(), None)
    middle = slice(inside.stop + 2, inside.stop + 20)
    # She still speaks, and is worth more than he who hears it; in the silence after it, he is.
    assert (story.speaks[middle] == 0).all() and (story.worth[0, middle] > story.worth[1, middle]).all()
    assert (
        story.worth[1, long.stop + 10 : long.stop + 30] > story.worth[0, long.stop + 10 : long.stop + 30]
    ).all()
    # The words that land are the last before a silence; one that another's act hangs on does too.
    assert [[word for _, word in one.lands] for one in (long, inside)] == [["me."], []]
    nod = {
        "kind": "figure.act",
        "figure": IDS[1],
        "act": {"kind": "nod", "id": "nod", "frames": {"first": 1100, "last": 1112}},
    }
    hang = {"kind": "word.hang", "line": "long", "word": 4, "acts": [[IDS[1], "nod"]]}
    hung = run(scene, parse([nod, hang]))[0]
    assert [word for _, word in said(Bake(hung), hung.frames, people)[0].lands] == [SAID[4].split()[4], "me."]


def test_each_wish_does_what_it_says():
    def numbers(**wishes):
        scene, _ = assembled(wishes=wishes)
        return scene, measured(Bake(scene), scene.shots)

    _, usual = numbers()
    _, slow = numbers(pace=8)
    _, fast = numbers(pace=1.3)
    assert fast.pace < usual.pace < slow.pace and fast.pace < 3 and slow.pace > 4.5
    assert numbers(reaction=0)[1].hearing < usual.hearing < numbers(reaction=1)[1].hearing
    assert SIZES.index(numbers(close=1)[1].size) < SIZES.index(numbers(close=0)[1].size)
    # Sizes grow closer: of its first and its last third.
    scene, _ = numbers(close=0.8)
    bake = Bake(scene)
    sizes = [
        SIZES.index(shot_size(bake, find(scene, "cameras", s.camera), s.stage.first)[1]) for s in scene.shots
    ]
    assert np.mean(sizes[-len(sizes) // 3 :]) < np.mean(sizes[: len(sizes) // 3]) - 0.5
    # The master is kept as long as is asked.
    held = [numbers(master=m)[0].shots[0].stage.count for m in (0, 3, 8)]
    assert held[0] < held[2] and held[2] >= 7 * FPS
    # His scene: more of it is of him.
    his = [
        sum(
            s.stage.count
            for s in numbers(favour=f)[0].shots
            if find(TALK, "cameras", s.camera).name.startswith("Bram")
        )
        for f in IDS
    ]
    assert his[1] > his[0]
    # Cuts to who speaks come so many frames before or after the line, unless a word before it is why.
    for lead in (-8, 6):
        scene, _ = numbers(lead=lead)
        told = "8 f before" if lead < 0 else "6 f into"
        cuts = [s for s in scene.shots if s.proposed.why.startswith(told)]
        starts = [one.first for one in timed(scene)]
        assert cuts and all(min(abs(s.stage.first - (at + lead)) for at in starts) <= 3 for s in cuts)


def test_what_hands_did_stays_and_all_of_it_is_one_step():
    first, _ = do(TALK, {"kind": "cut.assemble", "id": "one"})
    assert first.cut_name == "Assembly 1" and not first.cuts
    # As it was proposed, it is only replaced; the same is asked, the same comes.
    again, said = do(first, {"kind": "cut.assemble", "id": "one"})
    assert [s.stage for s in again.shots] == [s.stage for s in first.shots] and not again.cuts
    second, third, fifth = first.shots[1], first.shots[2], first.shots[4]
    roll = {"kind": "cut.edit", "do": {"edit": "roll", "shots": [third.id], "by": 7}}
    locked = {"kind": "shot.set", "shot": fifth.id, "stays": True}
    changed_, _ = do(first, roll, locked)
    new, said = do(changed_, {"kind": "cut.assemble", "id": "two", "wishes": {"pace": 1.8, "close": 0.9}})
    for shot in (changed_.shots[1], changed_.shots[2], changed_.shots[4]):
        assert find(new, "shots", shot.id) == shot
    assert f"{second.name}, {third.name} and {fifth.name} stay" in said
    # The cut before is kept, and goes back in its place.
    assert [kept.name for kept in new.cuts] == ["Assembly 1"] and new.cut_name == "Assembly 2"
    back, _ = do(new, {"kind": "cut.use", "cut": new.cuts[0].id})
    assert back.shots == changed_.shots
    # The same ids may be asked for again: what stays keeps its own.
    twice, _ = do(changed_, {"kind": "cut.assemble", "id": "one"})
    assert len({shot.id for shot in twice.shots}) == len(twice.shots)
    # What stays can be said: nothing does, where nothing is to.
    free, _ = assembled(changed_, keep=[])
    assert {shot.id for shot in free.shots} == {f"cut-{k}" for k in range(len(free.shots))}
    # A cut that no assembly made is replaced whole, and kept; names go between those of what stays.
    by_hand = run(
        TALK,
        parse(
            [
                {
                    "kind": "shot.add",
                    "id": "s",
                    "camera": B,
                    "stage": {"first": 1200, "last": 1215},
                    "name": "050",
                }
            ]
        ),
    )[0]
    whole, _ = assembled(by_hand)
    assert "s" not in {shot.id for shot in whole.shots} and whole.cuts[0].shots == by_hand.shots
    between, _ = assembled(by_hand, keep=["s"])
    names = [shot.name for shot in between.shots]
    assert names == sorted(names) and find(between, "shots", "s") in between.shots
    assert list(broken(between, between.shots)) == []


def test_what_cannot_be_assembled_says_why():
    def refused(scene, **more):
        with pytest.raises(HeronError) as told:
            assembled(scene, **more)
        assert told.value.remedy
        return told.value.reason

    assert refused(TALK.having(lines=())) == "Nothing is said on the stage's 1001–1980."
    assert "no camera to cut to" in refused(TALK.having(cameras=()))
    blind = TALK.having(cameras=tuple(c for c in TALK.cameras if c.name.startswith("Odile, ")))
    assert refused(blind) == "No camera sees Bram, who speaks."
    assert "has 1001–1980" in refused(TALK, frames={"first": 900, "last": 1100})
    voices = tuple(changed(one, figure=None, who="Radio") for one in TALK.lines)
    assert "only voices off" in refused(TALK.having(lines=voices))
    add = {"kind": "shot.add", "camera": A}
    cut = run(TALK, parse([
        {**add, "id": "x", "stage": {"first": 1100, "last": 1150}}, {**add, "id": "y", "stage": {"first": 1140, "last": 1180}},
        {"kind": "shot.add", "id": "z"},
    ]))[0]  # fmt: skip
    assert "both show 1140–1150" in refused(cut, keep=["x", "y"])
    assert "is a slate" in refused(cut, keep=["z"])
    assert "1001–1140 are assembled" in refused(cut, keep=["x"], frames={"first": 1001, "last": 1140})
    # One camera is one shot, and that is said.
    one = TALK.having(cameras=TALK.cameras[:1])
    scene, said = assembled(one)
    assert len(scene.shots) == 1 and "no other camera" in said


def test_the_command_line_covers_and_assembles(tmp_path, capsys):
    from heron.cli import main
    from heron.scene import read_scene, write_scene

    bare, out, cut = tmp_path / "a.json", tmp_path / "b.json", tmp_path / "c.json"
    bare.write_text(write_scene(TALK.having(cameras=())), encoding="utf-8")

    def heron(*words):
        code = main([str(word) for word in words])
        told = capsys.readouterr()
        return json.loads(told.out) if not code else (code, told.err)

    found = heron(
        "cover", bare, "--who", "Bram,Odile", "--frames", "1030-1050", "--side", "left", "--out", out
    )
    assert sorted(one["kind"] for one in found) == [
        "master",
        *("over", "over", "reaction", "single", "single", "single"),
    ]
    assert found[1]["of"] == ["Odile", "Bram"] and all(one["seen"] == 1 and one["why"] for one in found)
    made = read_scene(out.read_text(encoding="utf-8"))
    bram, odile = (head(made, IDS[k], 1040) for k in (1, 0))
    for camera in made.cameras:
        x, _, z = Bake(made).rows(camera, np.array([1040]))[0][:3]
        # With +X to the right and +Z towards who looks from above, what is left of the way has a negative turn.
        assert turn(odile - bram, np.array([x, z]) - bram) < 0
    told = heron("assemble", out, "--pace", "2.4", "--favour", "Bram", "--lead", "-4", "--out", cut)
    scene = read_scene(cut.read_text(encoding="utf-8"))
    assert [s["name"] for s in told["shots"]] == [s.name for s in scene.shots] and told["cost"] > 0
    assert told["shots"][0]["cut"][0] == 0 and told["shots"][-1]["cut"][1] == 979
    kept = heron("assemble", cut, "--keep", "020,030", "--pace", "6", "--out", tmp_path / "d.json")
    names = {s["name"]: s for s in kept["shots"]}
    was = {s["name"]: s for s in told["shots"]}
    assert all(
        names[n]["cut"] == was[n]["cut"] and names[n]["why"] == "kept as it was" for n in ("020", "030")
    )
    code, error = heron("assemble", cut, "--keep", "999", "--out", tmp_path / "e.json")
    assert code == 2 and error.startswith("There is no shot 999.") and error.count("\n") == 1
