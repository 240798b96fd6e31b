"""A hand's pass: smoothing against scipy.signal, keys within their error, and under layers where the hand was."""

import json

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import signal
from scipy.signal._arraytools import odd_ext

from heron.bake import Bake
from heron.bake.cameras import COLUMNS
from heron.commands import parse_commands, run
from heron.curves import evaluate
from heron.demo import slack_tide, slack_tide_film
from heron.errors import BadInput, Refused
from heron.framing.project import project
from heron.hand.course import stretches
from heron.hand.smoothing import on_frames, smoothed
from heron.scene import find, read_scene, write_scene
from heron.stage.reference import OnFigure
from heron.timebase import Frames

CAM, FIRST, LAST = "cam-a", 1020, 1259


def do(scene, *commands):
    scene, said = run(scene, parse_commands(json.dumps(list(commands))))
    return scene, "; ".join(said)


def operator(n=240, seed=3):
    """A pan that follows somebody: two swings, a late start, and a hand that trembles. Degrees."""
    rng = np.random.default_rng(seed)
    t = np.arange(n) / 24
    swing = 14 / (1 + np.exp(-3 * (t - 2.5))) - 9 / (1 + np.exp(-2.2 * (t - 7)))
    tremble = signal.lfilter([0.4], [1, -0.6], rng.normal(0, 0.12, n))
    return swing + tremble - swing[0] - tremble[0]


def recorded(scene, hand, first=FIRST, thing=CAM, **more):
    """A command that recorded what a hand added by channel, at each frame, as (n,) arrays."""
    n = len(next(iter(hand.values())))
    return {
        "kind": "pass.record", "id": "pas-1", "thing": thing, "at": [float(first + k) for k in range(n)],
        "hand": [{"channel": name, "by": list(map(float, values))} for name, values in hand.items()], **more,
    }  # fmt: skip


def pose(scene, *frames, thing=CAM, table="cameras"):
    return Bake(scene).rows(find(scene, table, thing), np.array(frames))[:, :6]


def bare(scene, **rest):
    """Camera A without keys and layers."""
    camera = find(scene, "cameras", CAM)
    ends = [{"thing": CAM, "channel": "all", "frame": 1, "last": 9999}]
    return do(scene, {"kind": "keys.delete", "keys": ends})[0] if camera.key_frames() else scene


@pytest.mark.parametrize("sigma", [0.7, 3.0, 6.0, 12.5])
def test_smoothing_is_scipy_signals_gaussian_over_the_odd_extension(sigma):
    values = operator()
    reach = int(np.ceil(4 * sigma))
    window = signal.windows.gaussian(2 * reach + 1, sigma)
    expected = signal.convolve(odd_ext(values, reach), window / window.sum(), mode="valid")
    assert smoothed(values, sigma) == pytest.approx(expected, abs=1e-10)


@given(st.lists(st.floats(-90, 90), min_size=3, max_size=60), st.floats(0.1, 40))
def test_smoothing_keeps_the_ends_and_what_is_straight(values, sigma):
    made = smoothed(np.array(values), sigma)
    assert len(made) == len(values)
    assert made[[0, -1]] == pytest.approx([values[0], values[-1]], abs=1e-9)
    line = np.linspace(values[0], values[-1], len(values))
    assert smoothed(line, sigma) == pytest.approx(line, abs=1e-9)


def test_a_hand_is_brought_on_frames_straight_between_its_moments():
    at, values = np.array([1000.5, 1003.0, 1001.5, 1003.0]), np.array([1.0, 8.0, 3.0, 9.0])
    # By hand: 2 at 1001, 3 + (9 − 3)/3 at 1002, the later of the two at 1003; before its first moment it stands.
    assert on_frames(at, values, np.arange(1000, 1004)) == pytest.approx([1, 2, 5, 9])


