"""Lenses on cameras: limits, sizes kept, racks, exposure, clipping, lines over the frame."""

import json
import math

import cv2
import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from heron.bake import Bake
from heron.commands import parse_commands, run, run_one
from heron.demo import slack_tide
from heron.errors import BadInput, BeyondLens, HeronError, NotFound
from heron.framing import clipping, compare, figures_in_focus, frame_lines, in_words
from heron.optics import (
    FIRST_KIT,
    exposure_value,
    field_of_view,
    gate_size,
    parse_deliveries,
    shutter_seconds,
)
from heron.scene import empty_scene, find, read_scene, write_scene
from heron.timebase import Frames

DEMO = slack_tide()


def one(scene, **command):
    return run_one(scene, parse_commands(json.dumps(command))[0])


def after(scene, *commands):
    return run(scene, parse_commands(json.dumps(list(commands))))[0]


def at(scene, letter, frame):
    camera = next(c for c in scene.cameras if c.letter == letter)
    return Bake(scene).samples(camera, Frames(first=frame, last=frame)).at(frame)


def portrait(distance=4.0, **more):
    """A figure 1.7 m tall facing a level camera at breast height, `distance` metres off."""
    camera = {
        "kind": "camera.add",
        "id": "c",
        "name": "C",
        "focal": 40,
        "pose": {"x": 0, "y": 0.85, "z": distance},
    }
    figure = {"kind": "figure.add", "id": "f", "name": "F", "stature": 1.7, "x": 0, "z": 0, "heading": 180}
    return after(empty_scene("P"), figure, {**camera, **more})


# Exposure


def test_shutter_and_stop_arithmetic():
    # Handbook arithmetic: 180° at 24 frames a second is 1/48 s; each full stop is one EV.
    assert shutter_seconds(180, 24) == pytest.approx(1 / 48)
    full_stops = np.sqrt(2.0) ** np.arange(0, 12)
    assert np.diff(exposure_value(full_stops, 1 / 48, 100)) == pytest.approx(np.ones(11))
    assert exposure_value(np.array([1.0]), 1.0, 100)[0] == 0
    # Common practice, “sunny sixteen”: f/16 at 1/ISO s in full sun is about EV 15.
    assert exposure_value(np.array([16.0]), 1 / 125, 125)[0] == pytest.approx(15, abs=0.4)
    assert exposure_value(np.array([4.0]), 1 / 48, 400)[0] == pytest.approx(
        exposure_value(np.array([4.0]), 1 / 48, 100)[0] - 2
    )


@pytest.mark.parametrize("hold", ["shutter", "iso", "exposure", None])
def test_a_stop_can_change_and_the_exposure_hold(hold):
    scene = after(DEMO, {"kind": "camera.glass", "camera": "cam-b", "aperture": 4, "shutter_deg": 90})
    held, sentence = one(
        scene, kind="camera.glass", camera="cam-b", aperture=5.6, **({"hold": hold} if hold else {})
    )
    assert at(held, "B", 1200)["gain"] == pytest.approx(at(scene, "B", 1200)["gain"], rel=1e-9)
    assert "held by" in sentence
    changed, _ = one(scene, kind="camera.glass", camera="cam-b", aperture=5.6, hold="nothing")
    assert at(changed, "B", 1200)["gain"] == pytest.approx(at(scene, "B", 1200)["gain"] * (4 / 5.6) ** 2)


def test_what_cannot_give_says_what_else_can():
    with pytest.raises(HeronError, match=r"shutter would have to be 1440°.* Let the ISO"):
        one(DEMO, kind="camera.glass", camera="cam-b", aperture=2.8 * 2**1.5, hold="shutter")


def test_a_keyed_stop_goes_evenly_in_stops():
    straight = {"thing": "cam-a", "channel": "aperture", "before": "straight", "after": "straight"}
    keys = {
        "kind": "keys.set",
        "keys": [{**straight, "frame": f, "value": v} for f, v in ((1100, 2.8), (1120, 11.2))],
    }
    stops = [at(after(DEMO, keys), "A", f)["aperture"] for f in (1100, 1105, 1110, 1120)]
    assert stops == pytest.approx([2.8, 2.8 * math.sqrt(2), 5.6, 11.2])


