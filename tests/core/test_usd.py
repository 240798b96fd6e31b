"""The stage as USD, read back by usd-core alone: its own checker, frusta, skinning and transforms."""

import json

import numpy as np
import pytest
from pxr import Gf, Usd, UsdGeom, UsdSkel, UsdValidation
from scipy.spatial.transform import Rotation

from heron.bake import Bake
from heron.cli import main
from heron.demo import slack_tide
from heron.formats.usd import write_usd
from heron.framing import project
from heron.scene import find, write_scene
from heron.stage.reference import OnFigure, OnMover
from heron.stage.shapes import lay_figure

SCENE = slack_tide()
BAKE = Bake(SCENE)
FRAMES = (1001, 1130, 1245, 1300, 1320)


@pytest.fixture(scope="module")
def stage(tmp_path_factory):
    path = tmp_path_factory.mktemp("usd") / "stage.usdc"
    path.write_bytes(write_usd(BAKE))
    return Usd.Stage.Open(str(path))


def test_the_checker_finds_nothing_wrong_in_the_package(tmp_path):
    path = tmp_path / "stage.usdz"
    path.write_bytes(write_usd(BAKE, ".usdz"))
    validators = UsdValidation.ValidationRegistry().GetOrLoadAllValidators()
    found = UsdValidation.ValidationContext(validators).Validate(Usd.Stage.Open(str(path)))
    assert len(validators) > 20 and [one.GetMessage() for one in found] == []


def test_units_axis_time_and_default_prim(stage):
    assert UsdGeom.GetStageMetersPerUnit(stage) == 1 and UsdGeom.GetStageUpAxis(stage) == "Y"
    assert (stage.GetStartTimeCode(), stage.GetEndTimeCode(), stage.GetTimeCodesPerSecond()) == (
        1001,
        1320,
        24,
    )
    assert stage.GetDefaultPrim().GetPath() == "/World"


@pytest.mark.parametrize("letter", "ABCDEFGHIJ"[: len(SCENE.cameras)])
def test_a_frustum_of_usd_s_own_puts_points_where_the_picture_has_them(stage, letter):
    """Gf.Camera's frustum against projection in the core, within a thousandth of a pixel of 1,920."""
    camera = find(SCENE, "cameras", next(c.id for c in SCENE.cameras if c.letter == letter))
    prim = next(
        p for p in stage.GetPrimAtPath("/World/Cameras").GetChildren() if p.GetName().startswith(f"{letter}_")
    )
    heads = BAKE.place(OnFigure(figure="fig-bram", joint="head"), np.array(FRAMES))
    for frame, head in zip(FRAMES, heads, strict=True):
        seen = UsdGeom.Camera(prim).GetCamera(frame)
        samples = BAKE.samples(camera, type(SCENE.frames)(first=frame, last=frame))
        points = head + np.random.default_rng(frame).uniform(-1, 1, (20, 3))
        for point in points:
            ours = project(samples, point[None])
            if not ours.depth[0] > 0.2:
                continue
            matrix = seen.frustum.ComputeViewMatrix() * seen.frustum.ComputeProjectionMatrix()
            theirs = matrix.Transform(Gf.Vec3d(*point))
            assert abs(theirs[0] - ours.x[0]) * 960 < 1e-3 and abs(theirs[1] - ours.y[0]) * 540 < 1e-3
        # Tenths of the stage's unit, which is a metre: 36 mm is 0.36.
        row = samples.at(frame)
        assert seen.focalLength * 100 == pytest.approx(row["focal_mm"], abs=1e-4)
        assert seen.fStop == pytest.approx(row["aperture"], rel=1e-6)
        if row["focus_per_m"] > 1e-6:
            assert seen.focusDistance == pytest.approx(1 / row["focus_per_m"], rel=1e-5)


