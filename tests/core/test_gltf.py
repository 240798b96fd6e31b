"""The stage as glTF: the Khronos validator, and a general library that reads it back."""

import json

import numpy as np
import pygltflib
import pytest
import trimesh
from khronos import assert_valid
from scipy.spatial.transform import Rotation, Slerp

from heron.bake import Bake
from heron.commands import parse_commands, run
from heron.demo import slack_tide
from heron.formats.gltf import write_body, write_mover, write_stage, write_unit_pieces
from heron.framing import project
from heron.stage.body import INDEX

SCENE = slack_tide()
BAKE = Bake(SCENE)


@pytest.fixture(scope="module")
def stage(tmp_path_factory):
    path = tmp_path_factory.mktemp("glb") / "stage.glb"
    path.write_bytes(write_stage(BAKE))
    return path


def test_khronos_validator_finds_no_error(stage):
    bodies = (write_body(SCENE.figures[0]), write_mover(SCENE.movers[1]), write_unit_pieces())
    assert_valid(stage.read_bytes(), *bodies, warned=False)


def test_what_is_hidden_is_not_in_it_and_what_stands_on_it_is_where_it_was(tmp_path):
    hide = ["fig-bram", "mov-heron", "mov-boat", SCENE.pieces[0].id]
    commands = [{"kind": "things.hide", "ids": hide, "hidden": True}]
    hidden = run(SCENE, parse_commands(json.dumps(commands)))[0]
    (tmp_path / "hidden.glb").write_bytes(write_stage(Bake(hidden)))
    loaded = trimesh.load_scene(tmp_path / "hidden.glb")
    there = {name for name in loaded.graph.nodes_geometry if name}
    names = {one.name for table in (SCENE.pieces, SCENE.movers) for one in table if one.id in hide}
    assert not there & names and not any(name.startswith(("Bram/", "Heron/")) for name in there)
    assert any(name.startswith("Odile/") for name in there)
    # A thing without a shape of its own is still a place: where the core has it on the first frame.
    for mover in (one for one in SCENE.movers if one.id in hide):
        matrix, _ = loaded.graph.get(mover.name)
        np.testing.assert_allclose(matrix[:3, 3], BAKE.samples(mover).values[0, :3], atol=1e-4)


def test_trimesh_finds_the_joints_where_the_core_has_them(stage):
    loaded = trimesh.load_scene(stage)
    for figure in SCENE.figures:
        done = BAKE.performance(figure)
        for joint, i in INDEX.items():
            matrix, _ = loaded.graph.get(f"{figure.name}/{joint}")
            np.testing.assert_allclose(matrix[:3, 3], done.places[0, i], atol=1e-4, err_msg=joint)


def accessor(doc, index):
    a = doc.accessors[index]
    view = doc.bufferViews[a.bufferView]
    width = {"SCALAR": 1, "VEC3": 3, "VEC4": 4}[a.type]
    blob = doc.binary_blob()
    return np.frombuffer(blob, dtype="<f4", count=a.count * width, offset=view.byteOffset).reshape(
        a.count, width
    )


def test_animation_played_back_gives_the_joints_of_every_frame(stage):
    doc = pygltflib.GLTF2().load(str(stage))
    tracks = {}
    for channel in doc.animations[0].channels:
        sampler = doc.animations[0].samplers[channel.sampler]
        tracks[channel.target.node, channel.target.path] = (
            accessor(doc, sampler.input)[:, 0],
            accessor(doc, sampler.output),
        )
    parents = {c: i for i, n in enumerate(doc.nodes) for c in n.children or []}

    def world(node, seconds):
        place, turn = np.zeros(3), Rotation.identity()
        while node is not None:
            n = doc.nodes[node]
            t, r = np.array(n.translation or [0, 0, 0]), Rotation.from_quat(n.rotation or [0, 0, 0, 1])
            if (node, "translation") in tracks:
                times, values = tracks[node, "translation"]
                t = np.array([np.interp(seconds, times, values[:, k]) for k in range(3)])
            if (node, "rotation") in tracks:
                times, values = tracks[node, "rotation"]
                r = Slerp(times, Rotation.from_quat(values))(np.clip(seconds, times[0], times[-1]))
            place, turn = t + r.apply(place), r * turn
            node = parents.get(node)
        return place

    names = {n.name: i for i, n in enumerate(doc.nodes)}
    for frame in (1001, 1100, 1187, 1265, 1320):
        seconds = (frame - 1001) / 24
        for figure in SCENE.figures:
            done = BAKE.performance(figure)
            for joint in ("head", "wrist_r", "ball_l", "pelvis"):
                there = world(names[f"{figure.name}/{joint}"], seconds)
                np.testing.assert_allclose(there, done.places[frame - 1001, INDEX[joint]], atol=1e-4)
        row = BAKE.samples(SCENE.cameras[1]).at(frame)
        np.testing.assert_allclose(
            world(names["B Odile over Bram"], seconds), [row[c] for c in "xyz"], atol=1e-4
        )


