"""Samples: by content, the same in any order and company, and the same once packed."""

import json
import struct
import threading
import time

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation, Slerp
from strategies import commands

from heron.bake import Bake, OverlayCache, ResultCache, Samples, between
from heron.bake.cache import size_in_bytes
from heron.commands import parse_commands, run, run_one
from heron.demo import slack_tide
from heron.errors import HeronError
from heron.model import changed
from heron.scene import find
from heron.stage.acts.body import Walk
from heron.stage.body import perform
from heron.stage.figure import Figure
from heron.stage.skeleton import INDEX
from heron.timebase import Frames

DEMO = slack_tide()
BAKE = Bake(DEMO, ResultCache())
CAMERAS = {camera.id for camera in DEMO.cameras}
LOOKING = {"fig-odile", "fig-bram", "mov-oar"}


def after(*commands):
    return run(DEMO, parse_commands(json.dumps(list(commands))))[0]


def everything(scene):
    return [*scene.cameras, *scene.figures, *scene.movers]


@pytest.mark.parametrize("letter", "ABCDE")
def test_a_frame_alone_is_the_frame_of_the_whole_to_the_bit(letter):
    camera = next(c for c in DEMO.cameras if c.letter == letter)
    whole = BAKE.samples(camera).values
    for frame in (1320, 1001, 1177):
        alone = Bake(DEMO, ResultCache()).samples(camera, Frames(first=frame, last=frame)).values[0]
        np.testing.assert_array_equal(alone, whole[frame - 1001])


@settings(max_examples=30, deadline=None)
@given(commands)
def test_a_previews_rows_are_the_rows_of_the_bake_after_it_to_the_bit(command):
    """Whatever the command: tried over a few frames on a scratch layer, or done and baked from nothing."""
    try:
        scene, _ = run_one(DEMO, parse_commands(json.dumps(command))[0])
    except HeronError:
        return
    tried, done = Bake(scene, OverlayCache(BAKE.cache)), Bake(scene, ResultCache())
    some = Frames(first=1190, last=1193)
    for item in everything(scene):
        whole = done.samples(item)
        assert np.isfinite(whole.values).all()
        np.testing.assert_array_equal(tried.samples(item, some).values, whole.values[189:193])


def test_a_scratch_layer_pushes_nothing_out_and_computes_nothing_again():
    cache = ResultCache()
    bake = Bake(DEMO, cache)
    for item in everything(DEMO):
        bake.samples(item)
    made, held = cache.made.copy(), cache.held
    scratch = OverlayCache(cache)
    for item in everything(DEMO):
        Bake(DEMO, scratch).samples(item)
    assert scratch.made.total() == 0
    moved = after({"kind": "things.move", "ids": ["fig-odile"], "dx": 1})
    Bake(moved, scratch).samples(moved.figures[0])
    assert scratch.made["Figure"] == 1
    assert (cache.made, cache.held) == (made, held)


def test_packed_samples_say_still_columns_once():
    samples = BAKE.samples(DEMO.cameras[1])
    content = samples.packed()
    (length,) = struct.unpack_from("<I", content)
    header = json.loads(content[4 : 4 + length])
    assert length % 4 == 0  # rows of numbers begin on a whole word
    still = {int(i): v for i, v in header["still"].items()}
    moving = [i for i in range(len(header["columns"])) if i not in still]
    rows = np.frombuffer(content[4 + length :], "<f4").reshape(-1, len(moving))
    again = np.empty((320, len(header["columns"])), "f4")
    again[:, moving] = rows
    for i, value in still.items():
        again[:, i] = value
    np.testing.assert_array_equal(again, samples.values.astype("f4"))
    assert len(content) < samples.values.size * 4 * 0.7
    few = samples.only(["pan", "x", "wings"])
    assert few.columns == ("x", "pan") and few.at(1200) == {k: samples.at(1200)[k] for k in ("x", "pan")}


