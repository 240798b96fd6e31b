"""Several windows at one scene, things that fail, what a hand sends, and a desk that everyone can use."""

import contextlib
import http.client
import json
import signal
import threading
import time
from pathlib import Path

import pytest
from harness import Desk, Server, new_page
from renders import begin, wait

AXE = Path(__file__).parents[2] / "web/node_modules/axe-core/axe.min.js"


@pytest.fixture
def other(desk, chromium):
    page = new_page(chromium)
    yield Desk(desk.server, page, desk.id).open("?look=A&frame=1100")
    page.context.close()


def test_another_window_shows_a_change_as_it_happens_without_loading_the_scene(desk, other):
    asked = []
    other.page.on("request", lambda r: asked.append(r.url.split("/api/scenes/")[-1]))
    other.kept()
    asked.clear()
    desk.page.keyboard.press("1")
    desk.type("Focal length", 60)
    other.page.get_by_test_id("caption").get_by_text("60 mm").wait_for()
    assert any("/changes?since=0" in url for url in asked)
    assert f"{desk.id}" not in asked  # the scene as a whole
    desk.page.keyboard.press("Control+z")
    other.page.get_by_test_id("caption").get_by_text("32 mm").wait_for()


def test_a_scene_deleted_elsewhere_says_so(desk, other):
    desk.server.call("DELETE", f"/api/scenes/{desk.id}?for_good=true")
    other.page.get_by_text("This scene was deleted.").wait_for()


def test_a_hand_sends_what_it_touched_and_nothing_else(desk):
    page = desk.page
    page.keyboard.press("2")
    desk.go(1200)
    before = desk.scene()["cameras"][1]
    sent = []
    page.on("request", lambda r: r.method == "POST" and sent.append(json.loads(r.post_data)["command"]))
    label = desk.steady(page.locator("label", has_text="Tilt"))
    desk.drag((label["x"] + 5, label["y"] + label["height"] / 2), (12, 0))
    page.get_by_test_id("unsaved").wait_for()
    assert sent and all(set(c) == {"kind", "thing", "frame", "keep", "tilt"} for c in sent)
    # Not kept yet: what is stored is as it was, and a key is set only on purpose.
    assert desk.scene()["cameras"][1] == before
    page.get_by_role("button", name="Move whole path").click()
    desk.kept()
    after = desk.scene()["cameras"][1]
    assert {k for k in after if after[k] != before[k]} == {"tilt"}
    steps = [
        b["value"] - a["value"] for a, b in zip(before["tilt"]["keys"], after["tilt"]["keys"], strict=True)
    ]
    # Twelve pixels of a step of one degree each.
    assert steps == pytest.approx([12, 12], abs=1e-6)


def test_after_a_release_there_is_one_trip(desk):
    page = desk.page
    page.keyboard.press("1")
    desk.go(1100)
    desk.kept()
    asked = []
    page.on("request", lambda r: asked.append((r.method, r.url.rsplit("/", 1)[-1])))
    desk.type("Focal length", 45)
    page.get_by_test_id("caption").get_by_text("45 mm").wait_for()
    desk.kept()
    got = [url for method, url in asked if "samples" in url or method == "POST"]
    assert got == ["commands"]


def test_a_key_on_height_alone_is_seen_and_can_be_moved(desk):
    keys = [{"thing": "cam-a", "channel": "y", "frame": 1100, "value": 2.0}]
    desk.server.call(
        "POST", f"/api/scenes/{desk.id}/commands", {"seen": 0, "command": {"kind": "keys.set", "keys": keys}}
    )
    diamond = desk.page.locator("[data-key=A-1100]")
    diamond.wait_for()
    assert diamond.get_attribute("title").startswith("Key on place and direction at 1100")
    ruler = desk.page.get_by_test_id("ruler-stage").bounding_box()
    desk.drag(desk.centre("[data-key=A-1100]"), (20 * ruler["width"] / 320, 0))
    assert [k["frame"] for k in desk.scene()["cameras"][0]["y"]["keys"]] == [1120]


