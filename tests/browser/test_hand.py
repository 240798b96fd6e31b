"""The hand in the picture: what is grabbed stays under the pointer, and bodies go where they are carried."""

import math

import cv2
import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from heron.bake import Bake, ResultCache
from heron.optics import field_of_view
from heron.scene import Scene
from heron.stage.rays import meets


def pose(desk, letter="A", frame=1100):
    """A camera's row of samples as the core bakes what the server keeps."""
    scene = Scene.model_validate(desk.scene())
    camera = next(c for c in scene.cameras if c.letter == letter)
    return scene, Bake(scene, ResultCache()).samples(camera).at(frame)


def lens(scene, row, box, letter="A"):
    """OpenCV's camera for a frame on the screen: matrix, rotation vector, translation."""
    camera = next(c for c in scene.cameras if c.letter == letter)
    across, _, _ = field_of_view(camera.lens, scene.delivery.aspect, np.array([row["focal_mm"]]))[0]
    focal = box["width"] / 2 / math.tan(math.radians(across) / 2)
    matrix = np.array(
        [[focal, 0, box["x"] + box["width"] / 2], [0, focal, box["y"] + box["height"] / 2], [0, 0, 1]]
    )
    # OpenCV looks along +Z with +Y down.
    turn = Rotation.from_euler("YXZ", [row["pan"], row["tilt"], row["roll"]], degrees=True)
    view = np.diag([1.0, -1.0, -1.0]) @ turn.inv().as_matrix()
    place = np.array([row["x"], row["y"], row["z"]])
    return matrix, cv2.Rodrigues(view)[0], -view @ place


def seen(lens_, point):
    matrix, turn, shift = lens_
    return cv2.projectPoints(np.array([point], dtype=np.float64), turn, shift, matrix, None)[0].reshape(2)


def grabbed(desk, box):
    """A place on the front of the post farthest to the left in camera A, and where it is on the screen."""
    scene, row = pose(desk)
    eye = np.array([row["x"], row["y"], row["z"]])
    posts = [p for p in scene.pieces if p.kind == "post"]
    best = None
    for post in posts:
        way = np.array([post.x, post.base + 0.7 * post.height, post.z]) - eye
        far = meets(post, eye, way)
        others = [meets(p, eye, way) for p in scene.pieces if p is not post]
        if far is None or any(other is not None and other < far for other in others):
            continue
        at = seen(lens(scene, row, box), eye + far * way)
        inside = box["x"] + 30 < at[0] < box["x"] + box["width"] - 150
        if (
            inside
            and box["y"] + 60 < at[1] < box["y"] + box["height"] - 80
            and (best is None or at[0] < best[1][0])
        ):
            best = eye + far * way, at
    return best


@pytest.mark.parametrize(
    ("button", "keys", "kept"),
    [
        ("left", [], {"x", "y", "z", "roll"}),
        ("left", ["Shift"], {"pan", "tilt", "roll"}),
        ("right", [], {"roll"}),
    ],
    ids=["looks", "slides", "goes round"],
)
def test_what_is_grabbed_stays_under_the_pointer(desk, button, keys, kept):
    """OpenCV projects the grabbed place through the kept pose: within 3 px of where the hand let go."""
    page = desk.page
    page.keyboard.press("1")
    desk.go(1100)
    box = desk.steady(page.get_by_test_id("frame"))
    point, at = grabbed(desk, box)
    _, before = pose(desk)
    by = (60, 34)
    for key in keys:
        page.keyboard.down(key)
    desk.drag(tuple(at), by, button=button)
    for key in keys:
        page.keyboard.up(key)
    scene, after = pose(desk)
    # Going round, what is held stays where it is; else it goes with the hand.
    wanted = at if button == "right" else at + np.array(by)
    assert np.linalg.norm(seen(lens(scene, after, box), point) - wanted) < 3
    for name in ("x", "y", "z", "pan", "tilt", "roll"):
        assert (after[name] == before[name]) == (name in kept), name
    if button == "right":
        far = [math.dist([row["x"], row["y"], row["z"]], point) for row in (before, after)]
        assert far[0] == pytest.approx(far[1], abs=2e-3)


