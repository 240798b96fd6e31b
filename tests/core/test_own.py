"""What shots have for themselves: seen in their pictures and nowhere else, and kept apart from the scene."""

import json
from collections import defaultdict

import numpy as np
import pytest

from heron.bake import Bake
from heron.commands import parse_commands, run
from heron.commands.registry import parse, run_one
from heron.dailies.frames import frames_of_cut
from heron.demo import slack_tide
from heron.errors import HeronError
from heron.framing.angles import angle_said
from heron.framing.sharpness import figures_in_focus
from heron.framing.shot_size import shot_size
from heron.scene import diff, find, read_scene, write_scene
from heron.scene.own import dressed

POST = "set-10"


def do(scene, *commands):
    return run(scene, parse_commands(json.dumps(list(commands))))[0]


def prints(scene):
    """By shot, the fingerprints of its pictures."""
    out = defaultdict(list)
    for frame in frames_of_cut(scene):
        out[frame.shot].append(frame.fingerprint)
    return out


def dress(command, shot="shot-020"):
    return {"kind": "shot.dress", "shot": shot, "command": command}


def test_a_post_moved_for_one_shot_changes_its_pictures_and_no_other_shots():
    scene = slack_tide()
    cheated = do(scene, dress({"kind": "piece.set", "piece": POST, "x": 0.82}))
    moved = do(scene, {"kind": "piece.set", "piece": POST, "x": 0.82})
    was, now, whole = prints(scene), prints(cheated), prints(moved)
    for shot in ("010", "030", "040"):
        assert now[shot] == was[shot]
    # Its pictures are those of a scene in which the post stands there for everybody.
    assert now["020"] == whole["020"] != was["020"]
    assert find(cheated, "pieces", POST).x == find(scene, "pieces", POST).x


def test_only_what_a_shot_can_have_for_itself_stays_with_it():
    scene = slack_tide()
    after = do(
        scene,
        dress({"kind": "piece.set", "piece": POST, "x": 0.5, "name": "Leaning pile"}),
        dress({"kind": "scene.set", "haze_m": 30, "water": False}),
        dress({"kind": "camera.set", "camera": "cam-b", "name": "Closer"}),
        dress({"kind": "things.hide", "ids": ["fig-bram"], "hidden": True}),
    )
    assert (
        find(after, "pieces", POST).name == "Leaning pile"
        and find(after, "cameras", "cam-b").name == "Closer"
    )
    assert (after.surround.water, after.surround.haze_m) == (False, scene.surround.haze_m)
    own = find(after, "shots", "shot-020").own
    assert [(one.of, one.fields) for one in own] == [
        (None, {"haze_m": 30.0}), (("pieces", POST), {"x": 0.5}), (("figures", "fig-bram"), {"hidden": True}),
    ]  # fmt: skip
    there = dressed(after, find(after, "shots", "shot-020"))
    assert (there.surround.haze_m, there.surround.water, find(there, "pieces", POST).name) == (
        30,
        False,
        "Leaning pile",
    )
    assert read_scene(write_scene(after)).shots == after.shots


def test_what_is_put_back_by_hand_or_taken_off_is_nobodys_own():
    scene = slack_tide()
    post = find(scene, "pieces", POST)
    after = do(scene, dress({"kind": "piece.set", "piece": POST, "x": 0.5}))
    assert do(after, dress({"kind": "piece.set", "piece": POST, "x": post.x})) == scene
    both = do(after, dress({"kind": "scene.set", "haze_m": 30}))
    assert do(both, {"kind": "shot.undress", "shot": "shot-020", "surround": True}) == after
    assert do(both, {"kind": "shot.undress", "shot": "shot-020", "ids": [POST]}).shots[1].own[0].of is None
    assert do(both, {"kind": "shot.undress", "shot": "shot-020"}) == scene
    # What is deleted takes along what shots had of it, and says so.
    gone, said = run_one(both, parse([{"kind": "things.delete", "ids": [POST]}])[0])
    assert [one.of for one in gone.shots[1].own] == [None] and "shot 020" in said


