"""Rig layers, each against something that is not ours."""

import json

import cv2
import numpy as np
import pytest
from hypothesis import HealthCheck, example, given, settings
from hypothesis import strategies as st
from scipy import integrate, signal
from scipy.spatial.transform import Rotation

from heron.bake import Bake, ResultCache
from heron.cli.rigs import layer_from
from heron.commands import parse_commands, run
from heron.demo import slack_tide
from heron.errors import HeronError, Refused
from heron.framing import project
from heron.model import changed
from heron.rigs.breath import breath
from heron.rigs.describe import FOLLOWERS
from heron.rigs.lag import lagged
from heron.rigs.rail import curve
from heron.scene import Scene, find_named
from heron.stage.reference import OnFigure
from heron.timebase import Frames

DEMO = slack_tide()
FIRST, LAST = DEMO.frames.first, DEMO.frames.last
WIDE, HIGH = 1920, 1080
#: Figures do the same all along: only what is tried on a camera is computed again.
KEPT = ResultCache()


def ridden(*layers, camera="B", scene=DEMO):
    """The scene with layers put on a camera, written as for the command line."""
    one = find_named(scene, "cameras", camera)
    commands = [{"kind": "rig.add", "camera": one.id, "layer": layer_from(scene, layer)} for layer in layers]
    return run(scene, parse_commands(json.dumps(commands)))[0]


def pose(scene, camera="B"):
    """(n, 6) as baked."""
    return samples(scene, camera).values[:, :6]


def samples(scene, camera="B"):
    return Bake(scene, KEPT).samples(find_named(scene, "cameras", camera))


def place(scene, joint="root", figure="Odile"):
    return Bake(scene, KEPT).place(
        OnFigure(figure=find_named(scene, "figures", figure).id, joint=joint), scene.frames.array()
    )


def heading(scene, figure="Odile"):
    return Bake(scene, KEPT).rows(find_named(scene, "figures", figure), scene.frames.array())[:, 3]


def pixels(row, columns, point):
    """Where OpenCV sees a place from a baked pose: x right, y down, in pixels."""
    x, y, z, pan, tilt, roll = row[:6]
    turn = Rotation.from_euler("YXZ", [pan, tilt, roll], degrees=True).inv().as_matrix()
    flip = np.diag([1.0, -1.0, -1.0])  # OpenCV looks along +Z with Y down
    turn = flip @ turn
    across = np.radians(row[columns.index("horizontal_deg")])
    up = np.radians(row[columns.index("vertical_deg")])
    matrix = np.array(
        [[WIDE / 2 / np.tan(across / 2), 0, WIDE / 2], [0, HIGH / 2 / np.tan(up / 2), HIGH / 2], [0, 0, 1]]
    )
    found, _ = cv2.projectPoints(
        point[None], cv2.Rodrigues(turn)[0], -turn @ np.array([x, y, z]), matrix, None
    )
    return found[0, 0]


@pytest.mark.parametrize("seconds", [0.02, 0.4, 3.0])
@pytest.mark.parametrize("begins", ["steady", "rest"])
@pytest.mark.parametrize("keyed", [False, True])
def test_a_lag_is_the_differential_equations(seconds, begins, keyed):
    """x″ + (2/τ)x′ + x/τ² = u/τ², τ = L/2, solved by scipy; a keyed lag by the same steps one at a time."""
    rng, h = np.random.default_rng(4), 1 / 24
    u = np.cumsum(rng.normal(size=50)) * 0.1 + np.arange(50) * 0.05
    late = np.full(50, seconds) if not keyed else np.where(np.arange(50) < 25, seconds, 2 * seconds)
    speed = (u[1] - u[0]) / h if begins == "steady" else 0.0
    state, out = [u[0] - seconds * speed, speed], [u[0] - seconds * speed]
    for i in range(1, 50):
        tau = late[i] / 2
        slope = (u[i] - u[i - 1]) / h
        solved = integrate.solve_ivp(
            lambda t, y, i=i, s=slope, tau=tau: [y[1], (u[i - 1] + s * t - y[0]) / tau**2 - 2 * y[1] / tau],
            (0, h), state, rtol=1e-11, atol=1e-13,
        )  # fmt: skip
        state = solved.y[:, -1]
        out.append(state[0])
    np.testing.assert_allclose(lagged(u, late if keyed else seconds, h, begins), out, atol=1e-8)
    # A steady speed is followed L·v behind.
    even = np.arange(400) * 0.05
    assert lagged(even, seconds, h)[-1] == pytest.approx(even[-1] - seconds * 0.05 / h, abs=1e-9)


@pytest.mark.parametrize("x,y,roll", [(0.333, 0.333, 0.0), (-0.5, 0.2, 12.0), (1.4, -0.8, -30.0)])
def test_an_aim_puts_it_there_by_opencvs_projection(x, y, roll):
    scene = run(
        DEMO,
        parse_commands(
            json.dumps({"kind": "thing.put", "thing": "cam-a", "frame": FIRST, "keep": "rest", "roll": roll})
        ),
    )[0]
    scene = ridden({"kind": "aim", "at": ["Odile/head"], "x": x, "y": y}, camera="A", scene=scene)
    found, head = samples(scene, "A"), place(scene, "head")
    for i in range(0, len(head), 40):
        at = pixels(found.values[i], found.columns, head[i])
        np.testing.assert_allclose(at, [(x + 1) / 2 * WIDE, (1 - y) / 2 * HIGH], atol=1e-3)


