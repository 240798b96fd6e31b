"""Cutting at the desk: several shots at once, the cuts between them, joins, versions, slates, and cutting live."""

from fractions import Fraction

import numpy as np
import pytest
from harness import Desk
from PIL import Image
from renders import FINE, drawer, pixels

from heron.cut import Clocks
from heron.cut.live import Press, taken
from heron.scene import Scene


def shots(desk):
    return [(s["name"], s["stage"]["first"], s["stage"]["last"]) for s in desk.scene()["shots"]]


def test_a_cut_is_walked_to_nudged_on_either_side_played_over_and_dissolved_by_single_keys(desk):
    page = desk.page
    page.locator("[data-shot='010']").focus()
    page.keyboard.press("z")
    page.locator("[data-joint='shot-020']:focus").wait_for()
    page.get_by_test_id("edge-last").get_by_text("1176").wait_for()
    page.keyboard.press("ArrowRight")
    page.locator("[data-joint='shot-030']:focus").wait_for()
    desk.until(lambda: page.get_by_test_id("edge-first").inner_text().split()[:2] == ["C", "030"])
    for key, expected in (
        ("d", [("020", 1165, 1233), ("030", 1234, 1283)]),
        ("q", [("020", 1165, 1232), ("030", 1234, 1283)]),
        ("z", [("020", 1165, 1232), ("030", 1233, 1283)]),
        ("Shift+a", [("020", 1165, 1208), ("030", 1209, 1283)]),
    ):
        page.keyboard.press(key)
        desk.until(lambda: shots(desk)[1:3] == expected)  # noqa: B023
    page.get_by_test_id("edge-first").get_by_text("1209").wait_for()
    page.keyboard.press("o")
    page.locator("[data-dissolve='030']").wait_for()
    assert desk.scene()["shots"][2]["dissolve"] == [6, 6]
    page.keyboard.press("p")
    page.get_by_role("button", name="Pause").wait_for()
    # Half a second before it and after it, round and round: from 145 to 168, the cut being at 157.
    seen = page.evaluate(
        """() => new Promise((done, failed) => {
          const box = document.querySelector('[aria-label="Cut timecode"]'), seen = [], ends = performance.now() + 60000;
          const look = () => {
            const now = box.value, last = seen.at(-1);
            if (performance.now() > ends) return failed(new Error(`it did not go round: ${seen}`));
            if (now !== last) seen.push(now);
            if (seen.length > 2 && now < last) done(seen);
            else requestAnimationFrame(look);
          };
          look();
        })"""
    )
    # It has gone back from its last frame to its first.
    assert min(seen) >= "01:00:06:01" and max(seen) <= "01:00:07:00"
    page.keyboard.press("p")
    page.get_by_role("button", name="Play the cut").wait_for()
    assert page.locator("[data-joint='shot-030']:focus").count() == 1


def test_several_shots_are_chosen_and_edited_as_one_and_what_stops_them_is_said(desk):
    page = desk.page
    page.locator("[data-shot='020']").click()
    page.keyboard.down("Shift")
    page.locator("[data-shot='030']").click()
    page.keyboard.up("Shift")
    page.get_by_text("2 shots").wait_for()
    # By the keyboard alone as well.
    page.locator("[data-shot='020']").focus()
    page.keyboard.press("Enter")
    page.get_by_text("2 shots").wait_for(state="hidden")
    page.keyboard.press("Control+Shift+ArrowRight")
    page.get_by_text("2 shots").wait_for()
    desk.type("Slip by", 3)
    assert shots(desk)[1:3] == [("020", 1168, 1235), ("030", 1236, 1286)]
    # No farther than there are frames: 030 ends on 1286 of 1320.
    box = page.locator("[data-trim='030-last']").bounding_box()
    page.mouse.move(box["x"] + 4, box["y"] + 20)
    page.mouse.down()
    page.mouse.move(box["x"] + 12, box["y"] + 20)
    page.mouse.move(box["x"] + 260, box["y"] + 20, steps=6)
    said = page.get_by_test_id("edit-says")
    said.get_by_text("shot 030 has no later frames").wait_for()
    page.mouse.up()
    desk.kept()
    assert shots(desk)[1:3] == [("020", 1168, 1269), ("030", 1236, 1320)]
    assert said.count() == 0
    page.keyboard.press("Control+z")
    desk.until(lambda: shots(desk)[2] == ("030", 1236, 1286))
    page.keyboard.press("Delete")
    desk.until(lambda: [s[0] for s in shots(desk)] == ["010", "040"])


