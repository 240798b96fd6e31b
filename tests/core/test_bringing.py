"""Sets and props from elsewhere: read against the libraries that wrote them, met by rays, stood on, cut for plans, and refused."""

import base64
import io
import json
import math
import struct
import time
import zipfile
import zlib
from pathlib import Path

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st
from kept_files import STORE, files
from khronos import assert_valid
from PIL import Image
from pxr import Gf, Sdf, Usd, UsdGeom, UsdShade, Vt

from heron.bake import Bake
from heron.cli import main
from heron.commands import parse_commands, run
from heron.commands.own_things import BringThings, kept_things
from heron.demo import slack_tide
from heron.demo.made.boathouse import EAVES, FLOOR, LONG, RIDGE, WIDE, boathouse
from heron.errors import BadInput, HeronError
from heron.formats.bringing.found import METRES
from heron.formats.bringing.kept import keep_model
from heron.formats.bringing.lighter import lightened
from heron.formats.bringing.limits import MOST_PARTS
from heron.formats.bringing.model_file import prepared
from heron.formats.bringing.normals import normals_of
from heron.formats.bringing.recognise import form_of, inspected, kind_of, measured, read_found
from heron.formats.gltf import write_stage
from heron.formats.usd import write_usd
from heron.framing.hidden import Hiding
from heron.scene import empty_scene, find, read_scene, write_scene
from heron.scene.links import links
from heron.stage.floors import HEADROOM_M, STEEPEST_DEG, STEP_UP_M, support, walkable_height
from heron.stage.models import find_files
from heron.stage.models.meeting import Solid, solid_of
from heron.stage.models.part import read_model
from heron.stage.rays import reach

assert files  # a fixture of every test here
RNG = np.random.default_rng(5)


def alone(name):
    return None


def glb(*parts, **scene):
    """A `.glb` by trimesh of (name, mesh, matrix)."""
    made = trimesh.Scene(**scene)
    for name, mesh, matrix in parts:
        made.add_geometry(mesh, node_name=name, geom_name=name, transform=matrix)
    return made.export(file_type="glb")


def at(x=0.0, y=0.0, z=0.0, turn=0.0):
    matrix = trimesh.transformations.rotation_matrix(math.radians(turn), [0, 1, 0])
    matrix[:3, 3] = x, y, z
    return matrix


def box(x, y, z):
    """A box on its foot."""
    made = trimesh.creation.box((x, y, z))
    made.apply_translation((0, y / 2, 0))
    return made


def on_stage(content, name="set.glb", scene=None, kind="set.bring", unit=None, **more):
    """A scene with a file put up in it."""
    kept = keep_model(read_found(content, name, alone), name, unit)
    STORE[kept.key] = kept.content
    parts = [one.model_dump() for one in kept.parts]
    command = {"kind": kind, "id": "in", "name": Path(name).stem, "file": kept.key, "parts": parts, **more}
    return do(scene or empty_scene("Set"), command)


def do(scene, *commands):
    return run(scene, parse_commands(json.dumps(list(commands))))[0]


def corners(piece):
    """(t, 3, 3) of a piece's triangles on the stage."""
    part = read_model(STORE[piece.source.file]).parts[piece.source.part]
    turn = math.radians(piece.heading)
    c, s = math.cos(turn), math.sin(turn)
    sized = part.corners * [piece.width, piece.height, piece.depth]
    return sized @ np.array([[c, 0, s], [0, 1, 0], [-s, 0, c]]).T + [piece.x, piece.base, piece.z]


def test_what_trimesh_wrote_stands_where_trimesh_has_it():
    """Every triangle of a tree of turned and sized parts, by trimesh's own dump of its scene."""
    ball = trimesh.creation.icosphere(subdivisions=2, radius=0.7)
    tilted = trimesh.transformations.euler_matrix(0.4, -0.9, 0.2) @ np.diag([1.3, 0.8, 2.0, 1.0])
    tilted[:3, 3] = 2, 1, -3
    mirrored = np.diag([-1.0, 1.0, 1.0, 1.0])
    content = glb(
        ("Ball", ball, tilted), ("Crate", box(1, 2, 3), at(4, 0, 1, 30)), ("Twin", box(1, 1, 2), mirrored)
    )
    scene = on_stage(content)
    theirs = trimesh.load_scene(io.BytesIO(content), file_type="glb")
    assert [piece.name for piece in scene.pieces] == ["Ball", "Crate", "Twin"]
    assert {piece.group for piece in scene.pieces} == {"set"}
    for piece in scene.pieces:
        matrix, name = theirs.graph[piece.name]
        want = theirs.geometry[name].copy().apply_transform(matrix)
        ours = corners(piece)
        assert len(ours) == len(want.faces)
        # As sets of triangles, whatever their order.
        key = lambda c: np.round(np.sort(c.reshape(len(c), -1, 3).sum(axis=1), axis=0), 4)  # noqa: E731
        assert key(ours) == pytest.approx(key(want.triangles), abs=2e-4)
        normal = np.cross(ours[:, 1] - ours[:, 0], ours[:, 2] - ours[:, 0])
        outward = ours.mean(axis=1) - want.centroid
        assert (np.einsum("ij,ij->i", normal, outward) > 0).all()


def test_the_kept_file_is_glTF_without_errors_and_trimesh_reads_it_the_same():
    kept = keep_model(read_found(boathouse(), "boathouse.glb", alone), "boathouse.glb")
    assert_valid(kept.content)
    before = trimesh.load_scene(io.BytesIO(boathouse()), file_type="glb")
    after = trimesh.load_scene(io.BytesIO(kept.content), file_type="glb")
    assert after.bounds == pytest.approx(before.bounds, abs=1e-4)
    assert sum(len(m.faces) for m in after.geometry.values()) == pytest.approx(
        sum(len(m.faces) for m in before.geometry.values()), rel=1e-3
    )
    assert len(kept.parts) == 21 and kept.height_m == pytest.approx(FLOOR + RIDGE, abs=0.3)
    # The same file, the same bytes; and its chart has kept its picture.
    assert keep_model(read_found(boathouse(), "b.glb", alone), "b.glb").key == kept.key
    assert Image.open(io.BytesIO(read_model(kept.content).pictures[0])).size == (1120, 720)


