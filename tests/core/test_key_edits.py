"""Keys edited as a whole: each edit against what it must do to the curve, by scipy where a curve is asked."""

import json

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.interpolate import BPoly, CubicHermiteSpline
from scipy.optimize import brentq

from heron.commands import parse_commands, run
from heron.curves import Channel, Key, evaluate
from heron.curves.edits import scaled, with_key_on_curve
from heron.curves.evaluate import slope
from heron.curves.handles import drawn_handles, kept_within, overshoots
from heron.curves.simplify import simplified
from heron.demo import slack_tide
from heron.errors import HeronError

KINDS = st.sampled_from(["held", "straight", "eased", "shaped"])


@st.composite
def channels(draw):
    """Channels of two to seven keys of every kind."""
    frames = sorted(draw(st.sets(st.integers(1000, 1300), min_size=2, max_size=7)))
    keys = []
    for frame in frames:
        before = draw(KINDS.filter(lambda kind: kind != "held"))
        handles = {
            "handle_before": (-draw(st.floats(1, 60)), draw(st.floats(-4, 4))),
            "handle_after": (draw(st.floats(1, 60)), draw(st.floats(-4, 4))),
        }
        keys.append(
            Key(frame=frame, value=draw(st.floats(-9, 9)), before=before, after=draw(KINDS), **handles)
        )
    return Channel(keys=tuple(keys))


def do(scene, *commands):
    return run(scene, parse_commands(json.dumps(list(commands))))


def camera_with(**channels):
    """The demo with keys put on its camera A: {channel: [(frame, value), …]}, and the keys as commands name them."""
    keys = [
        {"thing": "cam-a", "channel": name, "frame": f, "value": v, "before": "eased", "after": "eased"}
        for name, points in channels.items()
        for f, v in points
    ]
    scene = slack_tide()
    have = [
        {"thing": "cam-a", "channel": spec.name, "frame": 1, "last": 9999}
        for spec, channel in scene.cameras[0].each()
        if channel.keys
    ]
    scene, _ = do(scene, *([{"kind": "keys.delete", "keys": have}] if have else []))
    named = [{"thing": "cam-a", "channel": name, "frame": 1001, "last": 1300} for name in channels]
    return do(scene, {"kind": "keys.set", "keys": keys})[0], named


def found(scene, name):
    return [(key.frame, key.value) for key in scene.cameras[0].channel(name).keys]


@given(channels(), st.floats(0.02, 0.98))
def test_speed_in_closed_form_is_the_numeric_derivative(channel, part):
    first, last = channel.keys[0].frame, channel.keys[-1].frame
    t = np.array([first + part * (last - first)])
    # Away from keys, where it may turn a corner.
    if min(abs(t[0] - key.frame) for key in channel.keys) < 1e-2:
        return
    h = 1e-4
    numeric = (evaluate(channel, t + h) - evaluate(channel, t - h)) / (2 * h)
    exact = slope(channel, t)
    assert abs(numeric - exact)[0] <= 1e-4 * max(1.0, abs(exact[0]) ** 3)
    outside = np.array([first - 5.0, last + 5.0])
    assert (slope(channel, outside) == 0).all()


@given(channels(), st.integers(980, 1320))
def test_a_key_put_on_a_curve_leaves_it_as_it_was(channel, frame):
    if channel.key_at(frame):
        return
    more = with_key_on_curve(channel, frame)
    t = np.arange(970, 1331)
    assert len(more.keys) == len(channel.keys) + 1
    # Handles that are left longer than their new segment count as long as that.
    i = [key.frame for key in more.keys].index(frame)
    around = list(zip(more.keys, more.keys[1:], strict=False))[max(i - 1, 0) : i + 1]
    longest = [(a.handle_after or (0, 0))[0] / (b.frame - a.frame) for a, b in around if a.after == "shaped"]
    longest += [
        -(b.handle_before or (0, 0))[0] / (b.frame - a.frame) for a, b in around if b.before == "shaped"
    ]
    if any(one > 1 for one in longest):
        return
    off = np.abs(evaluate(more, t) - evaluate(channel, t))
    assert (off <= 1e-6 + 1e-8 * np.minimum(np.abs(slope(channel, t)), 1e9)).all()


def test_a_key_put_on_a_straight_stretch_leaves_the_ease_beyond_it():
    keys = [
        Key(frame=0, value=-1, after="straight"),
        Key(frame=2, value=0, before="straight"),
        Key(frame=5, value=1),
    ]
    more = with_key_on_curve(Channel(keys=tuple(keys)), 1)
    # By hand: chords 1/2 and 1/3 over 2 and 3 frames meet in the weighted harmonic mean 15 / (8/0.5 + 7/(1/3)) = 15/37.
    assert slope(more, np.array([2.0])) == pytest.approx([15 / 37])