def test_fades_are_dragged_from_the_corners_and_versions_gone_through_by_a_key(desk):
    page = desk.page
    page.locator("[data-shot='030']").click()
    corner = page.locator("[data-fade-end='030-in']").bounding_box()
    per_frame = page.locator("[data-shot='030']").bounding_box()["width"] / 51
    desk.drag((corner["x"] + 5, corner["y"] + 5), (8 * per_frame, 0))
    desk.until(lambda: desk.scene()["shots"][2]["fade_in"] == 8)
    page.locator("[data-fade='030-in']").wait_for()
    page.get_by_label("Keep another").select_option(index=2)
    page.get_by_role("list", name="Versions of the shot").wait_for()
    desk.until(lambda: desk.scene()["shots"][2]["versions"] and desk.scene()["shots"][2]["camera"] != "cam-c")
    page.locator("[data-shot='030']").click()
    page.keyboard.press("=")
    desk.until(lambda: desk.scene()["shots"][2]["camera"] == "cam-c")
    # The other one lies under the shot where that is asked for; a press chooses it.
    page.get_by_role("button", name="Versions", exact=True).click()
    page.locator("[data-version]").click()
    desk.until(lambda: desk.scene()["shots"][2]["camera"] != "cam-c")


def test_a_slate_stands_in_the_cut_until_it_is_given_a_camera(desk):
    page = desk.page
    page.locator("[data-shot='040']").click()
    page.get_by_role("button", name="Add slate").click()
    page.locator("[data-shot='050']").wait_for()
    page.get_by_role("button", name="Go to its first frame").click()
    page.get_by_test_id("slate").get_by_alt_text("no camera yet").wait_for()
    page.get_by_label("Camera", exact=True).select_option(label="A Wide on the jetty")
    page.get_by_test_id("slate").wait_for(state="hidden")
    shot = desk.scene()["shots"][-1]
    # The action goes on to the scene's end: as late as there are frames for it.
    assert (shot["camera"], shot["stage"]) == ("cam-a", {"first": 1201, "last": 1320})


def test_letters_cut_while_it_plays_and_the_run_lands_by_the_stated_rule(desk):
    page = desk.page
    before = desk.scene()
    page.keyboard.press("c")
    page.keyboard.press("Home")
    page.keyboard.press("Space")
    caption = page.get_by_test_id("caption")
    for letter, name in (("d", "Heron rises"), ("b", "Odile over Bram")):
        page.wait_for_timeout(700)  # a hand waits between two presses
        page.keyboard.press(letter)
        caption.get_by_text(name).wait_for()
        page.get_by_role("button", name="Cut live").get_by_text("Cutting live").wait_for()
    page.wait_for_timeout(700)
    page.keyboard.press("Space")
    desk.until(lambda: desk.scene()["shots"] != before["shots"])
    (kept,) = desk.server.call("GET", f"/api/scenes/{desk.id}/runs")
    run = kept["run"]
    assert [letter for _, letter in run["presses"]] == ["A", "D", "B"]
    presses = [Press(seconds, f"cam-{letter.lower()}") for seconds, letter in run["presses"]]
    takes = taken(presses, "cam-a", run["start"], run["to"] + 1, Fraction(24))
    clocks = Clocks(Scene.model_validate(desk.scene()))
    assert len(takes) == 3 and clocks.length == 275
    for take in takes:
        assert clocks.placed[clocks.cut_table[0][take.at]].shot.camera == take.camera
    # What it showed of the action is as it was.
    assert (clocks.cut_table[1] == Clocks(Scene.model_validate(before)).cut_table[1]).all()
    page.keyboard.press("Control+z")
    desk.until(lambda: desk.scene()["shots"] == before["shots"])
    # Undone, and after a reload, it is there to be chosen.
    desk.open("?look=cut")
    page.get_by_role("button", name="Cut live").click()
    page.get_by_role("list", name="Runs").get_by_role("button", name="Use").click()
    desk.until(lambda: desk.scene()["shots"] != before["shots"])


@pytest.mark.refined
def test_the_wall_shows_each_cameras_own_picture_and_a_press_looks_through_it(server, page, desk):
    page.set_viewport_size({"width": 1320, "height": 800})
    # In the whole window four stand beside each other in 320 × 180 pixels each, to the pixel.
    page.evaluate(
        """() => localStorage.setItem('heron-wishes', JSON.stringify({ state: { wallOf: 'cut', wallColumns: 4 }, version: 0 }))"""
    )
    desk.open()
    desk.go(1100)
    page.keyboard.press("Shift+W")
    page.keyboard.press("w")
    page.locator("[data-wall='D']").wait_for()
    assert page.locator("[data-wall]").count() == 4
    desk.until(lambda: page.evaluate("document.querySelector('canvas[data-ready]').width") == 1320)
    box = page.locator("[data-wall='A']").bounding_box()
    assert (box["width"], box["height"]) == (320, 180)
    desk.refined(64)
    inner = {"x": box["x"] + 4, "y": box["y"] + 4, "width": 312, "height": 172}
    # What is said in the corners lies over the picture.
    said = "[data-wall] > .absolute { visibility: hidden }"
    shown = pixels(page.screenshot(clip=inner, style=said))
    page.locator("[data-wall='B']").get_by_text("50 mm").wait_for()
    page.locator("[data-wall='B']").click()
    page.get_by_role("tab", name="Camera B").and_(page.locator("[data-state=active]")).wait_for()
    assert page.get_by_test_id("wall").count() == 0
    alone = drawer(page, server, desk.id, 320, 180)("cam-a", 1100, FINE)[4:-4, 4:-4]
    assert np.abs(shown - alone).mean() < 1


