"""What the desk asks of the cut: how far an edit goes, what a kept cut has otherwise, what is wrong with angles, and mixes."""

import base64
import json
import struct
from datetime import datetime, timedelta

import numpy as np
from django.utils import timezone


def test_limits_are_told_with_what_stops(desk):
    # 020 shows 1165 to 1232 of a stage of 1001 to 1320.
    told = desk.post("cut/limits", {"edit": "slip", "shots": ["020"]}).json()
    assert (told["least"], told["most"]) == (-164, 88)
    assert "no earlier frames" in told["stops"][0] and "no later frames" in told["stops"][1]
    assert desk.post("cut/limits", {"edit": "roll", "shots": ["010"]}).status_code == 422


def test_a_kept_cut_is_told_apart(desk):
    assert desk.do(kind="cut.keep", id="k", name="First").status_code == 200
    (kept,) = desk.scene()["cuts"]
    # By whom and when is the server's to say.
    assert kept["by"] == "artist" and abs(datetime.fromisoformat(kept["when"]) - timezone.now()) < timedelta(
        minutes=2
    )
    assert desk.get("/cuts/k/differences").json() == []
    desk.do(kind="cut.edit", do={"edit": "trim_out", "shots": ["020"], "by": -6})
    desk.do(kind="cut.edit", do={"edit": "swap_angle", "shots": ["030"], "camera": "A"})
    assert desk.get("/cuts/k/differences").json() == [
        "020 ends 6 f later", "030 is on C in place of on A", "It is 6 f (0.2 s) longer",
    ]  # fmt: skip
    assert desk.get("/cuts/none/differences").status_code == 404


def test_angles_are_judged_at_frames_of_the_scene(desk):
    told = desk.get("/angles?frame=1100").json()
    assert told["cam-a"] == "" and set(told) == {c["id"] for c in desk.scene()["cameras"]}
    desk.do(kind="thing.put", thing="cam-a", frame=1100, keep="rest", tilt=85)
    assert desk.get("/angles?frame=1100").json()["cam-a"] == "Nothing in the frame"
    assert desk.get("/angles?frame=1").status_code == 400


def test_the_cut_that_is_sent_says_what_is_mixed_where(desk):
    desk.do(kind="cut.edit", do={"edit": "dissolve", "shots": ["020"], "frames": [2, 2]})
    desk.do(kind="cut.edit", do={"edit": "fade_in", "shots": ["010"], "frames": 2, "colour": "#ffffff"})
    content = desk.get("/samples/scene:cut").content
    (size,) = struct.unpack("<I", content[:4])
    header = json.loads(content[4 : 4 + size])
    length, mixed = header["length"], header["mixed"]
    assert (length, mixed) == (275, 6)
    table = np.frombuffer(content[4 + size : 4 + size + 4 * (3 * length + 1 + 3 * mixed)], "<i4")[
        3 * length + 1 :
    ]
    at, other, stage = table.reshape(3, mixed).tolist()
    # By hand: 010 is 1064 to 1176 on the first 113 frames; 020 begins with 1165.
    assert at == [0, 1, 111, 112, 113, 114] and other == [-1, -1, 1, 1, 0, 0]
    assert stage == [-1, -1, 1163, 1164, 1177, 1178]
    own, others, *light = np.frombuffer(content[-4 * 5 * mixed :], "<f4").reshape(5, mixed)
    np.testing.assert_allclose(own, [0.25, 0.75, 7 / 8, 5 / 8, 5 / 8, 7 / 8])
    np.testing.assert_allclose(others, [0, 0, 1 / 8, 3 / 8, 3 / 8, 1 / 8])
    np.testing.assert_allclose(np.ravel(light).reshape(mixed, 3)[:2], [[0.75] * 3, [0.25] * 3])


def test_what_is_tried_says_what_is_mixed(desk):
    edit = {"kind": "cut.edit", "do": {"edit": "dissolve", "shots": ["020"], "frames": [1, 1]}}
    tried = desk.post("preview", {"command": edit, "frames": {"first": 1100, "last": 1100}}).json()
    content = base64.b64decode(tried["mixed"])
    # By hand: the last frame of 010 with 020's before its first, and its first with 010's next.
    assert np.frombuffer(content[:24], "<i4").tolist() == [112, 113, 1, 0, 1164, 1177]
    np.testing.assert_allclose(np.frombuffer(content[24:], "<f4"), [0.75, 0.75, 0.25, 0.25, *[0] * 6])
    other = {"kind": "cut.edit", "do": {"edit": "trim_out", "shots": ["020"], "by": -6}}
    tried = desk.post("preview", {"command": other, "frames": {"first": 1100, "last": 1100}}).json()
    assert tried["mixed"] is None and tried["placed"]


def test_runs_are_kept_also_when_they_are_undone(desk):
    run = {"edit": "live", "start": 0, "to": 112, "presses": [[0, "A"], [2.2, "B"]], "delay": 0.2}
    assert desk.do(kind="cut.edit", do=run).status_code == 200
    # 2.2 s less 0.2 s of a hand at 24 frames a second.
    assert desk.scene()["shots"][0]["stage"] == {"first": 1064, "last": 1064 + 47}
    desk.post("undo", {})
    desk.do(kind="cut.edit", do={"edit": "trim_out", "shots": ["020"], "by": -6})
    # The same presses once, by whatever rule they are laid.
    desk.do(kind="cut.edit", do={**run, "delay": 0})
    (kept,) = desk.get("/runs").json()
    assert kept["run"]["presses"] == [[0, "A"], [2.2, "B"]] and kept["author"]


def test_whoever_draws_is_told_what_to_add_up(desk):
    desk.do(kind="cut.edit", do={"edit": "dissolve", "shots": ["020"], "frames": [1, 1]})
    take = desk.post("takes", {"of": "shots", "shots": ["shot-020"], "high": 72}).json()["id"]
    claim = desk.client.post(
        f"/api/takes/{take}/claim", {"by": "me", "count": 2}, content_type="application/json"
    ).json()
    first, second = claim["frames"]
    assert first["mixed"]["light"] == [0, 0, 0] and second["mixed"] is None
    assert first["mixed"]["parts"] == [
        {"camera": "cam-b", "stage": 1165, "weight": 0.75, "shot": None},
        {"camera": "cam-a", "stage": 1177, "weight": 0.25, "shot": None},
    ]  # fmt: skip
