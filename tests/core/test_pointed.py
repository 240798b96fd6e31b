"""What a hand points at becomes a layer, a look or an act: which place on it counts, and from when."""

import json

import numpy as np
import pytest

from heron.bake import Bake, ResultCache
from heron.commands import parse_commands, run
from heron.commands.move_kinds import KINDS
from heron.commands.starts import LABELS
from heron.demo import slack_tide
from heron.errors import HeronError
from heron.scene import Scene, find

DEMO = slack_tide()
ODILE = {"kind": "figure", "figure": "fig-odile", "joint": "eyes"}
HAND = {"kind": "figure", "figure": "fig-odile", "joint": "wrist_r"}
BOAT = {"kind": "mover", "mover": "mov-boat"}


def done(scene: Scene, **command):
    return run(scene, parse_commands(json.dumps(command)))[0]


def pointed(how, on, frame=1100, scene=DEMO, camera="cam-b"):
    after = done(scene, kind="rig.point", id="lay-new", camera=camera, how=how, on=on, frame=frame)
    return next(one for one in find(after, "cameras", camera).layers if one.id == "lay-new")


def test_who_watches_looks_at_the_head_and_who_follows_goes_with_the_whole_body():
    """Common practice: an operator frames a head; a dolly follows the walk, not the nodding."""
    assert pointed("aim", ODILE).at[0].joint == "head" and pointed("aim", HAND).at[0].joint == "wrist_r"
    assert pointed("trail", ODILE).of.joint == "root" == pointed("trail", HAND).of.joint
    assert pointed("carrier", ODILE).on.joint == "root"
    assert pointed("arm", ODILE).round[0].joint == "head"
    # Sizes of shots are measured from the chin to the crown: the head.
    assert pointed("size", HAND).of.joint == "chin"


def test_an_aim_takes_over_from_the_frame_shown_and_the_first_one_holds_throughout():
    first = pointed("aim", ODILE)
    assert first.first is None and first.blend_in == 0
    watched = done(DEMO, kind="rig.point", camera="cam-b", how="aim", on=ODILE, frame=1100)
    second = pointed("aim", BOAT, scene=watched)
    assert (second.first, second.blend_in > 0) == (1100, True)
    # Nothing moves on the frame on which it comes.
    after = done(watched, kind="rig.point", camera="cam-b", how="aim", on=BOAT, frame=1100)
    rows = [
        Bake(scene, ResultCache()).rows(find(scene, "cameras", "cam-b"), np.arange(1001, 1101))
        for scene in (watched, after)
    ]
    np.testing.assert_array_equal(rows[0], rows[1])
    assert pointed("aim", BOAT, frame=1001, scene=watched).first is None


@pytest.mark.parametrize(
    ("how", "on", "says"),
    [
        ("size", BOAT, "Only a figure has a size to hold."), ("eyes", BOAT, "Only a figure can be ridden on so."),
        ("trail", {"kind": "distance", "metres": 4}, "There is nothing there."), ("aim", {"kind": "camera", "camera": "cam-b"}, "depend on itself"),
        ("aim", {"kind": "mover", "mover": "mov-gone"}, "not in the scene"),
    ],
)  # fmt: skip
def test_what_cannot_be_gone_by_is_said(how, on, says):
    with pytest.raises(HeronError, match=says) as refused:
        pointed(how, on)
    assert refused.value.remedy


def test_a_layer_takes_another_subject_or_one_more():
    watched = done(DEMO, kind="rig.point", id="lay-aim", camera="cam-b", how="aim", on=ODILE, frame=1001)
    both = done(watched, kind="rig.subject", camera="cam-b", layer="lay-aim", on=BOAT, also=True)
    other = done(watched, kind="rig.subject", camera="cam-b", layer="lay-aim", on=BOAT)
    at = lambda scene: [one.kind for one in find(scene, "cameras", "cam-b").layers[-1].at]  # noqa: E731
    assert at(both) == ["figure", "mover"] and at(other) == ["mover"]
    held = done(
        DEMO,
        kind="rig.add",
        camera="cam-b",
        layer={"kind": "size", "id": "lay-s", "of": {**ODILE, "joint": "root"}},
    )
    swapped = done(held, kind="rig.subject", camera="cam-b", layer="lay-s", on={**HAND, "figure": "fig-bram"})
    # It goes on being measured from where it was.
    assert [find(swapped, "cameras", "cam-b").layers[-1].of.model_dump()[k] for k in ("figure", "joint")] == [
        "fig-bram",
        "root",
    ]
    with pytest.raises(HeronError, match="A size layer has one subject"):
        done(held, kind="rig.subject", camera="cam-b", layer="lay-s", on=ODILE, also=True)


