"""Rigs on the desk: whom by pointing, the sentence, placements dragged in the picture."""

import numpy as np

from heron.bake import Bake, ResultCache
from heron.framing import project
from heron.scene import Scene, find_named
from heron.stage.reference import OnFigure


def put_on(desk, does, *at):
    desk.page.get_by_role("button", name="Add a layer").click()
    desk.page.get_by_role("menuitem", name=does).click()
    desk.page.mouse.click(*at)
    desk.kept()


def layers(desk, letter="B"):
    return next(c for c in desk.scene()["cameras"] if c["letter"] == letter)["layers"]


def seen(desk, letter, frame, joint="head"):
    """Where the core has Odile's head in a camera's frame, −1…1."""
    scene = Scene.model_validate(desk.scene())
    bake = Bake(scene, ResultCache())
    head = bake.place(OnFigure(figure="fig-odile", joint=joint), scene.frames.array())
    found = project(bake.samples(find_named(scene, "cameras", letter)), head)
    i = frame - scene.frames.first
    return np.array([found.x[i], found.y[i]])


def test_a_camera_watches_and_follows_whom_is_pointed_at_and_stays_where_it_is(desk):
    page = desk.page
    desk.go(1120)
    page.keyboard.press("2")
    page.get_by_role("button", name="Odile over Bram").last.click()
    before = seen(desk, "B", 1120)
    put_on(desk, "Follow…", *desk.centre("[data-figure=Odile] ellipse"))
    put_on(desk, "Watch…", *desk.centre("[data-figure=Odile] ellipse"))
    trail, aim = layers(desk)
    assert (trail["kind"], trail["of"]["joint"], aim["kind"], aim["at"][0]["joint"]) == (
        "trail",
        "root",
        "aim",
        "head",
    )
    np.testing.assert_allclose(seen(desk, "B", 1120), before, atol=1e-6)
    np.testing.assert_allclose(seen(desk, "B", 1050), before, atol=1e-6)
    rig = page.get_by_test_id("rig").inner_text()
    assert "Follows Odile" in rig and "Watches Odile's head" in rig
    assert (
        page.locator("[data-layer=trail]").count() == 1 and page.locator("[data-watches=B] path").count() == 1
    )
    # Undone, the camera goes by its keys again.
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    desk.kept()
    assert layers(desk) == []


def test_what_is_watched_is_dragged_to_a_third_and_by_the_keyboard(desk):
    page = desk.page
    desk.go(1100)
    page.keyboard.press("7")
    page.get_by_role("button", name="Odile from the side").last.click()
    ring = page.get_by_role("button", name="Placement of what camera G watches")
    frame = page.get_by_test_id("frame").bounding_box()
    box = desk.steady(ring)
    start = (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    np.testing.assert_allclose(start[0], frame["x"] + frame["width"] * 2 / 3, atol=1.5)
    # Nearly to the left third and the middle: it snaps on to them.
    desk.drag(start, (-frame["width"] / 3 + 3, frame["height"] / 6 - 2))
    np.testing.assert_allclose(seen(desk, "G", 1100), [-1 / 3, 0.0], atol=1e-3)
    np.testing.assert_allclose(seen(desk, "G", 1040), [-1 / 3, 0.0], atol=1e-3)
    ring.focus()
    page.keyboard.press("Shift+ArrowUp")
    desk.kept()
    np.testing.assert_allclose(seen(desk, "G", 1100), [-1 / 3, 0.1], atol=1e-3)
    # Escape in mid-drag leaves it.
    box = desk.steady(ring)
    page.mouse.move(box["x"] + 14, box["y"] + 14)
    page.mouse.down()
    page.mouse.move(box["x"] + 90, box["y"] + 40, steps=5)
    page.keyboard.press("Escape")
    page.mouse.up()
    desk.kept()
    np.testing.assert_allclose(seen(desk, "G", 1100), [-1 / 3, 0.1], atol=1e-3)


def test_a_layers_numbers_are_typed_keyed_and_switched_off(desk):
    page = desk.page
    desk.go(1050)
    page.keyboard.press("6")
    page.get_by_role("button", name="Odile, leading her").last.click()
    page.get_by_test_id("rig").get_by_role("button", name="Watches Odile's head").click()
    desk.type("Late by", 0.5)
    assert next(one for one in layers(desk, "F") if one["kind"] == "aim")["lag_s"]["rest"] == 0.5
    page.get_by_role("button", name="Set a key on across the frame at 1050").click()
    desk.kept()
    desk.go(1110)
    desk.type("Across the frame", 0.3)
    keys = next(one for one in layers(desk, "F") if one["kind"] == "aim")["x"]["keys"]
    assert [(k["frame"], k["value"]) for k in keys] == [(1050, -0.18), (1110, 0.3)]
    page.get_by_role("button", name="Put this layer off").click()
    desk.kept()
    assert next(one for one in layers(desk, "F") if one["kind"] == "aim")["off"]
    page.get_by_role("button", name="Convert to keys").click()
    desk.kept()
    camera = find_named(Scene.model_validate(desk.scene()), "cameras", "F")
    assert camera.layers == () and camera.x.keys


def test_a_shot_is_started_by_what_it_is_and_the_line_says_its_size(desk):
    page = desk.page
    desk.go(1150)
    page.keyboard.press("1")
    page.get_by_role("button", name="Wide on the jetty").last.click()
    page.locator("[data-testid=shot-size]", has_text="Odile, wide").wait_for()
    page.get_by_label("Start as").select_option(label="Lead, in front of Odile, medium full")
    desk.kept()
    assert [one["kind"] for one in layers(desk, "A")] == ["trail", "aim"]
    page.locator("[data-testid=shot-size]", has_text="Odile, medium full").wait_for()
    # Her eyes are on the upper third, within 3 px of 1920.
    np.testing.assert_allclose(seen(desk, "A", 1150, "eyes"), [0, 1 / 3], atol=3 / 960)
