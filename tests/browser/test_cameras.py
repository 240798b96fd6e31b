"""Cameras by hand: made from the rover, placed in three ways, keyed on purpose."""

import io
import json
import subprocess
import sys

import numpy as np
import pytest
from PIL import Image

from heron.scene import Scene, write_scene


def camera(desk, letter):
    return next(c for c in desk.scene()["cameras"] if c["letter"] == letter)


def test_a_camera_made_from_the_rover_sees_what_was_seen_and_is_named_in_place(desk):
    """The rover's view looks down 14° through 36° upright: 20.25 mm of film back is 31.16 mm of lens, by hand."""
    desk.page.get_by_role("tab", name="Rover").click()
    desk.page.get_by_role("button", name="New camera", exact=True).click()
    desk.name_camera("Whole jetty from shore")
    made = camera(desk, "J")
    assert made["name"] == "Whole jetty from shore"
    assert (made["tilt"]["rest"], made["roll"]["rest"], made["x"]["keys"]) == (-14, 0, [])
    assert made["focal"]["rest"] == pytest.approx(31.16, abs=0.01) and made["mounted"] == "lens-zoom"
    desk.page.keyboard.press("Shift+L")
    desk.kept()
    assert camera(desk, "J")["tilt"]["rest"] == 0
    assert desk.page.get_by_role("tab", name="Camera J").get_attribute("aria-selected") == "true"
    assert "Whole jetty from shore" in desk.page.get_by_test_id("caption").inner_text()


def test_three_ways_to_place_a_camera_agree(desk):
    page = desk.page
    page.get_by_role("tab", name="Camera A").click()
    before = camera(desk, "A")
    # Typed.
    desk.type("Across", -6.5)
    assert camera(desk, "A")["x"]["rest"] == -6.5
    # Dragged on the plan: the card reads what the document holds.
    desk.drag(desk.centre("[data-camera=A] rect"), (0, 24))
    moved = camera(desk, "A")
    assert moved["z"]["rest"] > before["z"]["rest"] + 0.5
    assert float(desk.field("Along").input_value()) == pytest.approx(moved["z"]["rest"], abs=0.006)
    # The wedge's edge turns it and moves nothing.
    line = page.locator("[data-edge=A]").first
    x2, y2 = (float(line.get_attribute(a)) for a in ("x2", "y2"))
    sheet = page.get_by_test_id("plan").bounding_box()
    x1, y1 = (float(line.get_attribute(a)) for a in ("x1", "y1"))
    desk.drag((sheet["x"] + (x1 + x2) / 2, sheet["y"] + (y1 + y2) / 2), (10, 14))
    turned = camera(desk, "A")
    assert turned["pan"]["rest"] != moved["pan"]["rest"]
    assert (turned["x"]["rest"], turned["z"]["rest"]) == (moved["x"]["rest"], moved["z"]["rest"])
    # Flown in the viewfinder: a drag to the right turns it left; the wheel dollies along its axis.
    frame = page.get_by_test_id("frame").bounding_box()
    middle = (frame["x"] + frame["width"] / 2, frame["y"] + frame["height"] / 2)
    desk.drag(middle, (60, 0))
    flown = camera(desk, "A")
    assert flown["pan"]["rest"] > turned["pan"]["rest"] + 1
    page.mouse.move(*middle)
    desk.wheel(-200)
    dollied = camera(desk, "A")
    way = np.array([dollied[a]["rest"] - flown[a]["rest"] for a in "xz"])
    pan = np.radians(dollied["pan"]["rest"])
    ahead = np.array([-np.sin(pan), -np.cos(pan)])
    assert way @ ahead == pytest.approx(np.linalg.norm(way), rel=1e-3) and np.linalg.norm(way) > 0.3


def test_keys_are_set_on_purpose_and_an_unsaved_move_can_be_kept_shifted_or_dropped(desk):
    page = desk.page
    page.get_by_role("tab", name="Camera A").click()
    desk.go(1100)
    page.keyboard.press("k")
    desk.kept()
    desk.go(1150)
    assert [k["frame"] for k in camera(desk, "A")["x"]["keys"]] == [1100]
    desk.type("Across", -6.0)
    bar = page.get_by_test_id("unsaved")
    assert "Camera A moved at 1150, not saved" in bar.inner_text()
    assert [k["frame"] for k in camera(desk, "A")["x"]["keys"]] == [1100]
    assert float(desk.field("Across").input_value()) == -6.0
    # It stays unsaved through a reload, and is dropped.
    desk.open("?look=A&frame=1150")
    bar.wait_for()
    bar.get_by_role("button", name="Drop").click()
    assert float(desk.field("Across").input_value()) == pytest.approx(-8.0)
    # Kept as a key.
    desk.type("Across", -6.0)
    bar.get_by_role("button", name="Keep as key").click()
    desk.kept()
    assert [(k["frame"], k["value"]) for k in camera(desk, "A")["x"]["keys"]] == [(1100, -8.0), (1150, -6.0)]
    # The whole path moved.
    desk.type("Height", 2.75)
    bar.get_by_role("button", name="Move whole path").click()
    desk.kept()
    assert [k["value"] for k in camera(desk, "A")["y"]["keys"]] == pytest.approx([2.75, 2.75])
    # Held, straight or eased.
    page.get_by_label("Goes out at 1100").select_option("straight")
    desk.kept()
    assert {camera(desk, "A")[c]["keys"][0]["after"] for c in ("x", "y", "z", "pan")} == {"straight"}


