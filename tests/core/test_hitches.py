"""Hitches on made moves with known answers, their mends, chords, and dolly zooms by hand; hits and misses are printed."""

import json

import numpy as np
import pytest
from scipy.spatial.transform import Rotation
from test_moves import bare

from heron.bake import Bake
from heron.cli import main
from heron.commands import parse_commands, run
from heron.curves import Channel, Key, evaluate
from heron.demo import slack_tide
from heron.errors import HeronError
from heron.framing.project import project
from heron.model import changed
from heron.motion.found import found_in
from heron.motion.hitches import ROUND, _usual, hitches
from heron.motion.mending import MOST, mend
from heron.motion.signals import Signals
from heron.motion.strip import COLUMNS, LIMITS, beyond, strip
from heron.scene import write_scene
from heron.stage.reference import OnFigure

BRAM = OnFigure(figure="fig-bram", joint="head")
ROOT = OnFigure(figure="fig-bram", joint="root")
N = 140
#: Seeds that nothing was tuned on.
FRESH = range(50_000, 50_080)


def do(scene, **command):
    scene, said = run(scene, parse_commands(json.dumps(command)))
    return scene, said[0]


def smooth(rng):
    """A smooth eased move of two to four keys on each channel: place, pan, tilt, focal length."""

    def channel(low, high):
        frames = np.array([0])
        while len(frames) < 2 or (np.diff(frames) < 24).any():
            frames = np.sort(rng.choice(np.arange(5, N - 5), rng.integers(2, 5), replace=False))
        keys = tuple(Key(frame=int(f), value=float(rng.uniform(low, high))) for f in frames)
        return evaluate(Channel(keys=keys), np.arange(N))

    place = np.stack([channel(-4, 4), channel(1, 3), channel(4, 9)], axis=-1)
    return place, channel(-20, 20), channel(-8, 8), channel(24, 85)


def seen(place, pan, tilt, focal):
    """What it makes of somebody who stands in the middle; projected by scipy, 24 mm high film."""
    at = np.array([0, 0.9, 0])
    turn = Rotation.from_euler("YXZ", np.stack([pan, tilt, 0 * pan], axis=-1), degrees=True)
    local = turn.inv().apply(at - place)
    per_m = focal / 24 / -local[:, 2]
    x, y = local[:, 0] * per_m * 1080, local[:, 1] * per_m * 1080
    away = np.linalg.norm(at - place, axis=1)
    return Signals(
        1001, np.log(per_m), x, y, place, pan, tilt, np.log(focal), away, np.tile(at, (len(pan), 1)), ()
    )


def test_stalls_are_found_and_smooth_moves_are_let_be():
    alarms = sum(bool(hitches(seen(*smooth(np.random.default_rng(seed))))) for seed in FRESH)
    hits = misses = 0
    for seed in FRESH:
        rng = np.random.default_rng(seed)
        move = smooth(rng)
        speed = np.linalg.norm(np.diff(move[0], axis=0), axis=1)
        moving = np.flatnonzero(speed > max(0.3 * speed.max(), 0.004))
        moving = moving[(moving > 12) & (moving < N - 25)]
        if len(moving) == 0:
            continue
        at, long = int(rng.choice(moving)), int(rng.integers(2, 9))
        stalled = [
            np.concatenate([v[: at + 1], np.repeat(v[at : at + 1], long, axis=0), v[at + 1 :]]) for v in move
        ]
        there = [
            h
            for h in hitches(seen(*stalled))
            if h.first - 3 <= 1001 + at + long and h.last + 3 >= 1001 + at and h.kind in ("stall", "pump")
        ]
        hits, misses = hits + bool(there), misses + (not there)
    print(f"stalls found {hits}, missed {misses}; false alarms {alarms} of {len(FRESH)}")
    assert hits / (hits + misses) >= 0.95 and alarms / len(FRESH) < 0.02


def test_a_stall_is_as_severe_as_the_share_of_the_speed_that_is_missing():
    steps = np.full(N - 1, 0.05)
    steps[70:74] *= 0.25
    place = np.stack([np.r_[-3, np.cumsum(steps) - 3], np.full(N, 1.6), np.full(N, 6.0)], axis=-1)
    found = hitches(seen(place, np.zeros(N), np.zeros(N), np.full(N, 35.0)))
    assert [h.kind for h in found] == ["stall"] and 1071 < found[0].first <= found[0].last < 1076
    assert found[0].severity == pytest.approx(0.75, abs=0.01)


