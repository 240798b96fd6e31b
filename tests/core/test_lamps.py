"""Lamps: where they are, how bright, what they may do; a rim by the geometry of light and edge."""

import json

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from heron.bake import Bake
from heron.commands import parse_commands, run
from heron.errors import HeronError
from heron.scene import empty_scene, find
from heron.stage.reference import OnFigure

LAMP = {"kind": "mover.add", "id": "l", "shape": "lamp", "name": "Lamp", "pose": {"x": 1, "y": 2, "z": 0}}
CAMERA = {
    "kind": "camera.add",
    "id": "c",
    "pose": {"x": 0.5, "y": 1.6, "z": 4, "pan": 10, "tilt": -3, "roll": 0},
}


def stage(*commands):
    people = [
        {"kind": "figure.add", "id": "o", "name": "Odile", "x": 0, "z": 0, "heading": 180},
        {"kind": "figure.add", "id": "b", "name": "Bram", "x": 1.1, "z": 0, "heading": 90},
    ]
    return run(empty_scene("Lit"), parse_commands(json.dumps([*people, CAMERA, *commands])))


def rows(scene, id_="l"):
    samples = Bake(scene).samples(find(scene, "movers", id_))
    return samples.values[:, :6], samples.column("stops"), samples.column("cone_deg")


def test_brightness_and_cone_are_keyed_like_anything():
    scene, said = stage(
        LAMP,
        {"kind": "mover.light", "mover": "l", "spread": "cone"},
        {
            "kind": "number.set",
            "thing": "l",
            "channel": "light.stops",
            "value": -2,
            "frame": 1001,
            "key": True,
        },
        {"kind": "number.set", "thing": "l", "channel": "light.stops", "value": 1, "frame": 1025},
        {"kind": "number.set", "thing": "l", "channel": "light.cone_deg", "value": 40, "frame": 1001},
    )
    _, stops, cone = rows(scene)
    assert (stops[0], stops[24], stops[-1]) == (-2, 1, 1) and set(cone) == {40}
    assert said[-3:] == [
        "Set brightness of Lamp to -2 stops at 1001", "Set brightness of Lamp to 1 stops at 1025", "Set cone of Lamp to 40 °",
    ] or said[-1].startswith("Set cone of Lamp to 40")  # fmt: skip
    moved, _ = run(
        scene,
        parse_commands(
            json.dumps(
                [
                    {
                        "kind": "keys.move",
                        "keys": [{"thing": "l", "channel": "light.stops", "frame": 1025}],
                        "by": 5,
                    }
                ]
            )
        ),
    )
    assert rows(moved)[1][29] == 1


@pytest.mark.parametrize(
    ("before", "command", "says"),
    [
        ([{**LAMP, "id": f"l{i}", "name": f"L{i}"} for i in range(4)], {**LAMP, "id": "more", "name": "More"}, "L0, L1, L2 and L3 light this scene already"),
        ([LAMP], {"kind": "number.set", "thing": "l", "channel": "light.stops", "value": 40, "frame": 1001}, "Brightness must be from -10"),
        ([], {"kind": "number.set", "thing": "x", "channel": "light.stops", "value": 1, "frame": 1001}, "no camera or mover or figure x"),
        ([LAMP, {"kind": "mover.light", "mover": "l", "spread": "none"}], {"kind": "number.set", "thing": "l", "channel": "light.stops", "value": 1, "frame": 1001}, "has no light"),
        ([LAMP], {"kind": "mover.light", "mover": "l", "spread": "round", "reach_m": 0}, "Reach"),
        ([LAMP], {"kind": "mover.ride", "ids": ["l"], "on": "nobody", "frame": 1001}, "no mover or camera nobody"),
    ],
)  # fmt: skip
def test_what_lamps_cannot_do_is_refused(before, command, says):
    scene, _ = stage(*before)
    with pytest.raises(HeronError, match=says) as refused:
        run(scene, parse_commands(json.dumps([command])))
    assert refused.value.remedy


