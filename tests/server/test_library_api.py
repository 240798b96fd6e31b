"""Files over the API: sent, read in a process of their own, kept by what they hold, used, cleared; bad ones hurt nothing."""

import io
import subprocess
import time

import numpy as np
import pytest
import trimesh
from PIL import Image
from rigs_made import bvh, skinned, walking

from heron.stage.models import find_files
from mellow.backups import read_backup, write_backup
from mellow.library import reading, store
from mellow.library.models import BroughtFile

#: A thread keeps what was read, and sees only what is committed.
pytestmark = pytest.mark.django_db(transaction=True)


@pytest.fixture(autouse=True)
def found(media):
    find_files(store.content_of)


def hut(high=2.0, extra=()):
    made = trimesh.Scene()
    for name, (x, z), size in (("Hut", (0, 0), (4, high, 5)), ("Post", (4, 1), (0.2, 1.5, 0.2)), *extra):
        mesh = trimesh.creation.box(size)
        mesh.apply_translation((x, size[1] / 2, z))
        made.add_geometry(mesh, node_name=name, geom_name=name)
    return made.export(file_type="glb")


def send(desk, content, name="hut.glb"):
    return desk.client.post(f"/api/files?name={name}", content, content_type="application/octet-stream")


def ask(desk, source, name="hut.glb", **more):
    return desk.client.post(
        "/api/files/readings", {"source": source, "name": name, **more}, content_type="application/json"
    )


def read(desk, content, name="hut.glb", **more):
    """What came of a file, once it is read."""
    told = ask(desk, send(desk, content, name).json()["source"], name, **more).json()
    until = time.monotonic() + 60
    while told["state"] in ("waiting", "reading"):
        assert time.monotonic() < until
        time.sleep(0.05)
        told = desk.client.get(f"/api/files/readings/{told['id']}").json()
    return told


def put_up(desk, file, **more):
    return desk.do(kind="set.bring", id="in", name="Hut", file=file["key"], parts=file["parts"], **more)


def test_a_file_is_sent_read_put_up_and_undone(desk):
    told = read(desk, hut())
    file = told["file"]
    assert (told["state"], told["share"], told["kind"], file["told"], file["unit"]) == (
        "done",
        1,
        "set",
        True,
        "m",
    )
    assert file["height_m"] == pytest.approx(2) and [p["name"] for p in file["parts"]] == ["Hut", "Post"]
    assert file["used"] == [] and file["here"]
    before = desk.get().json()["scene"]
    answer = put_up(desk, file, x=20.0)
    assert answer.status_code == 200
    pieces = desk.get().json()["scene"]["pieces"]
    assert {p["name"]: p["x"] for p in pieces if p["source"]} == {"Hut": 20.0, "Post": 24.0}
    (listed,) = desk.client.get("/api/files").json()
    assert listed["used"] == [{"scene": desk.id, "name": "Slack Tide", "pieces": 2}]
    kept = desk.client.get(f"/api/files/{file['key']}.glb")
    assert trimesh.load_scene(io.BytesIO(kept.content), file_type="glb").extents[1] == pytest.approx(2)
    assert "immutable" in kept["Cache-Control"]
    assert desk.post("undo").status_code == 200
    assert desk.get().json()["scene"]["pieces"] == before["pieces"]


def test_the_plan_is_told_where_a_level_plane_cuts_it(desk):
    file = read(desk, hut())["file"]
    put_up(desk, file)
    lines = desk.get("/outlines?height=1.2").json()
    cut = np.array(lines["in-0"]).reshape(-1, 2)
    assert (
        np.abs(cut).max(axis=0) == pytest.approx([0.5, 0.5]) and len(cut) == 16
    )  # each side of a box is two triangles
    assert desk.get("/outlines?height=1.8").json()["in-1"] == []


def test_a_unit_in_doubt_is_asked_and_read_again(desk):
    told = read(desk, hut(high=250.0), "tall.glb")["file"]
    assert not told["told"] and told["unit"] == "cm" and "in doubt" in told["hints"][0]
    again = read(desk, hut(high=250.0), "tall.glb", unit="cm", up="y")["file"]
    assert again["told"] and again["height_m"] == pytest.approx(2.5) and again["key"] == told["key"]


@pytest.mark.parametrize(
    ("content", "name", "says"),
    [(b"glTF" + b"\0" * 30, "a.glb", "glTF version 0"), (b"\0\1\2", "a.xyz", "can't be brought in"), (b"#usda 1.0\n((", "a.usda", "USD")],
)  # fmt: skip
def test_a_bad_file_is_refused_and_the_next_is_read(desk, content, name, says):
    told = read(desk, content, name)
    assert told["state"] == "refused" and says in told["problem"]["reason"] and told["problem"]["remedy"]
    assert not BroughtFile.objects.exists()
    assert read(desk, hut())["state"] == "done"


