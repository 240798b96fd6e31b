"""The log of changes: undo, redo and the stale check over it, and telling other windows."""

import asyncio
import base64
import json
import struct
import threading
from importlib import import_module

import numpy as np
import pytest
from client import Desk
from django.apps import apps
from django.core.management import call_command
from django.db import connection

from heron.commands.registry import parse
from heron.demo import slack_tide
from mellow.actors import Actor, permit
from mellow.productions import log, models, open_scenes, rows, watching
from mellow.productions.api.scenes import production

DEMO = slack_tide().model_dump(mode="json")


def test_each_revision_has_one_row_undo_and_redo_too(desk):
    desk.do(kind="camera.set", camera="cam-a", focal=50)
    desk.post("undo")
    desk.post("redo")
    desk.seen = 3
    desk.do(kind="camera.set", camera="cam-a", name="Else")
    answer = desk.get("/changes?since=0").json()
    assert [(c["revision"], c["kind"], c["author"]) for c in answer["changes"]] == [
        (1, "do", "artist"), (2, "undo", "artist"), (3, "redo", "artist"), (4, "do", "artist"),
    ]  # fmt: skip
    assert [c["sentence"] for c in answer["changes"][1:3]] == [
        "Undid: Set camera A to 50 mm",
        "Redid: Set camera A to 50 mm",
    ]
    assert (answer["revision"], answer["can_undo"], answer["can_redo"]) == (4, True, False)
    assert len(desk.get("/changes?since=3").json()["changes"]) == 1
    assert models.Change.objects.get(revision=2).of.revision == 1


def test_changes_applied_one_after_the_other_lead_to_the_scene(desk):
    from heron.scene import Patch, Scene, apply_patch

    desk.do(kind="things.delete", ids=["cam-b", "set-04"])
    desk.do(kind="shot.move", shot="shot-040", before="shot-010")
    desk.do(kind="piece.draw", shape="box", start=[0, 0], end=[1, 1])
    desk.post("undo")
    desk.do(kind="scene.set", rate="25")
    scene = Scene.model_validate(DEMO)
    for change in desk.get("/changes?since=0").json()["changes"]:
        scene = apply_patch(scene, Patch.model_validate(change["patch"]))
    assert scene.model_dump(mode="json") == desk.scene()


def test_an_undo_leaves_a_part_alone_that_somebody_else_locked(desk):
    desk.do(kind="camera.set", camera="cam-a", name="Mine")
    lock = parse([{"kind": "part.lock", "part": "cameras", "locked": True}])[0]
    log.do(desk.id, lock, 1, Actor("other"))
    refused = desk.post("undo")
    assert refused.status_code == 422 and "cameras are locked" in refused.json()["detail"]
    assert desk.scene()["cameras"][0]["name"] == "Mine"


def test_redo_is_gone_after_something_new(desk):
    desk.do(kind="camera.set", camera="cam-a", focal=50)
    desk.post("undo")
    desk.do(kind="camera.set", camera="cam-c", name="Else")
    refused = desk.post("redo")
    assert refused.status_code == 422 and "nothing to redo" in refused.json()["detail"]
    assert models.Change.objects.get(revision=1).state == "dropped"
    assert [line["sentence"] for line in desk.get("/history").json()] == ["Renamed camera C to “Else”"]


@pytest.mark.parametrize(
    ("mine", "theirs", "named"),
    [
        ({"kind": "scene.set", "name": "Mine"}, {"kind": "scene.set", "name": "Theirs"}, "The scene's name was"),
        ({"kind": "shot.move", "shot": "shot-040", "before": "shot-010"}, {"kind": "shot.move", "shot": "shot-030", "before": "shot-010"}, "The order of the shots was"),
        ({"kind": "camera.set", "camera": "cam-a", "focal": 50}, {"kind": "keys.here", "thing": "cam-a", "frame": 1100}, "Camera A was"),
        # The lens is only gone by, not changed: that counts too.
        ({"kind": "lens.set", "lens": "lens-85", "widest": 2.8}, {"kind": "camera.mount", "camera": "cam-b", "lens": "lens-85"}, "85 mm was"),
    ],
)  # fmt: skip
def test_what_somebody_else_changed_is_not_overwritten_in_silence(desk, mine, theirs, named):
    other = Desk(desk.id)
    assert desk.do(**mine).status_code == 200
    before = desk.scene()
    refused = other.do(**theirs)
    assert refused.status_code == 409
    assert refused.json()["detail"].startswith(f"{named} changed elsewhere after you last saw it: ")
    assert desk.scene() == before