def test_a_late_aim_starts_afresh_after_a_jump_of_held_keys():
    """What the camera did before it leaves no trace after it."""
    after = []
    for x in (-8.0, 5.0):
        keys = [
            {"thing": "cam-a", "channel": "x", "frame": 1001, "value": x, "after": "held"},
            {"thing": "cam-a", "channel": "x", "frame": 1150, "value": 0.0},
        ]
        aim = layer_from(DEMO, {"kind": "aim", "at": ["Odile/head"], "x": 0, "y": 0, "lag_s": 0.5})
        commands = [{"kind": "keys.set", "keys": keys}, {"kind": "rig.add", "camera": "cam-a", "layer": aim}]
        scene = run(DEMO, parse_commands(json.dumps(commands)))[0]
        after.append(pose(scene, "A")[:, 3])
    assert abs(after[0][148] - after[1][148]) > 10
    np.testing.assert_allclose(after[0][149:], after[1][149:], atol=1e-9)


def test_several_are_held_by_the_middle_of_their_box():
    scene = ridden(
        {
            "kind": "aim",
            "at": ["Odile/crown", "Odile/sole_r", "Bram/head"],
            "together": "box",
            "x": 0,
            "y": 0,
        },
        camera="A",
    )
    found = samples(scene, "A")
    spots = [place(scene, "crown"), place(scene, "sole_r"), place(scene, "head", "Bram")]
    for i in range(0, LAST - FIRST, 60):
        at = np.array([pixels(found.values[i], found.columns, spot[i]) for spot in spots])
        half = np.tan(
            np.radians(found.values[i, [found.columns.index(n) for n in ("horizontal_deg", "vertical_deg")]])
            / 2
        )
        angles = np.arctan((at / [WIDE / 2, HIGH / 2] - 1) * half)
        np.testing.assert_allclose(angles.min(axis=0) + angles.max(axis=0), 0, atol=2e-4)


def test_a_calm_zone_is_left_alone_and_never_left():
    scene = ridden({"kind": "aim", "at": ["Odile/head"], "how": "calm", "wide": 0.4, "high": 0.3}, camera="A")
    found, head = samples(scene, "A"), place(scene, "head")
    layer = find_named(scene, "cameras", "A").layers[0]
    seen = project(found, head)
    assert (np.abs(seen.x - layer.x.rest) <= 0.2 + 1e-6).all() and (
        np.abs(seen.y - layer.y.rest) <= 0.15 + 1e-6
    ).all()
    pan = found.values[:, 3]
    assert pan[0] == pytest.approx(pose(DEMO, "A")[0, 3], abs=1e-9)
    # It rests while she is inside, and moves only with her at an edge.
    moving = np.abs(np.diff(pan)) > 1e-9
    assert 0 < moving.sum() < len(pan) - 1
    inside = np.abs(seen.x[1:] - layer.x.rest) < 0.19
    assert not (moving & inside).any()


def test_the_calm_zone_of_a_rolled_camera_leans_with_it():
    scene = run(DEMO, parse_commands(json.dumps({
        "kind": "thing.put", "thing": "cam-a", "frame": 1001, "keep": "rest", "roll": 25.0,
    })))[0]  # fmt: skip
    scene = ridden(
        {"kind": "aim", "at": ["Odile/head"], "how": "calm", "wide": 0.4, "high": 0.3},
        camera="A",
        scene=scene,
    )
    layer, found = find_named(scene, "cameras", "A").layers[0], samples(scene, "A")
    # By OpenCV, in the frame as it is rolled.
    at = np.array(
        [pixels(row, found.columns, p) for row, p in zip(found.values, place(scene, "head"), strict=True)]
    )
    x, y = at[:, 0] / (WIDE / 2) - 1 - layer.x.rest, 1 - at[:, 1] / (HIGH / 2) - layer.y.rest
    assert np.abs(x).max() <= 0.2 + 1e-6 and np.abs(y).max() <= 0.15 + 1e-6
    still = (np.abs(x) < 0.19) & (np.abs(y) < 0.14)
    moving = np.abs(np.diff(found.values[:, 3:5], axis=0)).max(axis=1) > 1e-9
    assert moving.any() and not (moving & still[1:]).any()
    np.testing.assert_allclose(found.values[:, 5], 25.0)


def test_a_pace_that_is_keyed_adds_up():
    keyed = ridden(
        {
            "kind": "breath",
            "seed": 3,
            "place_mm": 10,
            "turn_deg": 0,
            "hertz": [[1001, 0.5, "straight"], [1320, 2.5, "straight"]],
        },
        camera="A",
    )
    t = DEMO.frames.array()
    pace = np.interp(t, [1001, 1320], [0.5, 2.5])
    cycles = integrate.cumulative_trapezoid(pace, t, initial=0) / 24
    own = Rotation.from_euler("YXZ", pose(DEMO, "A")[:, 3:], degrees=True)
    moved = own.inv().apply(pose(keyed, "A")[:, :3] - pose(DEMO, "A")[:, :3])
    np.testing.assert_allclose(moved, 0.01 * breath(3, cycles)[:3].T, atol=1e-9)
    # One number, as it was written before it could be keyed, is that pace throughout.
    layer = find_named(ridden({"kind": "breath"}, camera="A"), "cameras", "A").layers[0]
    assert type(layer).model_validate({**layer.plain, "hertz": 1.2}).hertz.rest == 1.2
    with pytest.raises(HeronError, match="Pace"):
        ridden({"kind": "breath", "hertz": 0.0}, camera="A")


def test_operators_go_from_close_and_steady_to_far_and_loose():
    """Common practice: close and steady is a professional, far behind and loose is home footage."""
    numbers = np.array(list(FOLLOWERS.values()))
    assert next(iter(FOLLOWERS)) == "close and steady" and list(FOLLOWERS)[-1] == "far and loose"
    assert (np.diff(numbers, axis=0) > 0).all() and (numbers[:, 1:] < 2).all()


