"""What the desk reads about moves: the seen strip, hitches, on air and off air, perches, passes; against plain geometry."""

import base64
import csv
import json
import math

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

pytestmark = pytest.mark.django_db
GATE = (36.0, 24.0)


def column(strip, name):
    values = np.frombuffer(base64.b64decode(strip["values"]), "<f4").reshape(len(strip["columns"]), -1)
    return values[strip["columns"].index(name)]


def samples(desk, thing):
    """A thing's samples by column."""
    key = desk.get().json()["keys"][thing]
    return unpacked(desk.get(f"/samples/{thing}?key={key}").content)


def unpacked(content):
    """Samples from the packed answer itself: its header's length, the header, float32 of what changes."""
    length = int.from_bytes(content[:4], "little")
    head = json.loads(content[4 : 4 + length])
    n = head["last"] - head["first"] + 1
    moves = iter(np.frombuffer(content[4 + length :], "<f4").reshape(n, -1).T)
    # What never changes is said once, by its column's number.
    return {
        name: np.full(n, head["still"][str(i)]) if str(i) in head["still"] else next(moves)
        for i, name in enumerate(head["columns"])
    }


def test_the_strip_has_the_subject_where_a_pinhole_has_it(desk):
    found = desk.get("/motion/cam-b?subject=mov-boat").json()
    strip = found["strip"]
    rows, boat = samples(desk, "cam-b"), samples(desk, "mov-boat")
    # By scipy alone: the middle of the boat, 0.35 m up in its own frame, turned into the camera's.
    middle = np.column_stack([boat["x"], boat["y"], boat["z"]])
    middle += Rotation.from_euler("YXZ", np.column_stack([boat["pan"], boat["tilt"], boat["roll"]]), degrees=True).apply([0, 0.35, 0])  # fmt: skip
    turn = Rotation.from_euler(
        "YXZ", np.column_stack([rows["pan"], rows["tilt"], rows["roll"]]), degrees=True
    )
    seen = turn.inv().apply(middle - np.column_stack([rows["x"], rows["y"], rows["z"]]))
    wide = np.tan(np.radians(rows["horizontal_deg"] / 2))
    ahead = seen[:, 2] < -0.5
    expected = seen[:, 0] / -seen[:, 2] / wide
    np.testing.assert_allclose(column(strip, "x")[ahead], expected[ahead], atol=2e-4)
    assert strip["first"] == 1001 and len(expected) == 320
    assert set(found["limits"]) and found["hitches"] == []


def test_a_strip_of_nothing_that_can_be_watched_is_refused(desk):
    assert desk.get("/motion/cam-b?subject=cam-a").status_code == 404
    assert desk.get("/motion/nobody?subject=fig-bram").status_code == 404


def test_a_hitch_is_said_with_its_frames_and_a_mend_takes_it_away(desk):
    keys = [
        {"thing": "cam-b", "channel": "x", "frame": f, "value": v, "before": "eased", "after": "eased"}
        for f, v in ((1100, 0.0), (1125, 0.5), (1128, 0.5), (1150, 1.0))
    ]
    desk.do(kind="keys.delete", keys=[{"thing": "cam-b", "channel": "all", "frame": 1, "last": 9999}])
    desk.do(kind="keys.set", keys=keys)
    found = desk.get("/motion/cam-b?subject=fig-bram").json()["hitches"]
    stall = next(h for h in found if h["kind"] == "stall")
    assert 1115 <= stall["first"] <= 1126 <= stall["last"] <= 1138
    assert str(stall["first"]) in stall["sentence"]
    bram = {"kind": "figure", "figure": "fig-bram", "joint": "head"}
    mend = {
        "kind": "camera.mend",
        "camera": "cam-b",
        "subject": bram,
        "first": stall["first"],
        "last": stall["last"],
    }
    assert desk.do(**mend).status_code == 200
    left = desk.get("/motion/cam-b?subject=fig-bram").json()["hitches"]
    assert not [
        h
        for h in left
        if h["kind"] == "stall" and h["first"] <= stall["last"] and h["last"] >= stall["first"]
    ]


