"""What a move is for the eye: the strip under the curves, a hitch and its mend, ghosts on the plan."""

from heron.bake import Bake, ResultCache
from heron.motion.strip import COLUMNS, strip
from heron.scene import Scene
from heron.stage.reference import OnFigure

BRAM = {"kind": "figure", "figure": "fig-bram", "joint": "root"}


def do(desk, **command):
    revision = desk.server.call("GET", f"/api/scenes/{desk.id}")["revision"]
    return desk.server.call("POST", f"/api/scenes/{desk.id}/commands", {"seen": revision, "command": command})


def rough_dolly_zoom(desk, first=1010, last=1070):
    """Camera A goes back from Bram by two eased keys while its lens goes in by two straight ones."""
    do(desk, kind="camera.move", camera="cam-a", what="swing onto", of=BRAM, first=first)
    do(desk, kind="camera.move", camera="cam-a", what="close in", amount=-3, of=BRAM, first=first, last=last)
    do(desk, kind="camera.match", camera="cam-a", subject=BRAM, first=first, last=last, force=True)
    end = desk.server.scene(desk.id)["cameras"][0]["focal"]["keys"][-1]["value"]
    desk.server.call("POST", f"/api/scenes/{desk.id}/undo", {})
    sides = {"thing": "cam-a", "channel": "focal", "before": "straight", "after": "straight"}
    keys = [{**sides, "frame": first, "value": 32}, {**sides, "frame": last, "value": end}]
    do(desk, kind="keys.set", keys=keys, force=True)


def size(desk):
    scene = Scene.model_validate(desk.scene())
    found = strip(Bake(scene, ResultCache()), scene.cameras[0], OnFigure(figure="fig-bram", joint="head"))
    return found.values[9:70, COLUMNS.index("height")]


def test_a_rough_dolly_zoom_is_mended_by_taking_the_proposal(desk):
    rough_dolly_zoom(desk)
    page = desk.page
    page.reload()
    page.wait_for_selector("canvas[data-ready]")
    page.keyboard.press("1")
    desk.go(1040)
    page.keyboard.press("u")
    page.get_by_label("Subject of the strip").select_option("Bram")
    before = size(desk)
    hitch = page.locator("[data-hitch=pump]")
    hitch.wait_for()
    hitch.click()
    bar = page.get_by_test_id("mend-bar")
    bar.get_by_text("and comes back").wait_for()
    bar.get_by_role("button", name="Propose a mend").click()
    bar.get_by_text("The lens of camera A keeps Bram as large from 1010 to 1070.").wait_for()
    # Left, nothing has changed.
    bar.get_by_role("button", name="Leave it").click()
    assert (size(desk) == before).all()
    hitch.click()
    bar.get_by_role("button", name="Propose a mend").click()
    bar.get_by_role("button", name="Take it").click()
    desk.kept()
    hitch.wait_for(state="detached")
    after = size(desk)
    assert before.max() / before.min() > 1.03 and after.max() / after.min() < 1.002
    # The strip says it too, at the playhead.
    desk.go(1030)
    desk.kept()
    told = page.locator("[data-testid=seen-strip] select + span").inner_text()
    assert abs(float(told.removesuffix(" % tall")) / 100 - after[20]) < 0.001


def test_the_strip_follows_a_key_while_it_is_dragged(desk):
    rough_dolly_zoom(desk)
    page = desk.page
    page.reload()
    page.wait_for_selector("canvas[data-ready]")
    page.keyboard.press("1")
    desk.go(1069)
    page.keyboard.press("u")
    page.get_by_label("Subject of the strip").select_option("Bram")
    desk.kept()
    told = page.locator("[data-testid=seen-strip] select + span")
    was = told.inner_text()
    page.locator("[data-channel=focal] button").first.dblclick()
    desk.kept()
    keys = desk.scene()["cameras"][0]["focal"]["keys"]
    low, high = keys[0]["value"], keys[1]["value"]
    box = page.get_by_test_id("curves").bounding_box()
    middle, half = (low + high) / 2, (high - low) * 0.58
    x = box["x"] + (1070 - 1001 + 0.5) * box["width"] / 320
    y = box["y"] + box["height"] * (1 - (high - middle + half) / (2 * half))
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y + 40, steps=5)
    page.wait_for_function(
        "was => document.querySelector('[data-testid=seen-strip] select + span').innerText !== was", arg=was
    )
    page.keyboard.press("Escape")
    page.mouse.up()
    desk.until(lambda: told.inner_text() == was)


def test_ghosts_stand_along_the_way(desk):
    rough_dolly_zoom(desk)
    page = desk.page
    page.reload()
    page.wait_for_selector("canvas[data-ready]")
    page.keyboard.press("1")
    page.keyboard.press("Shift+U")
    ghosts = page.locator("[data-ghosts]")
    ghosts.wait_for(state="attached")
    few = int(ghosts.get_attribute("data-ghosts"))
    page.keyboard.press("Shift+U")
    page.wait_for_function(
        "few => Number(document.querySelector('[data-ghosts]').dataset.ghosts) > few", arg=few
    )