def test_a_trail_is_its_formula_on_the_lagged_subject():
    scene = ridden(
        {
            "kind": "trail",
            "of": "Odile",
            "angle_deg": 120,
            "distance_m": 3,
            "height_m": 1.6,
            "lag_s": 0.5,
            "lag_height_s": 0.2,
        }
    )
    found, root, facing = pose(scene), place(scene), heading(scene)
    late = [lagged(root[:, k], s, 1 / 24) for k, s in ((0, 0.5), (1, 0.2), (2, 0.5))]
    # A heading turned to the left is a turn about +Y; 120° round from in front, to her left.
    way = Rotation.from_euler("Y", (lagged(facing, 0.5, 1 / 24) + 120)[:, None], degrees=True).apply(
        [0, 0, -3.0]
    )
    np.testing.assert_allclose(found[:, :3], np.stack(late, axis=-1) + way + [0, 1.6, 0], atol=1e-9)


def test_a_trail_by_distance_stays_so_far_behind_on_her_path():
    scene = ridden(
        {"kind": "trail", "of": "Odile", "how": "distance", "behind_m": 2.0, "height_m": 1.5, "smooth_m": 0.0}
    )
    found, root, facing = pose(scene), place(scene), heading(scene)
    gone = np.r_[0, np.cumsum(np.hypot(*np.diff(root[:, [0, 2]], axis=0).T))]
    i = int(np.searchsorted(gone, 6.0))
    back = [np.interp(gone[i] - 2.0, gone, root[:, k]) for k in (0, 2)]
    np.testing.assert_allclose(found[i, [0, 2]], back, atol=0.01)
    straight = root[0] - 2.0 * Rotation.from_euler("Y", facing[0], degrees=True).apply([0, 0, -1.0])
    np.testing.assert_allclose(found[0, :3], straight + np.array([0, 1.5, 0]), atol=1e-6)


def test_an_arm_keeps_its_reach_and_faces_its_pivot():
    keys = [[FIRST, 0, "straight"], [LAST, 720, "straight"]]
    scene = ridden({"kind": "arm", "round": "Bram", "bearing_deg": keys, "height_deg": 10, "reach_m": 4})
    found, pivot = samples(scene), place(scene, "root", "Bram")
    away = found.values[:, :3] - pivot
    np.testing.assert_allclose(np.linalg.norm(away, axis=1), 4.0, atol=1e-9)
    np.testing.assert_allclose(away[:, 1], 4 * np.sin(np.radians(10)), atol=1e-9)
    # Two turns in even steps, counter-clockwise from above, beginning in front of him.
    start = heading(scene, "Bram")[0]
    bearing = np.degrees(np.unwrap(np.arctan2(-away[:, 0], -away[:, 2])))
    np.testing.assert_allclose(np.diff(bearing), 720 / (LAST - FIRST), atol=1e-6)
    assert (bearing[0] - start + 180) % 360 == pytest.approx(180, abs=1e-6)
    np.testing.assert_allclose(project(found, pivot).x, 0, atol=1e-9)
    np.testing.assert_allclose(project(found, pivot).y, 0, atol=1e-9)


def test_an_arm_on_a_trail_swings_round_where_the_trail_would_be():
    trail = {"kind": "trail", "of": "Odile", "angle_deg": 180, "distance_m": 3, "height_m": 1.6, "lag_s": 0.4}
    below, above = (
        pose(ridden(trail)),
        pose(
            ridden(
                trail,
                {
                    "kind": "arm",
                    "round": "above",
                    "bearing_deg": 0,
                    "height_deg": 0,
                    "reach_m": 1,
                    "turns_with": True,
                },
            )
        ),
    )
    way = Rotation.from_euler("Y", below[:, 3:4], degrees=True).apply([0, 0, -1.0])
    np.testing.assert_allclose(above[:, :3], below[:, :3] + way, atol=1e-9)


def test_a_turntable_takes_so_many_frames_and_none_repeats_the_first():
    """Common practice: 4 s at 24 are 96 frames of 360/96 degrees each."""
    for direction, sign in (("left", 1), ("right", -1)):
        command = {
            "kind": "rig.turntable",
            "camera": "cam-a",
            "round": {"kind": "figure", "figure": "fig-bram", "joint": "root"},
            "seconds": 4,
            "direction": direction,
        }
        scene = run(DEMO, parse_commands(json.dumps(command)))[0]
        away = (pose(scene, "A")[:, :3] - place(scene, "root", "Bram"))[:96]
        bearing = np.degrees(np.unwrap(np.arctan2(-away[:, 0], -away[:, 2])))
        np.testing.assert_allclose(np.diff(bearing), sign * 360 / 96, atol=1e-6)
        assert abs(bearing[-1] - bearing[0]) == pytest.approx(360 - 360 / 96, abs=1e-6)


def barry_goldman(p, u):
    """The centripetal spline between p[1] and p[2] by its pyramid of interpolations (Barry and Goldman 1988)."""
    t = np.r_[0, np.cumsum(np.sqrt(np.linalg.norm(np.diff(p, axis=0), axis=1)))]
    t_ = t[1] + u * (t[2] - t[1])
    a = [((t[i + 1] - t_) * p[i] + (t_ - t[i]) * p[i + 1]) / (t[i + 1] - t[i]) for i in range(3)]
    b = [((t[i + 2] - t_) * a[i] + (t_ - t[i]) * a[i + 1]) / (t[i + 2] - t[i]) for i in range(2)]
    return ((t[2] - t_) * b[0] + (t_ - t[1]) * b[1]) / (t[2] - t[1])


