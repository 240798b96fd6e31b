"""Acting at the desk: lanes of a figure, acts tried, put, dragged over each other, split and posed."""


def acts(desk, who="Odile", lane=None):
    found = next(f for f in desk.scene()["figures"] if f["name"] == who)["acts"]
    return {
        a["kind"]: (a["frames"]["first"], a["frames"]["last"])
        for a in found
        if lane is None or a["kind"] in lane
    }


def opened(desk, frame=1200):
    """Odile selected, her lanes open."""
    desk.go(frame)
    desk.page.locator("[data-figure=Odile] text").click()
    desk.page.get_by_role("button", name="Add to Odile's hands").wait_for()


def block(desk, name):
    return desk.page.get_by_role("button", name=f"Odile: {name}").first


def drag(desk, where, frames, *, at=0.5):
    """Drag a block by so many frames, held at a share of its width."""
    page, box = desk.page, where.bounding_box()
    label = where.get_attribute("aria-label").split(", ")[-1]
    first, last = (int(n) for n in label.split(" to "))
    ppf = box["width"] / (last - first + 1)
    x, y = box["x"] + at * (box["width"] - 2) + (1 if at == 0 else 0), box["y"] + box["height"] / 2
    page.keyboard.down("Control")  # without snapping
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + frames * ppf / 2, y, steps=3)
    page.mouse.move(x + frames * ppf, y, steps=3)
    page.mouse.up()
    page.keyboard.up("Control")
    desk.kept()


def test_an_act_is_tried_put_dragged_over_another_and_both_blend(desk):
    page = desk.page
    opened(desk)
    before = desk.scene()
    page.get_by_role("button", name="Add to Odile's face").click()
    page.get_by_role("menuitem", name="Joy").hover()
    # It plays on her meanwhile: the moment goes on without anybody.
    page.locator("[data-act=act-trial]").wait_for()
    page.keyboard.press("Escape")
    page.locator("[data-act=act-trial]").wait_for(state="detached")
    assert desk.scene() == before and int(desk.clock()) == 1200
    page.get_by_role("button", name="Add to Odile's face").click()
    page.get_by_role("menuitem", name="Joy").click()
    desk.kept()
    joys = [a["frames"]["first"] for a in desk.scene()["figures"][0]["acts"] if a.get("expression") == "joy"]
    assert joys == [1176, 1200]
    # Her laugh, 1241-1282, over the end of her talk, 1192-1238.
    drag(desk, block(desk, "Laugh"), -13)
    page.get_by_role("button", name="Odile: Laugh, 1228 to 1269").wait_for()
    assert acts(desk)["laugh"] == (1228, 1269) and acts(desk)["talk"] == (1192, 1238)
    page.get_by_test_id("acts-body").get_by_role("button", name="Laugh", exact=True).click()
    page.get_by_label("Blends in over 11 f").select_option("early")
    desk.kept()
    laugh = next(a for a in desk.scene()["figures"][0]["acts"] if a["kind"] == "laugh")
    assert laugh["shape"] == "early"
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    desk.kept()
    assert acts(desk)["laugh"] == (1241, 1282)


def test_an_end_is_trimmed_or_stretched_and_later_acts_are_asked_for_once(desk):
    page = desk.page
    opened(desk)
    drag(desk, block(desk, "Talk"), -8, at=1)
    assert acts(desk)["talk"] == (1192, 1230)
    page.get_by_role("button", name="Move it 8 frames earlier").click()
    desk.kept()
    assert acts(desk)["laugh"] == (1233, 1274) and acts(desk)["turn"] == (1280, 1304)
    page.keyboard.down("Alt")
    drag(desk, block(desk, "Laugh"), -21, at=1)
    page.keyboard.up("Alt")
    laugh = next(a for a in desk.scene()["figures"][0]["acts"] if a["kind"] == "laugh")
    assert laugh["frames"] == {"first": 1233, "last": 1253} and laugh["speed"] == 2.0
    page.get_by_role("button", name="Odile: Laugh · ×2.00").wait_for()


