import pytest
from harness import FLAGS, Desk, Server, new_page
from playwright.sync_api import sync_playwright


@pytest.fixture(scope="session")
def server(tmp_path_factory):
    running = Server(tmp_path_factory.mktemp("var"))
    yield running
    running.kill()


@pytest.fixture(scope="session")
def chromium():
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        yield browser
        browser.close()


@pytest.fixture
def page(chromium, request):
    made = new_page(chromium, refine=request.node.get_closest_marker("refined") is not None)
    errors = []
    made.on("pageerror", lambda error: errors.append(str(error)))
    yield made
    made.context.close()
    assert errors == []


@pytest.fixture
def desk(server, page):
    return Desk(server, page, server.new_demo()).open()


@pytest.fixture
def empty(server, page):
    scene = server.call("POST", "/api/scenes", {"name": "Empty", "rate": "24", "delivery": "16:9"})
    return Desk(server, page, scene["id"]).open()
