"""Operating by hand: mouse, arrows, a gamepad and the pad on the screen; what is recorded, tried again and chosen."""

import json
import math

import numpy as np

from heron.bake import Bake
from heron.scene import find, read_scene


def record(desk):
    desk.passes = len(desk.scene()["passes"])
    desk.page.keyboard.press("Enter")
    # The count-in is over.
    desk.page.locator("[data-testid=recording]").get_by_text(" of ").wait_for()


def played(desk, frames):
    """Once the stage has gone on by so many frames."""
    until = int(desk.clock()) + frames
    desk.page.wait_for_function(
        "until => Number(document.querySelector('[aria-label=\"Stage frame\"]').value) >= until", arg=until
    )


def ended(desk):
    """The scene once it has the pass that was recorded."""
    desk.page.wait_for_selector("[data-testid=recording]", state="detached")
    desk.until(lambda: len(desk.scene()["passes"]) > desk.passes)
    return desk.scene()


def loop(desk, first, last):
    desk.go(first)
    desk.page.keyboard.press("Shift+Home")
    desk.go(last)
    desk.page.keyboard.press("Shift+End")
    desk.go(first)


def test_a_pan_by_mouse_is_few_keys_is_smoothed_again_and_chosen(desk):
    page = desk.page
    page.keyboard.press("2")
    loop(desk, 1100, 1190)
    before = desk.scene()
    page.keyboard.press("Shift+O")
    record(desk)
    x, y = desk.centre("[data-testid=recording]")
    for i in range(12):
        page.mouse.move(x + 12 * i, y + 6 * math.sin(i / 3))
        page.wait_for_timeout(50)
    scene = ended(desk)
    (one,) = scene["passes"]
    assert one["in_use"] and (one["first"], len(one["tracks"][0]["hand"])) == (1100, 91)
    assert {t["channel"] for t in one["tracks"]} == {"pan", "tilt"}
    camera = scene["cameras"][1]
    assert 2 <= len([k for k in camera["pan"]["keys"] if k["frame"] <= 1190]) <= 12
    # To the right of the picture the pan falls; the place is as it was.
    assert one["tracks"][0]["hand"][-1] < -1
    assert camera["x"] == before["cameras"][1]["x"]
    assert desk.clock() == "1100"
    # Tried again, rougher: more keys of the same hand.
    few = len(camera["pan"]["keys"])
    desk.type("Smooth", 0)
    desk.type("Keys within", 0.001)
    assert len(desk.scene()["cameras"][1]["pan"]["keys"]) > few
    page.get_by_role("button", name="Keep this").click()
    desk.kept()
    assert desk.scene()["passes"] == []
    page.keyboard.press("Control+z")
    desk.kept()
    assert len(desk.scene()["passes"]) == 1


def test_a_move_that_is_not_kept_is_settled_before_recording(desk):
    page = desk.page
    page.keyboard.press("2")
    desk.go(1180)
    page.get_by_label("Picture: the arrows look about").focus()
    page.keyboard.press("ArrowLeft")
    page.get_by_test_id("unsaved").wait_for()
    page.keyboard.press("Shift+O")
    page.keyboard.press("Enter")
    page.wait_for_selector("text=This camera was moved and the move is not saved")
    assert page.locator("[data-testid=recording]").count() == 0
    page.get_by_test_id("unsaved").get_by_role("button", name="Drop").click()
    # In the cut it goes back to the camera that is worked.
    page.keyboard.press("c")
    page.keyboard.press("Enter")
    page.wait_for_selector("[data-testid=recording]")
    assert "Odile over Bram" in page.get_by_test_id("caption").inner_text()
    page.keyboard.press("Escape")


def test_what_is_thrown_away_leaves_nothing_and_a_prime_does_not_zoom(desk):
    page = desk.page
    page.keyboard.press("2")
    loop(desk, 1100, 1200)
    before = desk.scene()
    page.keyboard.press("Shift+O")
    page.keyboard.press("Enter")
    page.keyboard.press("Escape")
    record(desk)
    page.keyboard.down("ArrowLeft")
    played(desk, 12)
    page.keyboard.press("Escape")
    page.keyboard.up("ArrowLeft")
    page.wait_for_selector("[data-testid=recording]", state="detached")
    desk.kept()
    assert desk.scene() == before
    page.get_by_label("The hand works").select_option("zoom")
    assert "does not zoom" in page.get_by_test_id("operating").inner_text()
    page.get_by_role("button", name="Record").click()
    page.wait_for_selector("text=Mount a zoom")
    page.keyboard.press("Escape")
    page.wait_for_selector("[data-testid=operate]", state="detached")