def test_a_lamp_that_rides_with_a_camera_keeps_its_place_in_the_cameras_frame():
    scene, said = stage(
        {"kind": "keys.set", "keys": [
            {"thing": "c", "channel": n, "frame": f, "value": v}
            for n, f, v in (("x", 1001, 0.5), ("x", 1100, 3), ("pan", 1001, 10), ("pan", 1100, 55), ("tilt", 1001, -3), ("tilt", 1100, 20))
        ]},
        LAMP,
        {"kind": "mover.ride", "ids": ["l"], "on": "c", "frame": 1001},
    )  # fmt: skip
    assert said[-1] == "Lamp rides with camera A as at 1001"
    pose, _, _ = rows(scene)
    seen = Bake(scene).samples(scene.cameras[0]).values[:, :6]
    turn = Rotation.from_euler("YXZ", seen[:, 3:6], degrees=True)
    own = turn.inv().apply(pose[:, :3] - seen[:, :3])
    np.testing.assert_allclose(pose[0, :3], [1, 2, 0], atol=1e-9)
    np.testing.assert_allclose(own, np.tile(own[0], (len(own), 1)), atol=1e-9)
    away, _ = run(scene, parse_commands(json.dumps([{"kind": "things.delete", "ids": ["c"]}])))
    assert find(away, "movers", "l").with_camera is None
    with pytest.raises(HeronError, match="each would wait"):
        run(
            scene,
            parse_commands(
                json.dumps(
                    [
                        {
                            "kind": "rig.point",
                            "camera": "c",
                            "how": "carrier",
                            "on": {"kind": "mover", "mover": "l"},
                            "frame": 1001,
                        }
                    ]
                )
            ),
        )


@pytest.mark.parametrize("edge", ["left", "right", "top"])
def test_a_rim_lights_the_edge_it_is_set_to_catch_and_not_the_side_that_faces_the_camera(edge):
    """Lambert: a surface is lit where its normal and the way to the light are less than 90° apart."""
    scene, (*_, said) = stage(
        {
            "kind": "lamp.rim",
            "id": "r",
            "camera": "c",
            "on": {"kind": "figure", "figure": "o", "joint": "head"},
            "edge": edge,
            "frame": 1001,
        }
    )
    assert said == f"Lamp 1 catches the {edge} edge of Odile's head in camera A"
    (pose, _, cone), at = rows(scene, "r"), np.array([1001])
    head = Bake(scene).place(OnFigure(figure="o", joint="head"), at)[0]
    eye = Bake(scene).samples(scene.cameras[0]).values[0]
    to_light = (pose[0, :3] - head) / np.linalg.norm(pose[0, :3] - head)
    to_camera = (eye[:3] - head) / np.linalg.norm(eye[:3] - head)
    line = -to_camera * [1, 0, 1]
    right = np.cross(line / np.linalg.norm(line), [0, 1, 0])
    normals = {"left": -right, "right": right, "top": np.array([0, 1.0, 0])}
    assert normals[edge] @ to_light > 0.3 and to_camera @ to_light < 0
    other = {"left": "right", "right": "left"}.get(edge)
    assert other is None or normals[other] @ to_light < 0
    # It is aimed at what it lights: the head lies within its cone.
    way = Rotation.from_euler("YXZ", pose[0, 3:6], degrees=True).apply([0, 0, -1])
    assert np.degrees(np.arccos(way @ -to_light)) < 0.1 < cone[0] / 2
    again, _ = run(
        scene,
        parse_commands(
            json.dumps(
                [
                    {
                        "kind": "lamp.rim",
                        "lamp": "r",
                        "camera": "c",
                        "on": {"kind": "figure", "figure": "b", "joint": "head"},
                        "edge": edge,
                        "frame": 1001,
                    }
                ]
            )
        ),
    )
    assert len(again.movers) == 1 and not np.allclose(rows(again, "r")[0][0, :3], pose[0, :3])


def test_a_held_lamp_goes_with_the_hand():
    scene, _ = stage(
        LAMP,
        {
            "kind": "figure.act",
            "figure": "b",
            "act": {"kind": "hold", "frames": {"first": 1001, "last": 1012}, "what": "l"},
        },
        {
            "kind": "figure.act",
            "figure": "b",
            "act": {"kind": "walk", "frames": {"first": 1020, "last": 1120}, "points": [[-3, 0]]},
        },
    )
    palm = Bake(scene).place(OnFigure(figure="b", joint="knuckle_r"), scene.frames.array())
    pose, _, _ = rows(scene)
    # A lamp hangs under the hand by its ring: 0.16 m from its middle to its top.
    np.testing.assert_allclose(palm - pose[:, :3], np.tile([0, 0.16, 0], (len(palm), 1)), atol=1e-9)
