"""Takes from being asked for to what they hand over: drawn by a stand-in here, looked at with ffprobe and OpenTimelineIO."""

import errno
import io
import json
import subprocess
import zipfile
from datetime import timedelta
from fractions import Fraction
from pathlib import Path

import numpy as np
import opentimelineio as otio
import pytest
from client import Desk
from django.conf import settings as django_settings
from django.utils import timezone
from PIL import Image
from playwright.sync_api import Error

from heron.commands import parse_commands, run
from heron.dailies.asked import Render
from heron.demo import slack_tide
from mellow.dailies import browser, media, packing, tasks, written
from mellow.dailies import desk as machine
from mellow.dailies.models import Take, TakeFrame
from mellow.dailies.queue import put as PUT
from mellow.productions import models, rows
from mellow.productions.api.scenes import production


def short(*more, rate=None):
    """The demo with a cut of a few frames: 010 on A, black, 020 on B."""
    scene = slack_tide()
    ids = [shot.id for shot in scene.shots]
    commands = [{"kind": "shot.delete", "shot": one} for one in ids]
    commands += [
        {"kind": "shot.add", "camera": "cam-a", "stage": {"first": 1100, "last": 1105}, "id": "shot-010"},
        {"kind": "shot.add", "camera": "cam-b", "stage": {"first": 1200, "last": 1207}, "id": "shot-020"},
        {"kind": "shot.set", "shot": "shot-020", "gap_before": 3},
    ]
    if rate:
        commands.append({"kind": "scene.set", "rate": rate})
    return run(scene, parse_commands(json.dumps(commands + list(more))))[0]


@pytest.fixture
def desk(db):
    return Desk(rows.create(production(), short()).pk)


def png(colour, size):
    out = io.BytesIO()
    Image.new("RGB", size, colour).save(out, "PNG")
    return out.getvalue()


def post(desk, path, body=None):
    return desk.client.post(
        f"/api/{path}", json.dumps(body) if body is not None else None, content_type="application/json"
    )


def begin(desk, **render):
    answer = desk.post("takes", {"high": 36, **render})
    assert answer.status_code == 200, answer.json()
    return answer.json()


def draw(desk, take, by="one", most=1000, colour=None):
    """Claim and draw as a worker's browser does; which places were drawn."""
    done = []
    while len(done) < most:
        claim = post(desk, f"takes/{take}/claim", {"by": by, "count": 2}).json()
        if not claim["frames"]:
            return done
        row = Take.objects.get(pk=take)
        for frame in claim["frames"]:
            # A grey for each stage frame, so that which is which can be seen in the movie.
            grey = (frame["stage"] % 100) * 2
            path = f"/api/takes/{take}/frames/{frame['place']}/picture"
            content = png(colour or (grey, grey, grey), (row.wide, row.high))
            assert desk.client.post(path, content, content_type="image/png").status_code == 200
            done.append(frame["place"])
    return done


def made(desk, **render):
    """A take, drawn and packed, with the folder of what it handed over."""
    take = begin(desk, **render)
    draw(desk, take["id"])
    packing.pack_take(take["id"])
    told = desk.client.get(f"/api/takes/{take['id']}").json()
    assert told["take"]["state"] == "done", told["take"]
    return told, media.folder(take["id"])


def probe(path):
    said = subprocess.run(
        ["ffprobe", "-v", "error", "-count_frames", "-show_streams", "-show_format", "-of", "json", str(path)],
        capture_output=True, check=True,
    )  # fmt: skip
    content = json.loads(said.stdout)
    return next(s for s in content["streams"] if s["codec_type"] == "video"), content


def greys(path, count, high):
    """The middle grey of each frame of a movie, as ffmpeg decodes it."""
    raw = subprocess.run(
        ["ffmpeg", "-v", "error", "-i", str(path), "-vf", f"crop=8:8:8:{high // 2 - 4},scale=1:1:flags=area", "-pix_fmt",
         "gray", "-f", "rawvideo", "-"], capture_output=True, check=True,
    ).stdout  # fmt: skip
    assert len(raw) == count
    return list(raw)


