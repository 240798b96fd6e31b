"""Keys on any channel of any thing, and being here: only what is named changes."""

import json

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from heron.bake import Bake, ResultCache
from heron.commands import parse_commands, run, run_one
from heron.curves import Channel, ChannelSpec, Key, Keyed
from heron.demo import slack_tide
from heron.errors import BadInput, BeyondLens, Refused
from heron.model import Id
from heron.scene import POSE, find
from heron.stage.acts.body import Turn, Walk

DEMO = slack_tide()


def one(scene, **command):
    return run_one(scene, parse_commands(json.dumps(command))[0])


def after(scene, *commands):
    return run(scene, parse_commands(json.dumps(list(commands))))[0]


def frames(thing, name):
    return [k.frame for k in getattr(thing, name).keys]


def camera(scene, id_="cam-b"):
    return find(scene, "cameras", id_)


def test_the_table_has_every_channel_and_no_other():
    for thing in (DEMO.cameras[0], DEMO.movers[0]):
        fields = {n for n in type(thing).model_fields if isinstance(getattr(thing, n), Channel)}
        assert {spec.name for spec in thing.CHANNELS} == fields
    spec = DEMO.cameras[0].spec("aperture")
    # Full stops: each is a factor of √2 of the f-number, handbook arithmetic.
    assert [spec.kept(n) for n in (1, 2, 4, 8)] == [0, 2, 4, 6]
    assert spec.shown(spec.kept(5.6)) == pytest.approx(5.6, rel=1e-15)
    assert spec.said(2.8) == "f/2.8" and DEMO.cameras[0].spec("pan").said(5) == "5°"


class Sway(Keyed):
    """A layer as they may come: it brings a channel of its own."""

    CHANNELS = (
        ChannelSpec(name="much", label="How much", unit="m", low=0, high=2, measure="metres", group="pose"),
    )
    id: Id
    much: Channel = Channel()


class Layered(Keyed):
    """A thing with layers."""

    CHANNELS = (
        ChannelSpec(name="x", label="Across", unit="m", low=-9, high=9, measure="metres", group="pose"),
    )
    x: Channel = Channel()
    layers: tuple[Sway, ...] = ()


def test_a_layers_channels_are_the_things_own():
    thing = Layered(layers=(Sway(id="one"), Sway(id="two", much=Channel(rest=1.0))))
    assert [s.name for s in thing.specs()] == ["x", "one.much", "two.much"]
    assert thing.channel("two.much").rest == 1.0
    keyed = thing.with_channels(
        {"two.much": Channel(keys=(Key(frame=7, value=1.5),)), "x": Channel(rest=3.0)}
    )
    assert (keyed.x.rest, keyed.layers[0], keyed.key_frames()) == (3.0, thing.layers[0], [7])
    assert keyed.keyed("two.much") and not keyed.keyed("one.much")
    with pytest.raises(BadInput, match=r"no channel 'three.much'.*There is: x, one.much, two.much"):
        thing.channel("three.much")
    with pytest.raises(ValueError, match="How much must be from 0 m to 2 m; it was 3 m"):
        thing.with_channels({"one.much": Channel(rest=3.0)})


def test_several_keys_across_things_at_once_or_none():
    keys = [
        {"thing": "cam-a", "channel": "tilt", "frame": 1100, "value": 5},
        {"thing": "cam-b", "channel": "exposure", "frame": 1200, "value": 1, "after": "held"},
        {"thing": "mov-boat", "channel": "y", "frame": 1100, "value": 0.2, "before": "straight"},
    ]
    scene, sentence = one(DEMO, kind="keys.set", keys=keys)
    assert sentence == "Set 3 keys"
    assert camera(scene, "cam-a").tilt.keys == (Key(frame=1100, value=5.0),)
    assert camera(scene).exposure.keys == (Key(frame=1200, value=1.0, after="held"),)
    assert find(scene, "movers", "mov-boat").y.key_at(1100).before == "straight"
    assert scene.cameras[2:] == DEMO.cameras[2:]
    with pytest.raises(Refused, match="outside the scene's range"):
        one(DEMO, kind="keys.set", keys=[*keys, {**keys[0], "frame": 9}])
    # Replaced, a key keeps its kinds unless they are named.
    again, sentence = one(scene, kind="keys.set", keys=[{**keys[1], "after": None, "value": 2}])
    assert sentence == "Changed the key on the exposure offset of camera B at 1200: 2 stops"
    assert camera(again).exposure.keys == (Key(frame=1200, value=2.0, after="held"),)


