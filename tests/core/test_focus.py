"""Depth of field and blur: handbook examples, and a thin-lens ray tracer that knows no formula for either."""

import numpy as np
import pytest
from scipy.spatial import ConvexHull
from thin_lens import traced_blur

from heron.optics import (
    FilmBack,
    aperture_points,
    blur_mm,
    circle_of_confusion,
    drawn_pupil,
    hyperfocal,
    sharp_limits,
)

RNG = np.random.default_rng(11)


def one(value):
    return np.array([float(value)])


def test_blur_is_what_rays_through_a_thin_lens_make():
    for _ in range(60):
        focal, stop = RNG.uniform(18, 135), RNG.uniform(1.2, 16)
        focus, at = RNG.uniform(0.6, 30), RNG.uniform(0.5, 60)
        ours = blur_mm(one(focal), one(stop), one(1 / focus), one(1 / at))[0]
        assert ours == pytest.approx(traced_blur(focal, stop, focus, at), rel=1e-6, abs=1e-9)


def test_the_limits_of_sharpness_are_where_rays_spread_over_the_circle_of_confusion():
    for _ in range(30):
        focal, stop, focus, c = RNG.uniform(18, 100), RNG.uniform(1.4, 11), RNG.uniform(0.8, 8), 0.025
        near, far = sharp_limits(one(focal), one(stop), one(1 / focus), c)
        assert traced_blur(focal, stop, focus, 1 / near[0]) == pytest.approx(c, rel=1e-3)
        if far[0] > 0:
            assert traced_blur(focal, stop, focus, 1 / far[0]) == pytest.approx(c, rel=1e-3)
        else:
            assert traced_blur(focal, stop, focus, 1e7) <= c * 1.001


def test_a_handbook_example():
    # 50 mm at f/2.8, c 0.025 mm: hyperfocal 35.76 m; at 3 m sharp from 2.77 to 3.27 m.
    # The usual tables of cinematographers' handbooks, from memory.
    assert hyperfocal(one(50), one(2.8), 0.025)[0] == pytest.approx(35.76, abs=0.005)
    near, far = sharp_limits(one(50), one(2.8), one(1 / 3), 0.025)
    assert (1 / near[0], 1 / far[0]) == pytest.approx((2.77, 3.27), abs=0.005)


def test_focused_at_the_hyperfocal_all_from_half_of_it_to_infinity_is_sharp():
    # The definition of the hyperfocal distance in any handbook.
    far_focus = hyperfocal(one(35), one(8), 0.025)
    near, far = sharp_limits(one(35), one(8), 1 / far_focus, 0.025)
    assert 1 / near[0] == pytest.approx(far_focus[0] / 2, rel=1e-9)
    assert far[0] == pytest.approx(0, abs=1e-12)


def test_infinity_is_a_value():
    near, far = sharp_limits(one(50), one(4), one(0), 0.029)
    assert far[0] == 0 and 1 / near[0] == pytest.approx(50**2 / (4 * 0.029) / 1000)
    assert blur_mm(one(50), one(4), one(0), one(0))[0] == 0


def test_the_circle_of_confusion_of_35_mm_film_is_the_common_one():
    # Common handbook value for 35 mm: 0.025 to 0.030 mm.
    assert 0.025 <= circle_of_confusion(FilmBack(width_mm=36, height_mm=24)) <= 0.030
    assert circle_of_confusion(FilmBack(width_mm=36, height_mm=24), 0.02) == 0.02


def test_pinhole_pictures_from_the_drawn_pupil_add_up_to_the_lens_blur():
    # Two pinholes at the pupil's ends, each aimed so that the focus plane stays put: how far
    # apart they see a point is plain similar triangles on a film at the focal length.
    for _ in range(40):
        focal, stop = RNG.uniform(18, 135), RNG.uniform(1.2, 11)
        focus, at = RNG.uniform(0.6, 20), RNG.uniform(0.5, 60)
        r = drawn_pupil(one(focal), one(stop), one(1 / focus))[0]
        seen = [focal * ((0 - a) / at - (0 - a) / focus) for a in (-r, r)]
        ours = blur_mm(one(focal), one(stop), one(1 / focus), one(1 / at))[0]
        assert abs(seen[0] - seen[1]) == pytest.approx(ours, rel=1e-9)


@pytest.mark.parametrize("blades", [0, 3, 5, 6, 9])
def test_points_fill_the_opening_and_nothing_else(blades):
    points = aperture_points(blades, 1024)
    assert len(points) == 1024 and np.hypot(*points.T).max() <= 1
    # A regular polygon of n corners on the unit circle has the area n/2·sin(2π/n).
    area = np.pi if blades == 0 else blades / 2 * np.sin(2 * np.pi / blades)
    assert ConvexHull(points).volume == pytest.approx(area, rel=0.04)
    # Any first part is spread as evenly: 64 drawings must do.
    assert np.abs(points[:64].mean(axis=0)).max() < 0.06
    inner = np.hypot(*(points.T)) < 0.5
    assert inner.mean() == pytest.approx(np.pi * 0.25 / area, abs=0.05)