@pytest.mark.parametrize(
    ("rate", "fps", "timecode"),
    [
        ("24/1", Fraction(24), "01:00:00:00"),
        # SMPTE ST 12-1: 23.976 counts without dropping; 29.97 may drop, and says so by a semicolon.
        ("24000/1001", Fraction(24000, 1001), "01:00:00:00"),
        ("30000/1001", Fraction(30000, 1001), "01:00:00;00"),
    ],
)
def test_the_movie_is_h264_of_the_cut_at_its_rate(db, rate, fps, timecode):
    scene = short(rate=None if rate == "24/1" else rate)
    if ";" in timecode:
        scene = run(scene, parse_commands('[{"kind": "scene.set", "cut_start": "01:00:00;00"}]'))[0]
    desk = Desk(rows.create(production(), scene).pk)
    told, folder = made(desk, slate=False)
    (path,) = folder.glob("*.mp4")
    stream, whole = probe(path)
    count = len(told["movie"])
    placed = [frame["stage"] for frame in told["frames"]]
    assert stream["codec_name"] == "h264" and stream["pix_fmt"] == "yuv420p"
    assert (stream["width"], stream["height"]) == (64, 36)
    assert Fraction(stream["r_frame_rate"]) == fps and int(stream["nb_read_frames"]) == count
    assert abs(float(stream["duration"]) - count / fps) < 1 / fps
    colour = ("color_range", "color_space", "color_primaries", "color_transfer")
    assert [stream[name] for name in colour] == ["tv", "bt709", "bt709", "iec61966-2-1"]
    codes = [s["tags"]["timecode"] for s in whole["streams"] if "timecode" in s.get("tags", {})]
    assert codes and set(codes) == {timecode}
    # Frame by frame: each shows what was drawn for it, and the gap is black.
    wanted = [0 if at is None else (placed[at] % 100) * 2 for at in told["movie"]]
    found = greys(path, count, 36)
    assert all(abs(a - b) <= 3 for a, b in zip(found, wanted, strict=True)), (found, wanted)


def test_pictures_are_those_that_were_drawn_in_a_folder_for_each_shot(desk):
    told, folder = made(desk, pictures="png", movie=False, slate=False, spare=2, leader=True)
    names = sorted(str(p.relative_to(folder / "pictures")) for p in folder.rglob("*.png"))
    shown = [f"010/Slack_Tide_010.{n}.png" for n in range(1097, 1108)]
    assert names == shown + [f"020/Slack_Tide_020.{n}.png" for n in range(1197, 1210)]
    first = next(f for f in told["frames"] if f["stage"] == 1098)
    kept = media.picture(first["proof"]).read_bytes()
    assert (folder / "pictures/010/Slack_Tide_010.1098.png").read_bytes() == kept
    said = json.loads((folder / "pictures/manifest.json").read_text())
    # The leaders stand before the first; the manifest names what is drawn.
    assert [p["file"] for p in said["pictures"]] == [
        n for n in names if ".1097." not in n and ".1197." not in n
    ]
    sheet = desk.client.get(f"/api/takes/{told['take']['id']}/files/pictures")
    with zipfile.ZipFile(io.BytesIO(b"".join(sheet.streaming_content))) as packed:
        assert sorted(packed.namelist()) == sorted([*names, "manifest.json"])
    (timeline,) = folder.glob("*.otio")
    for clip in otio.adapters.read_from_file(str(timeline)).find_clips():
        reference = clip.media_reference
        count = reference.number_of_images_in_sequence()
        assert all((folder / reference.target_url_for_image_number(i)).exists() for i in range(count))


def test_what_is_written_on_a_picture_leaves_it_whole(desk):
    _, folder = made(
        desk, pictures="jpeg", movie=True, slate=True, lines=["safe", "thirds"], high=360, jpeg=95
    )
    path = folder / "pictures/020/Slack_Tide_020.1200.jpg"
    with Image.open(path) as image:
        assert image.width == 640 and image.height > 360 and image.height % 2 == 0
        # Stage 1200 is grey 0; between the lines it still is, and the slate has light letters on dark.
        assert max(image.getpixel((40, 200))) < 10
        # Safe action of SMPTE ST 2046-1 is 93 % of the height: its upper line is 3.5 % down. From memory.
        column = [max(image.getpixel((320, y))) for y in range(30)]
        assert column.index(max(column)) in range(11, 15) and max(column) > 150
        assert image.crop((0, 362, 640, image.height)).convert("L").getextrema()[1] > 180
    stream, _ = probe(next(folder.glob("*.mp4")))
    assert (stream["width"], stream["height"]) == (640, image.height)


