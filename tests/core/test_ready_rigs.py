"""Rails that are drawn, ready ways to ride, turntables and their kin, and a part of a rig as keys."""

import json

import numpy as np
import pytest
from scipy.spatial.transform import Rotation
from test_rigs import DEMO, heading, place, pose, ridden, samples

from heron.bake import Bake, ResultCache
from heron.commands import parse_commands, run
from heron.errors import BadInput, HeronError, Refused
from heron.framing import project
from heron.rigs.rail import curve
from heron.scene import find_named
from heron.stage.reference import OnFigure, OnMover

FIRST = DEMO.frames.first
BRAM = {"kind": "figure", "figure": "fig-bram", "joint": "root"}


def done(scene=DEMO, **command):
    return run(scene, parse_commands(json.dumps(command)))


def test_a_drawn_rail_is_run_at_one_speed_while_the_camera_is_on_air():
    points = [[-7.0, -3.0], [-5.5, -5.0], [-7.0, -8.0]]
    scene, said = done(kind="rig.rail", camera="cam-a", points=points, at=1050)
    at = pose(scene, "A")
    # Shot 010 shows it from 1064 to 1176; as high as it stood.
    np.testing.assert_allclose(at[1064 - FIRST, :3], [-7.0, 1.75, -3.0], atol=1e-9)
    np.testing.assert_allclose(at[1176 - FIRST :, :3], np.tile([-7.0, 1.75, -8.0], (145, 1)), atol=1e-6)
    steps = np.linalg.norm(np.diff(at[1064 - FIRST : 1176 - FIRST + 1, :3], axis=0), axis=1)
    np.testing.assert_allclose(steps, steps.mean(), rtol=2e-3)
    assert said[0].endswith(f"from 1064 to 1176 at {steps.mean() * 24:.2f} m/s")
    np.testing.assert_allclose(at[:, 3:], pose(DEMO, "A")[:, 3:], atol=1e-9)  # it looks as it did
    whole, _ = done(kind="rig.rail", camera="cam-e", points=points, at=1050, height=0.5, first=1010)
    there = pose(whole, "E")
    np.testing.assert_allclose(there[9, :3], [-7.0, 0.5, -3.0], atol=1e-9)
    np.testing.assert_allclose(there[-1, :3], [-7.0, 0.5, -8.0], atol=1e-6)


def test_a_rail_is_smoothed_and_still_run_from_end_to_end():
    points = [[-7.0, -3.0], [-5.0, -5.0], [-7.0, -7.0]]
    scene, _ = done(kind="rig.rail", camera="cam-a", points=points, at=1050, id="lay-rail")
    after, said = done(scene, kind="rig.rail.smooth", camera="cam-a", layer="lay-rail")
    (rail,) = find_named(after, "cameras", "A").layers
    # The middle of its neighbours is at x −7: halfway there.
    assert rail.points[1] == (-6.0, 1.75, -5.0) and "no point moved farther than 1.00 m" in said[0]
    np.testing.assert_allclose(pose(after, "A")[[1064 - FIRST, -1], 2], [-3.0, -7.0], atol=1e-6)
    # Bent by the hand it is longer, and run to its end all the same.
    bent = [[-7.0, 1.75, -3.0], [-3.0, 2.5, -5.0], [-7.0, 1.75, -7.0]]
    after, _ = done(scene, kind="rig.set", camera="cam-a", layer="lay-rail", fields={"points": bent})
    np.testing.assert_allclose(pose(after, "A")[[1064 - FIRST, 1176 - FIRST], 2], [-3.0, -7.0], atol=1e-6)
    # One more point lies on the rail itself, halfway along between the two; after the last, half as far again.
    line = curve(tuple(map(tuple, bent)))
    more, _ = done(after, kind="rig.rail.point", camera="cam-a", layer="lay-rail", after=0)
    (new,) = find_named(more, "cameras", "A").layers
    corner = line.nearest(np.array(bent[1]))
    np.testing.assert_allclose(new.points[1], line.place(np.array([corner / 2]))[0], atol=1e-3)
    more, _ = done(scene, kind="rig.rail.point", camera="cam-a", layer="lay-rail", after=2)
    assert find_named(more, "cameras", "A").layers[0].points[3] == (-8.0, 1.75, -8.0)
    with pytest.raises(Refused, match="no point 4"):
        done(scene, kind="rig.rail.point", camera="cam-a", layer="lay-rail", after=3)
    straight, _ = done(kind="rig.rail", camera="cam-a", points=points[:2], at=1050, id="lay-rail")
    with pytest.raises(Refused, match="straight already"):
        done(straight, kind="rig.rail.smooth", camera="cam-a", layer="lay-rail")
    for wrong, told in (
        ({"points": [[0, 0]]}, "one point"),
        ({"points": [[0, 0], [0, 0]]}, "leads nowhere"),
        ({"points": points, "first": 1300, "last": 1200}, "no time"),
        ({"points": points, "first": 1300, "last": 1300}, "one frame only"),
    ):
        with pytest.raises((Refused, BadInput), match=told):
            done(kind="rig.rail", camera="cam-a", at=1050, **wrong)