def test_a_rail_is_a_centripetal_spline_run_at_constant_speed():
    points = (
        (0.0, 1.0, 0.0),
        (2.0, 1.2, -1.0),
        (2.5, 1.0, -4.0),
        (6.0, 2.0, -4.5),
        (6.0, 2.0, -4.5),
        (8.0, 1.0, 0.0),
    )
    rail = curve(points)
    inner = np.array([points[0], points[1], points[2], points[3]])

    def speed(u):
        h = 1e-6
        return np.linalg.norm(barry_goldman(inner, u + h) - barry_goldman(inner, u - h)) / (2 * h)

    span = integrate.quad(speed, 0, 1)[0]
    first = rail.nearest(np.array(points[1]))
    assert rail.nearest(np.array(points[2])) - first == pytest.approx(span, rel=1e-4)
    half = integrate.quad(speed, 0, 0.5)[0]
    np.testing.assert_allclose(rail.place(np.array([first + half]))[0], barry_goldman(inner, 0.5), atol=1e-3)
    s = np.linspace(0, rail.length, 4001)
    steps = np.linalg.norm(np.diff(rail.place(s), axis=0), axis=1)
    np.testing.assert_allclose(steps, rail.length / 4000, rtol=1e-3)
    np.testing.assert_allclose(rail.way(s[:-1]), np.diff(rail.place(s), axis=0) / steps[:, None], atol=0.01)


def test_breath_has_the_power_and_the_pace_it_says():
    """RMS over 600 s, and where scipy's Welch spectrum has its power; the same whenever it is asked for."""
    t = np.arange(0, 600, 1 / 24)
    noise = breath(7, 1.2 * t)
    np.testing.assert_allclose(np.sqrt(np.mean(noise**2, axis=1)), 1.0, atol=0.01)
    f, power = signal.welch(noise, 24, nperseg=2048)
    within = (f > 0.3) & (f < 4.8)
    assert (power[:, within].sum(axis=1) / power.sum(axis=1) > 0.97).all()
    middle = np.exp((power * np.log(np.maximum(f, 1e-3))).sum(axis=1) / power.sum(axis=1))
    np.testing.assert_allclose(middle, 1.2, rtol=0.15)
    assert np.abs(np.corrcoef(noise) - np.eye(6)).max() < 0.2
    np.testing.assert_array_equal(breath(7, 1.2 * t[5000:5001])[:, 0], noise[:, 5000])
    assert np.abs(breath(8, 1.2 * t) - noise).max() > 1


def test_breath_moves_a_camera_along_its_own_axes():
    scene = ridden({"kind": "breath", "seed": 3, "place_mm": 10, "turn_deg": 0.5, "hertz": 1.0}, camera="A")
    shaken, still = pose(scene, "A"), pose(DEMO, "A")
    noise = breath(3, 1.0 * (DEMO.frames.array() - FIRST) / 24)
    turn = Rotation.from_euler("YXZ", still[:, 3:], degrees=True)
    np.testing.assert_allclose(turn.inv().apply(shaken[:, :3] - still[:, :3]), 0.01 * noise[:3].T, atol=1e-9)
    np.testing.assert_allclose(shaken[:, 3:] - still[:, 3:], 0.5 * noise[3:].T, atol=1e-9)
    # Twice as much up and down, and none of it in roll: the rest is the same hand.
    bobs = {
        "kind": "breath",
        "seed": 3,
        "place_mm": 10,
        "turn_deg": 0.5,
        "hertz": 1.0,
        "times_up": 2,
        "times_roll": 0,
    }
    shaped = pose(ridden(bobs, camera="A"), "A")
    own = turn.inv().apply(shaped[:, :3] - still[:, :3])
    np.testing.assert_allclose(own, 0.01 * noise[:3].T * [1, 2, 1], atol=1e-9)
    np.testing.assert_allclose(shaped[:, 3:] - still[:, 3:], 0.5 * noise[3:].T * [1, 1, 0], atol=1e-9)


@pytest.mark.parametrize(
    "on,how", [("Odile/head", "all"), ("Odile/head", "place"), ("Odile", "all"), ("Rowing boat", "all")]
)
def test_a_carrier_keeps_its_offset_by_scipys_rotations(on, how):
    scene = ridden({"kind": "carrier", "on": on, "how": how})
    found, bake = pose(scene), Bake(scene, ResultCache())
    before = pose(DEMO)
    np.testing.assert_allclose(found[0], before[0], atol=1e-9)
    if on == "Rowing boat":
        boat = bake.samples(find_named(scene, "movers", on)).values[:, :6]
        where = bake.track(layer_on(scene)).place
        turn = Rotation.from_euler("YXZ", boat[:, 3:], degrees=True)
    else:
        joint = on.partition("/")[2] or "root"
        where = place(scene, joint)
        odile = find_named(scene, "figures", "Odile")
        track = bake.track(OnFigure(figure=odile.id, joint=joint))
        turn = (
            Rotation.from_quat(track.turn)
            if joint == "head"
            else Rotation.from_euler("Y", heading(scene)[:, None], degrees=True)
        )
    if how == "place":
        np.testing.assert_allclose(
            found[:, :3] - where, np.tile(found[0, :3] - where[0], (len(found), 1)), atol=1e-9
        )
        np.testing.assert_allclose(found[:, 3:], before[:, 3:], atol=1e-9)
        return
    own = turn.inv().apply(found[:, :3] - where)
    np.testing.assert_allclose(own, np.tile(own[0], (len(own), 1)), atol=1e-9)
    stands = turn.inv() * Rotation.from_euler("YXZ", found[:, 3:], degrees=True)
    np.testing.assert_allclose((stands[0].inv() * stands).magnitude(), 0, atol=1e-7)


def layer_on(scene):
    return find_named(scene, "cameras", "B").layers[0].on


def upright(scene, low, top, figure):
    """Ends of an upright segment of rest length in the middle of two landmarks, by the printed proportions."""
    who = find_named(scene, "figures", figure)
    shares = {"chin": 0.870, "crown": 1.0, "eyes": 0.936}
    half = (shares[top] - shares[low]) * who.stature / 2
    middle = (place(scene, low, figure) + place(scene, top, figure)) / 2
    return middle + np.array([0, half, 0]), middle - np.array([0, half, 0])


