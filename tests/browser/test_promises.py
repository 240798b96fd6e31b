"""Gestures keep what they promise, no press is lost, and whatever is refused offers a way out."""

import numpy as np
import pytest


def camera(desk, letter):
    return next(c for c in desk.scene()["cameras"] if c["letter"] == letter)


def middle(page):
    box = page.get_by_test_id("frame").bounding_box()
    return box["x"] + box["width"] * 0.7, box["y"] + box["height"] * 0.3


def test_a_watching_camera_goes_round_slides_and_looks_without_losing_its_subject(desk):
    """H rides on Odile and watches Bram: its placement stays while it is moved, and a look moves the placement."""
    page = desk.page
    page.keyboard.press("8")
    page.get_by_role("button", name="Placement of what camera H watches").wait_for()
    before = camera(desk, "H")["layers"]
    for button, keys in (("right", []), ("left", ["Shift"])):
        for key in keys:
            page.keyboard.down(key)
        desk.drag(middle(page), (40, 10), button=button)
        for key in keys:
            page.keyboard.up(key)
        ride, aim = camera(desk, "H")["layers"]
        assert ride["x_m"]["rest"] != before[0]["x_m"]["rest"]
        assert (aim["x"], aim["y"]) == (before[1]["x"], before[1]["y"])
        assert aim["pan_deg"]["rest"] == 0 and aim["tilt_deg"]["rest"] == 0
        before = [ride, aim]
    desk.drag(middle(page), (30, 0))
    ride, aim = camera(desk, "H")["layers"]
    assert ride == before[0] and aim["x"]["rest"] > before[1]["x"]["rest"] + 0.01
    history = desk.server.call("GET", f"/api/scenes/{desk.id}/history")
    assert "Moved Bram's head in the frame of camera H" in history[0]["sentence"]


def test_twenty_presses_come_to_twenty(desk):
    page = desk.page
    page.locator("[data-shot='020']").click()
    page.locator("[data-shot='020']").focus()
    was = next(s for s in desk.scene()["shots"] if s["name"] == "020")["stage"]["last"]
    for _ in range(20):
        page.keyboard.press("Shift+ArrowLeft", delay=0)
    page.get_by_text(f"1165–{was - 20}", exact=False).first.wait_for()
    assert next(s for s in desk.scene()["shots"] if s["name"] == "020")["stage"]["last"] == was - 20
    page.keyboard.press("1")
    field = desk.field("Across")
    field.focus()
    x = camera(desk, "A")["x"]["rest"]
    for _ in range(20):
        page.keyboard.press("ArrowUp", delay=0)
    page.wait_for_function(
        "wanted => Math.abs(Number(document.activeElement.value) - wanted) < 0.006",
        arg=x + 20 * STEP,
    )
    assert camera(desk, "A")["x"]["rest"] == pytest.approx(x + 20 * STEP)


#: What one press of an arrow changes a place by, metres: the channel's own step.
STEP = 0.05


def test_a_focal_length_that_a_prime_has_not_is_had_by_the_kits_zoom_in_one_press(desk):
    page = desk.page
    page.keyboard.press("2")
    page.get_by_label("Focal length", exact=True).fill("60")
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Put the Zoom 24–120 mm on").click()
    desk.kept()
    made = camera(desk, "B")
    assert (made["mounted"], made["focal"]["rest"]) == ("lens-zoom", 60)


def test_a_right_press_opens_what_can_be_done_with_what_is_under_it(desk):
    page = desk.page
    page.keyboard.press("8")
    page.get_by_test_id("caption").get_by_text("Over Odile to Bram").wait_for()
    box = page.get_by_test_id("frame").bounding_box()
    page.mouse.click(box["x"] + 20, box["y"] + 20, button="right")
    menu = page.get_by_role("menu", name="What can be done here")
    menu.get_by_role("menuitem", name="New camera from this view").wait_for()
    page.keyboard.press("Escape")
    menu.wait_for(state="detached")
    # On the mark of what is watched it is the picture's too: Bram is under it.
    mark = page.get_by_role("button", name="Placement of what camera H watches").bounding_box()
    page.mouse.click(mark["x"] + mark["width"] / 2, mark["y"] + mark["height"] / 2 + 14, button="right")
    menu.get_by_role("menuitem", name="Select Bram").click()
    page.get_by_test_id("figure-card").wait_for()


def test_the_last_shot_is_ten_presses_away_and_a_typed_frame_stays_in_the_cut(desk):
    page = desk.page
    on = "document.activeElement.dataset.shot"
    page.locator("[data-shot='040']").wait_for()
    # F6 comes to every part of the desk, out of a field too, and round again.
    page.get_by_label("Frames a second").wait_for()
    part = "document.activeElement.closest('[data-region]')?.dataset.region"
    parts = []
    for _ in range(6):
        page.keyboard.press("F6")
        parts.append(page.evaluate(part))
    assert parts[0] == parts[5] and set(parts) == {"Plan", "Viewfinder", "Card", "Assembly", "Top"}
    page.evaluate("document.activeElement.blur()")
    presses = 0
    while page.evaluate(f"{on} === undefined") and presses < 9:
        page.keyboard.press("F6")
        presses += 1
    page.keyboard.press("End")
    assert page.evaluate(on) == "040" and presses + 1 <= 10, presses
    page.keyboard.press("c")
    desk.go(1200)
    page.get_by_role("tab", name="Cut", selected=True).wait_for()
    page.get_by_test_id("caption").get_by_text("Odile over Bram").wait_for()
    assert np.isclose(float(desk.clock()), 1200)


def test_a_take_of_another_scene_opens_that_take(desk):
    """Two scenes with a take each: the take that is shown first is this scene's, the other stands below."""
    other = desk.server.new_demo()
    asked = {"of": "shots", "shots": ["shot-040"], "movie": False, "pictures": "png"}
    takes = {}
    for scene in (desk.id, other):
        takes[scene] = desk.server.call("POST", f"/api/scenes/{scene}/takes", asked)["id"]
        desk.server.call("POST", f"/api/takes/{takes[scene]}/cancel")
    page = desk.page
    page.get_by_role("button", name="Dailies").click()
    jobs = page.get_by_test_id("jobs")
    jobs.get_by_role("heading", name="Other scenes").wait_for()
    jobs.locator(f'h3 ~ article[data-take="{takes[other]}"]').wait_for()
    assert jobs.locator(f'h3 ~ article[data-take="{takes[desk.id]}"]').count() == 0
    assert jobs.locator("article").first.get_attribute("data-take") == str(takes[desk.id])


def test_find_knows_other_words_and_loses_no_letter_typed_at_once(desk):
    page = desk.page
    page.keyboard.press("1")
    page.keyboard.press("Control+k")
    page.keyboard.type("push in", delay=0)
    page.get_by_role("option", name="Move the camera: dolly", exact=False).first.wait_for()
    assert page.get_by_label("Find an action").input_value() == "push in"
    page.keyboard.press("Enter")
    page.get_by_label("Camera A is to").wait_for()
