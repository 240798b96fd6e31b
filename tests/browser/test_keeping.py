"""Nothing is lost: undo, reload, refusals, two tabs, a stopped server, files, links."""

import json

import opentimelineio as otio
import pytest
from harness import Desk, Server, new_page, unreached


def test_everything_is_undone_and_redone_and_there_after_a_reload(desk):
    page, before = desk.page, desk.scene()
    page.keyboard.press("1")
    desk.type("Focal length", 50)
    page.keyboard.press("k")
    desk.kept()
    page.locator("[data-shot='030']").click()
    page.keyboard.press("Delete")
    desk.kept()
    after = desk.scene()
    assert after != before
    page.get_by_role("button", name="History").click()
    page.get_by_label("History").get_by_role("listitem").nth(2).wait_for()
    lines = page.get_by_label("History").get_by_role("listitem").all_inner_texts()
    assert [line.splitlines()[0] for line in lines] == [
        "Deleted shot 030",
        "Set a key on camera A at 1001",
        "Set camera A to 50 mm",
    ]
    for _ in range(3):
        page.keyboard.press("Control+z")
        desk.kept()
    assert desk.scene() == before
    desk.open("?look=A&frame=1100")
    for _ in range(3):
        page.keyboard.press("Control+Shift+z")
        desk.kept()
    assert desk.scene() == after
    desk.open("?look=A&frame=1100")
    assert desk.field("Focal length").input_value() == "50.0"


@pytest.mark.parametrize(
    ("typed", "says"),
    [("0", "must be at least 1"), ("nan", "must be a number"), ("99999", "must be at most 3000")],
)
def test_a_refusal_stands_where_the_hand_is_and_keeps_what_was_typed(desk, typed, says):
    before = desk.scene()
    desk.page.keyboard.press("1")
    desk.type("Focal length", typed)
    assert says in desk.page.get_by_role("alert").inner_text()
    assert desk.field("Focal length").input_value() == typed
    assert desk.scene() == before
    desk.field("Focal length").press("Escape")
    assert desk.field("Focal length").input_value() == "32.0"


def test_the_second_tab_is_told_and_keeps_its_own_input(desk, chromium):
    other = Desk(desk.server, new_page(chromium), desk.id).open("?look=A&frame=1100")
    other.field("Focal length").click()
    other.field("Focal length").fill("85")
    desk.page.keyboard.press("1")
    desk.type("Focal length", 50)
    other.field("Focal length").press("Enter")
    other.page.get_by_role("alert").wait_for()
    says = other.page.get_by_role("alert").inner_text()
    assert "Camera A was changed elsewhere" in says and "Set camera A to 50 mm" in says
    assert other.field("Focal length").input_value() == "85"
    assert desk.scene()["cameras"][0]["focal"]["rest"] == 50
    # Having read it, the second may insist.
    other.field("Focal length").click()
    other.field("Focal length").press("Enter")
    other.kept()
    assert desk.scene()["cameras"][0]["focal"]["rest"] == 85
    other.page.context.close()


def test_an_acknowledged_edit_survives_the_server_being_killed(tmp_path):
    server = Server(tmp_path)
    scene = server.new_demo()
    seen = 0
    for mm in (40, 50, 60):
        command = {"kind": "camera.set", "camera": "cam-a", "focal": mm}
        seen = server.call("POST", f"/api/scenes/{scene}/commands", {"seen": seen, "command": command})[
            "revision"
        ]
    server.kill()
    assert unreached(server)
    server.start()
    assert server.scene(scene)["cameras"][0]["focal"]["rest"] == 60
    assert server.call("POST", f"/api/scenes/{scene}/undo")["sentence"] == "Undid: Set camera A to 60 mm"
    server.kill()


def test_a_server_that_is_gone_is_said_and_the_input_kept(tmp_path, page):
    server = Server(tmp_path)
    desk = Desk(server, page, server.new_demo()).open("?look=A&frame=1100")
    desk.field("Focal length").wait_for()
    server.kill()
    desk.type("Focal length", 50)
    assert "doesn't answer" in page.get_by_role("alert").first.inner_text()
    assert desk.field("Focal length").input_value() == "50"
    server.start()
    desk.field("Focal length").press("Enter")
    desk.kept()
    assert server.scene(desk.id)["cameras"][0]["focal"]["rest"] == 50
    server.kill()


def test_files_are_handed_over_from_the_desk(desk, tmp_path):
    for item, name in (("The cut, as .otio", "slack-tide.otio"), ("The stage, as .glb", "slack-tide.glb")):
        desk.page.get_by_role("button", name="Hand over").click()
        with desk.page.expect_download() as waiting:
            desk.page.get_by_role("menuitem", name=item).click()
        waiting.value.save_as(tmp_path / name)
        assert waiting.value.suggested_filename == name
    assert (tmp_path / "slack-tide.glb").read_bytes()[:4] == b"glTF"
    timeline = otio.adapters.read_from_file(str(tmp_path / "slack-tide.otio"), "otio_json")
    assert [clip.name for clip in timeline.tracks[0]] == ["010", "020", "030", "040"]


def test_a_link_opens_the_same_view(desk):
    desk.open("?look=C&frame=1250")
    assert "Bram and the post" in desk.page.get_by_test_id("caption").inner_text()
    assert desk.clock() == "1250"
    desk.page.keyboard.press("ArrowRight")
    desk.page.wait_for_url("**/*?look=C&frame=1251")


def test_the_list_begins_a_scene_and_refuses_what_is_none(server, page, tmp_path):
    page.goto(server.url)
    wrong = tmp_path / "wrong.json"
    wrong.write_text(json.dumps({"format": "shopping"}))
    page.set_input_files("input[type=file]", wrong)
    page.get_by_role("alert").wait_for()
    page.get_by_label("Name", exact=True).fill("Night ferry")
    page.get_by_label("Delivery aspect").fill("2.39")
    page.get_by_role("button", name="Begin", exact=True).click()
    page.wait_for_selector("canvas[data-ready]", timeout=240_000)
    assert "Night ferry" in page.locator("header").inner_text()
    assert "An empty stage" in page.get_by_label("Viewfinder").inner_text()
