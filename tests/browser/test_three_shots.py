"""A three-shot film from an empty scene, by gestures alone, counted."""

import pytest

#: The keystroke-level model of Card, Moran and Newell (1980), seconds, from memory: a key, a press of the button,
#: pointing at something, a drag as two of those with the way between, and thinking before each thing done.
KEY, PRESS, POINT, THINK = 0.28, 0.2, 1.1, 1.35


class Counted:
    """A hand that counts what it does."""

    def __init__(self, desk):
        self.desk, self.page = desk, desk.page
        self.clicks = self.drags = self.keys = self.thoughts = 0

    def click(self, target):
        self.clicks += 1
        if isinstance(target, tuple):
            self.page.mouse.click(*target)
        else:
            target.click()
        self.desk.kept()

    def drag(self, start, by, button="left"):
        self.drags += 1
        self.desk.drag(start, by, button=button)

    def press(self, *keys):
        for key in keys:
            self.keys += 1
            self.page.keyboard.press(key)
        self.desk.kept()

    def type(self, text):
        self.keys += len(text) + 1
        self.page.keyboard.type(text)
        self.page.keyboard.press("Enter")
        self.desk.kept()

    def think(self, times=1):
        self.thoughts += times

    @property
    def seconds(self):
        pointed = self.clicks + 2 * self.drags
        return (
            self.keys * KEY
            + self.clicks * PRESS
            + self.drags * 2 * PRESS
            + pointed * POINT
            + self.thoughts * THINK
        )


def test_a_three_shot_film_takes_few_gestures(empty):
    page, me = empty.page, Counted(empty)
    tool = page.get_by_role("toolbar", name="Staging tools")

    def use(name):
        me.click(tool.get_by_role("button", name=name, exact=True))

    box = page.get_by_test_id("plan").bounding_box()
    middle = (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)

    def plan(right, down):
        return middle[0] + right, middle[1] + down

    # A stage: a platform, somebody on it, somebody who walks up.
    me.think(8)
    use("Set")
    me.click(page.get_by_role("menuitem", name="Platform"))
    me.drag(plan(-45, -80), (90, 60))
    use("Figure")
    me.click(plan(0, -55))
    use("Figure")
    me.click(plan(10, 60))
    use("Walk")
    me.click(plan(0, 0))
    me.click(plan(0, -25))
    me.press("Enter")
    stage = empty.scene()
    assert [a["kind"] for a in stage["figures"][1]["acts"]] == ["walk"]
    # The first turns to the second: its handle on the plan.
    me.think(2)
    me.click(plan(0, -55))
    handle = page.locator("[data-figure='Figure 1'] circle").last.bounding_box()
    at = handle["x"] + handle["width"] / 2, handle["y"] + handle["height"] / 2
    me.drag(at, (plan(0, -55)[0] - at[0] + 4, plan(0, -55)[1] - at[1] + 50))

    mat = page.get_by_test_id("mat").bounding_box()
    centre = (mat["x"] + mat["width"] / 2, mat["y"] + mat["height"] * 0.55)

    def camera(name):
        me.think(3)
        me.press("n")
        page.locator("input[data-name][value^='View ']").wait_for()
        me.press("F2")
        me.type(name)

    # A wide: what the rover sees now, slid a little.
    camera("Wide")
    me.drag(centre, (0, -30))
    # A single of each, over the other's shoulder: the rover frames somebody, goes round, and makes a camera.
    for name, place, turn in (("Single one", (0, -55), 40), ("Single two", (10, 60), -60)):
        me.think(2)
        me.click(plan(*place))
        me.press("f")
        me.drag(centre, (turn, 0), button="right")
        camera(name)
        me.press(".")
        me.think()
        me.click(page.get_by_label("Stop", exact=True))
        me.type("2")
    sharp = [c["focus"]["on"]["kind"] for c in empty.scene()["cameras"]]
    assert sharp[1:] == ["figure", "figure"], sharp

    # The wide pushes in: two keys.
    me.think(4)
    me.press("1", "k", "End")
    me.drag(centre, (0, -20))
    me.press("k")
    assert len(empty.scene()["cameras"][0]["pan"]["keys"]) == 2

    # Three shots: the wide from the first frame on, then a cut to each of the singles.
    me.think(4)
    me.press("Home", "1")
    me.click(page.get_by_role("button", name="Add shot"))
    me.press("c", "Home", "Shift+ArrowRight", "Shift+ArrowRight")
    for name in ("Single one", "Single two"):
        me.think()
        me.click(page.locator("[data-testid=strip-stage] button", has_text=name))
        me.press("x", "Shift+ArrowRight")
    me.drag(empty.centre("[data-trim='020-first']"), (20, 0))
    me.press("Home", " ")
    empty.until(lambda: int(empty.clock()) > 1012)
    me.press(" ")
    shots = empty.scene()["shots"]
    assert len(shots) == 3 and len({s["camera"] for s in shots}) == 3
    told = f"{me.clicks} clicks, {me.drags} drags, {me.keys} keys, about {me.seconds / 60:.1f} minutes"
    print(told)
    assert me.clicks <= 45 and me.drags <= 20, told
    assert me.seconds < 7 * 60, told
    assert me.keys == pytest.approx(90, abs=40), told
