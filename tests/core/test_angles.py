"""What is said of an angle: against a pinhole looked through by hand, and the near and far limits of sharpness."""

import json

from heron.bake import Bake
from heron.commands import parse_commands, run
from heron.framing.angles import angle_said
from heron.optics import sharp_limits
from heron.scene import empty_scene

POSE = dict.fromkeys(("x", "pan", "tilt", "roll"), 0)


def said(*more, z=5.0):
    """A camera on the Z axis that looks along −Z at a figure at the origin, from so many metres."""
    commands = [
        {"kind": "figure.add", "id": "f", "name": "One", "x": 0, "z": 0},
        {"kind": "camera.add", "id": "c", "name": "C", "focal": 35, "pose": {**POSE, "y": 1.2, "z": z}},
        {"kind": "focus.set", "camera": "c", "on": {"kind": "distance", "metres": 5}},
        *more,
    ]
    scene = run(empty_scene("Angles"), parse_commands(json.dumps(commands)))[0]
    return angle_said(Bake(scene), scene.cameras[0], scene.frames.first)


def test_an_angle_says_what_is_wrong_with_it():
    def wall(height):
        return {
            "kind": "piece.add",
            "id": "w",
            "shape": "box",
            "name": "Wall",
            "x": 0,
            "z": 2.5,
            "width": 4,
            "depth": 0.2,
            "height": height,
        }

    turned = {"kind": "thing.put", "thing": "c", "frame": 1001, "keep": "rest", "pan": 180}
    assert said() == ""
    assert said(turned) == "Nothing in the frame"
    assert said(wall(3)) == "Hidden by Wall"
    # Over a low one she is seen from the chest up.
    assert said(wall(0.8)) == ""


def test_out_of_focus_begins_where_sharpness_ends():
    wide = {"kind": "camera.glass", "camera": "c", "aperture": 2.0}
    one = [float(v) for v in (35, 2.0)]
    # The core's own limits are held against handbook tables elsewhere; here only that they are what decides.
    near, far = sharp_limits(one[0], one[1], 1 / 5, 0.029)
    for metres, sharp in (
        (1 / float(near) + 0.4, True),
        (1 / float(near) - 0.4, False),
        (1 / float(far) + 1.5, False),
    ):
        assert (said(wide, z=metres) == "") == sharp, metres
