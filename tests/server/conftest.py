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
