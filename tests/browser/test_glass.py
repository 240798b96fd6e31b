"""Lenses on the desk: the blur that is drawn, focus by pointing, racks, sizes kept, lines over the frame."""

import io
import math
import re

import numpy as np
import pytest
from harness import Desk
from PIL import Image
from scipy.spatial import ConvexHull
from thin_lens import traced_blur

from heron.bake import Bake
from heron.framing import project
from heron.optics import blur_mm
from heron.scene import Scene, find
from heron.timebase import Frames


def through(desk, letter, frame):
    desk.page.get_by_role("tab", name=f"Camera {letter}").click()
    desk.go(frame)
    desk.kept()


def camera(desk, letter):
    return next(c for c in desk.scene()["cameras"] if c["letter"] == letter)


def canvas_point(desk, letter, frame, place):
    """Where on the page a camera's picture shows a place, by the core."""
    scene = Scene.model_validate(desk.scene())
    one = next(c for c in scene.cameras if c.letter == letter)
    seen = project(Bake(scene).samples(one, Frames(first=frame, last=frame)), np.array([place]))
    box = desk.page.get_by_test_id("frame").bounding_box()
    return box["x"] + (seen.x[0] + 1) / 2 * box["width"], box["y"] + (1 - seen.y[0]) / 2 * box["height"]


def dark_stage(server, blades, light_at=8.0):
    """A small white box before a black wall, through a wide-open lens focused nearer."""
    scene = server.call("POST", "/api/scenes", {"name": "Dark", "rate": "24", "delivery": "16:9"})
    commands = [
        {"kind": "lens.add", "id": "long", "name": "Test", "shortest_mm": 85, "widest": 1.4, "blades": blades},
        {"kind": "camera.add", "id": "cam", "name": "Dark", "focal": 85, "pose": {"x": 0, "y": 1.5, "z": 0}},
        {"kind": "camera.mount", "camera": "cam", "lens": "long"},
        {"kind": "camera.glass", "camera": "cam", "aperture": 1.4, "exposure": -1, "hold": "nothing"},
        {"kind": "scene.set", "fill": 0, "rim": 0},
        {"kind": "focus.set", "camera": "cam", "on": {"kind": "distance", "metres": 2.5}},
        {"kind": "piece.add", "id": "wall", "shape": "backdrop", "name": "Wall", "x": 0, "z": -light_at - 0.5, "width": 20, "depth": 0.1, "height": 20, "base": -5, "colour": "#000000"},
        {"kind": "piece.add", "id": "spot", "shape": "box", "name": "Spot", "x": 0, "z": -light_at, "width": 0.02, "depth": 0.02, "height": 0.02, "base": 1.49, "colour": "#ffffff"},
    ]  # fmt: skip
    for seen, command in enumerate(commands):
        server.call("POST", f"/api/scenes/{scene['id']}/commands", {"seen": seen, "command": command})
    return scene["id"]


def light(desk):
    """The picture in linear light (IEC 61966-2-1)."""
    shown = Image.open(io.BytesIO(desk.page.locator("canvas[data-ready]").screenshot())).convert("L")
    v = np.asarray(shown) / 255
    return np.where(v <= 0.04045, v / 12.92, ((v + 0.055) / 1.055) ** 2.4)


@pytest.mark.refined
def test_the_blur_of_a_point_of_light_is_the_lenss_own(server, page):
    desk = Desk(server, page, dark_stage(server, blades=0)).open("?look=A&frame=1001")
    desk.refined(64)
    picture = light(desk)
    assert picture.max() < 0.99  # nothing clipped, so the light can be weighed
    per_mm = picture.shape[1] / 36.0
    spot = 0.02 / 8.0 * 85 * per_mm
    formula = blur_mm(*(np.array([v]) for v in (85.0, 1.4, 1 / 2.5, 1 / 8.0)))[0] * per_mm
    traced = traced_blur(85.0, 1.4, 2.5, 8.0) * per_mm
    for axis in (0, 1):
        weight = picture.sum(axis=1 - axis)
        at = np.arange(len(weight))
        middle = np.average(at, weights=weight)
        spread = np.average((at - middle) ** 2, weights=weight) - spot**2 / 12
        drawn = 4 * np.sqrt(spread)  # an even disc's diameter is four times its standard deviation
        assert drawn == pytest.approx(formula, rel=0.05, abs=1)
        assert drawn == pytest.approx(traced, rel=0.05, abs=1)
        assert middle == pytest.approx((len(weight) - 1) / 2, abs=1)


