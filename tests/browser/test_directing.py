"""Directing on the desk: rails, eyes, turntables, looks, shot sizes, and what a change of the acting moved."""

import io

import numpy as np
import pytest
from PIL import Image
from test_rig import layers, put_on, seen

from heron.bake import Bake, ResultCache
from heron.demo import slack_tide
from heron.scene import Scene


def layer_menu(desk, does):
    desk.page.get_by_role("button", name="Add a layer").click()
    desk.page.get_by_role("menuitem", name=does).click()


def test_a_rail_is_drawn_bent_raised_and_smoothed(desk):
    page = desk.page
    page.keyboard.press("1")
    layer_menu(desk, "Run on a rail…")
    sheet = page.get_by_test_id("plan").bounding_box()
    for x, y in ((60, 330), (95, 250), (70, 180)):
        page.mouse.click(sheet["x"] + x, sheet["y"] + y)
        # Two clicks at one place and time would be a double-click, which ends the rail.
        desk.kept()
    page.keyboard.press("Enter")
    desk.kept()
    (rail,) = layers(desk, "A")
    assert len(rail["points"]) == 3 and all(p[1] == 1.75 for p in rail["points"])
    keys = rail["metres"]["keys"]
    # While its shot is on air, at one speed.
    assert [k["frame"] for k in keys] == [1064, 1176] and keys[0]["after"] == "straight" == keys[1]["before"]
    page.get_by_test_id("rig").get_by_role("button", name="Runs along a rail").click()
    handle = page.locator("[data-rail=A] rect").nth(1).bounding_box()
    desk.drag((handle["x"] + 5, handle["y"] + 5), (40, 0))
    bent = layers(desk, "A")[0]["points"]
    assert bent[1][0] > rail["points"][1][0] + 0.5 and bent[0] == rail["points"][0]
    desk.type("Point 3 at", 3)
    page.get_by_role("button", name="Smooth").click()
    desk.kept()
    smooth = layers(desk, "A")[0]["points"]
    assert smooth[2][1] == 3 and smooth[1][1] == pytest.approx((1.75 + (1.75 + 3) / 2) / 2, abs=1e-3)
    page.get_by_role("button", name="One more point after point 1").click()
    page.get_by_role("button", name="Delete point 4").click()
    desk.kept()
    assert len(layers(desk, "A")[0]["points"]) == 3


def test_several_are_watched_and_whom_a_layer_goes_by_is_pointed_at_anew(desk):
    page = desk.page
    desk.go(1200)
    page.keyboard.press("2")
    put_on(desk, "Watch…", *desk.centre("[data-figure=Odile] text"))
    page.get_by_test_id("rig").get_by_role("button", name="Watches Odile").click()
    page.get_by_test_id("subjects").get_by_role("button", name="Also").click()
    page.mouse.click(*desk.centre("[data-figure=Bram] text"))
    desk.kept()
    assert [s["figure"] for s in layers(desk)[0]["at"]] == ["fig-odile", "fig-bram"]
    page.get_by_label("Several by").select_option("box")
    page.get_by_role("button", name="Remove Odile's head").click()
    desk.kept()
    assert [s["figure"] for s in layers(desk)[0]["at"]] == ["fig-bram"]
    page.get_by_test_id("subjects").get_by_role("button", name="Other").click()
    page.keyboard.press("Escape")
    page.get_by_test_id("subjects").get_by_role("button", name="Other").click()
    page.mouse.click(*desk.centre("[data-mover='Rowing boat'] path"))
    desk.kept()
    assert layers(desk)[0]["at"] == [{"kind": "mover", "mover": "mov-boat"}]


def test_through_his_eyes_his_own_head_is_not_in_the_picture(desk):
    page = desk.page
    page.goto(f"{desk.server.url}/scene/{desk.id}?look=E&frame=1215")
    page.wait_for_selector("canvas[data-ready]")
    page.get_by_label("Start as").select_option(label="Through Bram's eyes")
    desk.kept()
    assert layers(desk, "E")[0]["eyes"] is True
    frame = page.get_by_test_id("frame").bounding_box()

    def picture():
        desk.kept()
        return np.asarray(Image.open(io.BytesIO(page.screenshot(clip=frame))).convert("RGB")).astype(int)

    # Half a metre back the camera looks at the back of his head, were it drawn: nothing plain fills the middle.
    page.get_by_test_id("rig").get_by_role("button", name="Looks through").click()
    back = page.get_by_test_id("layer").get_by_role("textbox", name="Along")
    back.fill("0.4")
    back.press("Enter")
    desk.kept()
    without = picture()
    for layer in layers(desk, "E"):
        command = {"kind": "rig.set", "camera": "cam-e", "layer": layer["id"], "fields": {"eyes": False}}
        revision = desk.server.call("GET", f"/api/scenes/{desk.id}/changes?since=0")["revision"]
        desk.server.call("POST", f"/api/scenes/{desk.id}/commands", {"seen": revision, "command": command})
    page.get_by_text("Rides on Bram's eyes").first.wait_for()
    drawn = picture()
    h, w, _ = drawn.shape
    middle = (slice(int(0.4 * h), int(0.6 * h)), slice(int(0.4 * w), int(0.6 * w)))
    assert np.abs(drawn[middle] - without[middle]).mean() > 15