def test_escape_lets_go_of_a_drag_on_the_lanes(desk):
    mouse, page = desk.page.mouse, desk.page
    x, y = desk.centre("[data-key=B-1236]")
    mouse.move(x, y)
    mouse.down()
    mouse.move(x + 40, y, steps=4)
    desk.kept()
    page.keyboard.press("Escape")
    mouse.up()
    desk.kept()
    assert desk.server.call("GET", f"/api/scenes/{desk.id}/changes?since=0")["revision"] == 0


def test_what_cannot_be_fetched_is_told_and_had_again(desk):
    page = desk.page
    page.keyboard.press("2")
    page.route("**/samples/cam-a*", lambda route: route.abort())
    command = {"kind": "camera.set", "camera": "cam-a", "focal": 60}
    desk.server.call("POST", f"/api/scenes/{desk.id}/commands", {"seen": 0, "command": command})
    told = page.get_by_test_id("missing")
    told.wait_for()
    assert "Not as it is stored: camera A. The server does not answer." in told.inner_text()
    page.unroute("**/samples/cam-a*")
    told.get_by_role("button", name="Try again").click()
    told.wait_for(state="detached")
    page.keyboard.press("1")
    assert "60 mm" in page.get_by_test_id("caption").inner_text()


def test_what_is_not_kept_says_so_and_keeps_what_was_typed(desk):
    page = desk.page
    page.keyboard.press("1")
    refusal = {
        "title": "Not saved: the disk is full.",
        "remedy": "Make room on it, then try again.",
        "detail": "Not saved: the disk is full. Make room on it, then try again.",
        "status": 507,
        "not_kept": True,
    }
    page.route("**/commands", lambda route: route.fulfill(status=507, json=refusal))
    desk.type("Focal length", 77)
    assert "Not saved: the disk is full. Make room" in page.get_by_role("alert").first.inner_text()
    assert desk.field("Focal length").input_value() == "77"
    assert page.get_by_text("not saved", exact=True).is_visible()
    page.unroute("**/commands")
    desk.field("Focal length").press("Enter")
    desk.kept()
    assert desk.scene()["cameras"][0]["focal"]["rest"] == 77
    assert page.get_by_text("saved", exact=True).is_visible()


def test_a_panel_that_fails_leaves_the_others_working(desk):
    page = desk.page
    # A figure with no look cannot be drawn on the plan.
    page.route("**/changes?*", lambda route: broken(route))

    def broken(route):
        answer = route.fetch().json()
        for change in answer["changes"]:
            for content in change["patch"]["items"].get("figures", {}).values():
                content["look"] = None
        route.fulfill(json=answer)

    command = {"kind": "figure.set", "figure": "fig-bram", "stature": 1.8}
    desk.server.call("POST", f"/api/scenes/{desk.id}/commands", {"seen": 0, "command": command})
    alert = page.get_by_role("alert").filter(has_text="The plan failed")
    alert.wait_for()
    page.keyboard.press("1")
    page.get_by_test_id("caption").get_by_text("Wide on the jetty").wait_for()


def test_a_server_that_is_baking_ends_when_it_is_told_to(tmp_path):
    server = Server(tmp_path)
    pk = server.call("POST", "/api/scenes", {"name": "Long", "rate": "24", "delivery": "16:9"})["id"]
    seen = 0
    for command in (
        {"kind": "scene.set", "frames": {"first": 1, "last": 100_000}},
        *({"kind": "figure.add", "id": f"f{i}", "x": i, "z": 0} for i in range(6)),
    ):
        seen = server.call("POST", f"/api/scenes/{pk}/commands", {"seen": seen, "command": command})[
            "revision"
        ]

    def bake():
        with contextlib.suppress(OSError, http.client.HTTPException):
            server.call("GET", f"/api/scenes/{pk}/export/glb")

    threading.Thread(target=bake, daemon=True).start()
    time.sleep(0.7)
    began = time.monotonic()
    server.process.send_signal(signal.SIGTERM)
    server.process.wait(timeout=15)
    assert time.monotonic() - began < 8
    server.start()
    assert server.call("GET", f"/api/scenes/{pk}/changes?since=0")["revision"] == seen
    server.kill()


