"""Acts put, changed, moved, split, copied and refused; by commands and on the command line."""

import json

import numpy as np
import pytest

from heron.bake import Bake, ResultCache
from heron.cli import main
from heron.commands import parse_commands, run
from heron.demo import slack_tide
from heron.errors import HeronError
from heron.scene import empty_scene, find, write_scene
from heron.stage.acts import KINDS, LANES

DEMO = slack_tide()


def done(scene=DEMO, **command):
    scene, said = run(scene, parse_commands(json.dumps(command)))
    return scene, said[0]


def acts(scene, who="fig-odile", lane="body"):
    return [
        (act.id, act.frames.first, act.frames.last)
        for act in find(scene, "figures", who).acts
        if lane == act.LANE
    ]


def rows(scene, who="fig-odile"):
    return Bake(scene, ResultCache()).samples(find(scene, "figures", who)).values


@pytest.fixture
def heron(tmp_path, capsys):
    """The command line: what it answers, or with what it refuses."""
    path = tmp_path / "scene.json"
    path.write_text(write_scene(DEMO))

    def say(verb, *words, refused=False):
        code = main([verb, str(path), *words] if verb != "kinds" else ["act", "--kinds"])
        out = capsys.readouterr()
        assert code == (2 if refused else 0), out.err
        return out.err if refused else json.loads(out.out)

    say.path = str(path)
    return say


def put(heron, *words, refused=False):
    return heron("act", "--figure", "Odile", *words, "--out", heron.path, refused=refused)


def test_kinds_say_their_lane_and_their_numbers(heron):
    kinds = {(one["kind"], one["lane"]): one["numbers"] for one in heron("kinds")}
    for kind in (
        "walk",
        "run",
        "sit",
        "stand_up",
        "crouch",
        "kneel",
        "lean",
        "laugh",
        "flinch",
        "talk",
        "step_aside",
    ):
        assert (kind, "body") in kinds
    for lane, kind in (
        ("hands", "reach"),
        ("hands", "fold_arms"),
        ("look", "nod"),
        ("face", "joy"),
        ("face", "laugh"),
    ):
        assert (kind, lane) in kinds
    (amount,) = kinds["joy", "face"]
    assert (amount["name"], amount["least"], amount["most"]) == ("amount", 0.0, 1.0)
    assert {kind.LANE for kind in KINDS} == set(LANES)


def test_an_overlap_blends_and_is_at_most_half_of_the_shorter(heron):
    # She talks 1192–1238, 47 frames.
    laugh = put(heron, "--lane", "body", "--kind", "laugh", "--frames", "1230-1280")
    found = {one["id"]: one for one in heron("acts", "--figure", "Odile")}
    talk = next(one for one in found.values() if one["kind"] == "talk")
    assert found[laugh["id"]]["blend_in"] == talk["blend_out"] == 1238 - 1230 + 1
    # Put over most of it, the talk is made shorter, and that is said.
    put(heron, "--id", laugh["id"], "--frames", "1200-1280")
    found = {one["id"]: one for one in heron("acts", "--figure", "Odile")}
    talk = next(one for one in found.values() if one["kind"] == "talk")
    over = talk["last"] - 1200 + 1
    assert (
        over == found[laugh["id"]]["blend_in"] == talk["blend_out"] <= (talk["last"] - talk["first"] + 1) // 2
    )
    put(heron, "--id", laugh["id"], "--delete")
    assert laugh["id"] not in {one["id"] for one in heron("acts", "--figure", "Odile")}


def test_later_acts_keep_their_frames_or_follow_and_begin_where_the_earlier_ones_leave_the_figure(heron):
    walk = heron("acts", "--figure", "Odile")[0]
    put(heron, "--id", walk["id"], "--frames", "1009-1191")
    stays = heron("acts", "--figure", "Odile")
    assert [one["first"] for one in stays if one["lane"] == "body"] == [1009, 1192, 1241, 1288]
    put(heron, "--id", walk["id"], "--frames", "1009-1186", "--set", '{"points": [[0.1, -7.0]]}', "--follow")
    follows = heron("acts", "--figure", "Odile")
    assert [one["first"] for one in follows if one["lane"] == "body"] == [1009, 1187, 1236, 1283]
    (there,) = heron("joints", "--figure", "Odile", "--frames", "1240-1240")
    assert there["root"][2] == pytest.approx(-7.0, abs=1e-3)  # she talks where the walk now ends
    assert set(there["planted"]) == {"left", "right"} and all(there["planted"].values())