def test_the_wheel_goes_nearer_to_what_is_under_it_and_alt_is_finer(desk):
    page = desk.page
    page.keyboard.press("1")
    desk.go(1100)
    box = desk.steady(page.get_by_test_id("frame"))
    point, at = grabbed(desk, box)
    page.mouse.move(*at)
    _, row = pose(desk)
    far = [math.dist([row["x"], row["y"], row["z"]], point)]
    for alt in (False, True):
        if alt:
            page.keyboard.down("Alt")
        desk.wheel(-240)
        scene, row = pose(desk)
        assert np.linalg.norm(seen(lens(scene, row, box), point) - at) < 3
        far.append(math.dist([row["x"], row["y"], row["z"]], point))
    page.keyboard.up("Alt")
    # Each step goes by ratio, and a tenth of a turn by a tenth of its logarithm.
    assert far[1] < far[0]
    assert math.log(far[1] / far[0]) / math.log(far[2] / far[1]) == pytest.approx(10, rel=0.02)


def test_escape_in_mid_drag_leaves_the_camera_where_it_was(desk):
    page = desk.page
    page.keyboard.press("1")
    desk.go(1100)
    box = desk.steady(page.get_by_test_id("frame"))
    before = desk.scene()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 50, y + 10, steps=4)
    page.keyboard.press("Escape")
    page.mouse.up()
    assert desk.scene() == before


def test_a_body_in_the_rovers_picture_is_carried_over_the_floor(desk):
    page = desk.page
    desk.go(1001)
    page.mouse.click(*desk.centre("[data-figure=Odile] circle"))
    page.keyboard.press("f")
    page.keyboard.press("Escape")
    desk.kept()
    before = {f["id"]: (f["x"], f["z"]) for f in desk.scene()["figures"]}
    mat = page.get_by_test_id("mat").bounding_box()
    # She stands in the middle of the picture now.
    desk.drag((mat["x"] + mat["width"] / 2, mat["y"] + mat["height"] / 2), (40, 0))
    after = {f["id"]: (f["x"], f["z"]) for f in desk.scene()["figures"]}
    assert after["fig-bram"] == before["fig-bram"]
    (x0, z0), (x1, z1) = before["fig-odile"], after["fig-odile"]
    # The rover looks from 35° to the left of −Z, so its right is 35° from +X; she is carried along it, in steps of 5 cm.
    assert math.degrees(math.atan2(z0 - z1, x1 - x0)) == pytest.approx(35, abs=12)
    assert 0.1 < math.hypot(x1 - x0, z1 - z0) < 0.6


def test_a_body_is_turned_with_ctrl_and_lifted_with_shift(desk):
    page = desk.page
    desk.go(1001)
    page.mouse.click(*desk.centre("[data-figure=Bram] circle"))
    page.keyboard.press("f")
    desk.kept()
    mat = page.get_by_test_id("mat").bounding_box()
    middle = (mat["x"] + mat["width"] / 2, mat["y"] + mat["height"] / 2)
    before = desk.scene()["figures"][1]
    page.keyboard.down("Control")
    desk.drag(middle, (50, 0))
    page.keyboard.up("Control")
    after = desk.scene()["figures"][1]
    assert after["heading"] == pytest.approx(before["heading"] + 30, abs=0.6)
    assert (after["x"], after["z"]) == pytest.approx((before["x"], before["z"]), abs=1e-6)
    # The boat is lifted upright, and nothing of its place on the floor changes.
    page.get_by_label("Ground plan of the stage").focus()
    page.keyboard.press("PageDown")
    page.keyboard.press("PageDown")
    page.get_by_test_id("mover-card").wait_for()
    page.keyboard.press("f")
    desk.kept()
    was = desk.scene()["movers"]
    page.keyboard.down("Shift")
    desk.drag(middle, (20, -40))
    page.keyboard.up("Shift")
    now = desk.scene()["movers"]
    moved = [i for i in range(2) if now[i]["y"] != was[i]["y"]]
    assert len(moved) == 1
    i = moved[0]
    assert now[i]["y"]["keys"][0]["value"] > was[i]["y"]["keys"][0]["value"] and now[i]["x"] == was[i]["x"]