def test_only_what_changed_is_drawn_again(desk):
    made(desk)
    desk.seen = desk.revision()
    keys = [{"thing": "cam-b", "channel": "y", "frame": f, "value": v} for f, v in ((1190, 2), (1210, 3))]
    assert desk.do(kind="keys.set", keys=keys).status_code == 200
    plan = desk.post("takes/plan", {"high": 36}).json()
    assert (plan["frames"], plan["kept"]) == (14, 6)
    second = begin(desk)
    assert (second["number"], second["frames"], second["reused"]) == (2, 14, 6)
    drawn = draw(desk, second["id"])
    frames = {f.place: f.letter for f in TakeFrame.objects.filter(take=second["id"])}
    assert {frames[place] for place in drawn} == {"B"} and len(drawn) == 8
    # Another size or quality is another picture.
    assert begin(desk, high=48)["reused"] == 0 and begin(desk, quality="fine")["reused"] == 0
    # And what is written on it is none: the same pictures serve.
    assert begin(desk, slate=False, lines=["thirds"])["reused"] == 14


def test_a_take_stands_as_it_was_whatever_happens_to_the_scene(desk):
    take = begin(desk)
    desk.seen = desk.revision()
    assert desk.do(kind="shot.delete", shot="shot-020").status_code == 200
    draw(desk, take["id"])
    packing.pack_take(take["id"])
    told = desk.client.get(f"/api/takes/{take['id']}").json()
    assert told["take"]["state"] == "done" and len(told["frames"]) == 14
    # Nobody sees or changes the scene as it was; a copy of it is a scene like any other.
    frozen = Desk(told["frozen"])
    listed = [one["id"] for one in desk.client.get("/api/scenes").json()]
    assert listed == [desk.id]
    refused = frozen.do(kind="scene.set", name="Else")
    assert refused.status_code == 422 and "as a copy" in refused.json()["remedy"]
    assert desk.client.delete(f"/api/scenes/{told['frozen']}").status_code == 422
    copy = Desk(post(desk, f"takes/{take['id']}/copy").json()["scene"])
    assert [s["name"] for s in copy.scene()["shots"]] == ["010", "020"]
    assert (
        copy.scene()["name"] == "Slack Tide, take 1"
        and copy.do(kind="scene.set", name="Else").status_code == 200
    )
    assert desk.client.delete(f"/api/scenes/{desk.id}?for_good=true").status_code == 200
    assert not models.Scene.objects.filter(pk=told["frozen"]).exists()


def test_two_workers_never_draw_the_same_frame_and_a_dead_ones_are_drawn_by_the_other(desk):
    take = begin(desk)["id"]
    one = post(desk, f"takes/{take}/claim", {"by": "one", "count": 3}).json()["frames"]
    two = post(desk, f"takes/{take}/claim", {"by": "two", "count": 3}).json()["frames"]
    assert {f["place"] for f in one}.isdisjoint(f["place"] for f in two)
    # The other draws all that is left, and then has to wait: the first is still working.
    draw(desk, take, "two", most=8)
    TakeFrame.objects.filter(take=take, by="two").exclude(state="done").update(
        until=timezone.now() - timedelta(1)
    )
    rest = draw(desk, take, "two")
    waits = post(desk, f"takes/{take}/claim", {"by": "two", "count": 3}).json()
    assert waits["frames"] == [] and waits["wanted"] is True
    assert {f["place"] for f in one}.isdisjoint(rest)
    assert post(desk, f"takes/{take}/at-it", {"by": "one"}).json() == {"wanted": True}
    # It is no longer heard from.
    TakeFrame.objects.filter(by="one").update(until=timezone.now() - timedelta(seconds=1))
    assert set(draw(desk, take, "two")) == {f["place"] for f in one}
    assert Take.objects.get(pk=take).state == "packing"
    done = TakeFrame.objects.filter(take=take, state="done")
    assert done.count() == 14 and not done.filter(by="one").exists()


def test_a_worker_that_begins_anew_is_given_what_it_had_and_told_what_is_left(desk, media):
    take = begin(desk)["id"]
    assert [task.__class__.__name__ or task for task, _ in media] and media[0][1][0] == take
    post(desk, f"takes/{take}/claim", {"by": "one", "count": 3})
    left = post(desk, "workers/begin", {"name": "one"}).json()
    assert [(one["id"], one["state"], one["wide"], one["high"]) for one in left] == [
        (take, "drawing", 64, 36)
    ]
    assert not TakeFrame.objects.filter(state="claimed").exists()
    assert len(draw(desk, take, "three")) == 14


