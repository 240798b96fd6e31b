"""Pictures that leave the desk: a still is the viewfinder's own picture, at any size, with a slate under it or without."""

import io

import numpy as np
import pytest
from PIL import Image


def ask_for_it(desk):
    desk.page.get_by_role("button", name="Hand over").click()
    desk.page.get_by_role("menuitem", name="This picture").click()
    desk.page.get_by_role("dialog").wait_for()


def saved(desk, tmp_path):
    page = desk.page
    page.get_by_role("button", name="Draw it").click()
    page.wait_for_selector("[data-testid=still] img", timeout=240_000)
    with page.expect_download() as download:
        page.get_by_role("link", name="Save").click()
    path = tmp_path / download.value.suggested_filename
    download.value.save_as(path)
    return path.name, np.asarray(Image.open(path).convert("RGB"), dtype=float)


def height(desk, value):
    field = desk.page.get_by_test_id("still").get_by_label("Height", exact=True)
    field.fill(str(value))
    field.press("Enter")


@pytest.mark.refined
def test_a_fine_still_is_the_viewfinders_picture_at_rest(desk, tmp_path):
    page = desk.page
    page.keyboard.press("2")
    desk.go(1200)
    # Without the small picture and the marks, of a size that a picture of 16:9 has.
    page.keyboard.press("i")
    page.keyboard.press("h")
    # With what the shutter gathers, as a fine still has it.
    page.keyboard.press("y")
    page.mouse.move(640, 790)
    page.wait_for_selector("canvas[data-drawings='64']", timeout=240_000)
    canvas = page.get_by_role("img", name="The stage through the chosen viewpoint")
    box = canvas.bounding_box()
    shown = np.asarray(Image.open(io.BytesIO(page.screenshot(clip=box))).convert("RGB"), dtype=float)
    ask_for_it(desk)
    high = round(box["height"])
    height(desk, high)
    page.get_by_label("with a slate").uncheck()
    name, still = saved(desk, tmp_path)
    assert name == "Slack_Tide_B.1200.png"
    assert still.shape == (high, round(high * 16 / 9), 3)
    part = (slice(0, min(high, shown.shape[0])), slice(0, min(still.shape[1], shown.shape[1])))
    assert np.abs(still[part] - shown[part]).mean() < 1.0
    # And of something: it is not a plain sheet.
    assert still.std() > 20


def test_a_still_of_the_cut_has_a_slate_and_can_be_cancelled(desk, tmp_path):
    page = desk.page
    page.keyboard.press("0")
    ask_for_it(desk)
    assert "isn't part of the film" in page.get_by_role("dialog").inner_text()
    page.keyboard.press("Escape")
    page.keyboard.press("c")
    ask_for_it(desk)
    height(desk, 5)
    page.wait_for_selector("text=High must be at least 16; it was 5.")
    assert page.get_by_role("button", name="Draw it").is_disabled()
    height(desk, 180)
    page.get_by_role("button", name="Draw it").click()
    page.get_by_role("button", name="Cancel").click()
    page.locator("iframe").wait_for(state="detached")
    page.get_by_label("Quality").select_option("quick")
    _, still = saved(desk, tmp_path)
    # The picture stays whole: the slate stands under it, light on dark.
    assert still.shape[1] == 320 and still.shape[0] > 180
    band = still[182:]
    assert band.min() < 30 and band.max() > 180 and (band.mean(axis=2) < 40).mean() > 0.5
    page.locator("iframe").wait_for(state="detached")
