"""Rigs by what other programs' libraries make of them: USD's camera, and the nesting of glTF nodes."""

import io

import numpy as np
import pygltflib as g
import pytest
import trimesh
from pxr import Gf
from scipy.spatial.transform import Rotation
from test_rigs import DEMO, place, pose, ridden, samples

from heron.bake import Bake, ResultCache
from heron.optics import gate_size
from heron.scene import find_named
from heron.stage.reference import OnFigure, OnMover

FIRST = DEMO.frames.first


def turned(pan, tilt, roll):
    return Rotation.from_euler("YXZ", [pan, tilt, roll], degrees=True)


@pytest.mark.parametrize(("x", "y"), [(1 / 3, 1 / 3), (-0.6, 0.1), (0.0, -0.9)])
def test_usds_camera_sees_the_subject_on_its_placement(x, y):
    """Gf.Camera and Gf.Frustum of usd-core, within a thousandth of a pixel of a picture 1920 wide."""
    scene = ridden(
        {"kind": "trail", "of": "Odile", "angle_deg": 150, "distance_m": 3, "height_m": 1.4, "lag_s": 0.5},
        {"kind": "aim", "at": ["Odile/head"], "x": x, "y": y},
    )
    camera, found, head = find_named(scene, "cameras", "B"), samples(scene), place(scene, "head")
    wide, high = gate_size(camera.lens, scene.delivery.aspect)
    for frame in (1001, 1060, 1140, 1250, 1320):
        row = found.at(frame)
        matrix = Gf.Matrix4d(1.0)
        q = turned(row["pan"], row["tilt"], row["roll"]).as_quat()
        matrix.SetRotateOnly(Gf.Quatd(q[3], *q[:3]))
        matrix.SetTranslateOnly(Gf.Vec3d(row["x"], row["y"], row["z"]))
        seen = Gf.Camera(
            transform=matrix, horizontalAperture=wide, verticalAperture=high, focalLength=row["focal_mm"],
            clippingRange=Gf.Range1f(0.05, 500.0),
        ).frustum  # fmt: skip
        at = (seen.ComputeViewMatrix() * seen.ComputeProjectionMatrix()).Transform(
            Gf.Vec3d(*head[frame - FIRST])
        )
        # Gf keeps a camera's focal length and film back in single precision.
        assert abs(at[0] - x) * 960 < 1e-3 and abs(at[1] - y) * 540 < 1e-3


def nested(parent, child):
    """Where trimesh finds a node inside another one: each a translation and a rotation (scipy)."""
    doc = g.GLTF2(
        scene=0, scenes=[g.Scene(nodes=[0])], asset=g.Asset(),
        nodes=[
            g.Node(name="subject", children=[1], translation=list(parent[0]), rotation=list(parent[1].as_quat())),
            g.Node(name="camera", children=[2], translation=list(child[0]), rotation=list(child[1].as_quat())),
            g.Node(name="mark", mesh=0),
        ],
        meshes=[g.Mesh(primitives=[g.Primitive(attributes=g.Attributes(POSITION=0))])],
        accessors=[g.Accessor(bufferView=0, componentType=g.FLOAT, count=3, type=g.VEC3, min=[0] * 3, max=[1] * 3)],
        bufferViews=[g.BufferView(buffer=0, byteLength=36)], buffers=[g.Buffer(byteLength=36)],
    )  # fmt: skip
    doc.set_binary_blob(np.eye(3, dtype=np.float32).tobytes())
    read = trimesh.load(io.BytesIO(b"".join(doc.save_to_bytes())), file_type="glb")
    return read.graph.get("camera")[0]


@pytest.mark.parametrize(
    ("words", "spot"),
    [
        ("Odile/head", OnFigure(figure="fig-odile", joint="head")),
        ("Bram/wrist_l", OnFigure(figure="fig-bram", joint="wrist_l")),
        ("Rowing boat", OnMover(mover="mov-boat")),
    ],
)
def test_a_carrier_is_a_node_within_the_subjects_node(words, spot):
    offset = {"x_m": 0.3, "y_m": 0.2, "z_m": 1.1, "pan_deg": 20, "tilt_deg": -10, "roll_deg": 5}
    scene = ridden({"kind": "carrier", "on": words, "how": "all", **offset})
    track = Bake(scene, ResultCache()).track(spot)
    own = turned(20, -10, 5)
    for frame in (1001, 1090, 1200, 1320):
        i = frame - FIRST
        world = nested((track.place[i], Rotation.from_quat(track.turn[i])), ([0.3, 0.2, 1.1], own))
        at = pose(scene)[i]
        np.testing.assert_allclose(at[:3], world[:3, 3], atol=1e-6)
        np.testing.assert_allclose(turned(*at[3:]).as_matrix(), world[:3, :3], atol=1e-6)
