"""Perches and flights along them: against closed forms, and scipy where a frame is turned."""

import json

import numpy as np
import pytest
from scipy.spatial.transform import Rotation
from test_moves import bare

from heron.bake import Bake
from heron.commands import parse_commands, run
from heron.curves import evaluate
from heron.errors import HeronError
from heron.stage.reference import OnFigure

VIEWS = {
    "one": (-6.0, 1.5, -4.0, -80.0, -5.0), "two": (-2.0, 3.0, -12.0, 190.0, -20.0), "three": (4.0, 1.2, -10.0, 75.0, 2.0),
    "four": (3.0, 6.0, -2.0, 30.0, -30.0),
}  # fmt: skip
ODILE = {"kind": "figure", "figure": "fig-odile", "joint": "root"}


def do(scene, **command):
    scene, said = run(scene, parse_commands(json.dumps(command)))
    return scene, said[0]


def perched(names=VIEWS, **more):
    scene = bare()
    for name in names:
        view = dict(zip(("x", "y", "z", "pan", "tilt"), VIEWS[name], strict=True))
        scene, _ = do(scene, kind="perch.add", id=f"per-{name}", name=name, view=view, frame=1001, **more)
    return scene


def flying(scene, legs, first=1010):
    layer = {"kind": "flight", "first": first, "legs": [{"to": {"kind": "perch", "perch": f"per-{n}"}, **leg} for n, leg in legs]}  # fmt: skip
    return do(scene, kind="rig.add", camera="cam-a", layer=layer)


def pose(scene):
    return Bake(scene).rows(scene.cameras[0], scene.frames.array())[:, :6]


def test_a_flight_is_on_each_perch_when_it_says_and_even_between_in_closed_form():
    legs = [
        ("one", {"wait": 5}),
        ("two", {"frames": 40, "feel": "soft", "wait": 10}),
        ("three", {"frames": 30, "feel": "constant"}),
        ("four", {"frames": 24, "feel": "soft end"}),
    ]
    scene, said = flying(perched(), legs)
    assert said == "Camera A flies from one by two and three to four, from 1010 on"
    rows = pose(scene)[9:]
    views = {name: np.array([*v, 0.0]) for name, v in VIEWS.items()}
    # Pans go the short way: −80 to 190 is −90 the other way round, and on from there 75 is 115 back.
    pans = {"one": -80.0, "two": -170.0, "three": -285.0, "four": -330.0}
    at = {"one": 0, "two": 45, "three": 85, "four": 109}
    for name, frame in at.items():
        expected = views[name].copy()
        expected[3] = pans[name]
        np.testing.assert_allclose(rows[frame], expected, atol=1e-9)
    # It waits, and after the last leg stays.
    assert np.ptp(rows[:6], axis=0).max() < 1e-9 and np.ptp(rows[45:56], axis=0).max() < 1e-9
    assert np.ptp(rows[109:], axis=0).max() < 1e-9
    u = np.arange(31) / 30
    line = views["two"][:3] + u[:, None] * (views["three"][:3] - views["two"][:3])
    np.testing.assert_allclose(rows[55:86, :3], line, atol=1e-9)
    u = np.arange(41) / 40
    np.testing.assert_allclose(rows[5:46, 3], -80 - 90 * (3 * u**2 - 2 * u**3), atol=1e-9)
    # Level all the way, and no turn ever goes back within a leg.
    assert np.abs(rows[:, 5]).max() < 1e-9
    for a, b in ((5, 45), (55, 85), (85, 109)):
        for k in (3, 4):
            steps = np.diff(rows[a : b + 1, k])
            assert (steps >= -1e-12).all() or (steps <= 1e-12).all()


def test_swung_round_somebody_it_keeps_the_distance_it_has_in_common():
    scene = perched(("one", "four"))
    centre = Bake(scene).place(OnFigure(figure="fig-bram", joint="root"), scene.frames.array())
    bram = {"kind": "figure", "figure": "fig-bram", "joint": "root"}
    scene, _ = flying(scene, [("one", {}), ("four", {"frames": 48, "feel": "constant", "round": bram})])
    gap = (pose(scene)[:, [0, 2]] - centre[:, [0, 2]])[9:58]
    far, bearing = np.hypot(*gap.T), np.degrees(np.unwrap(np.arctan2(*gap.T)))
    np.testing.assert_allclose(far, np.linspace(far[0], far[-1], 49), atol=1e-6)
    np.testing.assert_allclose(np.diff(bearing), (bearing[-1] - bearing[0]) / 48, atol=1e-4)
    assert abs(bearing[-1] - bearing[0]) < 180


