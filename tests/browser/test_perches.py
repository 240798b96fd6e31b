"""Perches and flights on the desk."""

import pytest


def test_views_are_saved_listed_dragged_ridden_and_flown_along(desk):
    page = desk.page
    for key, frame in (("2", 1180), ("3", 1260)):
        page.keyboard.press(key)
        desk.go(frame)
        page.keyboard.press("Shift+N")
        desk.kept()
    # Saved, it is selected to be named; its lens came with it.
    desk.type("Perch", "Over the post")
    perches = desk.scene()["perches"]
    assert [p["name"] for p in perches] == ["Perch 1", "Over the post"]
    assert [p["focal"] for p in perches] == [50, 40] and perches[0]["focus_m"] > 2
    page.get_by_label("Rides on").select_option("Odile")
    desk.kept()
    page.keyboard.press("0")
    page.get_by_role("button", name="Perches").click()
    page.wait_for_selector("[data-testid=perch-list] canvas[data-drawn]")
    assert page.locator("[data-testid=perch-list] canvas").count() == 2
    page.get_by_role("button", name="Perch 1 50 mm").click()
    page.keyboard.press("Escape")
    mark = desk.centre("[data-perch='Over the post']")
    desk.drag(mark, (40, 0))
    moved = desk.scene()["perches"][1]
    assert moved["rides"]["figure"] == "fig-odile" and moved["x"] != perches[1]["x"]
    page.keyboard.press("1")
    desk.go(1010)
    page.get_by_role("button", name="Add a layer").click()
    page.get_by_role("menuitem", name="Fly along").click()
    desk.kept()
    rig = page.get_by_test_id("rig")
    rig.get_by_role("button", name="Flies from Perch 1 to Over the post").click()
    legs = page.get_by_test_id("legs")
    legs.get_by_label("Takes").fill("3s")
    legs.get_by_label("Takes").press("Enter")
    desk.kept()
    legs.get_by_label("Goes").select_option("round Bram")
    desk.kept()
    flight = desk.scene()["cameras"][0]["layers"][0]
    assert flight["first"] == 1010 and flight["legs"][1]["frames"] == 72
    assert flight["legs"][1]["round"]["figure"] == "fig-bram"
    legs.get_by_role("button", name="One more perch").click()
    desk.kept()
    assert [leg["to"]["perch"] for leg in desk.scene()["cameras"][0]["layers"][0]["legs"]] == [
        perches[0]["id"], perches[1]["id"], perches[0]["id"],
    ]  # fmt: skip


def test_a_camera_is_put_on_a_perch_and_one_is_made_of_it(desk):
    page = desk.page
    page.keyboard.press("2")
    desk.go(1180)
    page.keyboard.press("Shift+N")
    desk.kept()
    page.keyboard.press("1")
    page.get_by_role("button", name="Perches").click()
    page.get_by_role("button", name="Perch 1 50 mm").click()
    desk.kept()
    perch, camera = desk.scene()["perches"][0], desk.scene()["cameras"][0]
    assert camera["x"]["rest"] == pytest.approx(perch["x"], abs=1e-4) and camera["focal"]["rest"] == 50
    page.get_by_role("button", name="Make a camera from Perch 1").click()
    desk.name_camera("From the perch")
    made = desk.scene()["cameras"][-1]
    assert made["name"] == "From the perch" and made["z"]["rest"] == pytest.approx(perch["z"], abs=1e-4)
