"""A hand on a camera that watches: it moves, and what it watches stays where it belongs in the frame.

Projections by OpenCV (`pixels`). That a watching camera goes on watching is common practice.
"""

import json

import numpy as np
import pytest
from test_rigs import HIGH, WIDE, pixels

from heron.bake import Bake
from heron.bake.cameras import rig_context
from heron.cli.rigs import layer_from
from heron.commands import parse_commands, run
from heron.errors import HeronError, Refused
from heron.rigs.stack import run as run_rig
from heron.scene import Scene, find_named

FIRST, LAST = 1001, 1048
AT = 1024


def done(scene, *commands):
    return run(scene, parse_commands(json.dumps(list(commands))))


def stage() -> Scene:
    """Two people, one of whom walks, and a camera before them."""
    blank = Scene(name="Two", frames={"first": FIRST, "last": LAST})
    return done(
        blank,
        {"kind": "figure.add", "id": "a", "name": "Ann", "x": 0, "z": 0, "heading": -141},
        {"kind": "figure.walk", "figure": "a", "first": FIRST, "points": [[1.2, 1.5]]},
        {"kind": "figure.add", "id": "b", "name": "Ben", "x": 1.5, "z": -1.0, "stature": 1.85},
        {"kind": "camera.add", "id": "cam", "pose": {"x": -1, "y": 1.6, "z": 6, "pan": -10}, "focal": 35},
    )[0]


STAGE = stage()


def ridden(scene, *layers):
    commands = [
        {"kind": "rig.add", "camera": "cam", "layer": layer_from(scene, one), "at": AT} for one in layers
    ]
    return done(scene, *commands)[0]


def baked(scene):
    """Scene's bake, its camera, and that camera's samples."""
    bake, camera = Bake(scene), find_named(scene, "cameras", "A")
    return bake, camera, bake.samples(camera)


def off_placement(scene, frame=AT):
    """How many pixels what is watched is off its placement, of a frame 1,920 wide; none where none is promised."""
    bake, camera, found = baked(scene)
    run_ = run_rig(camera, rig_context(bake, camera), watched=True)
    i = frame - FIRST
    # A calm zone promises no place.
    watched = run_.watched[-1] if run_.watched else None
    if watched is None or not watched.exact[i]:
        return None
    there = pixels(found.values[i], found.columns, watched.point[i])
    wanted = [(1 + watched.x[i]) / 2 * WIDE, (1 - watched.y[i]) / 2 * HIGH]
    return float(np.hypot(*(there - wanted)))


def pose_at(scene, frame=AT):
    *_, found = baked(scene)
    at = found.at(frame)
    return (
        {name: at[name] for name in ("x", "y", "z", "pan", "tilt", "roll")},
        np.array([at[f"subject_{axis}"] for axis in "xyz"]),
        at["watches"],
    )


def gesture(rng, pose, subject):
    """What a hand sends: a slide, a boom, round the subject, nearer to it, a roll, a look, or a look and a slide."""
    place = np.array([pose[n] for n in "xyz"])
    arm = place - subject
    kind = rng.choice(["slide", "round", "nearer", "roll", "look", "both"])
    if kind == "slide":
        moved = place + rng.uniform(-1.0, 1.0, 3)
    elif kind == "round":
        turn, (x, z) = np.radians(rng.uniform(-60, 60)), arm[[0, 2]]
        moved = subject + np.array(
            [x * np.cos(turn) + z * np.sin(turn), arm[1], z * np.cos(turn) - x * np.sin(turn)]
        )
    else:
        moved = subject + arm * rng.uniform(0.6, 1.6)
    to = dict(zip("xyz", moved.tolist(), strict=True))
    look = {"pan": pose["pan"] + rng.uniform(-8, 8), "tilt": pose["tilt"] + rng.uniform(-6, 6)}
    if kind == "roll":
        return kind, {"roll": pose["roll"] + rng.uniform(-20, 20)}
    if kind == "look":
        return kind, look
    return kind, {**look, "after": to} if kind == "both" else to


