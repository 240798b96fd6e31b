"""Sets brought in on the desk: dropped, looked at, put up, seen on the plan and in the picture, found in the library, undone."""

import base64
import subprocess
import urllib.request

import opentimelineio as otio
import trimesh
from PIL import Image
from playwright.sync_api import expect
from rigs_made import bvh, skinned, walking


def hut(path, high=2.4):
    made = trimesh.Scene()
    for name, at, size in (("Hut", (0, 0, 0), (3, high, 4)), ("Post", (2.5, 0, 0), (0.2, 2, 0.2))):
        mesh = trimesh.creation.box(size)
        mesh.apply_translation((at[0], size[1] / 2, at[2]))
        made.add_geometry(mesh, node_name=name, geom_name=name)
    path.write_bytes(made.export(file_type="glb"))
    return str(path)


def test_a_set_is_brought_in_put_up_found_and_undone(desk, tmp_path):
    page = desk.page
    before = len(desk.scene()["pieces"])
    page.keyboard.press("Alt+Shift+i")
    page.get_by_label("Files to bring in").set_input_files(hut(tmp_path / "hut.glb"))
    dialog = page.get_by_test_id("bringing")
    expect(dialog.get_by_test_id("measures")).to_contain_text("2.40 m high", timeout=60_000)
    expect(dialog.locator("canvas")).to_have_attribute("data-state", "there", timeout=60_000)
    dialog.get_by_role("button", name="Add as a set").click()
    expect(dialog).to_have_count(0, timeout=60_000)
    expect(page.get_by_test_id("piece-card")).to_contain_text("Group “hut”")
    # The plan shows where it is cut.
    mark = page.locator('[data-piece="Hut"] path').first
    expect(mark).to_be_visible()
    pieces = desk.scene()["pieces"]
    assert len(pieces) == before + 2 and {p["name"] for p in pieces if p["source"]} == {"Hut", "Post"}
    page.keyboard.press("Alt+Shift+b")
    row = page.locator('[data-library="hut.glb"]')
    expect(row).to_contain_text("In this scene")
    expect(page.get_by_role("button", name="Clear unused files")).to_be_disabled()
    page.keyboard.press("Control+z")
    expect(row).to_contain_text("Not used", timeout=20_000)
    assert len(desk.scene()["pieces"]) == before


def test_a_file_in_doubt_asks_for_its_unit_and_a_bad_one_says_why(desk, tmp_path):
    page = desk.page
    (tmp_path / "bad.glb").write_bytes(b"glTF nonsense")
    page.keyboard.press("Alt+Shift+i")
    page.get_by_label("Files to bring in").set_input_files(
        [hut(tmp_path / "tall.glb", 240), str(tmp_path / "bad.glb")]
    )
    dialog = page.get_by_test_id("bringing")
    expect(dialog.get_by_test_id("measures")).to_contain_text("2.40 m high", timeout=60_000)
    put = dialog.get_by_role("button", name="Add as a set")
    expect(put).to_be_disabled()
    dialog.get_by_role("button", name="It is centimetres").click()
    expect(put).to_be_enabled(timeout=60_000)
    row = dialog.locator('[data-file="bad.glb"]')
    expect(row).to_contain_text("cannot be read", timeout=60_000)
    row.get_by_role("button", name="bad.glb", exact=True).click()
    expect(dialog.get_by_role("alert")).to_contain_text("not a .glb file")
    dialog.get_by_role("button", name="Leave it out").click()
    expect(row).to_have_count(0)
    put.click()
    expect(dialog).to_have_count(0, timeout=60_000)


def test_a_motion_is_given_to_whoever_is_chosen(desk, tmp_path):
    page = desk.page
    (tmp_path / "walk.bvh").write_bytes(bvh(walking(seconds=1.0)))
    page.keyboard.press("Alt+Shift+i")
    page.get_by_label("Files to bring in").set_input_files(str(tmp_path / "walk.bvh"))
    dialog = page.get_by_test_id("bringing")
    expect(dialog.get_by_test_id("measures")).to_contain_text("1.00 s of motion", timeout=60_000)
    expect(dialog.get_by_label("Left elbow")).to_have_value("LeftForeArm")
    dialog.get_by_label("Who").select_option(label="Bram")
    dialog.get_by_role("button", name="Give to Bram").click()
    expect(dialog).to_have_count(0, timeout=60_000)
    expect(page.get_by_label("Bram: walk", exact=False).first).to_be_visible()
    acts = next(one["acts"] for one in desk.scene()["figures"] if one["name"] == "Bram")
    assert [act["name"] for act in acts if act["kind"] == "recorded"] == ["walk"]
    page.keyboard.press("Control+z")
    expect(page.get_by_label("Bram: walk", exact=False)).to_have_count(0)