def test_off_air_says_where_the_next_shot_begins(desk):
    air = desk.get("/air").json()
    # Shot 020 on camera B shows 1165 to 1232, the only one; the scene goes from 1001 to 1320.
    assert air["cam-b"]["off"] == [
        {"first": 1001, "last": 1164, "next": 1165},
        {"first": 1233, "last": 1320, "next": None},
    ]
    assert "cam-e" not in air
    desk.do(kind="keys.delete", keys=[{"thing": "cam-b", "channel": "all", "frame": 1, "last": 9999}])
    move = [
        {"thing": "cam-b", "channel": "x", "frame": f, "value": v, "before": "eased", "after": "eased"}
        for f, v in ((1150, 0.0), (1180, 2.0))
    ]
    desk.do(kind="keys.set", keys=move)
    runs = desk.get("/air").json()["cam-b"]["runs_on"]
    assert [(r["first"], r["last"], r["shot"]) for r in runs] == [(1150, 1180, "020")]


def test_a_perch_is_seen_through_its_lens(desk):
    view = {"x": 0, "y": 1.6, "z": 2, "focal": 50}
    desk.do(kind="perch.add", id="per-1", frame=1001, view=view)
    found = samples(desk, "per-1")
    gate = 36 / (16 / 9)
    # The gate of a 16:9 picture on a 36 mm wide back is 20.25 mm high: any handbook's 2·atan(h/2f).
    assert found["vertical_deg"][0] == pytest.approx(2 * math.degrees(math.atan(gate / 2 / 50)), rel=1e-5)


def test_curves_bring_the_marks_of_a_lens_and_what_is_shown_of_each_key(desk):
    desk.do(kind="keys.set", keys=[{"thing": "cam-b", "channel": "aperture", "frame": 1100, "value": 5.6}])
    found = desk.get("/curves/cam-b").json()
    key = np.frombuffer(base64.b64decode(found["curves"]["aperture"]["keys"]), "<f4").reshape(-1, 8)[0]
    assert (key[0], key[7]) == (1100, pytest.approx(5.6, rel=1e-6))
    marks = found["marks"]["aperture"]
    # Thirds of a stop, each √2^(1/3) wider than the last; full stops as engraved (ISO 517): 1.4, 2, 2.8, 4, 5.6.
    ratios = [b[1] / a[1] for a, b in zip(marks, marks[1:], strict=False)]
    assert ratios == pytest.approx([2 ** (1 / 6)] * len(ratios), rel=1e-9)
    shown = [value for _, value in marks]
    for stop in (1.414, 2.0, 2.828, 4.0, 5.657):
        assert min(abs(value - stop) for value in shown) < 1e-3
    assert "focal" not in found["marks"]


def test_a_focus_distance_has_a_curve_only_where_it_counts(desk):
    assert desk.get("/curves/cam-b").json()["idle"] == ["focus.distance"]
    desk.do(kind="focus.key", camera="cam-b", frame=1100, metres=2.5)
    found = desk.get("/curves/cam-b").json()
    assert found["idle"] == []
    key = np.frombuffer(base64.b64decode(found["curves"]["focus.distance"]["keys"]), "<f4").reshape(-1, 8)[0]
    # Kept in 1/m, shown in metres; the marks of its axis are those of a focus ring, in order.
    assert key[[0, 1, 7]] == pytest.approx([1100, 0.4, 2.5])
    marks = found["marks"]["focus.distance"]
    assert marks == sorted(marks) and all(kept * shown == pytest.approx(1) for kept, shown in marks)
    spec = next(s for s in found["specs"] if s["name"] == "focus.distance")
    assert (spec["unit"], spec["kept_unit"]) == ("m", "1/m")


def test_the_catalogue_says_how_near_few_keys_stay(desk):
    found = desk.client.get("/api/catalogue").json()
    measures = {spec["measure"] for specs in found["channels"].values() for spec in specs}
    assert measures <= set(found["simplified_within"]) and min(found["simplified_within"].values()) > 0
    assert "focus.distance" in {spec["name"] for spec in found["channels"]["camera"]}


def test_the_shot_list_is_handed_over_as_csv(desk):
    answer = desk.get("/export/shots")
    assert answer.headers["Content-Type"] == "text/csv; charset=utf-8"
    assert 'filename="slack-tide-shots.csv"' in answer.headers["Content-Disposition"]
    rows = list(csv.DictReader(answer.content.decode().splitlines()))
    assert [(row["shot"], row["camera"], row["frames"]) for row in rows][:2] == [
        ("010", "A", "113"),
        ("020", "B", "68"),
    ]
    assert rows[1]["move"] == "Pushes in 0.18 m"