def test_ten_seconds_by_hand_are_twelve_keys_or_fewer_within_the_error():
    scene = bare(slack_tide())
    at = pose(scene, FIRST)[0]
    pan, tilt = operator(seed=4), 0.3 * operator(seed=5)
    scene, said = do(scene, recorded(scene, {"pan": pan, "tilt": tilt}))
    camera = find(scene, "cameras", CAM)
    frames = np.arange(FIRST, LAST + 1)
    for name, hand in (("pan", at[3] + pan), ("tilt", at[4] + tilt)):
        channel = camera.channel(name)
        assert len(channel.keys) <= 12
        off = np.abs(evaluate(channel, frames) - smoothed(hand, 0.25 * 24))
        assert off.max() <= 0.05
        assert (channel.keys[0].frame, channel.keys[-1].frame) == (FIRST, LAST)
    assert "keys on the pan" in said and "keys on the tilt" in said
    assert find(scene, "passes", "pas-1").in_use
    # What the hand did not touch is as it was.
    assert not camera.keyed("x") and pose(scene, 1100)[0, :3] == pytest.approx(at[:3])


def test_the_demo_has_a_camera_that_was_operated_for_ten_seconds():
    scene = slack_tide_film()
    (one,) = scene.passes
    assert one.in_use and one.last - one.first == 240
    camera = find(scene, "cameras", "cam-e")
    for name in ("pan", "tilt"):
        assert 4 <= len(camera.channel(name).keys) <= 12
    # Her head is always in the picture.
    bake, frames = Bake(scene), Frames(first=one.first, last=one.last)
    head = bake.place(OnFigure(figure="fig-odile", joint="head"), frames.array())
    assert project(bake.samples(camera, frames), head).inside.all()


def test_a_pass_is_tried_again_from_what_was_recorded_and_one_is_chosen():
    scene = bare(slack_tide())
    pan, there = operator(), pose(scene, FIRST)[0, 3]
    scene, _ = do(scene, recorded(scene, {"pan": pan}))
    rough, _ = do(scene, {"kind": "pass.use", "id": "pas-1", "smooth_s": 0.0, "within": {"degrees": 1e-6}})
    frames = np.arange(FIRST, LAST + 1)
    assert evaluate(find(rough, "cameras", CAM).pan, frames) == pytest.approx(there + pan, abs=2e-6)
    again, _ = do(rough, recorded(rough, {"pan": -pan, "x": pan * 0 + 1.0}) | {"id": "pas-2"})
    assert [p.in_use for p in again.passes] == [False, True]
    # Over each other by channel: one of other numbers leaves the first in use.
    other, _ = do(scene, recorded(scene, {"y": 0.01 * pan}) | {"id": "pas-3"})
    assert [p.in_use for p in other.passes] == [True, True]
    chosen, _ = do(again, {"kind": "pass.use", "id": "pas-1", "choose": True})
    assert chosen.passes == () and find(chosen, "cameras", CAM).keyed("x")


def test_keys_before_and_after_a_pass_stay_and_the_curve_comes_to_it_as_it_did():
    scene = bare(slack_tide())
    keys = [
        {"thing": CAM, "channel": "pan", "frame": f, "value": v}
        for f, v in ((1005, 0), (1100, 30), (1300, 10))
    ]
    scene, _ = do(scene, {"kind": "keys.set", "keys": keys})
    was = pose(scene, *range(1001, 1061))[:, 3]
    here = was[-1]
    hand = np.linspace(0, 20, 120)
    after, _ = do(scene, recorded(scene, {"pan": hand}, first=1060))
    assert pose(after, *range(1001, 1061))[:, 3] == pytest.approx(was, abs=1e-6)
    assert pose(after, 1179, 1300)[:, 3] == pytest.approx([here + 20, 10])
    assert [k.frame for k in find(after, "cameras", CAM).pan.keys if k.frame > 1179] == [1300]