def test_the_same_picture_is_drawn_once_for_two_takes(desk):
    one, two = begin(desk)["id"], begin(desk, note="again")["id"]
    first = post(desk, f"takes/{one}/claim", {"by": "one", "count": 14}).json()["frames"]
    assert len(first) == 14
    assert post(desk, f"takes/{two}/claim", {"by": "two", "count": 4}).json()["frames"] == []
    TakeFrame.objects.filter(by="one").update(until=timezone.now() - timedelta(seconds=1))
    assert len(draw(desk, two, "two")) == 14
    assert set(Take.objects.values_list("state", flat=True)) == {"packing"}


def test_a_frame_that_cannot_be_drawn_is_named_and_the_others_go_on(desk):
    take = begin(desk)["id"]
    post(desk, f"takes/{take}/frames/3/failed", {"reason": "Pictures of 9 × 9 cannot be drawn here."})
    assert len(draw(desk, take)) == 13
    told = desk.client.get(f"/api/takes/{take}").json()
    assert told["take"]["state"] == "lacking" and told["take"]["failed"] == 1
    assert told["frames"][3]["reason"] == "Pictures of 9 × 9 cannot be drawn here."
    assert post(desk, f"takes/{take}/again").json()["state"] == "waiting"
    # Only that one is drawn.
    assert draw(desk, take) == [3]
    assert Take.objects.get(pk=take).state == "packing"


def test_a_frame_that_ends_every_browser_is_not_begun_for_ever(desk):
    take = begin(desk)["id"]
    for _ in range(3):
        assert post(desk, f"takes/{take}/claim", {"by": "one", "count": 1}).json()["frames"][0]["place"] == 0
        TakeFrame.objects.filter(by="one").update(until=timezone.now() - timedelta(seconds=1))
    assert post(desk, f"takes/{take}/claim", {"by": "one", "count": 1}).json()["frames"][0]["place"] == 1
    first = desk.client.get(f"/api/takes/{take}").json()["frames"][0]
    assert first["state"] == "failed" and "begun 3 times" in first["reason"]


def test_cancel_and_carry_on_draw_nothing_twice(desk):
    take = begin(desk)["id"]
    before = draw(desk, take, most=4)
    assert post(desk, f"takes/{take}/cancel").json()["state"] == "cancelled"
    claim = post(desk, f"takes/{take}/claim", {"by": "one", "count": 4}).json()
    assert claim["frames"] == [] and claim["wanted"] is False
    assert post(desk, f"takes/{take}/at-it", {"by": "one"}).json() == {"wanted": False}
    post(desk, f"takes/{take}/again")
    assert set(draw(desk, take)).isdisjoint(before)
    begin(desk, high=40), begin(desk, high=44)
    assert {one["state"] for one in post(desk, "takes/cancel").json()} == {"cancelled"}
    done, _ = made(desk, high=38)
    assert post(desk, f"takes/{done['take']['id']}/again").status_code == 422


def test_a_packer_that_is_killed_leaves_nothing_half_written(desk, monkeypatch):
    take = begin(desk, pictures="png")["id"]
    draw(desk, take)
    real, calls = packing.write_movie, []

    def killed(path, *rest):
        calls.append(path)
        Path(path).write_bytes(b"half")
        raise SystemExit

    monkeypatch.setattr(packing, "write_movie", killed)
    with pytest.raises(SystemExit):
        packing.pack_take(take)
    assert calls and not media.folder(take).exists()
    monkeypatch.setattr(packing, "write_movie", real)
    # While it may still be packing nobody else begins; once it begins again it is packed.
    packing.pack_take(take)
    assert Take.objects.get(pk=take).state == "packing"
    assert post(desk, "workers/begin", {"name": machine.worker_name()}).json()[0]["state"] == "packing"
    packing.pack_take(take)
    assert Take.objects.get(pk=take).state == "done" and list(media.folder(take).glob("*.mp4"))
    assert not list(media.folder(take).parent.glob(".making*"))


def test_a_picture_that_was_cleared_before_packing_is_drawn_once_more(desk):
    take = begin(desk)["id"]
    draw(desk, take)
    lost = TakeFrame.objects.get(take=take, place=5)
    media.picture(lost.key).unlink()
    packing.pack_take(take)
    assert Take.objects.get(pk=take).state == "drawing" and draw(desk, take) == [5]
    packing.pack_take(take)
    assert Take.objects.get(pk=take).state == "done"