@given(channels(), st.sampled_from([-2, -1, 2, 3]), st.floats(-3, 3), st.integers(1000, 1300))
def test_scaled_keys_give_the_curve_scaled(channel, times, higher, pivot):
    # A step is held from before: backwards it is another one.
    if times < 0 and any(key.after == "held" for key in channel.keys):
        return
    made = Channel(
        keys=tuple(scaled(list(channel.keys), frame=pivot, value=1.0, in_time=times, in_value=higher))
    )
    t = np.arange(1000, 1301)
    off = np.abs(evaluate(made, pivot + (t - pivot) * times) - (1 + (evaluate(channel, t) - 1) * higher))
    # Where a curve is all but upright a value is held by its moment: a billionth of a frame either side.
    assert (off <= 1e-6 + 1e-8 * np.minimum(np.abs(slope(channel, t)), 1e9)).all()


def test_backwards_a_held_value_is_held_by_the_key_that_stood_before_it():
    keys = [Key(frame=0, value=1, after="held"), Key(frame=10, value=5), Key(frame=30, value=2)]
    made = Channel(keys=tuple(scaled(keys, frame=15, value=0, in_time=-1)))
    # Common practice: a held pose stands up to the frame before the next.
    assert list(evaluate(made, np.array([0, 20, 29, 30]))) == [2, 5, 5, 1]


@given(channels())
def test_kept_within_no_curve_leaves_its_two_values_and_nothing_else_changes(channel):
    over = {o.segment for o in overshoots(channel)}
    made = kept_within(channel)
    t = np.linspace(1000, 1300, 3001)
    for i, (a, b) in enumerate(zip(channel.keys, channel.keys[1:], strict=False)):
        inside = t[(t > a.frame) & (t < b.frame)]
        low, high = sorted((a.value, b.value))
        was = evaluate(channel, inside)
        room = 1e-6 * max(high - low, 1.0)
        past = bool(len(inside)) and bool((was > high + room).any() or (was < low - room).any())
        if past:
            assert i in over
        now = evaluate(made, inside)
        if a.after != "held" and "shaped" in (a.after, b.before):
            assert (now <= high + room).all() and (now >= low - room).all()
    assert [(k.frame, k.value) for k in made.keys] == [(k.frame, k.value) for k in channel.keys]
    assert overshoots(made) == []


def test_drawn_handles_are_the_beziers_control_points():
    keys = (
        Key(frame=0, value=0, after="shaped", handle_after=(6, 12.0)),
        Key(frame=30, value=4, before="eased", after="straight"),
        Key(frame=50, value=8, before="shaped", handle_before=(-40, 2.0)),
    )
    channel = Channel(keys=keys)
    drawn = drawn_handles(channel)
    for i in range(2):
        a, b = keys[i], keys[i + 1]
        time = BPoly([[a.frame], [a.frame + drawn[i, 2]], [b.frame + drawn[i + 1, 0]], [b.frame]], [0, 1])
        value = BPoly([[a.value], [a.value + drawn[i, 3]], [b.value + drawn[i + 1, 1]], [b.value]], [0, 1])
        for frame in range(a.frame + 1, b.frame):
            u = brentq(lambda v, f=frame, x=time: float(x(v)) - f, 0, 1, xtol=1e-14)
            np.testing.assert_allclose(evaluate(channel, np.array([frame])), value(u), atol=1e-9)
    # The first handle makes it go past 4; the last is longer than its 20 frames, and is said to be cut.
    assert [int(bits) for bits in drawn[:, 4]] == [8, 0, 1 | 4]
    assert drawn[2, 0] == -20 and drawn[2, 1] == 1.0


@settings(deadline=None, max_examples=20)
@given(st.integers(0, 10_000), st.sampled_from([0.003, 0.02, 0.1]))
def test_simplified_is_within_the_error_at_every_frame_with_its_ends_exact(seed, error):
    rng = np.random.default_rng(seed)
    knots = np.sort(rng.choice(np.arange(1, 119), 5, replace=False))
    t = np.arange(120.0)
    smooth = CubicHermiteSpline(np.r_[0, knots, 119], rng.normal(size=7) * 2, rng.normal(size=7) / 8)(t)
    smooth[60:] += rng.choice([0.0, 5.0])  # a step, at times
    made = simplified(1001, smooth, error)
    off = np.abs(evaluate(made, np.arange(1001, 1121)) - smooth)
    assert off.max() <= error and off[0] < 1e-9 and off[-1] < 1e-9
    assert len(made.keys) <= 30


