"""The assembly: shots, cuts, trims, gaps, clocks and playing."""

import numpy as np


def shots(desk):
    return [
        (s["name"], s["stage"]["first"], s["stage"]["last"], s["gap_before"]) for s in desk.scene()["shots"]
    ]


def caption(desk):
    return desk.page.get_by_test_id("caption").inner_text()


def test_two_cameras_put_on_the_assembly_and_cut_between(empty):
    page = empty.page
    for name in ("Wide", "Close"):
        page.get_by_role("tab", name="Rover").click()
        page.keyboard.press("n")
        empty.name_camera(name)
    page.keyboard.press("1")
    page.get_by_role("button", name="Add shot").click()
    empty.kept()
    page.keyboard.press("c")
    page.keyboard.press("Home")
    for _ in range(4):
        page.keyboard.press("Shift+ArrowRight")
    page.locator("[data-testid=strip-stage] button", has_text="Close").click()
    page.keyboard.press("x")
    empty.kept()
    # Added from the playhead on, for five seconds.
    assert shots(empty) == [("010", 1001, 1096, 0), ("020", 1097, 1120, 0)]
    # Common practice: a cut at N shows the old camera up to and including N−1.
    assert "Close" in caption(empty)
    page.keyboard.press("ArrowLeft")
    assert "Wide" in caption(empty)
    assert page.get_by_label("Cut timecode").input_value() == "01:00:03:23"


def test_three_clocks_tell_the_same_moment(desk):
    desk.page.keyboard.press("c")
    desk.page.keyboard.press("Home")
    for _ in range(5):
        desk.page.keyboard.press("Shift+ArrowRight")
    # 120 frames on: 113 frames of shot 010, then the eighth of shot 020, which begins at stage 1165.
    assert desk.clock("Stage") == "1172"
    assert desk.clock("Shot 020") == "8"
    assert desk.page.get_by_label("Cut timecode").input_value() == "01:00:05:00"
    # And a timecode that is typed is gone to; few digits are the end of it.
    desk.type("Cut timecode", "0212")
    assert desk.page.get_by_label("Cut timecode").input_value() == "01:00:02:12"
    assert desk.clock("Stage") == str(1064 + 60)
    desk.type("Cut timecode", "02:00:00:00")
    desk.page.get_by_text("The cut has no such timecode.").wait_for()


def test_trim_by_edge_and_by_number_reorder_and_change_camera(desk):
    page = desk.page
    per_frame = page.locator("[data-shot='010']").bounding_box()["width"] / 113
    desk.drag(desk.centre("[data-trim='010-last']"), (-10.4 * per_frame, 0))
    assert shots(desk)[0] == ("010", 1064, 1166, 0)
    # Shift rolls the cut: one shot gives what the other takes. So do the keys. Here at once beside a cue: Alt does not snap.
    x, y = desk.centre("[data-trim='010-last']")
    page.keyboard.down("Shift")
    desk.drag((x, y), (4.4 * per_frame, 0))
    page.keyboard.up("Shift")
    assert shots(desk)[:2] == [("010", 1064, 1170, 0), ("020", 1169, 1232, 0)]
    page.locator("[data-shot='010']").press("Alt+Shift+ArrowLeft")
    page.locator("[data-shot='020']").get_by_text("1168–1232").wait_for()
    desk.kept()
    assert shots(desk)[:2] == [("010", 1064, 1169, 0), ("020", 1168, 1232, 0)]
    for _ in range(2):
        page.keyboard.press("Control+z")
        desk.kept()
    assert shots(desk)[:2] == [("010", 1064, 1166, 0), ("020", 1165, 1232, 0)]
    page.locator("[data-shot='020']").click()
    desk.type("Stage last", 1225)
    assert shots(desk)[1] == ("020", 1165, 1225, 0)
    desk.type("Stage last", 1100)
    assert "would have no frames left: at most -60 f" in page.get_by_role("alert").first.inner_text()
    assert desk.field("Stage last").input_value() == "1100"
    desk.field("Stage last").press("Escape")
    page.get_by_label("Camera", exact=True).select_option(label="D Heron rises")
    desk.kept()
    assert desk.scene()["shots"][1]["camera"] == "cam-d"
    x, y = desk.centre("[data-shot='040']")
    left, _ = desk.centre("[data-shot='010']")
    desk.drag((x, y), (left - x - 60, 0))
    assert [s[0] for s in shots(desk)] == ["040", "010", "020", "030"]


