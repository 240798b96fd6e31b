"""What parts somebody from the ground, by hand: sRGB, Lambert's law, the sun's bearing, haze by halves; and heads in a frame."""

import math

import numpy as np
import pytest
from test_notes import CLEAN, TALL, box, camera, do, dressed_in, kinds_of, noted, stage, wall

from heron.bake import Bake
from heron.framing.heads import heads_in_frame
from heron.framing.hidden import Hiding
from heron.notes.brightness import FLOOR, SKY, Behind
from heron.notes.of_camera import judged
from heron.notes.views import AT
from heron.optics import blur_mm
from heron.scene import empty_scene, find
from heron.stage.colour import brightness, light_of, linear

SKY_GAIN, SUN_GAIN = 0.86, 1.05


def around(**more):
    """A stage under a low sun from +X, seen from its middle."""
    look = {"kind": "scene.set", "sun_bearing": -90, "sun_height": 30, "fill": 0, "haze_m": 100, **more}
    scene = do(empty_scene("Tones"), {"kind": "scene.set", "frames": {"first": 1001, "last": 1004}}, look)
    return scene, Behind(Bake(scene), Hiding(Bake(scene), np.array([1001])))


def look(behind, place, way, without=""):
    way = np.array([way], dtype=float) / np.linalg.norm(way)
    tone, far, what = behind.look(
        np.array([place], dtype=float), way, np.zeros(1, dtype=int), without, np.zeros(1)
    )
    return float(tone[0]), float(far[0]), int(what[0])


def test_brightness_of_colours_is_srgbs():
    """IEC 61966-2-1: middle grey 0x80 is 0.2158605 of white (from memory); Rec. 709: green is 0.7152 of it."""
    np.testing.assert_allclose(light_of("#808080"), 0.2158605, atol=1e-6)
    assert brightness("#00ff00") == pytest.approx(0.7152) and brightness("#ffffff") == pytest.approx(1)
    # Where its two pieces meet, the standard's own threshold.
    assert linear(np.array([0.04045]))[0] == pytest.approx(0.0031308, abs=1e-6)


def test_a_surface_is_lit_by_the_cosine_of_its_angle_to_the_sun():
    """Lambert: facing the sun's bearing, 30° high, a wall has cos 30° of it, a floor sin 30°; one turned away none."""
    scene, behind = around()
    sun = SUN_GAIN * brightness("#fff1d8")
    high, low = (brightness(getattr(scene.surround, name)) for name in ("sky_high", "ground"))
    ways = np.array([[0.0, 0.0, -1.0]])

    def lit(normal):
        return float(behind.painted(1.0, np.array([normal], dtype=float), ways)[0])

    half_sky = SKY_GAIN * (high + low) / 2
    # Bearing −90° is towards +X: the way that a camera panned so looks.
    assert lit([1, 0, 0]) == pytest.approx(sun * math.cos(math.radians(30)) + half_sky)
    assert lit([-1, 0, 0]) == pytest.approx(half_sky)
    assert lit([0, 1, 0]) == pytest.approx(sun * 0.5 + SKY_GAIN * high)
    assert lit([0, -1, 0]) == pytest.approx(SKY_GAIN * low)


def test_what_is_met_is_the_nearest_of_set_floor_and_sky():
    scene, _ = around()
    piece = {**box(0, 0, 2.0, 2.0, depth=0.2), "x": 0.0, "z": -5.0, "heading": 0.0, "colour": "#336699"}
    built = do(scene, piece)
    behind = Behind(Bake(built), Hiding(Bake(built), np.array([1001])))
    tone, far, what = look(behind, (0, 1, 0), (0, 0, -1))
    assert (what, far) == (0, pytest.approx(4.9))
    # Its face looks to +Z, away from the sun at +X.
    high, low = (brightness(getattr(scene.surround, name)) for name in ("sky_high", "ground"))
    assert tone == pytest.approx(brightness("#336699") * SKY_GAIN * (high + low) / 2)
    _, far, what = look(behind, (0, 2, 3), (0, -1, 0))
    assert (what, far) == (FLOOR, pytest.approx(2))
    assert look(behind, (0, 1, 0), (0, 1, 0))[2] == SKY
    # Not what it begins in the way of.
    assert look(behind, (0, 1, 0), (0, 0, -1), "p")[2] == SKY


def test_half_of_a_thing_is_lost_in_the_haze_over_its_half_distance():
    scene, behind = around()
    haze = brightness(scene.surround.sky_low)
    near, far = (look(behind, (0, y, 0), (0, -0.01, -1)) for y in (0.12, 1.12))
    # Nothing is lost within 12 m of the lens; from there half of it over each 100 m.
    assert near[1] == pytest.approx(12, abs=0.01) and far[1] == pytest.approx(112, abs=0.1)
    assert far[0] - haze == pytest.approx((near[0] - haze) / 2, rel=0.02)


