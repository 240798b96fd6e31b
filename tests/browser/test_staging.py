"""An empty scene staged by hand: figure, walk, set pieces, on the plan and in the rover's view."""

import base64
import json
import math

import pytest


def on_plan(desk, right, down):
    box = desk.page.get_by_test_id("plan").bounding_box()
    return box["x"] + box["width"] / 2 + right, box["y"] + box["height"] / 2 + down


def tool(desk, name):
    """Take a tool; a set piece is in the menu."""
    page = desk.page
    bar = page.get_by_role("toolbar", name="Staging tools")
    piece = name not in ("Figure", "Walk", "Rail")
    bar.get_by_role("button", name="Set" if piece else name, exact=True).click()
    if piece:
        page.get_by_role("menuitem", name=name).click()


def test_from_nothing_to_a_figure_that_walks(empty):
    page = empty.page
    tool(empty, "Figure")
    page.mouse.click(*on_plan(empty, 0, 60))
    page.get_by_test_id("figure-card").wait_for()
    empty.type("Name", "Wren")
    empty.type("Stature", "1.55")
    tool(empty, "Walk")
    for right, down in ((10, 0), (-20, -70)):
        page.mouse.click(*on_plan(empty, right, down))
    page.get_by_role("button", name="Done").click()
    empty.kept()
    figure = empty.scene()["figures"][0]
    assert (figure["name"], figure["stature"]) == ("Wren", 1.55)
    # 30 pixels are a metre on a new plan; points snap to 5 cm.
    assert (figure["x"], figure["z"]) == (0, 2)
    walk = figure["acts"][0]
    assert walk["points"] == [
        [pytest.approx(0.35, abs=0.03), 0],
        [pytest.approx(-0.65, abs=0.03), pytest.approx(-2.35, abs=0.03)],
    ]
    seconds = (walk["frames"]["last"] - walk["frames"]["first"]) / 24
    assert 4.5 / 1.6 < seconds < 4.9 / 0.9
    page.keyboard.press("Control+z")
    empty.kept()
    assert empty.scene()["figures"][0]["acts"] == []


def test_a_box_is_drawn_sized_turned_raised_and_taken_down(empty):
    page = empty.page
    tool(empty, "Box")
    empty.drag(on_plan(empty, -60, -60), (60, 90))
    piece = empty.scene()["pieces"][0]
    assert (piece["kind"], piece["width"], piece["depth"], piece["x"], piece["z"]) == ("box", 2, 3, -1, -0.5)
    empty.type("Turned", 30)
    empty.drag(empty.centre("[data-piece='Box 1']"), (30, 0))
    piece = empty.scene()["pieces"][0]
    assert (piece["heading"], piece["x"]) == (30, 0)
    # The handle over the piece raises it in the rover's view.
    page.get_by_role("tab", name="Rover").click()
    page.keyboard.press("f")
    empty.kept()
    frame = page.get_by_test_id("frame").bounding_box()
    x, y = frame["x"] + frame["width"] / 2, frame["y"] + frame["height"] / 2
    # It stands in the middle of the picture; the handle hangs 0.3 m over its top.
    per_metre = frame["height"] / (2 * 3.4 * 1.87 * 0.325)
    empty.drag((x, y - 0.78 * per_metre), (0, -40), steps=4)
    assert empty.scene()["pieces"][0]["height"] > piece["height"] + 0.1
    assert empty.scene()["pieces"][0]["x"] == 0
    page.keyboard.press("Control+d")
    empty.kept()
    assert [p["name"] for p in empty.scene()["pieces"]] == ["Box 1", "Box 2"]
    page.keyboard.press("Delete")
    empty.kept()
    assert [p["name"] for p in empty.scene()["pieces"]] == ["Box 1"]


def test_a_figure_stands_on_the_platform_under_it(empty):
    tool(empty, "Platform")
    empty.drag(on_plan(empty, -60, -30), (120, 90))
    empty.type("Height", "0.5")
    tool(empty, "Figure")
    empty.page.mouse.click(*on_plan(empty, 0, 0))
    empty.kept()
    figure = empty.scene()["figures"][0]["id"]
    preview = empty.server.call(
        "POST", f"/api/scenes/{empty.id}/preview",
        {
            "command": {"kind": "thing.put", "thing": figure, "frame": 1001, "keep": "path", "x": 0.1},
            "frames": {"first": 1001, "last": 1001}, "columns": ["y"],
        },
    )  # fmt: skip
    content = base64.b64decode(preview["samples"][figure])
    header = json.loads(content[4 : 4 + int.from_bytes(content[:4], "little")])
    assert header["columns"] == ["y"] and header["still"]["0"] == pytest.approx(0.5)


