"""Field of view and projection against OpenCV and USD's camera."""

import cv2
import numpy as np
import pytest
from pxr import Gf
from scipy.spatial.transform import Rotation

from heron.bake import CAMERA_COLUMNS, Samples
from heron.errors import BadInput
from heron.framing import project
from heron.optics import FilmBack, Lens, field_of_view, gate_size, parse_delivery
from heron.optics.backs import parse_back
from heron.timebase import Frames

RNG = np.random.default_rng(7)


def lens(width=36.0, height=24.0, **more):
    return Lens(back=FilmBack(width_mm=width, height_mm=height), **more)


def random_cameras(count):
    for _ in range(count):
        yield (
            float(RNG.uniform(8, 60)), float(RNG.uniform(6, 40)), float(RNG.uniform(12, 200)),
            float(RNG.uniform(0.4, 2.6)), str(RNG.choice(["fit", "fill", "width", "height"])), float(RNG.choice([1.0, 1.33, 2.0])),
        )  # fmt: skip


def test_angles_are_those_of_opencv_and_usd():
    for width, height, focal, aspect, gate, squeeze in random_cameras(200):
        made = lens(width, height, gate=gate, squeeze=squeeze)
        across, upright, _ = field_of_view(made, aspect, np.array([focal]))[0]
        w, h = gate_size(made, aspect)
        side = 10_000  # pixels each way, so that OpenCV's angles follow from its own arithmetic
        matrix = np.array(
            [[focal / (w * squeeze) * side, 0, side / 2], [0, focal / h * side, side / 2], [0, 0, 1]]
        )
        cv_across, cv_upright, *_ = cv2.calibrationMatrixValues(matrix, (side, side), w * squeeze, h)
        assert (across, upright) == pytest.approx((cv_across, cv_upright), abs=1e-9)
        usd = Gf.Camera()
        usd.horizontalAperture, usd.verticalAperture, usd.focalLength = w * squeeze, h, focal
        assert across == pytest.approx(usd.GetFieldOfView(Gf.Camera.FOVHorizontal), abs=1e-4)
        assert upright == pytest.approx(usd.GetFieldOfView(Gf.Camera.FOVVertical), abs=1e-4)
        assert (w * squeeze) / h == pytest.approx(aspect, rel=1e-12)


def test_a_gate_fits_inside_or_covers():
    assert gate_size(lens(), 16 / 9) == pytest.approx((36.0, 20.25))
    assert gate_size(lens(gate="fill"), 16 / 9) == pytest.approx((24 * 16 / 9, 24.0))
    assert gate_size(lens(gate="height"), 1.0) == pytest.approx((24.0, 24.0))
    assert gate_size(lens(gate="width"), 1.0) == pytest.approx((36.0, 36.0))
    # Common practice: portrait delivery is the 16:9 back with width and height exchanged.
    assert gate_size(lens(20.25, 36.0), 9 / 16) == pytest.approx((20.25, 36.0))


def test_full_frame_forty_millimetres():
    # 2·atan(36/80): a textbook value for a 40 mm lens on a 36 mm wide back, from memory 48.5 degrees.
    assert field_of_view(lens(), 1.5, np.array([40.0]))[0, 0] == pytest.approx(48.5, abs=0.05)


def samples(position, pan, tilt, roll, across, upright):
    row = [*position, pan, tilt, roll, 35.0, across, upright, 0.0]
    return Samples(CAMERA_COLUMNS, Frames(first=1, last=1), np.array([row]), {})


def test_projection_is_opencvs_and_usds():
    size = np.array([1920.0, 1080.0])
    for _ in range(100):
        position, target = RNG.uniform(-8, 8, 3), RNG.uniform(-8, 8, 3)
        pan, tilt, roll = RNG.uniform(-180, 180), RNG.uniform(-80, 80), RNG.uniform(-30, 30)
        upright = float(RNG.uniform(8, 70))
        across = float(np.degrees(2 * np.arctan(np.tan(np.radians(upright / 2)) * 16 / 9)))
        seen = project(samples(position, pan, tilt, roll, across, upright), target[None])
        # Pan about world up, then tilt, then roll: scipy's intrinsic YXZ.
        world = Rotation.from_euler("YXZ", [pan, tilt, roll], degrees=True)
        # OpenCV looks along +Z with Y down: half a turn about X from ours.
        to_cv = Rotation.from_euler("X", 180, degrees=True) * world.inv()
        if (to_cv.apply(target - position))[2] < 0.05:
            continue
        focal = size[1] / 2 / np.tan(np.radians(upright / 2))
        matrix = np.array([[focal, 0, size[0] / 2], [0, focal, size[1] / 2], [0, 0, 1]])
        pixel, _ = cv2.projectPoints(target[None], to_cv.as_rotvec(), -to_cv.apply(position), matrix, None)
        ours = ((seen.x[0] + 1) / 2 * size[0], (1 - seen.y[0]) / 2 * size[1])
        assert ours == pytest.approx(pixel.ravel(), abs=1e-6 * max(1, np.abs(pixel).max()))

        frustum = Gf.Frustum()
        frustum.SetPerspective(upright, True, 16 / 9, 0.1, 1000)
        frustum.position = Gf.Vec3d(*position)
        q = world.as_quat()
        frustum.rotation = Gf.Rotation(Gf.Quatd(q[3], q[0], q[1], q[2]))
        clip = frustum.ComputeProjectionMatrix().Transform(
            frustum.ComputeViewMatrix().Transform(Gf.Vec3d(*target))
        )
        assert (seen.x[0], seen.y[0]) == pytest.approx(
            clip[:2], abs=1e-5 * max(1, abs(clip[0]), abs(clip[1]))
        )


def test_signs_are_as_an_operator_says_them():
    # Common practice: pan left, tilt up, and a camera without any of them looks down −Z.
    ahead = samples((0, 0, 0), 0, 0, 0, 60, 40)
    assert project(ahead, np.array([[0.0, 0.0, -5.0]])).depth[0] == pytest.approx(5)
    assert project(ahead, np.array([[0.0, 0.0, 5.0]])).inside[0] == np.False_
    panned = samples((0, 0, 0), 90, 0, 0, 60, 40)
    assert project(panned, np.array([[-5.0, 0.0, 0.0]])).x[0] == pytest.approx(0, abs=1e-12)
    assert project(samples((0, 0, 0), 0, 90, 0, 60, 40), np.array([[0.0, 5.0, 0.0]])).depth[
        0
    ] == pytest.approx(5)
    rolled = samples((0, 0, 0), 0, 0, 90, 90, 90)
    assert project(rolled, np.array([[-1.0, 0.0, -5.0]])).y[0] == pytest.approx(0.2)


@pytest.mark.parametrize("text", ["0x24", "36", "36x-1", "1000000x24", "nanx24", "a x b"])
def test_a_film_back_is_a_real_size(text):
    with pytest.raises(BadInput):
        parse_back(text)


@pytest.mark.parametrize("text", ["0", "16:0", "99", "wide", "-1.85", "1e9"])
def test_a_delivery_is_a_real_aspect(text):
    with pytest.raises(BadInput):
        parse_delivery(text)


def test_deliveries_as_people_write_them():
    assert parse_delivery("16:9").aspect == pytest.approx(16 / 9)
    assert parse_delivery(" 2.39 ").aspect == 2.39
    assert parse_delivery("1920x1080").aspect == pytest.approx(16 / 9)