@pytest.mark.parametrize(
    ("command", "touched"),
    [
        ({"kind": "camera.glass", "camera": "cam-b", "iso": 400}, {"cam-b"}),
        ({"kind": "focus.rack", "camera": "cam-d", "frame": 1300, "on": {"kind": "distance", "metres": 4}}, {"cam-d"}),
        ({"kind": "camera.set", "camera": "cam-a", "name": "Else", "hidden": True}, set()),
        ({"kind": "keys.move", "keys": [{"thing": "mov-heron", "frame": 1294}], "by": 2}, {"mov-heron", *LOOKING, *CAMERAS}),
        ({"kind": "lens.set", "lens": "lens-50", "blades": 5}, {"cam-b", "cam-e", "cam-g", "cam-h"}),
        ({"kind": "scene.set", "light_ev": 8}, CAMERAS),
        ({"kind": "scene.set", "rate": "25"}, CAMERAS | {"fig-odile", "fig-bram", "mov-heron", "mov-oar"}),
        ({"kind": "piece.set", "piece": "set-06", "colour": "#123456"}, set()),
        ({"kind": "piece.set", "piece": "set-03", "name": "Else", "colour": "#123456"}, set()),
        # A figure meets the floor: what is focused on a figure goes with it.
        ({"kind": "piece.set", "piece": "set-03", "height": 0.3}, {*LOOKING, *CAMERAS} - {"cam-d"}),
        ({"kind": "things.move", "ids": ["set-03"], "dy": 0.1}, {*LOOKING, *CAMERAS} - {"cam-d"}),
        ({"kind": "figure.set", "figure": "fig-bram", "stature": 1.8}, {*LOOKING, *CAMERAS} - {"cam-d"}),
        # A look that goes elsewhere moves the head that is focused on; those who look at it follow where he stands.
        (
            {
                "kind": "figure.act.set", "figure": "fig-bram",
                "act": {"kind": "look_at", "id": "gaz-bram-1146", "at": {"kind": "point", "x": 3, "y": 1, "z": -12}, "frames": {"first": 1146, "last": 1200}},
            },
            {"fig-bram", "mov-oar", "cam-c", "cam-h"},
        ),
        # An expression changes a face and nothing that goes by where somebody is.
        (
            {
                "kind": "figure.act", "figure": "fig-odile",
                "act": {"kind": "express", "expression": "fear", "frames": {"first": 1010, "last": 1050}},
            },
            {"fig-odile"},
        ),
        # H watches him by name.
        ({"kind": "figure.set", "figure": "fig-bram", "name": "Else"}, {"cam-h"}),
        # What rides in the boat, or depends on it, moves with it.
        ({"kind": "things.move", "ids": ["mov-boat"], "dx": 0.1}, {"mov-boat", "cam-i"}),
        ({"kind": "camera.set", "camera": "cam-a", "gate": "fill"}, {"cam-a"}),
    ],
)  # fmt: skip
def test_a_key_changes_when_and_only_when_its_samples_can(command, touched):
    scene = after(command)
    new = Bake(scene, ResultCache())
    now = {item.id for item in everything(scene) if new.key(item) != BAKE.key(find_same(item))}
    assert now == touched
    # The key says whether the samples did change, not only that they may.
    for item in everything(scene):
        same = np.array_equal(new.samples(item).values, BAKE.samples(find_same(item)).values)
        assert same or item.id in touched


def find_same(item):
    return next(one for one in everything(DEMO) if one.id == item.id)


