"""What names what: found by one walk, checked, let go of when it is deleted, refused when it goes round."""

import json

import numpy as np
import pytest

from heron.bake import Bake, ResultCache
from heron.commands import parse_commands, run, run_one
from heron.demo import slack_tide
from heron.errors import BadInput, NotFound, Refused
from heron.scene import Scene, find, read_scene, write_scene
from heron.scene.links import links
from heron.stage.skeleton import INDEX

DEMO = slack_tide()


def one(scene, **command):
    return run_one(scene, parse_commands(json.dumps(command))[0])


def after(scene, *commands):
    return run(scene, parse_commands(json.dumps(list(commands))))[0]


def pointing(who, on, first=1240, last=1260):
    return {
        "kind": "figure.act",
        "figure": who,
        "act": {"kind": "point", "frames": {"first": first, "last": last}, "at": on},
    }


def eyes(figure):
    return {"kind": "figure", "figure": figure, "joint": "eyes"}


def test_every_link_is_found_with_what_it_is_for_and_from_when():
    camera = find(DEMO, "cameras", "cam-c")
    assert [(k.table, k.id, k.role.verb, k.frame) for k in links(camera)] == [
        ("lenses", "lens-40", "has on", None),
        ("figures", "fig-bram", "is focused on", 1252),
        ("movers", "mov-heron", "is focused on", 1266),
    ]
    assert [(k.table, k.id) for k in links(DEMO.shots[0])] == [("cameras", "cam-a")]
    assert links(DEMO.pieces[0]) == ()
    assert [(k.table, k.id, k.role.verb, k.frame) for k in links(find(DEMO, "figures", "fig-bram"))] == [
        ("movers", "mov-oar", "handles", None),
        ("figures", "fig-odile", "looks at", 1146),
        ("movers", "mov-oar", "handles", None),
        ("figures", "fig-odile", "hands it to", None),
        ("movers", "mov-heron", "looks at", 1288),
    ]


@pytest.mark.parametrize(
    ("table", "index", "change", "says"),
    [
        ("cameras", 0, {"mounted": "gone"}, "camera A has on a lens that is not in the scene"),
        ("cameras", 0, {"focus": {"on": {"kind": "mover", "mover": "gone"}}}, "camera A is focused on a mover that is not"),
        # An id of another table is not there either.
        ("cameras", 0, {"focus": {"on": {"kind": "mover", "mover": "fig-bram"}}}, "camera A is focused on a mover that is not"),
        ("shots", 0, {"camera": "gone"}, "shot 010 is on a camera that is not in the scene"),
        ("figures", 0, {"acts": [{"kind": "point", "frames": {"first": 1001, "last": 1010}, "at": {"kind": "camera", "camera": "gone"}}]}, "Odile points at a camera that is not"),
    ],
)  # fmt: skip
def test_a_document_that_names_what_is_not_there_is_refused(table, index, change, says):
    data = json.loads(write_scene(DEMO))
    data[table][index] |= change
    with pytest.raises(BadInput, match=says[0].upper() + says[1:]):
        read_scene(json.dumps(data))


def test_a_figure_points_at_what_moves_and_follows_it():
    scene = after(
        DEMO,
        {"kind": "figure.act.delete", "figure": "fig-odile", "ids": [DEMO.figures[0].body[2].id]},
        pointing("fig-odile", {"kind": "mover", "mover": "mov-heron"}, 1240, 1318),
    )
    bake = Bake(scene, ResultCache())
    done = bake.performance(scene.figures[0])
    for frame in (1270, 1290, 1303):
        i = frame - 1001
        target = bake.place(
            next(a for a in scene.figures[0].acts if a.kind == "point").at, np.array([frame])
        )[0]
        off = []
        for side in "rl":
            shoulder, wrist = (
                done.places[i, INDEX[f"shoulder_{side}"]],
                done.places[i, INDEX[f"wrist_{side}"]],
            )
            arm, way = wrist - shoulder, target - shoulder
            cos = arm @ way / np.linalg.norm(arm) / np.linalg.norm(way)
            off.append(np.degrees(np.arccos(np.clip(cos, -1, 1))))
        assert min(off) < 3.0