def usd(units=0.01, up="Z", **more):
    stage = Usd.Stage.CreateInMemory()
    UsdGeom.SetStageUpAxis(stage, up)
    if units:
        UsdGeom.SetStageMetersPerUnit(stage, units)
    UsdGeom.Xform.Define(stage, "/Set")
    mesh = UsdGeom.Mesh.Define(stage, "/Set/Ramp")
    mesh.CreatePointsAttr([(0, 0, 0), (200, 0, 0), (200, 400, 100), (0, 400, 100)])
    mesh.CreateFaceVertexCountsAttr([4])
    mesh.CreateFaceVertexIndicesAttr([0, 1, 2, 3])
    UsdGeom.XformCommonAPI(mesh).SetTranslate((100, 0, 50))
    UsdGeom.XformCommonAPI(mesh).SetRotate((0, 0, 90))
    return stage


def test_usd_stands_where_usd_core_has_it_with_its_unit_its_axis_and_its_variant():
    """Corners by usd-core's own transform; Z up becomes −Z along (a turn of −90° about X)."""
    stage = usd()
    mesh = UsdGeom.Mesh(stage.GetPrimAtPath("/Set/Ramp"))
    world = UsdGeom.Xformable(mesh).ComputeLocalToWorldTransform(Usd.TimeCode.Default())
    theirs = np.array([world.Transform(Gf.Vec3d(*p)) for p in mesh.GetPointsAttr().Get()]) / 100
    want = np.stack([theirs[:, 0], theirs[:, 2], -theirs[:, 1]], axis=1)
    variants = mesh.GetPrim().GetVariantSets().AddVariantSet("colour")
    for name, hue in (("red", (0.8, 0.1, 0.1)), ("blue", (0.1, 0.1, 0.7))):
        variants.AddVariant(name)
        variants.SetVariantSelection(name)
        with variants.GetVariantEditContext():
            mesh.CreateDisplayColorAttr([hue])
    variants.SetVariantSelection("red")
    content = stage.GetRootLayer().ExportToString().encode()
    scene = on_stage(content, "ramp.usda")
    (piece,) = scene.pieces
    ours = corners(piece).reshape(-1, 3)
    assert {tuple(np.round(p, 4) + 0.0) for p in ours} == {tuple(np.round(p, 4) + 0.0) for p in want}
    assert read_model(STORE[piece.source.file]).parts[0].light == pytest.approx([0.8, 0.1, 0.1], abs=1e-4)
    told = inspected(content, "ramp.usda", alone)
    assert (told["kind"], told["unit"], told["up"], told["triangles"]) == ("set", "cm", "z", 2)
    # The same as `.usdc` and within `.usdz`.
    for ending in ("usdc", "usdz"):
        assert on_stage(as_file(stage, ending), f"ramp.{ending}").pieces[0].width == pytest.approx(
            piece.width
        )


def as_file(stage, ending, folder=None):
    import tempfile

    with tempfile.TemporaryDirectory() as made:
        path = Path(made) / "x.usdc"
        stage.Export(str(path))
        if ending == "usdz":
            from pxr import UsdUtils

            UsdUtils.CreateNewUsdzPackage(Sdf.AssetPath(str(path)), str(path.with_suffix(".usdz")))
            path = path.with_suffix(".usdz")
        return path.read_bytes()


def test_a_preview_surface_s_picture_lies_where_usd_has_it():
    """UsdPreviewSurface: st counts from the lower left corner of a picture, glTF's from the upper left."""
    stage = usd()
    mesh = UsdGeom.Mesh(stage.GetPrimAtPath("/Set/Ramp"))
    st_var = UsdGeom.PrimvarsAPI(mesh).CreatePrimvar("st", Sdf.ValueTypeNames.TexCoord2fArray, "vertex")
    st_var.Set(Vt.Vec2fArray([(0, 0), (1, 0), (1, 1), (0, 1)]))
    material = UsdShade.Material.Define(stage, "/Set/Paint")
    surface = UsdShade.Shader.Define(stage, "/Set/Paint/Surface")
    surface.CreateIdAttr("UsdPreviewSurface")
    picture = UsdShade.Shader.Define(stage, "/Set/Paint/Picture")
    picture.CreateIdAttr("UsdUVTexture")
    picture.CreateInput("file", Sdf.ValueTypeNames.Asset).Set(Sdf.AssetPath("planks.png"))
    surface.CreateInput("diffuseColor", Sdf.ValueTypeNames.Color3f).ConnectToSource(
        picture.CreateOutput("rgb", Sdf.ValueTypeNames.Float3)
    )
    material.CreateSurfaceOutput().ConnectToSource(surface.ConnectableAPI(), "surface")
    UsdShade.MaterialBindingAPI.Apply(mesh.GetPrim()).Bind(material)
    content = stage.GetRootLayer().ExportToString().encode()
    png = io.BytesIO()
    Image.new("RGB", (8, 4), "#804020").save(png, "PNG")
    with_it = read_found(content, "a.usda", {"planks.png": png.getvalue()}.get)
    (shape,) = with_it.shapes
    low = shape.uv[np.argmin(np.linalg.norm(shape.points - shape.points[0], axis=1))]
    assert low == pytest.approx([0, 1]) and len(with_it.pictures) == 1
    without = read_found(content, "a.usda", alone)
    assert not without.pictures and "planks.png was not brought along" in " ".join(without.said)