@pytest.mark.parametrize(
    ("mine", "theirs"),
    [
        ({"kind": "scene.set", "name": "Mine"}, {"kind": "scene.set", "light_ev": 8}),
        ({"kind": "camera.add", "id": "one", "pose": {"x": 0, "y": 1, "z": 0}}, {"kind": "camera.add", "id": "two", "pose": {"x": 0, "y": 1, "z": 0}}),
        ({"kind": "cut.edit", "do": {"edit": "trim_out", "shots": ["shot-010"], "by": -14}}, {"kind": "cut.edit", "do": {"edit": "split", "shot": "shot-030", "frame": 1250}, "id": "s"}),
        ({"kind": "shot.add", "camera": "cam-a", "before": "shot-020", "id": "s1"}, {"kind": "shot.move", "shot": "shot-040", "before": "shot-030"}),
    ],
)  # fmt: skip
def test_what_touches_something_else_is_no_conflict(desk, mine, theirs):
    other = Desk(desk.id)
    assert desk.do(**mine).status_code == 200
    assert other.do(**theirs).status_code == 200


def test_a_cut_lands_in_the_shot_and_at_the_action_it_was_meant_for(desk):
    other = Desk(desk.id)
    desk.do(kind="cut.edit", do={"edit": "trim_out", "shots": ["shot-010"], "by": -64})
    assert (
        other.do(
            kind="cut.edit", do={"edit": "split", "shot": "shot-020", "frame": 1200}, id="new"
        ).status_code
        == 200
    )
    shots = {s["id"]: s["stage"] for s in desk.scene()["shots"]}
    assert shots["shot-020"] == {"first": 1165, "last": 1199} and shots["new"] == {
        "first": 1200,
        "last": 1232,
    }


@pytest.mark.parametrize(
    ("mine", "theirs", "why"),
    [
        ({"kind": "scene.set", "name": "Mine"}, {"kind": "scene.set", "name": "Theirs"}, "the scene's name was"),
        ({"kind": "shot.move", "shot": "shot-040", "before": "shot-010"}, {"kind": "shot.move", "shot": "shot-030", "before": "shot-040"}, "the order of the shots was"),
    ],
)  # fmt: skip
def test_undo_sees_settings_and_order(desk, monkeypatch, django_user_model, mine, theirs, why):
    desk.do(**mine)
    monkeypatch.setattr(Actor, "user", django_user_model.objects.create(username="second"))
    assert desk.do(**theirs).status_code == 200
    monkeypatch.undo()
    before = desk.scene()
    refused = desk.post("undo")
    assert refused.status_code == 422 and f"{why} changed since by someone else" in refused.json()["detail"]
    assert desk.scene() == before


def test_undo_names_what_came_in_the_place_of_what_was_deleted(desk, monkeypatch, django_user_model):
    desk.do(kind="things.delete", ids=["mov-boat"])
    monkeypatch.setattr(Actor, "user", django_user_model.objects.create(username="second"))
    again = {
        "kind": "mover.add",
        "id": "mov-boat",
        "name": "Punt",
        "shape": "boat",
        "pose": {"x": 0, "y": 0, "z": 0},
    }
    assert desk.do(**again).status_code == 200
    monkeypatch.undo()
    refused = desk.post("undo")
    assert refused.status_code == 422 and "Punt was changed since by someone else" in refused.json()["detail"]