def test_people_look_each_other_in_the_eyes_as_long_as_a_look_usually_takes():
    head = {**ODILE, "joint": "head"}
    looks = done(DEMO, kind="figure.look", figure="fig-bram", on=head, frame=1200, id="gaz-1")
    gaze = next(one for one in find(looks, "figures", "fig-bram").gazes if one.id == "gaz-1")
    assert gaze.at.joint == "eyes" and gaze.frames.first == 1200 and gaze.frames.count > 24
    # Near its end a look lasts as long as the scene does.
    late = done(DEMO, kind="figure.look", figure="fig-bram", on=head, frame=DEMO.frames.last - 3, id="gaz-1")
    assert next(one for one in find(late, "figures", "fig-bram").gazes if one.id == "gaz-1").frames.count == 4
    again = done(looks, kind="figure.look", figure="fig-bram", on=BOAT, frame=1001, act="gaz-1")
    now = next(one for one in find(again, "figures", "fig-bram").gazes if one.id == "gaz-1")
    assert now.at.kind == "mover" and now.frames == gaze.frames


def test_a_figure_points_and_turns_from_the_way_it_faces():
    scene = Scene.model_validate(
        {"name": "Alone", "figures": [{"id": "fig-a", "name": "A", "x": 2, "z": 1, "heading": 90}]}
    )
    points = done(scene, kind="figure.begin", figure="fig-a", does="point", frame=1010)
    act = points.figures[0].acts[0]
    # At 90° it faces −X: five metres on, at the height of a face.
    assert [act.at.x, act.at.y, act.at.z] == [-3.0, 1.5, 1.0]
    turned = done(scene, kind="figure.begin", figure="fig-a", does="turn", frame=1010).figures[0].acts[0]
    assert turned.heading == 180.0
    elsewhere = done(
        points,
        kind="figure.look",
        figure="fig-a",
        act=act.id,
        frame=1010,
        on={"kind": "point", "x": 0, "y": 0, "z": 0},
    )
    assert elsewhere.figures[0].acts[0].at.y == 0 and elsewhere.figures[0].acts[0].frames == act.frames
    back = done(elsewhere, kind="figure.look", figure="fig-a", act=act.id, frame=1001)
    assert back.figures[0].acts[0].at == act.at
    with pytest.raises(HeronError, match="A talk has no subject"):
        done(
            done(scene, kind="figure.begin", id="t", figure="fig-a", does="talk", frame=1010),
            kind="figure.look",
            figure="fig-a",
            act="t",
            frame=1010,
        )


def test_a_number_is_set_on_its_key_here_else_at_rest():
    def focal(scene):
        return find(scene, "cameras", "cam-b").focal

    at_rest = done(DEMO, kind="camera.set", camera="cam-b", focal=40, frame=1100, force=True)
    assert focal(at_rest).rest == 40 and not focal(at_rest).keys
    keyed = done(
        at_rest,
        kind="keys.set",
        force=True,
        keys=[
            {"thing": "cam-b", "channel": "focal", "frame": f, "value": v}
            for f, v in ((1050, 30), (1100, 50))
        ],
    )
    there = done(keyed, kind="camera.set", camera="cam-b", focal=60, frame=1100, force=True)
    assert [key.value for key in focal(there).keys] == [30, 60]
    with pytest.raises(HeronError, match="has keys on its"):
        done(keyed, kind="camera.set", camera="cam-b", focal=60, frame=1101, force=True)
    # A stop on its key is what it is: nothing gives for it.
    stops = done(
        DEMO,
        kind="keys.set",
        force=True,
        keys=[{"thing": "cam-b", "channel": "aperture", "frame": 1050, "value": 4}],
    )
    wide = done(stops, kind="camera.glass", camera="cam-b", aperture=2, frame=1050, force=True)
    assert find(wide, "cameras", "cam-b").aperture.keys[0].value == 2.0  # stops: 2·log2(2)
    assert find(wide, "cameras", "cam-b").iso == find(stops, "cameras", "cam-b").iso
    aim = done(DEMO, kind="rig.point", id="lay-a", camera="cam-b", how="aim", on=ODILE, frame=1001)
    keys = done(
        aim, kind="keys.set", keys=[{"thing": "cam-b", "channel": "lay-a.x", "frame": 1050, "value": 0.1}]
    )
    placed = find(
        done(keys, kind="rig.set", camera="cam-b", layer="lay-a", numbers={"x": 0.3, "y": 0.2}, frame=1100),
        "cameras",
        "cam-b",
    ).layers[-1]
    assert [(key.frame, key.value) for key in placed.x.keys] == [
        (1050, 0.1),
        (1100, 0.3),
    ] and placed.y.rest == 0.2