GAMEPAD = """
() => {
  window.pad = { connected: true, id: "test", index: 0, mapping: "standard", axes: [0, 0, 0, 0],
    buttons: Array.from({ length: 17 }, () => ({ pressed: false, touched: false, value: 0 })) };
  navigator.getGamepads = () => [window.pad];
  window.dispatchEvent(new Event("gamepadconnected"));
}
"""


def test_a_gamepad_that_is_pulled_out_keeps_what_it_did_and_passes_go_over_each_other(desk):
    page = desk.page
    page.evaluate(GAMEPAD)
    page.keyboard.press("6")
    loop(desk, 1020, 1160)
    page.keyboard.press("Shift+O")
    # A camera that is carried is worked on top of that.
    assert page.get_by_label("on top of its move").is_checked()
    page.get_by_label("The hand works").select_option("ground")
    record(desk)
    page.evaluate("pad.axes = [0, -0.9, 0, 0]")
    played(desk, 20)
    page.evaluate("pad.connected = false; window.dispatchEvent(new Event('gamepaddisconnected'))")
    first = ended(desk)["passes"][0]
    page.wait_for_selector("text=What was recorded until then is saved")
    assert first["in_use"] and {t["channel"] for t in first["tracks"]} == {"x", "z"}
    assert len(first["tracks"][0]["hand"]) < 140
    # Then the focus, by the pad on the screen.
    page.get_by_label("The hand works").select_option("focus")
    page.get_by_role("button", name="Pad", exact=True).click()
    # The button that was clicked is left behind: Enter is the operator's.
    record(desk)
    assert page.get_by_role("button", name="Unplug").count() == 1
    stick = page.get_by_test_id("stick-left").bounding_box()
    x, y = stick["x"] + stick["width"] / 2, stick["y"] + stick["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y + 20, steps=4)
    played(desk, 16)
    page.mouse.up()
    page.keyboard.press("Space")
    scene = ended(desk)
    assert [p["in_use"] for p in scene["passes"]] == [True, True]
    camera = scene["cameras"][5]
    assert camera["focus"]["distance"]["keys"] and camera["focus"]["marks"][-1]["on"]["kind"] == "pulled"
    # Down is nearer: more in 1/m.
    assert scene["passes"][1]["tracks"][0]["hand"][-1] > 0.01


def test_a_figure_is_led_by_the_arrows_and_a_boat_is_driven(desk):
    page = desk.page
    page.keyboard.press("0")
    page.locator("[data-figure='Bram']").first.click()
    loop(desk, 1160, 1225)
    page.get_by_test_id("figure-card").get_by_role("button", name="Lead").click()
    record(desk)
    page.keyboard.down("ArrowRight")
    played(desk, 28)
    page.keyboard.up("ArrowRight")
    page.keyboard.press("Enter")
    scene = ended(desk)
    bram = next(f for f in scene["figures"] if f["id"] == "fig-bram")
    (walk,) = [a for a in bram["acts"] if a["kind"] == "walk"]
    assert 1160 <= walk["frames"]["first"] < walk["frames"]["last"] <= 1225
    x = next(t for t in scene["passes"][0]["tracks"] if t["channel"] == "x")
    bake = Bake(read_scene(json.dumps(scene)))
    row = bake.rows(find(bake.scene, "figures", "fig-bram"), np.array([walk["frames"]["last"]]))[0]
    assert abs(row[0] - x["base"][0] - x["hand"][-1]) < 0.1
    boat = next(m for m in scene["movers"] if m["shape"] == "boat")
    page.locator(f"[data-mover='{boat['name']}']").first.click(force=True)
    page.get_by_role("button", name="Drive").click()
    record(desk)
    page.keyboard.down("ArrowUp")
    page.keyboard.down("ArrowLeft")
    played(desk, 20)
    page.keyboard.up("ArrowUp")
    page.keyboard.up("ArrowLeft")
    page.keyboard.press("Enter")
    scene = ended(desk)
    hand = {t["channel"]: t["hand"] for t in scene["passes"][1]["tracks"]}
    # It turned to the left as it went ahead, and moves so now.
    assert hand["pan"][-1] > 5 and hand["z"][-1] < -0.1
    last = 1160 + len(hand["z"]) - 1
    bake = Bake(read_scene(json.dumps(scene)))
    driven = next(m for m in bake.scene.movers if m.id == boat["id"])
    row = bake.rows(driven, np.array([last]))[0]
    z = next(t for t in scene["passes"][1]["tracks"] if t["channel"] == "z")
    assert abs(row[2] - z["base"][0] - z["hand"][-1]) < 0.01