def test_a_full_disk_says_so_and_keeps_what_was_drawn(desk, monkeypatch):
    take = begin(desk)["id"]
    (frame,) = post(desk, f"takes/{take}/claim", {"by": "one", "count": 1}).json()["frames"]
    path, content = f"/api/takes/{take}/frames/{frame['place']}/picture", png((9, 9, 9), (64, 36))

    def full(_):
        raise OSError(errno.ENOSPC, "No space left on device")

    with monkeypatch.context() as patch:
        patch.setattr("os.fsync", full)
        refused = desk.client.post(path, content, content_type="image/png")
    assert refused.status_code == 507
    assert refused.json()["title"] == "The picture was not saved: the disk is full."
    assert not [p for p in (Path(django_settings.MEDIA) / "pictures").rglob("*") if p.is_file()]
    assert desk.client.post(path, content, content_type="image/png").status_code == 200


def test_a_media_folder_that_cannot_be_written_is_said_before_anything_begins(desk, settings, tmp_path):
    (tmp_path / "file").write_text("no folder")
    settings.MEDIA = tmp_path / "file" / "media"
    refused = desk.post("takes", {"high": 36})
    assert refused.status_code == 507 and "media folder cannot be written" in refused.json()["detail"]
    assert not Take.objects.exists()


def test_renders_that_fill_their_room_are_refused_and_kept_pictures_are_bounded(desk, settings):
    told, folder = made(desk, pictures="png")
    take = told["take"]["id"]
    settings.MEDIA_GB = 1e-6
    refused = desk.post("takes", {"high": 36})
    assert refused.status_code == 422 and "Delete some takes" in refused.json()["remedy"]
    pictures = list((Path(django_settings.MEDIA) / "pictures").rglob("*.png"))
    assert len(pictures) == 14
    # The least lately used go first, and what a take under way needs stays.
    keys = [p.stem for p in sorted(pictures, key=lambda p: p.stat().st_mtime)]
    bound = sum(media.used()) - 1
    media.trim(bound, {keys[0]}, set())
    left = {p.stem for p in (Path(django_settings.MEDIA) / "pictures").rglob("*.png")}
    assert keys[0] in left and keys[1] not in left and len(left) == 13
    room = post(desk, "media/clear").json()
    assert room["freed"] > 0 and not list((Path(django_settings.MEDIA) / "pictures").rglob("*.png"))
    # The take can still be looked at, and what it handed over is there.
    proof = TakeFrame.objects.filter(take=take).last().key
    assert desk.client.get(f"/api/pictures/{proof}.jpg").status_code == 200
    assert list(folder.glob("*.mp4"))
    settings.MEDIA_GB = 1
    assert begin(desk)["reused"] == 0
    assert desk.client.delete(f"/api/takes/{take}").status_code == 200 and not folder.exists()


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b"no picture", "not a whole PNG"),
        (png((0, 0, 0), (65, 36)), "65 × 36, not 64 × 36"),
        (b"", "not a whole PNG"),
    ],
)
def test_what_is_no_picture_of_that_size_is_refused(desk, content, says):
    take = begin(desk)["id"]
    refused = desk.client.post(f"/api/takes/{take}/frames/0/picture", content, content_type="image/png")
    assert refused.status_code == 400 and says in refused.json()["detail"]
    assert TakeFrame.objects.get(take=take, place=0).state == "waiting"


@pytest.mark.parametrize("name", ["..%2f..%2fsecret-key", "abc", "A" * 32, "0" * 33])
def test_pictures_are_served_by_checked_names_alone(desk, name):
    assert desk.client.get(f"/api/pictures/{name}.jpg").status_code in (400, 404)
    assert desk.client.get("/api/takes/1/files/..%2f").status_code in (400, 404)


def test_another_site_can_send_no_pictures(desk):
    take = begin(desk)["id"]
    refused = desk.client.post(
        f"/api/takes/{take}/frames/0/picture", png((0, 0, 0), (64, 36)), content_type="text/plain"
    )
    assert refused.status_code == 403
    elsewhere = desk.client.post(
        f"/api/takes/{take}/frames/0/picture",
        b"",
        content_type="image/png",
        headers={"origin": "http://elsewhere"},
    )
    assert elsewhere.status_code == 403