def test_shots_are_inserted_overwritten_split_joined_and_copied_by_keys(desk):
    page = desk.page
    page.keyboard.press("c")
    page.keyboard.press("Home")
    for _ in range(2):
        page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("Shift+W")
    page.locator("[data-wall='C']").click(modifiers=["Control"])
    page.keyboard.press("Shift+W")
    # At frame 48 of the cut, stage 1112, five seconds of camera C go in; what comes later moves on.
    page.keyboard.press("Alt+i")
    desk.until(lambda: len(shots(desk)) == 6)
    assert [s[1:] for s in shots(desk)[:3]] == [(1064, 1111), (1112, 1231), (1112, 1176)]
    page.keyboard.press("Control+z")
    desk.until(lambda: len(shots(desk)) == 4)
    page.locator("[data-shot='010']").focus()
    page.keyboard.press("Enter")
    page.keyboard.press("Alt+x")
    desk.until(lambda: len(shots(desk)) == 5)
    assert [s[1:] for s in shots(desk)[:2]] == [(1064, 1111), (1112, 1176)]
    page.keyboard.press("Alt+j")
    desk.until(lambda: len(shots(desk)) == 4)
    # The tail goes to the playhead: the next shot begins there, as it touches.
    page.keyboard.press("Alt+]")
    desk.until(lambda: shots(desk)[0] == ("010", 1064, 1112))
    assert shots(desk)[1] == ("020", 1101, 1232)
    page.keyboard.press("Control+d")
    desk.until(lambda: len(shots(desk)) == 5)
    assert shots(desk)[1][1:] == (1064, 1112)


def test_a_list_of_shots_is_brought_in_and_whole_cuts_are_kept_and_compared(desk):
    page = desk.page
    page.get_by_role("button", name="Shots").click()
    page.get_by_label("Name of the cut that is kept").or_(page.get_by_text("This cut")).first.wait_for()
    page.get_by_text("This cut").click()
    desk.page.get_by_label("Name of the cut that is kept").fill("As it was")
    page.keyboard.press("Enter")
    page.get_by_role("list", name="Kept cuts").get_by_text("As it was").wait_for()
    bad = {"name": "shots.csv", "mimeType": "text/csv", "buffer": b"name,length,text\n010,24,\n100,soon,\n"}
    page.get_by_label("Bring in a list of shots").set_input_files(bad)
    page.get_by_text("row 2: a shot is called 010 already").wait_for()
    good = {"name": "shots.csv", "mimeType": "text/csv", "buffer": b"name;length;text\n100;2s;She waits\n"}
    page.get_by_label("Bring in a list of shots").set_input_files(good)
    page.locator("[data-shot='100']").wait_for()
    assert (
        desk.scene()["shots"][-1]["note"] == "She waits" and desk.scene()["shots"][-1]["stage"]["last"] == 48
    )
    page.get_by_role("button", name="Compare").click()
    page.get_by_text("100 is gone").wait_for()
    page.get_by_text("It is 48 f (2.0 s) shorter").wait_for()
    page.get_by_role("list", name="Kept cuts").get_by_role("button", name="Play").click()
    desk.until(lambda: [s[0] for s in shots(desk)] == ["010", "020", "030", "040"])
    # Black is listed, and closed from there.
    page.locator("[data-shot='020']").click()
    page.keyboard.press("Shift+Delete")
    page.get_by_text("68 f black before 030").wait_for()
    page.get_by_test_id("shot-list").get_by_role("button", name="Close").click()
    page.get_by_text("68 f black before 030").wait_for(state="hidden")
    assert [s["gap_before"] for s in desk.scene()["shots"]] == [0, 0, 0]


