"""Films over the API: made of scenes, edited, undone; scenes put away, brought back, and kept while a film shows them."""

import io
import json
import subprocess
from datetime import timedelta

import numpy as np
import pytest
from django.utils import timezone
from PIL import Image

from heron.commands import parse_commands, run
from heron.dailies.asked import Render
from heron.demo import slack_tide
from heron.scene import empty_scene
from mellow.actors import Actor
from mellow.dailies import media, work
from mellow.dailies.models import Take
from mellow.dailies.packing import cut_pictures, pack_take
from mellow.films import renders
from mellow.films.models import FilmRender
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
    assert [one["scenes"] for one in client.get("/api/films").json()] == [scenes]
    assert b'"OTIO_SCHEMA": "Stack' in client.get(f"/api/films/{film['id']}/export/otio").content


def test_a_new_film_runs_as_its_first_scene_or_as_the_one_changed_last(client, scenes):
    rate = lambda **more: sent(client, "/api/films", name="F", **more).json()["rate"]  # noqa: E731
    newest = rows.create(production(), slack_tide().having(rate="25/1")).pk
    assert rate() == "25/1" and rate(scenes=[scenes[0]]) == "24/1" and rate(scenes=[newest]) == "25/1"
    assert rate(rate="30/1") == "30/1"
    models.Scene.objects.update(put_away=timezone.now())
    assert rate() == "24/1"


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


def test_the_neighbours_of_a_scene_are_the_frames_it_is_cut_between(client, scenes):
    film = sent(client, "/api/films", name="F", scenes=[*scenes, scenes[0]]).json()
    path, reels = f"/api/films/{film['id']}", [one["id"] for one in film["reels"]]
    trim = {"edit": "trim", "reel": reels[2], "first": 113, "last": 200}
    sent(client, f"{path}/edits", seen=film["revision"], edit=trim)
    told = [client.get(f"{path}/neighbours?reel={reel}").json() for reel in reels]
    assert told[0]["before"] is None and told[2]["after"] is None
    # 040 ends at 1320 on D; 020 begins on frame 113 of the cut, at 1165 on B.
    before, after = told[1]["before"], told[1]["after"]
    assert (before["reel"], before["shot"], before["cut"]) == (reels[0], "040", 274)
    assert (before["pictured"]["camera"], before["pictured"]["frame"]) == ("cam-d", 1320)
    assert (after["reel"], after["shot"], after["letter"], after["cut"]) == (reels[2], "020", "B", 113)
    assert (after["pictured"]["camera"], after["pictured"]["frame"]) == ("cam-b", 1165)


def test_a_film_is_opened_without_loading_its_scenes_whole(client, scenes, monkeypatch):
    film = sent(client, "/api/films", name="F", scenes=scenes).json()
    monkeypatch.setattr(rows, "load", lambda row: pytest.fail("a scene was loaded whole"))
    assert client.get(f"/api/films/{film['id']}").json()["length"] == film["length"]


def test_scenes_are_put_away_brought_back_and_go_for_good(client, scenes, settings, tmp_path):
    settings.MEDIA = str(tmp_path)
    listed = lambda **query: [one["id"] for one in client.get("/api/scenes", query).json()]  # noqa: E731
    film = sent(client, "/api/films", name="F", scenes=scenes[:1]).json()
    assert client.delete(f"/api/scenes/{scenes[0]}").status_code == 200
    assert listed() == [scenes[1]] and listed(put_away=True) == [scenes[0]]
    assert client.get(f"/api/films/{film['id']}").json()["reels"][0]["put_away"]
    # What was rendered of it is kept too.
    take = work.begin(
        models.Scene.objects.get(pk=scenes[0]),
        Render(of="shots", shots=("shot-040",), high=72),
        Actor("artist"),
    )
    media.folder(take.pk).mkdir(parents=True)
    kept = client.delete(f"/api/scenes/{scenes[0]}?for_good=true")
    assert kept.status_code == 422 and "The film “F” shows Slack Tide" in kept.json()["detail"]
    assert media.folder(take.pk).exists()
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


