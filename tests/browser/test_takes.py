"""Dailies as an artist uses them: asked for, watched, held against each other, remarked on; and the shot list."""

import base64
import io

import numpy as np
import pytest
from harness import QUIET, ROUND, Desk
from PIL import Image
from renders import QUICK, begin, bring, drawer, short, told, wait
from renders import pixels as decoded

FETCH = """async (address) => {
  const content = new Uint8Array(await (await fetch(address)).arrayBuffer());
  let text = '';
  for (const byte of content) text += String.fromCharCode(byte);
  return btoa(text);
}"""


@pytest.fixture
def takes(server, page):
    """A desk on a short film with two takes: camera B looks elsewhere in the second, and its shot begins later."""
    scene_id = bring(server, short(4, 6))
    first = begin(server, scene_id, movie=False, pictures="jpeg")
    wait(server, first)
    seen = server.call("GET", f"/api/scenes/{scene_id}")["revision"]
    shot = server.scene(scene_id)["shots"][1]["id"]
    for command in (
        {
            "kind": "keys.set",
            "keys": [{"thing": "cam-b", "channel": "y", "frame": f, "value": 4} for f in (1190, 1240)],
        },
        {"kind": "cut.edit", "do": {"edit": "trim_in", "shots": [shot], "by": 2}},
    ):
        seen = server.call("POST", f"/api/scenes/{scene_id}/commands", {"seen": seen, "command": command})[
            "revision"
        ]
    second = begin(server, scene_id, movie=False, pictures="jpeg", note="Higher")
    wait(server, second)
    return Desk(server, page, scene_id).open(), first, second


def screen(page, key):
    """The takes' picture, once it shows what it is to show."""
    page.locator(f"[data-testid=screen][data-shown^='{key}']").wait_for()
    page.evaluate(QUIET)
    return page.evaluate(
        "() => { const c = document.querySelector('[data-testid=screen]'); const d = c.getContext('2d').getImageData(0, 0, c.width, c.height); return [c.width, c.height, Array.from(d.data)] }"
    )


def pixels(of):
    wide, high, data = of
    return np.array(data, dtype=float).reshape(high, wide, 4)[..., :3]


def proof(server, frame):
    import urllib.request

    with urllib.request.urlopen(f"{server.url}/api/pictures/{frame['proof']}.jpg") as answer:
        return np.asarray(Image.open(io.BytesIO(answer.read())).convert("RGB"), dtype=float)


def test_two_takes_under_the_wipe_side_by_side_and_as_their_difference(takes):
    desk, first, second = takes
    page, server = desk.page, desk.server
    old, new = told(server, first), told(server, second)
    # Only what changed was drawn: the four frames of the first shot are as they were.
    assert (new["take"]["frames"], new["take"]["reused"]) == (8, 4)
    page.get_by_role("button", name="Dailies").click()
    job = page.locator(f"[data-take='{second}']")
    assert "4 of 8 frames are unchanged" in job.inner_text() and "Higher" in job.inner_text()
    job.get_by_role("button", name="Open").click()
    page.locator("[data-testid=takes]").get_by_role("button", name="Against").click()
    words = page.get_by_test_id("between")
    words.get_by_text("Shot 020 is 4 frames; it was 6.").wait_for()
    assert "Shot 020: all frames look different." in words.inner_text() and "Set" in words.inner_text()
    page.get_by_label("Frame of the take").fill("5")
    # By the cut: frame 5 of the new one is stage 1203, of the old one stage 1201.
    a, b = new["frames"][new["movie"][5]], old["frames"][old["movie"][5]]
    assert (a["stage"], b["stage"]) == (1203, 1201)
    seen = pixels(screen(page, f"{a['proof']} {b['proof']}"))
    left, right = proof(server, a), proof(server, b)
    middle = left.shape[1] // 2
    assert np.abs(seen[:, : middle - 3] - left[:, : middle - 3]).mean() < 1
    assert np.abs(seen[:, middle + 3 :] - right[:, middle + 3 :]).mean() < 1
    assert np.abs(left - right).mean() > 3
    # By the stage the same moment stands on both sides.
    page.get_by_role("button", name="the stage").click()
    same = old["frames"][next(at for at in old["movie"] if old["frames"][at]["stage"] == 1203)]
    page.get_by_role("button", name="Side by side").click()
    seen = pixels(screen(page, f"{a['proof']} {same['proof']}"))
    assert seen.shape[1] == 2 * left.shape[1] + 6
    assert np.abs(seen[:, left.shape[1] + 6 :] - proof(server, same)).mean() < 1
    page.get_by_role("button", name="Difference").click()
    page.get_by_label("four times as strong").uncheck()
    seen = pixels(screen(page, f"{a['proof']} {same['proof']}"))
    assert np.abs(seen - np.abs(left - proof(server, same))).mean() < 1
    # The wipe's line goes where the hand takes it.
    page.get_by_role("button", name="Wipe").click()
    box = page.get_by_test_id("screen").bounding_box()
    page.mouse.click(box["x"] + box["width"] * 0.9, box["y"] + box["height"] / 2)
    seen = pixels(screen(page, a["proof"]))
    most = int(left.shape[1] * 0.85)
    assert np.abs(seen[:, :most] - left[:, :most]).mean() < 1


