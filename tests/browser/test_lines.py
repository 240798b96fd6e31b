"""Dialogue at the desk: written, pasted and brought in; lines and words dragged; cuts drawn on to words."""

import pytest

SUBTITLES = "WEBVTT\n\n00:00:01.000 --> 00:00:02.000\n<v Odile>Bram!\n\n00:00:02.500 --> 00:00:04.000\n<v Old Fell>Who calls?\n"


def times(desk):
    desk.kept()
    return {
        one["id"]: one
        for one in desk.server.call("GET", f"/api/scenes/{desk.id}/samples/scene:lines")["lines"]
    }


@pytest.fixture
def talk(desk):
    """Two lines, the second after the first."""
    page = desk.page
    page.keyboard.press("Shift+T")
    page.get_by_text("No lines yet.").wait_for()
    field = page.get_by_role("textbox", name="New line")
    field.fill("Odile: You've missed the tide.\nBram: Then I'll wait.")
    page.get_by_role("button", name="Bring in", exact=True).click()
    page.locator("[data-row]").nth(1).wait_for()
    page.locator("[data-line]").nth(1).wait_for()
    return desk


def test_lines_are_written_to_and_fro_and_typed_over(talk):
    page = talk.page
    field = page.get_by_role("textbox", name="New line")
    # Whoever did not speak last is who speaks next.
    assert page.get_by_label("Who says the new line").input_value() == "fig-odile"
    field.fill("It's six hours.")
    field.press("Enter")
    page.locator("[data-row]").nth(2).wait_for()
    lines = talk.scene()["lines"]
    assert [(one["figure"], one["first"]) for one in lines] == [
        ("fig-odile", 1001),
        ("fig-bram", None),
        ("fig-odile", None),
    ]
    row = page.locator("[data-row]").nth(1)
    row.get_by_label("Words of Bram").fill("I can wait.")
    row.get_by_label("Words of Bram").press("Enter")
    talk.until(lambda: talk.scene()["lines"][1]["text"] == "I can wait.")
    before = times(talk)
    row.get_by_label("Pause", exact=True).fill("24")
    row.get_by_label("Pause", exact=True).press("Enter")
    talk.until(lambda: talk.scene()["lines"][1]["pause"] == 24)
    now = times(talk)
    # It and the one after it come 18 frames later than with the usual 6.
    assert [now[one["id"]]["first"] - before[one["id"]]["first"] for one in lines] == [0, 18, 18]
    row.get_by_label("When “I can wait.” begins").select_option("at")
    talk.until(lambda: talk.scene()["lines"][1]["first"] == now[lines[1]["id"]]["first"])
    page.keyboard.press("Escape")
    page.keyboard.press("Control+z")
    talk.until(lambda: talk.scene()["lines"][1]["first"] is None)


def test_a_line_and_a_word_are_dragged_and_moved_by_keys(talk):
    page = talk.page
    first, second = (one["id"] for one in talk.scene()["lines"])
    before = times(talk)
    block = page.locator(f"[data-line='{second}']")
    box = block.bounding_box()
    per_frame = box["width"] / (before[second]["last"] - before[second]["first"] + 1)
    page.keyboard.down("Control")
    talk.drag((box["x"] + 4, box["y"] + box["height"] / 2), (30 * per_frame, 0))
    page.keyboard.up("Control")
    talk.until(lambda: times(talk)[second]["first"] == before[second]["first"] + 30)
    assert times(talk)[first] == before[first]
    block.get_by_role("button").press("ArrowLeft")
    talk.until(lambda: times(talk)[second]["first"] == before[second]["first"] + 29)
    # The third word of the first line, ten frames later: those after it and the next line follow.
    word = page.locator(f"[data-word='{first} 2']").bounding_box()
    page.keyboard.down("Control")
    talk.drag((word["x"] + 2, word["y"] + 4), (10 * per_frame, 0))
    page.keyboard.up("Control")
    talk.until(lambda: times(talk)[first]["words"][2] == before[first]["words"][2] + 10)
    now = times(talk)
    assert (
        now[first]["last"] == before[first]["last"] + 10
        and now[second]["first"] == before[second]["first"] + 39
    )
    block.get_by_role("button").press("Delete")
    talk.until(lambda: [one["id"] for one in talk.scene()["lines"]] == [first])


def test_an_edge_of_a_shot_is_drawn_on_to_a_word(talk):
    page = talk.page
    first = talk.scene()["lines"][0]["id"]
    seen = talk.server.call("GET", f"/api/scenes/{talk.id}")["revision"]
    # “tide.” on a frame where nothing else begins or ends.
    by = 1224 - times(talk)[first]["words"][3]
    move = {"kind": "lines.move", "ids": [first], "by": by}
    talk.server.call("POST", f"/api/scenes/{talk.id}/commands", {"seen": seen, "command": move})
    page.locator(f"[data-line='{first}'] button[aria-label*=', {1001 + by} to ']").wait_for()
    per_frame = page.locator("[data-shot='020']").bounding_box()["width"] / 68
    talk.drag(talk.centre("[data-trim='020-last']"), (-8.4 * per_frame, 0))
    # 020 ended with 1232, and eight frames earlier is one beside the last before the word.
    assert [one["stage"]["last"] for one in talk.scene()["shots"] if one["name"] == "020"] == [1223]