def test_an_exported_cameras_angles_and_lens_are_the_cores(stage):
    """Cameras look along −Z with Y up (Khronos glTF 2.0): pan, tilt and roll read back by scipy."""
    doc = pygltflib.GLTF2().load(str(stage))
    nodes = {n.camera: n for n in doc.nodes if n.camera is not None}
    for i, camera in enumerate(SCENE.cameras):
        at = BAKE.samples(camera).at(1001)
        node, lens = nodes[i], doc.cameras[i]
        angles = Rotation.from_quat(node.rotation).as_euler("YXZ", degrees=True)
        expected = [at["pan"], at["tilt"], at["roll"]]
        np.testing.assert_allclose((angles - expected + 180) % 360 - 180, 0, atol=1e-6)
        np.testing.assert_allclose(node.translation, [at["x"], at["y"], at["z"]], atol=1e-9)
        assert np.degrees(lens.perspective.yfov) == pytest.approx(at["vertical_deg"])
        assert (lens.perspective.znear, lens.perspective.zfar) == (camera.near_m, camera.far_m)
        extras = node.extras
        assert extras["focal_mm"] == pytest.approx(at["focal_mm"]) and extras["shutter_deg"] == 180
        assert extras["aperture"] == pytest.approx(at["aperture"])
        focus = extras["focus_m"] if isinstance(extras["focus_m"], list) else [extras["focus_m"]] * 320
        told = [1 / v for v in BAKE.samples(camera).column("focus_per_m")[[0, 150, 319]]]
        assert [focus[k] for k in (0, 150, 319)] == pytest.approx(told)


def test_a_focus_at_infinity_is_null_in_a_file_and_a_zoom_stands_frame_by_frame(tmp_path):
    keys = [
        {"thing": "cam-a", "channel": "focal", "frame": f, "value": v} for f, v in ((1001, 30), (1320, 60))
    ]
    commands = [
        {"kind": "focus.set", "camera": "cam-a", "on": {"kind": "distance", "metres": None}},
        {"kind": "keys.set", "keys": keys},
        {"kind": "camera.set", "camera": "cam-a", "name": "list 0"},
    ]
    scene = run(SCENE, parse_commands(json.dumps(commands)))[0]
    path = tmp_path / "zoom.glb"
    path.write_bytes(write_stage(Bake(scene)))
    node = next(n for n in pygltflib.GLTF2().load(str(path)).nodes if n.name == "A list 0")
    assert node.extras["focus_m"] is None
    zoom = node.extras["focal_mm"]
    assert len(zoom) == 320 and (zoom[0], zoom[-1]) == (30, 60) and zoom == sorted(zoom)


def test_the_demo_is_framed_as_it_says():
    # The demo's own promises: each shot's people are in its frame when it begins and ends.
    wanted = {"010": ["Bram"], "020": ["Odile"], "030": ["Bram"]}
    cameras = {c.id: c for c in SCENE.cameras}
    for shot in SCENE.shots:
        samples = BAKE.samples(cameras[shot.camera])
        for name in wanted.get(shot.name, []):
            figure = next(f for f in SCENE.figures if f.name == name)
            seen = project(samples, BAKE.performance(figure).landmark("eyes"))
            inside = seen.inside[shot.stage.first - 1001 : shot.stage.stop - 1001]
            assert inside.all(), (shot.name, name)
