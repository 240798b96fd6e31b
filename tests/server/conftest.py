import pytest
from client import Desk

from heron.demo import slack_tide
from mellow.productions import rows
from mellow.productions.api.scenes import production


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
