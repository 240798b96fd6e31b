"""The API: samples, previews, files, and who may talk to it."""

import io
import json
import struct

import numpy as np
import opentimelineio as otio
import pytest
import trimesh
from django.test import Client

from heron.bake import Bake
from heron.demo import slack_tide
from heron.scene import write_scene
from mellow.productions import open_scenes

DEMO = slack_tide()
HERE = {"first": 1200, "last": 1200}


def unpack(content):
    (length,) = struct.unpack_from("<I", content)
    return json.loads(content[4 : 4 + length]), content[4 + length :]


def test_samples_are_the_cores_and_lasting_under_their_key(desk):
    key = desk.get().json()["keys"]["cam-b"]
    answer = desk.get(f"/samples/cam-b?key={key}")
    header, body = unpack(answer.content)
    expected = Bake(DEMO).samples(DEMO.cameras[1]).values.astype("f4")
    # Columns that stand still are said once.
    still = {int(i): value for i, value in header["still"].items()}
    moving = [i for i in range(len(header["columns"])) if i not in still]
    values = np.frombuffer(body, "<f4").reshape(-1, len(moving))
    np.testing.assert_array_equal(values, expected[:, moving])
    assert all(np.all(expected[:, i] == np.float32(value)) for i, value in still.items())
    assert 3 in moving and header["columns"].index("focal_mm") in still  # it pans, and does not zoom
    assert "immutable" in answer["Cache-Control"]
    assert desk.get("/samples/cam-b?key=old")["Cache-Control"] == "no-store"
    assert desk.get("/samples/nobody").status_code == 404


def test_only_what_changed_gets_a_new_key(desk):
    before = desk.get().json()["keys"]
    after = desk.do(kind="keys.move", keys=[{"thing": "cam-b", "frame": 1236}], by=-6).json()["keys"]
    assert {k for k in before if before[k] != after[k]} == {"cam-b"}
    renamed = desk.do(kind="camera.set", camera="cam-b", name="Else").json()["keys"]
    assert renamed == after


def test_a_preview_shows_the_frame_and_writes_nothing(desk):
    there = {"x": 1, "y": 2, "z": 3, "pan": 10, "tilt": 0, "roll": 0}
    command = {"kind": "thing.put", "thing": "cam-b", "frame": 1200, "keep": "key", **there}
    found = desk.preview(command, 1200)
    assert list(found) == ["cam-b"]
    header, body = unpack(found["cam-b"])
    assert list(header["still"].values())[:6] == [1, 2, 3, 10, 0, 0] and body == b""
    assert desk.revision() == 0
    refused = desk.post(
        "preview", {"command": {"kind": "camera.set", "camera": "cam-a", "focal": 0}, "frames": HERE}
    )
    assert refused.status_code == 400


def test_the_cut_table_is_the_clocks(desk):
    header, body = unpack(desk.get("/samples/scene:cut").content)
    n = header["length"]
    table = np.frombuffer(body, "<i4")
    assert n == 275
    assert list(table[n : n + 2]) == [1064, 1065]
    assert table[2 * n] == 1_000_000
    assert [s["cut_first"] for s in header["shots"]] == [0, 113, 181, 232]


def test_handing_over(desk):
    cut = desk.get("/export/otio")
    assert cut["Content-Disposition"] == 'attachment; filename="slack-tide.otio"'
    assert otio.adapters.read_from_string(cut.content.decode(), "otio_json").name == "Slack Tide"
    assert desk.get("/export/glb").content[:4] == b"glTF"
    assert desk.get("/export/json").content.decode() == write_scene(DEMO)
    assert desk.get("/export/docx").status_code == 400


def test_a_scene_file_comes_back_in(desk):
    answer = desk.client.post("/api/scenes/import", write_scene(DEMO), content_type="application/json")
    assert answer.json()["scene"] == DEMO.model_dump(mode="json")
    broken = desk.client.post(
        "/api/scenes/import", '{"format": "heron-scene", "name": ""}', content_type="application/json"
    )
    assert broken.status_code == 400


def test_an_empty_scene_has_a_rate_and_a_format(db):
    client = Client(headers={"host": "127.0.0.1"})
    body = {"name": "Night ferry", "rate": "25", "delivery": "2:1"}
    scene = client.post("/api/scenes", body, content_type="application/json").json()["scene"]
    assert (scene["rate"], scene["delivery"]["aspect"], scene["cameras"]) == ("25/1", 2.0, [])
    refused = client.post("/api/scenes", {**body, "rate": "23"}, content_type="application/json")
    assert refused.status_code == 400 and "not a frame rate" in refused.json()["detail"]