def test_a_walk_arrives_by_a_frame(heron):
    heron("walk", "--figure", "Odile", "--arrive", "1175", "--out", heron.path)
    assert heron("acts", "--figure", "Odile")[0]["last"] == 1175
    assert "cannot walk" in heron(
        "walk", "--figure", "Odile", "--arrive", "1030", "--out", heron.path, refused=True
    )


@pytest.mark.parametrize(
    ("words", "says"),
    [
        (["--kind", "fly", "--frames", "1-9"], "no kind of act 'fly'"),
        (
            ["--lane", "hands", "--kind", "laugh", "--frames", "1-9"],
            "no kind of act 'laugh' on the lane hands",
        ),
        (["--kind", "wave", "--frames", "1200-1230", "--speed", "5"], "Give a number from 0.25 to 4"),
        (["--kind", "wave", "--frames", "1200-1230", "--repeat", "2000"], "at most 1000"),
        (
            ["--kind", "sit", "--frames", "1240-1280", "--set", '{"on": "Mooring post 1"}'],
            "too high for Odile to sit on",
        ),
        (
            ["--kind", "reach", "--frames", "1240-1280", "--set", '{"at": [4, 1, -9]}'],
            "cannot reach the place 4.00, 1.00, -9.00",
        ),
        (
            ["--kind", "look_at", "--frames", "1240-1280", "--set", '{"at": "Odile/head"}'],
            "Odile cannot look at itself",
        ),
        (["--id", "act-1", "--speed", "2"], "follows from its frames"),
        (["--id", "act-1", "--frames", "1009-1040"], "cannot walk 10.1 m from 1009 to 1040"),
        (["--id", "gone", "--frames", "1009-1040"], "has no act gone"),
    ],
)
def test_what_cannot_be_done_is_refused_with_a_way_out(heron, words, says):
    before = heron("acts", "--figure", "Odile")
    error = put(heron, *words, refused=True)
    assert says in error and error.count("\n") == 1 and len(error.split(". ")) >= 2
    assert heron("acts", "--figure", "Odile") == before


def test_a_hand_that_holds_something_does_nothing_else():
    for act in ({"kind": "wave", "hand": "left"}, {"kind": "fold_arms"}):
        frames = {"frames": {"first": 1010, "last": 1060}}
        with pytest.raises(HeronError, match="holds Oar in the left hand from 1001 to 1208"):
            done(kind="figure.act", figure="fig-bram", act={**act, **frames})


@pytest.mark.parametrize("id_", ["act-1", "act-2"])
def test_a_split_act_does_what_it_did(id_):
    first, last = next((a, b) for one, a, b in acts(DEMO) if one == id_)
    middle = (first + last) // 2
    after, said = done(kind="figure.act.split", figure="fig-odile", id=id_, frame=middle, named="two")
    assert said.startswith("Split Odile's")
    assert [one for one in acts(after) if one[0] in (id_, "two")] == [
        (id_, first, middle - 1),
        ("two", middle, last),
    ]
    # She goes where she went but for how the way bends there, at her pace; where a walk was cut she does not stop.
    there, then = rows(after)[:, :3], rows(DEMO)[:, :3]
    assert np.linalg.norm(there - then, axis=1).max() < (0.15 if id_ == "act-1" else 1e-9)
    pace = np.hypot(*np.diff(there[:, [0, 2]], axis=0).T) / np.maximum(
        np.hypot(*np.diff(then[:, [0, 2]], axis=0).T), 1e-3
    )
    assert id_ == "act-2" or np.abs(pace[first - 1001 + 30 : last - 1001 - 30] - 1).max() < 0.1


