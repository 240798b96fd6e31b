"""Films over the API: made of scenes, edited, undone; scenes put away, brought back, and kept while a film shows them."""

from datetime import timedelta

import pytest
from django.utils import timezone

from heron.demo import slack_tide
from mellow.productions import models, rows
from mellow.productions.api.scenes import production

pytestmark = pytest.mark.django_db


@pytest.fixture
def scenes(client):
    return [rows.create(production(), slack_tide()).pk for _ in range(2)]


def sent(client, path, **body):
    return client.post(path, body, content_type="application/json")


def test_a_film_is_made_edited_and_undone(client, scenes):
    film = sent(client, "/api/films", name="The Crossing", scenes=scenes).json()
    length = 113 + 68 + 51 + 43
    assert film["length"] == 2 * length and [r["film"] for r in film["reels"]] == [[0, 274], [275, 549]]
    # 020 begins at frame 113 of its scene's cut.
    assert film["reels"][1]["shots"][1] == {
        "id": "shot-020", "name": "020", "letter": "B", "film": [275 + 113, 275 + 180], "cut": 113,
    }  # fmt: skip
    reel = film["reels"][0]["id"]
    edit = {"edit": "trim", "reel": reel, "first": 13, "last": 112}
    after = sent(client, f"/api/films/{film['id']}/edits", seen=film["revision"], edit=edit).json()
    assert after["length"] == 100 + length and after["said"] == "Shows 13 to 112 of Slack Tide"
    stale = sent(client, f"/api/films/{film['id']}/edits", seen=film["revision"], edit=edit)
    assert stale.status_code == 409
    assert sent(client, f"/api/films/{film['id']}/undo").json()["reels"] == film["reels"]
    assert sent(client, f"/api/films/{film['id']}/redo").json()["reels"] == after["reels"]
    assert [one["scenes"] for one in client.get("/api/films").json()] == [2]
    assert b'"OTIO_SCHEMA": "Stack' in client.get(f"/api/films/{film['id']}/export/otio").content


def test_a_scene_of_another_rate_is_taken_in_once_it_is_said_how(client, scenes):
    film = sent(client, "/api/films", name="F", rate="25/1").json()
    path = f"/api/films/{film['id']}"
    refused = sent(client, f"{path}/edits", seen=0, edit={"edit": "add", "scene": scenes[0]})
    assert refused.status_code == 422 and "runs at 24, the film at 25" in refused.json()["detail"]
    assert client.get(f"{path}/fit?scene={scenes[0]}").json() == {"same": False, "fit": "time"}
    told = sent(
        client, f"{path}/edits", seen=0, edit={"edit": "add", "scene": scenes[0], "fit": "time"}
    ).json()
    # 275 frames at 24 are 11.458 s: 286.5 frames at 25.
    assert told["length"] == 287 == len(told["reels"][0]["shows"])


def test_a_film_is_opened_without_loading_its_scenes_whole(client, scenes, monkeypatch):
    film = sent(client, "/api/films", name="F", scenes=scenes).json()
    monkeypatch.setattr(rows, "load", lambda row: pytest.fail("a scene was loaded whole"))
    assert client.get(f"/api/films/{film['id']}").json()["length"] == film["length"]


def test_scenes_are_put_away_brought_back_and_go_for_good(client, scenes):
    listed = lambda **query: [one["id"] for one in client.get("/api/scenes", query).json()]  # noqa: E731
    film = sent(client, "/api/films", name="F", scenes=scenes[:1]).json()
    assert client.delete(f"/api/scenes/{scenes[0]}").status_code == 200
    assert listed() == [scenes[1]] and listed(put_away=True) == [scenes[0]]
    assert client.get(f"/api/films/{film['id']}").json()["reels"][0]["put_away"]
    kept = client.delete(f"/api/scenes/{scenes[0]}?for_good=true")
    assert kept.status_code == 422 and "A film shows Slack Tide" in kept.json()["detail"]
    for scene in scenes:
        client.delete(f"/api/scenes/{scene}")
    models.Scene.objects.update(put_away=timezone.now() - timedelta(days=31))
    # After 30 days the trash is emptied of what no film shows.
    assert listed(put_away=True) == [scenes[0]] and not models.Scene.objects.filter(pk=scenes[1]).exists()
    sent(client, f"/api/scenes/{scenes[0]}/bring-back")
    assert listed() == [scenes[0]]
    sent(client, f"/api/scenes/{scenes[0]}/copy")
    assert len(listed()) == 2
    client.delete(f"/api/films/{film['id']}")
    assert client.delete(f"/api/scenes/{scenes[0]}?for_good=true").status_code == 200