def test_obj_has_its_parts_and_asks_for_its_unit(tmp_path):
    text = "o Door\nv 0 0 0\nv 90 0 0\nv 90 210 0\nv 0 210 0\nf 1 2 3 4\no Sill\nv 0 0 5\nv 90 0 5\nv 90 0 -5\nf 5 6 7\n"
    found = read_found(text.encode(), "door.obj", alone)
    assert found.triangles == 3 and kind_of(found) == "prop"
    with pytest.raises(BadInput, match=r"The unit of door\.obj cannot be told") as told:
        keep_model(found, "door.obj")
    assert told.value.remedy == "Say which it is: in cm it is 2.10 m high." and told.value.field == "unit"
    assert keep_model(found, "door.obj", "cm").height_m == pytest.approx(2.1)
    assert keep_model(found, "door.obj", "inch").height_m == pytest.approx(210 * 0.0254)
    # Standing up the other way: what was along is its height.
    assert keep_model(found, "door.obj", "cm", "z").height_m == pytest.approx(0.1)


def test_a_unit_that_makes_a_door_ninety_metres_high_is_asked_for():
    found = read_found(glb(("Door", box(0.9 * 45, 90, 4), at())), "door.glb", alone)
    measure = measured(found)
    assert not measure.told and measure.unit == "cm" and measure.height_m == pytest.approx(0.9)
    with pytest.raises(BadInput, match="says that it is 90 m high"):
        keep_model(found, "door.glb")
    assert measured(read_found(glb(("Door", box(1, 2.1, 0.1), at())), "d.glb", alone)).told
    assert [METRES[u] for u in ("inch", "foot")] == [
        0.0254,
        0.3048,
    ]  # exact, by the international yard of 1959


def test_what_lies_on_its_back_is_pointed_out():
    lying = box(4, 3, 0.2)
    obj = trimesh.exchange.obj.export_obj(lying)
    assert any("choose Z up" in one for one in measured(read_found(obj.encode(), "wall.obj", alone)).hints)
    standing = trimesh.exchange.obj.export_obj(box(4, 0.2, 3))
    assert not any("Z up" in one for one in measured(read_found(standing.encode(), "floor.obj", alone)).hints)


def test_rays_meet_a_brought_in_box_as_a_drawn_one():
    """A drawn box is met by its planes, a brought-in one by its triangles; turned and sized alike."""
    drawn = do(empty_scene("S"), {"kind": "piece.add", "id": "b", "shape": "box", "x": 1, "z": -2, "base": 0.5, "heading": 25, "width": 2, "depth": 1.5, "height": 1.2})  # fmt: skip
    brought = on_stage(glb(("B", box(1, 1, 1), at())))
    brought = do(brought, {"kind": "piece.set", "piece": "in-0", "x": 1, "z": -2, "base": 0.5, "heading": 25, "width": 2, "depth": 1.5, "height": 1.2})  # fmt: skip
    origins = RNG.uniform(-6, 6, (4000, 3))
    ways = (RNG.normal([1, 1, -2], 1.0, (4000, 3)) - origins) * RNG.uniform(0.2, 20, (4000, 1))
    one, other = reach(drawn.pieces[0], origins, ways), reach(brought.pieces[0], origins, ways)
    inside = np.isinf(one) & np.isfinite(other)
    assert (np.isfinite(one) <= np.isfinite(other)).all()
    hit = np.isfinite(one)
    assert hit.sum() > 100 and other[hit] == pytest.approx(one[hit], rel=1e-6, abs=1e-9)
    # From inside a drawn one is missed; a surface is met from behind.
    local = origins[inside] - [1, 0.5, -2]
    assert (np.abs(local).max(axis=1) < 2.1).all()


def test_rays_meet_a_ball_where_geometry_has_it():
    ball = trimesh.creation.icosphere(subdivisions=6, radius=2.0)
    scene = on_stage(glb(("Ball", ball, at(3, 5, -4))))
    origins = np.tile([3.0, 5.0, 20.0], (500, 1))
    ways = np.stack([RNG.uniform(-0.055, 0.055, 500), RNG.uniform(-0.055, 0.055, 500), -np.ones(500)], axis=1)
    far = reach(scene.pieces[0], origins, ways)
    b, a, c = 24 * -1.0, (ways**2).sum(axis=1), 24.0**2 - 4.0
    want = (-b - np.sqrt(b * b - a * c)) / a
    # Flat triangles lie inside a sphere by a little less than its edges' sagitta.
    assert far == pytest.approx(want, abs=1.5e-3)


STAIRS = tuple((f"Step {i}", box(2, 0.2 * (i + 1), 0.4), at(0, 0, -0.4 * i)) for i in range(8))


def test_whoever_walks_up_steps_comes_to_the_loft_and_never_on_the_roof():
    """Steps of 20 cm to a loft at 1.6 m under a roof at 4 m: heights by the boxes they are made of."""
    parts = (*STAIRS, ("Loft", box(4, 0.1, 4), at(0, 1.5, -5)), ("Roof", box(6, 0.1, 14), at(0, 4.0, -3)), ("Table", box(1, 0.75, 1), at(2.5, 0, 2)))  # fmt: skip
    scene = on_stage(glb(*parts))
    walk = {"kind": "walk", "frames": {"first": 1010, "last": 1180}, "points": [[0.0, -6.0]]}
    scene = do(
        scene,
        {"kind": "figure.add", "id": "f", "name": "Bram", "x": 0, "z": 3},
        {"kind": "figure.act", "figure": "f", "act": walk},
    )
    bake = Bake(scene)
    root, _ = bake.root(scene.figures[0])
    assert root[0, 1] == pytest.approx(0, abs=1e-6) and root[-1, 1] == pytest.approx(1.6, abs=1e-3)
    assert root[:, 1].max() < 1.61 and (np.diff(root[:, 1]) > -1e-6).all()
    # Feet are on a step, the loft or the floor whenever they stand.
    points = np.array([[0.0, 3.0], [0.0, -0.4], [0.0, -2.4], [2.5, 2.0], [0.0, -6.0], [2.9, 4.0]])
    assert walkable_height(scene.pieces, points) == pytest.approx([0, 0.4, 1.4, 0.75, 0, 0])
    # Under the loft there is room to stand: somebody put there stands below it.
    low = on_stage(glb(("Loft", box(4, 0.1, 4), at(0, 1.9, 0))))
    assert walkable_height(low.pieces, np.zeros((1, 2))) == pytest.approx([0])
    assert (HEADROOM_M, STEP_UP_M) == (1.5, 0.45)