def test_a_key_beyond_the_lens_is_refused_or_forced():
    key = {"thing": "cam-b", "channel": "focal", "frame": 1200, "value": 60}
    with pytest.raises(BeyondLens, match="50 mm is a prime: 60 mm is not 50 mm"):
        one(DEMO, kind="keys.set", keys=[key])
    assert one(DEMO, kind="keys.set", keys=[key], force=True)[1].endswith("60 mm, forced")


def test_one_gesture_keys_a_group_where_it_is():
    scene, sentence = one(DEMO, kind="keys.here", thing="cam-b", frame=1200)
    assert sentence == "Set a key on camera B at 1200"
    here = Bake(DEMO, ResultCache()).samples(camera(DEMO)).at(1200)
    for name in POSE:
        assert getattr(camera(scene), name).key_at(1200).value == here[name]
        assert frames(camera(scene), name) == [1170, 1200, 1236]
    assert camera(scene).focal == camera(DEMO).focal
    with pytest.raises(Refused, match="has its keys at 1200 already"):
        one(scene, kind="keys.here", thing="cam-b", frame=1200)
    lens, _ = one(scene, kind="keys.here", thing="cam-b", frame=1200, channel="lens", shape="held")
    assert camera(lens).aperture.key_at(1200) == Key(
        frame=1200, value=camera(DEMO).aperture.rest, before="held", after="held"
    )
    assert frames(camera(lens), "exposure") == []


def test_keys_move_together_and_not_onto_others():
    scene = after(DEMO, {"kind": "keys.here", "thing": "cam-b", "frame": 1200})
    both = [{"thing": "cam-b", "frame": 1170}, {"thing": "cam-b", "frame": 1200}]
    moved, sentence = one(scene, kind="keys.move", keys=both, by=30)
    assert sentence == "Moved 12 keys by 30 frames"
    assert all(frames(camera(moved), n) == [1200, 1230, 1236] for n in POSE)
    with pytest.raises(Refused, match="already a key at 1236"):
        one(scene, kind="keys.move", keys=[{"thing": "cam-b", "frame": 1200}], by=36)
    one_, sentence = one(
        scene, kind="keys.move", keys=[{"thing": "cam-b", "channel": "pan", "frame": 1200}], by=-5
    )
    assert sentence == "Moved the key on the pan of camera B from 1200 to 1195"
    assert frames(camera(one_), "pan") == [1170, 1195, 1236] and frames(camera(one_), "x") == [
        1170,
        1200,
        1236,
    ]
    with pytest.raises(Refused, match="outside the scene's range"):
        one(scene, kind="keys.move", keys=both, by=1000)


def test_shaping_and_deleting_name_what_they_mean():
    shaped, sentence = one(
        DEMO, kind="keys.shape", keys=[{"thing": "cam-b", "frame": 1170}], after="straight"
    )
    assert sentence == "Made the key on camera B at 1170 straight out"
    b = camera(shaped, "cam-b")
    assert {getattr(b, n).key_at(1170).after for n in POSE} == {"straight"}
    assert {getattr(b, n).key_at(1170).before for n in POSE} == {"eased"}
    gone, _ = one(DEMO, kind="keys.delete", keys=[{"thing": "cam-b", "frame": f} for f in (1170, 1236)])
    assert camera(gone, "cam-b").key_frames() == []
    # Gone altogether, it stays as the first of what was left.
    assert camera(gone, "cam-b").tilt.rest == camera(DEMO, "cam-b").tilt.keys[0].value
    for channel in ("focal", "wings"):
        with pytest.raises((Refused, BadInput)):
            one(DEMO, kind="keys.delete", keys=[{"thing": "cam-b", "channel": channel, "frame": 1170}])