def test_a_take_is_played_by_frames_and_remarks_are_pinned_to_them(takes):
    desk, _, second = takes
    page = desk.page
    page.keyboard.press("/")
    page.get_by_role("dialog").wait_for()
    page.keyboard.type("play them")
    page.keyboard.press("Enter")
    clock = page.get_by_test_id("take-clock")
    clock.get_by_text("frame 1 of 8").wait_for()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("ArrowRight")
    clock.get_by_text("01:00:00:02 · frame 3 of 8").wait_for()
    page.keyboard.press("End")
    clock.get_by_text("frame 8 of 8").wait_for()
    page.keyboard.press("ArrowLeft")
    # Space loops the shot it stands in, of four frames, and no other is seen.
    page.get_by_role("button", name="Shot", exact=True).click()
    page.evaluate("document.activeElement.blur()")
    page.keyboard.press("l")
    seen = page.evaluate(ROUND, "[data-testid=take-clock]")
    page.keyboard.press("k")
    assert set(seen) <= {5, 6, 7, 8}
    page.keyboard.press("j")
    page.wait_for_function(
        "() => document.querySelector('[data-testid=take-clock]').innerText.includes('frame 5 ')"
    )
    page.keyboard.press("k")
    page.keyboard.press("Home")
    page.get_by_label("Remark on this frame").fill("Too dark here")
    page.keyboard.press("Enter")
    remark = page.get_by_test_id("remarks").get_by_text("Too dark here")
    remark.wait_for()
    with page.expect_response(lambda answer: "/remarks" in answer.url and answer.request.method != "GET"):
        page.get_by_label("Seen to: Too dark here").check()
    assert [(r["frame"], r["ticked"]) for r in told(desk.server, second)["remarks"]] == [(0, True)]


def test_a_render_is_asked_for_in_the_dialog_and_can_be_cancelled(server, page):
    desk = Desk(server, page, bring(server, short(20, 8))).open()
    desk.go(1100)
    page.keyboard.press("Shift+R")
    dialog = page.get_by_test_id("render")
    would = page.get_by_test_id("would-be")
    would.get_by_text("28 frames of 960 × ").wait_for()
    dialog.get_by_label("high").fill("5000")
    page.keyboard.press("Enter")
    page.get_by_text("High must be at most 4320; it was 5000.").wait_for()
    dialog.get_by_label("high").fill("91")
    page.keyboard.press("Enter")
    would.get_by_text("A movie's sides are even, so 162 × 91 is drawn as 162 × 92").wait_for()
    dialog.get_by_label("a movie for showing").uncheck()
    page.get_by_text("This would render nothing. Choose a movie, pictures, or both.").wait_for()
    assert page.get_by_role("dialog").get_by_role("button", name="Render", exact=True).is_disabled()
    dialog.get_by_label("Pictures", exact=True).select_option("png")
    dialog.get_by_role("button", name="Shots", exact=True).click()
    # The one under the playhead is chosen to begin with.
    would.get_by_text("20 frames of 162 × ").wait_for()
    dialog.get_by_role("button", name="010").click()
    page.get_by_text("No shot is chosen").wait_for()
    dialog.get_by_role("button", name="020").click()
    would.get_by_text("8 frames of 162 × ").wait_for()
    # A second for each frame, so that there is time to think better of it.
    dialog.get_by_label("Quality").select_option("timed")
    dialog.get_by_label("Seconds for each frame").fill("1")
    page.keyboard.press("Enter")
    page.get_by_label("Preset name").fill("Small pictures")
    page.keyboard.press("Enter")
    kept = dialog.get_by_role("button", name="Small pictures", exact=True)
    kept.wait_for()
    dialog.get_by_role("button", name="Preview").click()
    would.get_by_text("8 frames of 960 × ").wait_for()
    kept.click()
    would.get_by_text("8 frames of 162 × ").wait_for()
    dialog.get_by_role("button", name="Forget Small pictures").click()
    kept.wait_for(state="detached")
    with page.expect_response(
        lambda answer: answer.request.method == "POST" and answer.url.endswith("/takes")
    ):
        page.get_by_role("dialog").get_by_role("button", name="Render", exact=True).click()
    (take,) = server.call("GET", f"/api/scenes/{desk.id}/takes")
    job = page.locator(f"[data-take='{take['id']}']")
    job.get_by_role("button", name="Cancel").click()
    job.get_by_text("cancelled at").wait_for()
    assert told(server, take["id"])["take"]["state"] == "cancelled"
    job.get_by_role("button", name="Carry on").click()
    wait(server, take["id"])
    with page.expect_download() as download:
        job.get_by_role("link", name="Pictures").click()
    assert download.value.suggested_filename == "Slack_Tide_take_001_pictures.zip"