PLACES = [
    {"kind": "carrier", "on": "Ann", "how": "place"}, {"kind": "carrier", "on": "Ben", "how": "all"},
    {"kind": "trail", "of": "Ann", "lag_s": 0.4}, {"kind": "arm", "round": ["Ann"]},
    {"kind": "rail", "points": [[-1, 1.6, 6], [2, 1.6, 7], [4, 2, 5]]},
]  # fmt: skip


def stack(rng):
    """Random layers, one of them an aim; some placed exactly, some late, calm or with a share of the weight."""
    layers = [PLACES[i] for i in rng.choice(len(PLACES), rng.integers(0, 3), replace=False)]
    if rng.random() < 0.2:
        layers.append({"kind": "level"})
    aim = {"kind": "aim", "at": [["Ann/head"], ["Ben/eyes"], ["Ann/head", "Ben/head"]][rng.integers(3)]}
    aim |= {"x": float(rng.uniform(-0.5, 0.5)), "y": float(rng.uniform(-0.5, 0.5))}
    special = rng.integers(8)
    aim |= {
        0: {"lag_s": 0.3},
        1: {"how": "calm"},
        2: {"weight": 0.6},
        3: {"first": AT - 4, "blend_in": 8},
    }.get(int(special), {})
    layers.append(aim)
    if rng.random() < 0.15:
        layers.append({"kind": "size", "of": "Ann/chin"})
    return layers


def test_the_subject_stays_on_its_placement_under_any_stack_and_gesture():
    """150 random stacks and gestures: within 1 px of 1,920, or refused with a remedy and nothing done."""
    rng = np.random.default_rng(20)
    exact = refused = 0
    for _ in range(150):
        try:
            scene = ridden(STAGE, *stack(rng))
        except HeronError as error:
            assert error.remedy
            continue
        pose, subject, _ = pose_at(scene)
        kind, to = gesture(rng, pose, subject)
        keep = rng.choice(["rest", "path"])
        try:
            after, (said,) = done(
                scene, {"kind": "thing.put", "thing": "cam", "frame": AT, "keep": keep, **to}
            )
        except Refused as error:
            assert error.remedy
            refused += 1
            continue
        off = off_placement(after)
        if off is None:
            continue
        exact += 1
        assert off < 1.0, (kind, off)
        now, _, _ = pose_at(after)
        for name, value in {**to, **to.get("after", {})}.items():
            if name != "after" and not (kind == "both" and name in ("pan", "tilt")):
                assert now[name] == pytest.approx(value, abs=1e-5), kind
        if kind == "look":
            assert "in the frame of camera A" in said
    # Most of what is tried must count, or the test says nothing.
    assert exact > 60 and refused < 18, (exact, refused)


def test_going_round_keeps_the_size_and_a_look_after_it_moves_only_the_placement():
    scene = ridden(STAGE, {"kind": "aim", "at": ["Ann/head"], "x": -0.3, "y": 0.3})
    pose, subject, watches = pose_at(scene)
    assert watches == 1.0
    place = np.array([pose[n] for n in "xyz"])
    turned = subject + (place - subject) @ np.array([[0, 0, -1], [0, 1, 0], [1, 0, 0]])
    put = {"kind": "thing.put", "thing": "cam", "frame": AT, "keep": "rest"}
    after, _ = done(scene, {**put, **dict(zip("xyz", turned.tolist(), strict=True))})
    now, _, _ = pose_at(after)
    assert np.linalg.norm([now[n] for n in "xyz"] - subject) == pytest.approx(np.linalg.norm(place - subject))
    assert abs((now["pan"] - pose["pan"] + 180) % 360 - 180) == pytest.approx(90, abs=1e-6)
    layer = find_named(after, "cameras", "A").layers[0]
    assert (layer.x.rest, layer.y.rest, layer.pan_deg.rest) == (-0.3, 0.3, 0.0)
    looked, (said,) = done(after, {**put, "pan": now["pan"] + 3, "tilt": now["tilt"]})
    layer = find_named(looked, "cameras", "A").layers[0]
    assert layer.x.rest > -0.3 and layer.pan_deg.rest == 0 and "Ann's head" in said and "across" in said
    with pytest.raises(Refused, match="leave what the camera watches behind"):
        done(after, {**put, "pan": now["pan"] + 150})