def test_what_ends_its_process_or_takes_too_long_is_said(desk, monkeypatch):
    """A process that dies says nothing; one that goes on is ended."""
    monkeypatch.setattr(reading.sys, "executable", "/bin/false")
    told = read(desk, hut())
    assert told["state"] == "refused" and "takes too long, or too much memory" in told["problem"]["reason"]


def test_a_reading_is_stopped(desk, monkeypatch):
    monkeypatch.setattr(reading, "_TURNS", reading.threading.Semaphore(0))
    told = ask(desk, send(desk, hut()).json()["source"]).json()
    assert told["state"] == "waiting"
    assert desk.client.delete(f"/api/files/readings/{told['id']}").json()["state"] == "stopped"
    reading._TURNS.release()
    time.sleep(0.1)
    assert desk.client.get(f"/api/files/readings/{told['id']}").json()["state"] == "stopped"
    assert not BroughtFile.objects.exists()


def test_refusals(desk):
    assert send(desk, b"").status_code == 400
    assert ask(desk, "0" * 64).status_code == 404
    assert desk.client.get("/api/files/readings/none").status_code == 404
    assert desk.client.get(f"/api/files/{'0' * 64}.glb").status_code == 404
    assert desk.client.get("/api/files/77/picture.jpg").status_code == 404
    assert desk.client.delete("/api/files/77").status_code == 404


def test_only_unused_files_are_cleared_and_one_that_is_gone_is_said(desk):
    used, spare = read(desk, hut())["file"], read(desk, hut(high=3.0), "spare.glb")["file"]
    put_up(desk, used)
    refused = desk.client.delete(f"/api/files/{used['id']}")
    assert refused.status_code == 422 and "used in “Slack Tide”" in refused.json()["detail"]
    assert [
        one["name"] for one in desk.client.post("/api/files/clear", content_type="application/json").json()
    ] == ["hut.glb"]
    assert not store.path_of(spare["key"]).exists() and store.path_of(used["key"]).exists()
    # Deleted behind our back: the scene opens all the same, and says so.
    store.path_of(used["key"]).unlink()
    assert store.content_of(used["key"]) is None
    (listed,) = desk.client.get("/api/files").json()
    assert listed["here"] is False
    assert desk.get().status_code == 200 and desk.get("/outlines").status_code == 200


def test_a_picture_is_kept_and_a_backup_has_the_files(desk, tmp_path):
    file = read(desk, hut())["file"]
    out = io.BytesIO()
    Image.new("RGB", (900, 400), "#668844").save(out, "JPEG")
    told = desk.client.put(
        f"/api/files/{file['id']}/picture", out.getvalue(), content_type="image/jpeg"
    ).json()
    assert told["pictured"]
    small = Image.open(io.BytesIO(desk.client.get(f"/api/files/{file['id']}/picture.jpg").content))
    assert small.size[0] == 480
    write_backup(tmp_path / "all.zip")
    content = store.path_of(file["key"]).read_bytes()
    store.path_of(file["key"]).unlink()
    read_backup(tmp_path / "all.zip")
    assert store.path_of(file["key"]).read_bytes() == content


def test_a_motion_is_read_corrected_and_given_to_a_figure(desk):
    content = bvh(walking(names="words"))
    told = read(desk, content, "walk.bvh")
    file = told["file"]
    assert (told["kind"], file["kind"], file["rate"], file["seconds"]) == ("motion", "motion", 30.0, 3.0)
    assert file["joints"]["elbow_l"] == "LeftForeArm" and "Hips" in file["names"] and file["parts"] == []
    other = read(desk, content, "walk.bvh", map={"head": "Neck"})["file"]
    assert other["joints"]["head"] == "Neck" and other["key"] != file["key"]
    refused = read(desk, content, "walk.bvh", map={"head": "Nothing"})
    assert refused["state"] == "refused" and "no joint" in refused["problem"]["reason"]
    act = {
        "kind": "motion.bring",
        "figure": "fig-bram",
        "file": file["key"],
        "name": "walk",
        "seconds": file["seconds"],
        "frame": 1160,
    }
    assert desk.do(**act).status_code == 200
    (acted,) = [one for one in desk.scene()["figures"][1]["acts"] if one["kind"] == "recorded"]
    assert acted["frames"] == {"first": 1160, "last": 1232}  # three seconds at 24, and the first
    listed = {one["key"]: one for one in desk.client.get("/api/files").json()}
    assert [one["name"] for one in listed[file["key"]]["used"]] == ["Slack Tide"] and listed[other["key"]][
        "used"
    ] == []
    assert desk.client.delete(f"/api/files/{file['id']}").status_code == 422