def test_what_a_take_handed_over_goes_with_its_scene(desk):
    _, folder = made(desk)
    assert folder.exists()
    assert desk.client.delete(f"/api/scenes/{desk.id}?for_good=true").status_code == 200
    assert not folder.exists() and not Take.objects.exists() and not models.Scene.objects.exists()


def test_two_takes_are_held_against_each_other_in_words(desk):
    one, _ = made(desk)
    desk.seen = desk.revision()
    desk.do(kind="shot.set", shot="shot-020", gap_before=0)
    desk.do(kind="camera.set", camera="cam-b", name="Closer")
    desk.post("undo", {})
    two = begin(desk)
    draw(desk, two["id"])
    path = f"/api/takes/{two['id']}/against/{one['take']['id']}"
    by_cut = desk.client.get(path, {"by": "cut"}).json()
    assert by_cut["beside"] == list(range(14))
    assert by_cut["different"] == ["No frame changed."]
    assert by_cut["done"] == ["Closed the gap before shot 020"]
    # Three black frames are gone: by the stage what happens is the same on both sides.
    assert desk.client.get(path, {"by": "stage"}).json()["beside"] == [*range(6), *range(9, 17)]


def test_remarks_are_pinned_listed_ticked_and_taken_away(desk):
    take = begin(desk)["id"]
    first = post(desk, f"takes/{take}/remarks", {"frame": 12, "text": "Her hand is cut off"}).json()
    post(desk, f"takes/{take}/remarks", {"frame": 2, "text": "Too dark"})
    beyond = post(desk, f"takes/{take}/remarks", {"frame": 17, "text": "After the end"})
    assert beyond.status_code == 400 and "has 17 frames" in beyond.json()["detail"]
    assert post(desk, f"remarks/{first['id']}", {"ticked": True}).json()["ticked"] is True
    told = desk.client.get(f"/api/takes/{take}").json()
    assert [(r["frame"], r["text"], r["ticked"]) for r in told["remarks"]] == [
        (2, "Too dark", False), (12, "Her hand is cut off", True),
    ]  # fmt: skip
    assert told["take"]["remarks"] == 1
    assert desk.client.delete(f"/api/remarks/{first['id']}").status_code == 200
    assert post(desk, f"remarks/{first['id']}", {"ticked": False}).status_code == 404


def test_presets_keep_how_but_not_what(desk):
    how = {"high": 720, "quality": "timed", "seconds": 3, "of": "shots", "shots": ["shot-010"], "note": "x"}
    first = desk.client.get("/api/presets").json()
    # Heights that delivery knows: 540 (a quarter of HD), HD and more.
    assert {one["preset"]["render"]["high"] for one in first} <= {540, 720, 1080, 2160}
    kept = post(desk, "presets", {"name": "Mine", "render": how}).json()
    mine = next(one for one in kept if one["preset"]["name"] == "Mine")
    render = mine["preset"]["render"]
    assert (render["high"], render["quality"], render["of"], render["shots"]) == (720, "timed", "cut", [])
    again = post(desk, "presets", {"name": "Mine", "render": {"high": 540}}).json()
    assert [one["preset"]["render"]["high"] for one in again if one["preset"]["name"] == "Mine"] == [540]
    left = desk.client.delete(f"/api/presets/{mine['id']}").json()
    assert "Mine" not in [one["preset"]["name"] for one in left] and len(left) >= 3


def test_the_shot_list_and_its_sheet(desk):
    desk.seen = 0
    assert desk.do(kind="shot.set", shot="shot-020", note="Wait for the oar").status_code == 200
    told = desk.get("/shot-list").json()
    assert [(line["shot"], line["note"]) for line in told["lines"]] == [
        ("010", ""),
        ("020", "Wait for the oar"),
    ]
    assert told["ids"] == ["shot-010", "shot-020"] and told["cameras"] == ["cam-a", "cam-b"]
    sheet = desk.post("contact-sheet", {"pictures": {}})
    assert sheet.content.startswith(b"%PDF") and "slack-tide-shots.pdf" in sheet["Content-Disposition"]
    assert desk.post("contact-sheet", {"pictures": {"shot-010": "*"}}).status_code == 400