def test_a_pass_goes_through_the_log_and_its_try_is_what_is_kept(desk):
    by = 8 * np.sin(np.linspace(0, 7, 60)) + np.linspace(0, 5, 60)
    hand = [{"channel": "pan", "by": list(by)}]
    record = {
        "kind": "pass.record",
        "id": "pas-1",
        "thing": "cam-b",
        "at": list(range(1100, 1160)),
        "hand": hand,
    }
    before = desk.scene()
    answer = desk.do(**record)
    assert answer.status_code == 200 and "Recorded pass 1" in answer.json()["sentence"]
    assert desk.scene()["passes"][0]["in_use"]
    sharp = samples(desk, "cam-b")["pan"][119]
    use = {"kind": "pass.use", "id": "pas-1", "smooth_s": 0.5}
    tried = unpacked(desk.preview(use, 1120)["cam-b"])["pan"][0]
    desk.do(**use)
    assert samples(desk, "cam-b")["pan"][119] == tried != sharp
    for _ in range(2):
        desk.post("undo", {})
    assert desk.scene() == before


def test_what_would_cover_a_conversation_is_told_and_nothing_is_made(desk):
    asked = {"figures": ["fig-odile", "fig-bram"], "frame": 1220}
    before = desk.get().json()
    found = desk.client.post(f"/api/scenes/{desk.id}/coverage", asked, content_type="application/json").json()
    assert [one["kind"] for one in found][:3] == ["master", "over", "over"] and all(
        one["reasons"] for one in found
    )
    assert desk.get().json()["revision"] == before["revision"]
    far = desk.client.post(
        f"/api/scenes/{desk.id}/coverage", {**asked, "frame": 1001}, content_type="application/json"
    )
    assert far.status_code == 422 and "apart at 1001" in far.json()["title"]


def test_a_first_assembly_is_told_measured_and_heard_before_it_is_made(desk):
    for i, text in enumerate(("Bram!", "Still here.", "You've missed the tide.")):
        when = {"pause": 20} if i else {"first": 1100}
        desk.do(kind="line.add", id=f"l{i}", figure=("fig-odile", "fig-bram")[i % 2], text=text, **when)
    before = desk.get().json()
    assert desk.get("/assembly").json()["staying"] == []
    asked = {"wishes": {"pace": 2.4}}
    found = desk.client.post(f"/api/scenes/{desk.id}/assembly", asked, content_type="application/json").json()
    command = {"kind": "cut.assemble", "id": "cut", **asked}
    listen = f"/api/scenes/{desk.id}/heard?on=cut&first=90&count=60"
    tried = desk.client.post(listen, {"command": command}, content_type="application/json").content
    assert tried != desk.client.get(listen).content
    assert desk.get().json()["revision"] == before["revision"]
    # A shot that stays with black before it: all after it lie later in the cut.
    desk.do(kind="shot.add", id="late", camera="cam-b", stage={"first": 1200, "last": 1240})
    desk.do(kind="shot.set", shot="late", gap_before=12)
    kept = desk.client.post(
        f"/api/scenes/{desk.id}/assembly", {**asked, "keep": ["late"]}, content_type="application/json"
    ).json()["shots"]
    places = [(one["id"] == "late", one["cut_first"] - (one["first"] - 1001)) for one in kept]
    at = [late for late, _ in places].index(True)
    assert [off for _, off in places] == [0] * at + [12] * (len(places) - at)
    for _ in range(2):
        desk.post("undo", {})
    wrong = {"wishes": {"pace": 0}}
    answer = desk.client.post(f"/api/scenes/{desk.id}/assembly", wrong, content_type="application/json")
    assert answer.status_code == 400 and answer.json()["remedy"]
    # What is told is what is then made, seen and heard.
    desk.do(**command)
    shots = desk.scene()["shots"]
    assert [(s["id"], s["stage"]["first"], s["stage"]["last"], s["proposed"]["why"]) for s in shots] == [
        (one["id"], one["first"], one["last"], one["why"]) for one in found["shots"]
    ]
    assert desk.get("/assembly").json()["measures"] == found["measures"]
    assert desk.client.get(listen).content == tried


