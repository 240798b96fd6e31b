"""Glass over HTTP: refusals that may be forced, the production's kit, comparisons, previews that follow focus."""

import pytest

pytestmark = pytest.mark.django_db


def test_what_the_lens_cannot_is_a_422_that_may_be_forced(desk):
    command = {"kind": "camera.glass", "camera": "cam-b", "aperture": 1.0, "hold": "nothing"}
    refused = desk.do(**command)
    assert refused.status_code == 422
    assert refused.json()["field"] == "force"
    labels = [one["label"] for one in refused.json()["alternatives"]]
    assert labels[-1] == "Force it"
    assert "opens to f/1.4" in refused.json()["detail"]
    assert 2 ** (desk.scene()["cameras"][1]["aperture"]["rest"] / 2) == pytest.approx(2.8)
    forced = desk.do(**command, force=True)
    assert forced.status_code == 200 and forced.json()["sentence"] == "Set camera B to f/1, forced"


@pytest.mark.parametrize(
    ("command", "status"),
    [
        ({"kind": "camera.glass", "camera": "cam-a", "iso": 1e9}, 400),
        ({"kind": "camera.glass", "camera": "cam-a", "far_m": 0.0}, 400),
        ({"kind": "focus.set", "camera": "cam-a", "on": {"kind": "mover", "mover": "gone"}}, 404),
        ({"kind": "focus.rack", "camera": "cam-a", "frame": 5, "on": {"kind": "distance"}}, 422),
        ({"kind": "camera.mount", "camera": "cam-a", "lens": "gone"}, 404),
        ({"kind": "lens.kit", "lenses": []}, 422),
    ],
)
def test_every_refusal_is_one_sentence_and_changes_nothing(desk, command, status):
    before = desk.scene()
    answer = desk.do(**command)
    assert answer.status_code == status
    assert answer.json()["detail"].endswith(".") and "Traceback" not in answer.json()["detail"]
    assert desk.scene() == before


def test_a_preview_of_a_figure_brings_the_cameras_that_watch_it(desk):
    command = {"kind": "thing.put", "thing": "fig-bram", "frame": 1001, "keep": "rest", "x": 0.25, "z": -9.65}
    # Camera C is focused on him, H watches him; the oar goes from his hand to hers. Odile looks at him, and so whoever watches her head goes with it;
    # D watches the heron.
    others = {f"cam-{letter}" for letter in "abcefghi"}
    assert set(desk.preview(command, 1240)) == {"fig-bram", "fig-odile", "mov-oar", *others}
    alone = {"kind": "thing.put", "thing": "mov-boat", "frame": 1001, "keep": "path", "x": -3}
    assert set(desk.preview(alone, 1240)) == {"mov-boat", "cam-i"}


def test_the_lit_stage_brightens_every_camera_and_undo_darkens_it(desk):
    assert len(desk.preview({"kind": "scene.set", "light_ev": 9}, 1200)) == 9
    keys = desk.do(kind="scene.set", light_ev=9).json()["keys"]
    assert keys["cam-a"] != desk.post("undo", {}).json()["keys"]["cam-a"]


def test_the_productions_kit_is_what_new_scenes_begin_with(desk):
    desk.do(kind="lens.add", shortest_mm=28, widest=2)
    assert desk.client.put(f"/api/scenes/{desk.id}/kit").status_code == 200
    made = desk.client.post("/api/scenes", {"name": "Next"}, content_type="application/json").json()
    assert made["scene"]["lenses"] == desk.scene()["lenses"]
    assert desk.client.get("/api/kit").json() == desk.scene()["lenses"]


def test_lenses_compared_and_what_is_sharp_in_words(desk):
    answer = desk.post("compare", {"camera": "cam-e", "frame": 1215, "focals": [24, 50, 100]})
    far = [one["distance_m"] for one in answer.json()]
    # The size is kept, so distance goes as focal length; similar triangles at the head's own depth.
    assert far[2] / far[1] == pytest.approx(2, rel=0.03)
    assert desk.post("compare", {"camera": "cam-e", "frame": 9, "focals": [24]}).status_code == 400
    told = desk.client.get(f"/api/scenes/{desk.id}/glass/cam-e?frame=1215").json()
    assert told["words"] == "Sharp: Odile." and told["clipped"]["beyond"] == []


def test_lines_and_openings(desk):
    lines = desk.client.get("/api/lines?aspect=1.7778&safe=ebu&protect=9:16").json()
    assert [line["group"] for line in lines] == [
        "safe",
        "safe",
        "thirds",
        "centre",
        "diagonals",
        "golden",
        "protect",
    ]
    assert desk.client.get("/api/lines?aspect=1.7778&protect=none").status_code == 400
    assert len(desk.client.get("/api/opening?blades=7&count=32").json()["points"]) == 64
    assert desk.client.get("/api/opening?blades=99").status_code == 400