def test_a_turntable_is_chosen_pointed_at_and_played_round_and_round(desk):
    page = desk.page
    desk.go(1215)
    page.keyboard.press("5")
    layer_menu(desk, "Turntable…")
    desk.type("Seconds a turn", 0)
    page.get_by_text("A turn takes time. Give it seconds").wait_for()
    desk.type("Seconds a turn", 3)
    page.get_by_label("The sun").select_option("rides")
    page.mouse.click(*desk.centre("[data-figure=Odile] text"))
    desk.kept()
    (arm,) = layers(desk, "E")
    assert (arm["first"], arm["last"], arm["sun_rides"]) == (1215, 1286, True)
    assert page.get_by_test_id("turntable").count() == 0
    # The loop is the turn itself; within it the rig can be turned into keys.
    page.get_by_role("button", name="Only 1215–1286").wait_for()
    page.keyboard.press("Control+z")
    layer_menu(desk, "Turntable…")
    page.get_by_label("Turns", exact=True).select_option("subject")
    assert page.get_by_label("The sun").count() == 0
    page.mouse.click(*desk.centre("[data-figure=Odile] text"))
    page.get_by_text("does something else at 1241–1282: laugh").first.wait_for()


def test_operators_follow_by_character_and_each_is_its_numbers(desk):
    page = desk.page
    desk.go(1120)
    page.keyboard.press("2")
    put_on(desk, "Follow…", *desk.centre("[data-figure=Odile] text"))
    page.get_by_test_id("rig").get_by_role("button", name="Follows Odile").click()
    page.locator("[data-testid=layer] select").nth(2).select_option("far and loose")
    desk.kept()
    (trail,) = layers(desk)
    assert (trail["distance_m"]["rest"], trail["lag_s"]["rest"]) == (6.5, 1.3)
    page.wait_for_function(
        "() => [...document.querySelectorAll('[data-testid=layer] input')].some((i) => i.value === '6.50')"
    )


def test_a_figure_looks_where_it_is_pointed_at(desk):
    page = desk.page
    desk.go(1030)
    page.locator("[data-figure=Bram] text").click()
    page.get_by_role("button", name="Look at…").click()
    page.mouse.click(*desk.centre("[data-mover='Rowing boat'] path"))
    desk.kept()

    def gazes():
        acts = next(f for f in desk.scene()["figures"] if f["name"] == "Bram")["acts"]
        return [act for act in acts if act["kind"] == "look_at"]

    first = gazes()[0]
    assert (first["at"], first["frames"]) == (
        {"kind": "mover", "mover": "mov-boat"},
        {"first": 1030, "last": 1077},
    )
    row = page.get_by_test_id("acts-look").get_by_test_id("act").first
    row.get_by_label("Head", exact=True).fill("0.2")
    row.get_by_label("Head", exact=True).press("Enter")
    desk.kept()
    assert gazes()[0]["head"] == 0.2
    assert page.get_by_role("button", name="Bram: Look at").count() == 3
    row.get_by_role("button", name="Delete look at at 1030").click()
    desk.kept()
    assert len(gazes()) == 2


def test_a_figure_points_ahead_of_where_it_stands_until_it_is_told_where(desk):
    page = desk.page
    desk.go(1100)
    page.locator("[data-figure=Bram] text").click()
    page.get_by_role("button", name="Add", exact=True).click()
    page.get_by_role("menuitem", name="Point Hands").click()
    desk.kept()
    scene = Scene.model_validate(desk.scene())
    bram = next(f for f in scene.figures if f.name == "Bram")
    known = {act.frames.first for act in next(f for f in slack_tide().figures if f.name == "Bram").acts}
    (point,) = [act for act in bram.acts if act.kind == "point" and act.frames.first not in known]
    x, _, z, heading = Bake(scene, ResultCache()).rows(bram, np.array([1100]))[0, :4]
    # Heading 0 looks along −Z and grows to the left.
    way = np.array([-np.sin(np.radians(heading)), -np.cos(np.radians(heading))])
    np.testing.assert_allclose([point.at.x - x, point.at.z - z], 5 * way, atol=0.03)