# Focus and racks


def test_focus_follows_what_it_is_bound_to():
    scene = DEMO
    odile = find(scene, "figures", "fig-odile")
    eyes = Bake(scene).performance(odile).landmark("eyes")
    for frame in (1010, 1100, 1180):
        row = at(scene, "A", frame)
        # Along the axis, as OpenCV has depth: the third coordinate in the camera.
        turn = Rotation.from_euler("YXZ", [row["pan"], row["tilt"], row["roll"]], degrees=True)
        depth = -turn.inv().apply(eyes[frame - 1001] - [row["x"], row["y"], row["z"]])[2]
        assert 1 / row["focus_per_m"] == pytest.approx(depth, abs=1e-9)


def test_a_rack_runs_evenly_as_the_eye_sees_it():
    scene = after(
        DEMO,
        {"kind": "focus.set", "camera": "cam-a", "on": {"kind": "distance", "metres": 1.5}},
        {
            "kind": "focus.rack",
            "camera": "cam-a",
            "frame": 1124,
            "over": 24,
            "on": {"kind": "distance", "metres": None},
        },
    )
    rows = [at(scene, "A", frame) for frame in range(1099, 1126)]
    metres = [1 / max(r["focus_per_m"], 1e-12) for r in rows]
    assert metres[0] == metres[1] == pytest.approx(1.5) and rows[-1]["focus_per_m"] == 0
    # How far a lens turns out for a distance is f²/(s−f): handbook optics. Even in that but for the
    # last factor 1/(1−f/s), which at 1.5 m through 32 mm is 2 % either way.
    f = rows[0]["focal_mm"] / 1000
    out = [f * f / (m - f) for m in metres[1:-1]]
    assert np.diff(out) == pytest.approx(np.full(len(out) - 1, (out[-1] - out[0]) / (len(out) - 1)), rel=0.05)
    assert at(scene, "A", 1112)["focus_per_m"] == pytest.approx(0.5 / 1.5)


def test_a_rack_has_room_or_says_so():
    with pytest.raises(HeronError, match=r"rack to the mark at 1270 takes 12 frames.* only 4 frames away"):
        one(
            DEMO, kind="focus.rack", camera="cam-c", frame=1270, over=12, on={"kind": "distance", "metres": 3}
        )


def test_focus_on_what_is_gone_is_refused_and_what_goes_leaves_its_distance():
    with pytest.raises(NotFound, match="no figure nobody"):
        one(DEMO, kind="focus.set", camera="cam-a", on={"kind": "figure", "figure": "nobody"})
    with pytest.raises(HeronError, match="no joint “tail”"):
        one(
            DEMO,
            kind="focus.set",
            camera="cam-a",
            on={"kind": "figure", "figure": "fig-odile", "joint": "tail"},
        )
    gone, sentence = one(DEMO, kind="things.delete", ids=["fig-odile"])
    assert (
        sentence
        == "Deleted Odile; what it did to camera F, G, H and I is keys now; the look of Bram stays where it was; Bram hands it to nobody; the focus of camera A, B, E, F, G and I stays where it was"
    )
    assert at(gone, "A", 1001)["focus_per_m"] == pytest.approx(at(DEMO, "A", 1001)["focus_per_m"], rel=1e-3)
    assert read_scene(write_scene(gone)) == gone


def test_focus_on_a_piece_goes_with_it():
    box = {
        "kind": "piece.add",
        "id": "b",
        "shape": "box",
        "name": "Crate",
        "x": 0,
        "z": -2,
        "width": 2,
        "depth": 1,
        "height": 1,
    }
    on = {"kind": "focus.set", "camera": "c", "on": {"kind": "piece", "piece": "b", "along": 0.5}}
    scene = after(portrait(distance=4), box, on)
    # The near face stands half a metre before the middle: 4 + 2 − 0.5.
    assert 1 / at(scene, "A", 1001)["focus_per_m"] == pytest.approx(5.5)
    moved = after(scene, {"kind": "things.move", "ids": ["b"], "dz": -1})
    assert 1 / at(moved, "A", 1001)["focus_per_m"] == pytest.approx(6.5)
    turned = after(scene, {"kind": "piece.set", "piece": "b", "heading": 90, "depth": 3})
    assert 1 / at(turned, "A", 1001)["focus_per_m"] == pytest.approx(6.0)
    gone, sentence = one(scene, kind="things.delete", ids=["b"])
    assert "focus of camera A stays where it was" in sentence
    assert 1 / at(gone, "A", 1001)["focus_per_m"] == pytest.approx(5.5)
    assert gone.cameras[0].focus.on.of == "where Crate was"