def test_undoing_an_order_keeps_what_others_put_in_beside_its_neighbour(desk, monkeypatch, django_user_model):
    desk.do(kind="shot.move", shot="shot-040", before="shot-010")
    monkeypatch.setattr(Actor, "user", django_user_model.objects.create(username="second"))
    desk.do(kind="shot.add", camera="cam-e", id="new", before="shot-030", name="025")
    monkeypatch.undo()
    assert desk.post("undo").status_code == 200
    assert [s["name"] for s in desk.scene()["shots"]] == ["010", "020", "025", "030", "040"]


def test_a_revision_that_never_was_is_refused(desk):
    desk.seen = 7
    refused = desk.do(kind="camera.set", camera="cam-a", focal=50)
    assert (
        refused.status_code == 409 and "you have seen 7, which were not kept here" in refused.json()["detail"]
    )
    assert desk.revision() == 0


def test_who_may_only_look_changes_nothing(desk, monkeypatch):
    with pytest.raises(Exception, match="but not change it"):
        permit(Actor("guest", frozenset({"look"})), "edit")
    monkeypatch.setattr(Actor, "may", frozenset({"look"}), raising=False)
    monkeypatch.setattr(
        "mellow.actors.Actor.__init__", lambda self, name: object.__setattr__(self, "name", name)
    )
    for answer in (
        desk.do(kind="camera.set", camera="cam-a", focal=50),
        desk.post("undo"),
        desk.client.delete(f"/api/scenes/{desk.id}?for_good=true"),
    ):
        assert answer.status_code == 422 and "but not change it" in answer.json()["detail"]
    assert desk.get().status_code == 200
    monkeypatch.setattr(Actor, "may", frozenset(), raising=False)
    assert desk.get().status_code == 422


@pytest.mark.django_db(transaction=True)
def test_two_processes_writing_at_once_both_are_kept(desk, monkeypatch):
    """The first write finds that somebody else's was first, and is worked out again on it."""
    real, once = rows.save, []

    def beaten(row, scene, patch):
        if not once:
            once.append(1)
            models.Scene.objects.filter(pk=row.pk).update(revision=row.revision + 1)
            camera = models.Camera.objects.get(scene=row, uid="cam-c")
            camera.params = {**camera.params, "name": "Theirs"}
            camera.name = "Theirs"
            camera.save()
        return real(row, scene, patch)

    monkeypatch.setattr(rows, "save", beaten)
    assert desk.do(kind="camera.set", camera="cam-a", name="Mine").status_code == 200
    open_scenes.forget()
    names = {c["id"]: c["name"] for c in desk.scene()["cameras"]}
    assert (names["cam-a"], names["cam-c"]) == ("Mine", "Theirs")
    assert desk.revision() == 2


def test_the_answer_brings_the_samples_that_are_looked_at(desk):
    body = {
        "seen": 0,
        "look": ["cam-a", "cam-b", "scene:cut", "nobody"],
        "command": {"kind": "camera.set", "camera": "cam-a", "focal": 50},
    }
    answer = desk.post("commands", body).json()
    assert list(answer["samples"]) == ["cam-a"]
    assert base64.b64decode(answer["samples"]["cam-a"]) == desk.get("/samples/cam-a").content


