"""Curves on the desk: by mouse and by keyboard alone."""

import pytest

FIRST, LAST = 1001, 1320


class Curves:
    """The sheet of curves of camera B, and where things lie on it."""

    def __init__(self, desk, letter="B"):
        self.desk, self.page, self.letter = desk, desk.page, letter
        desk.page.keyboard.press(str("ABCDEFGHI".index(letter) + 1))
        desk.page.keyboard.press("u")
        desk.page.wait_for_selector("[data-testid=curves][data-drawn]")
        desk.kept()

    def channel(self, name):
        camera = next(c for c in self.desk.scene()["cameras"] if c["letter"] == self.letter)
        return camera[name]["keys"]

    def only(self, name):
        self.page.locator(f"[data-channel={name}] button").first.dblclick()
        self.desk.kept()
        keys = [k["value"] for k in self.channel(name)]
        self.middle, self.half = (min(keys) + max(keys)) / 2, (max(keys) - min(keys)) * 0.58

    def at(self, frame, value):
        box = self.page.get_by_test_id("curves").bounding_box()
        x = box["x"] + (frame - FIRST + 0.5) * box["width"] / (LAST - FIRST + 1)
        return x, box["y"] + box["height"] * (1 - (value - self.middle + self.half) / (2 * self.half))

    def count(self):
        return int(self.page.get_by_test_id("curves").get_attribute("data-picked"))


def test_a_key_is_dragged_shaped_and_kept_within_by_mouse(desk):
    curves = Curves(desk)
    page = desk.page
    curves.only("z")
    a, b = curves.channel("z")
    # With Shift one direction alone: in time.
    page.keyboard.down("Shift")
    desk.drag(curves.at(a["frame"], a["value"]), (-90, -6))
    page.keyboard.up("Shift")
    moved = curves.channel("z")[0]
    assert moved["value"] == a["value"] and 1135 < moved["frame"] < 1150
    # Dragged up close to the other key's value, it takes that value.
    where = curves.at(moved["frame"], moved["value"])
    near = curves.at(moved["frame"], b["value"])
    desk.drag(where, (0, near[1] - where[1] + 3))
    assert curves.channel("z")[0]["value"] == b["value"]
    page.keyboard.press("Control+z")
    desk.kept()
    page.mouse.click(*curves.at(moved["frame"], moved["value"]))
    page.get_by_label("Go out").select_option("shaped")
    desk.kept()
    third = (b["frame"] - moved["frame"]) / 3
    desk.drag(curves.at(moved["frame"] + third, moved["value"]), (40, 60))
    handle = curves.channel("z")[0]["handle_after"]
    assert handle[0] > third + 5 and handle[1] < 0
    page.get_by_role("button", name="Keep it within").click()
    desk.kept()
    assert curves.channel("z")[0]["handle_after"][1] == 0
    # A double-click puts one more key on the curve.
    half = (moved["frame"] + b["frame"]) // 2
    tries = [moved["value"] + (b["value"] - moved["value"]) * n / 40 for n in range(2, 40)]
    for value in tries:
        page.mouse.dblclick(*curves.at(half, value))
        desk.kept()
        if len(curves.channel("z")) == 3:
            break
    assert abs(curves.channel("z")[1]["frame"] - half) <= 1


def test_a_box_picks_keys_that_are_typed_scaled_and_taken_back(desk):
    curves = Curves(desk)
    page = desk.page
    curves.only("z")
    before = curves.channel("z")
    box = page.get_by_test_id("curves").bounding_box()
    desk.drag((box["x"] + 300, box["y"] + 3), (box["width"] - 320, box["height"] - 6))
    assert curves.count() == 2
    page.get_by_test_id("curve-tools").get_by_label("Frame", exact=True).fill("1160")
    page.keyboard.press("Enter")
    desk.kept()
    assert [k["frame"] for k in curves.channel("z")] == [1160, before[1]["frame"] - 10]
    page.get_by_role("button", name="Scale…").click()
    page.get_by_label("Times as long").fill("0")
    page.get_by_label("Times as long").press("Enter")
    page.get_by_text("Give a factor other than 0").wait_for()
    page.get_by_label("Times as long").fill("1/2")
    page.get_by_label("Times as long").press("Enter")
    desk.kept()
    assert [k["frame"] for k in curves.channel("z")] == [1160, 1193]
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    for _ in range(2):
        page.keyboard.press("Control+z")
        desk.kept()
    assert curves.channel("z") == before


