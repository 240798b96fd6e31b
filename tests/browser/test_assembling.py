"""A first assembly at the desk: two proposals beside the cut, played, compared and taken."""

LINES = ("Bram!", "Still here.", "You've missed the tide.", "Then I'll wait.")


def test_a_first_assembly_is_played_compared_taken_and_undone(desk):
    page = desk.page
    for i, text in enumerate(LINES):
        line = {"kind": "line.add", "id": f"l{i}", "figure": ("fig-odile", "fig-bram")[i % 2], "text": text}
        revision = desk.server.call("GET", f"/api/scenes/{desk.id}")["revision"]
        when = {"pause": 20} if i else {"first": 1100}
        desk.server.call(
            "POST", f"/api/scenes/{desk.id}/commands", {"seen": revision, "command": {**line, **when}}
        )
    page.locator("[data-line='l3']").wait_for()
    before = desk.scene()
    page.keyboard.press("Shift+F")
    panel, chosen = page.get_by_label("First assembly"), page.locator("[data-chosen]")
    chosen.nth(2).wait_for()

    # The strip shows the proposed cut; a press on a shot looks at it.
    def strip():
        return page.locator("[data-shot]").evaluate_all("all => all.map(one => one.dataset.shot)")

    names = chosen.evaluate_all("all => all.map(one => one.dataset.chosen)")
    desk.until(lambda: strip() == names)
    letter = chosen.nth(1).locator("span").first.inner_text()
    chosen.nth(1).click()
    caption = page.get_by_test_id("caption")
    caption.get_by_text("020", exact=True).wait_for()
    assert caption.get_by_text(letter, exact=True).count() == 1
    # It plays as it is seen: its sound is asked for as the proposal has it.
    with page.expect_request(lambda one: one.method == "POST" and "/heard" in one.url) as asked:
        panel.get_by_role("button", name="Play", exact=True).click()
    assert asked.value.post_data_json["command"]["kind"] == "cut.assemble"
    panel.get_by_role("button", name="Stop", exact=True).click()
    # The cut below it is not to be changed meanwhile.
    page.keyboard.press("x")
    page.get_by_text("A proposed cut plays.").first.wait_for()
    assert desk.scene()["shots"] == before["shots"]
    # Nor is an edge of a proposed shot taken along.
    block = page.locator(f"[data-shot='{names[1]}']")
    box = block.bounding_box()
    desk.drag((box["x"] + box["width"] - 2, box["y"] + box["height"] / 2), (30, 0))
    assert block.bounding_box()["width"] == box["width"] and desk.scene()["shots"] == before["shots"]

    # By the keys to the other; a wish changes it alone.
    page.get_by_label("Proposal 1").focus()
    page.keyboard.press("ArrowDown")
    desk.until(page.get_by_label("Proposal 2").is_checked)
    pace = page.get_by_label("Pace", exact=True)
    pace.fill("12")
    pace.press("Enter")
    desk.until(lambda: 0 < chosen.count() < len(names))
    desk.until(lambda: len(strip()) == chosen.count())
    # What can't be is said, and nothing is taken.
    pace.fill("99")
    pace.press("Enter")
    panel.get_by_role("alert").get_by_text("15").wait_for()
    desk.until(page.get_by_role("button", name="Take it").is_disabled)
    page.get_by_label("Proposal 1").check()
    desk.until(lambda: strip() == names)
    page.get_by_label("As it is").check()
    desk.until(lambda: strip() == [shot["name"] for shot in before["shots"]])
    page.get_by_label("Proposal 1").check()
    desk.until(lambda: strip() == names)
    page.get_by_role("button", name="Take it").click()
    desk.until(lambda: [shot["name"] for shot in desk.scene()["shots"]] == names)
    after = desk.scene()
    assert all(shot["proposed"]["why"] for shot in after["shots"])
    assert [one["shots"] for one in after["cuts"]] == [before["shots"]]
    page.keyboard.press("Control+z")
    desk.until(lambda: desk.scene() == before)
