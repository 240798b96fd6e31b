"""Patches that the core and the desk must both apply alike; the desk's tests read the same file."""

import json
from pathlib import Path

import pytest

from heron.commands import parse_commands, run
from heron.demo import slack_tide
from heron.model import changed
from heron.scene import FinePatch, Patch, Scene, apply_patch, diff, fine
from heron.scene.own import dressed

PATH = Path(__file__).parents[1] / "vectors" / "patches.json"
#: What was done, and (where others were there too) what stood in the scene that the patch's author had not seen.
CASES = {
    "a camera's name": ([{"kind": "camera.set", "camera": "cam-a", "name": "Else"}], []),
    "a shot moved": ([{"kind": "shot.move", "shot": "shot-040", "before": "shot-010"}], []),
    "a camera deleted with its shot": ([{"kind": "things.delete", "ids": ["cam-b"]}], []),
    "a shot put in where another was put in meanwhile": (
        [{"kind": "shot.add", "camera": "cam-a", "before": "shot-020", "id": "mine", "name": "m"}],
        [{"kind": "shot.add", "camera": "cam-b", "before": "shot-030", "id": "theirs", "name": "t"}],
    ),
    "an order changed where another was put in meanwhile": (
        [{"kind": "shot.move", "shot": "shot-040", "before": "shot-010"}],
        [{"kind": "shot.add", "camera": "cam-b", "before": "shot-010", "id": "theirs", "name": "t"}],
    ),
    "settings": ([{"kind": "scene.set", "name": "Else", "light_ev": 8}], []),
}  # fmt: skip

DRESSED = PATH.with_name("dressed.json")
#: For 020 alone: a piece moved and another hidden, a figure hidden, the lamp moved up, more haze and a lower sun.
OWN = [
    {"kind": "piece.set", "piece": "set-20", "x": 1.5, "heading": 30},
    {"kind": "things.hide", "ids": ["set-21", "fig-bram"], "hidden": True},
    {"kind": "scene.set", "haze_m": 30, "sun_height": 9},
]


def small():
    """The demo with little in it, so that the file can be read."""
    demo = slack_tide()
    return demo.having(
        pieces=demo.pieces[:2], figures=(), movers=(), lenses=(), cameras=tuple(bare(demo.cameras))
    )


def bare(cameras):
    plain = {"focus": {}, "mounted": None, "layers": ()}
    return [type(c).model_validate({**c.model_dump(), **plain}) for c in cameras[:4]]


def made():
    out = []
    for says, (mine, theirs) in CASES.items():
        before = small()
        patch = diff(before, run(before, parse_commands(json.dumps(mine)))[0])
        there = run(before, parse_commands(json.dumps(theirs)))[0] if theirs else before
        short = fine(patch, before)
        plain = {
            "says": says,
            "patch": patch.model_dump(mode="json"),
            "fine": None if theirs else short.model_dump(mode="json"),
        }
        out.append(
            {
                **plain,
                "before": there.model_dump(mode="json"),
                "after": apply_patch(there, patch).model_dump(mode="json"),
            }
        )
    return out


def made_dressed():
    """The scene as it is, and what of it is otherwise for 020."""
    demo = slack_tide()
    scene = demo.having(
        pieces=tuple(p for p in demo.pieces if p.id in {"set-20", "set-21", "set-22"}), lenses=(), perches=(), movers=(),
        figures=tuple(changed(f, acts=()) for f in demo.figures), cameras=tuple(bare(demo.cameras)),
    )  # fmt: skip
    own = [{"kind": "shot.dress", "shot": "shot-020", "command": one} for one in OWN]
    scene = run(scene, parse_commands(json.dumps(own)))[0]
    there = dressed(scene, next(shot for shot in scene.shots if shot.id == "shot-020"))
    # The same draft, undressed, has none of it.
    assert dressed(scene, scene.shots[0]) is scene
    return {
        "before": scene.model_dump(mode="json"), "shot": "shot-020", "after": there.model_dump(mode="json"),
    }  # fmt: skip


def test_a_dressed_shot_is_what_the_file_says():
    vector = json.loads(DRESSED.read_text())
    assert vector == made_dressed(), "Run `python tests/core/test_vectors.py` to write the file again."
    # By hand, beside the commands above.
    was, now = vector["before"], vector["after"]
    piece = next(p for p in now["pieces"] if p["id"] == "set-20")
    assert (piece["x"], piece["heading"]) == (1.5, 30)
    assert [p["hidden"] for p in now["pieces"] if p["id"] == "set-21"] == [True]
    assert {f["id"]: f["hidden"] for f in now["figures"]} == {"fig-odile": False, "fig-bram": True}
    assert (now["surround"]["haze_m"], now["surround"]["sun_height"]) == (30, 9)
    assert {k for k in now if now[k] != was[k]} == {"pieces", "figures", "surround"}


@pytest.mark.parametrize("case", range(len(CASES)))
def test_the_file_is_what_the_core_does(case):
    vector = json.loads(PATH.read_text())[case]
    scene = apply_patch(Scene.model_validate(vector["before"]), Patch.model_validate(vector["patch"]))
    assert scene.model_dump(mode="json") == vector["after"]
    if vector["fine"]:
        # The short one, sent while a hand drags, comes to the same.
        again = apply_patch(Scene.model_validate(vector["before"]), FinePatch.model_validate(vector["fine"]))
        assert again == scene
    assert vector == made()[case], "Run `python tests/core/test_vectors.py` to write the file again."


def test_others_keep_their_place_beside_their_neighbour():
    # By hand: theirs stood before 030, and before 010; mine came before 020, and 040 went first.
    names = [[s["name"] for s in v["after"]["shots"]] for v in made()[3:5]]
    assert names == [["010", "m", "020", "t", "030", "040"], ["t", "040", "010", "020", "030"]]


if __name__ == "__main__":
    PATH.write_text(json.dumps(made(), separators=(",", ":")) + "\n")
    DRESSED.write_text(json.dumps(made_dressed(), separators=(",", ":")) + "\n")