def test_a_character_is_read_given_to_a_figure_and_told_where_it_is_used(desk):
    came = skinned(walking(), turned=2)
    told = read(desk, came, "oarsman.glb")
    file = told["file"]
    assert (
        told["kind"] == "character"
        and file["joints"]["wrist_r"] == "RightHand"
        and file["clips"] == [{"name": "Walk", "frames": 91}]
    )
    before = desk.get().json()
    figure = before["scene"]["figures"][0]["id"]
    said = desk.do(kind="character.bring", figure=figure, file=file["key"], name="oarsman")
    assert said.status_code == 200
    after = desk.get().json()
    changed = {name for name, key in after["keys"].items() if before["keys"].get(name) != key}
    assert {f"shape:{figure}", figure} <= changed
    body = trimesh.load_scene(io.BytesIO(desk.get(f"/shapes/{figure}.glb").content), file_type="glb")
    assert sum(len(one.faces) for one in body.geometry.values()) == file["triangles"]
    listed = next(one for one in desk.client.get("/api/files").json() if one["id"] == file["id"])
    assert [one["scene"] for one in listed["used"]] == [desk.id]
    assert desk.client.delete(f"/api/files/{file['id']}").status_code == 422
    # The same file as a thing that no skeleton moves, and a clip of it as motion.
    assert read(desk, came, "oarsman.glb", rigid=True)["file"]["kind"] == "prop"
    motion = read(desk, came, "oarsman.glb", motion=True, clip="Walk")["file"]
    assert (
        motion["kind"] == "motion"
        and motion["name"] == "oarsman Walk"
        and motion["seconds"] == pytest.approx(3.0)
    )


def test_a_new_version_goes_into_every_scene_and_each_takes_it_back(desk):
    old, new = read(desk, hut())["file"], read(desk, hut(high=3.0), "hut2.glb")["file"]
    put_up(desk, old)
    other = desk.client.post(
        "/api/scenes", {"name": "Loft", "rate": "24/1", "delivery": "16:9"}, content_type="application/json"
    ).json()["id"]
    command = {"kind": "set.bring", "id": "in", "name": "Hut", "file": old["key"], "parts": old["parts"]}
    desk.client.post(
        f"/api/scenes/{other}/commands", {"seen": 0, "command": command}, content_type="application/json"
    )
    told = desk.client.post(
        f"/api/files/{old['id']}/renew", {"to": new["id"]}, content_type="application/json"
    ).json()
    assert {(one["scene"], one["refused"]) for one in told} == {(desk.id, False), (other, False)}
    for scene in (desk.id, other):
        pieces = desk.client.get(f"/api/scenes/{scene}").json()["scene"]["pieces"]
        (hut_,) = [p for p in pieces if p["name"] == "Hut"]
        assert hut_["source"]["file"] == new["key"] and hut_["height"] == pytest.approx(3.0)
        assert (
            desk.client.post(f"/api/scenes/{scene}/undo", content_type="application/json").status_code == 200
        )
    pieces = desk.client.get(f"/api/scenes/{other}").json()["scene"]["pieces"]
    assert {p["source"]["file"] for p in pieces} == {old["key"]}


def test_joints_that_were_corrected_are_known_for_files_alike(desk):
    came = bvh(walking(seconds=1.0))
    first = read(desk, came, "a.bvh")["file"]
    assert first["joints"]["knuckle_r" if "knuckle_r" in first["joints"] else "wrist_r"] == "RightHand"
    read(desk, came, "a.bvh", map={"neck": "Head"})
    again = read(desk, bvh(walking(seconds=0.8)), "b.bvh")["file"]
    assert again["joints"]["neck"] == "Head"
    assert (
        read(desk, bvh(walking(seconds=0.8, names="prefixed")), "c.bvh")["file"]["joints"]["neck"]
        == "rig:neck"
    )


def test_a_picture_stands_up_as_a_panel_and_is_replaced_by_another(desk):
    def png(color, size):
        out = io.BytesIO()
        Image.new("RGB", size, color).save(out, "PNG")
        return out.getvalue()

    file = read(desk, png("red", (400, 200)), "sky.png")["file"]
    assert (file["kind"], file["height_m"]) == ("picture", 3.0) and file["size_m"][:2] == pytest.approx(
        [6.0, 3.0]
    )
    desk.do(kind="set.bring", id="in", name="Sky", file=file["key"], parts=file["parts"])
    other = read(desk, png("blue", (100, 100)), "dusk.png")["file"]
    assert desk.do(kind="piece.source", piece="in-0", file=other["key"], name="dusk").status_code == 200
    piece = next(p for p in desk.get().json()["scene"]["pieces"] if p["id"] == "in-0")
    assert piece["source"]["file"] == other["key"] and piece["width"] == pytest.approx(6.0)
    assert read(desk, b"\x89PNG nothing", "bad.png")["state"] == "refused"