def test_several_acts_move_together_and_copies_go_to_others_too():
    turn = next(act.id for act in find(DEMO, "figures", "fig-odile").acts if act.kind == "turn")
    moved, said = done(kind="figure.acts.move", figure="fig-odile", ids=["act-2", turn], by=4)
    assert [first for _, first, _ in acts(moved)] == [
        1009,
        1196,
        1241,
        1292,
    ] and said == "Moved Odile's talk and turn by 4 frames"
    copied, _ = done(kind="figure.acts.copy", figure="fig-odile", ids=["act-2"], to="fig-bram", frame=1160)
    assert (1160, 1160 + 46) in [(a, b) for _, a, b in acts(copied, "fig-bram")]
    assert rows(copied)[:, :5].tolist() == rows(DEMO)[:, :5].tolist()
    with pytest.raises(HeronError, match="would begin at 1321"):
        done(kind="figure.acts.copy", figure="fig-odile", ids=["act-2"], frame=1321)


def test_an_end_is_trimmed_or_stretched():
    base, _ = done(
        kind="figure.act",
        figure="fig-odile",
        act={"kind": "wave", "id": "w", "frames": {"first": 1200, "last": 1259}},
    )
    wave = {"kind": "figure.act.trim", "figure": "fig-odile", "id": "w"}

    def now(scene):
        return next(act for act in find(scene, "figures", "fig-odile").acts if act.id == "w")

    stretched, said = done(base, **wave, end="last", frame=1319, stretch=True)
    assert now(stretched).speed == 0.5 and "at 0.50 times its speed" in said
    trimmed, _ = done(base, **wave, end="first", frame=1210)
    assert (now(trimmed).slip, now(trimmed).speed) == (10, 1.0)
    hand = [
        Bake(s, ResultCache()).performance(find(s, "figures", "fig-odile")).places[235 - 1 : 245, 0]
        for s in (base, trimmed)
    ]
    np.testing.assert_allclose(*hand, atol=1e-9)
    with pytest.raises(HeronError, match=r"would run at 5\.00 times its speed"):
        done(base, **wave, end="last", frame=1211, stretch=True)


def test_a_seat_that_is_deleted_leaves_the_figure_standing_there():
    scene, _ = done(
        kind="piece.draw", id="seat", shape="box", start=[2.0, -9.0], end=[2.5, -8.5],
    )  # fmt: skip
    scene, _ = done(
        scene, kind="piece.set", piece="seat", height=0.45, base=find(scene, "pieces", "seat").base
    )
    sits, _ = done(
        scene, kind="figure.act", figure="fig-bram",
        act={"kind": "sit", "on": "seat", "id": "sit", "frames": {"first": 1010, "last": 1110}},
    )  # fmt: skip
    low = Bake(sits, ResultCache()).performance(find(sits, "figures", "fig-bram")).pelvis[110, 1]
    gone, said = done(sits, kind="things.delete", ids=["seat"])
    stands = Bake(gone, ResultCache()).performance(find(gone, "figures", "fig-bram")).pelvis[110, 1]
    assert low < 0.4 * 1.86 < stands and "Bram stands where it would have sat" in said


def test_listeners_look_at_who_speaks_in_one_step():
    bare, _ = done(
        kind="figure.act.delete", figure="fig-bram", ids=[one for one, *_ in acts(DEMO, "fig-bram", "look")]
    )  # fmt: skip
    after, said = done(bare, kind="figures.listen")
    # She talks 1192-1238; her looks at him while he talks are there already.
    assert [(a, b) for _, a, b in acts(after, "fig-bram", "look")] == [(1197, 1238)] and said.endswith(
        "1 look"
    )
    assert acts(after, "fig-odile", "look") == acts(DEMO, "fig-odile", "look")
    with pytest.raises(HeronError, match="already"):
        done(after, kind="figures.listen")


