"""Whatever goes wrong is a problem in words: unknown places, wrong methods, storage that cannot."""

import json
import sqlite3

import pytest
from client import Desk
from django.db import DatabaseError, OperationalError, connection
from django.test import Client

from heron.demo import slack_tide
from mellow.productions import models, open_scenes, rows

DEMO = slack_tide().model_dump(mode="json")


def told(answer, status):
    assert answer.status_code == status
    assert answer["Content-Type"] == "application/problem+json"
    body = answer.json()
    assert body["status"] == status and body["title"].endswith(".") and body["detail"].endswith(".")
    return body


@pytest.mark.django_db
@pytest.mark.parametrize(
    ("method", "path", "status"),
    [
        ("get", "/api/nowhere", 404),
        ("get", "/nowhere", 404),
        ("get", "/api/scenes/999999999999999999999999", 404),
        ("delete", "/api/catalogue", 405),
        ("put", "/api/scenes", 405),
        ("get", "/api/scenes/1/changes", 400),
        ("get", "/api/scenes/1/changes?since=-1", 400),
        ("get", "/api/scenes/1/glass/x?frame=1e3", 400),
    ],
)
def test_wrong_addresses_and_methods_are_told_in_words(method, path, status):
    told(getattr(Client(headers={"host": "127.0.0.1"}), method)(path), status)


@pytest.mark.django_db
@pytest.mark.parametrize("origin", ["http://[", "http://[::1", "]", "//", "http://127.0.0.1.evil.example"])
def test_a_malformed_origin_is_another_site(origin):
    client = Client(headers={"host": "127.0.0.1", "origin": origin})
    told(client.post("/api/scenes", {"name": "X"}, content_type="application/json"), 403)


def test_what_is_too_large_is_told(desk, settings):
    settings.DATA_UPLOAD_MAX_MEMORY_SIZE = 1000
    answer = desk.client.post(
        "/api/scenes/import", json.dumps({"name": "x" * 2000}), content_type="application/json"
    )
    assert "at most 200 MB" in told(answer, 413)["detail"]


@pytest.mark.parametrize(
    ("command", "sentence", "field"),
    [
        ({"kind": "camera.set", "camera": "cam-a", "focal": -5}, "Focal length must be at least 1; it was -5", "focal"),
        ({"kind": "focus.set", "camera": "cam-a", "on": {"kind": "distance", "metres": -3}}, "Distance must be more than 0; it was -3", "metres"),
        ({"kind": "camera.glass", "camera": "cam-a", "iso": 1}, "ISO must be at least 6; it was 1", "iso"),
        ({"kind": "camera.glass", "camera": "cam-a", "near_m": "far"}, "Near distance must be a number; it was 'far'", "near_m"),
        ({"kind": "shot.add", "camera": "cam-a", "playhead": 1.5}, "Playhead must be a whole number; it was 1.5", "playhead"),
        ({"kind": "thing.put", "thing": "cam-a", "frame": 10**320, "keep": "rest", "x": 1}, "Frame must be", "frame"),
        ({"kind": "camera.set", "camera": "cam-a"}, "Nothing to set was named", ""),
    ],
)  # fmt: skip
def test_a_refusal_says_what_was_typed_in_the_cards_words(desk, command, sentence, field):
    body = told(desk.do(**command), 400)
    assert sentence in body["title"] and body["field"] == field and "None" not in body["title"]
    assert desk.scene() == DEMO


@pytest.mark.parametrize(
    ("name", "status", "says"),
    [
        ("SQLITE_BUSY", 503, "Not saved: the storage is busy"),
        ("SQLITE_BUSY_SNAPSHOT", 503, "Not saved: the storage is busy"),
        ("SQLITE_FULL", 507, "Not saved: the disk is full"),
        ("SQLITE_READONLY", 507, "Not saved: the storage can only be read"),
        ("SQLITE_IOERR_WRITE", 507, "Not saved: the disk did not answer"),
        ("SQLITE_CORRUPT", 500, "Not saved: the storage failed"),
    ],
)
def test_storage_that_cannot_is_a_plain_sentence_and_nothing_is_half_kept(desk, name, status, says):
    def fail(execute, sql, params, many, context):
        if sql.startswith('INSERT INTO "productions_change'):
            cause = sqlite3.OperationalError("no")
            cause.sqlite_errorname = name
            raise OperationalError("no") from cause
        return execute(sql, params, many, context)

    with connection.execute_wrapper(fail):
        body = told(desk.do(kind="things.delete", ids=["cam-b"]), status)
    assert body["title"].startswith(says) and body["not_kept"] is True and body["remedy"]
    open_scenes.forget()
    assert desk.scene() == DEMO and desk.revision() == 0


def test_storage_that_cannot_be_read_says_so(desk):
    def fail(execute, sql, params, many, context):
        raise DatabaseError("no")

    with connection.execute_wrapper(fail):
        body = told(desk.get("/history"), 500)
    assert body["title"] == "Not read: the storage failed." and body["not_kept"] is False


@pytest.mark.django_db(transaction=True)
def test_a_write_lock_held_by_somebody_else_is_told_and_later_it_is_kept(row):
    other = sqlite3.connect(connection.settings_dict["NAME"], isolation_level=None)
    connection.ensure_connection()
    connection.connection.execute("PRAGMA busy_timeout = 50")
    other.execute("BEGIN IMMEDIATE")
    desk = Desk(row.pk)
    try:
        body = told(desk.do(kind="camera.set", camera="cam-a", focal=50), 503)
        assert "busy" in body["title"]
    finally:
        other.execute("ROLLBACK")
        other.close()
    assert desk.do(kind="camera.set", camera="cam-a", focal=50).status_code == 200


def test_a_failure_of_the_server_is_a_problem_too(desk, monkeypatch):
    monkeypatch.setattr(rows, "load", lambda row: 1 / 0)
    body = told(desk.get(), 500)
    assert "nothing was saved" in body["title"]
    assert models.Scene.objects.count() == 1
