"""What is accepted can always be opened again: limits of tables, channels and names, and older versions."""

import json
import math

import numpy as np
import pytest
from hypothesis import given, settings
from strategies import runs

from heron.bake import Bake, ResultCache
from heron.commands import parse_commands, run_one
from heron.curves import Channel, Key
from heron.demo import slack_tide
from heron.errors import BadInput, HeronError, Refused
from heron.model import changed
from heron.scene import Scene, empty_scene, find, read_scene, write_scene
from heron.scene.lookup import validate_scene
from heron.scene.upgrades import VERSION, upgrade
from heron.stage.figure import Figure

DEMO = slack_tide()
PIECE = DEMO.pieces[5]
#: What a run of commands leaves as it was is computed once.
KEPT = ResultCache()


def one(scene, **command):
    return run_one(scene, parse_commands(json.dumps(command))[0])


MOST = {"figures": 200, "movers": 200, "lenses": 200, "pieces": 5000, "cameras": 702}


def full(table):
    """A scene with a table as full as it may be."""
    first = getattr(DEMO, table)[0].model_dump()
    if "acts" in first:
        first["acts"] = [act for act in first["acts"] if act["kind"] != "look_at"]
    items = [{**first, "id": f"x{i}", "name": f"N {i}"} for i in range(MOST[table])]
    if table == "cameras":
        items = [{**c, "letter": letters(i), "mounted": None, "focus": {}} for i, c in enumerate(items)]
    return Scene.model_validate({**empty_scene("Full", lenses=()).model_dump(), table: items})


