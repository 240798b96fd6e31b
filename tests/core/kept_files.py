"""Files that were brought in, kept for the length of a test."""

import pytest

from heron.stage.models import find_files

STORE = {}


@pytest.fixture(autouse=True)
def files():
    STORE.clear()
    find_files(STORE.get)
    yield
    find_files(lambda key: None)