def test_a_cut_from_the_edit_is_compared_and_taken(desk, tmp_path):
    page = desk.page
    scene = desk.scene()
    content = urllib.request.urlopen(f"{desk.server.url}/api/scenes/{desk.id}/export/otio").read().decode()
    timeline = otio.adapters.read_from_string(content, "otio_json")
    first, second = list(timeline.tracks[0].find_clips())[:2]
    for clip, by in ((first, 6), (second, 4)):
        old = clip.source_range
        clip.source_range = otio.opentime.TimeRange(
            old.start_time, old.duration - otio.opentime.RationalTime(by, 24)
        )
    (tmp_path / "back.otio").write_text(timeline.to_json_string())
    page.keyboard.press("Alt+Shift+e")
    page.get_by_label("A cut from the edit").set_input_files(str(tmp_path / "back.otio"))
    panel = page.get_by_label("From the edit", exact=True)
    expect(panel).to_contain_text("2 changes")
    expect(panel.locator("[data-line]").first).to_contain_text("tail -6 f")
    panel.locator("[data-line]").nth(1).get_by_role("checkbox").uncheck()
    panel.get_by_role("button", name="Take 1").click()
    expect(panel).to_have_count(0, timeout=60_000)
    after = desk.scene()
    assert after["shots"][0]["stage"]["last"] == scene["shots"][0]["stage"]["last"] - 6
    assert after["shots"][1:] == scene["shots"][1:] and len(after["cuts"]) == len(scene["cuts"]) + 1


def test_a_character_becomes_somebody_s_body_and_is_taken_off_again(desk, tmp_path):
    page = desk.page
    (tmp_path / "oarsman.glb").write_bytes(skinned(walking(seconds=1.0), turned=2))
    page.keyboard.press("Alt+Shift+i")
    page.get_by_label("Files to bring in").set_input_files(str(tmp_path / "oarsman.glb"))
    dialog = page.get_by_test_id("bringing")
    expect(dialog.get_by_test_id("measures")).to_contain_text("1.85 m tall", timeout=60_000)
    expect(dialog.locator("canvas")).to_have_attribute("data-state", "there", timeout=60_000)
    dialog.get_by_role("button", name="Seated").click()
    expect(dialog.get_by_label("Left elbow")).to_have_value("LeftForeArm")
    # A clip of it is read beside it, as motion.
    dialog.get_by_role("button", name="Walk", exact=True).click()
    expect(dialog.get_by_test_id("motion-read")).to_contain_text("1.00 s of motion", timeout=60_000)
    # The skeleton and a figure stand beside each other, at any moment; a joint is chosen by its row.
    expect(dialog.locator("canvas")).to_have_attribute("data-state", "there", timeout=60_000)
    dialog.get_by_label("Moment of the motion").press("End")
    expect(dialog.get_by_text("1.00 s", exact=True)).to_be_visible(timeout=20_000)
    dialog.get_by_label("Left elbow").focus()
    expect(dialog.get_by_test_id("joint-hint")).to_have_text(
        "Left elbow: press its joint in the picture, or choose its name."
    )
    dialog.locator('[data-file="oarsman.glb"]').first.get_by_role(
        "button", name="oarsman.glb", exact=True
    ).click()
    dialog.get_by_label("Who").select_option(label="Bram")
    dialog.get_by_role("button", name="Give to Bram").click()
    expect(dialog.locator('[data-file="oarsman.glb"]').first).to_contain_text("on the stage", timeout=60_000)
    page.keyboard.press("Escape")
    expect(dialog).to_have_count(0)
    bram = next(one for one in desk.scene()["figures"] if one["name"] == "Bram")
    assert bram["character"] and bram["acts"] and bram["stature"] != 1.85
    body = page.get_by_label("Body", exact=True)
    expect(body).to_have_value(bram["character"], timeout=30_000)
    body.select_option(label="lay figure")
    expect(page.get_by_label("Wears")).to_be_visible(timeout=20_000)
    assert next(one for one in desk.scene()["figures"] if one["name"] == "Bram")["character"] is None


def test_it_is_handed_over_for_somebody_and_what_changed_since_is_said(desk):
    page = desk.page
    page.keyboard.press("Alt+Shift+h")
    dialog = page.get_by_test_id("handover")
    expect(dialog.get_by_label("Files that will be written")).to_contain_text(
        "Slack_Tide.otio", timeout=30_000
    )
    dialog.get_by_role("button", name="Animation and lighting").click()
    dialog.get_by_role("button", name="Shot by shot").click()
    for part in ("Stage, .usdc", "Stage, .glb", "Figures, .bvh"):
        dialog.get_by_label(part).uncheck()
    expect(dialog.get_by_label("Files that will be written")).to_contain_text(
        "020/Slack_Tide_020_B_cameras.csv"
    )
    names = dialog.get_by_label("Names:", exact=False)
    names.fill("{scene}")
    names.press("Enter")
    expect(dialog.get_by_role("alert")).to_contain_text("Two files would be called")
    names.fill("{shot}_{revision}")
    names.press("Enter")
    go = dialog.get_by_role("button", name="Hand over", exact=False).last
    expect(go).to_be_enabled()
    with page.expect_download(timeout=60_000) as got:
        go.click()
    assert got.value.suggested_filename == "Slack_Tide_animation_001.zip"
    record = dialog.get_by_label("Handed over before").get_by_role("listitem")
    expect(record).to_contain_text("The scene has not changed since")
    page.keyboard.press("Escape")
    expect(dialog).to_have_count(0)
    page.keyboard.press("Escape")
    name = page.get_by_label("Name", exact=True)
    name.fill("Slack Tide II")
    name.press("Enter")
    assert desk.scene()["name"] == "Slack Tide II"
    page.keyboard.press("Alt+Shift+h")
    page.get_by_role("button", name="Handed over before").click()
    expect(record).to_contain_text("1 change since")


