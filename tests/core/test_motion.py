"""Bodies that move like bodies: turns by steps, feet on slopes and treads, arms that swing, pointing that hits."""

import json
import math
from itertools import pairwise

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from heron.commands import parse_commands, run_one
from heron.demo import slack_tide
from heron.errors import Refused
from heron.model import changed
from heron.scene import empty_scene
from heron.stage.acts.body import Turn, Walk
from heron.stage.acts.hands import PointAt
from heron.stage.body import INDEX, JOINTS, perform
from heron.stage.body.pace import brisk_speed
from heron.stage.figure import Figure
from heron.stage.floors import walkable_height
from heron.stage.piece import Piece
from heron.stage.reference import AtPoint
from heron.timebase import Frames

FPS = 24


def acts(*made, pieces=(), last=1300, at=None, **more):
    """A person of 1.7 m doing things, baked."""
    figure = Figure(id="p", name="P", stature=1.7, acts=made, **more)
    frames = Frames(first=1001, last=last)

    def where(spot):
        return np.tile([spot.x, spot.y, spot.z], (frames.count, 1)) if at is None else at

    return perform(figure, lambda p: walkable_height(tuple(pieces), p), frames, FPS, where)


def walk(*points, first=1010, speed=1.3, start=(0.0, 0.0)):
    """A walk at about a speed, with time to turn round first."""
    line = np.array([start, *points])
    seconds = np.hypot(*np.diff(line, axis=0).T).sum() / speed + 3.5
    return Walk(frames=Frames(first=first, last=first + math.ceil(seconds * FPS)), points=tuple(points))


STAIRS = tuple(
    Piece(
        id=f"s{i}",
        name="S",
        kind="platform",
        x=0,
        z=-2.0 - 0.3 * i - 3,
        width=2,
        depth=6,
        height=0.17 * (i + 1),
    )
    for i in range(6)
)
RAMP = (Piece(id="r", name="R", kind="ramp", x=0, z=-3.5, width=3, depth=4, height=1.0),)
CIRCLE = [(2.5 * math.cos(a) - 2.5, -2.5 * math.sin(a)) for a in np.linspace(0, 2 * math.pi, 13)[1:]]
ROUTES = {
    "straight": (walk((0.0, -6.0)), ()),
    "round a whole circle": (walk(*CIRCLE), ()),
    "away from where it faces": (walk((0.0, 5.0)), ()),
    "a right angle": (walk((0.0, -3.0), (3.0, -3.0)), ()),
    "there and back": (walk((0.0, -3.0), (0.1, 0.5)), ()),
    "zigzag": (walk((0.8, -1.0), (-0.8, -2.0), (0.8, -3.0), (-0.8, -4.0)), ()),
    "up stairs": (walk((0.0, -4.6), speed=0.6), STAIRS),
    "up a ramp": (walk((0.0, -5.2), speed=1.0), RAMP),
    "down a ramp": (walk((0.0, 1.5), speed=1.0, start=(0.0, -5.2)), RAMP),
    "across a ramp": (walk((1.3, -3.4), speed=1.0, start=(-1.3, -3.4)), RAMP),
    "about turn": (Turn(frames=Frames(first=1010, last=1052), heading=-179.0), ()),
    "past south": (Turn(frames=Frames(first=1010, last=1050), heading=170.0), ()),
}
FROM = {
    "down a ramp": {"z": -5.2, "heading": 180.0},
    "across a ramp": {"x": -1.3, "z": -3.4, "heading": -90.0},
}


@pytest.fixture(params=ROUTES)
def done(request):
    act, pieces = ROUTES[request.param]
    made = acts(act, pieces=pieces, last=act.frames.last + 20, **FROM.get(request.param, {}))
    return request.param, made, pieces