def test_water_mirrors_the_sky_more_the_flatter_it_is_looked_at():
    scene, dry = around()
    _, wet = around(water=True)
    for down in (0.05, 0.3, 1.0):
        way = (0.0, -down, -1.0)
        floor, water = (look(one, (0, 0.5, 0), way)[0] for one in (dry, wet))
        sky = look(dry, (0, 0.5, 0), (0.0, down, -1.0))[0]
        share = 0.03 + 0.90 * (1 - down / math.hypot(down, 1)) ** 4
        deep = math.hypot(0.5 / down, 0.5) - 12
        lost = 1 - 2 ** (-max(deep, 0) / 100)
        haze = brightness(scene.surround.sky_low)
        undo = (np.array([floor, water]) - lost * haze) / (1 - lost)
        assert undo[1] == pytest.approx(undo[0] + share * (sky - undo[0]), abs=2e-3)


@pytest.mark.parametrize("metres", [0.45, 0.7, 0.9])
def test_how_near_the_ground_is_behind_somebody_is_what_was_built(metres):
    scene = do(camera(stage(), stop=11.0), wall(-metres - 0.1, "#9a7f58"))
    found = noted(do(scene, {"kind": "note.threshold", "note": "separation", "to": 2.0}), "separation")
    # From the middle of the head to the wall's near face, along lines of sight that are not quite square to it.
    assert found.measure == pytest.approx(metres, abs=0.13) and found.by == ("Wall",)


def test_a_line_is_noted_where_it_is_and_reeds_end_in_none():
    high = 0.87 * TALL
    scene = do(camera(stage(), stop=16.0), wall(-30.0, "#101010", high))
    found = noted(scene, "line-through-head")
    about = judged(Bake(scene), find(scene, "cameras", "c"), scene.frames)
    # Its top, 30 m behind her, by similar triangles, as the camera sees it.
    half, deep = about.seen.half[0, 1], about.middle[0, 2]
    eye = about.seen.place[0, 1]
    at = (high - eye) / (deep + 30.0) / half
    assert found.at[1] == pytest.approx(at, abs=0.06)
    reeds = do(camera(stage(), stop=16.0), {**wall(-30.0, "#101010", high), "shape": "reeds"})
    assert "line-through-head" not in kinds_of(reeds)


def test_a_line_counts_for_less_the_softer_it_is():
    """By the lens's own blur of 30 m behind her, against a share of her head: at that blur half of it is left."""

    def measured(stop):
        scene = do(camera(stage(), stop=stop), wall(-30.0, "#101010", 0.87 * TALL), {"kind": "note.threshold", "note": "line-through-head", "to": 0.2})  # fmt: skip
        about = judged(Bake(scene), find(scene, "cameras", "c"), scene.frames)
        head = 0.134 * float(about.share[0])
        row = about.seen
        deep = about.middle[0, 2] + 30.0
        blur = blur_mm(row.focal[:1], row.aperture[:1], row.focus[:1], np.array([1 / deep]))[0] / row.gate_mm
        return noted(scene, "line-through-head").measure, 1 / (1 + (float(blur) / (0.12 * head)) ** 2)

    (sharp, most), (soft, less) = measured(16.0), measured(2.8)
    assert less < 0.9 * most and soft / sharp == pytest.approx(less / most, rel=0.03)


def test_tones_that_are_far_apart_do_not_merge_whoever_stands_there():
    for coat, ground in (("#cda876", "#101216"), ("#202428", "#e8e0d0")):
        assert "merges" not in kinds_of(do(camera(stage()), wall(-6.0, ground), dressed_in(coat)))


def test_heads_in_a_frame_are_where_they_were_put():
    scene = camera(stage(), cut=0.43, eyes=0.4, x=0.2, bearing=31)
    (head,) = heads_in_frame(Bake(scene), find(scene, "cameras", "c"), 1010)
    about = judged(Bake(scene), find(scene, "cameras", "c"), scene.frames)
    x, y = about.seen.framed(about.marks)[9, AT["eyes"]]
    assert (head.figure, head.name) == ("o", "Odile")
    assert (head.x, head.y) == (pytest.approx(x, abs=1e-4), pytest.approx(y, abs=1e-4))
    assert head.y == pytest.approx(1 - 2 * 0.4, abs=0.02) and CLEAN["cut"] == 0.43
    # From crown to soles she is her stature high; from the eyes to the cut the frame holds 0.6 of its height.
    assert head.share == pytest.approx(0.6 / (0.936 - 0.43), rel=0.03)