def test_things_of_our_own_are_kept_and_put_up_and_what_they_are_made_of_stays(desk):
    file = read(desk, hut())["file"]
    put_up(desk, file)
    kept = desk.client.post(
        f"/api/scenes/{desk.id}/keep",
        {"ids": ["in-0", "in-1"]},
        content_type="application/json",
    ).json()
    assert kept["kind"] == "things" and kept["things"]["pieces"] == 2
    desk.post("undo")
    # The file is used by what was kept, and neither of them is cleared.
    left = {
        one["name"] for one in desk.client.post("/api/files/clear", content_type="application/json").json()
    }
    assert left == {"hut.glb", "Hut"}
    things = desk.client.get(f"/api/files/{kept['id']}/things").json()
    assert desk.do(kind="things.bring", id="own", kept=things, x=30.0, z=0.0).status_code == 200
    pieces = [p for p in desk.get().json()["scene"]["pieces"] if p["source"]]
    assert {p["name"] for p in pieces} == {"Hut", "Post"} and sum(
        p["x"] for p in pieces
    ) / 2 == pytest.approx(30.0)
    bad = desk.client.post(
        f"/api/scenes/{desk.id}/keep", {"ids": ["nobody"]}, content_type="application/json"
    )
    assert bad.status_code == 404 and bad.json()["remedy"]


def test_a_movie_is_read_worked_by_sent_in_part_and_kept_while_it_is_used(desk, tmp_path):
    path = tmp_path / "reel.mp4"
    subprocess.run(
        ["ffmpeg", "-v", "error", "-f", "lavfi", "-i", "testsrc2=size=128x72:rate=25:duration=1.2", "-pix_fmt", "yuv420p", str(path)],
        check=True,
    )  # fmt: skip
    told = read(desk, path.read_bytes(), "reel.mp4")
    file = told["file"]
    assert (told["kind"], file["seconds"], file["rate"]) == ("movie", 1.2, 25.0) and file["used"] == []
    movie = {"file": file["key"], "name": "reel", "seconds": file["seconds"], "fps": file["rate"]}
    assert desk.do(kind="reference.take", movie=movie).status_code == 200
    assert desk.get().json()["scene"]["reference"]["file"] == file["key"]
    address = f"/api/files/{file['key']}.mp4"
    whole = b"".join(desk.client.get(address).streaming_content)
    # A player asks for parts (RFC 9110, 14.2).
    part = desk.client.get(address, headers={"Range": "bytes=100-299"})
    assert part.status_code == 206 and part["Content-Range"] == f"bytes 100-299/{len(whole)}"
    assert b"".join(part.streaming_content) == whole[100:300] and part["Content-Type"] == "video/mp4"
    (listed,) = desk.client.get("/api/files").json()
    assert [one["pieces"] for one in listed["used"]] == [0] and listed["used"][0]["scene"] == desk.id
    assert desk.client.delete(f"/api/files/{file['id']}").status_code == 422
    assert desk.do(kind="reference.leave").status_code == 200
    assert desk.client.delete(f"/api/files/{file['id']}").json() == []
    assert desk.client.get(address).status_code == 404
    assert read(desk, path.read_bytes()[:900], "reel.mp4")["state"] == "refused"


def test_a_rig_and_a_look_are_kept_alone_listed_and_never_cleared(desk):
    def keep(id_, what):
        return desk.client.post(
            f"/api/scenes/{desk.id}/keep", {"ids": [id_], "what": what}, content_type="application/json"
        )

    scene = desk.get().json()["scene"]
    camera = next(one for one in scene["cameras"] if one["layers"])
    other = next(one for one in scene["cameras"] if not one["layers"])
    rig = keep(camera["id"], "rig").json()
    look = keep(scene["figures"][0]["id"], "look").json()
    assert (rig["kind"], rig["name"]) == ("rig", f"Rig of {camera['name']}")
    assert (look["kind"], look["name"]) == ("look", f"Look of {scene['figures'][0]['name']}")
    cleared = desk.client.post("/api/files/clear", content_type="application/json").json()
    assert {one["kind"] for one in cleared} == {"rig", "look"}
    kept = desk.client.get(f"/api/files/{rig['id']}/things").json()
    assert desk.do(kind="kept.rig", camera=other["id"], kept=kept).status_code == 200
    after = next(one for one in desk.get().json()["scene"]["cameras"] if one["id"] == other["id"])
    assert [one["kind"] for one in after["layers"]] == [one["kind"] for one in camera["layers"]]
    kept = desk.client.get(f"/api/files/{look['id']}/things").json()
    who = scene["figures"][1]["id"]
    assert desk.do(kind="kept.look", figures=[who], kept=kept).status_code == 200
    refused = keep(other["id"] if not other["layers"] else who, "look")
    assert refused.status_code == 404