def test_who_walks_near_a_set_but_not_over_it_walks_on_the_floor():
    scene = on_stage(glb(("Pole", box(0.02, 3, 0.02), at(0.6, 0, 0))))
    scene = do(scene, {"kind": "figure.add", "id": "f", "name": "Bram", "x": 0, "z": 0})
    done = Bake(scene).performance(scene.figures[0])
    assert np.abs(done.root[:, 1]).max() == 0 and np.isfinite(done.places).all()
    assert walkable_height(scene.pieces, np.zeros((0, 2))).shape == (0,)


def test_a_step_higher_than_a_knee_is_not_stepped_on_and_a_table_is_walked_past():
    scene = on_stage(glb(("Table", box(1, 0.75, 1), at(0, 0, 0))))
    walk = {"kind": "walk", "frames": {"first": 1001, "last": 1150}, "points": [[0.0, -3.0]]}
    scene = do(
        scene,
        {"kind": "figure.add", "id": "f", "name": "Bram", "x": 0, "z": 3},
        {"kind": "figure.act", "figure": "f", "act": walk},
    )
    assert Bake(scene).root(scene.figures[0])[0][:, 1].max() == pytest.approx(0, abs=1e-6)


@pytest.mark.parametrize(("slope", "stood"), [(STEEPEST_DEG - 2, True), (STEEPEST_DEG + 2, False)])
def test_ground_that_is_too_steep_is_not_stood_on(slope, stood):
    """A wedge by its own plane: its height at a place is the tangent of its slope times how far it is."""
    high = 2 * math.tan(math.radians(slope))
    wedge = trimesh.Trimesh([(-1, 0, 1), (1, 0, 1), (-1, 0, -1), (1, 0, -1), (-1, high, -1), (1, high, -1)], [(0, 1, 5), (0, 5, 4), (3, 2, 4), (3, 4, 5), (1, 3, 5), (2, 0, 4), (0, 2, 3), (0, 3, 1)])  # fmt: skip
    scene = on_stage(glb(("Bank", wedge, at())))
    found = walkable_height(scene.pieces, np.array([[0.0, -0.5]]))
    assert found == pytest.approx([1.5 * math.tan(math.radians(slope)) if stood else 0], abs=1e-6)
    off = do(scene, {"kind": "set.stand_on", "ids": ["in-0"], "stood_on": False})
    assert walkable_height(off.pieces, np.array([[0.0, -0.5]])) == pytest.approx([0])
    with pytest.raises(HeronError, match="was not brought in"):
        do(do(scene, {"kind": "piece.add", "id": "b", "shape": "box", "x": 9, "z": 9, "width": 1, "depth": 1, "height": 1}), {"kind": "set.stand_on", "ids": ["b"], "stood_on": True})  # fmt: skip


def test_pieces_are_put_on_what_was_brought_in_and_the_floor_of_the_boathouse_is_stood_on():
    scene = on_stage(boathouse(), "boathouse.glb")
    inside = np.array([[2.0, -3.0], [-2.0, 3.5], [0.0, 20.0]])
    assert walkable_height(scene.pieces, inside) == pytest.approx([FLOOR, FLOOR, 0], abs=1e-3)
    assert support(scene.pieces, 2.0, -3.0) == pytest.approx(FLOOR, abs=1e-3)
    # A camera inside sees the far wall at its distance, and is not in the wall.
    hiding = Hiding(Bake(scene), np.array([1001]))
    # Not at a joint of its boards: a ray would go through between them.
    eye = np.array([[0.3, 1.63, 0.3]])
    far, which = hiding.nearest(eye, np.array([[[-8.0, 0.0, 0.0]]]), np.zeros(1, dtype=int))
    assert (
        far[0, 0] * 8 == pytest.approx(0.3 + WIDE / 2, abs=0.15) and hiding.names[which[0, 0]] == "West wall"
    )
    marks = np.array([[0.3, 1.6, -3.0], [0.3, 1.6, -12.0]])
    assert hiding.share(eye[0], marks) == 0.5  # one before the back wall, one behind it
    assert hiding.share(np.array([WIDE / 2, 1.03, -1.9]), marks) == 1.0  # in the wall's boards
    assert EAVES < RIDGE and LONG > WIDE


def test_a_level_plane_cuts_a_tube_in_a_circle():
    tube = trimesh.creation.cylinder(radius=0.5, height=4, sections=64)
    tube.apply_transform(trimesh.transformations.rotation_matrix(math.pi / 2, [1, 0, 0]))
    scene = on_stage(glb(("Tube", tube, at(0, 2, 0))))
    piece = scene.pieces[0]
    lines = solid_of(read_model(STORE[piece.source.file]).parts[0]).outline(0.3) * [piece.width, piece.depth]
    far = np.linalg.norm(lines, axis=2)
    assert len(lines) >= 64 and far == pytest.approx(np.full(far.shape, 0.5), abs=1e-3)
    length = np.linalg.norm(lines[:, 1] - lines[:, 0], axis=1).sum()
    assert length == pytest.approx(
        64 * 2 * 0.5 * math.sin(math.pi / 64), rel=1e-5
    )  # a regular polygon's outline


def test_layers_go_through_all_surfaces():
    stacked = trimesh.util.concatenate([box(1, 0.1, 1).apply_translation((0, y, 0)) for y in (0, 1, 2.9)])
    solid = Solid(np.asarray(stacked.triangles) / [1, 3, 1])
    heights, which = solid.layers(np.array([0.1, 5.0]), np.array([0.2, 0.0]))
    assert heights[:6, 0] * 3 == pytest.approx([3.0, 2.9, 1.1, 1.0, 0.1, 0.0], abs=1e-4)
    assert np.isnan(heights[:, 1]).all() and (which[:, 1] == -1).all()