def test_one_key_among_many_is_answered_with_the_frames_that_it_moves(desk):
    """Laid over the samples that the desk has, they are the whole ones to the bit."""
    around = {
        "x": 3,
        "y": 2,
        "z": 4,
        "pan": 30,
        "tilt": 5,
        "roll": 1,
        "focal": 40,
        "aperture": 5,
        "exposure": 0,
    }
    keys = [
        {"thing": "cam-a", "channel": name, "frame": 1001 + 3 * i, "value": value + (i % 7) / 10}
        for name, value in around.items()
        for i in range(100)
    ]
    assert desk.do(kind="keys.set", keys=keys, force=True).status_code == 200
    whole = desk.get("/samples/cam-a").content
    key = desk.get().json()["keys"]["cam-a"]
    moved = {"kind": "keys.set", "keys": [{**keys[50], "value": 5}]}
    answer = desk.post("commands", {"seen": desk.seen, "look": ["cam-a"], "command": moved})
    assert len(answer.content) < 60_000
    head, part = unpack(base64.b64decode(answer.json()["samples"]["cam-a"]))
    # Within two keys on either side of the one on 1151: a neighbour's handles answer to it.
    assert head["onto"] == key and 1145 <= head["first"] < 1151 < head["last"] <= 1157
    _, laid = unpack(whole)
    laid[head["first"] - 1001 : head["last"] - 1000] = part
    np.testing.assert_array_equal(laid, unpack(desk.get("/samples/cam-a").content)[1])
    # The patch names the one channel of the one camera.
    patch = answer.json()["patch"]
    assert patch["items"] == {} and list(patch["parts"]["cameras"]["cam-a"]) == ["x"]


def unpack(content):
    """Header and rows with every column, of packed samples."""
    (length,) = struct.unpack_from("<I", content)
    head = json.loads(content[4 : 4 + length])
    count = head["last"] - head["first"] + 1
    rows = np.zeros((count, len(head["columns"])), dtype="<f4")
    moving = [i for i in range(len(head["columns"])) if str(i) not in head["still"]]
    for i, value in head["still"].items():
        rows[:, int(i)] = value
    rows[:, moving] = np.frombuffer(content[4 + length :], dtype="<f4").reshape(count, len(moving))
    return head, rows


@pytest.mark.django_db(transaction=True)
def test_whoever_watches_hears_of_each_change_and_of_the_end(row):
    async def heard():
        lines = watching.revisions(row.pk, 0)
        assert (await anext(lines)).startswith("retry")
        waiting = asyncio.ensure_future(anext(lines))
        await asyncio.sleep(0.05)
        assert not waiting.done()

        def change():
            Desk(row.pk).do(kind="camera.set", camera="cam-a", focal=50)
            connection.close()

        thread = threading.Thread(target=change)
        thread.start()
        first = await asyncio.wait_for(waiting, 3)
        await asyncio.to_thread(thread.join)

        def end():
            rows.delete(models.Scene.objects.get(pk=row.pk))
            connection.close()

        await asyncio.to_thread(end)
        last = await asyncio.wait_for(anext(lines), 3)
        await lines.aclose()
        return first, last

    first, last = asyncio.run(heard())
    assert first == "event: change\ndata: 1\n\n" and last.startswith("event: gone")
    assert not open_scenes.opened(row.pk).ears


def test_a_stored_scene_of_version_2_opens_and_its_old_edits_can_be_undone(desk):
    """Rows as version 2 wrote them: stops as f-numbers, a figure pointing at x, y, z."""
    desk.do(kind="figure.set", figure="fig-bram", idle="talk")
    for camera in models.Camera.objects.filter(scene_id=desk.id):
        camera.params["aperture"]["rest"] = 2 ** (camera.params["aperture"]["rest"] / 2)
        camera.version = 2
        camera.save()

    def as_it_was(content):
        for act in content["acts"]:
            if act["kind"] == "point":
                at = act.pop("at")
                act |= {axis: at[axis] for axis in "xyz"}

    bram = models.Figure.objects.get(scene_id=desk.id, uid="fig-bram")
    as_it_was(bram.params)
    bram.version = 2
    bram.save()
    change = models.Change.objects.get()
    for patch in (change.patch, change.inverse):
        as_it_was(patch["items"]["figures"]["fig-bram"])
    change.version = 2
    change.save()
    open_scenes.forget()
    scene = desk.scene()
    assert scene["figures"][1]["idle"] == "talk"
    assert [c["aperture"]["rest"] for c in scene["cameras"]] == pytest.approx(
        [c["aperture"]["rest"] for c in DEMO["cameras"]]
    )
    assert desk.post("undo").status_code == 200
    assert desk.scene()["figures"] == DEMO["figures"]


