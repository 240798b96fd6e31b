"""What a figure does next begins when it is free, as a stage manager would have it."""

import json

import pytest

from heron.commands import parse_commands, run, run_one
from heron.demo import slack_tide
from heron.errors import Refused

DEMO = slack_tide()


def one(scene, **command):
    return run_one(scene, parse_commands(json.dumps(command))[0])[0]


def act(kind="talk", first=1100, last=1135, **more):
    return {"kind": kind, "frames": {"first": first, "last": last}, **more}


def frames(scene, figure=0):
    return [
        (a.kind, a.frames.first, a.frames.last)
        for a in scene.figures[figure].acts
        if a.LANE == "body" or a.kind == "point"
    ]


def test_an_act_waits_for_what_is_under_way_and_ends_before_what_comes():
    # Odile walks 1009–1186 and talks from 1192: five free frames between.
    after = one(DEMO, kind="figure.act", figure="fig-odile", act=act(), when_free=True)
    assert frames(after)[1] == ("talk", 1187, 1191)
    # Asked for plainly, it is where it was asked for, or refused: the walk would have to arrive by 1117.
    with pytest.raises(Refused, match=r"cannot walk 10\.1 m from 1009 to 1117"):
        one(DEMO, kind="figure.act", figure="fig-odile", act=act(), when_free=False)


def test_a_walk_that_meets_what_comes_next_offers_to_move_that_on():
    # Bram turns until 1150, talks from 1236 and points from 1268; this walk takes longer than the 85 frames between.
    long = {
        "kind": "figure.walk",
        "figure": "fig-bram",
        "first": 1151,
        "speed": 0.5,
        "points": [[0.15, -7.0]],
    }
    with pytest.raises(Refused, match="does something else at 1236–1266: talk") as refused:
        one(DEMO, **long)
    assert frames(DEMO, 1)[1][1] == 1236 and refused.value.remedy.startswith("Move what comes after it along")
    (way,) = refused.value.alternatives
    longer = one(DEMO, kind="scene.set", frames={"first": 1001, "last": 1420})
    after, _ = run(longer, parse_commands(json.dumps(way.commands)))
    _, walk, point, talk = frames(after, 1)
    assert walk[0] == "walk" and talk[:2] == ("talk", walk[2] + 1)
    # What is on another lane stays where it was.
    assert point == frames(DEMO, 1)[2]


def test_in_time_of_its_own_an_act_is_as_asked():
    after = one(DEMO, kind="figure.act", figure="fig-bram", act=act(first=1010, last=1040), when_free=True)
    assert ("talk", 1010, 1040) in frames(after, 1)


def test_a_walk_waits_too_and_starts_from_where_the_figure_will_be():
    after = one(
        DEMO, kind="figure.walk", figure="fig-bram", first=1130, points=[[0.15, -9.34]], when_free=True
    )
    walk = next(a for a in after.figures[1].acts if a.kind == "walk")
    assert walk.frames.first == 1151  # he turns until 1150
    # 0.86 m at 1.25 m/s takes 17 frames at 24 a second, and a start and a stop.
    assert 15 <= walk.frames.count <= 40


def test_with_no_time_left_it_says_so():
    busy = one(DEMO, kind="figure.act", figure="fig-odile", act=act("stand", 1313, 1320))
    with pytest.raises(Refused, match="Odile is busy from 1315 to the end of the scene"):
        one(busy, kind="figure.act", figure="fig-odile", act=act(first=1315, last=1330), when_free=True)