def test_on_top_of_its_layers_the_camera_is_where_the_hand_brought_it_and_breathes_on():
    """Camera F follows Odile late, watches her and breathes: the aim's offsets answer, in few keys."""
    scene = slack_tide()
    f = find(scene, "cameras", "cam-f")
    assert {layer.kind for layer in f.layers} >= {"aim", "breath"}
    frames = range(1040, 1140)
    was = pose(scene, *frames, thing=f.id)
    pan, tilt = operator(100, seed=8), 0.4 * operator(100, seed=9)
    hand = recorded(scene, {"pan": pan, "tilt": tilt}, first=1040, thing=f.id, on_top=True)
    after, said = do(scene, hand)
    now = pose(after, *frames, thing=f.id)
    for k, by in ((3, pan), (4, tilt)):
        assert np.abs(now[:, k] - was[:, k] - smoothed(by, 6.0)).max() <= 0.051
    # Its breath sways in its own directions, which the hand turned: millimetres.
    assert now[:, :3] == pytest.approx(was[:, :3], abs=0.003)
    counts = [int(word) for word in said.replace(",", "").split() if word.isdigit() and int(word) < 1000]
    assert len(counts) == 3 and max(counts[1:]) <= 8
    # Used again it is not added twice.
    again, _ = do(after, {"kind": "pass.use", "id": "pas-1"})
    assert pose(again, *frames, thing=f.id) == pytest.approx(now, abs=0.11)


def test_zoom_and_focus_are_worked_as_their_channels_are_kept():
    scene = bare(slack_tide())
    stands = Bake(scene).rows(find(scene, "cameras", CAM), np.array([1100]))[0]
    focal, per_m = stands[COLUMNS.index("focal_mm")], stands[COLUMNS.index("focus_per_m")]
    zoom, pull = np.linspace(0, 60 - focal, 100), np.linspace(0, 1 / 2 - per_m, 100)
    if find(scene, "cameras", CAM).mounted:
        scene, _ = do(scene, {"kind": "camera.mount", "camera": CAM, "lens": None})
    after, _ = do(scene, recorded(scene, {"focal": zoom, "focus.distance": pull}, first=1100))
    rows = Bake(after).rows(find(after, "cameras", CAM), np.array([1100, 1199]))
    assert rows[:, COLUMNS.index("focal_mm")] == pytest.approx([focal, 60])
    assert 1 / rows[:, COLUMNS.index("focus_per_m")] == pytest.approx([1 / per_m, 2])
    # Before the hand took over it was focused as it was.
    assert pose(after, 1050)[0] == pytest.approx(pose(scene, 1050)[0])
    before = [Bake(s).rows(find(s, "cameras", CAM), np.array([1050]))[0, COLUMNS.index("focus_per_m")] for s in (scene, after)]  # fmt: skip
    assert before[0] == before[1]


def test_what_the_lens_cannot_is_kept_as_a_pass_and_said():
    scene = bare(slack_tide())
    mounted = find(scene, "cameras", CAM).mounted
    lens = next(one for one in scene.lenses if one.id == mounted)
    zoom = np.linspace(0, lens.longest_mm + 40, 50)
    after, said = do(scene, recorded(scene, {"focal": zoom}))
    assert "it is kept, but does not move it" in said
    assert not find(after, "passes", "pas-1").in_use and not find(after, "cameras", CAM).keyed("focal")
    forced, _ = do(after, {"kind": "pass.use", "id": "pas-1", "force": True})
    assert find(forced, "cameras", CAM).keyed("focal")


def test_a_mover_is_driven_and_a_figure_is_led():
    scene = slack_tide()
    boat = scene.movers[0]
    x0, x = pose(scene, FIRST, thing=boat.id, table="movers")[0, 0], np.linspace(0, 4, 100)
    after, _ = do(scene, recorded(scene, {"x": x}, thing=boat.id, smooth_s=0.0))
    assert pose(after, FIRST + 99, thing=boat.id, table="movers")[0, 0] == pytest.approx(x0 + 4)
    bram = find(scene, "figures", "fig-bram")
    free = max([a.frames.last for a in bram.acts if a.kind in ("walk", "turn")], default=1001) + 1
    # 0.8 m/s for a second, a second's stop, and on at a right angle for another: a stroll, common practice.
    go, stop = np.arange(25) * 0.8 / 24, np.zeros(24)
    px = np.concatenate([go, stop + go[-1], np.full(25, go[-1])])
    pz = np.concatenate([np.zeros(49), go])
    x0, _, z0 = pose(scene, free, thing=bram.id, table="figures")[0, :3]
    led, said = do(scene, recorded(scene, {"x": px, "z": pz}, first=free, thing=bram.id, smooth_s=0.0))
    walks = [a for a in find(led, "figures", bram.id).acts if a.kind == "walk" and a.frames.first >= free]
    assert [(w.frames.first - free, w.frames.last - free) for w in walks] == [(0, 24), (49, 73)]
    assert "2 walks" in said
    end = pose(led, free + 73, thing=bram.id, table="figures")[0]
    assert end[[0, 2]] == pytest.approx([x0 + px[-1], z0 + pz[-1]], abs=0.02)


