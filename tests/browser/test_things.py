"""Things at the desk: made movable, hung on a hinge, put down and picked up; and how bright a lamp draws what it lights."""

import json

import numpy as np
from renders import QUICK, drawer

from heron.commands import parse_commands, run
from heron.scene import empty_scene, write_scene


def mover(desk, name):
    return next((m for m in desk.scene()["movers"] if m["name"] == name), None)


def test_a_crate_is_made_movable_hung_on_a_hinge_opened_keyed_and_taken_apart(desk):
    page = desk.page
    page.locator("[data-piece='Crate on crate']").dblclick()
    page.get_by_role("button", name="Make movable").click()
    card = page.get_by_test_id("mover-card")
    card.get_by_label("Opens").select_option("hinge")
    card.get_by_label("Hung at").select_option("back")
    card.get_by_label("About").select_option("across")
    desk.kept()
    assert mover(desk, "Crate on crate")["hinge"]["axis"] == "across"
    # Its parts are drawn with it, not among the pieces that stand by themselves.
    assert page.locator("[data-piece='Crate on crate']").count() == 0
    page.locator("[data-mover='Crate on crate']").wait_for()
    desk.type("Open", "40")
    desk.kept()
    assert mover(desk, "Crate on crate")["hinge"]["open"]["rest"] == 40
    # Past its limit is refused, with the way out, and nothing changes.
    desk.type("Open", "300")
    page.get_by_text("opens from 0° to 110°; 300° is past that").wait_for()
    page.keyboard.press("Escape")
    desk.go(1100)
    card.get_by_role("button", name="Open: set a key at 1100", exact=True).click()
    card.get_by_role("button", name="Open: key at 1100", exact=True).wait_for()
    desk.kept()
    assert [k["frame"] for k in mover(desk, "Crate on crate")["hinge"]["open"]["keys"]] == [1100]
    card.get_by_role("button", name="Take apart").click()
    page.locator("[data-piece='Crate on crate']").wait_for()
    assert mover(desk, "Crate on crate") is None
    page.keyboard.press("Control+z")
    page.locator("[data-mover='Crate on crate']").wait_for()
    desk.kept()
    assert mover(desk, "Crate on crate")["hinge"]["kind"] == "hinge"


def test_she_puts_down_what_she_was_given_and_picks_it_up_again_by_keyboard(desk):
    page = desk.page
    desk.go(1262)
    page.locator("[data-figure=Odile] text").click()
    add = page.get_by_role("button", name="Add to Odile's hands")
    add.focus()
    page.keyboard.press("Enter")
    page.get_by_role("menuitem", name="Put down").focus()
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Odile: Put down").wait_for()
    desk.kept()
    down = next(a for a in desk.scene()["figures"][0]["acts"] if a["kind"] == "put_down")
    assert (down["what"], down["frames"]["first"]) == ("mov-oar", 1262)
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    page.get_by_test_id("scene-card").get_by_role("button", name="Oar", exact=True).click()
    held = page.get_by_test_id("held-by")
    held.get_by_text("put down by Odile").wait_for()
    assert held.inner_text().split("\n") == [
        "1001 held by Bram", "1209 held by Odile", f"{down['frames']['first'] + round(0.56 * (down['frames']['last'] - down['frames']['first']))} put down by Odile",
    ]  # fmt: skip
    held.get_by_role("button", name="1209").click()
    desk.kept()
    assert int(desk.clock()) == 1209


def lit(figures):
    """sRGB to linear light (IEC 61966-2-1)."""
    c = np.asarray(figures) / 255
    return np.where(c <= 0.04045, c / 12.92, ((c + 0.055) / 1.055) ** 2.4)


def test_light_falls_off_with_the_square_of_the_distance_doubles_with_a_stop_and_is_kept_off_by_what_stands_before_it(
    server, page
):
    def wall(*more):
        commands = [
            {"kind": "scene.set", "sun_bearing": 0, "sun_height": 20},
            {"kind": "piece.add", "shape": "wall", "x": 0, "z": -3.1, "width": 8, "depth": 0.2, "height": 4, "colour": "#505050"},
            {"kind": "camera.add", "id": "c", "pose": {"x": 2, "y": 1.5, "z": 0, "pan": 33.69, "tilt": 0, "roll": 0}},
            *more,
        ]  # fmt: skip
        scene, _ = run(empty_scene("Wall"), parse_commands(json.dumps(commands)))
        id_ = server.call("POST", "/api/scenes/import", write_scene(scene).encode())["id"]
        picture = drawer(page, server, id_, 128, 72)("c", 1001, QUICK)
        return lit(picture[33:40, 60:69]).mean()

    def lamp(away, stops, *more):
        return wall(
            {"kind": "mover.add", "id": "l", "shape": "lamp", "pose": {"x": 0, "y": 1.5, "z": -3 + away}},
            {"kind": "mover.light", "mover": "l", "spread": "round", "colour": "#ffffff", "reach_m": 200},
            {"kind": "number.set", "thing": "l", "channel": "light.stops", "value": stops, "frame": 1001},
            *more,
        )  # fmt: skip

    dark = wall()
    near, far, brighter = (lamp(*one) - dark for one in ((1.0, -1), (2.0, -1), (2.0, 0)))
    assert abs(near / far - 4) < 0.2
    assert abs(brighter / far - 2) < 0.1
    # A cone's shadow is that of all that stands in it.
    cone = {"kind": "mover.light", "mover": "l", "spread": "cone"}
    assert lamp(1.5, 0, cone) - dark > 1.5 * far
    before = {
        "kind": "piece.add",
        "shape": "box",
        "x": 0,
        "z": -2.4,
        "base": 1.2,
        "width": 0.3,
        "depth": 0.1,
        "height": 0.6,
    }
    assert lamp(1.5, 0, cone, before) - dark < 0.1 * far