@pytest.mark.parametrize("room", ["light", "dim"])
def test_axe_finds_nothing_that_shuts_anyone_out(desk, room):
    """The desk through each eye, its dialogs and menus, and the list of scenes, in the light room and the dim."""
    page = desk.page
    if room == "dim":
        page.get_by_role("button", name="Dim room").click()
    assert page.evaluate("document.documentElement.dataset.room ?? 'light'") == room

    def opened(name):
        page.get_by_role("button", name=name).first.click()
        page.locator("[role=menu], [role=dialog]").wait_for()

    def kit():
        page.get_by_role("button", name="Slack Tide").click()
        page.get_by_role("button", name="Change", exact=True).click()
        page.get_by_role("dialog").wait_for()

    def sizes():
        page.keyboard.press("2")
        page.get_by_test_id("shot-size").click()
        page.get_by_test_id("sizes").wait_for()

    def figure():
        page.locator("[data-figure=Odile] text").click()
        page.get_by_test_id("acts-look").first.wait_for()

    def moved():
        page.locator("[data-figure=Odile] text").click()
        desk.type("Speed", 1.3)
        page.get_by_role("button", name="Moved").click()
        page.get_by_test_id("news").wait_for()

    def dailies():
        frames = {"first": 1100, "last": 1101}
        wait(desk.server, begin(desk.server, desk.id, of="camera", camera="cam-a", frames=frames))
        page.get_by_role("button", name="Dailies").click()
        page.get_by_role("link", name="Movie").first.wait_for()

    def takes():
        page.get_by_role("button", name="Takes", exact=True).click()
        page.get_by_test_id("remarks").wait_for()

    def listed():
        page.goto(f"{desk.server.url}/")
        page.get_by_text("Slack Tide").first.wait_for()

    def moving():
        page.keyboard.press("2")
        page.get_by_role("button", name="Move…").click()

    looks = {
        "rover": lambda: page.keyboard.press("0"),
        "camera": lambda: page.keyboard.press("2"),
        "cut": lambda: page.keyboard.press("c"),
        "keys": lambda: page.keyboard.press("?"),
        "find": lambda: page.keyboard.press("/"),
        "hand over": lambda: opened("Hand over"),
        "guides": lambda: opened("Guides"),
        "size": sizes,
        "figure": figure,
        "moved": moved,
        "kit": kit,
        "history": lambda: page.get_by_role("button", name="History").click(),
        "move": moving,
        "curves": lambda: page.keyboard.press("u"),
        "operate": lambda: page.keyboard.press("Shift+O"),
        "shots": lambda: page.get_by_role("button", name="Shots", exact=True).click(),
        "render": lambda: page.keyboard.press("Shift+R"),
        "dailies": dailies,
        "takes": takes,
        "list": listed,
    }
    told = {}
    for look, go in looks.items():
        go()
        desk.kept()
        # The page lets no script in from elsewhere, so it is run beside it.
        page.evaluate(AXE.read_text())
        found = page.evaluate("axe.run(document, { resultTypes: ['violations'] })")
        serious = [v for v in found["violations"] if v["impact"] != "minor"]
        told[look] = [(v["id"], [n["html"][:160] for n in v["nodes"]][:3]) for v in serious]
        page.keyboard.press("Escape")
    assert {look: what for look, what in told.items() if what} == {}


def test_at_twice_the_size_everything_can_be_reached(desk):
    """200 % zoom of a window 1280 wide leaves 640 of the page's own pixels (WCAG 2.2, 1.4.4)."""
    page = desk.page
    page.set_viewport_size({"width": 640, "height": 400})
    page.keyboard.press("2")
    for name in ("Undo", "Dim room", "Add shot", "Cut here"):
        page.get_by_role("button", name=name).first.scroll_into_view_if_needed()
        box = page.get_by_role("button", name=name).first.bounding_box()
        assert box["x"] >= 0 and box["x"] + box["width"] <= 640
        assert box["y"] >= 0 and box["y"] + box["height"] <= 400
    page.get_by_role("button", name="Add shot").click()
    desk.kept()
    assert len(desk.scene()["shots"]) == 5