def test_a_jetty_lowered_for_one_shot_lowers_whoever_walks_on_it_there():
    scene = slack_tide()
    lower = {"kind": "piece.set", "piece": "set-03", "base": find(scene, "pieces", "set-03").base - 0.2}
    after = do(scene, dress(lower))
    shot = after.shots[1]
    odile = find(after, "figures", "fig-odile")
    frame = np.array([1150])
    height = [Bake(one).rows(odile, frame)[0][1] for one in (after, dressed(after, shot))]
    assert height[0] - height[1] == pytest.approx(0.2, abs=1e-6)
    # What does not depend on it is not baked again.
    heron = find(after, "movers", "mov-heron")
    assert Bake(after).key(heron) == Bake(dressed(after, shot)).key(heron)


def test_a_hidden_figure_is_watched_as_before_and_said_of_no_frame():
    scene = do(slack_tide(), {"kind": "things.hide", "ids": ["fig-odile"], "hidden": True})
    camera = find(scene, "cameras", "cam-e")
    assert Bake(scene).key(camera) == Bake(slack_tide()).key(find(slack_tide(), "cameras", "cam-e"))
    assert diff(slack_tide(), scene).items.keys() == {"figures"}
    assert do(scene, {"kind": "things.hide", "ids": ["fig-odile"], "hidden": False}) == slack_tide()


@pytest.mark.parametrize(
    ("own", "said"),
    [
        ({"piece": POST, "fields": {"name": "Other"}}, "cannot have “name” for itself"),
        ({"fields": {"water": False}}, "cannot have “water” for itself"),
        ({"piece": POST, "fields": {"width": -1}}, "Width must be at least 0.001"),
        ({"piece": "set-999", "fields": {"x": 1}}, "not in the scene"),
    ],
)
def test_a_file_with_what_no_shot_can_have_is_refused(own, said):
    content = slack_tide().model_dump(mode="json")
    content["shots"][1]["own"] = [own]
    with pytest.raises(HeronError, match=said):
        read_scene(json.dumps(content))


def test_a_command_for_a_shot_alone_is_refused_as_it_would_be_for_the_scene():
    for command, said in (
        (dress({"kind": "piece.set", "piece": "set-999", "x": 1}), "no set piece set-999"),
        (dress(dress({"kind": "scene.set", "haze_m": 30})), "for a shot alone already"),
        (dress({"kind": "no.such"}), "Command"),
        (
            {"kind": "shot.dress", "shot": "shot-999", "command": {"kind": "scene.set", "haze_m": 30}},
            "no shot shot-999",
        ),
    ):
        with pytest.raises(HeronError, match=said):
            run(slack_tide(), parse_commands(json.dumps([command])))


def test_what_is_hidden_is_neither_framed_nor_focused_on_nor_named():
    scene = slack_tide()
    everybody = [one.id for one in (*scene.figures, *scene.movers)]
    hidden = do(scene, {"kind": "things.hide", "ids": everybody, "hidden": True})
    camera, frame = find(scene, "cameras", "cam-e"), 1200
    seen, unseen = Bake(scene), Bake(hidden)
    assert shot_size(seen, camera, frame)[0] == "Odile" and shot_size(unseen, camera, frame) is None
    assert (
        angle_said(seen, camera, frame) == "" and angle_said(unseen, camera, frame) == "Nothing in the frame"
    )
    assert [one.name for one in figures_in_focus(unseen, camera, frame, 1920)] == []
    assert figures_in_focus(seen, camera, frame, 1920)


def test_a_part_of_something_that_moves_is_a_shots_own_like_any_piece():
    scene = do(slack_tide(), {"kind": "mover.make", "id": "m", "ids": [POST]})
    raised = {"kind": "piece.set", "piece": POST, "height": 3.5}
    cheated, whole = do(scene, dress(raised)), do(scene, raised)
    was, now, for_all = prints(scene), prints(cheated), prints(whole)
    assert [shot for shot in was if now[shot] != was[shot]] == ["020"] and now["020"] == for_all["020"]
    assert read_scene(write_scene(cheated)).shots == cheated.shots