def test_a_way_through_a_wall_and_an_act_past_the_end_are_said():
    wall, _ = done(kind="piece.draw", id="wall", shape="wall", start=[7.0, -4.0], end=[9.0, -4.0])
    there, _ = done(wall, kind="figure.add", id="c", name="Cole", x=8, z=-2)
    walk = {"kind": "figure.walk", "figure": "c", "first": 1010, "speed": 1.4}
    assert "it leads through Wall" in done(there, **walk, points=[[8, -6.0]])[1]
    assert "through" not in done(there, **walk, points=[[6, -4.0], [8, -6.0]])[1]
    late = {"kind": "wave", "frames": {"first": 1300, "last": 1340}}
    assert done(kind="figure.act", figure="fig-odile", act=late)[1].endswith(
        "past the end of the scene, 1320"
    )


def test_a_pose_is_put_mirrored_and_copied_to_another_figure():
    pose = {
        "kind": "pose",
        "id": "p",
        "frames": {"first": 1200, "last": 1260},
        "left_hand_up": 0.4,
        "twist": 20,
    }
    scene, _ = done(kind="figure.act", figure="fig-odile", act=pose)
    scene, said = done(scene, kind="figure.pose.mirror", figure="fig-odile", id="p")
    now = next(act for act in find(scene, "figures", "fig-odile").acts if act.id == "p")
    numbers = [getattr(now, name).rest for name in ("right_hand_up", "left_hand_up", "twist")]
    assert numbers == [0.4, 0.0, -20.0] and said.startswith("Mirrored Odile's pose")
    copied, _ = done(scene, kind="figure.acts.copy", figure="fig-odile", ids=["p"], to="fig-bram")
    assert acts(copied, "fig-bram", "pose")[-1][1:] == (1200, 1260)
    with pytest.raises(HeronError, match="Only a pose"):
        done(scene, kind="figure.pose.mirror", figure="fig-odile", id="act-1")


def test_a_crowd_is_ordinary_figures_each_a_little_different_and_the_same_for_the_same_seed():
    crowd = {"kind": "figure.crowd", "figure": "fig-odile", "count": 9, "rows": 2, "spacing": 1.1}
    after, said = done(**crowd, seed=4)
    assert said == "Made a crowd of 9 of Odile" and len(after.figures) == len(DEMO.figures) + 9
    new = after.figures[len(DEMO.figures) :]
    assert len({one.name for one in after.figures}) == len(after.figures) and new[0].name == "Odile 2"
    assert done(**crowd, seed=4)[0] == after != done(**crowd, seed=5)[0]
    assert len({one.look.coat for one in new}) > 2 and len({one.stature for one in new}) == 9
    assert all(abs(one.stature / 1.68 - 1) < 0.11 for one in new)
    # Nobody stands in anybody: at least two thirds of the spacing apart.
    places = np.array([(one.x, one.z) for one in (DEMO.figures[0], *new)])
    apart = np.linalg.norm(places[:, None] - places[None], axis=2)[np.triu_indices(10, 1)]
    assert apart.min() > 1.1 * 0.66
    # They walk as she does, side by side, not in step.
    walks = [next(act for act in one.acts if act.kind == "walk") for one in new]
    assert len({walk.frames.first for walk in walks}) > 3
    goes = np.array(
        [np.array(walk.points[-1]) - (one.x, one.z) for walk, one in zip(walks, new, strict=True)]
    )
    np.testing.assert_allclose(goes, np.tile(np.array([0.0 - 0.1, -8.5 - 1.6]), (9, 1)), atol=2e-3)
    assert np.isfinite(rows(after, new[3].id)).all()