def test_no_joint_turns_more_than_a_body_can(done):
    """30° a frame at 24 a second at walking speeds; the whole body at most 90° a step (common practice)."""
    _, made, _ = done
    for i, joint in enumerate(JOINTS):
        turns = Rotation.from_quat(made.turns[:, i])
        step = np.degrees((turns[:-1].inv() * turns[1:]).magnitude())
        assert step.max() < 30, (joint.name, int(step.argmax()) + 1001)
    heading = np.degrees(np.unwrap(2 * np.arctan2(made.poses[:, 0, 1], made.poses[:, 0, 3])))
    # Nobody steps quicker than in a third of a second, so that is how long a quarter turn takes at least.
    third = FPS // 3
    assert np.abs(heading[third:] - heading[:-third]).max() < 95


def test_feet_point_where_the_body_goes_and_knees_bend_forwards(done):
    _, made, _ = done
    heading = np.degrees(np.unwrap(2 * np.arctan2(made.poses[:, 0, 1], made.poses[:, 0, 3])))
    for side in "rl":
        off = made.feet[side].yaw - heading
        assert np.abs(off).max() < 62, side
        assert np.abs(np.diff(made.feet[side].yaw)).max() < 25
        knee = Rotation.from_quat(made.turns[:, INDEX[f"knee_{side}"]]).as_euler("XYZ", degrees=True)
        # A shank folds backwards under its thigh: a negative turn about the knee's own axis.
        assert knee[:, 0].max() < 1.0 and knee[:, 0].min() > -150
        assert np.abs(knee[:, 1:]).max() < 25
        thigh = Rotation.from_quat(made.poses[:, INDEX[f"hip_{side}"]]).apply([0, -1, 0])
        assert thigh[:, 1].max() < 0.2  # It never points up.


def test_a_planted_foot_meets_the_ground_along_it_to_a_centimetre(done):
    name, made, pieces = done
    if not pieces and name != "straight":
        pytest.skip("level")
    tall = 1.7
    for side in "rl":
        foot = made.feet[side]
        flat = foot.planted & (np.abs(foot.pitch) < 0.5)
        sole = Rotation.from_quat(foot.turn[flat])
        for back, aside in ((0.03, 0.0), (-0.1, 0.02), (-0.1, -0.02), (0.0, 0.0)):
            point = foot.ankle[flat] + sole.apply([aside * tall, -0.039 * tall, back * tall])
            ground = walkable_height(tuple(pieces), point[:, [0, 2]])
            deep = ground - point[:, 1]
            assert deep.max() < 0.01, (side, back, float(deep.max()))
            if "stairs" not in name:
                # On a slope or a floor all of the sole is on it; on a tread the heel may stand over the edge.
                assert deep.min() > -0.012, (side, back, float(deep.min()))


def test_a_foot_in_the_air_passes_over_what_lies_there(done):
    _, made, pieces = done
    for side in "rl":
        foot = made.feet[side]
        ball = made.places[:, INDEX[f"ball_{side}"]]
        under = walkable_height(tuple(pieces), ball[:, [0, 2]])
        assert (ball[:, 1] - under).min() > -0.02, (side, int((ball[:, 1] - under).argmin()) + 1001)
        assert np.abs(np.diff(foot.ankle, axis=0)).max() * FPS < 6.5


def test_arms_swing_as_measured_in_walkers():
    """Murray, Sepic and Barnard (1967), from memory: at a free speed the upper arm goes through about 32°, more
    of it behind than ahead, and the elbow from about 20° to 45°."""
    act = Walk(frames=Frames(first=1001, last=1001 + 240), points=((0.0, -14.0),))
    made = acts(act, last=1250)
    steady = slice(60, 180)
    arm = Rotation.from_quat(made.turns[:, INDEX["shoulder_r"]]).apply([0, -1, 0])
    forward = np.degrees(np.arctan2(-arm[steady, 2], -arm[steady, 1]))
    assert np.ptp(forward) == pytest.approx(32, abs=6)
    assert forward.max() == pytest.approx(8, abs=4) and forward.min() == pytest.approx(-24, abs=5)
    elbow = Rotation.from_quat(made.turns[:, INDEX["elbow_r"]]).as_euler("XYZ", degrees=True)[steady, 0]
    assert elbow.min() == pytest.approx(20, abs=4) and elbow.max() == pytest.approx(45, abs=4)
    # Against the leg of the same side.
    leg = made.feet["r"].ankle[steady, 2]
    assert np.corrcoef(forward, -(leg - made.root[steady, 2]))[0, 1] < -0.85