def test_normals_are_smooth_over_a_ball_and_sharp_at_a_box():
    ball = trimesh.creation.icosphere(subdivisions=3)
    ours = normals_of(ball.vertices, ball.faces)
    assert np.einsum("ij,ij->i", ours, ball.vertices[ball.faces.reshape(-1)]).min() > 0.999
    cube = trimesh.creation.box((1, 1, 1))
    flat = normals_of(cube.vertices, cube.faces)
    assert flat == pytest.approx(np.repeat(cube.face_normals, 3, axis=0))


def test_a_lighter_copy_keeps_the_form():
    ball = trimesh.creation.icosphere(subdivisions=6)
    kept, faces = lightened(ball.vertices, ball.faces, 0.1)
    lighter = trimesh.Trimesh(ball.vertices[kept], faces, process=False)
    assert len(faces) == pytest.approx(0.1 * len(ball.faces), rel=0.02)
    assert lighter.volume == pytest.approx(4 / 3 * math.pi, rel=0.01)


def test_far_too_many_triangles_are_offered_a_lighter_copy(monkeypatch):
    content = glb(("Ball", trimesh.creation.icosphere(subdivisions=5), at()))
    monkeypatch.setattr("heron.formats.bringing.model_file.MOST_KEPT", 10_000)
    monkeypatch.setattr("heron.formats.bringing.model_file.LIGHTER", 5_000)
    with pytest.raises(BadInput, match="20,480 triangles") as told:
        keep_model(read_found(content, "b.glb", alone), "b.glb", "m")
    assert told.value.field == "lighter"
    kept = keep_model(read_found(content, "b.glb", alone), "b.glb", "m", lighter=True)
    assert read_model(kept.content).parts[0].count == pytest.approx(5_000, rel=0.05)
    monkeypatch.setattr("heron.formats.bringing.gltf_in.MOST_DECODED", 10_000)
    with pytest.raises(BadInput, match="million triangles"):
        read_found(content, "b.glb", alone)


def test_many_parts_are_joined_at_the_depth_at_which_they_are_few_enough():
    made = trimesh.Scene()
    for row in range(3):
        made.graph.update(frame_from="world", frame_to=f"Row {row}", matrix=at(0, 0, 3 * row))
        for i in range(100):
            made.add_geometry(
                box(0.5, 0.5, 0.5), node_name=f"Box {row} {i}", parent_node_name=f"Row {row}", transform=at(i)
            )
    model = prepared(read_found(made.export(file_type="glb"), "b.glb", alone), "b.glb", 1.0, "y")
    assert MOST_PARTS == 200 and [part.name for part in model.parts] == ["Row 0", "Row 1", "Row 2"]
    assert [part.count for part in model.parts] == [1200] * 3


def test_a_prop_is_one_thing_that_stands_on_what_lies_under_it():
    scene = on_stage(glb(("Cup", box(0.1, 0.12, 0.1), at(5, 2, 1)), ("Ear", box(0.02, 0.06, 0.05), at(5.06, 2.03, 1))), "cup.glb", kind="prop.bring", x=1, z=-2)  # fmt: skip
    (mover,) = scene.movers
    assert mover.name == "cup" and {p.part_of for p in scene.pieces} == {mover.id}
    cup = Bake(scene).piece_at(scene.pieces[0], 1001)
    assert cup.base == pytest.approx(0) and (cup.x, cup.z) == (pytest.approx(1, abs=0.02), pytest.approx(-2))
    assert read_scene(write_scene(scene)) == scene


def test_a_new_version_takes_the_old_one_s_place_and_keeps_what_was_moved():
    old = keep_model(read_found(glb(("Hut", box(2, 2, 2), at(0, 0, 0)), ("Post", box(0.2, 2, 0.2), at(3, 0, 0)), ("Gate", box(1, 1, 0.1), at(0, 0, 4))), "a.glb", alone), "a.glb")  # fmt: skip
    new = keep_model(read_found(glb(("Post", box(0.3, 3, 0.3), at(4, 0, 0)), ("Hut", box(2, 2.5, 2), at(0, 0, 1)), ("Well", box(1, 1, 1), at(-4, 0, 0))), "a.glb", alone), "a.glb")  # fmt: skip
    STORE.update({one.key: one.content for one in (old, new)})
    parts = {k: [one.model_dump() for one in kept.parts] for k, kept in (("old", old), ("new", new))}
    scene = do(
        empty_scene("S"), {"kind": "set.bring", "id": "in", "name": "Yard", "file": old.key, "parts": parts["old"]},
        {"kind": "things.move", "ids": ["in-1"], "dx": 0, "dy": 0, "dz": -5, "turn": 0},
    )  # fmt: skip
    after = do(scene, {"kind": "file.renew", "id": "nv", "name": "Yard", "file": old.key, "to": new.key, "before": parts["old"], "parts": parts["new"]})  # fmt: skip
    hut, post, gate, well = after.pieces
    assert (hut.z, hut.height) == (pytest.approx(1), pytest.approx(2.5))
    assert (post.x, post.z, post.height) == (pytest.approx(4), pytest.approx(-5), pytest.approx(3))
    assert gate.source.file == old.key and (well.name, well.x, well.group) == (
        "Well",
        pytest.approx(-4),
        "Yard",
    )
    with pytest.raises(HeronError, match="Nothing here is of"):
        do(after, {"kind": "file.renew", "name": "Yard", "file": "0" * 64, "to": new.key, "before": parts["old"], "parts": parts["new"]})  # fmt: skip


def test_without_its_file_a_part_is_its_box_and_nothing_else_is_lost():
    scene = on_stage(glb(("Ball", trimesh.creation.icosphere(radius=1.0), at(0, 1, 0))))
    STORE.clear()
    find_files(STORE.get)
    corner = np.array([[0.95, 5.0, 0.95]])
    assert reach(scene.pieces[0], corner, np.array([[0, -1.0, 0]])) == pytest.approx([3.0])
    assert walkable_height(scene.pieces, np.zeros((1, 2))) == pytest.approx([0])
    assert len(write_stage(Bake(scene))) > 500