@pytest.mark.parametrize("thing", ["cam-b", "mov-heron"])
@pytest.mark.parametrize("keep", ["key", "path"])
@pytest.mark.parametrize("name", POSE)
def test_being_here_changes_what_is_named_and_nothing_else(thing, keep, name):
    table = "cameras" if thing == "cam-b" else "movers"
    scene, _ = one(
        DEMO,
        kind="thing.put",
        thing=thing,
        frame=1290 if table == "movers" else 1200,
        keep=keep,
        **{name: 3.25},
    )
    frame = 1290 if table == "movers" else 1200
    was, now = find(DEMO, table, thing), find(scene, table, thing)
    assert Bake(scene, ResultCache()).samples(now).at(frame)[name] == pytest.approx(3.25, abs=1e-12)
    for other in type(now).model_fields:
        if other != name:
            # Not the same numbers come round another way: to the bit.
            assert getattr(now, other) == getattr(was, other)
    if keep == "key":
        assert frames(now, name) == sorted({*frames(was, name), frame})
        assert [k for k in now.channel(name).keys if k.frame != frame] == [
            k for k in was.channel(name).keys if k.frame != frame
        ]
    else:
        steps = [
            b.value - a.value for a, b in zip(was.channel(name).keys, now.channel(name).keys, strict=True)
        ]
        assert steps == pytest.approx([steps[0]] * len(steps), abs=1e-12)


def test_a_key_on_the_whole_pose_leaves_the_rest_where_it_is():
    scene, sentence = one(DEMO, kind="thing.put", thing="cam-b", frame=1200, keep="pose", tilt=9)
    assert sentence == "Set a key on camera B at 1200"
    was, now = (Bake(s, ResultCache()).samples(camera(s)).at(1200) for s in (DEMO, scene))
    assert now["tilt"] == 9 and all(now[n] == was[n] for n in POSE if n != "tilt")
    assert all(1200 in frames(camera(scene), n) for n in POSE)


def test_at_rest_a_thing_without_keys_is_put_and_a_keyed_one_refuses():
    scene, sentence = one(DEMO, kind="thing.put", thing="cam-a", frame=1001, keep="rest", x=1, pan=20)
    assert sentence == "Placed camera A" and (
        camera(scene, "cam-a").x.rest,
        camera(scene, "cam-a").pan.rest,
    ) == (1, 20)
    with pytest.raises(Refused, match="is moved by its keys"):
        one(DEMO, kind="thing.put", thing="cam-b", frame=1200, keep="rest", x=1)
    with pytest.raises(BadInput, match="No place or direction"):
        one(DEMO, kind="thing.put", thing="cam-a", frame=1001, keep="rest")


@settings(max_examples=15, deadline=None)
@given(st.integers(1001, 1320), st.floats(-9, 9), st.floats(-20, 9), st.floats(-400, 400))
def test_a_figure_put_somewhere_is_there_at_that_frame_with_all_it_does(frame, x, z, pan):
    scene, _ = one(DEMO, kind="thing.put", thing="fig-odile", frame=frame, keep="path", x=x, z=z, pan=pan)
    row = dict(
        zip(
            ("x", "y", "z", "heading"),
            Bake(scene, ResultCache()).rows(scene.figures[0], np.array([frame]))[0],
            strict=False,
        )
    )
    assert (row["x"], row["z"]) == pytest.approx((x, z), abs=1e-6)
    assert np.cos(np.radians(row["heading"] - pan)) == pytest.approx(1, abs=1e-6)

    # Rigidly: the way from the start to the walk's last point keeps its length.
    def way(figure):
        walk = next(a for a in figure.acts if isinstance(a, Walk))
        return np.hypot(walk.points[-1][0] - figure.x, walk.points[-1][1] - figure.z)

    assert way(scene.figures[0]) == pytest.approx(way(DEMO.figures[0]), abs=1e-9)
    turns = [
        next(a for a in s.figures[0].acts if isinstance(a, Turn)).heading - s.figures[0].heading
        for s in (DEMO, scene)
    ]
    assert turns[0] == pytest.approx(turns[1], abs=1e-9)


@pytest.mark.parametrize(
    ("what", "says"),
    [
        ({"keep": "key", "x": 0}, "has no keys"),
        ({"keep": "path", "y": 1}, "stands upright on the floor"),
        ({"keep": "path", "frame": 9, "x": 0}, "outside the scene"),
    ],
)
def test_what_a_figure_cannot_be_asked(what, says):
    with pytest.raises(Refused, match=says):
        one(DEMO, **{"kind": "thing.put", "thing": "fig-odile", "frame": 1100, **what})