def test_a_turntable_goes_round_the_whole_body_or_turns_it():
    table = {"kind": "rig.turntable", "camera": "cam-b", "round": ODILE, "seconds": 2, "first": 1240}
    laughs = [act.id for act in find(DEMO, "figures", "fig-odile").acts if act.kind == "laugh"]
    free = done(DEMO, kind="figure.act.delete", figure="fig-odile", ids=laughs)
    after = done(DEMO, id="lay-t", **table)
    arm = next(one for one in find(after, "cameras", "cam-b").layers if one.id == "lay-t")
    assert arm.round[0].joint == "root"
    assert find(done(free, turns="subject", **table), "figures", "fig-odile").body[-2].kind == "spin"


@pytest.mark.parametrize("shot", LABELS)
def test_a_start_is_offered_for_as_many_people_as_it_takes(shot):
    label, counts = LABELS[shot]
    assert label.count("{}") in (1, *counts)
    people = ["fig-bram", "fig-odile"]
    for count in (1, 2):
        if count in counts:
            done(DEMO, kind="rig.start", camera="cam-b", shot=shot, figures=people[:count], frame=1200)
    if 1 not in counts:
        with pytest.raises(HeronError, match="takes two figures"):
            done(DEMO, kind="rig.start", camera="cam-b", shot=shot, figures=people[:1], frame=1200)
    assert set(counts) <= {1, 2}


def test_every_kind_of_move_is_a_way_to_turn_or_has_an_amount_but_going_to_a_view():
    assert {what for what, kind in KINDS.items() if not kind.unit} == {
        what for what, kind in KINDS.items() if kind.turns
    } | {"view"}
    assert {what for what, kind in KINDS.items() if kind.directions} == {"dolly", "truck"}
    for what, kind in KINDS.items():
        if kind.unit:
            of = {"of": ODILE} if kind.of else {}
            move = {
                "kind": "camera.move",
                "camera": "cam-b",
                "what": what,
                "first": 1170,
                "last": 1200,
                "force": True,
                **of,
            }
            assert done(DEMO, **move, amount=kind.usual) != DEMO
            with pytest.raises(HeronError, match="moves nothing"):
                done(DEMO, **move)


def test_what_was_done_is_said_by_name():
    """The history is read by people: on and off are told apart, and a copy by the name it got."""

    def said(scene, **command):
        return run(scene, parse_commands(json.dumps(command)))

    aim = done(DEMO, kind="rig.point", id="lay-a", camera="cam-b", how="aim", on=ODILE, frame=1001)
    off, (told,) = said(aim, kind="rig.set", camera="cam-b", layer="lay-a", fields={"off": True})
    assert told == "Switched camera B's aim off"
    assert said(off, kind="rig.set", camera="cam-b", layer="lay-a", fields={"off": False})[1] == [
        "Switched camera B's aim on"
    ]
    after, (told,) = said(DEMO, kind="things.duplicate", ids=["fig-odile"])
    assert told == f"Duplicated Odile as {after.figures[-1].name}" and after.figures[-1].name not in (
        "Odile",
        "Bram",
    )


def test_a_rig_given_to_somebody_else_goes_by_them_in_all_it_names():
    legs = [
        {"to": {"kind": "perch", "perch": "per-a"}, "frames": 24},
        {"to": {"kind": "perch", "perch": "per-b"}, "frames": 24, "round": ODILE},
    ]
    scene = DEMO
    for name in "ab":
        scene = done(
            scene,
            kind="perch.add",
            id=f"per-{name}",
            name=f"Perch {name}",
            view={"x": 1, "y": 2, "z": 3, "pan": 0, "tilt": 0, "roll": 0, "focal": 35},
            frame=1001,
        )
    flown = done(scene, kind="rig.add", camera="cam-b", layer={"kind": "flight", "id": "lay-f", "legs": legs})
    after = done(
        flown,
        kind="rig.copy",
        camera="cam-b",
        to="cam-b",
        instead={"fig-odile": "fig-bram", "per-a": "per-b"},
    )
    flight = next(one for one in find(after, "cameras", "cam-b").layers if one.kind == "flight")
    assert [leg.to.perch for leg in flight.legs] == ["per-b", "per-b"] and flight.legs[
        1
    ].round.figure == "fig-bram"