def test_the_stage_goes_out_with_what_was_brought_in():
    scene = on_stage(glb(("Ball", trimesh.creation.icosphere(subdivisions=2), at(0, 3, -2))))
    out = trimesh.load_scene(io.BytesIO(write_stage(Bake(scene))), file_type="glb")
    assert out.bounds == pytest.approx(np.array([[-1, 2, -3], [1, 4, -1]]), abs=0.02)


def test_its_pictures_go_out_with_it_each_once_and_its_tint_colours_them():
    """The chart of the boathouse on the stage's `.glb`, as the Khronos validator and trimesh see it."""
    scene = on_stage(boathouse())
    chart = next(one for one in scene.pieces if one.name == "Chart")
    scene = do(scene, {"kind": "piece.set", "piece": chart.id, "colour": "#ff0000"})
    scene = do(scene, {"kind": "things.duplicate", "ids": [chart.id], "dx": 1.0, "dz": 0.0})
    content = write_stage(Bake(scene))
    assert_valid(content)
    length = int.from_bytes(content[12:16], "little")
    doc = json.loads(content[20 : 20 + length])
    came = boathouse()
    theirs = json.loads(came[20 : 20 + int.from_bytes(came[12:16], "little")])
    assert len(doc["images"]) == len(theirs["images"])
    loaded = trimesh.load_scene(io.BytesIO(content), file_type="glb")
    node = next(name for name in loaded.graph.nodes_geometry if name.startswith("Chart"))
    mesh = loaded.geometry[loaded.graph[node][1]]
    assert mesh.visual.material.baseColorTexture.size == (1120, 720)
    # Red times the picture's own white.
    colours = mesh.visual.vertex_attributes["color"] / 65535
    np.testing.assert_allclose(colours[:, :3], [[1, 0, 0]] * len(colours), atol=1e-3)


def test_a_usd_package_has_its_pictures_and_they_lie_where_they_lay(tmp_path):
    """What usd-core composes of the package, read back: the chart's own picture, at the same places, tinted once."""
    scene = on_stage(boathouse())
    chart = next(one for one in scene.pieces if one.name == "Chart")
    scene = do(scene, {"kind": "piece.set", "piece": chart.id, "colour": "#ffff00"})
    content = write_usd(Bake(scene), ".usdz")
    (tmp_path / "stage.usdz").write_bytes(content)
    stage = Usd.Stage.Open(str(tmp_path / "stage.usdz"))
    shape = stage.GetPrimAtPath("/World/Set/Chart/Shape")
    material, _ = UsdShade.MaterialBindingAPI(shape).ComputeBoundMaterial()
    (picture,) = [one for one in Usd.PrimRange(material.GetPrim()) if UsdShade.Shader(one).GetIdAttr().Get() == "UsdUVTexture"]  # fmt: skip
    assert UsdShade.Shader(picture).GetInput("scale").Get() == pytest.approx((1, 1, 0, 1), abs=2e-3)
    found = read_found(content, "stage.usdz", alone)
    assert Image.open(io.BytesIO(found.pictures[0])).size == (1120, 720)
    theirs = next(one for one in found.shapes if found.path(one.node)[-2] == "Chart" or found.path(one.node)[-1] == "Chart")  # fmt: skip
    (own,) = read_model(STORE[chart.source.file]).parts[chart.source.part].surfaces
    # A corner that is upper left in the picture is so still.
    first = theirs.points - theirs.points.min(axis=0)
    ours = (own.points - own.points.min(axis=0)) * [chart.width, chart.height, chart.depth]
    for point, uv in zip(ours[:4], own.uv[:4], strict=True):
        near = np.linalg.norm(first[:, :2] - point[:2], axis=1) < 1e-3
        assert near.any() and np.abs(theirs.uv[near] - uv).min(axis=0).max() < 1e-4
    # A file by itself names no picture that is not there.
    assert not read_found(write_usd(Bake(scene), ".usda"), "stage.usda", alone).said


def png(wide, high):
    out = io.BytesIO()
    Image.new("1", (wide, high)).save(out, "PNG")
    return out.getvalue()


def gltf(**change):
    """A triangle as a `.gltf`, with something changed."""
    data = np.array([(0, 0, 0), (1, 0, 0), (0, 1, 0)], dtype="<f4").tobytes()
    doc = {
        "asset": {"version": "2.0"}, "scene": 0, "scenes": [{"nodes": [0]}], "nodes": [{"mesh": 0}],
        "meshes": [{"primitives": [{"attributes": {"POSITION": 0}}]}],
        "accessors": [{"bufferView": 0, "componentType": 5126, "count": 3, "type": "VEC3"}],
        "bufferViews": [{"buffer": 0, "byteLength": 36}],
        "buffers": [{"byteLength": 36, "uri": "data:application/octet-stream;base64," + base64.b64encode(data).decode()}],
        **change,
    }  # fmt: skip
    return json.dumps(doc).encode()


def bad_usdz(name, size=10):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        packed.writestr(name, b"\0" * size)
    return out.getvalue()