def test_the_keyboard_alone_picks_moves_copies_and_keys(desk):
    curves = Curves(desk)
    page = desk.page
    page.get_by_test_id("curves").focus()
    page.keyboard.press("Control+a")
    page.wait_for_function("() => document.querySelector('[data-testid=curves]').dataset.picked === '12'")
    page.keyboard.press("Escape")
    page.keyboard.press("PageDown")
    x = curves.channel("x")
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("ArrowUp")
    desk.kept()
    now = curves.channel("x")[0]
    assert (now["frame"], now["value"]) == (x[0]["frame"] + 11, pytest.approx(x[0]["value"] + 0.05))
    page.keyboard.press("Alt+ArrowUp")
    desk.kept()
    shaped = curves.channel("x")[0]
    assert shaped["after"] == "shaped" and shaped["handle_after"][1] == pytest.approx(0.05, abs=1e-6)
    page.keyboard.press("Shift+PageDown")
    assert curves.count() == 2
    page.keyboard.press("Control+c")
    desk.go(1060)
    page.get_by_test_id("curves").focus()
    # Down to the height's curve, which is in metres too.
    page.keyboard.press("Control+ArrowDown")
    page.keyboard.press("Control+v")
    desk.kept()
    assert curves.channel("y")[0]["frame"] == 1060
    desk.go(1010)
    page.get_by_test_id("curves").focus()
    page.keyboard.press("k")
    desk.kept()
    assert curves.channel("tilt")[0]["frame"] == 1010
    # The curves are as they were: nothing has moved.
    page.keyboard.press("Delete")
    desk.kept()
    assert curves.channel("tilt")[0]["frame"] == 1170


def test_keys_stand_in_rows_and_the_desk_comes_back_to_them(desk):
    curves = Curves(desk)
    page = desk.page
    page.keyboard.press("u")
    rows = page.get_by_role("application", name="Keys in rows")
    box = rows.bounding_box()
    x = box["x"] + (1170 - FIRST + 0.5) * box["width"] / (LAST - FIRST + 1)
    # The second row is the height's.
    desk.drag((x, box["y"] + 30), (36, 0))
    assert curves.channel("y")[0]["frame"] > 1175 and curves.channel("x")[0]["frame"] == 1170
    page.reload()
    page.get_by_role("application", name="Keys in rows").wait_for()
    page.keyboard.press("u")
    page.locator("[data-key]").first.wait_for()


def test_a_move_is_said_in_a_sentence_and_becomes_keys(desk):
    page = desk.page
    page.keyboard.press("1")
    desk.go(1100)
    page.get_by_test_id("move").click()
    page.get_by_label("Camera A is to").select_option("truck")
    page.get_by_label("By", exact=True).fill("by 0.5")
    page.keyboard.press("Enter")
    page.get_by_label("Which way").select_option("to the left")
    page.get_by_label("For", exact=True).fill("1.5s")
    page.keyboard.press("Enter")
    page.get_by_label("Feel").select_option("overshoot")
    sentence = "Camera A trucks 1.5 m to the left from 1100 to 1136, 5 % too far and settling in 7 frames."
    page.get_by_text(sentence).wait_for()
    page.get_by_role("button", name="Apply").click()
    desk.kept()
    camera = desk.scene()["cameras"][0]
    assert [k["frame"] for k in camera["x"]["keys"]] == [1100, 1136, 1139, 1143]
    assert not camera["y"]["keys"]
    page.get_by_label("Camera A is to").select_option("tilt")
    page.get_by_label("By", exact=True).fill("120")
    page.keyboard.press("Enter")
    page.get_by_role("alert").get_by_text("Tilt must be from").wait_for()
    assert page.get_by_role("button", name="Apply").is_disabled()
    page.get_by_label("Camera A is to").select_option("hold")
    page.get_by_label("Drifts in by").fill("0.04")
    page.keyboard.press("Enter")
    page.get_by_text("Camera A all but stands, drifting 0.04 m in, for 1.5 s from 1100.").wait_for()


def test_a_cut_by_keys_within_one_camera_and_waiting_off_air(desk):
    page = desk.page
    page.keyboard.press("2")
    desk.go(1200)
    # Moved by hand where keys move it, it is unsaved; then it is cut to rather than glided to.
    page.get_by_test_id("camera-card").get_by_label("Height", exact=True).fill("3")
    page.keyboard.press("Enter")
    page.get_by_test_id("unsaved").get_by_role("button", name="Cut to it").click()
    page.get_by_role("menuitem", name="Later keys stay").click()
    desk.kept()
    y = desk.scene()["cameras"][1]["y"]["keys"]
    assert [k["frame"] for k in y] == [1170, 1199, 1200, 1236]
    assert y[1]["after"] == "held" and y[2]["value"] == 3
    # One more shot of it later: between the two it is off air.
    scene = desk.scene()
    shot = {"kind": "shot.add", "camera": scene["cameras"][1]["id"], "stage": {"first": 1280, "last": 1300}}
    revision = desk.server.call("GET", f"/api/scenes/{desk.id}")["revision"]
    desk.server.call("POST", f"/api/scenes/{desk.id}/commands", {"seen": revision, "command": shot})
    page.get_by_test_id("move").click()
    page.get_by_label("Camera B is to").select_option("boom")
    page.get_by_label("From", exact=True).fill("1250")
    page.keyboard.press("Enter")
    page.get_by_text("from 1250 to 1298").wait_for()
    page.get_by_role("button", name="Apply").click()
    desk.kept()
    page.keyboard.press("Escape")
    page.get_by_role("button", name="It is already on the move as shot").wait_for()
    page.get_by_role("button", name="Camera B off air 1233 to 1279").click()
    desk.kept()
    page.get_by_role("button", name="It is already on the move as shot").wait_for(state="detached")
    keys = {k["frame"]: k for k in desk.scene()["cameras"][1]["y"]["keys"]}
    assert keys[1232]["after"] == "held" and keys[1233]["value"] == keys[1280]["value"]