def test_through_her_eyes_and_facing_her():
    scene, _ = done(kind="rig.ride", camera="cam-b", figure="fig-odile", how="eyes", frame=1100)
    np.testing.assert_allclose(pose(scene)[:, :3], place(scene, "eyes"), atol=1e-9)
    bake = Bake(scene, ResultCache())
    head = bake.track(OnFigure(figure="fig-odile", joint="eyes")).turn
    camera = find_named(scene, "cameras", "B")
    own = Rotation.from_euler("YXZ", pose(scene)[:, 3:], degrees=True)
    assert np.degrees((own.inv() * Rotation.from_quat(head)).magnitude()).max() < 1e-6
    assert bake.samples(camera).facts["eyes"] == [["fig-odile", 1001, 1320]]
    assert bake.samples(camera).facts["rig"][0][1] == "looks through the eyes of Odile"
    scene, _ = done(kind="rig.ride", camera="cam-b", figure="fig-odile", how="facing", frame=1100)
    at = samples(scene)
    for joint in ("eyes", "chin", "crown"):
        assert project(at, place(scene, joint)).inside.all()
    standing = project(at, place(scene, "eyes")).y[1265 - FIRST]
    # Eyes on the upper third (common practice), but for a body that is never quite still.
    assert standing == pytest.approx(1 / 3, abs=0.12)
    # Fixed to her: as she turns it goes round with her.
    away = pose(scene)[:, :3] - place(scene, "chest")
    np.testing.assert_allclose(np.linalg.norm(away, axis=1), np.linalg.norm(away[0]), atol=1e-9)
    off = (pose(scene)[:, 3] - 180 - heading(scene) + 180) % 360 - 180
    assert np.abs(off).max() < 15
    with pytest.raises(Refused, match="watches something"):
        done(kind="rig.ride", camera="cam-g", figure="fig-odile", how="eyes", frame=1100)


@pytest.mark.parametrize(("direction", "way"), [("left", 1), ("right", -1)])
def test_the_subject_turns_instead_evenly_and_faces_as_before(direction, way):
    scene, said = done(
        kind="rig.turntable",
        camera="cam-b",
        round=BRAM,
        seconds=4,
        direction=direction,
        turns="subject",
        first=1022,
    )
    assert said == [f"Bram is turned once round in 96 frames, to the {direction}"]
    turned = heading(scene, "Bram") - heading(DEMO, "Bram")
    # 4 s at 24 are 96 frames, none of which repeats the first (common practice).
    np.testing.assert_allclose(np.diff(turned)[1022 - FIRST : 1117 - FIRST], way * 360 / 96, atol=1e-6)
    np.testing.assert_allclose(turned[[1022 - FIRST, 1117 - FIRST]], [0, way * 360 * 95 / 96], atol=1e-6)
    # All of him goes round, feet and all; nothing of his camera.
    for joint in ("wrist_l", "ankle_r", "eyes"):
        was, now = (place(s, joint, "Bram") - place(s, "root", "Bram") for s in (DEMO, scene))
        expected = Rotation.from_euler("Y", turned[:, None], degrees=True).apply(was)
        np.testing.assert_allclose(now, expected, atol=1e-9)
    np.testing.assert_array_equal(pose(scene), pose(DEMO))