def test_shots_on_the_strip_show_their_own_first_frames(desk, server):
    """Of the four pictures each is nearest to what the page that draws makes of its camera at its frame."""
    page, pictures = desk.page, desk.page.get_by_test_id("shot-picture")
    address = lambda k: pictures.nth(k).get_attribute("src")  # noqa: E731
    desk.show_stills()
    pictures.nth(3).wait_for(timeout=240_000)
    before = [address(k) for k in range(4)]
    command = {"kind": "camera.glass", "camera": "cam-c", "exposure": -1.5}
    server.call("POST", f"/api/scenes/{desk.id}/commands", {"seen": 0, "command": command})
    # A darker exposure of camera C is another picture of 030, and of no other shot.
    page.wait_for_function(
        "was => document.querySelectorAll('[data-testid=shot-picture]')[2].src !== was", arg=before[2]
    )
    assert [address(k) == before[k] for k in range(4)] == [True, True, False, True]
    shown = [decoded(base64.b64decode(page.evaluate(FETCH, address(k)))) for k in range(4)]
    shots, draw = desk.scene()["shots"], drawer(page, server, desk.id, 320, 180)
    drawn = [draw(shot["camera"], shot["stage"]["first"], QUICK) for shot in shots]
    for k, one in enumerate(shown):
        off = [np.abs(one - other).mean() for other in drawn]
        assert int(np.argmin(off)) == k and off[k] < 12, off


def test_the_shot_list_steps_from_shot_to_shot_and_keeps_notes(desk):
    page = desk.page
    page.get_by_role("button", name="Shots", exact=True).click()
    rows = page.get_by_test_id("shot-list").locator("li")
    rows.first.wait_for()
    assert rows.count() == 4
    page.keyboard.press('"')
    page.keyboard.press('"')
    # To the first frame of the second shot, looped: 1165 to 1232.
    page.get_by_test_id("shot-list").locator("li:nth-child(2)[aria-current=true]").wait_for()
    assert desk.clock() == "1165"
    page.keyboard.press(" ")
    seen = desk.frames_until_round()
    page.keyboard.press(" ")
    assert all(1165 <= frame <= 1232 for frame in seen)
    page.keyboard.press(":")
    page.get_by_test_id("shot-list").locator("li:first-child[aria-current=true]").wait_for()
    assert desk.clock() == "1064"
    note = page.get_by_label("Note on shot 020")
    note.fill("Wait for the oar")
    note.press("Enter")
    desk.kept()
    assert desk.scene()["shots"][1]["note"] == "Wait for the oar"
    page.keyboard.press("Control+z")
    desk.kept()
    assert desk.scene()["shots"][1]["note"] == ""
    # Pictures of all shots are drawn for the sheet, though none are shown here.
    assert page.get_by_test_id("shot-list").locator("img").count() == 0
    with page.expect_download() as download:
        page.get_by_role("button", name="Contact sheet").click()
    with open(download.value.path(), "rb") as sheet:
        content = sheet.read()
    assert content.startswith(b"%PDF") and content.count(b"/Subtype /Image") == 4
