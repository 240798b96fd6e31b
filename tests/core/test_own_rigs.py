"""A rig and a look kept from one scene and given in another: what the camera sees then, by its own subject's place there."""

import json

import numpy as np
import pytest

from heron.bake import Bake
from heron.commands import parse_commands, run
from heron.commands.own_rigs import kept_look, kept_rig
from heron.errors import Refused
from heron.scene import empty_scene, read_scene, write_scene


def done(scene, *commands):
    return run(scene, parse_commands(json.dumps(commands)))[0]


def figure(id_, name, x, z, **more):
    return {"kind": "figure.add", "id": id_, "name": name, "x": x, "z": z, **more}


def camera(id_, name, x, z, pan=0.0):
    pose = {"x": x, "y": 1.6, "z": z, "pan": pan, "tilt": 0, "roll": 0}
    return {"kind": "camera.add", "id": id_, "name": name, "pose": pose, "focal": 40}


def aim(camera, figure):
    at = {"kind": "figure", "figure": figure, "joint": "eyes"}
    layer = {"kind": "aim", "at": [at], "x": {"rest": 0.0}, "y": {"rest": 0.0}}
    return {"kind": "rig.add", "camera": camera, "layer": layer}


@pytest.fixture
def rigged():
    """A camera that watches Bram, who walks."""
    walk = {"kind": "figure.walk", "figure": "fig-b", "points": [[2, -2]], "first": 1010}
    return done(
        empty_scene("Slack Tide"), figure("fig-b", "Bram", 0, -4), camera("cam-a", "On him", 0, 3), walk, aim("cam-a", "fig-b")
    )  # fmt: skip


def test_a_rig_watches_whoever_is_called_the_same_or_the_first_there_is(rigged):
    kept = kept_rig(rigged, "cam-a")
    assert kept.name == "Rig of On him" and kept.figures[0].acts == () and kept.shots == ()
    # It is a document of its own.
    assert read_scene(write_scene(kept)) == kept
    give = {"kind": "kept.rig", "camera": "cam-x", "kept": json.loads(write_scene(kept))}
    there = done(
        empty_scene("Boathouse"), figure("p1", "Odile", 3, -3), figure("p2", "Bram", -4, -5), camera("cam-x", "Wide", 1, 4, pan=90)
    )  # fmt: skip
    after = done(there, give)
    (layer,) = after.cameras[0].layers
    assert layer.at[0].figure == "p2" and layer.id != rigged.cameras[0].layers[0].id
    bake = Bake(after)
    eyes = bake.performance(after.figures[1]).landmark("eyes")[20]
    seen = bake.samples(after.cameras[0]).at(1021)
    way = eyes - [seen["x"], seen["y"], seen["z"]]
    # A pan is positive to the left of −Z.
    assert seen["pan"] == pytest.approx(np.degrees(np.arctan2(-way[0], -way[2])), abs=0.05)
    assert seen["tilt"] == pytest.approx(np.degrees(np.arcsin(way[1] / np.linalg.norm(way))), abs=0.05)
    alone = done(empty_scene("S"), figure("p1", "Odile", 3, -3), camera("cam-x", "Wide", 1, 4), give)
    assert alone.cameras[0].layers[0].at[0].figure == "p1"


def test_a_rig_without_anybody_to_be_about_is_refused(rigged):
    kept = json.loads(write_scene(kept_rig(rigged, "cam-a")))
    empty = done(empty_scene("S"), camera("cam-x", "Wide", 1, 4))
    with pytest.raises(Refused) as error:
        done(empty, {"kind": "kept.rig", "camera": "cam-x", "kept": kept})
    assert error.value.reason == "The rig is about 1 figure, and there are none here."
    assert error.value.remedy == "Put more figures on the stage first."
    with pytest.raises(Refused) as error:
        kept_rig(empty, "cam-x")
    assert (error.value.reason, error.value.remedy) == ("Camera A has no rig.", "Add a layer to it first.")
    with pytest.raises(Refused, match=r"^It holds no rig\. Keep the rig of a camera first\.$"):
        done(rigged, {"kind": "kept.rig", "camera": "cam-a", "kept": json.loads(write_scene(empty))})