def test_a_worker_is_sent_to_draw_and_once_all_is_drawn_to_pack(desk, monkeypatch):
    sent = []
    monkeypatch.setattr("mellow.dailies.queue.put", lambda task, *args: sent.append((task, args[0])) or True)
    take = begin(desk)["id"]
    assert sent == [(tasks.draw, take)]
    draw(desk, take)
    assert sent == [(tasks.draw, take), (tasks.pack, take)]
    # Another of the same needs no drawing.
    again = begin(desk)["id"]
    assert sent[2:] == [(tasks.pack, again)]


def test_a_queue_that_does_not_answer_is_said_and_the_take_waits(desk, monkeypatch):
    def gone(*args):
        raise ConnectionError("no answer")

    monkeypatch.setattr("mellow.dailies.queue.put", lambda task, *args: PUT(gone, *args))
    take = begin(desk)
    assert take["state"] == "waiting" and "queue of work does not answer" in take["reason"]
    monkeypatch.setattr("mellow.dailies.queue.put", lambda task, *args: PUT(print, *args))
    assert post(desk, f"takes/{take['id']}/again").json()["reason"] == ""


def test_a_browser_that_keeps_ending_is_opened_three_times_and_then_said(monkeypatch):
    opened, said = [], []

    def ends():
        opened.append(1)
        raise Error("Target crashed\nCall log: …")

    monkeypatch.setattr(browser, "_browser", ends)
    monkeypatch.setattr(browser, "chromium", lambda: "/usr/bin/chromium")
    monkeypatch.setattr(browser.desk, "ask", lambda method, path, body=None: said.append((path, body)) or [])
    browser.draw_take(7, 1, 64, 36)
    reason = "The browser that draws stopped: Target crashed. Carry on to try again."
    assert len(opened) == 3 and said == [("workers", None), ("takes/7/trouble", {"reason": reason})]


def test_a_shot_by_itself_begins_at_its_own_timecode(desk):
    _, folder = made(desk, of="shots", shots=["shot-020"])
    _, whole = probe(next(folder.glob("*.mp4")))
    # Six frames of 010 and three of black stand before it.
    codes = {s["tags"]["timecode"] for s in whole["streams"] if "timecode" in s.get("tags", {})}
    assert codes == {"01:00:00:09"}
    (timeline,) = folder.glob("*.otio")
    (clip,) = otio.adapters.read_from_file(str(timeline)).find_clips()
    assert clip.source_range == clip.available_range() and clip.source_range.duration.value == 8
    assert clip.source_range.start_time.to_timecode() == "01:00:00:09"
    assert (folder / clip.media_reference.target_url).exists()


def test_a_camera_outside_the_cut_goes_by_the_stage(desk):
    told, folder = made(desk, of="camera", camera="cam-e", frames={"first": 1300, "last": 1303})
    assert told["timecodes"] == [f"stage {n}" for n in range(1300, 1304)]
    stream, whole = probe(next(folder.glob("*.mp4")))
    assert int(stream["nb_read_frames"]) == 4 and len(whole["streams"]) == 1
    # What it did not hand over is not there, and is said.
    for kind in ("otio", "pictures", "manifest"):
        missing = desk.client.get(f"/api/takes/{told['take']['id']}/files/{kind}")
        assert missing.status_code == 404 and "Render once more and ask for" in missing.json()["remedy"]


def test_a_long_slate_is_written_smaller_and_not_cut_off():
    text = "Slack Tide · 020 · B " + "a very long name of a camera " * 6
    picture = written.write_on(Image.new("RGB", (400, 225)), Render(), text, 16 / 9)
    light = [
        x
        for x in range(400)
        if picture.crop((x, 226, x + 1, picture.height)).convert("L").getextrema()[1] > 120
    ]
    # Letters from one side to nearly the other, and a margin at both.
    assert light[0] < 12 and 200 < light[-1] < 398
    leader = written.leader(Render(slate=False), 400, 225, ["a long name of a shot " * 4, text])
    # All lines stay in the picture, the large one and the small ones.
    for lines in ((0, 110), (110, 225)):
        found = (
            leader.convert("L").crop((0, lines[0], 400, lines[1])).point(lambda v: 255 * (v > 60)).getbbox()
        )
        assert found and 2 <= found[0] < 60 and 340 < found[2] <= 398


def test_a_slate_is_written_in_letters_that_can_be_told_apart():
    slates = {
        text: written.write_on(Image.new("RGB", (400, 225)), Render(), text, 16 / 9).tobytes()
        for text in ("Щука", "Жабы", "źle", "ęle")
    }
    # Signs that a font lacks are all the same box.
    assert len(set(slates.values())) == 4