def test_which_figures_are_sharp_in_words():
    words = in_words(figures_in_focus(Bake(DEMO), find(DEMO, "cameras", "cam-b"), 1200, 1920))
    assert words.startswith("Sharp: Odile. Soft: Bram (nearer, ")
    closed = after(DEMO, {"kind": "camera.glass", "camera": "cam-b", "aperture": 45})
    assert (
        in_words(figures_in_focus(Bake(closed), find(closed, "cameras", "cam-b"), 1200, 1920))
        == "Sharp: Bram, Odile."
    )


# Lenses


@pytest.mark.parametrize(
    ("command", "says"),
    [
        ({"kind": "camera.set", "focal": 55}, "The 50 mm is a prime: 55 mm is not 50 mm"),
        ({"kind": "camera.glass", "aperture": 1.2}, "opens to f/1.4, not to f/1.2"),
        ({"kind": "focus.set", "on": {"kind": "distance", "metres": 0.3}}, "focuses no nearer than 0.45 m"),
    ],
)
def test_a_lens_refuses_what_it_cannot_or_is_forced_and_marked(command, says):
    with pytest.raises(BeyondLens, match=says):
        one(DEMO, camera="cam-b", **command)
    forced, sentence = one(DEMO, camera="cam-b", force=True, **command)
    assert sentence.endswith("forced")
    facts = Bake(forced).samples(forced.cameras[1], Frames(first=1200, last=1200)).facts
    assert len(facts["forced"]) == 1 and says.lower() in facts["forced"][0].lower()
    # Once forced, what has nothing to do with it is no trouble.
    one(forced, kind="camera.glass", camera="cam-b", iso=400)


@pytest.mark.parametrize(
    "command",
    [
        {"kind": "camera.set", "back": {"width_mm": 0, "height_mm": 24}},
        {"kind": "camera.set", "back": {"width_mm": 1e6, "height_mm": 1e6}},
        {"kind": "camera.glass", "near_m": 50, "far_m": 20},
        {"kind": "camera.glass", "iso": 0},
        {"kind": "focus.set", "on": {"kind": "distance", "metres": 0.05}},
        {"kind": "focus.set", "on": {"kind": "distance", "metres": -3}},
        {"kind": "camera.set", "focal": 0},
        {"kind": "camera.mount", "lens": "lens-nowhere"},
    ],
)
def test_what_no_lens_can_is_refused_even_with_force(command):
    force = {} if command["kind"] == "camera.mount" else {"force": True}
    with pytest.raises(HeronError):
        one(DEMO, camera="cam-a", **command, **force)


def pixels(scene, letter, frame, points):
    """Where OpenCV puts points in a 1920 × 1080 picture."""
    row = at(scene, letter, frame)
    camera = next(c for c in scene.cameras if c.letter == letter)
    turn = Rotation.from_euler("YXZ", [row["pan"], row["tilt"], row["roll"]], degrees=True)
    to_cv = Rotation.from_euler("X", 180, degrees=True) * turn.inv()
    scale = row["focal_mm"] / gate_size(camera.lens, scene.delivery.aspect)[0] * 1920
    matrix = np.array([[scale, 0, 960], [0, scale, 540], [0, 0, 1.0]])
    place = np.array([row["x"], row["y"], row["z"]])
    return cv2.projectPoints(np.array(points), to_cv.as_rotvec(), -to_cv.apply(place), matrix, None)[0][:, 0]


