"""Playing what matters: speeds, loops between keys, cues, and going from key to key, cue to cue, cut to cut."""

import pytest


def stage(desk):
    return int(desk.page.get_by_label("Stage frame").input_value())


def test_keys_go_to_keys_cues_and_cuts(desk):
    page = desk.page
    page.keyboard.press("2")
    desk.go(1100)
    page.keyboard.press("]")
    assert stage(desk) == 1170
    page.keyboard.press("]")
    page.keyboard.press("[")
    assert stage(desk) == 1170
    page.keyboard.press("q")
    # Round and round between the two keys about the playhead.
    page.get_by_role("button", name="Loop 1170–1236").wait_for()
    desk.go(1200)
    page.keyboard.press("j")
    desk.kept()
    desk.go(1250)
    page.keyboard.press("j")
    desk.kept()
    assert [(c["name"], c["frame"]) for c in desk.scene()["cues"]] == [("Cue 1", 1200), ("Cue 2", 1250)]
    page.keyboard.press("{")
    assert stage(desk) == 1200
    page.keyboard.press("}")
    assert stage(desk) == 1250
    page.keyboard.press("'")
    page.wait_for_function(
        "() => document.querySelector('[aria-label=\"Cut timecode\"]').value === '01:00:09:16'"
    )
    page.keyboard.press(";")
    page.keyboard.press(";")
    assert page.get_by_label("Cut timecode").input_value() == "01:00:04:17"


def test_cues_are_named_dragged_snapped_to_and_bound(desk):
    page = desk.page
    page.keyboard.press("2")
    desk.go(1200)
    page.keyboard.press("j")
    desk.kept()
    page.get_by_role("button", name="More of the cue Cue 1").click()
    page.get_by_label("Cue", exact=True).fill("She turns")
    page.keyboard.press("Enter")
    desk.kept()
    page.get_by_label("Goes with", exact=True).select_option(label="Bram's turn starts, 1118")
    desk.kept()
    page.keyboard.press("Escape")
    flag = page.locator("[data-cue='She turns'] button").first.bounding_box()
    ruler = page.get_by_test_id("ruler-stage").bounding_box()
    ppf = ruler["width"] / 320
    desk.drag((flag["x"] + 6, flag["y"] + 8), (30 * ppf, 0))
    (cue,) = desk.scene()["cues"]
    assert (
        cue["name"] == "She turns" and abs(cue["frame"] - 1230) <= 1 and cue["bound"]["figure"] == "fig-bram"
    )
    # A trim near it comes to lie on it: the shot ends on the frame before.
    edge = page.locator("[data-trim='020-last']").bounding_box()
    cut = page.get_by_test_id("ruler-cut").bounding_box()
    wide = cut["width"] / 275
    desk.drag((edge["x"] + 4, edge["y"] + 20), ((cue["frame"] - 1 - 1232) * wide + 3, 0))
    assert desk.scene()["shots"][1]["stage"]["last"] == cue["frame"] - 1


def test_half_speed_is_half_as_fast_and_frames_are_put_in(desk):
    page = desk.page
    page.keyboard.press("2")
    desk.go(1180)
    page.keyboard.press("r")
    page.get_by_role("button", name="½×").wait_for()
    page.keyboard.press("Space")
    # Both clocks at moments when the frame has just changed: how late it began or is drawn does not count.
    changed = """([label, past]) => new Promise((done) => {
      const look = () => {
        const frame = Number(document.querySelector(`[aria-label="${label}"]`).value);
        if (frame > past) done([performance.now(), frame]);
        else requestAnimationFrame(look);
      };
      look();
    })"""
    (began, first), (ended, last) = (page.evaluate(changed, ["Stage frame", past]) for past in (1182, 1254))
    page.keyboard.press("Space")
    # Half of 24 frames a second, within the pictures drawn at both ends: over six seconds, for a slow machine draws few.
    assert (last - first) / (ended - began) * 1000 == pytest.approx(12, rel=0.2)
    page.keyboard.press("u")
    desk.go(1190)
    page.wait_for_selector("[data-testid=curves][data-drawn]")
    page.locator("[data-channel=roll]").wait_for()
    desk.kept()
    page.get_by_test_id("curves").focus()
    page.keyboard.press("Control+a")
    page.get_by_role("button", name="Scale…").click()
    page.get_by_label("Frames in at the playhead").fill("12")
    page.keyboard.press("Enter")
    desk.kept()
    b = desk.scene()["cameras"][1]
    assert [k["frame"] for k in b["x"]["keys"]] == [1170, 1248] == [k["frame"] for k in b["tilt"]["keys"]]


def test_what_a_delete_takes_with_it_is_said_before(desk):
    page = desk.page
    page.get_by_test_id("plan").wait_for()
    page.mouse.click(*desk.centre("[data-figure=Odile] text"))
    page.get_by_test_id("plan").focus()
    page.keyboard.press("Delete")
    ask = page.get_by_role("dialog", name="Delete Odile?")
    ask.get_by_text("What it did to camera").wait_for()
    ask.get_by_role("button", name="Keep", exact=True).click()
    assert [f["name"] for f in desk.scene()["figures"]] == ["Odile", "Bram"]
    page.get_by_test_id("plan").focus()
    page.keyboard.press("Delete")
    ask.get_by_role("button", name="Delete it").click()
    desk.kept()
    assert [f["name"] for f in desk.scene()["figures"]] == ["Bram"]


def test_only_what_is_meant_is_picked_and_a_locked_group_is_not_touched(desk):
    page = desk.page
    page.get_by_role("switch", name="Pick people and movers").click()
    odile = desk.centre("[data-figure=Odile] text")
    page.mouse.click(*odile)
    desk.kept()
    assert page.get_by_test_id("figure-card").count() == 0
    page.get_by_role("switch", name="Pick people and movers").click()
    page.get_by_role("switch", name="Pick cameras and perches").click()
    page.mouse.click(*odile)
    page.get_by_test_id("figure-card").wait_for()
    page.get_by_role("switch", name="Pick cameras and perches").click()
    page.keyboard.press("6")
    page.get_by_role("button", name="Lock all of “On the walk”").click()
    desk.kept()
    assert [c["letter"] for c in desk.scene()["cameras"] if c["locked"]] == ["F", "G", "H", "I"]