def test_things_move_and_turn_about_their_common_middle():
    chosen = ["set-13", "set-14"]
    was = [find(DEMO, "pieces", i) for i in chosen]
    scene, sentence = one(DEMO, kind="things.move", ids=chosen, turn=90)
    now = [find(scene, "pieces", i) for i in chosen]
    assert sentence == "Turned the group “Mooring”"
    mx, mz = (sum(getattr(p, a) for p in was) / 2 for a in "xz")
    for a, b in zip(was, now, strict=True):
        # A quarter turn to the left takes +X to −Z.
        assert (b.x - mx, b.z - mz) == pytest.approx((a.z - mz, -(a.x - mx)))
        assert b.heading == a.heading + 90
    moved, sentence = one(
        DEMO, kind="things.move", ids=["cam-b", "mov-boat", "fig-bram", "set-13"], dx=1, dz=2
    )
    # From there he does not reach her any more.
    assert sentence.startswith(
        "Moved camera B, Rowing boat, Bram and Mooring post 1; at 1209 Bram no longer reaches"
    )
    b = camera(moved)
    assert [k.value for k in b.x.keys] == [k.value + 1 for k in camera(DEMO).x.keys] and b.y is camera(DEMO).y
    assert moved.figures[1].x == DEMO.figures[1].x + 1 and find(moved, "pieces", "set-13").z == was[0].z + 2
    for command in ({"ids": ["cam-b"], "turn": 5}, {"ids": ["fig-bram"], "dy": 1}):
        with pytest.raises(Refused):
            one(DEMO, kind="things.move", **command)


def test_copies_stand_beside_and_have_free_names():
    scene, sentence = one(DEMO, kind="things.duplicate", ids=["set-13", "fig-bram", "cam-b", "mov-boat"])
    assert sentence == "Duplicated camera B, Mooring post 1, Bram and Rowing boat"
    post, bram, b, boat = scene.pieces[-1], scene.figures[-1], scene.cameras[-1], scene.movers[-1]
    assert (
        post.name,
        post.x - find(DEMO, "pieces", "set-13").x,
        post.z - find(DEMO, "pieces", "set-13").z,
    ) == ("Mooring post 5", 0.5, 0.5)
    assert (bram.name, bram.x - DEMO.figures[1].x) == ("Bram 2", pytest.approx(0.8))
    assert (b.letter, b.name, b.x, b.locked) == ("J", "Odile over Bram, copy", camera(DEMO).x, False)
    assert boat.name == "Rowing boat 2"
    named, _ = one(DEMO, kind="things.duplicate", ids=["cam-a"], copies=["cam-z"], name="Wider")
    assert (named.cameras[-1].id, named.cameras[-1].name) == ("cam-z", "Wider")
    with pytest.raises(BadInput, match="one new id for each"):
        one(DEMO, kind="things.duplicate", ids=["cam-a", "cam-b"], copies=["x"])


@pytest.mark.parametrize(
    ("shape", "end", "expected"),
    [
        ("box", (3, -2), {"x": 1.5, "z": -1, "width": 3, "depth": 2, "heading": 0, "height": 1.0}),
        ("post", (0.3, 0.4), {"x": 0, "z": 0, "width": 1.0, "depth": 1.0, "heading": 0, "height": 2.0}),
        ("wall", (0, -4), {"x": 0, "z": -2, "width": 4, "depth": 0.15, "heading": -90, "height": 2.6}),
        ("backdrop", (4, 0), {"x": 2, "z": 0, "width": 4, "depth": 0.1, "heading": 0, "height": 4.0}),
        ("ramp", (0.04, 0), {"width": 0.05, "depth": 0.05, "height": 0.5}),
        ("box", (0, 0.04), {"width": 0.05, "depth": 0.05}),
        ("platform", (2, 0), {"width": 2, "depth": 0.05, "height": 0.3}),
        ("wall", (0.04, 0), {"width": 0.1, "depth": 0.15}),
        ("post", (0.04, 0), {"width": 0.2, "depth": 0.2}),
    ],
)
def test_what_is_drawn_lies_where_it_was_drawn(shape, end, expected):
    scene, sentence = one(DEMO, kind="piece.draw", shape=shape, start=[0, 0], end=list(end))
    piece = scene.pieces[-1]
    assert {k: getattr(piece, k) for k in expected} == pytest.approx(expected)
    assert sentence == f"Put up {shape.capitalize()} 1"