def test_another_lens_keeps_the_figures_size():
    # The far focus of a lens and the near one of another, measured by OpenCV.
    odile = find(DEMO, "figures", "fig-odile")
    body = Bake(DEMO).performance(odile)
    ends = [body.landmark(n)[1215 - 1001] for n in ("crown", "chin")]
    size = np.linalg.norm(np.subtract(*pixels(DEMO, "E", 1215, ends)))
    for lens in ("lens-24", "lens-100", "lens-135"):
        other, sentence = one(DEMO, kind="camera.mount", camera="cam-e", lens=lens, keep="size", frame=1215)
        assert "keeping Odile's head in size" in sentence
        assert np.linalg.norm(np.subtract(*pixels(other, "E", 1215, ends))) == pytest.approx(size, rel=1e-6)
        # Along its own axis, so what is in the middle stays there.
        before, now = at(DEMO, "E", 1215), at(other, "E", 1215)
        ahead = Rotation.from_euler("YXZ", [before["pan"], before["tilt"], 0], degrees=True).apply([0, 0, -1])
        moved = np.array([now[k] - before[k] for k in "xyz"])
        assert np.linalg.norm(np.cross(moved, ahead)) < 1e-9


def test_the_lens_steps_through_the_kit_and_stops_at_its_ends():
    scene, focals = after(DEMO, {"kind": "camera.mount", "camera": "cam-e", "lens": "lens-100"}), []
    for _ in range(2):
        scene, _ = one(scene, kind="camera.mount", camera="cam-e", step=1)
        focals.append(scene.cameras[4].focal.rest)
    assert focals == [135.0, 120.0]  # the longest prime, then the zoom at the nearest it has
    with pytest.raises(HeronError, match="goes no longer"):
        one(scene, kind="camera.mount", camera="cam-e", step=1)
    assert scene.cameras[4].stop(scene.cameras[4].aperture.rest) == pytest.approx(
        FIRST_KIT[-1].widest
    )  # stopped down, and said
    # Zoomed to 31.2 mm, the lenses of the kit beside it are the 24 and the 32.
    zoomed = after(scene, {"kind": "camera.set", "camera": "cam-e", "focal": 31.2})
    sides = [
        one(zoomed, kind="camera.mount", camera="cam-e", step=by)[0].cameras[4].focal.rest for by in (-1, 1)
    ]
    assert sides == [24.0, 32.0]


def test_a_full_body_at_forty_stands_where_practice_has_it():
    # Common practice: a full-body shot at 40 mm on a back 36 mm wide. The body filling 80 % of a
    # 16:9 frame stands at f·H/(0.8·h): similar triangles, 4.2 m for 1.70 m.
    expected = 40 * 1.7 / (0.8 * 20.25)
    scene = portrait(distance=expected)
    (told,) = compare(Bake(scene), scene.cameras[0], [40.0], 1001, None)
    assert (told.part, told.figure) == ("body", "F")
    assert told.distance_m == pytest.approx(expected, abs=0.05)
    wide, long = compare(Bake(scene), scene.cameras[0], [20.0, 80.0], 1001, "f")
    assert (wide.distance_m, long.distance_m) == pytest.approx((expected / 2, expected * 2), rel=0.01)
    # A longer lens flattens depth (common practice): what is behind reads larger.
    assert wide.behind < told.behind < long.behind < 1


def test_no_figure_no_size_to_keep():
    away = portrait(distance=4, pose={"x": 0, "y": 1, "z": 4, "pan": 180})
    with pytest.raises(HeronError, match="No figure is in camera A's frame"):
        one(away, kind="camera.mount", camera="c", lens="lens-85", keep="size", frame=1001)


def test_taking_a_lens_out_of_the_kit_frees_its_cameras():
    after_, sentence = one(DEMO, kind="things.delete", ids=["lens-50"])
    assert sentence == "Deleted 50 mm; it comes off camera B, E, G and H"
    assert [c.mounted for c in after_.cameras if c.letter in "BE"] == [None, None]
    with pytest.raises(HeronError, match="already a lens called 40 mm"):
        one(DEMO, kind="lens.add", shortest_mm=40)
    with pytest.raises(HeronError, match="would end at 20 mm, before it starts"):
        one(DEMO, kind="lens.add", shortest_mm=40, longest_mm=20, name="Odd")


# Frame


