"""A scene that begins at another number, or is turned and moved on the floor, gives the same pictures."""

import json

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from heron.bake import Bake, ResultCache
from heron.commands import parse_commands, run
from heron.curves import Channel, Key, evaluate
from heron.errors import HeronError
from heron.framing.moved import moved
from heron.framing.seen import seen_strip
from heron.scene import Scene, find_named
from heron.stage.reference import OnFigure
from heron.timebase.rate import Rate


def one(scene, *commands):
    return run(scene, parse_commands(json.dumps(list(commands))))[0]


def talk_and_walk(first, turn=0.0, dx=0.0, dz=0.0, rate="24/1"):
    """Somebody walks a bend and talks, and a camera follows with breath: from a frame on, turned and moved."""

    def at(x, z):
        x, _, z = Rotation.from_euler("Y", turn, degrees=True).apply([x, 0, z]) + np.array([dx, 0, dz])
        return x, z

    (sx, sz), (cx, cz) = at(0, 0), at(1.0, 5.0)
    blank = Scene(name="S", rate=rate, frames={"first": first, "last": first + 140})
    return one(
        blank,
        {"kind": "figure.add", "id": "a", "name": "Ann", "x": sx, "z": sz, "heading": 180 + turn},
        {"kind": "figure.walk", "figure": "a", "first": first + 5, "points": [at(0.4, 1.2), at(-0.3, 2.4)]},
        {"kind": "figure.act", "figure": "a",
         "act": {"kind": "talk", "frames": {"first": first + 105, "last": first + 135}}},
        {"kind": "camera.add", "id": "c", "pose": {"x": cx, "y": 1.6, "z": cz, "pan": turn}, "focal": 50},
        {"kind": "rig.add", "camera": "c", "layer": {"kind": "trail", "id": "t", "of": {"kind": "figure", "figure": "a", "joint": "root"}}, "at": first},
        {"kind": "rig.add", "camera": "c", "layer": {"kind": "aim", "id": "w", "at": [{"kind": "figure", "figure": "a", "joint": "head"}]}, "at": first},
        {"kind": "rig.add", "camera": "c", "layer": {"kind": "breath", "id": "b", "seed": 3}, "at": first},
    )  # fmt: skip


def seen(scene, joint):
    """(n, 3) where the camera has a joint: in its own axes, metres."""
    bake = Bake(scene, ResultCache())
    rows = bake.samples(scene.cameras[0]).values
    place = bake.place(OnFigure(figure="a", joint=joint), scene.frames.array())
    turn = Rotation.from_euler("YXZ", rows[:, 3:6], degrees=True)
    return turn.inv().apply(place - rows[:, :3])


@pytest.mark.parametrize("rate", ["24/1", "30000/1001"])
@pytest.mark.parametrize("joint", ["wrist_r", "head", "ankle_l"])
def test_time_and_place_of_a_scene_change_no_picture(joint, rate):
    plain = seen(talk_and_walk(1001, rate=rate), joint)
    # 1e-6 px of 1,920 at 50 mm are about 4e-10 of the distance, which is 3 m and more.
    np.testing.assert_allclose(seen(talk_and_walk(2001, rate=rate), joint), plain, atol=1e-9)
    turned = talk_and_walk(1001, turn=37, dx=3, dz=-8, rate=rate)
    np.testing.assert_allclose(seen(turned, joint), plain, atol=1e-9)


def test_talking_hands_go_with_their_act():
    scene = talk_and_walk(1001)
    figure = scene.figures[0]
    act = figure.acts[-1].model_dump(mode="json")
    act["frames"] = {"first": 1107, "last": 1137}
    later = one(scene, {"kind": "figure.act.set", "figure": "a", "act": act})
    hand = [
        Bake(s, ResultCache()).place(OnFigure(figure="a", joint="wrist_r"), s.frames.array())
        for s in (scene, later)
    ]
    # Breath and sway of the trunk stay where they are in time: 2 cm.
    assert np.abs(hand[1][118:130] - hand[0][117:129]).max() < 0.02