@pytest.mark.parametrize(
    "headers",
    [
        {"host": "evil.example"},
        {"host": "127.0.0.1", "origin": "http://evil.example"},
        {"host": "127.0.0.1", "origin": "null"},
        {"host": "127.0.0.1", "sec-fetch-site": "cross-site"},
    ],
)
def test_other_hosts_and_other_sites_are_refused(desk, headers):
    body = {"seen": 0, "command": {"kind": "camera.set", "camera": "cam-a", "focal": 50}}
    answer = Client(headers=headers).post(
        f"/api/scenes/{desk.id}/commands", body, content_type="application/json"
    )
    assert answer.status_code in (400, 403)
    assert desk.revision() == 0


def test_a_form_cannot_post(desk):
    answer = desk.client.post(f"/api/scenes/{desk.id}/commands", '{"seen": 0}', content_type="text/plain")
    assert answer.status_code == 403


def test_a_pose_is_kept_for_every_scene_and_put_again(desk):
    pose = {"kind": "pose", "id": "hail", "frames": {"first": 1200, "last": 1260}, "right_hand_up": 0.5}
    assert desk.do(kind="figure.act", figure="fig-odile", act={**pose, "twist": 12}).status_code == 200
    for value, frame in ((12, 1210), (32, 1230)):
        desk.do(
            kind="number.set", thing="fig-odile", channel="hail.twist", value=value, frame=frame, key=True
        )
    keep = {"figure": "fig-odile", "act": "hail", "frame": 1220, "name": "Hail"}
    kept = desk.post("poses", keep).json()
    # As it is at that frame: halfway between the keys.
    numbers = {"right_hand_up": 0.5, "twist": 22.0}
    assert kept == [{"id": kept[0]["id"], "name": "Hail", "numbers": numbers, "stature": 1.68}]
    assert desk.post("poses", keep).json() == kept == desk.client.get("/api/poses").json()
    put = desk.do(kind="figure.pose.put", figure="fig-bram", frame=1100, name="Hail", numbers=numbers)
    assert put.status_code == 200 and "pose “Hail”" in put.json()["sentence"]
    wrong = desk.post("poses", {**keep, "act": "act-1"})
    assert wrong.status_code == 422 and wrong.json()["detail"].startswith("Only a pose can be kept")
    assert desk.client.delete(f"/api/poses/{kept[0]['id']}").json() == []
    assert desk.client.delete(f"/api/poses/{kept[0]['id']}").status_code == 404


def test_what_moves_has_a_shape_of_its_own_for_a_shot_that_changes_a_part_of_it(desk):
    desk.do(kind="mover.make", id="m", ids=["set-10"])
    desk.do(
        kind="shot.dress", shot="shot-020", command={"kind": "piece.set", "piece": "set-10", "height": 7.5}
    )
    keys = {name: key for name, key in desk.get().json()["keys"].items() if name.startswith("shape:own:")}
    assert list(keys) == ["shape:own:shot-020:m"]

    def height(of):
        return trimesh.load_scene(io.BytesIO(desk.get(f"/shapes/{of}.glb").content), file_type="glb").extents[
            1
        ]

    assert height("own:shot-020:m") == pytest.approx(7.5, abs=1e-5) and height("m") < 4


def test_lines_and_when_they_are_said_come_as_they_are_and_as_they_would_be(desk):
    desk.do(kind="line.add", id="one", figure="fig-odile", text="You've missed the tide.", first=1100)
    desk.do(kind="line.add", id="two", who="Voice", text="Wait.")
    told = desk.get().json()
    told = json.loads(desk.get(f"/samples/scene:lines?key={told['keys']['scene:lines']}").content)
    first, second = told["lines"]
    assert told["next"] == "fig-odile"
    assert (first["first"], len(first["words"]), second["first"]) == (1100, 4, first["last"] + 7)
    move = {"kind": "lines.move", "ids": ["one"], "by": 5}
    tried = desk.post("preview", {"command": move, "frames": {"first": 1100, "last": 1100}}).json()
    assert [one["first"] for one in tried["lines"]] == [1105, second["first"] + 5]
    other = {"kind": "camera.set", "camera": "cam-a", "name": "Wider"}
    assert (
        desk.post("preview", {"command": other, "frames": {"first": 1100, "last": 1100}}).json()["lines"]
        is None
    )
    # What is stored is what was made, also read anew; and the file is what others read.
    open_scenes.forget(desk.id)
    assert [one["text"] for one in desk.scene()["lines"]] == ["You've missed the tide.", "Wait."]
    assert (
        desk.get("/export/vtt").content.startswith(b"WEBVTT")
        and b"@" not in desk.get("/export/fountain").content
    )