def test_notes_of_the_cut_and_of_a_camera_are_told_with_what_was_put_aside(desk):
    assert desk.do(kind="thing.put", thing="cam-a", frame=1100, keep="rest", roll=2).status_code == 200
    found = desk.get("/notes").json()
    by_shot = {one["shot"]: one for one in found["shots"]}
    # A joint is told with the shot after it: 010 ends at 1176, 020 begins at 1165.
    (time,) = [one for one in by_shot["shot-020"]["cut"] if one["kind"] == "time"]
    assert time["measure"] == 12 and time["joint"] == ["010", "020"] and time["aside"] is None
    roll = next(one for one in desk.get("/notes/cam-a").json() if one["kind"] == "roll")
    assert roll["measure"] == 2 and roll["camera"] == "A" and roll["label"]
    desk.do(kind="note.aside", id="a", note="time", joint=["shot-010", "shot-020"], why="A match on her step")
    told = desk.get("/notes").json()
    assert all(one["kind"] != "time" for one in told["shots"][1]["cut"])
    (aside,) = told["aside"]
    assert (aside["where"], aside["why"]) == ("010 to 020", "A match on her step")
    limit = {one["name"]: one for one in told["kinds"]}["short"]
    assert (limit["usual"], limit["threshold"], limit["speaks"]) == (12, 12, True)
    assert desk.get("/notes/cam-none").status_code == 404
    limits = f"kind=roll&first={roll['first']}&last={roll['last']}"
    (remedy,) = desk.get(f"/remedies?of=cam-a&{limits}").json()
    assert remedy["commands"][0]["roll"] == 0
    assert desk.get("/remedies?of=cam-a&kind=roll&first=1&last=2").status_code == 400
    of_cut = desk.get("/remedies?of=shot-010&of=shot-020&kind=time&first=0&last=0").json()
    assert of_cut == [] or of_cut[0]["commands"][0]["kind"] == "cut.edit"
    # The shot list says it too; and what the last change brought and took away is told.
    table = list(csv.DictReader(desk.get("/export/shots").content.decode().splitlines()))
    assert "rolled by 2.0°" in table[0]["frame_notes"]
    desk.do(kind="thing.put", thing="cam-a", frame=1100, keep="rest", roll=0)
    since = desk.get("/notes_changed").json()
    assert "roll" in [one["kind"] for one in since["gone"]] and "roll" not in [
        one["kind"] for one in since["new"]
    ]
    desk.post("undo", {})
    # Told with the shot it is in, at its frame of the cut: 010 begins the cut at stage 1064.
    (there,) = [one for one in told["shots"][0]["frames"] if one["kind"] == "roll"]
    assert there["cut"] == there["worst"] - 1064


def test_views_are_found_and_what_makes_a_camera_of_them_does(desk):
    asked = {
        "asked": {"figures": ["fig-odile"], "size": "medium"}, "frames": {"first": 1195, "last": 1205}, "rounds": 0, "count": 4,
        "camera": "cam-a", "frame": 1200, "id": "look-x",
    }  # fmt: skip
    found = desk.post("lookouts", asked).json()
    assert 2 <= len(found) <= 4 and len({one["name"] for one in found}) == len(found)
    before = len(desk.scene()["cameras"])
    assert desk.do(**found[0]["make"]).status_code == 200
    made = desk.scene()["cameras"][-1]
    assert len(desk.scene()["cameras"]) == before + 1 and made["name"] == found[0]["name"]
    heads = {one["figure"]: one for one in desk.get(f"/heads/{made['id']}?frame=1200").json()}
    assert abs(heads["fig-odile"]["x"]) < 1 and abs(heads["fig-odile"]["y"]) < 1
    # Camera A put there sees the same; it is one step.
    assert desk.do(kind="together", commands=found[0]["put"]).status_code == 200
    there = {one["figure"]: one for one in desk.get("/heads/cam-a?frame=1200").json()}
    assert there["fig-odile"]["x"] == pytest.approx(heads["fig-odile"]["x"], abs=1e-3)
    desk.post("undo", {})
    assert len(desk.scene()["cameras"]) == before + 1
    nobody = desk.post("lookouts", {**asked, "asked": {"figures": ["fig-x"]}})
    assert nobody.status_code == 404 and nobody.json()["remedy"]
    assert desk.get("/heads/cam-a?frame=99").status_code == 404


def test_the_line_of_action_is_told_with_the_side_of_each_camera(desk):
    line = desk.get("/action_line?frame=1200").json()
    assert line["said"] == "Odile to Bram" and line["set"] is None
    assert {one["camera"] for one in line["cameras"]} == {one["id"] for one in desk.scene()["cameras"]}
    assert desk.do(kind="action_line.set", id="l", off=True).status_code == 200
    off = desk.get("/action_line?frame=1200").json()
    assert off["ends"] is None and off["said"] == "taken off" and off["set"]["id"] == "l"
    assert desk.get("/action_line?frame=5").status_code == 404