def test_the_list_says_how_long_a_cut_is_and_what_stands_for_it(client, scenes, monkeypatch):
    monkeypatch.setattr(rows, "load", lambda row: pytest.fail("a scene was loaded whole"))
    line = client.get("/api/scenes").json()[0]
    length = 113 + 68 + 51 + 43
    assert (line["shots"], line["cut"], line["seconds"]) == (4, length, pytest.approx(length / 24))
    # 010 begins on camera A at 1064.
    assert line["pictured"] == {"camera": "cam-a", "frame": 1064, "aspect": pytest.approx(16 / 9)}
    path = f"/api/scenes/{line['id']}/picture"
    assert line["picture"] is None and client.get(f"{path}?of=0").status_code == 404

    def keep(of, colour):
        return client.put(f"{path}?of={of}", picture("PNG", colour, (960, 540)), content_type="image/png")

    keep(0, (200, 30, 30))
    kept = Image.open(io.BytesIO(client.get(f"{path}?of=0").content))
    assert kept.size == (480, 270) and np.allclose(kept.getpixel((9, 9)), (200, 30, 30), atol=4)
    models.Scene.objects.filter(pk=line["id"]).update(revision=3)
    # Of a revision that is not there yet, or older than what is kept, none is taken.
    for of in (4, 2, 0):
        keep(of, (30, 30, 200))
        (now,) = [one for one in client.get("/api/scenes").json() if one["id"] == line["id"]]
        assert now["picture"] == {4: 0, 2: 2, 0: 2}[of]
    assert client.put(f"{path}?of=3", b"no picture", content_type="image/png").status_code == 400


def picture(kind, colour=(200, 30, 30), size=(64, 36), **more):
    out = io.BytesIO()
    Image.new("RGB", size, colour).save(out, kind, **more)
    return out.getvalue()


@pytest.mark.parametrize("kind", ["PNG", "JPEG", "WEBP"])
def test_a_board_is_kept_and_shown_as_it_was_sent(client, kind):
    sent_ = client.post("/api/boards", picture(kind), content_type=f"image/{kind.lower()}").json()
    shown = Image.open(io.BytesIO(client.get(f"/api/boards/{sent_['key']}.jpg").content))
    assert shown.size == (64, 36) and np.abs(np.asarray(shown, dtype=float) - (200, 30, 30)).max() < 6
    again = client.post("/api/boards", picture(kind), content_type=f"image/{kind.lower()}").json()
    assert again == sent_


def test_what_is_no_board_is_refused_in_a_sentence(client):
    for content, said in (
        (b"not a picture", "That is not a picture"),
        (picture("PNG")[:-40], "That is not a picture"),
        (picture("BMP"), "That is not a picture"),
        (picture("PNG", size=(6000, 4000)), "6000 × 4000 is too large"),
    ):
        answer = client.post("/api/boards", content, content_type="image/png")
        assert answer.status_code == 400 and said in answer.json()["title"], said
    assert client.get("/api/boards/000000000000000000000000.jpg").status_code == 404


def test_a_slate_is_its_board_in_the_movie(client, settings, tmp_path):
    settings.MEDIA = str(tmp_path)
    key = client.post("/api/boards", picture("PNG"), content_type="image/png").json()["key"]
    blank = empty_scene("Slates")
    slates = [
        {"kind": "shot.add", "id": "one", "name": "010"}, {"kind": "shot.add", "id": "two", "name": "020"},
        {"kind": "cut.edit", "do": {"edit": "trim_out", "shots": ["010"], "by": -117}},
        {"kind": "cut.edit", "do": {"edit": "trim_out", "shots": ["020"], "by": -118}},
        {"kind": "shot.set", "shot": "one", "board": key},
    ]  # fmt: skip
    row = rows.create(production(), run(blank, parse_commands(json.dumps(slates)))[0])
    take = work.begin(row, Render(high=72, slate=False), Actor("artist"))
    pack_take(take.pk)
    (movie,) = (tmp_path / "takes" / str(take.pk)).glob("*.mp4")
    frames = subprocess.run(
        ["ffmpeg", "-v", "error", "-i", str(movie), "-pix_fmt", "rgb24", "-f", "rawvideo", "-"],
        capture_output=True, check=True,
    ).stdout  # fmt: skip
    shown = np.frombuffer(frames, dtype=np.uint8).reshape(-1, 72, 128, 3).astype(float)
    # Its picture is on the contact sheet too, which has no other one.
    sheet = client.post(f"/api/scenes/{row.pk}/contact-sheet", {"pictures": {}}, "application/json").content
    assert sheet.count(b"/Subtype /Image") == 1
    # By hand: 010 is 3 frames long and red, 020 is 2 and says its name in light letters on dark.
    assert len(shown) == 5
    assert np.abs(shown[:3] - (200, 30, 30)).mean() < 8
    assert np.median(shown[3:]) < 40 and shown[3:].max() > 150


