"""HandOverRequest over through the API: planned, written whole or not at all, kept as a record; packages to another machine."""

import io
import os
import time
import zipfile

import numpy as np
import opentimelineio as otio
import pytest
from scipy.io import wavfile

from mellow.handover import jobs
from mellow.handover.models import HandedOver
from mellow.productions.models import Scene, SoundFile

#: A thread writes the files, and sees only what is committed.
pytestmark = pytest.mark.django_db(transaction=True)


def hand_over(desk, folder=False, **what):
    """A hand-over once it has ended."""
    told = desk.post("handovers", {"what": what, "folder": folder})
    assert told.status_code == 200, told.content
    one = told.json()
    until = time.monotonic() + 60
    while one["state"] in ("waiting", "writing"):
        assert time.monotonic() < until
        time.sleep(0.05)
        one = desk.client.get(f"/api/handovers/jobs/{one['id']}").json()
    return one


def test_what_the_edit_has_is_planned_written_and_kept_as_a_record(desk, media):
    planned = desk.post("handovers/plan", {"recipient": "edit"}).json()
    assert {"path": "Slack_Tide.otio", "part": "Timeline, .otio", "folder": False} in planned
    told = hand_over(desk, recipient="edit")
    record = told["record"]
    assert (told["state"], record["number"], record["recipient"], record["changes"]) == ("done", 1, "edit", 0)
    got = desk.client.get(f"/api/handovers/{record['id']}/download")
    with zipfile.ZipFile(io.BytesIO(b"".join(got.streaming_content))) as sheet:
        assert sheet.testzip() is None
        assert {one["path"]: one["bytes"] for one in record["files"]} == {
            i.filename: i.file_size for i in sheet.infolist()
        }
        timeline = otio.adapters.read_from_string(sheet.read("Slack_Tide.otio").decode(), "otio_json")
    assert timeline.video_tracks()
    # What changes afterwards is told beside it.
    desk.do(kind="scene.set", name="Slack Tide, again")
    (listed,) = desk.get("/handovers").json()["records"]
    assert listed["changes"] == 1 and "Slack Tide, again" in listed["since"][0] and listed["here"]


def test_into_the_server_s_folder_whole_or_not_at_all(desk, media, settings, tmp_path, monkeypatch):
    refused = desk.post("handovers", {"what": {}, "folder": True})
    assert refused.status_code == 400 and "MELLOW_OUT" in refused.json()["remedy"]
    settings.OUT = str(tmp_path / "out")
    told = hand_over(desk, folder=True, recipient="animation", by="shots", parts=["csv"], spare=4)
    where = tmp_path / "out" / told["record"]["where"]
    assert told["record"]["where"] == "Slack_Tide_animation_001"
    assert sorted(str(p.relative_to(where)) for p in where.rglob("*.csv")) == sorted(
        f["path"] for f in told["record"]["files"]
    )
    # What fails half way leaves nothing.
    told = hand_over(desk, folder=True, parts=["csv", "movie"])
    assert told["state"] == "refused" and "movie" in told["problem"]["reason"]
    assert [p.name for p in (tmp_path / "out").iterdir()] == ["Slack_Tide_animation_001"]
    # And so does what is stopped.
    real = jobs.written

    def slow(asked, source, tell):
        for one in real(asked, source, tell):
            job = jobs.UNDER_WAY.last()
            assert desk.client.delete(f"/api/handovers/jobs/{job.id}").status_code == 200
            yield one

    monkeypatch.setattr(jobs, "written", slow)
    assert hand_over(desk, folder=True, parts=["csv", "edl"])["state"] == "stopped"
    time.sleep(0.2)
    assert [p.name for p in (tmp_path / "out").iterdir()] == ["Slack_Tide_animation_001"]
    assert HandedOver.objects.count() == 1
    # What a server that ended left half written goes with the next one; what another writes now stays.
    monkeypatch.setattr(jobs, "written", real)
    for name, ago in ((".handover-old", 86_400), (".handover-now", 60)):
        (tmp_path / "out" / name).mkdir()
        os.utime(tmp_path / "out" / name, (time.time() - ago,) * 2)
    assert hand_over(desk, folder=True, recipient="animation", parts=["csv"])["state"] == "done"
    left = {p.name for p in (tmp_path / "out").iterdir()}
    assert ".handover-now" in left and ".handover-old" not in left


def test_only_the_last_downloads_are_kept(desk, media, monkeypatch):
    monkeypatch.setattr(jobs, "KEEP", 2)
    ids = [hand_over(desk, parts=["edl"])["record"]["id"] for _ in range(3)]
    assert [desk.client.get(f"/api/handovers/{one}/download").status_code for one in ids] == [404, 200, 200]


def test_a_package_makes_the_same_scene_with_its_sounds(desk, media):
    noise = io.BytesIO()
    wavfile.write(noise, 48_000, np.random.default_rng(4).integers(-9000, 9000, 24_000).astype(np.int16))
    sent = desk.client.post(
        "/api/sounds?name=a.wav", noise.getvalue(), content_type="application/octet-stream"
    )
    sound = sent.json()
    desk.do(kind="sound.add", name="Gulls", file=sound["key"], samples=sound["samples"], on="cut", first=0)
    before = desk.get().json()["scene"]
    content = desk.get("/export/package").content
    SoundFile.objects.all().delete()
    told = desk.client.post(
        "/api/scenes/import/package?name=s.zip", content, content_type="application/octet-stream"
    )
    assert told.status_code == 200 and told.json()["files"] == 1 and told.json()["lost"] == []
    assert SoundFile.objects.filter(key=sound["key"]).exists()
    again = desk.client.get(f"/api/scenes/{told.json()['scene']}").json()["scene"]
    assert again == before
    many = Scene.objects.count()
    bad = desk.client.post(
        "/api/scenes/import/package?name=s.zip", content[:500], content_type="application/octet-stream"
    )
    assert (
        bad.status_code == 400
        and "s.zip is not a package" in bad.json()["title"]
        and Scene.objects.count() == many
    )