def test_acts_are_moved_split_and_deleted_by_the_keyboard_alone(desk):
    page = desk.page
    opened(desk, 1215)
    block(desk, "Talk").focus()
    page.keyboard.press("Enter")
    page.keyboard.press("ArrowLeft")
    page.keyboard.press("ArrowLeft")
    page.get_by_role("button", name="Odile: Talk, 1190 to 1236").wait_for()
    page.keyboard.press("/")
    page.get_by_role("button", name="Odile: Talk, 1215 to 1236").wait_for()
    desk.kept()
    talks = [a["frames"] for a in desk.scene()["figures"][0]["acts"] if a["kind"] == "talk"]
    assert [(f["first"], f["last"]) for f in talks] == [(1190, 1214), (1215, 1236)]
    block(desk, "Talk").focus()
    page.keyboard.press("Enter")
    page.keyboard.press("Delete")
    page.get_by_role("button", name="Odile: Talk, 1190 to 1214").wait_for(state="detached")
    # The figure itself is still there.
    assert [f["name"] for f in desk.scene()["figures"]] == ["Odile", "Bram"]


def pose_of(desk, who=0):
    return next(
        a for a in desk.scene()["figures"][who]["acts"] if a["kind"] == "pose" and a["frames"]["first"] > 1100
    )


def test_a_pose_is_dragged_on_an_elevation_keyed_mirrored_and_kept_for_others(desk):
    page = desk.page
    opened(desk)
    page.get_by_role("button", name="Add to Odile's pose").click()
    page.get_by_role("menuitem", name="Pose", exact=True).click()
    block(desk, "Pose").wait_for()
    page.keyboard.press("e")
    grip = page.locator("[data-part=left_hand]")
    grip.wait_for()
    box = desk.steady(grip)
    desk.drag((box["x"] + box["width"] / 2, box["y"] + box["height"] / 2), (0, -30))
    up = pose_of(desk)["left_hand_up"]["rest"]
    assert up > 0.1
    page.get_by_label("L hand up", exact=True).wait_for()
    desk.type("L hand up", 0.4)
    page.get_by_role("button", name="L hand up: set a key at 1200").click()
    page.get_by_role("button", name="L hand up: key at 1200", exact=True).wait_for()
    desk.kept()
    desk.go(1220)
    page.get_by_role("button", name="L hand up: set a key at 1220").wait_for()
    desk.type("L hand up", 0.1)
    assert [(k["frame"], k["value"]) for k in pose_of(desk)["left_hand_up"]["keys"]] == [
        (1200, 0.4),
        (1220, 0.1),
    ]
    # Halfway between them it is halfway, and its keys lie on the lane.
    desk.go(1210)
    page.wait_for_function("() => [...document.querySelectorAll('input')].some(i => i.value === '0.25')")
    page.locator("[data-key=Odile-1220]").wait_for()
    desk.type("Pose name", "Hail")
    page.get_by_role("button", name="Keep", exact=True).click()
    page.get_by_text("Kept the pose Hail.").wait_for()
    page.get_by_role("button", name="Mirror").click()
    desk.kept()
    pose = pose_of(desk)
    assert not pose["left_hand_up"]["keys"] and len(pose["right_hand_up"]["keys"]) == 2
    page.get_by_role("button", name="All 21 numbers").click()
    desk.type("Turn left", 60)
    page.get_by_text("Turn left must be from").first.wait_for()
    page.keyboard.press("Escape")
    page.keyboard.press("e")
    page.keyboard.press("e")
    page.get_by_role("button", name="Bram", exact=True).first.click()
    page.get_by_role("button", name="Add", exact=True).click()
    page.get_by_role("menuitem", name="Hail").click()
    desk.kept()
    put = pose_of(desk, 1)
    assert put["name"] == "Hail" and abs(put["left_hand_up"]["rest"] - 0.25 * 1.86 / 1.68) < 0.01
