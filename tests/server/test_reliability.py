"""What must hold when files go bad, clocks are set back, and somebody sends what nobody should."""

import asyncio
import io
import json
import pickle
import resource
import sqlite3
import struct
import time
import zlib
from datetime import timedelta

import pytest
from client import Desk
from django.core.management import CommandError, call_command
from django.test import Client
from django.utils import timezone
from huey.registry import Message
from test_takes_api import begin, desk, draw, png, post, short  # noqa: F401

from heron.dailies.shot_list import as_csv, shot_list
from heron.demo import slack_tide
from heron.errors import BadInput
from mellow.actors import Actor
from mellow.api import api
from mellow.dailies import media, packing, work
from mellow.dailies.models import Take, TakeFrame
from mellow.dailies.queue import SignedJson
from mellow.pictures import read_png
from mellow.productions import models, open_scenes, rows
from mellow.productions.api.scenes import production
from mellow.streaming import send_file


def chunk(kind, content):
    return struct.pack(">I", len(content)) + kind + content + struct.pack(">I", zlib.crc32(kind + content))


def with_chunk(extra, size=(8, 8)):
    """A PNG with another chunk after its header."""
    plain = png((10, 20, 30), size)
    return plain[:33] + extra + plain[33:]


BAD = {
    **{f"empty {name}": with_chunk(chunk(name.encode(), b"")) for name in ("gAMA", "pHYs", "tRNS", "acTL", "fcTL", "sRGB", "cHRM")},
    "zTXt bomb": with_chunk(chunk(b"zTXt", b"k\0\0" + zlib.compress(bytes(80_000_000), 9))),
    "iTXt bomb": with_chunk(chunk(b"iTXt", b"k\0\1\0\0\0" + zlib.compress(bytes(80_000_000), 9))),
    "iCCP bomb": with_chunk(chunk(b"iCCP", b"k\0\0" + zlib.compress(bytes(80_000_000), 9))),
    "cut before its end": png((1, 2, 3), (8, 8))[:-12],
    "81 megapixels": png(0, (1, 1))[:8] + chunk(b"IHDR", struct.pack(">IIBBBBB", 9000, 9000, 8, 2, 0, 0, 0)) + chunk(b"IEND", b""),
    "nothing": b"",
    "a JPEG": b"\xff\xd8\xff\xe0" + bytes(20) + b"\xff\xd9",
}  # fmt: skip


@pytest.mark.parametrize("what", BAD)
def test_a_bad_picture_is_refused_at_once_and_without_much_memory(desk, what):  # noqa: F811
    """By every route that takes one; a broken chunk that a reader may skip is read or refused, never a failure."""
    before, began = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss, time.perf_counter()
    take = begin(desk)["id"]
    for path in (f"takes/{take}/frames/0/picture", f"scenes/{desk.id}/slate?camera=cam-a&stage=1100"):
        answer = desk.client.post(f"/api/{path}", BAD[what], content_type="image/png")
        assert answer.status_code in (400, 422) or (what.startswith("empty") and answer.status_code == 200)
    with pytest.raises(BadInput):
        read_png(BAD["nothing"])
    assert time.perf_counter() - began < 3
    assert resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before < 200_000  # kB; both routes


def test_a_contact_sheet_of_what_is_no_base64_is_refused(desk):  # noqa: F811
    answer = post(desk, f"scenes/{desk.id}/contact-sheet", {"pictures": {"shot-010": "ø" * 8}})
    assert answer.status_code == 400 and "base64" in answer.json()["remedy"]


@pytest.mark.parametrize("how", ["empty", "cut", "zeroed", "middle"])
def test_a_kept_picture_that_went_bad_is_drawn_again(desk, how):  # noqa: F811
    take = begin(desk)["id"]
    draw(desk, take)
    frame = TakeFrame.objects.filter(take=take).first()
    path = media.picture(frame.key)
    good = path.read_bytes()
    middle = len(good) // 2
    path.write_bytes({
        "empty": b"", "cut": good[:-20], "zeroed": bytes(len(good)),
        "middle": good[:middle] + bytes(b ^ 0xFF for b in good[middle : middle + 8]) + good[middle + 8 :],
    }[how])  # fmt: skip
    packing.pack_take(take)
    again = Take.objects.get(pk=take)
    assert again.state == Take.State.DRAWING and not path.exists()
    assert list(draw(desk, take)) == [frame.place]
    packing.pack_take(take)
    assert Take.objects.get(pk=take).state == Take.State.DONE


def test_a_late_picture_does_not_replace_the_one_that_is_kept(desk):  # noqa: F811
    take = begin(desk)["id"]
    draw(desk, take)
    frame = TakeFrame.objects.filter(take=take).first()
    kept = media.picture(frame.key).read_bytes()
    row = Take.objects.get(pk=take)
    work.drawn(row, frame.place, png((250, 0, 0), (row.wide, row.high)))
    assert media.picture(frame.key).read_bytes() == kept