def test_a_size_is_held_by_the_lens_while_the_camera_backs_off():
    """The dolly zoom: by OpenCV the head keeps its share of the frame within 0.1 px, and the aim its place."""
    back = [[FIRST, 4.0], [1150, 8.0], [LAST, 5.0]]
    scene = ridden(
        {"kind": "arm", "round": "Bram/head", "bearing_deg": 20, "height_deg": 3, "reach_m": back},
        {"kind": "aim", "at": ["Bram/head"], "x": 0.333, "y": 0.333},
        {"kind": "size", "of": "Bram", "from": "chin", "to": "crown", "share": 0.12, "answers": "lens"},
        camera="A",
    )  # fmt: skip
    found, ends, head = (
        samples(scene, "A"),
        upright(scene, "chin", "crown", "Bram"),
        place(scene, "head", "Bram"),
    )
    focal = found.column("focal_mm")
    assert focal.max() > 1.7 * focal.min()
    for i in range(0, LAST - FIRST, 30):
        top, low = (pixels(found.values[i], found.columns, end[i]) for end in ends)
        assert low[1] - top[1] == pytest.approx(0.12 * HIGH, abs=0.1)
        np.testing.assert_allclose(
            pixels(found.values[i], found.columns, head[i]), [0.6665 * WIDE, 0.3335 * HIGH], atol=0.1
        )


def test_a_size_is_held_by_the_reach_while_the_lens_changes():
    zoomed = run(DEMO, parse_commands(json.dumps([
        {"kind": "camera.mount", "camera": "cam-a", "lens": None},
        {"kind": "keys.set", "keys": [{"thing": "cam-a", "channel": "focal", "frame": f, "value": v} for f, v in ((FIRST, 28), (LAST, 70))]},
    ])))[0]  # fmt: skip
    scene = ridden(
        {"kind": "arm", "round": "Bram/chest", "bearing_deg": 40, "height_deg": 5, "reach_m": 3},
        {"kind": "aim", "at": ["Bram/head"], "x": -0.3, "y": 0.3},
        {"kind": "size", "of": "Bram", "from": "chin", "to": "crown", "share": 0.2, "answers": "reach"},
        camera="A", scene=zoomed,
    )  # fmt: skip
    found, ends = samples(scene, "A"), upright(scene, "chin", "crown", "Bram")
    pivot = place(scene, "chest", "Bram")
    reach = np.linalg.norm(found.values[:, :3] - pivot, axis=1)
    assert reach[-1] > 2 * reach[0]
    for i in range(0, LAST - FIRST, 40):
        top, low = (pixels(found.values[i], found.columns, end[i]) for end in ends)
        assert low[1] - top[1] == pytest.approx(0.2 * HIGH, abs=0.1)


def test_a_prime_gives_way_to_a_zoom_and_the_lens_says_where_it_ends():
    commands = [{"kind": "rig.add", "camera": "cam-b", "layer": layer_from(DEMO, one)} for one in (
        {"kind": "arm", "round": "Bram/head", "bearing_deg": 0, "height_deg": 0, "reach_m": [[FIRST, 2], [LAST, 30]]},
        {"kind": "aim", "at": ["Bram/head"], "x": 0, "y": 0},
        {"kind": "size", "of": "Bram", "share": 0.2},
    )]  # fmt: skip
    scene, said = run(DEMO, parse_commands(json.dumps(commands)))
    camera = find_named(scene, "cameras", "B")
    lens = next((one for one in scene.lenses if one.id == camera.mounted), None)
    assert "prime" in said[-1] and (lens is None or not lens.prime)
    notes = Bake(scene, ResultCache()).made(camera).notes
    found = samples(scene).column("focal_mm")
    if lens:
        at = next(frame for frame, text in notes if "longest" in text)
        assert found.max() == lens.longest_mm and found[at - FIRST] == lens.longest_mm > found[at - FIRST - 5]


def test_level_takes_out_the_roll_and_comes_in_without_a_jump():
    rolled = run(
        DEMO,
        parse_commands(
            json.dumps({"kind": "thing.put", "thing": "cam-a", "frame": FIRST, "keep": "rest", "roll": 14})
        ),
    )[0]
    scene = ridden({"kind": "level", "what": "roll", "first": 1100}, camera="A", scene=rolled)
    roll = pose(scene, "A")[:, 5]
    assert roll[1100 - FIRST] == 14 and roll[1112 - FIRST] == 0 and np.abs(np.diff(roll)).max() < 2.5


#: What may be put on a camera, with every number left out.
KINDS = [
    {"kind": "carrier", "on": "Odile/head", "how": "all"}, {"kind": "carrier", "on": "Odile"},
    {"kind": "carrier", "on": "Rowing boat", "how": "all"}, {"kind": "carrier", "on": "camera C", "how": "all"},
    {"kind": "trail", "of": "Odile"}, {"kind": "trail", "of": "Odile", "lag_s": 1.5, "begins": "rest"},
    {"kind": "arm", "round": ["Bram", "Odile"]}, {"kind": "arm", "round": "Bram/head", "turns_with": True}, {"kind": "arm", "round": "above"},
    {"kind": "rail", "points": [[-3, 2, -12], [0, 2.5, -6], [2, 2, 1]]},
    {"kind": "aim", "at": ["Odile/head"]}, {"kind": "aim", "at": ["Odile/head", "Bram/head"], "lag_s": 0.4},
    {"kind": "aim", "at": ["Bram/eyes"], "how": "kept"}, {"kind": "aim", "at": ["Odile"], "how": "calm"},
    {"kind": "size", "of": "Bram"}, {"kind": "level"}, {"kind": "level", "what": "both"}, {"kind": "breath"},
]  # fmt: skip
STACKS = st.lists(
    st.tuples(st.sampled_from(KINDS), st.none() | st.integers(1005, 1200), st.none() | st.integers(1230, 1310), st.sampled_from([0, 0, 8])),
    min_size=1, max_size=5,
)  # fmt: skip


