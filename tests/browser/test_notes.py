"""Notes at the desk: walked, marked in the picture, put aside with a reason, brought back, and made stricter."""


def test_notes_are_walked_marked_put_aside_and_brought_back(desk):
    page = desk.page
    page.keyboard.press("Shift+M")
    panel = page.get_by_label("Notes", exact=True)
    rows = panel.locator("[data-note]")
    # 010 ends at 1176, and 020 begins at 1165.
    panel.get_by_text("12 frames of the stage are shown twice.").wait_for()
    desk.kept()
    count = rows.count()
    panel.get_by_role("button", name="Next note").click()
    desk.until(lambda: desk.clock() == "1165")
    page.keyboard.press("Alt+n")
    page.get_by_test_id("note-ring").wait_for()
    here = panel.locator("[data-note]:has([aria-current])")
    kind = here.get_attribute("data-note")
    now = page.get_by_test_id("notes-now")
    before = now.inner_text()

    here.get_by_role("button", name="Put aside…").press("Enter")
    panel.get_by_label("Why").fill("Room for his cap")
    panel.get_by_label("Why").press("Enter")
    desk.until(lambda: rows.count() == count - 1)
    (aside,) = desk.scene()["noting"]["aside"]
    assert (aside["note"], aside["why"]) == (kind, "Room for his cap") and aside["frames"]
    desk.until(lambda: not now.count() or now.inner_text() != before)
    panel.get_by_text("1 note put aside").click()
    panel.locator("[data-aside]").get_by_text("Room for his cap").wait_for()
    panel.get_by_role("button", name="Bring back").click()
    desk.until(lambda: rows.count() == count)

    # What takes it away is seen while it is pointed at, and is one step.
    page.keyboard.press("Alt+n")
    remedy = panel.get_by_label("What takes it away").get_by_role("button").first
    remedy.wait_for()
    was = desk.scene()
    remedy.hover()
    page.get_by_test_id("trying").wait_for()
    assert desk.scene() == was
    remedy.click()
    desk.until(lambda: desk.scene()["cameras"] != was["cameras"])
    page.keyboard.press("Control+z")
    desk.until(lambda: desk.scene() == was)

    # The same from under the picture.
    now.click()
    page.get_by_role("button", name="Put aside", exact=True).first.click()
    desk.until(lambda: len(desk.scene()["noting"]["aside"]) == 1)
    page.keyboard.press("Escape")
    page.keyboard.press("Control+z")
    desk.until(lambda: rows.count() == count)

    panel.get_by_role("button", name="Thresholds").click()
    panel.get_by_label("Stage time skipped or shown twice", exact=True).click()
    desk.until(lambda: desk.scene()["noting"]["silent"] == ["time"])
    limit = panel.locator("[data-kind='short']").get_by_label("From")
    limit.fill("900")
    limit.press("Enter")
    panel.get_by_text("1 to 48").first.wait_for()
    limit.press("Escape")
    panel.get_by_role("button", name="Thresholds").click()
    desk.until(lambda: rows.count() < count and panel.get_by_text("shown twice").count() == 0)


def test_the_line_of_action_is_dragged_set_and_taken_off(desk):
    page = desk.page
    desk.go(1200)
    end = page.locator("[data-testid=action-line] circle").last
    end.wait_for()
    desk.kept()
    x, y = desk.centre("[data-testid=action-line] circle >> nth=-1")
    before = desk.scene()
    desk.drag((x, y), (40, -30))
    (line,) = desk.scene()["noting"]["lines"]
    assert line["points"] and not line["off"]
    page.get_by_test_id("action-line").locator("title", has_text="put by hand").wait_for(state="attached")
    page.keyboard.press("Control+z")
    desk.until(lambda: desk.scene() == before)

    page.keyboard.press("Shift+M")
    panel = page.get_by_label("Notes", exact=True)
    panel.locator("summary", has_text="Line of action").click()
    panel.get_by_label("Sides of the cameras").get_by_text("left of it").first.wait_for()
    panel.get_by_label("The line lies").select_option(label="along Odile’s way")
    panel.get_by_text("Odile's way").first.wait_for()
    assert [one["of"] for one in desk.scene()["noting"]["lines"]] == [["fig-odile"]]
    panel.get_by_label("The line lies").select_option(label="no line here")
    desk.until(lambda: not page.get_by_test_id("action-line").count())
    panel.get_by_role("button", name="By their looks again").click()
    page.get_by_test_id("action-line").wait_for()
    assert desk.scene()["noting"]["lines"] == []


def test_a_cut_is_noted_on_the_strip_seen_from_both_sides_and_told_in_the_shot_list(desk):
    page = desk.page
    page.keyboard.press("Shift+M")
    panel = page.get_by_label("Notes", exact=True)
    panel.get_by_text("12 frames of the stage are shown twice.").wait_for()
    mark = page.locator("[data-noted='shot-020']")
    mark.wait_for()
    mark.click()
    desk.until(lambda: desk.clock() == "1165")
    # Both frames: the last of 010 and the first of 020, which is 11 earlier on the stage.
    row = panel.locator("[data-note='time']").first
    row.get_by_role("button", name="Both frames").click()
    desk.until(lambda: page.locator("[data-wall]").count() == 2)
    assert desk.clock() == "1176"
    assert page.get_by_label("Second one later by").input_value() == "-11"
    page.keyboard.press("Escape")
    # What takes it away is of the cut: one step, and one undo.
    page.keyboard.press("Alt+n")
    was = desk.scene()
    remedies = panel.get_by_label("What takes it away").get_by_role("button")
    mark.click()
    remedies.first.wait_for()
    remedies.first.click()
    desk.until(lambda: desk.scene()["shots"] != was["shots"])
    panel.get_by_test_id("notes-changed").get_by_text("gone").first.wait_for()
    page.keyboard.press("Control+z")
    desk.until(lambda: desk.scene() == was)

    # The selected camera's lane shows where its notes are; the shot list says the heaviest.
    page.get_by_role("tab", name="Camera B").click()
    page.locator("[data-lane-note]").first.wait_for()
    page.get_by_role("button", name="Shots", exact=True).click()
    page.get_by_test_id("frame-notes").first.wait_for()


def test_how_strictly_notes_speak_is_taken_over_from_another_scene(desk):
    other = desk.server.new_demo()
    done = {"seen": 0, "command": {"kind": "note.threshold", "note": "short", "to": 40}}
    desk.server.call("POST", f"/api/scenes/{other}/commands", done)
    desk.server.call(
        "POST",
        f"/api/scenes/{other}/commands",
        {"seen": 1, "command": {"kind": "scene.set", "name": "Strict"}},
    )
    page = desk.page
    page.keyboard.press("Shift+M")
    panel = page.get_by_label("Notes", exact=True)
    panel.get_by_role("button", name="Thresholds").click()
    panel.get_by_label("Take them over").select_option(label="from Strict")
    desk.until(lambda: desk.scene()["noting"]["thresholds"] == {"short": 40})
    panel.get_by_label("Take them over").select_option(label="as usual")
    desk.until(lambda: desk.scene()["noting"]["thresholds"] == {})