NAN = base64.b64encode(np.array([(0, 0, np.nan), (1, 0, 0), (0, 1, 0)], dtype="<f4").tobytes()).decode()
WHOLE = glb(("Box", box(1, 1, 1), at()))
OBJ_FAR = b"v 0 0 0\nv 1e30 0 0\nv 0 1e30 0\nf 1 2 3\n"
BAD = {
    "empty": (b"", "a.glb", "a.glb is empty"),
    "cut short": (WHOLE[:-40], "a.glb", "cut short"),
    "wrong magic": (b"glTX" + WHOLE[4:], "a.glb", "no description"),
    "another version": (WHOLE[:4] + struct.pack("<I", 1) + WHOLE[8:], "a.glb", "glTF version 1"),
    "unknown": (b"hello", "a.xyz", "can't be brought in"),
    "outside": (gltf(buffers=[{"byteLength": 36, "uri": "https://example.org/a.bin"}]), "a.gltf", "points outside itself"),
    "absolute": (gltf(buffers=[{"byteLength": 36, "uri": "/etc/passwd"}]), "a.gltf", "points outside itself"),
    "up and out": (gltf(buffers=[{"byteLength": 36, "uri": "x/../../a.bin"}]), "a.gltf", "points outside itself"),
    "missing": (gltf(buffers=[{"byteLength": 36, "uri": "a.bin"}]), "a.gltf", "needs a.bin, which was not brought along"),
    "short buffer": (gltf(bufferViews=[{"buffer": 0, "byteLength": 99}]), "a.gltf", "does not lie within its buffer"),
    "count": (gltf(meshes=[{"primitives": [{"attributes": {"POSITION": 0}, "mode": 5}]}], accessors=[{"bufferView": 0, "componentType": 5126, "count": 2**40, "type": "VEC3"}]), "a.gltf", "does not lie within"),
    "nan": (gltf(buffers=[{"byteLength": 36, "uri": "data:;base64," + NAN}]), "a.gltf", "aren't numbers"),
    "ring": (gltf(nodes=[{"mesh": 0}, {"children": [2]}, {"children": [1]}]), "a.gltf", "ring of nodes"),
    "two parents": (gltf(nodes=[{"mesh": 0}, {"children": [0]}, {"children": [0]}]), "a.gltf", "two parents"),
    "compressed": (gltf(extensionsRequired=["KHR_draco_mesh_compression"]), "a.gltf", "cannot be read without KHR_draco"),
    "nonsense": (gltf(meshes=[{"primitives": [{"attributes": {"POSITION": "x"}}]}]), "a.gltf", "do not fit together"),
    "no meshes": (gltf(meshes=[]), "a.gltf", "do not fit together"),
    "out of all range": (OBJ_FAR, "a.obj", "m from its origin"),
    "nothing in its scene": (gltf(scenes=[{"nodes": []}]), "a.gltf", "no surfaces"),
    "no usd": (b"#usda 1.0\n(((", "a.usda", "not a USD file"),
    "usd outside": (b'#usda 1.0\n(\n subLayers = [@/etc/passwd@]\n)\n', "a.usda", "points outside itself"),
    "zip path": (bad_usdz("../../a.usda"), "a.usdz", "path out of it"),
    "zip bomb": (bad_usdz("a.usda", 500 * 2**20), "a.usdz", "unpacks to 500 MB"),
    "no zip": (b"PK\3\4" + b"x" * 80, "a.usdz", "damaged package"),
    "no obj": (b"hello there", "a.obj", "not an OBJ file"),
    "obj without faces": (b"v 0 0 0\nv 1 0 0\n", "a.obj", "no surfaces"),
    "obj nan": (b"v nan 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n", "a.obj", "aren't numbers"),
}  # fmt: skip


@pytest.mark.parametrize("what", BAD)
def test_a_bad_file_is_refused_in_a_sentence(what):
    content, name, says = BAD[what]
    with pytest.raises(BadInput, match=says) as told:
        keep_model(read_found(content, name, alone), name, "m")
    assert told.value.remedy.endswith(".")


def test_pictures_are_kept_small_and_giants_are_left_out():
    """A texture of 60,000 pixels a side is told by its header alone."""
    giant = bytearray(png(8, 8))
    giant[16:24] = struct.pack(">II", 60_000, 60_000)
    giant[29:33] = struct.pack(">I", zlib.crc32(giant[12:29]))
    uri = "data:image/png;base64,"
    look = {
        "materials": [{"pbrMetallicRoughness": {"baseColorTexture": {"index": 0}}}],
        "textures": [{"source": 0}],
    }
    uv = np.zeros((3, 2), dtype="<f4").tobytes()
    whole = base64.b64encode(np.array([(0, 0, 0), (1, 0, 0), (0, 1, 0)], dtype="<f4").tobytes() + uv).decode()
    more = {
        "meshes": [{"primitives": [{"attributes": {"POSITION": 0, "TEXCOORD_0": 1}, "material": 0}]}],
        "accessors": [
            {"bufferView": 0, "componentType": 5126, "count": 3, "type": "VEC3"},
            {"bufferView": 0, "byteOffset": 36, "componentType": 5126, "count": 3, "type": "VEC2"},
        ],
        "bufferViews": [{"buffer": 0, "byteLength": 60}],
        "buffers": [{"byteLength": 60, "uri": "data:;base64," + whole}],
    }  # fmt: skip
    for picture, kept, says in (
        (bytes(giant), 0, "larger than 16,384 pixels"), (png(4096, 1024), 1, "2,048 pixels of 4,096"), (b"no", 0, "not a PNG"),
    ):  # fmt: skip
        images = [{"uri": uri + base64.b64encode(picture).decode()}]
        found = read_found(gltf(images=images, **look, **more), "a.gltf", alone)
        assert len(found.pictures) == kept and says in " ".join(found.said)
    assert Image.open(io.BytesIO(read_found(gltf(images=[{"uri": uri + base64.b64encode(png(4096, 1024)).decode()}], **look, **more), "a.gltf", alone).pictures[0])).size == (2048, 512)  # fmt: skip


def test_a_damaged_usd_file_ends_no_process_but_the_one_that_looks(tmp_path):
    """usd-core itself can be brought down by a damaged `.usdc`."""
    whole = as_file(usd(), "usdc")
    for seed in range(12):
        rng = np.random.default_rng(seed)
        content = bytearray(whole)
        for spot in rng.integers(8, len(content), 20):
            content[spot] = rng.integers(256)
        try:
            assert read_found(bytes(content), "a.usdc", alone).triangles < 1e6
        except BadInput as error:
            assert error.reason and error.remedy


OBJ = trimesh.exchange.obj.export_obj(box(1, 2, 3)).encode()