def test_a_clock_set_back_frees_what_a_dead_worker_claimed(desk):  # noqa: F811
    take = begin(desk)["id"]
    assert len(post(desk, f"takes/{take}/claim", {"by": "one", "count": 2}).json()["frames"]) == 2
    TakeFrame.objects.filter(by="one").update(until=timezone.now() + timedelta(hours=3))
    found = post(desk, f"takes/{take}/claim", {"by": "two", "count": 2}).json()["frames"]
    assert [one["place"] for one in found] == [0, 1]


def test_what_a_killed_packer_left_is_cleared_and_a_drawing_worker_frees_no_packer(desk, settings):  # noqa: F811
    take = begin(desk)["id"]
    draw(desk, take)
    left = settings.MEDIA / "takes" / f".making-{take}-12345678"
    left.mkdir(parents=True)
    (left / "movie.mp4").write_bytes(bytes(1000))
    row = Take.objects.get(pk=take)
    Take.objects.filter(pk=take).update(until=timezone.now() + timedelta(seconds=30), packer="packs")
    for name, packs, free in (("draws", False, False), ("other", True, False), ("packs", True, True)):
        post(desk, "workers/begin", {"name": name, "packs": packs})
        assert (Take.objects.get(pk=take).until is None) == free
    packing.pack_take(row.pk)
    assert not left.exists() and Take.objects.get(pk=take).state == Take.State.DONE


def test_a_task_is_read_only_when_this_desk_signed_it(settings):
    """Nothing is unpickled: a pickle that would run something is refused as it is."""
    queue = SignedJson()
    message = Message("1", "draw", None, 0, 0, None, [3, 4, 960, 540], {}, None, None, None, None)
    sent = queue._serialize(message)
    assert queue._deserialize(sent) == message and b"pickle" not in sent

    class Runs:
        def __reduce__(self):
            return (pytest.fail, ("it ran",))

    for bad in (pickle.dumps(Runs()), sent[:-3] + b"abc", b"", b"\xff\xfe"):
        with pytest.raises(ValueError, match="not a task of this desk"):
            queue._deserialize(bad)
    settings.QUEUE_KEY = "another desk's"
    with pytest.raises(ValueError, match="not a task of this desk"):
        SignedJson()._deserialize(sent)


class _Asked:
    def __init__(self, **headers):
        self.headers = headers


@pytest.mark.parametrize(
    ("asked", "status", "part"),
    [
        ("", 200, slice(None)),
        ("bytes=2-5", 206, slice(2, 6)),
        ("bytes=700000-", 206, slice(700_000, None)),
        ("bytes=-10", 206, slice(-10, None)),
        ("bytes=0-99999999", 206, slice(None)),
        ("bytes=5000000-", 416, slice(0, 0)),
        ("lines=1-2", 200, slice(None)),
    ],
)
def test_a_download_is_sent_a_piece_at_a_time_and_in_part(asked, status, part):
    """RFC 9110: 206 with Content-Range, 416 beyond the end, and a unit that is not known is ignored."""
    content = bytes(i % 251 for i in range(1_000_000))
    answer = send_file(_Asked(Range=asked), io.BytesIO(content), len(content), "a.mp4", "video/mp4")
    assert answer.status_code == status
    if status == 416:
        assert answer["Content-Range"] == "bytes */1000000"
        return

    async def pieces():
        return [piece async for piece in answer]

    found = asyncio.run(pieces())
    assert b"".join(found) == content[part] and max(map(len, found)) <= 256 * 1024
    assert answer["Content-Length"] == str(len(content[part])) and answer["Accept-Ranges"] == "bytes"


def test_somebody_who_may_only_look_changes_nothing_by_any_route(row, monkeypatch):
    """Every route of the schema that is not a question, asked by somebody who may only look."""
    look = Actor("guest", frozenset({"look"}))
    monkeypatch.setattr("mellow.actors.Actor", lambda _: look)
    client = Client(headers={"host": "127.0.0.1"})
    # Asking what would be, or for a picture of what is, changes nothing.
    questions = ("preview", "compare", "plan", "slate", "contact-sheet", "assembly")
    tried = 0
    for path, operations in api.get_openapi_schema()["paths"].items():
        for method in operations:
            if method == "get" or path.split("/")[-1] in questions:
                continue
            where = path.replace("{scene_id}", str(row.pk))
            for name in ("take_id", "place", "remark_id", "preset_id"):
                where = where.replace(f"{{{name}}}", "1")
            body = BODIES.get(path.removeprefix("/api/").replace("{scene_id}/", ""), {})
            answer = client.generic(method, where, json.dumps(body), content_type="application/json")
            tried += 1
            assert answer.status_code in (400, 404, 422), (method, path, answer.status_code)
            if answer.status_code == 422:
                assert "not change it" in answer.json()["title"] or "permission" in answer.json()["title"], (
                    path,
                    answer.json(),
                )
    assert tried >= 20
    assert models.Scene.objects.filter(frozen_of=None).count() == 1 and row.changes.count() == 0


