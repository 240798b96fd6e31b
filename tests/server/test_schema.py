"""Whatever the API's own schema allows (and what it does not) is answered: never a failure of the server."""

import json
from urllib.parse import quote, urlencode

import pytest
import schemathesis
from django.test import Client
from hypothesis import HealthCheck, Phase, settings

from heron.demo import slack_tide
from mellow.api import api
from mellow.productions import rows
from mellow.productions.api.scenes import production

# The events go on for as long as somebody listens.
schema = schemathesis.openapi.from_dict(api.get_openapi_schema()).exclude(path_regex="events")


@pytest.fixture
def stage(db):
    return rows.create(production(), slack_tide()).pk


@schema.parametrize()
@settings(
    max_examples=4,
    derandomize=True,
    deadline=None,
    phases=[Phase.generate],
    suppress_health_check=list(HealthCheck),
)
def test_every_route_answers_what_its_schema_allows(stage, case):
    # Mostly about a scene that is there, so that what is behind the door is reached.
    given = dict(case.path_parameters or {})
    if len(str(given.get("scene_id", ""))) % 2:
        given["scene_id"] = stage
    path = case.path
    for name, value in given.items():
        path = path.replace(f"{{{name}}}", quote(str(value), safe=""))
    body = {}
    if case.body is not schemathesis.core.NOT_SET:
        body = {"data": case.body if isinstance(case.body, bytes) else json.dumps(case.body)}
    client = Client(headers={"host": "127.0.0.1"}, raise_request_exception=False)
    where = f"{path}?{urlencode(case.query or {}, doseq=True)}"
    answer = client.generic(case.method, where, content_type="application/json", **body)
    assert answer.status_code < 500, answer.content
    if answer.status_code >= 400:
        assert answer["Content-Type"] == "application/problem+json"
        assert answer.json()["detail"].endswith(".")