def stacked(stack, each=lambda before, after, first: None):
    scene = DEMO
    for layer, first, last, blend in stack:
        ends = {k: v for k, v in (("first", first), ("last", last)) if v is not None}
        blends = {"blend_in": blend} if first is not None and blend else {}
        try:
            after = ridden({**layer, **ends, **blends}, scene=scene)
        except HeronError as refused:
            assert refused.remedy
            continue
        each(scene, after, first)
        scene = after
    return scene


def does_not_pop(before, after, first):
    """Up to the frame on which a layer comes, nothing is otherwise than without it."""
    i = 0 if first is None else first - FIRST
    if after.cameras[1].mounted != before.cameras[1].mounted:
        return
    kinds = [one.kind for one in after.cameras[1].layers]
    if first is None and {"level", "breath", "size"} & set(kinds):
        return  # over the whole scene these come at no frame of it
    if any(
        one.kind == "aim" and one.lag_s.rest and (one.first or FIRST) >= FIRST + i
        for one in before.cameras[1].layers
    ):
        return  # one that begins late from here on depends on how the camera moves from here on
    off = (pose(after) - pose(before))[: i + 1]
    assert np.abs(off[:, :3]).max() < 1e-3 and np.abs((off[:, 3:] + 180) % 360 - 180).max() < 0.01, kinds