def test_what_is_usual_about_a_window_is_numpys_third_quartile():
    """The windows themselves are left out, and what lies outside the move."""
    rng = np.random.default_rng(8)
    jerk = rng.exponential(size=(3, 60))
    which = rng.integers(0, 3, 40)
    first = rng.integers(0, 55, 40)
    last = np.minimum(first + rng.integers(0, 5, 40), 59)
    found = _usual(jerk, which, first, last)
    for k, a, b, value in zip(which, first, last, found, strict=True):
        beside = np.r_[jerk[k, max(a - ROUND, 0) : a], jerk[k, b + 1 : b + 1 + ROUND]]
        assert value == pytest.approx(np.quantile(beside, 0.75), abs=1e-12)


def test_a_kick_is_one_and_what_the_subject_does_itself_is_none():
    move = smooth(np.random.default_rng(3))
    place = move[0].copy()
    place[70:] += [0.25, 0, 0]
    (kick,) = [h for h in hitches(seen(place, *move[1:])) if h.kind == "kick"]
    assert abs(kick.first - 1071) <= 1 and "jerks at" in kick.sentence
    # The camera stands; he starts and stops.
    still = seen(np.tile([0.0, 1.6, 6.0], (N, 1)), np.zeros(N), np.zeros(N), np.full(N, 35.0))
    walks = np.zeros((N, 3))
    walks[40:60, 0] = np.linspace(0, 1, 20)
    walks[60:63, 0] = 1
    walks[63:, 0] = 1 + np.linspace(0, 3, N - 63)
    x = walks[:, 0] * 300
    assert hitches(changed_signals(still, x=x, subject=walks + still.subject)) == []


def changed_signals(s, **more):
    return Signals(**{**{name: getattr(s, name) for name in Signals.__dataclass_fields__}, **more})


def test_hitches_stop_at_jumps_and_cuts():
    move = smooth(np.random.default_rng(5))
    place = move[0].copy()
    place[60:] += [3.0, 0, 0]
    s = seen(place, *move[1:])
    assert any(h.first <= 1062 and h.last >= 1060 for h in hitches(s))
    assert not any(h.first <= 1062 and h.last >= 1060 for h in hitches(changed_signals(s, breaks=(1061,))))


def twice_keyed(seed):
    """The demo's camera A in a smooth move with one channel keyed twice in the middle: it rests there."""
    rng = np.random.default_rng(seed)
    scene = bare()
    first, last = 1020, 1020 + int(rng.integers(50, 110))
    middle = (first + last) // 2
    ends = {"pan": (-62, rng.uniform(-100, -80)), "focal": (35, rng.uniform(50, 70))}
    keys = {name: [(first, a), (last, b)] for name, (a, b) in ends.items()}
    name = ("pan", "focal")[int(rng.integers(2))]
    a, b = ends[name]
    value, long = a + (b - a) * rng.uniform(0.4, 0.6), int(rng.integers(2, 6))
    keys[name][1:1] = [(middle, value), (middle + long, value)]
    channels = {
        n: Channel(rest=p[0][1], keys=tuple(Key(frame=f, value=float(v)) for f, v in p))
        for n, p in keys.items()
    }
    camera = scene.cameras[0].with_channels(channels)
    return changed(scene, cameras=(camera,)), name, middle, long


def test_the_proposal_takes_it_away_without_moving_a_key_by_more_than_it_may():
    mended = tried = 0
    for seed in range(70_000, 70_006):
        scene, name, middle, long = twice_keyed(seed)
        camera = scene.cameras[0]
        found = found_in(Bake(scene), camera, BRAM)
        assert any(h.first <= middle + long and h.last >= middle for h in found)
        tried += 1
        done = mend(scene, camera, BRAM, found[0])
        if done is None:
            continue
        mended += 1
        left = found_in(Bake(changed(scene, cameras=(done.camera,))), done.camera, BRAM)
        assert not any(h.first <= middle + long + 2 and h.last >= middle - 2 for h in left)
        for key in done.moved:
            values = [k.value for k in camera.channel(key.channel).keys]
            assert key.channel == name
            assert key.now is None or abs(key.now - key.was) <= MOST * (max(values) - min(values)) + 1e-9
    print(f"mended {mended} of {tried}")
    assert mended / tried >= 0.9


@pytest.mark.parametrize("what", ["pan", "tilt", "truck", "dolly", "boom", "zoom", "arc", "close in"])
def test_a_move_that_goes_too_far_on_purpose_and_settles_is_none(what):
    for seed in range(4):
        rng = np.random.default_rng([seed, len(what), ord(what[0])])
        amount = {"pan": 35, "tilt": 9, "zoom": 60, "arc": 40}.get(what, 1.6) * rng.uniform(0.5, 1.4)
        move = {
            "what": what,
            "amount": amount,
            "over": rng.uniform(0.03, 0.15),
            "settle": int(rng.integers(5, 12)),
        }
        if what in ("arc", "close in"):
            move["of"] = ROOT.model_dump()
        last = 1020 + int(rng.integers(20, 80))
        scene, _ = do(bare(), kind="camera.move", camera="cam-a", first=1020, last=last, **move)
        assert found_in(Bake(scene), scene.cameras[0], BRAM) == []