def test_rows_of_a_figure_that_held_an_oar_get_a_thing_that_it_holds(desk):
    """As version 4 wrote them: what was held was a word on the figure."""
    bram = models.Figure.objects.get(scene_id=desk.id, uid="fig-bram")
    hands = ("hold", "hand_over")
    bram.params["acts"] = [a for a in bram.params["acts"] if a["kind"] not in hands]
    bram.params["holds"], bram.version = "oar", 4
    bram.save()
    models.Mover.objects.filter(scene_id=desk.id, uid="mov-oar").delete()
    import_module("mellow.productions.migrations.0009_things")._oars(apps, None)
    open_scenes.forget()
    scene = desk.scene()
    (oar,) = [m for m in scene["movers"] if m["shape"] == "oar"]
    (held,) = [a for a in scene["figures"][1]["acts"] if a["kind"] == "hold"]
    assert (held["what"], held["hand"], held["frames"]["first"]) == (oar["id"], "left", 1001)
    # It is kept like any other: changed, undone, and still there.
    desk.do(kind="mover.set", mover=oar["id"], name="Old oar")
    assert desk.post("undo").status_code == 200 and desk.scene()["movers"] == scene["movers"]


def test_deleting_a_scene_is_all_or_nothing(desk, monkeypatch):
    def crash(self, *args, **kwargs):
        raise RuntimeError("the power went")

    monkeypatch.setattr(models.Scene, "delete", crash)
    assert desk.client.delete(f"/api/scenes/{desk.id}?for_good=true").status_code == 500
    monkeypatch.undo()
    open_scenes.forget()
    assert desk.scene() == DEMO
    assert desk.client.delete(f"/api/scenes/{desk.id}?for_good=true").status_code == 200
    assert desk.get().status_code == 404 and models.Camera.objects.count() == 0


def test_5000_pieces_are_written_in_few_statements(db, django_assert_max_num_queries):
    base = slack_tide()
    pieces = [{**base.pieces[5].model_dump(), "id": f"p{i}", "name": f"P {i}"} for i in range(5000)]
    scene = type(base).model_validate({**base.model_dump(), "pieces": pieces})
    desk = Desk(rows.create(production(), scene).pk)
    with django_assert_max_num_queries(80):
        assert desk.do(kind="things.move", ids=[p["id"] for p in pieces], dx=1).status_code == 200
    open_scenes.forget()
    assert {p["x"] for p in desk.scene()["pieces"]} == {base.pieces[5].x + 1}
    assert models.Piece.objects.get(uid="p7").revision == 1


def test_log_and_rows_are_as_the_migrations_have_them(db):
    call_command("makemigrations", check=True, dry_run=True, verbosity=0)
    assert json.dumps(list(log.Kind.values)) == '["do", "undo", "redo"]'


def test_a_scene_is_read_as_it_was_at_a_revision_with_the_samples_it_had_then(desk):
    first = desk.get().json()
    was = desk.get("/samples/fig-odile").content
    desk.do(kind="thing.put", thing="fig-odile", frame=1001, keep="rest", x=2)
    desk.do(kind="figure.set", figure="fig-bram", name="Bran")
    desk.post("undo")
    for at in (0, 1, 2, 3):
        then = desk.get(f"?at={at}").json()
        assert then["scene"]["figures"][0]["x"] == (first["scene"]["figures"][0]["x"] if at == 0 else 2)
        assert then["scene"]["figures"][1]["name"] == ("Bran" if at == 2 else "Bram")
    assert desk.get("?at=0").json()["keys"] == first["keys"]
    old = desk.get(f"/samples/fig-odile?key={first['keys']['fig-odile']}&at=0")
    assert (
        old.content == was != desk.get("/samples/fig-odile").content and "immutable" in old["Cache-Control"]
    )
    assert desk.get("?at=9").status_code == 404