def test_a_curve_of_few_keys_is_found_again():
    # A cubic Hermite of five knots needs no more than five, and by a little error rather fewer.
    smooth = CubicHermiteSpline([0, 40, 90, 150, 239], [0, 3, 1, 6, 5], [0, 0.05, -0.02, 0.1, 0])(
        np.arange(240)
    )
    assert len(simplified(0, smooth, 1e-3).keys) <= 9
    assert len(simplified(0, smooth, 0.2).keys) <= 5


def test_keys_are_moved_in_time_and_only_those_of_one_measure_in_value():
    scene, keys = camera_with(x=[(1010, 1.0), (1050, 2.0)], pan=[(1010, 20.0), (1050, 40.0)])
    after, said = do(scene, {"kind": "keys.move", "keys": keys, "by": 5, "up": 0.25, "measure": "metres"})
    assert found(after, "x") == [(1015, 1.25), (1055, 2.25)]
    assert found(after, "pan") == [(1015, 20.0), (1055, 40.0)]
    assert said == ["Moved 4 keys by 5 frames and up by 0.25 m"]
    # Typed, the lot goes with the first: a stop as its f-number, two stops on from f/4 being f/8.
    scene2, stops = camera_with(aperture=[(1010, 4.0), (1050, 5.6)])
    after, _ = do(scene2, {"kind": "keys.move", "keys": stops, "to": 8, "channel": "aperture"})
    assert [v for _, v in found(after, "aperture")] == pytest.approx([6.0, 2 * np.log2(5.6) + 2])
    # Moved onto each other's places they are one lot; onto one that stays they are refused.
    assert found(do(scene, {"kind": "keys.move", "keys": keys, "by": 40})[0], "x")[0] == (1050, 1.0)
    with pytest.raises(HeronError, match="already a key at 1050 on the across of camera A"):
        do(scene, {"kind": "keys.move", "keys": [{**keys[0], "last": 1010}], "by": 40})
    with pytest.raises(HeronError, match="outside the scene"):
        do(scene, {"kind": "keys.move", "keys": keys, "by": 5000})
    with pytest.raises(HeronError, match="Tilt must be from"):
        scene, tilt = camera_with(tilt=[(1010, 80.0)])
        do(scene, {"kind": "keys.move", "keys": tilt, "up": 20})


def test_a_narrower_move_is_sharper_and_none_of_no_width():
    scene, keys = camera_with(x=[(1010, 1.0), (1030, 2.0), (1050, 4.0)])
    scale = {"kind": "keys.scale", "keys": keys, "about": "last"}
    assert found(do(scene, {**scale, "in_time": 0.5})[0], "x") == [(1030, 1.0), (1040, 2.0), (1050, 4.0)]
    assert found(do(scene, {**scale, "in_value": 2})[0], "x") == [(1010, -2.0), (1030, 0.0), (1050, 4.0)]
    flat = do(scene, {**scale, "in_value": 3, "frame": 1001, "value": 2})[0]
    assert found(flat, "x") == [(1010, -1.0), (1030, 2.0), (1050, 8.0)]
    with pytest.raises(HeronError, match="Give a factor other than 0"):
        do(scene, {**scale, "in_time": 0})
    with pytest.raises(HeronError, match="would stand on frame 1050"):
        do(scene, {**scale, "in_time": 0.01})
    after, said = do(scene, {**scale, "about": "middle", "in_time": -1})
    assert found(after, "x") == [(1010, 4.0), (1030, 2.0), (1050, 1.0)] and said == [
        "Reversed 3 keys in time"
    ]
    assert found(do(scene, {**scale, "about": "middle", "in_value": -1})[0], "x")[0] == (1010, 4.0)


def test_a_turn_goes_some_frames_after_the_move():
    # Common practice: rotation keys a few frames after position keys.
    points = [(1010, 1.0), (1017, 1.5), (1050, 2.0)]
    scene, keys = camera_with(x=points, z=points, pan=points, focal=[(1010, 35.0), (1050, 50.0)])
    after, _ = do(scene, {"kind": "keys.stagger", "keys": keys, "by": 4})
    assert [f for f, _ in found(after, "z")] == [1010, 1017, 1050]
    assert [f for f, _ in found(after, "pan")] == [1014, 1021, 1054]
    assert [f for f, _ in found(after, "focal")] == [1018, 1058]
    with pytest.raises(HeronError, match="all go together"):
        do(scene, {"kind": "keys.stagger", "keys": keys[:2], "by": 4})
    assert [f for f, _ in found(do(scene, {"kind": "keys.spread", "keys": keys[:1]})[0], "x")][1] == 1030


