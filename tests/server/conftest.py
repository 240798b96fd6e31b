import contextlib
import re
from datetime import timedelta

import httpx
import pytest
import schemathesis
from client import Desk
from django.test import Client
from django.urls import Resolver404, resolve

from heron.demo import slack_tide
from mellow.api import api
from mellow.productions import rows
from mellow.productions.api.scenes import production

SCHEMA = schemathesis.openapi.from_dict(api.get_openapi_schema())


@pytest.fixture(autouse=True)
def answers_fit_their_schema(monkeypatch):
    """Every JSON answer to any test here is what its route's schema says."""
    plain = Client.request

    def held(client, **request):
        answer = plain(client, **request)
        if "json" not in answer.get("Content-Type", ""):
            return answer
        operation = None
        with contextlib.suppress(Resolver404, LookupError):
            path = re.sub(r"<(?:\w+:)?(\w+)>", r"{\1}", resolve(request["PATH_INFO"]).route)
            operation = SCHEMA[f"/{path}"][request["REQUEST_METHOD"]]
        if operation:
            same = httpx.Response(
                answer.status_code,
                headers=dict(answer.headers),
                content=answer.content,
                request=httpx.Request(request["REQUEST_METHOD"], "http://127.0.0.1"),
            )
            same.elapsed = timedelta()
            operation.validate_response(same)
        return answer

    monkeypatch.setattr(Client, "request", held)


@pytest.fixture
def row(db):
    return rows.create(production(), slack_tide())


@pytest.fixture
def desk(row):
    return Desk(row.pk)


@pytest.fixture(autouse=True)
def media(settings, tmp_path, monkeypatch):
    """Renders go to a folder of the test's own, and no worker is sent for."""
    settings.MEDIA = tmp_path / "media"
    sent = []
    monkeypatch.setattr("mellow.dailies.queue.put", lambda task, *args: sent.append((task, args)) or True)
    return sent