def test_hide_lock_duplicate_and_delete_with_its_shots_named(desk):
    page = desk.page
    page.get_by_role("tab", name="Camera B").click()
    page.get_by_role("button", name="Lock against changes").click()
    desk.kept()
    assert desk.field("Focal length").is_disabled()
    page.get_by_role("button", name="Unlock").click()
    page.get_by_role("button", name="Hide on the stage").click()
    desk.kept()
    assert page.locator("[data-camera=B]").count() == 0
    page.get_by_role("button", name="Duplicate with its keys").click()
    desk.kept()
    assert camera(desk, "J")["name"] == "Odile over Bram, copy"
    page.get_by_role("tab", name="Camera B").click()
    page.get_by_role("button", name="Delete", exact=True).click()
    assert "a gap in place of shot 020" in page.get_by_role("dialog").inner_text()
    before = desk.scene()
    page.get_by_role("button", name="Delete it").click()
    page.wait_for_selector("[data-gap='030']")
    assert [c["letter"] for c in desk.scene()["cameras"]] == ["A", "C", "D", "E", "F", "G", "H", "I", "J"]
    page.keyboard.press("Control+z")
    page.wait_for_selector("[data-shot='020']")
    assert desk.scene() == before


def test_the_frame_has_the_delivery_aspect(desk):
    page = desk.page
    page.get_by_role("tab", name="Camera A").click()
    page.keyboard.press("Escape")
    for label, aspect in (("2.39", 2.39), ("9:16", 9 / 16)):
        page.get_by_test_id("scene-card").get_by_role("button", name=label, exact=True).click()
        desk.kept()
        box = desk.steady(page.get_by_test_id("frame"))
        assert box["width"] / box["height"] == pytest.approx(aspect, rel=0.006)
    field = page.get_by_label("Or type one, as 2:1 or 1.66")
    field.fill("nothing")
    field.press("Enter")
    assert "is not a delivery aspect" in page.get_by_role("alert").inner_text()
    field.fill("2:1")
    field.press("Enter")
    page.get_by_text("1001–1320 · 2:1").wait_for()
    assert desk.scene()["delivery"] == {"label": "2:1", "aspect": 2.0}


@pytest.mark.refined
@pytest.mark.parametrize(
    ("letter", "frame", "joint"), [("A", 1140, "head"), ("B", 1212, "wrist_r"), ("A", 1130, "ball_l")]
)
def test_a_joint_is_drawn_where_the_core_projects_it(desk, tmp_path, letter, frame, joint):
    page = desk.page
    page.keyboard.press(str("ABCD".index(letter) + 1))
    desk.go(frame)
    page.locator("[data-figure=Odile] text").click()
    page.get_by_label("Joint", exact=True).select_option(joint)
    desk.refined(16)
    box = page.get_by_test_id("frame").bounding_box()
    picture = np.asarray(Image.open(io.BytesIO(page.screenshot(clip=box))).convert("RGB")).astype(int)
    dot = (picture[..., 0] > 225) & (picture[..., 1] < 60) & (picture[..., 2] > 225)
    assert dot.sum() > 2
    y, x = np.argwhere(dot).mean(0) + 0.5
    path = tmp_path / "scene.json"
    path.write_text(write_scene(Scene.model_validate(desk.scene())))
    # Asked at ten times the size, then scaled: the size must fit the aspect to the pixel.
    out = subprocess.run(
        [sys.executable, "-m", "heron.cli", "project", str(path), "--camera", letter, "--frame", str(frame),
         "--size", "1920x1080", "--joint", f"Odile/{joint}"], capture_output=True, text=True, check=True,
    )  # fmt: skip
    core = json.loads(out.stdout)
    assert (x, y) == pytest.approx(
        (core["x"] / 1920 * box["width"], core["y"] / 1080 * box["height"]), abs=2.0
    )