def test_subtitles_are_brought_in_and_go_out(talk, tmp_path):
    page = talk.page
    path = tmp_path / "talk.vtt"
    path.write_text(SUBTITLES)
    page.get_by_label("Bring in a screenplay or subtitles").set_input_files(path)
    page.get_by_text("Brought in 2 lines; Old Fell is a voice off").first.wait_for()
    named = [one["who"] for one in talk.scene()["lines"] if one["who"]]
    assert named == ["Old Fell"]
    with page.expect_download() as came:
        page.get_by_role("link", name=".vtt").click()
    assert "00:00:02.500 --> 00:00:04.000\n<v Old Fell>Who calls?</v>" in came.value.path().read_text()
    bad = tmp_path / "talk.srt"
    bad.write_text("nothing here")
    page.get_by_label("Bring in a screenplay or subtitles").set_input_files(bad)
    page.get_by_text("There are no subtitles in it.").first.wait_for()
    assert len(talk.scene()["lines"]) == 4
    # The voice comes on the stage.
    page.get_by_label("Who says “Who calls?”").select_option("Put Old Fell on the stage")
    page.locator("[data-row]").get_by_label("Words of Old Fell").wait_for()
    assert [one["name"] for one in talk.scene()["figures"]][2:] == ["Old Fell"]


def test_a_cut_and_an_act_hang_on_words_and_move_with_them(desk):
    page = desk.page
    line = {
        "kind": "line.add",
        "id": "a",
        "figure": "fig-odile",
        "text": "You've missed the tide.",
        "first": 1190,
    }
    desk.server.call("POST", f"/api/scenes/{desk.id}/commands", {"seen": 0, "command": line})
    page.locator("[data-line='a']").wait_for()
    shot = lambda: desk.scene()["shots"][2]  # noqa: E731
    was = shot()["stage"]["first"]
    page.locator("[data-shot='030']").click()
    hangs = page.get_by_label("Cut hangs on")
    assert hangs.locator("option", has_text="after “tide”, Odile").count() == 1
    hangs.select_option("a 3 first")
    desk.until(lambda: shot()["bound"] == {"line": "a", "word": 3, "end": "first"})
    page.locator("[data-hung='a 3']").wait_for()
    page.get_by_role("button", name="Odile says “You've missed the tide.”").focus()
    page.keyboard.press("ArrowLeft")
    desk.until(lambda: shot()["stage"]["first"] == was - 1)
    page.keyboard.press("Control+z")
    desk.until(lambda: shot()["stage"]["first"] == was)
    hangs.select_option("")
    desk.until(lambda: shot()["bound"] is None)


def test_a_conversation_is_covered_by_the_cameras_that_are_wanted(desk):
    page = desk.page
    for n, figure in enumerate(("fig-odile", "fig-bram")):
        line = {
            "kind": "line.add",
            "id": f"l{n}",
            "figure": figure,
            "text": "Still here.",
            "first": 1200 + 40 * n,
        }
        desk.server.call("POST", f"/api/scenes/{desk.id}/commands", {"seen": n, "command": line})
    page.locator("[data-line='l1']").wait_for()
    before = desk.scene()["cameras"]
    page.keyboard.press("Shift+C")
    # At the first frame they are far apart.
    page.get_by_role("alert").get_by_text("m apart at 1001").wait_for()
    desk.go(1220)
    page.get_by_role("button", name="Propose for 1220 instead").click()
    page.locator("[data-proposal]").nth(6).wait_for()
    page.locator("[data-wall]").nth(6).wait_for()
    assert page.locator("[data-wall]").count() == 7
    row = page.locator("[data-proposal='master']")
    row.get_by_role("button", name="Look through it").click()
    page.get_by_test_id("caption").get_by_text("Master of Odile and Bram").wait_for()
    # An insert is of what is pointed at.
    page.get_by_role("button", name="Insert of…").click()
    page.mouse.click(*desk.centre("[data-mover='Heron']"))
    page.locator("[data-proposal='insert']").get_by_text("Insert of Heron").wait_for()
    page.get_by_role("button", name="No insert").click()
    page.locator("[data-proposal='insert']").wait_for(state="detached")
    row.get_by_role("checkbox").uncheck()
    page.get_by_role("button", name="Make 6 cameras").click()
    desk.until(lambda: len(desk.scene()["cameras"]) == len(before) + 6)
    assert "Master of Odile and Bram" not in [one["name"] for one in desk.scene()["cameras"]]
    page.locator("[data-proposal]").first.wait_for(state="detached")
    page.keyboard.press("Control+z")
    desk.until(lambda: desk.scene()["cameras"] == before)