def test_what_depends_on_what_depends_on_something_changes_with_it():
    # Camera A focuses on Odile, who points at Bram, who stands on the jetty.
    on = {"kind": "figure", "figure": "fig-bram", "joint": "eyes"}
    act = {"kind": "point", "frames": {"first": 1240, "last": 1280}, "at": on}
    scene = after(
        {"kind": "figure.act", "figure": "fig-odile", "act": act},
        {
            "kind": "focus.set",
            "camera": "cam-a",
            "on": {"kind": "figure", "figure": "fig-odile", "joint": "wrist_r"},
        },
    )
    moved, _ = run_one(scene, parse_commands('{"kind": "things.move", "ids": ["fig-bram"], "dx": 2}')[0])
    one, two = Bake(scene, ResultCache()), Bake(moved, ResultCache())
    for table, id_ in (("figures", "fig-odile"), ("cameras", "cam-a")):
        a, b = find(scene, table, id_), find(moved, table, id_)
        assert one.key(a) != two.key(b)
        assert not np.array_equal(one.samples(a).values, two.samples(b).values)
    # Where she stands does not depend on where he is.
    np.testing.assert_array_equal(
        one.samples(scene.figures[0]).values[:, :3], two.samples(moved.figures[0]).values[:, :3]
    )


def test_old_results_make_room():
    one = BAKE.samples(DEMO.cameras[0])
    cache = ResultCache(keep_bytes=one.values.nbytes * 2)
    for key in "abcdeab":
        cache.get("x", key, lambda: Samples(one.columns, one.frames, one.values.copy(), {}))
    assert cache.made["x"] == 7 and cache.held <= one.values.nbytes * 2
    cache.get("x", "b", lambda: pytest.fail("the newest was still there"))


def test_a_result_is_weighed_with_all_that_it_holds():
    assert size_in_bytes({"a": [np.zeros(3), (b"12",)], "n": 7, "s": "text"}) == 26
    whole = np.zeros(100)
    assert size_in_bytes(whole[:2]) == 800  # a view keeps all of what it looks into
    done = BAKE.performance(DEMO.figures[0])
    cache = ResultCache()
    cache.get("x", "whole", lambda: done)
    feet = sum(
        a.nbytes for foot in done.feet.values() for a in vars(foot).values() if isinstance(a, np.ndarray)
    )
    assert feet > 0
    assert cache.held >= feet + done.turns.nbytes + done.places.nbytes + done.poses.nbytes