WALKS = [(0.85, 1.7), (1.25, 1.7), (1.7, 1.7), (1.2, 1.2), (1.2, 2.0)]


@pytest.fixture(params=WALKS, ids=str)
def walker(request):
    """Somebody of a stature who walks straight on at a speed, 96 frames a second; and the frames of steady strides."""
    speed, tall = request.param
    fps, seconds = 96, 8
    path = Walk(frames=Frames(first=1, last=1 + seconds * fps), points=((0.0, -speed * (seconds - 0.9)),))
    figure = Figure(id="p", name="P", stature=tall, acts=(path,))
    made = perform(figure, lambda p: np.zeros(len(p)), Frames(first=1, last=800), fps, lambda spot: None)
    down = made.feet["r"].planted
    land, leave = (np.flatnonzero(np.diff(down.astype(int)) == way) + 1 for way in (1, -1))
    land = land[(land > 2.2 * fps) & (land < 6.2 * fps)]
    return speed, tall, fps, made, land, np.array([leave[leave > at][0] for at in land[:-1]])


def strides(land):
    return list(pairwise(land))


def test_a_foot_is_down_as_long_and_lifted_as_high_as_measured(walker):
    """Murray (1967) and Winter (1992), from memory: a foot is down for 0.65 of a stride at 0.85 m/s and 0.60 at 1.7; the
    toes clear the floor by 1 to 3 cm in the middle of a swing. Sekiya and Nagasaki (1998), from memory: a step is 0.0065 m
    for each step a minute, scaled here by stature^1.5, within 15 %."""
    speed, tall, fps, made, land, leave = walker
    share = np.mean((leave - land[:-1]) / np.diff(land))
    expected = 0.65 - 0.05 * (speed * math.sqrt(1.7 / tall) - 0.85) / 0.85
    assert share == pytest.approx(np.clip(expected, 0.58, 0.70), abs=0.015)
    turn = Rotation.from_quat(made.poses[:, INDEX["ball_r"]])
    toes = made.places[:, INDEX["ball_r"]] + turn.apply([0.0, -0.010 * tall, (0.088 - 0.75 * 0.152) * tall])
    for (_, end), off in zip(strides(land), leave, strict=True):
        middle = slice(off + (end - off) // 3, off + 2 * (end - off) // 3)
        assert 0.01 < toes[middle, 1].min() < 0.03
    step = np.ptp(made.root[[land[0], land[-1]], 2]) / (2 * (len(land) - 1))
    a_minute = 120 * fps / np.mean(np.diff(land))
    assert step / a_minute == pytest.approx(0.0065 * (tall / 1.7) ** 1.5, rel=0.15)


def test_the_heel_comes_first_the_foot_rolls_over_and_the_toes_leave_last(walker):
    """Perry (1992), from memory: the sole is 15 to 25° toes up at heel strike, flat within an eighth of the stride, and more
    than 45° heel up at toe-off; the knee within 20° of straight in the middle of a stance, at most 60 to 70° bent in a
    swing, and nearly 40° at toe-off."""
    _, _, _, made, land, leave = walker
    foot = made.feet["r"]
    knee = -Rotation.from_quat(made.turns[:, INDEX["knee_r"]]).as_euler("XYZ", degrees=True)[:, 0]
    for (begin, end), off in zip(strides(land), leave, strict=True):
        assert 15 < foot.pitch[begin] < 25 and foot.pitch[off - 1] < -45
        assert (np.abs(foot.pitch[begin + (end - begin) // 8 : begin + (end - begin) // 3]) < 1).all()
        over = begin + np.argmin(np.abs(foot.ankle[begin:off, 2] - made.root[begin:off, 2]))
        assert knee[over] < 20 and 45 < knee[off:end].max() < 70 and 20 < knee[off] < 45
    assert knee.min() > 0


def test_head_and_hips_move_as_a_walkers_do(walker):
    """Saunders, Inman and Eberhart (1953) and Murray (1967), from memory: the body's middle rises by 3 to 6 cm at 1.7 m,
    the more the faster; it goes 1.5 to 2.5 cm to either side, over the leg that bears it; the pelvis goes about 4° ahead with
    either leg and drops about 4° on the other side; shoulders go against it."""
    speed, tall, _, made, land, _ = walker
    steady = slice(land[0], land[-1])
    rise = np.ptp(made.places[steady, INDEX["head"], 1]) * 1.7 / tall
    assert 0.025 < rise < 0.065 and (speed < 1.6 or rise > 0.045)
    aside = made.pelvis[steady, 0] * 1.7 / tall
    assert 0.03 < np.ptp(aside) < 0.05
    right, left = (made.feet[side].planted[steady] for side in "rl")
    assert aside[right & ~left].mean() > 0 > aside[left & ~right].mean()
    pelvis, chest = (
        Rotation.from_quat(made.poses[steady, INDEX[n]]).as_euler("YXZ", degrees=True)
        for n in ("pelvis", "chest")
    )
    assert np.ptp(pelvis[:, 0]) == pytest.approx(8, abs=2.5) and np.ptp(pelvis[:, 2]) == pytest.approx(
        8, abs=2
    )
    ahead = made.feet["r"].ankle[steady, 2] - made.feet["l"].ankle[steady, 2]
    # Facing −Z, the right side goes ahead as the pelvis turns to the left.
    assert np.corrcoef(pelvis[:, 0], -ahead)[0, 1] > 0.9 and np.corrcoef(chest[:, 0], -ahead)[0, 1] < -0.9


@pytest.mark.parametrize("last", [1001, 1002])
def test_a_scene_of_a_frame_or_two_has_its_figures(last):
    made = acts(Walk(frames=Frames(first=1001, last=1020), points=((0.0, -1.0),)), last=last)
    assert len(made.places) == last - 1000 and np.isfinite(made.places).all()


def angle(a, b):
    cos = np.sum(a * b, -1) / np.linalg.norm(a, axis=-1) / np.linalg.norm(b, axis=-1)
    return np.degrees(np.arccos(np.clip(cos, -1, 1)))


@pytest.mark.parametrize("bearing", [0, 40, -70, 120, -150, 180])
def test_who_points_hits_within_three_degrees_wherever_it_is(bearing):
    target = np.array([6 * -math.sin(math.radians(bearing)), 2.2, 6 * -math.cos(math.radians(bearing))])
    act = PointAt(frames=Frames(first=1010, last=1120), at=AtPoint(x=target[0], y=target[1], z=target[2]))
    made = acts(act, last=1140)
    side = "r"
    shoulder, tip = made.places[:, INDEX[f"shoulder_{side}"]], made.landmark(f"fingertips_{side}")
    held = slice(1095 - 1001, 1104 - 1001)
    assert angle(tip - shoulder, target - shoulder)[held].max() < 3
    for i, joint in enumerate(JOINTS):
        step = Rotation.from_quat(made.turns[:, i])
        assert np.degrees((step[:-1].inv() * step[1:]).magnitude()).max() < 30, joint.name
    # Eyes and head first, then the shoulder, then the feet.
    head = Rotation.from_quat(made.poses[:, INDEX["head"]]).apply([0, 0, -1])
    looks = angle(head[:, [0, 2]], (target - made.places[:, INDEX["head"]])[:, [0, 2]])
    if abs(bearing) > 100:
        feet = np.flatnonzero(~(made.feet["r"].planted & made.feet["l"].planted))[0]
        assert looks[feet] < looks[0] - 10 and feet + 1001 > 1010 + 4
        # At a person's pace: about a right angle in two thirds of a second.
        heading = np.degrees(np.unwrap(2 * np.arctan2(made.poses[:, 0, 1], made.poses[:, 0, 3])))
        assert np.abs(np.diff(heading)).max() < 16
    assert looks[held].max() < 25


def test_feet_follow_a_thing_that_goes_round():
    n = 300
    turn = np.linspace(0, 1.5 * math.pi, n)
    path = np.stack([-5 * np.sin(turn), np.full(n, 1.6), -5 * np.cos(turn)], -1)
    act = PointAt(frames=Frames(first=1001, last=1300), at=AtPoint(x=0, y=0, z=0))
    made = acts(act, at=path)
    shoulder, tip = made.places[:, INDEX["shoulder_r"]], made.landmark("fingertips_r")
    assert angle(tip - shoulder, path - shoulder)[40:270].max() < 3


def test_nobody_is_asked_to_walk_or_turn_faster_than_a_person_does():
    scene = slack_tide()
    bram = changed(scene.figures[1], acts=())
    scene = changed(scene, figures=(scene.figures[0], bram))
    command = {
        "kind": "figure.act", "figure": "fig-bram",
        "act": {"kind": "walk", "frames": {"first": 1010, "last": 1040}, "points": [[0.15, -30.0]]},
    }  # fmt: skip
    with pytest.raises(
        Refused, match=r"Bram cannot walk 20.3 m from 1010 to 1040: at a brisk walk .* until (\d+)"
    ):
        run_one(scene, parse_commands(json.dumps(command))[0])
    # Alexander (1989), from memory: walking gives way to running at a Froude number of a half.
    froude = brisk_speed(1.86) ** 2 / (9.81 * 0.53 * 1.86)
    assert 0.3 < froude < 0.5
    command["act"]["frames"]["last"] = 1010 + math.ceil((20.3 / brisk_speed(1.86) + 0.45) * 24) + 1
    run_one(scene, parse_commands(json.dumps(command))[0])
    turn = {"kind": "turn", "frames": {"first": 1010, "last": 1015}, "heading": 150}
    with pytest.raises(Refused, match=r"cannot turn .* hurried steps"):
        run_one(scene, parse_commands(json.dumps({**command, "act": turn}))[0])


def test_a_walk_without_an_end_takes_as_long_as_a_person_takes_or_until_the_scene_ends():
    scene = changed(empty_scene("S"), frames=Frames(first=1001, last=1320))
    scene, _ = run_one(scene, parse_commands('{"kind": "figure.add", "id": "f", "x": 0, "z": 0}')[0])

    def walked(z, first):
        command = {"kind": "figure.walk", "figure": "f", "points": [[0, z]], "first": first}
        return run_one(scene, parse_commands(json.dumps(command))[0])[0].figures[0].acts[0].frames

    assert walked(-5, 1001).count == pytest.approx((5 / 1.25 + 0.9) * 24, abs=2)
    # Behind it, it turns round first.
    assert walked(5, 1001).count > walked(-5, 1001).count + 30
    assert walked(-6, 1220).last == 1320
    with pytest.raises(Refused, match="brisk"):
        walked(-12, 1300)


def test_a_walk_of_kilometres_and_the_maddest_one_are_baked_by_their_steps():
    far = acts(Walk(frames=Frames(first=1001, last=20_001), points=((0.0, -1000.0),)), last=20_050)
    assert far.facts[0]["steps"] == pytest.approx(1000 / far.facts[0]["step_m"], abs=1)
    assert far.root[-1, 2] == pytest.approx(-1000)
    mad = tuple((9000.0 * (-1) ** i, -9000.0 + i) for i in range(200))
    made = acts(Walk(frames=Frames(first=1001, last=1100), points=mad), last=1120)
    # However far it is asked to go, no more steps are taken than there is time for.
    assert made.facts[0]["steps"] < 600 and np.isfinite(made.places).all()