def keyed_every_frame(kind, seed):
    """A smooth pan with a key on every frame, spoiled for some frames: the scene, where, and for how long."""
    rng = np.random.default_rng(seed)
    frames = np.arange(1020, 1020 + int(rng.integers(60, 120)))
    ends = (Key(frame=1020, value=-62), Key(frame=int(frames[-1]), value=rng.uniform(-100, -80)))
    steps = np.diff(evaluate(Channel(keys=ends), frames))
    at, long = int(rng.integers(len(steps) // 3, 2 * len(steps) // 3)), int(rng.integers(2, 8))
    if kind == "stall":
        steps = np.insert(steps, at, np.zeros(long))
    elif kind == "kick":
        steps[at] *= rng.uniform(3, 6)
    elif kind == "back":
        steps[at : at + 2] *= -rng.uniform(0.5, 1)
    else:
        steps[at : at + long] *= rng.uniform(0.15, 0.45)
    keys = tuple(
        Key(frame=1020 + k, value=float(v), before="straight", after="straight")
        for k, v in enumerate(np.concatenate([[-62], -62 + np.cumsum(steps)]))
    )
    camera = bare().cameras[0].with_channels({"pan": Channel(keys=keys)})
    return changed(bare(), cameras=(camera,)), 1020 + at, long


@pytest.mark.parametrize("kind", ["stall", "kick", "back", "slower"])
def test_with_a_key_on_every_frame_a_hitch_is_found_and_bridged(kind):
    for seed in range(80_000, 80_004):
        scene, at, long = keyed_every_frame(kind, seed)
        (hit, *_) = found_in(Bake(scene), scene.cameras[0], BRAM)
        assert hit.first <= at + long + 2 and hit.last >= at - 2
        done = mend(scene, scene.cameras[0], BRAM, hit)
        after = changed(scene, cameras=(done.camera,))
        assert found_in(Bake(after), done.camera, BRAM) == []
        # Beyond the bridge nothing moves.
        was, now = (evaluate(s.cameras[0].channel("pan"), s.frames.array()) for s in (scene, after))
        gone = [key.frame for key in done.moved]
        far = (scene.frames.array() < min(gone) - 1) | (scene.frames.array() > max(gone) + 1)
        np.testing.assert_allclose(now[far], was[far], atol=1e-9)
        assert np.abs(now - was).max() <= 2 * MOST * np.ptp(was)


def test_a_chord_is_noticed_and_an_arm_takes_its_place():
    scene = bare()
    scene, _ = do(
        scene, kind="camera.move", camera="cam-a", what="swing onto", of=ROOT.model_dump(), first=1010
    )
    scene, _ = do(
        scene,
        kind="camera.move",
        camera="cam-a",
        what="arc",
        amount=80,
        of=ROOT.model_dump(),
        first=1010,
        last=1060,
    )
    # Only its two ends as keys: the straight way between two views of a circle.
    camera = scene.cameras[0]
    two = {
        name: changed(
            c, keys=tuple(changed(k, before="eased", after="eased") for k in (c.keys[0], c.keys[-1]))
        )
        for name in ("x", "z", "pan")
        if (c := camera.channel(name)).keys
    }
    scene = changed(scene, cameras=(camera.with_channels(two),))
    (chord,) = found_in(Bake(scene), scene.cameras[0], BRAM)
    # By hand: at half of 80° the chord lies at cos 40° of the distance.
    assert chord.kind == "chord" and chord.severity == pytest.approx(1 - np.cos(np.radians(40)), abs=0.03)
    ask = {
        "kind": "camera.mend",
        "camera": "cam-a",
        "subject": BRAM.model_dump(),
        "first": 1020,
        "last": 1030,
    }
    after, said = do(scene, **ask)
    assert said.startswith("Camera A swings round Bram on an arm from 1010 to 1060")
    was, now = (Bake(s).rows(s.cameras[0], s.frames.array())[:, :6] for s in (scene, after))
    np.testing.assert_allclose(now[[9, 59]], was[[9, 59]], atol=1e-4)
    at = Bake(after).place(ROOT, after.frames.array())
    far = np.hypot(*(now[:, [0, 2]] - at[:, [0, 2]])[9:60].T)
    np.testing.assert_allclose(far, far[0], rtol=2e-3)
    assert found_in(Bake(after), after.cameras[0], BRAM) == []
    with pytest.raises(HeronError, match="no hitch from 1200"):
        do(scene, **{**ask, "first": 1200, "last": 1210})


def zoomed(**more):
    """A rough dolly zoom on Bram: the camera goes back by two keys, the lens goes in by two, one eased, one straight."""
    scene = bare()
    scene, _ = do(
        scene, kind="camera.move", camera="cam-a", what="swing onto", of=ROOT.model_dump(), first=1010
    )
    scene, _ = do(
        scene,
        kind="camera.move",
        camera="cam-a",
        what="close in",
        amount=-4,
        of=ROOT.model_dump(),
        first=1010,
        last=1070,
    )
    far = Bake(scene)
    s = far.samples(scene.cameras[0])
    depth = project(s, far.place(ROOT, scene.frames.array())).depth
    end = 35 * depth[69] / depth[9]
    keys = [{"thing": "cam-a", "channel": "focal", "frame": f, "value": float(v), "before": "straight", "after": "straight"} for f, v in ((1010, 35), (1070, end))]  # fmt: skip
    return do(scene, kind="keys.set", keys=keys, **more)[0]


def test_a_dolly_zoom_whose_lens_and_distance_do_not_ease_together_pumps_and_is_matched():
    scene = zoomed()
    (pump,) = found_in(Bake(scene), scene.cameras[0], BRAM)
    assert pump.kind == "pump" and pump.measure == "size" and "and comes back" in pump.sentence
    ask = {
        "kind": "camera.mend",
        "camera": "cam-a",
        "subject": BRAM.model_dump(),
        "first": pump.first,
        "last": pump.last,
    }
    after, said = do(scene, **ask)
    assert said == "The lens of camera A keeps Bram as large from 1010 to 1070"
    size = strip(Bake(after), after.cameras[0], BRAM).values[9:70, COLUMNS.index("height")]
    # Common practice: the subject's size does not change. Of 1080 lines, a tenth of one.
    np.testing.assert_allclose(size, size[0], atol=0.1 / 1080 * 3)
    assert found_in(Bake(after), after.cameras[0], BRAM) == []
    other, said = do(
        scene,
        kind="camera.match",
        camera="cam-a",
        subject=BRAM.model_dump(),
        first=1010,
        last=1070,
        answers="distance",
    )
    size = strip(Bake(other), other.cameras[0], BRAM).values[9:70, COLUMNS.index("height")]
    np.testing.assert_allclose(size, size[0], rtol=2e-3)
    assert said.startswith("The distance of camera A")
    # What a dolly zoom is for: the background reads as much larger as the camera is farther off.
    background = strip(Bake(after), after.cameras[0], BRAM).values[:, COLUMNS.index("background")]
    away = np.linalg.norm(Bake(after).rows(after.cameras[0], after.frames.array())[:, :3] - Bake(after).place(ROOT, after.frames.array()), axis=1)  # fmt: skip
    np.testing.assert_allclose(background, away / away[0], rtol=1e-9)


def test_the_strip_says_how_the_camera_goes_and_what_no_operator_can():
    scene = bare()
    scene, _ = do(
        scene,
        kind="camera.move",
        camera="cam-a",
        what="truck",
        amount=2.4,
        first=1010,
        last=1058,
        feel="constant",
    )
    found = strip(Bake(scene), scene.cameras[0], BRAM)
    travel, turn = (found.values[:, COLUMNS.index(n)] for n in ("travel", "turn"))
    # 2.4 m in 2 s.
    assert travel[20] == pytest.approx(1.2) and travel[0] == 0 and turn.max() == 0 and beyond(found)[0][2]
    fast, _ = do(
        bare(),
        kind="camera.move",
        camera="cam-a",
        what="pan",
        amount=120,
        first=1010,
        last=1034,
        feel="constant",
    )
    found = strip(Bake(fast), fast.cameras[0], BRAM)
    (first, last, says), *_ = beyond(found)
    assert (first, last) == (
        1011,
        1034,
    ) and says == f"The camera turns faster than an operator can: 120 °/s, over {LIMITS['turn']:g}"


def test_hitches_and_mends_on_the_command_line(tmp_path, capsys):
    scene, _, middle, _ = twice_keyed(70_001)
    path, out = tmp_path / "a.json", tmp_path / "b.json"
    path.write_text(write_scene(scene))
    asked = [str(path), "--camera", scene.cameras[0].name, "--subject", "Bram/head"]
    assert main(["hitches", *asked]) == 0
    (one,) = json.loads(capsys.readouterr().out)
    assert (
        one["kind"] == "stall" and one["first"] <= middle + 6 and one["sentence"].endswith(str(one["last"]))
    )
    assert main(["mend", *asked, "--out", str(out)]) == 0
    (done,) = json.loads(capsys.readouterr().out)
    assert done["mend"] and main(["hitches", str(out), *asked[1:]]) == 0
    assert json.loads(capsys.readouterr().out) == []
    assert main(["hitches", str(path), "--camera", "Nobody", "--subject", "Bram"]) == 2
    # The demo's own moves do not hitch.
    path.write_text(write_scene(slack_tide()))
    for letter in "BD":
        assert main(["hitches", str(path), "--camera", letter, "--subject", "Odile"]) == 0