def test_a_mover_turns_and_what_cannot_turn_says_so():
    boat = {"kind": "mover", "mover": "mov-boat"}
    with pytest.raises(Refused, match="turns by its keys"):
        done(kind="rig.turntable", camera="cam-b", round=boat, seconds=4, turns="subject")
    still, _ = done(
        kind="mover.add",
        id="mov-new",
        shape="boat",
        pose={"x": 2, "y": 0, "z": 0, "pan": 30, "tilt": 0, "roll": 0},
    )
    scene, _ = done(
        still, kind="rig.turntable", camera="cam-b", round={"kind": "mover", "mover": "mov-new"}, seconds=2,
        turns="subject", direction="right",
    )  # fmt: skip
    pan = Bake(scene, ResultCache()).track(OnMover(mover="mov-new")).heading
    np.testing.assert_allclose(np.diff(pan)[:47], -360 / 48, atol=1e-9)
    for spot, told in (({"kind": "point", "x": 0, "y": 0, "z": 0}, "Only a figure or a mover"),):
        with pytest.raises(Refused, match=told):
            done(kind="rig.turntable", camera="cam-b", round=spot, seconds=4, turns="subject")
    with pytest.raises(BadInput, match="Turns must be 'camera' or 'subject'; it was 'both'"):
        done(kind="rig.turntable", camera="cam-b", round=BRAM, seconds=4, turns="both")
    with pytest.raises(Refused, match="nothing for the sun"):
        done(kind="rig.turntable", camera="cam-b", round=BRAM, seconds=4, turns="subject", sun="rides")


def test_the_sun_goes_round_with_the_camera_in_its_own_picture():
    scene, said = done(kind="rig.turntable", camera="cam-b", round=BRAM, seconds=4, sun="rides", first=1100)
    assert said[0].endswith("to the left, and the sun with it")
    # All the while it faces Bram, as high as it looked.
    at, him = pose(scene)[99:195], place(scene, "root", "Bram")[99:195]
    np.testing.assert_allclose(at[:, 4], pose(DEMO)[99, 4], atol=1e-9)
    across = np.degrees(np.arctan2(at[:, 0] - him[:, 0], at[:, 2] - him[:, 2]))
    np.testing.assert_allclose((at[:, 3] - across + 180) % 360 - 180, 0, atol=1e-6)
    sun = samples(scene).column("sun_turn_deg")
    # As many degrees as the camera has gone round: 360/96 a frame; afterwards it stays where it came to.
    np.testing.assert_allclose(sun[99:195], np.arange(96) * 3.75, atol=1e-9)
    assert (sun[:99] == 0).all()
    np.testing.assert_allclose(sun[195:], 95 * 3.75, atol=1e-9)
    for other in (samples(scene, "A"), samples(DEMO)):
        assert not other.column("sun_turn_deg").any()
    stays, _ = done(kind="rig.turntable", camera="cam-b", round=BRAM, seconds=4, first=1100)
    assert not samples(stays).column("sun_turn_deg").any()


@pytest.mark.parametrize("camera", ["D", "F", "G", "H", "I"])
def test_a_part_of_a_rig_becomes_keys_and_outside_it_nothing_moves(camera):
    id_ = f"cam-{camera.lower()}"
    scene, said = done(kind="rig.keys", camera=id_, first=1050, last=1290, error=0.001)
    off = np.abs(pose(scene, camera) - pose(DEMO, camera))
    # A millimetre, and a hundredth of a degree; F's lag adds what it makes of the millimetre.
    more = 1.1 if camera == "F" else 1.0
    assert off[:, :3].max() <= 0.001 * more and off[:, 3:].max() <= 0.01 * more + 1e-9
    # Before it to the bit; after it, but for what a lag remembers of a millimetre.
    assert off[:49].max() < 1e-9 and off[290 + 24 :].max() < 1e-4
    assert "outside they go on" in said[0]
    # Within it the camera is its own again: a key moves it by what is asked.
    moved, _ = done(scene, kind="thing.put", thing=id_, frame=1200, keep="key", x=9.0)
    assert pose(moved, camera)[1200 - FIRST, 0] == pytest.approx(9.0, abs=0.05)