def test_a_gap_is_marked_and_plays_black(desk):
    page = desk.page
    page.locator("[data-shot='020']").click()
    page.keyboard.press("Shift+Delete")
    page.wait_for_selector("[data-gap='030']")
    assert shots(desk)[1] == ("030", 1233, 1283, 68)
    page.keyboard.press("c")
    page.keyboard.press("Home")
    for _ in range(5):
        page.keyboard.press("Shift+ArrowRight")
    assert page.get_by_test_id("black").is_visible()
    page.get_by_label("Close the gap before shot 030").click()
    desk.kept()
    assert shots(desk)[1][3] == 0
    assert not page.get_by_test_id("black").is_visible()


def test_playing_keeps_real_time_and_stops_where_it_is(desk):
    page = desk.page
    page.keyboard.press("1")
    page.keyboard.press("Home")
    page.keyboard.press("Space")
    desk.until(lambda: int(desk.clock()) > 1004)
    # Looked at from inside the page, where no message has to wait for a picture to be drawn.
    seen = np.array(
        page.evaluate(
            """() => new Promise((done) => {
              const box = document.querySelector('[aria-label="Stage frame"]'), seen = [], begun = performance.now();
              const timer = setInterval(() => {
                seen.push([performance.now() - begun, Number(box.value)]);
                if (performance.now() - begun > 6000) { clearInterval(timer); done(seen); }
              }, 25);
            })"""
        )
    )
    page.keyboard.press("Space")
    # A look is late by as long as a picture takes to draw; the least late ones of the beginning and of the end say
    # whether the clock itself keeps time: within 5 %.
    ahead = seen[:, 1] - 24 * seen[:, 0] / 1000
    begun, ended = (ahead[(seen[:, 0] >= a) & (seen[:, 0] < a + 2000)].max() for a in (0, 4000))
    assert abs(ended - begun) <= 0.05 * 24 * 4
    page.get_by_role("button", name="Play the stage").wait_for()
    stopped = desk.clock()
    # Several pictures' time for it to go on in, if it did.
    page.wait_for_timeout(300)
    assert desk.clock() == stopped
    page.keyboard.press("ArrowRight")
    assert int(desk.clock()) == int(stopped) + 1


def test_a_loop_goes_round_its_range(desk):
    page = desk.page
    desk.go(1100)
    page.keyboard.press("Shift+Home")
    desk.go(1112)
    page.keyboard.press("Shift+End")
    page.keyboard.press("Space")
    seen = desk.frames_until_round()
    assert min(seen) >= 1100 and max(seen) <= 1112


def test_scrubbing_the_ruler_follows_the_hand(desk):
    ruler = desk.page.get_by_test_id("ruler-stage").bounding_box()
    per_frame = ruler["width"] / 320
    desk.drag((ruler["x"] + 50.5 * per_frame, ruler["y"] + 8), (100 * per_frame, 0))
    assert desk.clock() == "1151"


def test_a_shot_slips_and_slides_by_hand_by_key_and_by_number_and_is_split(desk):
    page = desk.page
    block = page.locator("[data-shot='020']")
    box = block.bounding_box()
    per_frame = box["width"] / 68
    middle = (box["x"] + box["width"] / 2, box["y"] + 8)
    # Shot 020 shows 1165–1232 between 010, which ends at 1176, and 030, which begins at 1233.
    page.keyboard.down("Control")
    desk.drag(middle, (6 * per_frame, 0))
    page.keyboard.up("Control")
    assert shots(desk)[1] == ("020", 1171, 1238, 0) and len(shots(desk)) == 4
    page.keyboard.press("Control+z")
    desk.kept()
    page.keyboard.down("Shift")
    desk.drag(middle, (6 * per_frame, 0))
    page.keyboard.up("Shift")
    assert shots(desk)[:3] == [("010", 1064, 1182, 0), ("020", 1165, 1232, 0), ("030", 1239, 1283, 0)]
    page.keyboard.press("Control+z")
    desk.kept()
    block.focus()
    page.keyboard.press("Enter")
    page.keyboard.press("d")
    page.keyboard.press("d")
    desk.until(lambda: shots(desk)[1] == ("020", 1167, 1234, 0))
    desk.type("Slip by", -2)
    assert shots(desk)[1] == ("020", 1165, 1232, 0)
    desk.type("Slip by", 100)
    page.get_by_text("shot 020 has no later frames: at most +88 f").first.wait_for()
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Go to its first frame").click()
    for _ in range(10):
        page.keyboard.press("ArrowRight")
    page.get_by_role("button", name="Split it at the playhead").click()
    page.locator("[data-shot='025']").wait_for()
    assert shots(desk)[1:3] == [("020", 1165, 1174, 0), ("025", 1175, 1232, 0)]
    page.get_by_role("button", name="Copy it behind itself").click()
    desk.until(lambda: len(shots(desk)) == 6)
    assert [s[1:3] for s in shots(desk)[1:3]] == [(1165, 1174), (1165, 1174)]