def test_the_line_under_the_picture_gives_a_shot_its_size(desk):
    page = desk.page
    page.goto(f"{desk.server.url}/scene/{desk.id}?look=B&frame=1200")
    page.wait_for_selector("canvas[data-ready]")
    size = page.get_by_test_id("shot-size")
    size.get_by_text("Odile, medium", exact=True).wait_for()
    size.click()
    page.get_by_role("button", name="medium close-up", exact=True).click()
    size.get_by_text("Odile, medium close-up").wait_for()
    assert seen(desk, "B", 1200, "eyes")[1] == pytest.approx(1 / 3, abs=1e-3)
    page.get_by_label("What answers").select_option("lens")
    page.get_by_role("button", name="full", exact=True).click()
    page.get_by_text("No lens of the kit").first.wait_for()


def test_a_slower_walk_says_what_it_moved_and_brings_keys_along(desk):
    page = desk.page
    page.locator("[data-figure=Odile] text").click()
    page.get_by_test_id("acts-body").get_by_role("button", name="Walk", exact=True).click()
    desk.type("Speed", 1.1)
    page.get_by_role("button", name="Moved").click()
    news = page.get_by_test_id("news")
    assert "Place Odile sits at" in news.inner_text() and "G\nSize" in news.inner_text()
    # The frame that changed most as it was and as it is, each drawn from its own revision.
    pair = [news.get_by_role("img", name=when).first for when in ("Before", "After")]
    pixels = """img => { const pen = new OffscreenCanvas(64, 36).getContext('2d'); pen.drawImage(img, 0, 0, 64, 36);
        return [...pen.getImageData(0, 0, 64, 36).data] }"""
    for one in pair:
        one.wait_for(timeout=240_000)
    before, after = (one.evaluate(pixels) for one in pair)
    assert len(set(before)) > 30 and sum(abs(a - b) > 40 for a, b in zip(before, after, strict=True)) > 20
    news.get_by_role("button", name="Bring along").click()
    desk.kept()
    g = next(c for c in desk.scene()["cameras"] if c["letter"] == "G")
    end = next(f for f in desk.scene()["figures"] if f["name"] == "Odile")["acts"][0]["frames"]["last"]
    rail = next(layer for layer in g["layers"] if layer["kind"] == "rail")
    assert [k["frame"] for k in rail["metres"]["keys"]] == [1009, end]
    # Taken back, the pictures move back; a press goes to the camera and the frame where it shows most.
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    page.get_by_role("button", name="Moved").click()
    page.get_by_test_id("news").get_by_title("Look through B at").first.click()
    assert (
        "Odile over Bram" in page.get_by_test_id("caption").inner_text() and 1165 <= int(desk.clock()) <= 1232
    )


def test_a_key_is_bound_to_the_end_of_a_walk(desk):
    page = desk.page
    page.keyboard.press("2")
    page.get_by_label("Goes with, at 1170").select_option(label="Odile's walk ends, 1186")
    desk.kept()
    page.locator("[data-figure=Odile] text").click()
    page.get_by_test_id("acts-body").get_by_role("button", name="Walk", exact=True).click()
    to = page.get_by_label("To", exact=True).first
    to.fill("1190")
    to.press("Enter")
    desk.kept()
    b = next(c for c in desk.scene()["cameras"] if c["letter"] == "B")
    assert [k["frame"] for k in b["x"]["keys"]] == [1174, 1236]


def test_whom_to_watch_is_pointed_at_by_the_keyboard_alone(desk):
    page = desk.page
    desk.go(1200)
    page.keyboard.press("2")
    layer_menu(desk, "Watch…")
    # Where the plan's middle is on the stage, from two figures whose places are known.
    scene = Scene.model_validate(desk.scene())
    bake, at = Bake(scene, ResultCache()), np.array([1200])
    stands = {f.name: bake.rows(f, at)[0, [0, 2]] for f in scene.figures}
    drawn = {name: np.array(desk.centre(f"[data-figure={name}] ellipse")) for name in stands}
    scale = np.linalg.norm(drawn["Bram"] - drawn["Odile"]) / np.linalg.norm(stands["Bram"] - stands["Odile"])
    sheet = page.get_by_test_id("plan").bounding_box()
    middle = np.array([sheet["x"] + sheet["width"] / 2, sheet["y"] + sheet["height"] / 2])
    x, z = (drawn["Odile"] - middle) / scale
    page.get_by_test_id("plan").focus()
    for key, far in (("ArrowRight" if x > 0 else "ArrowLeft", x), ("ArrowDown" if z > 0 else "ArrowUp", z)):
        for _ in range(round(abs(far) * 10)):
            page.keyboard.press(key)
    page.keyboard.press("Enter")
    desk.kept()
    assert layers(desk)[0]["at"] == [{"kind": "figure", "figure": "fig-odile", "joint": "head"}]