def test_a_picture_dropped_on_a_piece_in_the_picture_hangs_on_the_side_it_fell_on(desk, tmp_path):
    page = desk.page
    Image.new("RGB", (200, 100), "#c04030").save(tmp_path / "view.png")
    # Far from all else, so that the middle of the rover's picture is this.
    wall = {"kind": "piece.add", "id": "set-wall", "name": "Flat", "group": "Alone", "shape": "wall", "x": 60, "z": -60, "width": 8, "depth": 0.2, "height": 4}  # fmt: skip
    seen = desk.server.call("GET", f"/api/scenes/{desk.id}")["revision"]
    desk.server.call("POST", f"/api/scenes/{desk.id}/commands", {"seen": seen, "command": wall})
    page.get_by_role("tab", name="Rover").click()
    page.get_by_role("button", name="Alone").click(timeout=30_000)
    expect(page.get_by_test_id("piece-card")).to_be_visible(timeout=20_000)
    page.keyboard.press("f")
    box = page.get_by_label("Picture: the arrows", exact=False).bounding_box()
    files = page.evaluate_handle(
        """(text) => {
          const bytes = Uint8Array.from(atob(text), (c) => c.charCodeAt(0)), sent = new DataTransfer();
          sent.items.add(new File([bytes], "view.png", { type: "image/png" }));
          return sent;
        }""",
        base64.b64encode((tmp_path / "view.png").read_bytes()).decode(),
    )
    at = {"clientX": box["x"] + box["width"] / 2, "clientY": box["y"] + box["height"] / 2}
    page.get_by_label("Picture: the arrows", exact=False).dispatch_event(
        "drop", {"dataTransfer": files, **at}
    )
    dialog = page.get_by_test_id("bringing")
    dialog.get_by_role("button", name="Hang on Flat").click(timeout=60_000)
    expect(dialog).to_have_count(0, timeout=60_000)
    flat, hung = (next(p for p in desk.scene()["pieces"] if p["name"] == name) for name in ("Flat", "view"))
    assert (hung["width"], hung["height"]) == (8.0, 4.0) and abs(abs(hung["z"] + 60) - 0.105) < 1e-4
    assert hung["group"] == flat["group"] == "Alone"


def test_a_movie_to_work_by_is_in_step_with_the_cut_beside_and_under_the_picture(desk, tmp_path):
    page = desk.page
    path = tmp_path / "reel.mp4"
    subprocess.run(
        ["ffmpeg", "-v", "error", "-f", "lavfi", "-i", "testsrc2=size=320x180:rate=24:duration=4", "-pix_fmt", "yuv420p", str(path)],
        check=True,
    )  # fmt: skip
    page.keyboard.press("Alt+Shift+i")
    page.get_by_label("Files to bring in").set_input_files(str(path))
    dialog = page.get_by_test_id("bringing")
    expect(dialog.get_by_test_id("measures")).to_contain_text("4.00 s at 24", timeout=60_000)
    dialog.get_by_role("button", name="Use as reference from frame 0").click()
    expect(dialog).to_have_count(0, timeout=60_000)
    page.get_by_role("tab", name="Cut", exact=True).click()
    shown = page.get_by_test_id("reference-movie")
    movie = shown.locator("video")
    for frame in (0, 1, 30):
        desk.type("Cut timecode", f"01:00:0{frame // 24}:{frame % 24:02d}")
        # The middle of the frame: (frame + ½) / 24 s.
        wanted = (frame + 0.5) / 24
        desk.until(lambda wanted=wanted: abs(movie.evaluate("(it) => it.currentTime") - wanted) < 1e-3)
    desk.type("Cut timecode", "01:00:06:00")
    expect(shown).to_have_attribute("data-within", "false", timeout=20_000)
    desk.type("Cut timecode", "01:00:00:00")
    page.get_by_role("tab", name="Cut", exact=True).focus()
    page.keyboard.press("Alt+r")
    expect(shown).to_have_css("opacity", "0.5", timeout=20_000)
    page.keyboard.press("Alt+r")
    expect(shown).to_have_count(0)
    assert desk.scene()["reference"]["clock"] == "cut"