def test_however_many_ask_it_is_computed_once_and_a_failure_is_everyones():
    cache, made, got = ResultCache(), [], []

    def slow():
        made.append(1)
        time.sleep(0.05)
        return np.zeros(3)

    def ask():
        got.append(cache.get("x", "k", slow))

    threads = [threading.Thread(target=ask) for _ in range(8)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert (len(made), len(got)) == (1, 8)
    with pytest.raises(ZeroDivisionError):
        cache.get("x", "bad", lambda: 1 / 0)
    assert cache.get("x", "bad", lambda: 7) == 7  # not remembered as failed


def test_between_frames_a_figures_turns_are_slerps_and_its_places_straight():
    # scipy's Slerp is what a turn halfway between two is; neighbours are near, so a straight mean comes close.
    odile = DEMO.figures[0]
    a, half, b = BAKE.rows(odile, np.array([1100.0, 1100.5, 1101.0]))
    np.testing.assert_allclose(half[:3], (a[:3] + b[:3]) / 2, atol=1e-12)
    for joint in ("hip_r", "shoulder_l", "head"):
        at = 7 + 4 * INDEX[joint]
        expected = Slerp([0, 1], Rotation.from_quat([a[at : at + 4], b[at : at + 4]]))(0.5)
        off = (Rotation.from_quat(half[at : at + 4]) * expected.inv()).magnitude()
        assert off < 1e-5
    np.testing.assert_array_equal(BAKE.rows(odile, np.array([1100.0]))[0], BAKE.samples(odile).values[99])


def test_nothing_is_blended_across_a_jump():
    values = np.array([[0.0], [1.0], [10.0], [11.0]])
    t = np.array([100.5, 101.5, 101.999, 102.0, 102.5, 99.0, 200.0])
    got = between(values, 100, t, jumps=[102])[:, 0]
    np.testing.assert_allclose(got, [0.5, 1.0, 1.0, 10.0, 10.5, 0.0, 11.0])
    held = [
        {"thing": "cam-a", "channel": "x", "frame": f, "value": v, "before": "held", "after": "held"}
        for f, v in ((1100, 0), (1110, 5))
    ]
    scene = after({"kind": "keys.set", "keys": held})
    bake = Bake(scene, ResultCache())
    assert bake.jumps(scene.cameras[0]) == [1110] and bake.jumps(DEMO.cameras[1]) == []
    x = bake.rows(scene.cameras[0], np.array([1109.0, 1109.9, 1110.0]))[:, 0]
    assert list(x) == [0, 0, 5]


def test_a_mover_rests_at_its_first_and_last_key():
    heron = next(m for m in DEMO.movers if m.name == "Heron")
    rows = BAKE.samples(heron).values[:, :6]
    np.testing.assert_array_equal(rows[0], rows[1284 - 1001])
    assert rows[-1, 1] == 5.4 and np.ptp(rows[:284, 1]) == 0


def test_near_is_before_far_and_both_are_in_their_columns():
    for camera in DEMO.cameras:
        at = BAKE.samples(camera).at(1200)
        assert at["sharp_near_per_m"] > at["focus_per_m"] > at["sharp_far_per_m"] >= 0
        assert at["near_m"] < at["far_m"] == camera.far_m
        assert (at["x"], at["y"], at["z"]) == tuple(BAKE.rows(camera, np.array([1200]))[0, :3])
        assert at["aperture"] == pytest.approx(2 ** (camera.aperture.rest / 2))
        assert at["diagonal_deg"] > at["horizontal_deg"] > at["vertical_deg"]


def test_a_drafts_camera_is_baked_by_its_own_content():
    camera = DEMO.cameras[0]
    brighter = changed(camera, iso=camera.iso * 2)
    assert BAKE.key(brighter) != BAKE.key(camera)
    gains = [BAKE.samples(c).at(1100)["gain"] for c in (camera, brighter)]
    assert gains[1] / gains[0] == pytest.approx(2)  # one stop: handbook arithmetic


def test_a_figure_is_baked_anew_only_for_what_it_could_step_on():
    """A platform elsewhere is none of its business; one laid across its walk is."""
    odile = DEMO.figures[0]

    def key(*laid):
        scene = after(
            *({"kind": "piece.add", "id": f"n{i}", "shape": "platform", **one} for i, one in enumerate(laid))
        )
        return Bake(scene, ResultCache()).key(odile)

    x, z = odile.acts[0].points[-1]
    across = {"x": x, "z": z, "width": 0.5, "depth": 0.5, "height": 0.2}
    assert key() == BAKE.key(odile)
    assert key({**across, "x": 40.0}) == key()
    assert key(across) != key()


@settings(max_examples=20, deadline=None)
@given(st.lists(st.tuples(st.floats(-6, 6), st.floats(-6, 6)), min_size=1, max_size=6))
def test_every_step_lies_within_a_figures_reach(points):
    figure = Figure(
        id="w", name="W", acts=(Walk(frames=Frames(first=1001, last=1400), points=tuple(points)),)
    )
    x0, z0, x1, z1 = figure.reach
    for foot in perform(
        figure, lambda p: np.zeros(len(p)), Frames(first=1001, last=1400), 24, None
    ).feet.values():
        # The toes, too.
        assert (foot.ankle[:, [0, 2]] > [x0 + 0.3, z0 + 0.3]).all() and (
            foot.ankle[:, [0, 2]] < [x1 - 0.3, z1 - 0.3]
        ).all()


def test_what_acts_come_to_is_told_whatever_looks_and_faces_came_before_or_after():
    cache = ResultCache()
    before = Bake(DEMO, cache).samples(DEMO.figures[0]).facts["acts"]
    scene = after(
        {
            "kind": "figure.act", "figure": "fig-odile",
            "act": {"kind": "express", "expression": "fear", "frames": {"first": 1001, "last": 1020}},
        },
    )  # fmt: skip
    assert Bake(scene, cache).samples(scene.figures[0]).facts["acts"] == before != {}