@settings(max_examples=15, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(STACKS, st.integers(FIRST, LAST))
def test_any_stack_is_the_same_whenever_it_is_asked_for_and_never_pops(stack, frame):
    """No NaN; a frame alone is the frame of the whole to the bit; a layer that comes leaves the pose as it is."""
    scene = stacked(stack, does_not_pop)
    camera = find_named(scene, "cameras", "B")
    whole = samples(scene).values
    assert np.isfinite(whole).all()
    alone = Bake(scene, ResultCache()).samples(camera, Frames(first=frame, last=frame)).values[0]
    np.testing.assert_array_equal(alone, whole[frame - FIRST])
    # Where a layer ends without a blend the camera stays as it then was.
    for layer in camera.layers:
        if (
            layer.last is not None
            and not layer.blend_out
            and layer.kind in ("carrier", "trail", "arm", "rail")
        ):
            alone = pose(changed_camera(scene, changed(camera, layers=(layer,))))
            i = layer.last - FIRST
            assert (
                np.abs(alone[i + 1, :3] - alone[i, :3] - (pose(DEMO)[i + 1, :3] - pose(DEMO)[i, :3])).max()
                < 1e-9
            )


def changed_camera(scene, camera):
    return scene.having(cameras=tuple(camera if c.id == camera.id else c for c in scene.cameras))


@settings(max_examples=15, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@example(
    [
        ({"kind": "size", "of": "Bram"}, None, None, 0),
        (KINDS[13], None, None, 0),
        (KINDS[1], None, None, 0),
        (KINDS[7], 1048, None, 0),
    ],
    1259,
    "key",
    0,
)
@example([(KINDS[9], None, None, 8), (KINDS[6], None, 1241, 8), (KINDS[8], None, None, 0)], 1269, "key", 0)
@example([(KINDS[12], None, None, 0), (KINDS[12], 1096, 1259, 0)], 1296, "key", 0)
@given(STACKS, st.integers(1010, 1300), st.sampled_from(["key", "path"]), st.integers(0, 10**6))
def test_a_camera_under_any_stack_is_put_where_the_hand_says(stack, frame, keep, seed):
    """Be here: the pose it then has is the one asked for, and what was not asked for stays."""
    scene = stacked(stack)
    rng = np.random.default_rng(seed)
    before = pose(scene)[frame - FIRST]
    asked = dict(
        zip(("x", "y", "z", "pan", "tilt"), (before[:5] + rng.uniform(-0.4, 0.4, 5)).tolist(), strict=True)
    )
    command = {"kind": "thing.put", "thing": "cam-b", "frame": frame, "keep": keep, **asked}
    try:
        after = run(scene, parse_commands(json.dumps(command)))[0]
    except Refused as refused:
        assert refused.remedy
        # Only a level layer has nothing to solve for; a calm zone and a lens that holds a size answer to each other so
        # that a hair's breadth can turn the camera by degrees.
        calm = {"aim", "size"} <= {layer["kind"] for layer, *_ in stack} and any(
            layer.get("how") == "calm" for layer, *_ in stack
        )
        # A camera that stands beside what it watches cannot look past it.
        beside = "aim" in {layer["kind"] for layer, *_ in stack} and "watches behind" in str(refused)
        assert "is kept" in str(refused) or beside or (calm and "layers keep it" in str(refused))
        return
    found = pose(after)[frame - FIRST]
    np.testing.assert_allclose(found[:3], [asked[n] for n in "xyz"], atol=1e-5)
    wrapped = (found[3:] - [asked["pan"], asked["tilt"], before[5]] + 180) % 360 - 180
    np.testing.assert_allclose(wrapped, 0, atol=1e-5)


def test_exact_placements_hold_when_the_walk_is_slowed_or_hurried():
    scene = ridden(
        {"kind": "trail", "of": "Odile", "angle_deg": 20, "distance_m": 3.5, "height_m": 1.5, "lag_s": 0.5},
        {"kind": "aim", "at": ["Odile/head"], "x": -0.333, "y": 0.333},
    )
    for speed in (1.1, 1.8):
        paced, said = run(
            scene, parse_commands(json.dumps({"kind": "figure.pace", "figure": "fig-odile", "speed": speed}))
        )
        assert f"{speed:g} m/s" in said[0]
        walk = paced.figures[0].acts[0]
        assert walk.frames.first == scene.figures[0].acts[0].frames.first
        found, head = samples(paced), place(paced, "head")
        for i in range(0, LAST - FIRST, 25):
            np.testing.assert_allclose(
                pixels(found.values[i], found.columns, head[i]), [0.3335 * WIDE, 0.3335 * HIGH], atol=1e-2
            )
    assert paced.figures[0].body[1].frames == scene.figures[0].body[1].frames  # hurried, she waits
    slow = run(
        scene, parse_commands(json.dumps({"kind": "figure.pace", "figure": "fig-odile", "speed": 1.1}))
    )
    assert (
        slow[0].figures[0].body[1].frames.first == slow[0].figures[0].body[0].frames.last + 1
        and "later" in slow[1][0]
    )


def test_a_deleted_subject_leaves_what_the_layer_did_as_keys():
    scene = ridden(
        {"kind": "trail", "of": "Odile", "distance_m": 3, "lag_s": 0.4},
        {
            "kind": "aim",
            "at": ["Bram"],
            "x": 0,
            "y": 0,
        },  # his root: his head goes with where he looks, at her
    )
    before = pose(scene)
    after, said = run(scene, parse_commands(json.dumps({"kind": "things.delete", "ids": ["fig-odile"]})))
    camera = find_named(after, "cameras", "B")
    assert (
        [one.kind for one in camera.layers] == ["aim"]
        and "camera B" in said[0]
        and "is keys now" in said[0]
        and camera.x.keys
    )
    found = pose(after)
    assert np.abs(found[:, :3] - before[:, :3]).max() <= 1.01e-3
    assert np.abs(found[:, 3:] - before[:, 3:]).max() <= 0.05


def test_a_rig_turned_into_keys_is_within_its_error_and_undone_exactly():
    scene = ridden(
        {"kind": "trail", "of": "Odile", "distance_m": 3, "lag_s": 0.4},
        {"kind": "aim", "at": ["Odile/head"], "x": 0.2, "y": 0.2},
    )
    before = pose(scene)
    for error, most in ((0.0, 1e-9), (0.001, 0.001), (0.01, 0.01)):
        after = run(
            scene, parse_commands(json.dumps({"kind": "rig.keys", "camera": "cam-b", "error": error}))
        )[0]
        camera = find_named(after, "cameras", "B")
        found = pose(after)
        assert camera.layers == () and np.abs(found[:, :3] - before[:, :3]).max() <= most
        assert np.abs(found[:, 3:] - before[:, 3:]).max() <= max(10 * most, 1e-9)
    assert len(camera.x.keys) < 40


def test_rings_are_refused_by_name_and_cameras_may_watch_each_other():
    scene = ridden({"kind": "aim", "at": ["camera B"], "x": 0, "y": 0}, camera="A")
    scene = ridden({"kind": "aim", "at": ["camera A"], "x": 0, "y": 0}, scene=scene)
    assert np.isfinite(pose(scene)).all()
    scene = ridden({"kind": "carrier", "on": "camera B"}, camera="C")
    with pytest.raises(Refused, match=r"rides on camera ., who rides on camera .: each would wait"):
        ridden({"kind": "carrier", "on": "camera C"}, scene=scene)
    for layer, told in (
        ({"kind": "arm", "round": "camera B", "reach_m": 2}, "swings round itself"),
        ({"kind": "aim", "at": ["Odile/head", "camera B"]}, "watches itself"),
    ):
        with pytest.raises(Refused, match=f"Camera B would depend on itself: no camera {told}"):
            ridden(layer, camera="B")
    with pytest.raises(Refused, match="no camera watches itself"):
        aimed = ridden({"kind": "aim", "at": ["Bram/head"]})
        command = {
            "kind": "rig.set",
            "camera": "cam-b",
            "layer": find_named(aimed, "cameras", "B").layers[0].id,
        }
        spots = [{"kind": "camera", "camera": "cam-b"}]
        run(aimed, parse_commands(json.dumps({**command, "fields": {"at": spots}})))


@pytest.mark.parametrize(
    "layer,told",
    [
        ({"kind": "rail", "points": [[0, 0, 0]]}, "Points"), ({"kind": "rail", "points": [[1, 1, 1], [1, 1, 1]]}, "one place"),
        ({"kind": "arm", "round": [-1.18, 2.2, -11.8]}, "pivot"), ({"kind": "arm", "round": "Bram", "reach_m": 0}, "[Rr]each"),
        ({"kind": "breath", "first": 1100, "last": 1110, "blend_in": 8, "blend_out": 8}, "blends"),
        ({"kind": "aim", "at": ["Nobody"]}, "Nobody"), ({"kind": "aim", "at": ["Odile/tail"]}, "tail"),
        ({"kind": "size", "of": "Bram", "answers": "reach"}, "arm"), ({"kind": "aim", "at": []}, "at"), ({"kind": "crane"}, "kind"),
        ({"kind": "aim", "at": ["Odile"], "x": float("nan")}, "ordinary number"), ({"kind": "aim", "at": ["Odile"], "x": "left"}, "is not a number"),
        ({"kind": "aim", "at": ["Odile"], "x": [[1001.5, 0]]}, "whole number"),
    ],
)  # fmt: skip
def test_what_cannot_be_is_refused_with_a_remedy(layer, told):
    with pytest.raises(HeronError, match=told) as refused:
        ridden(layer)
    assert refused.value.remedy


def test_odd_subjects_have_a_defined_answer():
    # A subject straight above, a trail of somebody who stands, and a layer wholly outside the scene.
    above = ridden(
        {"kind": "arm", "round": "Bram/head", "bearing_deg": 0, "height_deg": -89.9, "reach_m": 1.0},
        {"kind": "aim", "at": ["Bram/head"], "x": 0, "y": 0},
    )
    assert np.isfinite(pose(above)).all()
    stands = ridden({"kind": "trail", "of": [0, 0, 0], "how": "distance", "behind_m": 2})
    assert np.isfinite(pose(stands)).all()
    assert any(
        "doesn't move here" in text
        for _, text in Bake(stands, ResultCache()).made(find_named(stands, "cameras", "B")).notes
    )
    outside = ridden({"kind": "aim", "at": ["Odile"], "first": 5000, "x": 0, "y": 0})
    np.testing.assert_array_equal(pose(outside), pose(DEMO))
    many = DEMO
    for _ in range(50):
        many = ridden({"kind": "breath", "place_mm": 0.1, "turn_deg": 0.01}, scene=many)
    assert np.isfinite(pose(many)).all()


def test_a_layer_is_carried_through_storage_and_its_channels_are_keyed():
    scene = ridden({"kind": "trail", "of": "Odile", "distance_m": 3})
    layer = find_named(scene, "cameras", "B").layers[0]
    again = Scene.model_validate(json.loads(scene.model_dump_json()))
    np.testing.assert_array_equal(pose(again), pose(scene))
    keyed = run(scene, parse_commands(json.dumps({"kind": "keys.set", "keys": [
        {"thing": "cam-b", "channel": f"{layer.id}.distance_m", "frame": f, "value": v} for f, v in ((1050, 3), (1150, 1.5))
    ]})))[0]  # fmt: skip
    away = np.linalg.norm((pose(keyed) - pose(scene))[:, [0, 2]], axis=1)
    assert away[1050 - FIRST] == pytest.approx(0, abs=1e-9) and away[1150 - FIRST] == pytest.approx(
        1.5, abs=1e-6
    )
    assert find_named(keyed, "cameras", "B").layers[0].of == layer.of


def test_a_layer_that_is_put_off_goes_alone_when_its_subject_does():
    scene = ridden(
        {"kind": "trail", "of": "Bram", "distance_m": 3}, {"kind": "aim", "at": ["Odile/head"], "off": True}
    )
    trail, aim = find_named(scene, "cameras", "B").layers
    assert aim.off
    after = run(scene, parse_commands(json.dumps({"kind": "things.delete", "ids": ["fig-odile"]})))[0]
    assert find_named(after, "cameras", "B").layers == (trail,)
    np.testing.assert_array_equal(pose(after), pose(scene))


def test_a_rig_is_given_to_another_camera_and_to_another_subject():
    def do(scene, **command):
        return run(scene, parse_commands(json.dumps(command)))[0]

    scene = ridden(
        {"kind": "trail", "of": "Odile", "distance_m": 3},
        {"kind": "aim", "at": ["Odile/head"], "x": 0.2, "y": 0.1},
    )
    given = do(scene, kind="rig.copy", camera="cam-b", to="cam-a")
    np.testing.assert_allclose(pose(given, "A")[:, :3], pose(given, "B")[:, :3], atol=1e-9)
    scene = do(
        scene,
        kind="rig.set",
        camera="cam-b",
        layer=find_named(scene, "cameras", "B").layers[0].id,
        fields={"locked": True},
    )
    swapped = do(scene, kind="rig.copy", camera="cam-b", to="cam-b", instead={"fig-odile": "fig-bram"})
    trail, aim = find_named(swapped, "cameras", "B").layers
    # What is locked goes on by whom it did.
    assert (trail.of.figure, trail.locked, aim.at[0].figure) == ("fig-odile", True, "fig-bram")
    seen = project(samples(swapped), place(swapped, "head", "Bram"))
    np.testing.assert_allclose([seen.x[150], seen.y[150]], [0.2, 0.1], atol=1e-9)
    with pytest.raises(Refused, match="locked"):
        do(swapped, kind="rig.take", camera="cam-b", layer=trail.id)
    again = do(swapped, kind="rig.take", camera="cam-b", layer=aim.id)
    assert find_named(again, "cameras", "B").layers == (trail,)


def test_numbers_are_read_off_at_the_frame_that_is_asked_for():
    layer = layer_from(DEMO, {"kind": "trail", "of": "Odile"})
    scene = run(
        DEMO, parse_commands(json.dumps({"kind": "rig.add", "camera": "cam-b", "layer": layer, "at": 1200}))
    )[0]
    off = np.abs(pose(scene) - pose(DEMO)).max(axis=1)
    assert off[1200 - FIRST] < 1e-9 and off[0] > 1
    with pytest.raises(Refused, match="outside the scene"):
        run(
            DEMO,
            parse_commands(json.dumps({"kind": "rig.add", "camera": "cam-b", "layer": layer, "at": 900})),
        )


def test_layers_are_ordered_within_their_kind_only():
    scene = ridden(
        {"kind": "carrier", "on": "Odile"},
        {"kind": "aim", "at": ["Odile"], "x": 0, "y": 0},
        {"kind": "rail", "points": [[-3, 2, -12], [2, 2, 1]]},
    )
    ids = {one.kind: one.id for one in find_named(scene, "cameras", "B").layers}
    assert list(ids) == ["carrier", "rail", "aim"]
    command = {"kind": "rig.order", "camera": "cam-b", "layer": ids["rail"], "by": -1}
    turned = run(scene, parse_commands(json.dumps(command)))[0]
    assert [one.kind for one in find_named(turned, "cameras", "B").layers] == ["rail", "carrier", "aim"]
    with pytest.raises(Refused, match="farther"):
        run(turned, parse_commands(json.dumps(command)))
    with pytest.raises(Refused, match="farther"):
        run(turned, parse_commands(json.dumps({**command, "layer": ids["aim"], "by": 1})))