def test_who_waits_for_whom_may_not_go_round():
    scene = after(DEMO, pointing("fig-odile", eyes("fig-bram")))
    with pytest.raises(Refused, match="Bram points at Odile, who points at Bram: each would wait"):
        one(scene, **pointing("fig-bram", eyes("fig-odile"), 1010, 1040))
    with pytest.raises(Refused, match="Odile cannot point at itself"):
        one(DEMO, **pointing("fig-odile", eyes("fig-odile")))
    three = after(
        scene,
        {"kind": "figure.add", "id": "fig-c", "name": "Cole", "x": 3, "z": 0},
        pointing("fig-bram", eyes("fig-c"), 1010, 1040),
    )
    with pytest.raises(Refused, match=r"points at .*, who points at .*, who points at "):
        one(three, **pointing("fig-c", eyes("fig-odile"), 1010, 1040))


def test_two_cameras_focused_on_each_other_wait_for_nobody():
    # Focus moves no camera, so this is not a ring.
    scene = after(
        DEMO,
        {"kind": "focus.set", "camera": "cam-a", "on": {"kind": "camera", "camera": "cam-b"}},
        {"kind": "focus.set", "camera": "cam-b", "on": {"kind": "camera", "camera": "cam-a"}},
    )
    bake = Bake(scene, ResultCache())
    rows = [bake.samples(c).at(1200) for c in scene.cameras[:2]]
    between = np.array([rows[1][k] - rows[0][k] for k in "xyz"])
    pan, tilt = np.radians(rows[0]["pan"]), np.radians(rows[0]["tilt"])
    ahead = np.array([-np.sin(pan) * np.cos(tilt), np.sin(tilt), -np.cos(pan) * np.cos(tilt)])
    assert between @ ahead > 0 and 1 / rows[0]["focus_per_m"] == pytest.approx(between @ ahead)
    # The lens of one moves the focus of the other, and its stop does not.
    moved = after(scene, {"kind": "things.move", "ids": ["cam-b"], "dx": 1})
    stopped = after(scene, {"kind": "camera.glass", "camera": "cam-b", "iso": 400})
    assert Bake(moved, ResultCache()).key(moved.cameras[0]) != bake.key(scene.cameras[0])
    assert Bake(stopped, ResultCache()).key(stopped.cameras[0]) == bake.key(scene.cameras[0])


def test_what_named_something_that_goes_stays_where_it_was():
    scene = after(DEMO, pointing("fig-odile", {"kind": "mover", "mover": "mov-heron"}))
    before = Bake(scene, ResultCache())
    gone, sentence = one(scene, kind="things.delete", ids=["mov-heron"])
    assert sentence == (
        "Deleted Heron; what it did to camera D is keys now; Odile points at where it was; "
        "the look of Odile and Bram stays where it was; "
        "the focus of camera C and D stays where it was"
    )
    heron_at = before.place(scene.cameras[3].focus.on, np.array([1240]))[0]
    at = next(a for a in gone.figures[0].acts if a.kind == "point").at
    assert (at.kind, at.of) == ("point", "where Heron was")
    assert [at.x, at.y, at.z] == pytest.approx(heron_at, abs=1e-4)
    # A mark counts from its own frame; what was not focused on it is untouched.
    mark = gone.cameras[2].focus.marks[0].on
    there = before.place(scene.cameras[2].focus.marks[0].on, np.array([1266]))[0]
    assert [mark.x, mark.y, mark.z] == pytest.approx(there, abs=1e-4)
    assert gone.cameras[2].focus.on == scene.cameras[2].focus.on and gone.cameras[0] is scene.cameras[0]
    assert read_scene(write_scene(gone)) == gone


def test_several_things_go_at_once_and_each_is_said():
    gone, sentence = one(DEMO, kind="things.delete", ids=["cam-a", "fig-odile", "lens-50"])
    assert sentence.startswith("Deleted camera A, Odile and 50 mm; ")
    assert (
        "it comes off camera B, E, G and H" in sentence
        and "the cut has a gap in place of shot 010" in sentence
    )
    assert [s.name for s in gone.shots] == ["020", "030", "040"] and gone.shots[0].gap_before == 113
    with pytest.raises(NotFound, match="nothing called nobody"):
        one(DEMO, kind="things.delete", ids=["nobody"])
    with pytest.raises(Refused, match="named twice"):
        one(DEMO, kind="things.delete", ids=["cam-a", "cam-a"])


def test_a_scene_that_was_read_back_links_the_same():
    scene = Scene.model_validate(json.loads(write_scene(DEMO)))
    for a, b in zip(scene.cameras, DEMO.cameras, strict=True):
        assert links(a) == links(b)
        assert Bake(scene, ResultCache()).key(a) == Bake(DEMO, ResultCache()).key(b)