@pytest.mark.refined
def test_the_blades_shape_the_blur(server, page):
    desk = Desk(server, page, dark_stage(server, blades=3)).open("?look=A&frame=1001")
    desk.refined(64)
    bright = light(desk) > 0.01
    diameter = blur_mm(*(np.array([v]) for v in (85.0, 1.4, 1 / 2.5, 1 / 8.0)))[0] * bright.shape[1] / 36
    # A triangle with its corners on the disc fills 3·√3/(4·π) of it, 41 %; a disc would fill it all.
    hull = ConvexHull(np.argwhere(bright))
    spot = 0.02 / 8.0 * 85 * bright.shape[1] / 36
    own = hull.volume - hull.area * spot / 2  # less what the spot's own size adds round the edge
    assert own / (np.pi * diameter**2 / 4) == pytest.approx(3 * np.sqrt(3) / (4 * np.pi), abs=0.09)


def test_focus_and_rack_by_pointing(desk):
    page = desk.page
    through(desk, "A", 1150)
    scene = Scene.model_validate(desk.scene())
    bram = find(scene, "figures", "fig-bram")
    head = Bake(scene).performance(bram).landmark("head")[149] + [0, 0.08, 0]
    page.keyboard.press("g")
    page.mouse.click(*canvas_point(desk, "A", 1150, head))
    desk.kept()
    focus = camera(desk, "A")["focus"]
    assert focus["on"] == {"kind": "figure", "figure": "fig-bram", "joint": "eyes"} and not focus["marks"]
    assert "Bram's eyes" in page.get_by_test_id("focused-on").inner_text()
    # The first thing at one frame, the second at another: one rack, seen in the caption and undone in one step.
    desk.go(1170)
    page.keyboard.press("Shift+G")
    page.locator("[data-mover='Rowing boat']").click()
    desk.kept()
    (mark,) = camera(desk, "A")["focus"]["marks"]
    assert (mark["frame"], mark["over"], mark["on"]["mover"]) == (1170, 12, "mov-boat")
    assert "Rowing boat" in page.get_by_test_id("caption").inner_text()
    page.keyboard.press("Control+z")
    desk.kept()
    assert camera(desk, "A")["focus"]["marks"] == []
    page.keyboard.press("g")
    page.mouse.click(*desk.centre("[data-piece='Crate']"))
    desk.kept()
    assert camera(desk, "A")["focus"]["on"]["kind"] == "piece"
    assert "Crate" in page.get_by_test_id("focused-on").inner_text()
    # And in the picture: the jetty under where he stands.
    page.keyboard.press("g")
    page.mouse.click(*canvas_point(desk, "A", 1170, [0.15, 0.55, -9.0]))
    desk.kept()
    on = camera(desk, "A")["focus"]["on"]
    assert (on["kind"], on["up"]) == ("piece", pytest.approx(1, abs=0.01))


def test_a_wider_stop_than_the_lens_has_is_refused_where_it_was_typed_or_forced(desk):
    page = desk.page
    through(desk, "B", 1200)
    desk.type("Stop", 1.0)
    assert "opens to f/1.4" in page.get_by_role("alert").first.inner_text()
    assert desk.field("Stop").input_value() == "1.0"
    assert camera(desk, "B")["aperture"]["rest"] == pytest.approx(2 * math.log2(2.8))
    page.get_by_role("button", name="Force it").click()
    desk.kept()
    assert camera(desk, "B")["aperture"]["rest"] == 0.0  # f/1
    page.get_by_text("Forced: the 50 mm opens to f/1.4, not to f/1.").wait_for()


def test_infinity_is_typed_and_read(desk):
    through(desk, "A", 1100)
    desk.type("Distance", "inf")
    assert camera(desk, "A")["focus"]["on"] == {"kind": "distance", "metres": None}
    assert desk.field("Distance").input_value() == "∞"
    assert "∞" in desk.page.get_by_test_id("depth").inner_text()


def test_a_longer_lens_by_a_key_keeps_the_size_and_compare_says_what_it_does(desk):
    page = desk.page
    through(desk, "E", 1215)
    before = camera(desk, "E")
    page.keyboard.press(">")
    desk.kept()
    now = camera(desk, "E")
    assert (now["focal"]["rest"], now["mounted"]) == (65, "lens-65")
    assert now["x"]["rest"] != before["x"]["rest"]
    page.keyboard.press(",")
    desk.kept()
    assert camera(desk, "E")["x"] == now["x"] and camera(desk, "E")["focal"]["rest"] == 50
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    desk.kept()
    page.keyboard.press("l")
    page.wait_for_selector("[data-testid=compared]")
    told = page.get_by_test_id("compared").all_inner_texts()
    assert len(told) == 3 and all("from Odile's head" in text for text in told)
    metres = [float(re.search(r"([\d.]+) m from", text)[1]) for text in told]
    # The size is kept, so the distance goes as the focal length: similar triangles.
    assert metres[2] / metres[1] == pytest.approx(2, rel=0.03)
    page.get_by_role("button", name="Use it").nth(2).click()
    desk.kept()
    assert camera(desk, "E")["mounted"] == "lens-100"
    assert page.get_by_test_id("compared").count() == 0