def letters(i):
    return chr(65 + i) if i < 26 else chr(64 + i // 26) + chr(65 + i % 26)


@pytest.mark.parametrize(
    ("table", "command"),
    [
        ("figures", {"kind": "figure.add", "name": "One more", "x": 0, "z": 0}),
        ("figures", {"kind": "things.duplicate", "ids": ["x0"]}),
        ("movers", {"kind": "mover.add", "shape": "boat", "pose": {"x": 0, "y": 0, "z": 0}}),
        ("lenses", {"kind": "lens.add", "shortest_mm": 77.7}),
        ("pieces", {"kind": "piece.draw", "shape": "box", "start": [0, 0], "end": [1, 1]}),
        ("pieces", {"kind": "things.duplicate", "ids": ["x0", "x1"]}),
        ("cameras", {"kind": "camera.add", "pose": {"x": 0, "y": 1, "z": 0}}),
        ("cameras", {"kind": "things.duplicate", "ids": ["x0"]}),
    ],
)
def test_a_full_table_takes_no_more_and_says_so(table, command):
    scene = full(table)
    with pytest.raises(Refused, match=r"A scene holds at most [\d,]+ .*; this would make [\d,]+\."):
        one(scene, **command)
    # What is at the limit is still whole, and can be read again.
    assert read_scene(write_scene(scene)) == scene


def test_a_cut_takes_no_more_shots_than_it_can_hold():
    scene = empty_scene("S")
    scene, _ = one(scene, kind="camera.add", id="c", name="C", pose={"x": 0, "y": 1, "z": 0})
    shots = tuple(
        {"id": f"s{i}", "name": str(i), "camera": "c", "stage": {"first": 1001, "last": 1001}}
        for i in range(5000)
    )
    most = Scene.model_validate({**scene.model_dump(), "shots": shots})
    with pytest.raises(Refused, match="at most 5,000 shots; this would make 5,001"):
        one(most, kind="shot.add", camera="c", name="more")
    trimmed, _ = one(most, kind="scene.set", name="Else")
    assert len(trimmed.shots) == 5000


@settings(max_examples=30, deadline=None)
@given(runs)
def test_after_every_command_the_document_can_be_read_and_baked(commands):
    scene = DEMO
    for command in commands:
        try:
            scene, _ = one(scene, **command)
        except HeronError:
            continue
        assert read_scene(write_scene(scene)) == scene
    bake = Bake(scene, KEPT)
    for item in (*scene.cameras, *scene.movers, *scene.figures):
        assert np.isfinite(bake.samples(item).values).all()


@pytest.mark.parametrize(
    ("channel", "value", "says"),
    [
        ("aperture", 0, "Stop must be from f/0.5 to f/64; it was f/0"),
        ("aperture", -3, "Stop must be from"),
        ("aperture", 65, "Stop must be from"),
        ("focal", 0, "Focal length must be from 1 mm to 3000 mm; it was 0 mm"),
        ("exposure", 1e6, r"Exposure offset must be from -20 stops to 20 stops"),
        ("x", 10_001, "Across must be from -10000 m to 10000 m"),
        ("pan", 36_001, "Pan must be from"),
    ],
)
def test_a_channel_keeps_to_its_range_in_commands_and_in_documents(channel, value, says):
    with pytest.raises(BadInput, match=says):
        one(
            DEMO,
            kind="keys.set",
            keys=[{"thing": "cam-a", "channel": channel, "frame": 1100, "value": value}],
            force=True,
        )
    spec = DEMO.cameras[0].spec(channel)
    kept = spec.kept(value) if value > 0 or spec.shown_as == "itself" else -30.0
    text = json.loads(write_scene(DEMO))
    for where in (
        {"rest": kept},
        {"rest": text["cameras"][0][channel]["rest"], "keys": [{"frame": 1001, "value": kept}]},
    ):
        text["cameras"][0][channel] = where
        with pytest.raises(BadInput, match=f"{spec.label} must be from"):
            read_scene(json.dumps(text))


@pytest.mark.parametrize(
    ("channel", "edge"),
    [("aperture", 0.5), ("aperture", 64), ("focal", 1), ("focal", 3000), ("exposure", -20)],
)
def test_the_ends_of_a_range_are_in_it(channel, edge):
    key = {"thing": "cam-a", "channel": channel, "frame": 1100, "value": edge}
    scene, _ = one(DEMO, kind="keys.set", keys=[key], force=True)
    assert np.isfinite(Bake(scene, ResultCache()).samples(scene.cameras[0]).values).all()


def test_moving_a_whole_path_past_the_stage_is_refused_and_nothing_is_lost():
    far, _ = one(DEMO, kind="things.move", ids=["cam-b"], dx=9000)
    with pytest.raises(BadInput, match="Across must be from"):
        one(far, kind="things.move", ids=["cam-b"], dx=9000)
    with pytest.raises(HeronError):
        one(DEMO, kind="thing.put", thing="cam-b", frame=1200, keep="path", x=1e9)
    with pytest.raises(BadInput):
        one(DEMO, kind="thing.put", thing="cam-b", frame=10**320, keep="path", x=1)


@pytest.mark.parametrize(
    "name",
    [
        "\u200b",
        "a\u200bb",
        "ab\u202e",
        "a\u2028b",
        "a\u0085b",
        "\u2066x",
        "tab\tbed",
        "\ufeffx",
        "\u200d",
        " \u200c ",
    ],
)
def test_names_that_cannot_be_seen_or_turn_the_line_are_refused(name):
    with pytest.raises(BadInput):
        one(DEMO, kind="camera.set", camera="cam-a", name=name)


@pytest.mark.parametrize("name", ["Żaba", "می‌روم", "👩‍🌾 close", "ø", "“Wide”"])
def test_names_of_every_script_are_welcome(name):
    assert one(DEMO, kind="camera.set", camera="cam-a", name=name)[0].cameras[0].name == name


@pytest.mark.parametrize("start", ["01:00:00:0", "٠١:٠٠:٠٠:٠٠", "1:0:0:0", "01:00:00;00", "25:00:00:00"])
def test_the_cuts_start_is_written_one_way(start):
    with pytest.raises(HeronError):
        one(DEMO, kind="scene.set", cut_start=start)
    assert one(DEMO, kind="scene.set", cut_start=" 02:00:00:00 ")[0].cut_start == "02:00:00:00"


def test_a_thing_may_be_called_cut_and_names_are_used_once():
    scene, _ = one(DEMO, kind="camera.add", id="cut", name="C", pose={"x": 0, "y": 1, "z": 0})
    assert Bake(scene, ResultCache()).samples(find(scene, "cameras", "cut")).values.shape[0] == 320
    for command in (
        {"kind": "shot.add", "camera": "cam-a", "name": "010"},
        {"kind": "shot.set", "shot": "shot-020", "name": "010"},
        {"kind": "mover.add", "shape": "boat", "name": "HERON", "pose": {"x": 0, "y": 0, "z": 0}},
        {"kind": "figure.set", "figure": "fig-odile", "name": "bram"},
    ):
        with pytest.raises(Refused, match=r"There is already a .* called"):
            one(DEMO, **command)


def test_keeping_a_size_does_not_take_a_zooms_keys():
    zoomed, _ = one(
        DEMO,
        kind="keys.set",
        keys=[
            {"thing": "cam-a", "channel": "focal", "frame": f, "value": v}
            for f, v in ((1100, 30), (1150, 60))
        ],
    )
    with pytest.raises(Refused, match="zooms by keys on its focal length"):
        one(zoomed, kind="camera.mount", camera="cam-a", lens="lens-zoom", focal=80, keep="size", frame=1120)
    assert len(zoomed.cameras[0].focal.keys) == 2


def test_content_of_version_2_means_what_it_meant():
    old = {"aperture": {"rest": 5.6, "keys": [{"frame": 1001, "value": 2.0}]}, "name": "A\u200bB\u2028C"}
    new = upgrade("cameras", old, 2)
    assert new["aperture"]["rest"] == pytest.approx(2 * math.log2(5.6))
    assert new["aperture"]["keys"][0]["value"] == 2.0  # f/2 is two stops from f/1: handbook arithmetic
    assert new["name"] == "AB C"
    assert old["aperture"]["rest"] == 5.6
    act = {"kind": "point", "frames": {"first": 1, "last": 9}, "x": 1.0, "y": 2.0, "z": 3.0}
    pointed = upgrade("figures", {"acts": [act]}, 1)["acts"][0]
    assert pointed["at"] == {"kind": "point", "x": 1.0, "y": 2.0, "z": 3.0} and "x" not in pointed
    assert upgrade("settings", {"cut_start": " ٠1:00:00:00"}, 2)["cut_start"] == "01:00:00:00"
    assert upgrade("cameras", {"name": "\u200b"}, 2)["name"] == "Nameless"
    assert upgrade("cameras", old, VERSION) is old


def test_looks_of_version_3_are_acts_of_their_own_lane():
    look = {
        "id": "gaz-1",
        "at": {"kind": "point", "x": 0, "y": 1, "z": 2},
        "frames": {"first": 5, "last": 9},
        "head": 0.5,
    }
    turn = {"kind": "turn", "id": None, "heading": 30, "frames": {"first": 7, "last": 40}}
    old = {"id": "fig-a", "name": "A", "acts": [turn], "gazes": [look]}
    figure = Figure.model_validate(upgrade("figures", old, 3))
    assert [(act.kind, act.id) for act in figure.acts] == [("look_at", "gaz-1"), ("turn", "act-1")]
    assert (figure.gazes[0].head, figure.gazes[0].at.z, "gazes" in old) == (0.5, 2, True)


def test_model_copy_is_no_way_round_the_rules():
    with pytest.raises(TypeError, match="skips the rules"):
        DEMO.cameras[0].model_copy(update={"iso": -1})
    with pytest.raises(Refused, match="id set-06 is used 2 times"):
        validate_scene(DEMO.having(pieces=(*DEMO.pieces, PIECE)))


def test_whatever_changes_a_channel_keeps_what_it_does_not_know():
    class Wider(Channel):
        note: str = ""

    wider = Wider(rest=1.0, keys=(Key(frame=5, value=2.0),), note="mine")
    for after in (
        wider.with_keys(Key(frame=9, value=3.0)),
        wider.without_keys(5),
        wider.shifted(1.0),
        wider.at_rest(4.0),
    ):
        assert type(after) is Wider and after.note == "mine"
    assert wider.without_keys(5).rest == 2.0


def test_a_fingerprint_tells_contents_apart_and_not_who_wears_them():
    a = DEMO.cameras[0]
    assert changed(a, name="Else", hidden=True).digest == a.digest != changed(a, iso=a.iso + 1).digest
    assert Channel(rest=1.0).digest != Channel(rest=2.0).digest
    keyed = Channel(keys=(Key(frame=1, value=1.0),))
    assert keyed.digest != Channel(keys=(Key(frame=1, value=1.0, after="held"),)).digest


@pytest.mark.parametrize("keep", ["path", "rest", "pose"])
def test_a_camera_with_layers_is_put_nowhere_at_a_frame_outside_the_scene(keep):
    with pytest.raises(Refused, match="Frame 1400 is outside the scene's range"):
        one(DEMO, kind="thing.put", thing="cam-b", frame=1400, keep=keep, pan=3)


def test_a_set_piece_is_a_millimetre_or_more():
    with pytest.raises(BadInput, match=r"at least 0\.001"):
        one(DEMO, kind="piece.set", piece=PIECE.id, width=1e-200)