def test_dragging_a_group_takes_all_of_it(desk):
    first = desk.scene()
    before = {p["id"]: p for p in first["pieces"]}
    desk.drag(desk.centre("[data-piece='Mooring post 2']"), (40, 0))
    after = {p["id"]: p for p in desk.scene()["pieces"]}
    moved = {i for i in after if after[i] != before[i]}
    assert {before[i]["group"] for i in moved} == {"Mooring"}
    assert moved == {i for i in before if before[i]["group"] == "Mooring" and not before[i]["part_of"]}
    # The lamp on its post can move by itself; it goes along.
    lamp = [
        next(m for m in one["movers"] if m["id"] == "mov-lamp")["x"]["rest"] for one in (first, desk.scene())
    ]
    steps = {round(after[i]["x"] - before[i]["x"], 6) for i in moved} | {round(lamp[1] - lamp[0], 6)}
    assert len(steps) == 1 and steps.pop() > 0.5


def test_selecting_in_one_selects_in_all(desk):
    desk.page.mouse.click(*desk.centre("[data-figure=Bram] circle"))
    assert desk.field("Name").input_value() == "Bram"
    desk.page.keyboard.press("f")
    desk.kept()
    desk.page.keyboard.press("Escape")
    frame = desk.page.get_by_test_id("frame").bounding_box()
    # Framed, he stands in the middle of the picture; a click there is a click on him.
    desk.page.mouse.click(frame["x"] + frame["width"] / 2, frame["y"] + frame["height"] / 2)
    assert desk.field("Name").input_value() == "Bram"


def test_the_wedge_is_the_true_field_of_view(desk):
    desk.page.get_by_role("tab", name="Camera A Wide on the jetty").click()
    for focal, expected in ((40, 48.4555), (100, 20.4079)):
        # 2·atan(36/2f): by a pocket calculator.
        desk.type("Focal length", focal)
        lines = desk.page.locator("[data-edge=A]")
        ends = [[float(lines.nth(i).get_attribute(a)) for a in ("x1", "y1", "x2", "y2")] for i in (0, 1)]
        angles = [math.degrees(math.atan2(y2 - y1, x2 - x1)) for x1, y1, x2, y2 in ends]
        assert abs((angles[0] - angles[1] + 180) % 360 - 180) == pytest.approx(expected, abs=0.01)


def test_a_mover_is_put_in_placed_and_keyed_on_purpose(empty):
    page = empty.page
    page.get_by_role("button", name="Mover").click()
    page.get_by_role("menuitem", name="Boat", exact=True).click()
    page.get_by_test_id("mover-card").wait_for()
    empty.type("Across", 2)
    boat = empty.scene()["movers"][0]
    assert (boat["name"], boat["x"]["rest"], boat["x"]["keys"]) == ("Boat 1", 2, [])
    page.get_by_role("button", name="Set key").click()
    empty.kept()
    empty.go(1041)
    empty.type("Across", 5)
    # It has keys, and none here: nothing is kept that nobody asked for.
    assert "moved by its keys" in page.get_by_role("alert").first.inner_text()
    page.get_by_role("button", name="Set a key at 1041").click()
    empty.kept()
    keys = empty.scene()["movers"][0]["x"]["keys"]
    assert [(k["frame"], k["value"]) for k in keys] == [(1001, 2), (1041, 5)]


def test_a_crowd_is_drawn_along_a_line_and_its_lanes_fold(empty):
    page = empty.page
    tool(empty, "Figure")
    page.mouse.click(*on_plan(empty, 0, 60))
    page.get_by_test_id("figure-card").wait_for()
    empty.type("Name", "Wren")
    page.get_by_role("button", name="Copy into a crowd, each a little different").click()
    empty.type("How many", 6)
    page.get_by_label("Where they stand").select_option("along")
    page.get_by_role("button", name="Draw on the plan").click()
    page.get_by_text("Crowd: click along the line").wait_for()
    for right in (-75, 75):
        page.mouse.click(*on_plan(empty, right, -30))
    page.get_by_role("button", name="Done").click()
    group = page.get_by_role("button", name="Crowd of Wren 7")
    group.wait_for()
    crowd = empty.scene()["figures"][1:]
    # 30 pixels are a metre: along z = −1, from 2.5 m left to 2.5 m right.
    assert len(crowd) == 6 and all(abs(f["z"] + 1) < 0.2 for f in crowd)
    assert abs(crowd[0]["x"] + 2.5) < 0.2 and abs(crowd[-1]["x"] - 2.5) < 0.2
    # Folded, only who is selected has a lane; open, everybody.
    lanes = page.get_by_label("Lanes")
    assert lanes.get_by_role("button", name="Wren 2", exact=True).count() == 0
    group.click()
    lanes.get_by_role("button", name="Wren 2", exact=True).wait_for()
    page.get_by_role("button", name="Select all 7").click()
    page.keyboard.press("Delete")
    page.get_by_role("button", name="Crowd of Wren 7").wait_for(state="detached")
    assert empty.scene()["figures"] == []
