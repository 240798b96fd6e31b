"""A film at the desk: played across a cut between scenes, a shot opened in its scene and back, rendered as one movie."""

import subprocess

import numpy as np
from renders import QUICK, bring, do, drawer, short

from heron.demo import slack_tide


def made(server, *scenes, name="The Crossing"):
    ids = [bring(server, scene) for scene in scenes]
    return ids, server.call("POST", "/api/films", {"name": name, "scenes": ids})


def shown(page, scene, cut):
    page.locator(f"[data-testid=film-picture][data-ready=true][data-shown='{scene} {cut}']").wait_for(
        timeout=240_000
    )


def test_a_film_goes_from_scene_to_scene_and_a_shot_opens_in_its_scene_and_back(server, page):
    (one, two), film = made(server, slack_tide(), do(slack_tide(), {"kind": "scene.set", "name": "Later"}))
    page.goto(f"{server.url}/film/{film['id']}")
    shown(page, one, 0)
    # The last frame of the first scene's cut, then the first of the second's: 113 + 68 + 51 + 43 frames each.
    for _ in range(5):
        page.keyboard.press("PageDown")
    shown(page, two, 113)
    page.keyboard.press("PageUp")
    shown(page, two, 0)
    page.get_by_test_id("film-timecode").get_by_text("01:00:11:11").wait_for()  # 275 = 11 s and 11 f at 24
    page.keyboard.press("ArrowLeft")
    shown(page, one, 274)
    page.keyboard.press("ArrowRight")
    page.keyboard.press("PageDown")
    shown(page, two, 113)
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Film", exact=True).wait_for()
    page.locator("canvas[data-ready]").wait_for(timeout=240_000)
    # Beside the cut stands what it is cut to from: the end of the other scene.
    page.get_by_test_id("film-before").get_by_text("040").wait_for()
    assert page.get_by_test_id("film-after").count() == 0
    # At that moment; two frames on, the film is at the same one.
    assert f"/scene/{two}?look=cut&frame=113&" in page.url
    page.keyboard.press("ArrowRight")
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Shift+B")
    shown(page, two, 115)
    # The first scene's end is dragged in by about a third of it, and rolled back: the film is as long as before that.
    handle = page.locator("[data-trim='Slack Tide-last']")
    box = handle.bounding_box()
    reel = page.locator("[data-reel='Slack Tide']").bounding_box()
    x, y = box["x"] + 4, box["y"] + box["height"] - 10
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x - reel["width"] / 3, y, steps=4)
    page.get_by_role("status").get_by_text("−9").wait_for()
    page.mouse.up()
    page.wait_for_function(
        "() => document.querySelector(\"[data-reel='Slack Tide']\").innerText.includes('040') === false"
    )
    page.keyboard.press("Control+z")
    page.locator("[data-reel='Slack Tide']").get_by_text("040").wait_for()
    # A scene is moved to the front, and that is undone.
    page.locator("[data-reel='Later'] button").click()
    page.get_by_role("button", name="Earlier in the film").click()
    page.locator("[data-reel='Later'] button").get_by_text("1").wait_for()
    page.keyboard.press("Control+z")
    page.locator("[data-reel='Later'] button").get_by_text("2").wait_for()


def test_a_film_is_rendered_as_one_movie(server, page, tmp_path):
    later = do(short(2, 2), {"kind": "scene.set", "name": "Later"})
    (one, _), film = made(server, short(3, 3), later)
    page.goto(f"{server.url}/film/{film['id']}")
    page.get_by_label("Height of the movie").select_option("270")
    page.get_by_role("button", name="Render", exact=True).click()
    page.locator("[data-render=done]").wait_for(timeout=240_000)
    with page.expect_download() as loaded:
        page.get_by_role("link", name="Download").click()
    path = tmp_path / "film.mp4"
    loaded.value.save_as(path)
    frames = subprocess.run(
        ["ffmpeg", "-v", "error", "-i", str(path), "-pix_fmt", "rgb24", "-f", "rawvideo", "-"],
        capture_output=True, check=True,
    ).stdout  # fmt: skip
    frames = np.frombuffer(frames, dtype=np.uint8).reshape(-1, 270, 480, 3).astype(float)
    assert len(frames) == 10
    # By hand: 3 frames on A and 3 on B of the first scene, then 2 and 2 of the second.
    still = drawer(page, server, one, 480, 270)
    for at, (camera, stage) in {
        2: ("cam-a", 1102),
        3: ("cam-b", 1200),
        7: ("cam-a", 1101),
        9: ("cam-b", 1201),
    }.items():
        assert np.abs(frames[at] - still(camera, stage, QUICK)).mean() < 6, at


def test_the_list_has_pictures_and_puts_scenes_under_their_films(server, page):
    made(server, slack_tide(), slack_tide(), name="Both Banks")
    alone = bring(server, do(slack_tide(), {"kind": "scene.set", "name": "Alone"}))
    page.goto(server.url)
    page.get_by_label("Find a scene by name").fill("alone")
    row = page.locator("[data-scene=Alone]")
    row.get_by_text("4 shots, 275 f · 11.5 s").wait_for()
    row.locator("img").wait_for(timeout=240_000)
    # What was drawn is kept: another time it is there at once.
    page.wait_for_function(
        "id => fetch('/api/scenes').then((a) => a.json()).then((all) => all.find((s) => s.id === id).picture === 0)",
        arg=alone,
    )
    page.get_by_label("Find a scene by name").fill("")
    page.get_by_label("Order of scenes").select_option("By film")
    group = page.locator("div:has(> h3)").filter(has=page.get_by_role("heading", name="Both Banks"))
    group.locator("[data-scene='Slack Tide']").nth(1).wait_for()
    assert group.locator("[data-scene]").count() == 2 and group.locator("[data-scene=Alone]").count() == 0