def test_a_course_is_read_as_its_walks():
    # A straight line needs its end alone; a stop shorter than it takes to stand is none.
    line = np.column_stack([np.linspace(0, 3, 73), np.zeros(73)])
    (one,) = stretches(line, 24.0)
    assert (one.first, one.last) == (0, 72) and one.points.tolist() == [[3, 0]]
    pause = np.concatenate([line[:30], np.repeat(line[30:31], 5, axis=0), line[31:]])
    assert len(stretches(pause, 24.0)) == 1
    assert stretches(np.zeros((50, 2)), 24.0) == []


def test_a_document_with_a_broken_pass_is_not_read():
    scene = do(bare(slack_tide()), recorded(slack_tide(), {"pan": [0.0, 1.0, 2.0]}))[0]
    text = json.loads(write_scene(scene))
    track = text["passes"][0]["tracks"][0]
    for tracks, says in (
        ([track, {**track, "channel": "tilt", "hand": [0, 1]}], "not all as long"),
        ([{**track, "base": [0, 1]}], "not all as long"),
        ([track, track], "two tracks of one number"),
    ):
        text["passes"][0]["tracks"] = tracks
        with pytest.raises(BadInput, match=says):
            read_scene(json.dumps(text))
    text["passes"][0] = {
        **text["passes"][0],
        "tracks": [track],
        "of": {"kind": "camera", "camera": "cam-gone"},
    }
    with pytest.raises(BadInput, match="was recorded of a camera that is not in the scene"):
        read_scene(json.dumps(text))


def test_bad_passes_are_refused_and_a_pass_goes_with_its_thing():
    scene = bare(slack_tide())
    with pytest.raises(BadInput, match="does not work the aperture"):
        do(scene, recorded(scene, {"aperture": [4.0, 4.0, 4.0]}))
    with pytest.raises(BadInput, match=r"3 moments and 2 values of the pan\. Send a value"):
        do(scene, recorded(scene, {"pan": [0, 1, 2]}) | {"hand": [{"channel": "pan", "by": [0, 1]}]})
    with pytest.raises(BadInput, match="Tilt must be"):
        do(scene, recorded(scene, {"tilt": [0.0, 95.0, 0.0]}))
    with pytest.raises(Refused, match="2 to 20,000 frames; this one was of 1"):
        do(scene, recorded(scene, {"pan": [0, 1]}) | {"at": [1020.2, 1021.1]})
    two, _ = do(scene, recorded(scene, {"pan": [0, 1]}) | {"at": [1020.2, 1022.1]})
    assert (two.passes[0].first, two.passes[0].last) == (1021, 1022)
    kept, _ = do(scene, recorded(scene, {"pan": operator()}))
    with pytest.raises(BadInput, match="cannot be kept"):
        do(kept, {"kind": "pass.use", "id": "pas-1", "within": {"degrees": 0}})
    cut = [{"kind": "shot.delete", "shot": shot.id} for shot in kept.shots if shot.stage.last > 1250]
    short, _ = do(kept, *cut, {"kind": "scene.set", "frames": {"first": 1001, "last": 1250}})
    with pytest.raises(Refused, match="from 1020 to 1259, outside the scene's range 1001"):
        do(short, {"kind": "pass.use", "id": "pas-1"})
    gone, said = do(kept, {"kind": "things.delete", "ids": [CAM]})
    assert gone.passes == () and "Pass 1 goes with it" in said
    named, _ = do(kept, {"kind": "pass.name", "id": "pas-1", "name": "The one with the late start"})
    assert do(named, {"kind": "things.delete", "ids": ["pas-1"]})[0].passes == ()
