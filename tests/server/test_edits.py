"""Commands through the API: kept, undone, refused, and never half done."""

import pytest
from client import Desk
from django.core.management import call_command
from hypothesis import HealthCheck, given, settings
from strategies import runs

from heron.demo import slack_tide
from mellow.actors import Actor
from mellow.productions import models, open_scenes, rows
from mellow.productions.api.scenes import production

DEMO = slack_tide().model_dump(mode="json")


def forget():
    """As after a restart: nothing is remembered but what is on the disk."""
    open_scenes.forget()


def test_a_command_is_kept_and_its_patch_is_the_change(desk):
    answer = desk.do(kind="camera.set", camera="cam-a", focal=50).json()
    assert answer["sentence"] == "Set camera A to 50 mm"
    assert answer["patch"]["parts"]["cameras"]["cam-a"]["focal"]["rest"] == 50
    forget()
    assert desk.scene()["cameras"][0]["focal"]["rest"] == 50


@settings(max_examples=8, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(runs)
def test_whatever_was_done_undo_brings_back_the_identical_document(db, commands):
    desk = Desk(rows.create(production(), slack_tide()).pk)
    for command in commands:
        desk.seen = desk.revision()
        desk.do(**command)
    after = desk.scene()
    forget()
    assert desk.scene() == after
    steps = 0
    while desk.post("undo").status_code == 200:
        steps += 1
    forget()
    assert desk.scene() == DEMO
    while desk.post("redo").status_code == 200:
        steps -= 1
    assert steps == 0
    assert desk.scene() == after


def test_an_edit_from_before_a_field_was_added_can_still_be_undone(desk):
    desk.do(kind="camera.set", camera="cam-a", name="Wider")
    edit = models.Change.objects.get()
    for patch in (edit.inverse, edit.patch):
        patch["items"]["cameras"]["cam-a"]["aperture"]["rest"] = 5.6
        del patch["items"]["cameras"]["cam-a"]["iso"], patch["items"]["cameras"]["cam-a"]["focus"]
        patch["items"]["cameras"]["cam-a"]["mounted"] = "lens-zoom"
    edit.version = 2
    edit.save()
    camera = models.Camera.objects.get(uid="cam-a")
    del camera.params["iso"], camera.params["focus"]
    camera.version = 2
    camera.params["aperture"]["rest"] = 5.6
    camera.save()
    forget()
    assert desk.post("undo").status_code == 200
    assert desk.scene()["cameras"][0]["name"] == "Wide on the jetty"


def test_history_reads_as_sentences_and_survives_a_restart(desk):
    desk.do(kind="camera.set", camera="cam-a", name="Wider")
    desk.do(kind="cut.edit", do={"edit": "trim_out", "shots": ["shot-030"], "by": -1})
    desk.post("undo")
    forget()
    lines = [(e["sentence"], e["state"]) for e in desk.get("/history").json()]
    assert lines == [
        ("Trimmed the tail of shot 030 by -1 f", "undone"),
        ("Renamed camera A to “Wider”", "done"),
    ]
    assert desk.post("redo").json()["sentence"] == "Redid: Trimmed the tail of shot 030 by -1 f"


def test_deleting_a_camera_with_shots_is_undone_whole(desk):
    desk.do(kind="things.delete", ids=["cam-b"])
    assert [s["name"] for s in desk.scene()["shots"]] == ["010", "030", "040"]
    desk.post("undo")
    forget()
    assert desk.scene() == DEMO


def test_the_second_of_two_tabs_is_told_and_nothing_of_it_is_kept(desk):
    other = Desk(desk.id)
    assert desk.do(kind="camera.set", camera="cam-a", focal=50).status_code == 200
    refused = other.do(kind="camera.set", camera="cam-a", focal=85)
    assert refused.status_code == 409
    assert "Camera A was changed elsewhere" in refused.json()["detail"]
    assert refused.json()["changes"] == ["Set camera A to 50 mm."]
    assert desk.scene()["cameras"][0]["focal"]["rest"] == 50
    # What the other tab does to something else is not a conflict.
    assert other.do(kind="camera.set", camera="cam-c", name="Bram").status_code == 200


def test_one_persons_undo_does_not_undo_anothers_change(desk, django_user_model, monkeypatch):
    desk.do(kind="camera.set", camera="cam-a", focal=50)
    monkeypatch.setattr(Actor, "user", django_user_model.objects.create(username="second"))
    assert desk.do(kind="camera.set", camera="cam-a", focal=85).status_code == 200
    monkeypatch.undo()
    refused = desk.post("undo")
    assert refused.status_code == 422
    assert "changed since by someone else" in refused.json()["detail"]
    assert desk.scene()["cameras"][0]["focal"]["rest"] == 85


@pytest.mark.parametrize(
    ("command", "status", "says"),
    [
        ({"kind": "camera.set", "camera": "cam-a", "focal": 0}, 400, "Focal length must be at least 1"),
        ({"kind": "shot.add", "camera": "gone"}, 404, "There is no camera gone"),
        (
            {"kind": "thing.put", "thing": "cam-b", "frame": 1200, "keep": "rest", "x": 0},
            422,
            "moved by its keys",
        ),
        ({"kind": "camera.set", "camera": "cam-a", "name": "n" * 10_000}, 400, "at most 80"),
        (
            {"kind": "shot.add", "camera": "cam-a", "stage": {"first": 9, "last": 3}},
            400,
            "ends before it starts",
        ),
    ],
)
def test_refusals_are_problems_with_the_cores_sentence(desk, command, status, says):
    answer = desk.do(**command)
    assert answer.status_code == status
    assert answer["Content-Type"] == "application/problem+json"
    assert says in answer.json()["detail"]
    assert desk.revision() == 0
    assert desk.scene() == DEMO


def test_nan_and_junk_change_nothing(desk):
    for body in (
        '{"seen": 0, "command": {"kind": "camera.set", "camera": "cam-a", "focal": NaN}}',
        "{",
        "[]",
        '"x"',
    ):
        answer = desk.client.post(f"/api/scenes/{desk.id}/commands", body, content_type="application/json")
        assert 400 <= answer.status_code < 500
        assert answer.json()["detail"].endswith(".")
    assert desk.scene() == DEMO


@pytest.mark.django_db(transaction=True)
def test_a_crash_in_the_middle_leaves_no_half_edit(desk, monkeypatch):
    desk.do(kind="camera.set", camera="cam-a", focal=50)
    before = desk.scene()

    def crash(*args, **kwargs):
        raise RuntimeError("the power went")

    # Rows are written before the history line; the crash falls between the two.
    monkeypatch.setattr(models.Change.objects, "create", crash)
    answer = desk.do(kind="things.delete", ids=["cam-b"])
    assert answer.status_code == 500 and "nothing was saved" in answer.json()["detail"]
    monkeypatch.undo()
    assert desk.scene() == before
    forget()
    assert desk.scene() == before


def test_columns_hold_names_order_and_links(desk):
    desk.do(kind="shot.move", shot="shot-040", before="shot-010")
    shots = list(
        models.Shot.objects.filter(scene_id=desk.id).order_by("order").values_list("name", "camera__letter")
    )
    assert shots == [("040", "D"), ("010", "A"), ("020", "B"), ("030", "C")]
    assert models.Piece.objects.filter(scene_id=desk.id, group="Reeds").count() == 19


def test_no_migration_is_missing(db):
    call_command("makemigrations", check=True, dry_run=True, verbosity=0)


def test_the_news_of_a_change_names_what_moved_and_undo_has_its_own(desk):
    desk.do(kind="camera.glass", camera="cam-a", iso=640)
    assert desk.get("/news").json()["moved"] == []
    desk.do(kind="figure.pace", figure="fig-odile", speed=1.1)
    news = desk.get("/news").json()
    assert news["sentence"].startswith("Odile walks at 1.1 m/s")
    by_placement = {m["camera"]: m for m in news["moved"] if m["what"] == "placement"}
    assert "cam-b" in by_placement and "cam-g" not in by_placement
    (left,) = news["left"]
    moved = desk.do(kind="keys.move", keys=left["keys"], by=left["by"])
    assert moved.status_code == 200 and desk.get("/news").json()["left"] == []
    desk.post("undo")
    desk.post("undo")
    back = {m["camera"]: m for m in desk.get("/news").json()["moved"] if m["what"] == "placement"}
    # The other way round: what it was is what it is.
    assert back["cam-b"]["was"] == by_placement["cam-b"]["now"]