def test_a_locked_layer_stays_and_two_subjects_keep_their_order(rigged):
    over = {"kind": "rig.add", "camera": "cam-a", "layer": {"kind": "aim", "at": [{"kind": "figure", "figure": "fig-o", "joint": "eyes"}], "x": {"rest": 0.2}, "y": {"rest": 0.0}}}  # fmt: skip
    two = done(rigged, figure("fig-o", "Odile", 2, -3), over)
    kept = json.loads(write_scene(kept_rig(two, "cam-a")))
    there = done(
        empty_scene("S"), figure("p1", "Wren", 3, -3), figure("p2", "Old Fell", -1, -3), camera("cam-x", "Wide", 1, 4)
    )  # fmt: skip
    after = done(there, {"kind": "kept.rig", "camera": "cam-x", "kept": kept})
    assert [one.at[0].figure for one in after.cameras[0].layers] == ["p1", "p2"]
    with pytest.raises(Refused) as error:
        done(empty_scene("S"), figure("p1", "Wren", 3, -3), camera("cam-x", "W", 1, 4), {"kind": "kept.rig", "camera": "cam-x", "kept": kept})  # fmt: skip
    assert error.value.reason.endswith("The rig is about 2 figures, and there is 1 here.")


def test_a_look_is_given_to_many_and_taken_back(rigged):
    dressed = done(
        rigged, {"kind": "figure.set", "figure": "fig-b", "look": {"coat": "#336699", "headwear": "cap"}}
    )
    kept = kept_look(dressed, "fig-b")
    assert kept.name == "Look of Bram" and kept.figures[0].acts == () and not kept.cameras
    there = done(empty_scene("S"), figure("p1", "Odile", 3, -3, stature=1.6), figure("p2", "Wren", -1, -3))
    give = {"kind": "kept.look", "figures": ["p1", "p2"], "kept": json.loads(write_scene(kept))}
    after = done(there, give)
    assert [(one.name, one.stature, one.look.coat, one.look.headwear) for one in after.figures] == [
        ("Odile", 1.6, "#336699", "cap"),
        ("Wren", there.figures[1].stature, "#336699", "cap"),
    ]
    with pytest.raises(Refused) as error:
        done(after, give)
    assert error.value.reason == "They look like that already."
    with pytest.raises(Refused, match=r"^It holds no look\. Keep the look of a figure first\.$"):
        done(there, give | {"kept": json.loads(write_scene(empty_scene("S")))})


def test_a_rig_on_a_thing_made_of_parts_needs_no_parts_where_it_is_given():
    """What is kept with its subject, the parts of it, is not what the rig is about."""
    box = {"kind": "piece.add", "id": "pc", "name": "Crate", "shape": "box", "x": 0, "z": -4, "width": 1, "depth": 1, "height": 1}  # fmt: skip
    cart = {"kind": "mover.make", "id": "mov", "ids": ["pc"], "name": "Cart"}
    layer = {"kind": "aim", "at": [{"kind": "mover", "mover": "mov"}], "x": {"rest": 0.0}, "y": {"rest": 0.0}}
    add = {"kind": "rig.add", "camera": "cam-a", "layer": layer}
    kept = kept_rig(done(empty_scene("S"), box, cart, camera("cam-a", "A", 0, 3), add), "cam-a")
    assert kept.pieces and kept.movers
    punt = {"kind": "mover.add", "id": "m2", "name": "Punt", "shape": "boat", "pose": {"x": 1, "y": 0, "z": -3, "pan": 0, "tilt": 0, "roll": 0}}  # fmt: skip
    give = {"kind": "kept.rig", "camera": "cam-x", "kept": json.loads(write_scene(kept))}
    after = done(empty_scene("T"), punt, camera("cam-x", "X", 1, 4), give)
    assert after.cameras[0].layers[0].at[0].mover == "m2"


def test_long_names_are_kept_as_long_as_a_scene_may_have_one(rigged):
    long = "Close" * 16
    named = done(rigged, {"kind": "camera.set", "camera": "cam-a", "name": long}, {"kind": "figure.set", "figure": "fig-b", "name": long})  # fmt: skip
    rig, look = kept_rig(named, "cam-a"), kept_look(named, "fig-b")
    assert rig.name == f"Rig of {long}"[:80] and look.name == f"Look of {long}"[:80]
    assert read_scene(write_scene(rig)) == rig
    given = run(named, parse_commands(json.dumps([{"kind": "kept.rig", "camera": "cam-a", "kept": json.loads(write_scene(rig))}])))[1]  # fmt: skip
    assert given[0].startswith("Gave camera A the rig of CloseClose")