def test_a_part_of_a_rig_whose_end_would_be_lost_is_refused():
    ends = ridden({"kind": "trail", "of": "Odile", "first": 1050, "last": 1100})
    with pytest.raises(Refused, match="what it leaves behind"):
        done(ends, kind="rig.keys", camera="cam-b", first=1060, last=1120)
    kept, _ = done(ends, kind="rig.keys", camera="cam-b", first=1060, last=1090)
    assert np.abs(pose(kept) - pose(ends)).max() < 0.011
    with pytest.raises(BadInput, match="ends before it begins"):
        done(ends, kind="rig.keys", camera="cam-b", first=1090, last=1060)


def test_keys_that_lead_into_the_part_still_move_the_camera_before_and_after_it():
    """B glides on its own keys from 1170 to 1236; half of a trail lies over it, and is keyed in the middle."""
    half = ridden({"kind": "trail", "of": "Odile", "distance_m": 3, "weight": 0.5})
    part, _ = done(half, kind="rig.keys", camera="cam-b", first=1190, last=1210, error=0.0005)
    was, now = pose(half), pose(part)
    glides = was[[1180 - FIRST, 1189 - FIRST, 1220 - FIRST], 0]
    assert np.ptp(glides) > 0.01
    outside = np.r_[0 : 1190 - FIRST, 1211 - FIRST : 320]
    np.testing.assert_allclose(now[outside], was[outside], atol=5e-4)
    np.testing.assert_allclose(now[:, :3], was[:, :3], atol=5e-4)
    frames = [k.frame for k in find_named(part, "cameras", "B").x.keys]
    assert frames == sorted(set(frames)) and frames[0] == 1001 and frames[-1] == 1320


def test_an_arm_that_went_round_twice_stays_there_when_it_is_nudged_and_a_bare_camera_has_no_rig_to_give():
    twice = ridden({"kind": "arm", "round": "Bram", "bearing_deg": 705, "height_deg": 5, "reach_m": 4})
    x, y, z = pose(twice)[99, :3]
    moved, _ = done(twice, kind="thing.put", thing="cam-b", frame=1100, keep="rest", x=x + 0.3, y=y, z=z)
    (arm,) = find_named(moved, "cameras", "B").layers
    assert arm.bearing_deg.rest != 705 and abs(arm.bearing_deg.rest - 705) < 30
    assert pose(moved)[99, :3] == pytest.approx([x + 0.3, y, z], abs=1e-6)
    with pytest.raises(Refused) as told:
        done(kind="rig.copy", camera="cam-b", to="cam-a")
    assert (
        told.value.reason == "Camera B has no layers to copy." and told.value.remedy == "Choose one that has."
    )


def test_a_ride_is_mounted_where_it_was_pressed_and_stays_there_on_the_boat():
    """In the boat's own frame the place stays the same: glTF's nesting, by scipy's turn about the upright."""
    boat = find_named(DEMO, "movers", "Rowing boat")
    rows = Bake(DEMO, ResultCache()).rows(boat, DEMO.frames.array())
    place = rows[99, :3] + [0.2, 0.8, -0.1]
    layer = {"kind": "carrier", "id": "lay-boat", "on": {"kind": "mover", "mover": boat.id}, "how": "all"}
    scene, _ = done(kind="rig.add", camera="cam-b", layer=layer, at=1100, mount=place.tolist())
    at = pose(scene)
    np.testing.assert_allclose(at[99, :3], place, atol=1e-6)
    np.testing.assert_allclose((at[99, 3:] - pose(DEMO)[99, 3:] + 180) % 360 - 180, 0, atol=1e-6)
    own = [
        Rotation.from_euler("YXZ", rows[i, 3:6], degrees=True).inv().apply(at[i, :3] - rows[i, :3])
        for i in (0, 99, 250)
    ]
    np.testing.assert_allclose(own, [own[0]] * 3, atol=1e-6)
    with pytest.raises(HeronError, match="mounted"):
        done(kind="rig.add", camera="cam-b", layer={"kind": "level"}, mount=[0, 1, 0])