def test_the_time_left_is_at_the_pace_of_the_last_frames(desk):
    take = begin(desk)["id"]
    told = lambda: desk.client.get(f"/api/takes/{take}").json()["take"]  # noqa: E731
    assert told()["seconds_left"] is None
    done = draw(desk, take, most=6)
    now = timezone.now()
    for i, place in enumerate(done):
        # One every two seconds, the last a second ago.
        at = now - timedelta(seconds=1 + 2 * (len(done) - 1 - i))
        TakeFrame.objects.filter(take=take, place=place).update(done_at=at)
    # Eight are left, and a second of the first of them has gone by.
    left, since = told()["seconds_left"], (timezone.now() - now).total_seconds()
    assert 8 * 2 - 1 - since - 0.1 <= left <= 8 * 2 - 1 + 0.1
    draw(desk, take)
    assert told()["seconds_left"] is None


@pytest.mark.parametrize("lease", [3, 40])
def test_whoever_draws_is_heard_of_well_before_its_claim_lapses(desk, settings, lease):
    settings.LEASE_S = lease
    claim = post(desk, f"takes/{begin(desk)['id']}/claim", {"by": "one", "count": 1}).json()
    # Two may be lost, and a cancel arrives within two seconds.
    assert 0 < claim["beat"] <= min(lease / 3, 2)


def test_pictures_are_changed_so_that_they_can_be_judged():
    """By pixels: as many greys as asked for, the ramp in order; edges alone as lines; left and right changed over."""
    ramp = Image.fromarray(np.tile(np.arange(256, dtype=np.uint8), (64, 1))).convert("RGB")
    for judge, greys in (("values3", [0, 128, 255]), ("values5", [0, 64, 128, 191, 255])):
        row = np.asarray(written.judged(ramp, Render(judge=judge)))[32, :, 0]
        assert sorted(set(row.tolist())) == greys and (np.diff(row.astype(int)) >= 0).all()
    half = Image.fromarray(np.repeat([[0] * 50 + [255] * 50], 60, axis=0).astype(np.uint8)).convert("RGB")
    lines = np.asarray(written.judged(half, Render(judge="lines")))[5:-5, 5:-5, 0]
    assert (lines[:, 44:46] < 50).any() and (lines[:, :40] == 255).all() and (lines[:, 50:] == 255).all()
    mirror = np.asarray(written.judged(half, Render(mirrored=True)))
    assert (mirror == np.asarray(half)[:, ::-1]).all()
    # Only silhouettes are drawn otherwise: pictures that are kept serve for all the rest.
    assert Render(judge="lines", mirrored=True).drawn_as == Render().drawn_as
    assert Render(judge="silhouettes").drawn_as != Render().drawn_as
    squint = np.asarray(written.judged(half, Render(judge="squint")))[30, :, 0].astype(int)
    assert 0 < squint[49] < 255 and np.abs(np.diff(squint)).max() < 120


def test_a_hand_over_has_the_frames_and_a_sheet_with_pictures_of_the_last_render(desk):
    answer = desk.client.get(f"/api/scenes/{desk.id}/export/frames")
    assert answer.status_code == 404 and "Render the cut" in answer.json()["remedy"]
    bare = desk.client.get(f"/api/scenes/{desk.id}/export/pdf").content
    # Without a render there is a sheet all the same, its frames empty.
    assert bare.startswith(b"%PDF") and bare.count(b"/Subtype /Image") == 0
    _, folder = made(desk, pictures="png", movie=False, slate=False)
    answer = desk.client.get(f"/api/scenes/{desk.id}/export/frames")
    with zipfile.ZipFile(io.BytesIO(b"".join(answer.streaming_content))) as packed:
        names = [one for one in packed.namelist() if one.endswith(".png")]
        assert "frames/010/Slack_Tide_010.1100.png" in names and len(names) == 14
        assert packed.read(names[0]) == (folder / "pictures" / names[0].removeprefix("frames/")).read_bytes()
    sheet = desk.client.get(f"/api/scenes/{desk.id}/export/pdf")
    # A picture of each of the two shots.
    assert sheet["Content-Type"] == "application/pdf" and sheet.content.count(b"/Subtype /Image") == 2
    parts = {one["name"]: one for one in desk.get("/handovers").json()["parts"]}
    assert parts["pdf"]["usual"] == ["everybody"] and parts["frames"]["lacks"] == ""