def test_a_render_of_a_film_is_cancelled_or_fails_with_its_takes(client, scenes, settings, tmp_path):
    settings.MEDIA = str(tmp_path)
    film = sent(client, "/api/films", name="F", scenes=scenes).json()
    path = f"/api/films/{film['id']}/renders"
    first = sent(client, path, high=72).json()
    assert (first["state"], first["done"], first["of"]) == ("drawing", 0, 2 * 275)
    assert sent(client, f"/api/films/renders/{first['id']}/cancel").json()["state"] == "cancelled"
    assert {one["state"] for one in client.get("/api/takes").json()} == {"cancelled"}
    sent(client, path, high=72)
    take = Take.objects.filter(state__in=Take.UNFINISHED).first()
    work.cancel([take])
    told = client.get(path).json()[0]
    assert told["state"] == "failed" and f"take {take.number} of Slack Tide" in told["reason"]
    assert client.get(f"/api/films/renders/{told['id']}/movie").status_code == 404


def test_a_movie_whose_worker_was_stopped_is_joined_by_the_next_one(client, scenes, monkeypatch):
    """Not while it may still be joining: only once its claim has lapsed, or when it begins again itself."""
    sent_ = []
    monkeypatch.setattr("mellow.dailies.queue.put", lambda task, *args: sent_.append(args) or True)
    film = sent(client, "/api/films", name="F", scenes=scenes).json()
    pk = sent(client, f"/api/films/{film['id']}/renders", high=72).json()["id"]
    one = FilmRender.objects.filter(pk=pk)
    soon, gone = (timezone.now() + timedelta(seconds=by) for by in (60, -1))
    for until, name, taken in (
        (soon, "first", True),
        (soon, "second", False),
        (gone, "second", True),
        (None, "second", True),
    ):
        one.update(state="joining", joiner="first", until=until)
        sent_.clear()
        sent(client, "/api/workers/begin", name=name, draws=False, packs=True)
        assert ((pk,) in sent_) == taken and (one.get().until is None) == taken
    one.update(state="joining", joiner="first", until=soon)
    renders.join(pk)
    assert one.get().state == "joining"  # another worker is joining it


def test_slates_dissolve_and_fade_in_the_movie(client, settings, tmp_path, monkeypatch):
    """By hand, in linear light (sRGB, IEC 61966-2-1): a red board dissolves over 2 frames into a camera that is all grey."""
    settings.MEDIA = str(tmp_path)
    key = client.post("/api/boards", picture("PNG"), content_type="image/png").json()["key"]
    blank = empty_scene("Joins")
    commands = [
        {"kind": "camera.add", "id": "cam", "pose": {"x": 0, "y": 1.6, "z": 6}},
        {"kind": "shot.add", "id": "one", "name": "010"},
        {
            "kind": "shot.add",
            "id": "two",
            "name": "020",
            "camera": "cam",
            "stage": {"first": 1011, "last": 1013},
        },
        {"kind": "cut.edit", "do": {"edit": "trim_out", "shots": ["010"], "by": -116}},
        {"kind": "shot.set", "shot": "one", "board": key},
        {"kind": "cut.edit", "do": {"edit": "dissolve", "shots": ["020"], "frames": [1, 1]}},
        {"kind": "cut.edit", "do": {"edit": "fade_in", "shots": ["010"], "frames": 1, "colour": "#ffffff"}},
    ]
    row = rows.create(production(), run(blank, parse_commands(json.dumps(commands)))[0])
    take = work.begin(row, Render(high=72, slate=False, pictures="png"), Actor("artist"))
    frames = list(take.frames.all())
    # The camera's frame before the shot is drawn for the movie alone.
    assert [(f.cut, f.stage, bool(f.name)) for f in frames] == [
        (4, 1011, True),
        (5, 1012, True),
        (6, 1013, True),
        (3, 1010, False),
    ]
    light = lambda v: ((v / 255 + 0.055) / 1.055) ** 2.4  # noqa: E731
    shade = lambda v: round(255 * (1.055 * v ** (1 / 2.4) - 0.055))  # noqa: E731
    for frame in frames:
        share = sum(part["weight"] for part in frame.mixed["parts"]) if frame.mixed else 1
        drawn = io.BytesIO()
        Image.new("RGB", (128, 72), (shade(share * light(200)),) * 3).save(drawn, "PNG")
        media.keep(frame.key, drawn.getvalue(), 128, 72)
    shown = [np.asarray(cut_pictures(take)(cut)).astype(int) for cut in range(7)]
    red, grey, white = ([light(v) for v in colour] for colour in ((200, 30, 30), (200,) * 3, (255,) * 3))
    for cut, mixed in enumerate(
        [
            (red, white, 0.5),
            (red, red, 0),
            (red, red, 0),
            (red, grey, 0.25),
            (grey, red, 0.25),
            (grey, grey, 0),
        ]
    ):
        wanted = [shade((1 - mixed[2]) * a + mixed[2] * b) for a, b in zip(*mixed[:2], strict=True)]
        assert np.abs(shown[cut] - wanted).max() <= 4, (cut, shown[cut][0, 0], wanted)