BODIES = {
    "scenes/commands": {"seen": 0, "command": {"kind": "scene.set", "name": "Mine"}},
    "scenes": {"name": "Mine"},
    "scenes/takes": {},
    "presets": {"name": "Mine", "render": {}},
    "workers": {"name": "w", "draws": True, "packs": True},
    "workers/begin": {"name": "w"},
}


def test_every_answer_has_its_headers_and_a_refusal_is_documented_as_it_is_sent(desk):  # noqa: F811
    for path in ("/api/nothing", "/nowhere/at/all", "/api/scenes"):
        answer = desk.client.get(path)
        for name in ("Content-Security-Policy", "X-Content-Type-Options", "Referrer-Policy"):
            assert answer.headers.get(name), (path, name)
    schema = api.get_openapi_schema()
    assert schema is api.get_openapi_schema()
    answers = schema["paths"]["/api/scenes/{scene_id}"]["get"]["responses"]
    assert list(answers["404" if "404" in answers else 404]["content"]) == ["application/problem+json"]


def test_a_scene_with_keys_beyond_the_stage_opens_mended(db):
    scene = slack_tide()
    row = rows.create(production(), scene)
    camera = models.Camera.objects.get(scene=row, uid="cam-b")
    camera.params["x"] = {"rest": 12_345.0, "keys": []}
    camera.save()
    open_scenes.forget()
    answer = Client(headers={"host": "127.0.0.1"}).get(f"/api/scenes/{row.pk}").json()
    found = next(one for one in answer["scene"]["cameras"] if one["id"] == "cam-b")
    assert found["x"]["rest"] == 10_000.0 and "beyond 10000 m" in answer["repairs"][0]


def test_a_perch_takes_a_focus_and_lets_go_of_its_lens_at_once(desk):  # noqa: F811
    perch = {"kind": "perch.add", "id": "p", "view": {"x": 0, "y": 1, "z": 0, "focal": 32}, "frame": 1001}
    assert desk.do(**perch).status_code == 200
    answer = desk.do(kind="perch.set", perch="p", focus_m=48, bare=True)
    assert answer.status_code == 200
    (found,) = (one for one in desk.scene()["perches"] if one["id"] == "p")
    assert (found["focal"], found["focus_m"]) == (None, 48)


def test_no_cell_of_the_shot_list_is_a_formula():
    """OWASP's list of characters that begin one (CSV injection, from memory)."""
    scene = short({"kind": "shot.set", "shot": "shot-010", "note": "=1+1"})
    text = as_csv(shot_list(scene))
    assert ",'=1+1" in text and ",=1+1" not in text


@pytest.mark.django_db(transaction=True)
def test_a_backup_of_a_working_desk_comes_back(tmp_path):
    here = Desk(rows.create(production(), short()).pk)
    take = begin(here)["id"]
    draw(here, take)
    packing.pack_take(take)
    movies = sorted(one.name for one in media.folder(take).iterdir())
    path = tmp_path / "desk.zip"
    call_command("backup", str(path))
    assert here.do(kind="scene.set", name="Spoiled").status_code == 200
    media.drop(take)
    call_command("restore", str(path))
    # What the desk remembers is not taken for what is stored.
    assert here.scene()["name"] == "Slack Tide"
    assert sorted(one.name for one in media.folder(take).iterdir()) == movies
    here.seen = here.revision()
    assert here.do(kind="scene.set", name="On").status_code == 200 and here.scene()["name"] == "On"
    for bad in (b"", b"PK\x05\x06" + bytes(18)):
        path.write_bytes(bad)
        with pytest.raises(CommandError, match="is not a backup of a desk"):
            call_command("restore", str(path))
    assert sqlite3.connect(models.Scene.objects.db and str(_database())).execute(
        "PRAGMA integrity_check"
    ).fetchone() == ("ok",)


def _database():
    from django.conf import settings

    return settings.DATABASES["default"]["NAME"]


def test_a_thousand_takes_are_listed_with_a_few_queries(desk, django_assert_max_num_queries):  # noqa: F811
    first = Take.objects.get(pk=begin(desk)["id"])
    fields = {
        f.name: getattr(first, f.name) for f in Take._meta.concrete_fields if f.name not in ("id", "number")
    }
    Take.objects.bulk_create(Take(**fields, number=n) for n in range(2, 1001))
    with django_assert_max_num_queries(8):
        assert len(desk.get("/takes").json()) == 1000