def test_a_shot_is_dressed_for_itself_and_undressed_by_hand(desk):
    page = desk.page
    page.keyboard.press("c")
    page.locator("[data-shot='020']").dblclick()
    page.keyboard.press("Shift+S")
    page.get_by_test_id("dress-bar").get_by_text("shot 020").wait_for()
    page.locator("[data-piece='Crate on crate']").dblclick()
    page.get_by_test_id("piece-card").get_by_role("button", name="Hide in pictures").click()
    own = lambda: [(one["piece"], one["fields"]) for one in desk.scene()["shots"][1]["own"]]  # noqa: E731
    desk.until(lambda: own() == [("set-21", {"hidden": True})])
    assert not next(p for p in desk.scene()["pieces"] if p["id"] == "set-21")["hidden"]
    page.keyboard.press("Shift+S")
    page.get_by_test_id("dress-bar").wait_for(state="detached")
    # The scene is itself again, and the shot says what it has.
    page.get_by_test_id("piece-card").get_by_role("button", name="Hide in pictures").wait_for()
    page.locator("[data-shot='020']").get_by_text("1 own").wait_for()
    page.locator("[data-shot='020']").click()
    page.get_by_test_id("shot-card").get_by_role(
        "button", name="Crate on crate: as in the scene again"
    ).click()
    desk.until(lambda: own() == [])
    page.keyboard.press("Control+z")
    desk.until(lambda: len(own()) == 1)


def test_a_locked_part_refuses_and_says_where_it_is_unlocked(desk):
    page = desk.page
    page.get_by_role("button", name="Lock the set").click()
    page.get_by_role("button", name="Unlock the set").wait_for()
    page.locator("[data-piece='Crate on crate']").dblclick()
    page.get_by_test_id("piece-card").get_by_role("button", name="Hide in pictures").click()
    page.get_by_text("The set is locked.").first.wait_for()
    page.get_by_text("Unlock it on the scene's card, under Parts.").first.wait_for()
    assert not next(p for p in desk.scene()["pieces"] if p["id"] == "set-21")["hidden"]


def test_a_board_stands_for_a_shot_and_is_held_against_its_camera(desk, tmp_path):
    page = desk.page
    path = tmp_path / "board.png"
    Image.new("RGB", (160, 90), (20, 160, 90)).save(path)
    page.get_by_role("button", name="Add slate").click()
    page.get_by_test_id("shot-card").wait_for()
    page.get_by_label("Picture of the board").set_input_files(path)
    page.get_by_test_id("shot-card").get_by_alt_text("Board of shot 050").wait_for()
    page.get_by_role("button", name="Go to its first frame").click()
    page.keyboard.press("c")
    page.get_by_test_id("slate").get_by_alt_text("Board of shot 050").wait_for()
    # With a camera it stays, beside the camera's picture, over it, or hidden.
    page.get_by_test_id("shot-card").get_by_label("Camera", exact=True).select_option("cam-e")
    page.get_by_test_id("board").wait_for()
    page.keyboard.press("Alt+b")
    page.get_by_test_id("shot-card").get_by_text("Strength").wait_for()
    page.keyboard.press("Alt+b")
    page.get_by_test_id("board").wait_for(state="detached")
    (tmp_path / "notes.txt").write_text("no picture")
    page.get_by_label("Picture of the board").set_input_files(tmp_path / "notes.txt")
    page.get_by_text("notes.txt is not a picture that a shot can show.").first.wait_for()


@pytest.mark.refined
def test_two_cuts_stand_beside_each_other_in_step(server, page):
    page.set_viewport_size({"width": 1320, "height": 800})
    desk = Desk(server, page, server.new_demo()).open()
    path, edits = f"/api/scenes/{desk.id}/commands", (
        {"kind": "cut.keep", "id": "first", "name": "First pass"},
        {"kind": "cut.edit", "do": {"edit": "swap_angle", "shots": ["020"], "camera": "E"}},
        {"kind": "cut.edit", "do": {"edit": "trim_in", "shots": ["010"], "by": 10}},
    )  # fmt: skip
    for seen, command in enumerate(edits):
        server.call("POST", path, {"seen": seen, "command": command})
    page.get_by_role("button", name="Shots", exact=True).click()
    page.get_by_role("list", name="Kept cuts").get_by_role("button", name="Side by side").click()
    own, other = page.get_by_test_id("against-own"), page.get_by_test_id("against-other")
    page.locator("[data-shot='020']").dblclick()
    # 020 begins at frame 103 of this cut and shows stage 1165; there the other still shows 010, ten frames from its end.
    own.get_by_text("020").wait_for()
    own.get_by_text("E", exact=True).wait_for()
    other.get_by_text("First pass").wait_for()
    other.get_by_text("010").wait_for()
    # A second on, the stage is at 1189, which only the other cut's 020 shows.
    page.get_by_role("button", name="Action", exact=True).click()
    page.keyboard.press("Shift+ArrowRight")
    own.get_by_text("020").wait_for()
    other.get_by_text("020").wait_for()
    other.get_by_text("B", exact=True).wait_for()
    desk.refined(4)
    page.keyboard.press("Escape")
    page.get_by_test_id("against-bar").wait_for(state="detached")