def test_an_anamorphic_sees_wider_and_its_bright_spots_stand_upright():
    plain = after(
        DEMO,
        {
            "kind": "camera.set",
            "camera": "cam-a",
            "back": {"width_mm": 21.95, "height_mm": 18.6},
            "gate": "height",
        },
    )
    wide = after(plain, {"kind": "camera.set", "camera": "cam-a", "squeeze": 2.0})
    row = at(wide, "A", 1100)
    camera = wide.cameras[0]
    w, h = gate_size(camera.lens, wide.delivery.aspect)
    assert w * 2 / h == pytest.approx(wide.delivery.aspect)
    assert row["vertical_deg"] == pytest.approx(at(plain, "A", 1100)["vertical_deg"])
    assert row["pupil_up_m"] / row["pupil_across_m"] == pytest.approx(2)
    assert row["horizontal_deg"] == pytest.approx(
        field_of_view(camera.lens, wide.delivery.aspect, np.array([32.0]))[0, 0]
    )


def test_safe_areas_have_their_published_shares():
    # SMPTE ST 2046-1: safe action 93 %, safe title 90 %. EBU R 95: 3.5 % and 5 % in from each edge. From memory.
    for standard, shares in (("smpte", (0.93, 0.90)), ("ebu", (1 - 0.07, 1 - 0.10))):
        boxes = [line.box for line in frame_lines(16 / 9, standard) if line.group == "safe"]
        assert boxes == [pytest.approx((s, s)) for s in shares]


@pytest.mark.parametrize(("aspect", "inside"), [(16 / 9, 9 / 16), (1.0, 2.39), (2.39, 16 / 9), (9 / 16, 1.0)])
def test_a_protected_frame_has_its_own_aspect_and_fits(aspect, inside):
    (line,) = (x for x in frame_lines(aspect, "smpte", [inside]) if x.group == "protect")
    wide, high = line.box
    assert wide * aspect / high == pytest.approx(inside)
    assert max(wide, high) == 1


def test_the_golden_section_and_several_protected_frames():
    """Euclid, Elements VI, 30: the whole is to the larger part as the larger is to the smaller."""
    lines = frame_lines(16 / 9, protect=parse_deliveries("9:16, 1:1"))
    (golden,) = (one for one in lines if one.group == "golden")
    x = max(segment[0] for segment in golden.segments if segment[0] == segment[2])
    larger, smaller = (1 + x) / 2, (1 - x) / 2
    assert larger / smaller == pytest.approx(1 / larger)
    assert [one.box for one in lines if one.group == "protect"] == [
        pytest.approx((81 / 256, 1)), pytest.approx((9 / 16, 1))
    ]  # fmt: skip
    # One that follows keeps its width, and ends with the frame.
    for follow, middle in ((0.3, 0.3), (0.9, 1 - 81 / 256), (-1.0, 81 / 256 - 1)):
        (one,) = (x for x in frame_lines(16 / 9, protect=[9 / 16], follow=follow) if x.group == "protect")
        assert one.middle[0] == pytest.approx(middle)
        assert max(s[2] for s in one.segments) - min(s[0] for s in one.segments) == pytest.approx(
            2 * 81 / 256
        )
    with pytest.raises(BadInput):
        parse_deliveries("1:1,1:1,1:1,1:1,1:1")


def test_what_the_far_distance_takes_out_is_told_and_a_better_one_suggested():
    camera = {"kind": "camera.glass", "camera": "c", "far_m": 12.0}
    wall = {
        "kind": "piece.add",
        "id": "w",
        "shape": "wall",
        "name": "Far wall",
        "x": 0,
        "z": -16,
        "width": 4,
        "depth": 0.2,
        "height": 3,
    }
    behind = {**wall, "id": "b", "name": "Behind", "z": 60}
    long = {**wall, "id": "l", "name": "Long wall", "x": 1, "z": -5, "width": 0.2, "depth": 10}
    scene = after(portrait(), camera, wall, behind, long)
    told = clipping(Bake(scene), scene.cameras[0], 1001)
    assert (told.beyond, told.partly_beyond, told.nearer) == (["Far wall"], ["Long wall"], [])
    # The wall's far face stands 20.1 m off; a tenth more, rounded up.
    assert 20.1 < told.suggested_far_m <= 23
    seen = after(scene, {"kind": "camera.glass", "camera": "c", "far_m": told.suggested_far_m})
    assert clipping(Bake(seen), seen.cameras[0], 1001).beyond == []