@pytest.mark.parametrize("name", ["Odile", "Bram"])
def test_points_of_a_skin_are_where_an_independent_skinning_has_them(stage, name):
    """200 points by UsdSkel's own skinning, against linear blends of joint matrices by numpy and scipy."""
    figure = next(one for one in SCENE.figures if one.name == name)
    mesh, done = lay_figure(figure), BAKE.performance(figure)
    cache = UsdSkel.Cache()
    root = UsdSkel.Root(stage.GetPrimAtPath(f"/World/Figures/{name}"))
    cache.Populate(root, Usd.TraverseInstanceProxies())
    (bound,) = cache.ComputeSkelBindings(root, Usd.TraverseInstanceProxies())
    query = cache.GetSkelQuery(bound.GetSkeleton())
    target = bound.GetSkinningTargets()[0]
    body = UsdGeom.Mesh(target.GetPrim())
    rest = np.array([m.ExtractTranslation() for m in query.GetJointWorldBindTransforms()])
    # Faces aside, whose joints go by numbers: what hangs on the body's own joints.
    chosen = np.flatnonzero((mesh.joints < done.places.shape[1]) & (mesh.joints > 0))[
        :: max(len(mesh.points) // 260, 1)
    ][:200]
    for frame in FRAMES:
        points = UsdGeom.PointBased(body).GetPointsAttr().Get()
        assert target.ComputeSkinnedPoints(query.ComputeSkinningTransforms(frame), points, frame)
        theirs = np.array(points)[chosen]
        i = frame - SCENE.frames.first
        joints = [mesh.joints[chosen], *(mesh.others[chosen].T if mesh.others is not None else ())]
        shares = mesh.shares[chosen] if mesh.shares is not None else np.zeros((len(chosen), 2))
        weights = [1 - shares.sum(axis=1), *shares.T]
        want = np.zeros_like(theirs, dtype=float)
        for joint, weight in zip(joints, weights, strict=False):
            turned = Rotation.from_quat(done.poses[i, joint]).apply(mesh.points[chosen] - rest[joint])
            want += weight[:, None] * (turned + done.places[i, joint])
        assert np.abs(theirs - want).max() < 2e-4


def test_pieces_and_movers_stand_where_the_core_has_them(stage):
    cache = UsdGeom.XformCache(1001)
    post = next(p for p in SCENE.pieces if p.part_of is None and not p.hidden)
    names = {p.GetName(): p for p in stage.GetPrimAtPath("/World/Set").GetChildren()}
    assert len(names) == sum(p.part_of is None and not p.hidden for p in SCENE.pieces)
    placed = cache.GetLocalToWorldTransform(next(iter(names.values())))
    assert placed.Transform(Gf.Vec3d(0, 0, 0)) == pytest.approx((post.x, post.base, post.z), abs=1e-6)
    boat = stage.GetPrimAtPath("/World/Movers/Rowing_boat")
    for frame in FRAMES:
        cache.SetTime(frame)
        want = BAKE.place(OnMover(mover="mov-boat"), np.array([frame]))[0]
        found = cache.GetLocalToWorldTransform(boat).ExtractTranslation()
        assert (
            np.linalg.norm(np.array(found) - want) < 1.0
        )  # the middle of it is meant; its origin is at its keel
        assert np.array(found) == pytest.approx(
            BAKE.rows(SCENE.movers[1], np.array([frame]))[0, :3], abs=1e-6
        )


def test_the_command_line_writes_text_binary_and_package(tmp_path, capsys):
    (tmp_path / "s.json").write_text(write_scene(SCENE))
    for to, name, begins in (
        ("usd", "a.usda", b"#usda"),
        ("usd", "a.usdc", b"PXR-USDC"),
        ("usdz", "a.usdz", b"PK"),
    ):
        assert main(["export", str(tmp_path / "s.json"), "--to", to, "--out", str(tmp_path / name)]) == 0
        assert (tmp_path / name).read_bytes().startswith(begins)
        told = json.loads(capsys.readouterr().out)
        assert told["bytes"] == (tmp_path / name).stat().st_size