@settings(max_examples=120, deadline=None)
@given(st.data())
def test_whatever_the_bytes_it_is_read_or_refused(data):
    """Bytes of whole files changed anywhere: a sentence or a model, soon, and nothing else."""
    whole, name = data.draw(st.sampled_from([(WHOLE, "a.glb"), (gltf(), "a.gltf"), (OBJ, "a.obj")]))
    content = bytearray(whole)
    for _ in range(data.draw(st.integers(1, 6))):
        content[data.draw(st.integers(0, len(content) - 1))] = data.draw(st.integers(0, 255))
    content = (
        content[: data.draw(st.integers(len(content) // 2, len(content)))]
        if data.draw(st.booleans())
        else content
    )
    begun = time.monotonic()
    try:
        kept = keep_model(read_found(bytes(content), name, alone), name, "m")
        assert kept.parts
    except BadInput as error:
        assert error.reason and error.remedy
    assert time.monotonic() - begun < 20


def test_what_a_file_is_is_told_by_what_stands_in_it():
    assert form_of(WHOLE, "a.txt") == "gltf"
    assert form_of(b"HIERARCHY\nROOT Hips", "walk.txt") == "bvh"
    assert form_of(png(2, 2), "x") == "picture"
    assert form_of(b"RIFF\0\0\0\0WAVE", "x") == "sound"
    assert form_of(b"TITLE: CUT", "cut.edl") == "edit"


def test_the_command_line_looks_at_a_file_and_puts_it_up(tmp_path, capsys):
    (tmp_path / "hut.glb").write_bytes(
        glb(("Hut", box(4, 3, 5), at(0, 0, 2)), ("Door", box(0.1, 2, 1), at(2, 0, 2)))
    )
    (tmp_path / "s.json").write_text(write_scene(empty_scene("S")))

    def heron(*words):
        code = main([str(word) for word in words])
        out = capsys.readouterr()
        return code, json.loads(out.out) if out.out else out.err

    code, told = heron("inspect", tmp_path / "hut.glb")
    assert (
        code == 0
        and told["kind"] == "set"
        and told["triangles"] == 24
        and told["height_m"] == pytest.approx(3)
    )
    assert (told["unit"], told["up"], told["joints"], told["left_out"]) == ("m", "y", {}, [])
    before = (tmp_path / "s.json").read_text()
    code, told = heron(
        "bring", tmp_path / "s.json", tmp_path / "hut.glb", "--out", tmp_path / "out" / "s2.json"
    )
    assert code == 2 and "No such file" in told  # there is no such folder
    (tmp_path / "out").mkdir()
    code, told = heron(
        "bring", tmp_path / "s.json", tmp_path / "hut.glb", "--out", tmp_path / "out" / "s2.json"
    )
    assert code == 0 and [one["name"] for one in told["pieces"]] == ["Hut", "Door"]
    assert (tmp_path / "out" / "files" / f"{told['file']}.glb").exists() and (
        tmp_path / "s.json"
    ).read_text() == before
    code, told = heron(
        "bring",
        tmp_path / "out" / "s2.json",
        tmp_path / "hut.glb",
        "--as",
        "prop",
        "--unit",
        "cm",
        "--out",
        tmp_path / "s3.json",
    )
    assert code == 0 and len(list((tmp_path / "files").iterdir())) == 2
    scene = read_scene((tmp_path / "s3.json").read_text())
    assert find(scene, "movers", scene.movers[0].id).name == "hut" and scene.pieces[
        2
    ].height == pytest.approx(0.03)
    code, told = heron("inspect", tmp_path / "s.json")
    assert code == 2 and "can't be brought in" in told


def test_a_picture_is_a_panel_of_its_shape_upright_as_its_camera_held_it():
    """A picture taken with a camera on its side (EXIF 2.3, orientation 6), looked at from the front by trimesh and PIL."""
    picture = Image.new("RGB", (300, 100), "white")
    picture.paste("red", (0, 0, 60, 100))
    exif = Image.Exif()
    exif[0x0112] = 6
    out = io.BytesIO()
    picture.save(out, "JPEG", exif=exif, quality=95)
    found = read_found(out.getvalue(), "tower.jpg", alone)
    kept = keep_model(found, "tower.jpg")
    assert kept.size_m == pytest.approx((1.0, 3.0, 0.0), abs=2e-3)
    loaded = trimesh.load_scene(io.BytesIO(kept.content), file_type="glb")
    (mesh,) = loaded.geometry.values()
    image = mesh.visual.material.baseColorTexture
    # What was at the left of the sensor is at the top of the panel.
    top = int(np.argmax(mesh.vertices[:, 1] - 0.01 * np.abs(mesh.vertices[:, 0])))
    _, v = mesh.visual.uv[top]
    assert v == pytest.approx(1.0) and image.size == (100, 300)
    assert (
        image.getpixel((50, 5))[:2] > (200, 0)
        and image.getpixel((50, 5))[1] < 60
        and image.getpixel((50, 295))[1] > 200
    )


def test_own_things_are_kept_alone_and_put_up_in_another_scene():
    """A figure who carries on, the boat it sits in, a camera that watches it: their links to each other stay, others are let go."""
    demo = slack_tide()
    bram = next(one for one in demo.figures if one.name == "Bram")
    boat = next(one for one in demo.movers if "boat" in one.name.lower())
    kept = kept_things(demo, (bram.id, boat.id))
    assert [one.name for one in kept.figures] == ["Bram"] and boat.name in {one.name for one in kept.movers}
    assert kept.name == "Bram and 1 more"
    assert not (kept.cameras or kept.shots or kept.lines)
    left = {item.id for item in kept.items().values()}
    assert all(link.id in left for item in kept.items().values() for link in links(item))
    there = empty_scene("Loft").having(frames=demo.frames)
    after, said = run(there, [BringThings(id="own", kept=kept, x=10.0, z=5.0)])
    again, _ = run(after, [BringThings(id="more", kept=kept)])
    assert said[0].endswith("from the library")
    assert sorted(one.name for one in again.figures) == ["Bram", "Bram 2"]
    assert len({one.id for one in again.items().values()}) == len(again.items())
    ids = set(again.items())
    assert all(link.id in ids for item in again.items().values() for link in links(item))
    # They do on the stage what they did, moved: the same walk from another place.
    figure = next(one for one in after.figures if one.name == "Bram")
    was, now = Bake(kept).performance(kept.figures[0]), Bake(after).performance(figure)
    moved = (now.root - was.root)[:, [0, 2]]
    assert np.abs(moved - moved[0]).max() < 1e-6 and np.abs(moved[0]).max() > 1