def test_lines_are_a_key_away_and_remembered(desk):
    page = desk.page
    through(desk, "A", 1100)
    frame = page.get_by_test_id("frame").bounding_box()
    page.keyboard.press("t")
    page.keyboard.press("a")
    page.locator("[data-line='Safe title']").first.wait_for(state="attached")
    label = page.get_by_text("Safe action").bounding_box()
    # SMPTE ST 2046-1: 93 % of the width, so 3.5 % in.
    assert label["x"] - frame["x"] == pytest.approx(0.035 * frame["width"], abs=1.5)
    page.reload()
    page.wait_for_selector("canvas[data-ready]")
    page.locator("[data-line='Thirds']").first.wait_for(state="attached")
    page.keyboard.press("t")
    assert page.locator("[data-line='Thirds']").count() == 0
    # These tests run with pictures that are not refined; one press has it done.
    assert page.locator("canvas[data-drawings='0']").count() == 1
    page.get_by_role("button", name="Guides").click()
    page.get_by_label("Refine the picture once it rests").check()
    page.keyboard.press("Escape")
    desk.refined(16)
    page.keyboard.press("o")
    page.get_by_test_id("outside").wait_for()
    inside = desk.steady(page.get_by_test_id("frame"))
    canvas = page.locator("canvas[data-ready]").bounding_box()
    # The back is 36 × 24, the frame on it 36 × 20.25.
    assert canvas["height"] / inside["height"] == pytest.approx(24 / 20.25, abs=0.01)
    assert inside["width"] / inside["height"] == pytest.approx(16 / 9, abs=0.01)


def test_the_kit_is_changed_and_kept_for_new_scenes(desk):
    page = desk.page
    page.get_by_role("button", name="Slack Tide").click()
    page.get_by_role("button", name="Change", exact=True).click()
    page.get_by_role("button", name="Prime").click()
    desk.kept()
    assert "28 mm" in [lens["name"] for lens in desk.scene()["lenses"]]
    page.get_by_role("button", name="Keep for the production").click()
    page.get_by_text("New scenes of this production").wait_for()
    made = desk.server.call("POST", "/api/scenes", {"name": "Next", "rate": "24", "delivery": "16:9"})
    assert "28 mm" in [lens["name"] for lens in made["scene"]["lenses"]]


def test_focal_length_is_keyed_by_its_diamond_and_only_then(desk):
    page = desk.page
    through(desk, "A", 1100)
    page.get_by_label("Set a key on the focal length at 1100").click()
    desk.kept()
    desk.go(1140)
    desk.type("Focal length", 50)
    assert "has keys on its focal length" in page.get_by_role("alert").first.inner_text()
    page.get_by_role("button", name="Set a key at 1140").click()
    desk.kept()
    keys = camera(desk, "A")["focal"]["keys"]
    assert [(k["frame"], k["value"]) for k in keys] == [(1100, 32), (1140, 50)]
    desk.go(1120)
    assert desk.field("Focal length").input_value() == "41.0"


def test_a_dragged_number_is_kept_when_the_hand_lets_go(desk):
    through(desk, "A", 1100)
    label = desk.steady(desk.page.locator("label", has_text="Distance"))
    start = (label["x"] + 5, label["y"] + label["height"] / 2)
    before = float(desk.field("Distance").input_value())
    desk.drag(start, (50, 0))
    on = camera(desk, "A")["focus"]["on"]
    # A pixel is 2 cm.
    assert on["kind"] == "distance" and on["metres"] == pytest.approx(before + 1.0, abs=0.011)
    stop = desk.steady(desk.page.locator("label", has_text="Stop").first)
    desk.drag((stop["x"] + 5, stop["y"] + 8), (24, 0))
    # Four pixels are a third of a stop: two stops from f/5.6 are f/11.2.
    assert camera(desk, "A")["aperture"]["rest"] == pytest.approx(2 * math.log2(11.2), abs=0.02)