def test_keys_go_to_another_camera_and_on_from_where_it_is():
    scene, _ = camera_with(x=[(1010, 1.0), (1050, 2.0)])
    content = [key.model_dump(mode="json") for key in scene.cameras[0].x.keys]
    b = scene.cameras[1]
    paste = {
        "kind": "keys.paste",
        "thing": b.id,
        "frame": 1100,
        "copied": [{"channel": "z", "measure": "metres", "keys": content}],
    }
    here = float(evaluate(b.z, np.array([1100]))[0])
    for more, value in (({}, 1.0), ({"join": True}, here), ({"up": 0.5}, 1.5)):
        after, _ = do(scene, {**paste, **more})
        z = after.cameras[1].z
        assert [k.frame for k in z.keys_in(1100, 1140)] == [1100, 1140]
        assert z.by_frame[1100].value == pytest.approx(value)
        assert z.by_frame[1140].value == pytest.approx(value + 1)
    with pytest.raises(HeronError, match="Keys in metres cannot go on the pan, which is in degrees"):
        do(scene, {**paste, "copied": [{**paste["copied"][0], "channel": "pan"}]})


def test_a_handle_that_is_tied_turns_the_other_and_one_that_is_free_does_not():
    scene, keys = camera_with(x=[(1010, 1.0), (1030, 2.0), (1060, 4.0)])
    at = [{**keys[0], "frame": 1030, "last": 1030}]
    scene, _ = do(scene, {"kind": "keys.shape", "keys": at, "before": "shaped", "after": "shaped"})
    put = {"kind": "keys.handle", "keys": at, "side": "after", "frames": 8, "value": 2.0}
    key = do(scene, put)[0].cameras[0].x.by_frame[1030]
    assert key.handle_after == (8, 2.0)
    # It keeps its own third of 20 frames, at the slope of the other: a quarter a frame.
    assert key.handle_before == pytest.approx((-20 / 3, -20 / 3 / 4))
    free, said = do(scene, {"kind": "keys.shape", "keys": at, "tied": False}, put)
    assert free.cameras[0].x.by_frame[1030].handle_before is None and "free on each side" in said[0]
    alone, _ = do(scene, {**put, "alone": True})
    assert alone.cameras[0].x.by_frame[1030].handle_before is None
    # Past its key it would turn time back: it stands upright, and that is said.
    upright, said = do(scene, {**put, "side": "before", "frames": 3})
    assert upright.cameras[0].x.by_frame[1030].handle_before == (0, 2.0)
    assert said[0].endswith("clipped: time does not run back")
    over = do(scene, {**put, "value": 9.0})[0]
    kept, said = do(over, {"kind": "keys.within", "keys": keys})
    assert overshoots(kept.cameras[0].x) == [] and said == ["Kept 1 key within their values"]
    with pytest.raises(HeronError, match="None of these keys"):
        do(kept, {"kind": "keys.within", "keys": keys})


def test_many_keys_of_a_run_become_few_and_the_rest_stays_as_it_was():
    dense = [(1020 + i, float(np.sin(i / 12))) for i in range(60)]
    scene, _ = camera_with(x=[(1005, -2.0), (1012, -1.0), *dense, (1090, 3.0), (1110, 1.0)])
    was = scene.cameras[0].x
    part = [{"thing": "cam-a", "channel": "x", "frame": 1020, "last": 1079}]
    ask = {"kind": "keys.simplify", "keys": part, "within": {"metres": 0.01}}
    after, said = do(scene, ask)
    now = after.cameras[0].x
    t = np.arange(1001, 1130)
    off = np.abs(evaluate(now, t) - evaluate(was, t))
    assert off[(t >= 1020) & (t <= 1079)].max() <= 0.01
    assert off[(t < 1020) | (t > 1079)].max() < 1e-9
    few = len(now.keys_in(1020, 1079))
    assert few <= 12 and said == [f"Made {few} keys of 60"]
    with pytest.raises(HeronError, match="as few as will do"):
        do(scene, {**ask, "keys": [{**part[0], "last": 1021}]})
    with pytest.raises(HeronError, match="cannot be kept"):
        do(scene, {**ask, "within": {"metres": 0}})


def test_keys_are_put_on_several_channels_at_once_where_the_curves_are():
    scene, _ = camera_with(x=[(1010, 1.0), (1050, 2.0)], y=[(1010, 1.0), (1030, 3.0), (1050, 2.0)])
    ask = {"kind": "keys.here", "thing": "cam-a", "frame": 1022, "channels": ["x", "y"], "keep": True}
    after, said = do(scene, ask)
    t = np.arange(1001, 1061)
    for name in ("x", "y"):
        was, now = scene.cameras[0].channel(name), after.cameras[0].channel(name)
        assert now.key_at(1022) and np.abs(evaluate(now, t) - evaluate(was, t)).max() < 1e-9
    assert said == ["Set a key on 2 channels of camera A at 1022"]