def test_a_crowd_stands_along_a_line_or_over_an_area_in_a_group():
    line = {"kind": "figure.crowd", "figure": "fig-odile", "count": 8, "along": [[-4, 3], [3, 3]], "seed": 3}
    after, said = done(**line)
    new = after.figures[len(DEMO.figures) :]
    assert said == "Made a crowd of 8 of Odile along a line"
    x, z = (np.array([getattr(one, axis) for one in new]) for axis in "xz")
    # A metre apart, give or take a sixth of that, on either side of the line.
    assert np.abs(x - np.linspace(-4, 3, 8)).max() <= 0.17 and 0 < np.abs(z - 3).max() <= 0.17
    assert {one.group for one in (after.figures[0], *new)} == {"Crowd of Odile"} and not after.figures[
        1
    ].group
    # An area with a corner cut out of it: two rectangles.
    area = {**line, "along": [], "over": [[-6, 4], [0, 4], [0, 7], [-3, 7], [-3, 10], [-6, 10]], "count": 20}
    wide, said = done(**area)
    there = np.array([(one.x, one.z) for one in wide.figures[len(DEMO.figures) :]])
    in_one = (there[:, 0] >= -6) & (there[:, 0] <= 0) & (there[:, 1] >= 4) & (there[:, 1] <= 7)
    in_other = (there[:, 0] >= -6) & (there[:, 0] <= -3) & (there[:, 1] >= 7) & (there[:, 1] <= 10)
    assert said.endswith("over an area") and (in_one | in_other).all() and in_other.sum() > 3
    apart = np.linalg.norm(there[:, None] - there[None], axis=2)[np.triu_indices(20, 1)]
    # 27 m² for 20: nobody is nearer than half of what an even spread would give.
    assert apart.min() > 0.5 * np.sqrt(27 / 20)
    assert done(**area)[0] == wide
    for wrong, words in (
        ({**line, "along": [[0, 0], [1, 0]]}, "Along this line 3 people have room, not 8"),
        ({**line, "along": [[0, 0]]}, "Along this line 1 person has room"),
        ({**area, "over": [[0, 0], [1, 0], [1, 1]]}, "have room, not 20"),
    ):
        with pytest.raises(HeronError, match=words):
            done(**wrong)
    named, said = done(after, kind="figures.group", ids=[new[0].id, new[1].id], group="Ferrymen")
    assert said == "Grouped 2 figures as “Ferrymen”" and named.figures[2].group == "Ferrymen"


def test_acts_go_to_another_scene_with_what_they_name_by_name_or_without_it():
    scene, _ = done(
        kind="figure.act", figure="fig-odile",
        act={"kind": "wave", "id": "w", "frames": {"first": 1100, "last": 1140}},
    )  # fmt: skip
    odile = find(scene, "figures", "fig-odile")
    copied = [a.model_dump(mode="json") for a in odile.acts if a.id in ("w", "gaz-odile-1136")]
    names = {"fig-bram": "Bram", "mov-heron": "Heron"}
    other = run(
        empty_scene("Other"),
        parse_commands(json.dumps([
            {"kind": "figure.add", "id": "x", "name": "Pim", "x": 0, "z": 0, "stature": 1.3},
            {"kind": "figure.add", "id": "y", "name": "Bram", "x": 2, "z": 0},
        ])),
    )[0]  # fmt: skip
    paste = {"kind": "figure.acts.paste", "figure": "x", "frame": 1010, "acts": copied, "names": names}
    after, said = done(other, **paste)
    wave, look = find(after, "figures", "x").acts
    assert (wave.called, wave.frames.first, look.called, look.frames.first) == ("wave", 1010, "look_at", 1046)
    assert look.at.figure == "y" and said.startswith("Pasted wave and look at on Pim at 1010")
    # Nobody of that name: it looks ahead, and that is said.
    alone = run(other, parse_commands('[{"kind": "things.delete", "ids": ["y"]}]'))[0]
    after, said = done(alone, **paste)
    assert "Bram is not in this scene" in said and find(after, "figures", "x").acts[1].at.kind == "point"
    with pytest.raises(HeronError, match="would begin at 1246; the scene ends at 1240"):
        done(other, **{**paste, "frame": 1210})


@pytest.mark.parametrize("ids", [["act-2"], ["act-2", "act-3"], ["act-3", "act-2"]])
def test_what_comes_later_on_the_lane_moves_along_when_asked(ids):
    """From the earliest that is named, in whichever order they are named."""
    scene, _ = done(kind="figure.acts.move", figure="fig-odile", ids=ids, by=4, follow=True)
    was, now = (acts(one, "fig-odile", "body") for one in (DEMO, scene))
    moved = {id_: first for id_, first, _ in now}
    assert all(moved[id_] - first == (0 if id_ == "act-1" else 4) for id_, first, _ in was)