def test_the_height_seen_is_the_pictures():
    """From 45° above a standing figure is foreshortened: a pinhole by hand."""
    blank = Scene(name="S", frames={"first": 1, "last": 2})
    scene = one(
        blank,
        {"kind": "figure.add", "id": "a", "name": "Ann", "x": 0, "z": 0, "stature": 1.7},
        {"kind": "camera.add", "id": "c", "pose": {"x": 0, "y": 5, "z": 5, "tilt": -45}, "focal": 50},
    )
    height = seen_strip(
        Bake(scene, ResultCache()), scene.cameras[0], OnFigure(figure="a", joint="head")
    ).height
    half = 36 * 9 / 16 / 2 / 50
    c = np.sqrt(0.5)
    foot, top = (np.array([(y - 5) * c + 5 * c, -(y - 5) * c + 5 * c]) for y in (0.0, 1.7))
    wanted = (top[0] / top[1] - foot[0] / foot[1]) / half / 2
    np.testing.assert_allclose(height, wanted, rtol=1e-6)


def test_a_change_of_stature_is_news_to_the_cameras():
    scene = talk_and_walk(1001)
    taller = one(scene, {"kind": "figure.set", "figure": "a", "stature": 1.9})
    found = moved(Bake(scene, ResultCache()), Bake(taller, ResultCache()))
    (size,) = [m for m in found if m.what == "size"]
    assert size.now / size.was == pytest.approx(1.9 / 1.7, rel=0.02)


def test_a_walk_that_must_turn_first_is_not_hurried_beyond_a_brisk_walk():
    blank = Scene(name="S", frames={"first": 1001, "last": 1200})
    scene = one(
        blank, {"kind": "figure.add", "id": "a", "name": "Ann", "x": 0, "z": 0, "stature": 1.68, "heading": 0}
    )
    walk = {"kind": "figure.act", "figure": "a"}
    act = {"kind": "walk", "points": [[0, 2]]}
    with pytest.raises(HeronError, match=r"turn and walk 2\.0 m"):
        one(scene, {**walk, "act": {**act, "frames": {"first": 1010, "last": 1060}}})
    fine = one(scene, {**walk, "act": {**act, "frames": {"first": 1010, "last": 1100}}})
    root = Bake(fine, ResultCache()).place(OnFigure(figure="a", joint="root"), fine.frames.array())
    # Brisk: 0.9 of the speed at a Froude number of a half (Alexander 1989, from memory).
    assert np.linalg.norm(np.diff(root, axis=0), axis=1).max() * 24 < 1.15 * 0.9 * np.sqrt(
        0.5 * 9.81 * 0.53 * 1.68
    )


def test_a_key_with_an_upright_handle_is_on_its_key():
    keys = (
        Key(frame=2006, value=753.4928, after="shaped", handle_after=(0.0, 529.85)),
        Key(frame=2020, value=100.0, before="shaped", handle_before=(-14.0, -535.0)),
    )
    values = evaluate(Channel(keys=keys), np.array([2005, 2006, 2020, 2021]))
    assert values.tolist() == [753.4928, 753.4928, 100.0, 100.0]


def test_a_number_that_does_nothing_takes_no_key():
    scene = talk_and_walk(1001)
    far = one(scene, {"kind": "rig.set", "camera": "c", "layer": "t", "fields": {"how": "distance"}})
    with pytest.raises(HeronError, match="does nothing while the trail"):
        one(
            far,
            {"kind": "keys.set", "keys": [{"thing": "c", "channel": "t.lag_s", "frame": 1010, "value": 1}]},
        )
    assert find_named(far, "cameras", "A").why_idle("t.behind_m") == ""


def test_the_refusal_of_a_rate_ends_with_one_stop():
    with pytest.raises(HeronError) as refused:
        one(Scene(name="S"), {"kind": "scene.set", "rate": "23"})
    assert ".." not in str(refused.value) and Rate
