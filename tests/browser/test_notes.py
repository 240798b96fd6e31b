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