def test_a_perch_rides_level_with_the_heading_of_what_carries_it():
    scene = perched(("one",))
    was = pose_of(scene)[49]
    scene, said = do(scene, kind="perch.set", perch="per-one", rides=ODILE, frame=1050)
    assert said == "The perch “one” rides on Odile"
    rows = pose_of(scene)
    np.testing.assert_allclose(rows[49], was, atol=1e-5)
    bake = Bake(scene)
    track = bake.track(OnFigure(figure="fig-odile", joint="root"))
    # In her own frame it stays where it is: scipy turns it back by her heading.
    own = (
        Rotation.from_euler("Y", track.heading[:, None], degrees=True).inv().apply(rows[:, :3] - track.place)
    )
    assert np.ptp(own, axis=0).max() < 1e-6 and np.ptp(rows[:, 3] - track.heading) < 1e-9
    assert np.ptp(rows[:, 4]) == 0
    # Moved at a frame, in stage terms; then it stands where it is.
    moved, _ = do(scene, kind="perch.set", perch="per-one", x=1.0, z=-9.0, frame=1100)
    np.testing.assert_allclose(pose_of(moved)[99, [0, 2]], [1.0, -9.0], atol=1e-5)
    np.testing.assert_allclose(pose_of(moved)[99, [1, 3, 4]], rows[99, [1, 3, 4]], atol=1e-5)
    stands, _ = do(scene, kind="perch.set", perch="per-one", stands=True, frame=1100)
    np.testing.assert_allclose(pose_of(stands), np.tile(rows[99], (len(rows), 1)), atol=1e-5)
    # She goes: it stays where it was, and that is said.
    gone, said = do(scene, kind="things.delete", ids=["fig-odile"])
    assert "one stays where it was" in said and gone.perches[0].rides is None
    np.testing.assert_allclose(pose_of(gone)[0], rows[0], atol=1e-5)


def pose_of(scene, name="per-one"):
    perch = next(p for p in scene.perches if p.id == name)
    return Bake(scene).rows(perch, scene.frames.array())[:, :6]


def test_a_flight_follows_its_perches_and_is_kept_as_keys_when_one_goes():
    scene, _ = do(
        perched(), kind="rig.fly", camera="cam-a", perches=["per-one", "per-two", "per-three"], frame=1010
    )
    assert [leg.frames for leg in scene.cameras[0].layers[0].legs] == [48] * 3
    moved, _ = do(scene, kind="perch.set", perch="per-two", y=9.0)
    assert pose(moved)[9 + 48, 1] == pytest.approx(9.0) and pose(scene)[9 + 48, 1] == pytest.approx(3.0)
    gone, said = do(scene, kind="things.delete", ids=["per-two"])
    assert gone.cameras[0].layers == () and "what it did to camera A is keys now" in said
    np.testing.assert_allclose(pose(gone)[:, :3], pose(scene)[:, :3], atol=2e-3)
    with pytest.raises(HeronError, match="two different perches"):
        do(scene, kind="rig.fly", camera="cam-a", perches=["per-one", "per-one"], frame=1010)


def test_a_camera_goes_to_a_perch_with_its_lens_and_rings_are_refused():
    scene = perched(("one", "two"))
    view = {"x": 0, "y": 2, "z": -5, "focal": 50}
    scene, said = do(scene, kind="perch.add", id="per-lens", view=view, frame=1001)
    assert said == "Saved this view as the perch “Perch 1”"
    go = {"kind": "camera.move", "camera": "cam-a", "what": "view", "perch": "per-lens", "first": 1010}
    after, said = do(scene, **go)
    assert said == "Camera A goes to the perch “Perch 1”"
    assert (after.cameras[0].y.rest, after.cameras[0].focal.rest) == (2.0, 50.0)
    # The focus is left alone where none was kept; kept, it comes along: at once, racked over a move, or with a jump.
    assert after.cameras[0].focus == scene.cameras[0].focus
    sharp, _ = do(scene, kind="perch.set", perch="per-lens", focus_m=2.5)
    assert do(sharp, **go)[0].cameras[0].focus.on.metres == 2.5
    (rack,) = do(sharp, **go, last=1034)[0].cameras[0].focus.marks
    assert (rack.frame, rack.over, rack.on.metres, rack.shape) == (1034, 24, 2.5, "eased")
    jumped, _ = do(sharp, kind="camera.jump", camera="cam-a", frame=1050, perch="per-lens")
    (rack,) = jumped.cameras[0].focus.marks
    assert (rack.frame, rack.over) == (1050, 0)
    focal = evaluate(jumped.cameras[0].focal, np.array([1049, 1050]))
    assert list(focal) == [35, 50]
    bare_, _ = do(sharp, kind="perch.set", perch="per-lens", bare=True)
    assert do(bare_, **go)[0].cameras[0].focus == scene.cameras[0].focus and bare_.perches[-1].focal is None
    after, _ = do(scene, **go, last=1034)
    assert [k.frame for k in after.cameras[0].y.keys] == [1010, 1034]
    with pytest.raises(HeronError, match="already a perch called One"):
        do(scene, kind="perch.add", name="One", view=view, frame=1001)
    scene, _ = do(scene, kind="perch.set", perch="per-one", rides={"kind": "perch", "perch": "per-two"})
    with pytest.raises(HeronError, match="each would wait for the other"):
        do(scene, kind="perch.set", perch="per-two", rides={"kind": "perch", "perch": "per-one"})
    with pytest.raises(HeronError, match="Nothing about the perch"):
        do(scene, kind="perch.set", perch="per-two")
