"""Characters: skins made by scipy alone, worn by figures; their points against linear blend skinning by its definition."""

import json

import numpy as np
import pytest
from kept_files import STORE, files  # noqa: F401
from khronos import assert_valid
from pxr import Usd, UsdGeom, UsdSkel
from rigs_made import OURS, skinned, skinned_at, tubes, walking
from scipy.spatial.transform import Rotation

from heron.bake import Bake
from heron.cli import main
from heron.commands import parse_commands, run
from heron.errors import BadInput, Refused
from heron.formats.bringing.kept import keep_character, keep_motion
from heron.formats.bringing.motion import skeleton_of
from heron.formats.bringing.recognise import read_found
from heron.formats.gltf import write_body
from heron.formats.usd import write_usd
from heron.scene import empty_scene, read_scene, write_scene
from heron.stage.characters import character_of, physique_of
from heron.stage.models import find_files
from heron.stage.skeleton import INDEX

#: Names, rest pose, unit in metres, axis up, the way it faces, and whether joints at rest are turned.
KINDS = {
    "words": ("words", "T", 1.0, "y", "+z", 3),
    "prefixed": ("prefixed", "A", 0.01, "y", "+z", 0),
    "nameless": ("none", "T", 1.0, "z", "+z", 5),
    "hanging": ("plain", "hanging", 1.0, "y", "-x", 7),
}
FPS = 30


def along(name):
    return None


def made(kind, **more):
    names, rest, unit, up, faces, turned = KINDS[kind]
    rig = walking(names=names, rest=rest, fps=FPS, **more)
    return rig, skinned(rig, unit, up, faces, turned), {1.0: "m", 0.01: "cm"}[unit]


def kept(content, unit="m"):
    one = keep_character(read_found(content, "oarsman.glb", along), "oarsman.glb", unit=unit)
    STORE[one.key] = one.content
    return one


def stage(*commands, rate=FPS):
    scene = empty_scene("Slack Tide").having(rate=f"{rate}/1")
    standing = [
        {"kind": "figure.add", "id": "fig-a", "name": "Bram", "stature": 1.8, "x": 1, "z": 2, "heading": 40}
    ]
    return run(scene, parse_commands(json.dumps([*standing, *commands])))[0]


def worn(figure, done, rows):
    """(n, v, 3) a figure's points on the stage: each joint's place and turn, after what takes points to it."""
    character = character_of(figure.character)
    out = []
    for row in rows:
        world = np.tile(np.eye(4), (len(INDEX), 1, 1))
        world[:, :3, :3] = Rotation.from_quat(done.poses[row]).as_matrix()
        world[:, :3, 3] = done.places[row]
        points = []
        for one in character.skins:
            inverse = character.inverse.copy()
            inverse[:, :3] *= figure.stature
            blended = np.einsum("vk,vkij->vij", one.weights, (world @ inverse)[one.joints])
            points.append(np.einsum("vij,vj->vi", blended[:, :3, :3], one.surface.points) + blended[:, :3, 3])
        out.append(np.concatenate(points))
    return np.array(out)


@pytest.mark.parametrize("kind", KINDS)
def test_bones_are_as_long_as_the_file_has_them(kind):
    rig, content, unit = made(kind)
    one = kept(content, unit)
    assert one.joints == {ours: rig.names[rig.keys.index(key)] for ours, key in OURS.items()}
    points = tubes(rig)[0]
    head = rig.keys.index("head")
    tall = points[tubes(rig)[2][:, 0] == head][:, 1].max() - points[:, 1].min()
    # Its crown is the highest point of its head, its soles the lowest of its feet.
    assert one.stature_m == pytest.approx(tall, abs=2e-3)
    character = character_of(one.key)
    at = {key: rig.rest[i] for i, key in enumerate(rig.keys)}
    for ours, above in (("elbow", "shoulder"), ("wrist", "elbow"), ("knee", "hip"), ("ankle", "knee")):
        for side in "rl":
            long = np.linalg.norm(at[OURS[f"{ours}_{side}"]] - at[OURS[f"{above}_{side}"]]) / tall
            own = character.proportions.offsets[INDEX[f"{ours}_{side}"]]
            # It hangs straight down.
            np.testing.assert_allclose(own, [0, -long, 0], atol=2e-5)
    apart = np.linalg.norm(at["lthigh"] - at["rthigh"]) / tall
    assert character.proportions.rest[INDEX["hip_r"]][0] == pytest.approx(apart / 2, abs=2e-5)


@pytest.mark.parametrize("kind", KINDS)
def test_its_own_clip_moves_its_skin_as_the_file_does(kind):
    rig, content, unit = made(kind)
    one = kept(content, unit)
    skeleton, _ = skeleton_of(content, "oarsman.glb", along)
    motion = keep_motion(skeleton, "oarsman.glb")
    STORE[motion.key] = motion.content
    bring = {
        "kind": "motion.bring",
        "figure": "fig-a",
        "file": motion.key,
        "name": "walk",
        "seconds": motion.seconds,
        "frame": 1001,
    }
    scene = stage(bring, {"kind": "character.bring", "figure": "fig-a", "file": one.key, "name": "oarsman"})
    figure = scene.figures[0]
    rows = list(range(12, 80, 9))
    ours = worn(figure, Bake(scene).performance(figure), rows)
    theirs = np.array([skinned_at(rig, row) for row in rows]) * (1.8 / one.stature_m)
    assert ours.shape[1] >= theirs.shape[1]
    # The reader may have taken points apart where faces meet; each of the file's has its own among them.
    rest = np.concatenate([s.surface.points for s in character_of(one.key).skins])
    axes = np.array([[-1, 0, 0], [0, 1, 0], [0, 0, -1]])
    own = tubes(rig)[0] @ axes.T
    own = (own - [0, own[:, 1].min(), 0]) / one.stature_m
    match = np.array([np.linalg.norm(rest - point, axis=1).argmin() for point in own])
    np.testing.assert_allclose(rest[match], own, atol=2e-3)
    a, b = ours[:, match], theirs @ axes.T
    # One turn about the upright and one shift for all frames: where and how the figure stood when it began.
    flat = [one.reshape(-1, 3) - one.reshape(-1, 3).mean(axis=0) for one in (a, b)]
    c = (flat[0][:, 0] * flat[1][:, 0] + flat[0][:, 2] * flat[1][:, 2]).sum()
    s = (flat[0][:, 0] * flat[1][:, 2] - flat[0][:, 2] * flat[1][:, 0]).sum()
    fitted = Rotation.from_euler("Y", np.arctan2(s, c)).apply(flat[1])
    if (
        np.abs(fitted - flat[0]).mean()
        > np.abs(Rotation.from_euler("Y", -np.arctan2(s, c)).apply(flat[1]) - flat[0]).mean()
    ):
        fitted = Rotation.from_euler("Y", -np.arctan2(s, c)).apply(flat[1])
    away = np.linalg.norm(fitted - flat[0], axis=1).reshape(len(rows), -1)
    keys = np.array(rig.keys)[tubes(rig)[2][:, 0]]
    feet = np.array([key[1:] in ("foot", "toe", "shin", "thigh") for key in keys])
    # Feet are set and legs never quite straight; everything else is where the file has it.
    assert away[:, ~feet].max() < 0.002 and away[:, feet].max() < 0.02


def test_it_stands_on_its_soles_and_is_as_tall_as_the_figure():
    _, content, _ = made("words", tall=0.8)
    one = kept(content)
    scene = stage(
        {"kind": "character.bring", "figure": "fig-a", "file": one.key, "name": "oarsman"},
        {"kind": "figure.walk", "figure": "fig-a", "points": [[1, -2]], "first": 1020},
    )
    figure = scene.figures[0]
    done = Bake(scene).performance(figure)
    points = worn(figure, done, [0, 40, 60])
    assert points[0, :, 1].max() == pytest.approx(1.8, abs=0.02) and points[0, :, 1].min() == pytest.approx(
        0, abs=0.006
    )
    assert np.abs(points[1:, :, 1].min(axis=1)).max() < 0.03
    assert done.landmark("crown")[0, 1] == pytest.approx(1.8, abs=0.02)
    # A foot that is down stays where it is, and its ankle is as high over the floor as the character's own.
    foot = done.feet["r"]
    stands = foot.planted & (np.abs(foot.pitch) < 0.1)
    np.testing.assert_allclose(foot.ankle[stands, 1], physique_of(figure).ankle, atol=2e-3)
    np.testing.assert_allclose(done.places[:, INDEX["ankle_r"]], foot.ankle, atol=2e-3)


def test_a_palm_and_the_eyes_go_where_they_are_wanted():
    """Arms of its own length reach, eyes at its own height look: a place on the stage is met as a lay figure meets it."""
    _, content, _ = made("prefixed")
    one = kept(content, "cm")
    at = {"kind": "point", "x": 1.3, "y": 1.25, "z": 1.6}
    scene = stage(
        {"kind": "character.bring", "figure": "fig-a", "file": one.key, "name": "oarsman"},
        {"kind": "figure.act", "figure": "fig-a", "act": {"kind": "reach", "at": at, "hand": "right", "frames": {"first": 1010, "last": 1090}, "hold": True}},
        {"kind": "figure.act", "figure": "fig-a", "act": {"kind": "look_at", "at": {"kind": "point", "x": 3, "y": 0.4, "z": -4}, "frames": {"first": 1010, "last": 1090}}},
    )  # fmt: skip
    done = Bake(scene).performance(scene.figures[0])
    assert np.linalg.norm(done.landmark("knuckle_r")[75] - [1.3, 1.25, 1.6]) < 0.03
    eyes = done.landmark("eyes")[75]
    ahead = Rotation.from_quat(done.poses[75, INDEX["eye_r"]]).apply([0, 0, -1])
    way = np.array([3, 0.4, -4]) - eyes
    assert np.degrees(np.arccos(ahead @ way / np.linalg.norm(way))) < 3


def test_a_body_is_swapped_and_given_back_while_everything_else_stays():
    _, content, _ = made("words")
    one = kept(content)
    before = stage({"kind": "figure.walk", "figure": "fig-a", "points": [[1, -2]], "first": 1020})
    after = run(
        before,
        parse_commands(
            json.dumps([{"kind": "character.bring", "figure": "fig-a", "file": one.key, "name": "oarsman"}])
        ),
    )[0]
    figure, was = after.figures[0], before.figures[0]
    assert (figure.acts, figure.stature, figure.name) == (
        was.acts,
        was.stature,
        was.name,
    ) and after.files == (one.key,)
    np.testing.assert_array_equal(
        Bake(after).performance(figure).root[-1], Bake(before).performance(was).root[-1]
    )
    back = run(after, parse_commands(json.dumps([{"kind": "character.leave", "figure": "fig-a"}])))[0]
    assert back == before
    for command in (
        {"kind": "character.leave", "figure": "fig-a"},
        {"kind": "character.bring", "figure": "fig-a", "file": one.key, "name": "x"},
    ):
        with pytest.raises(Refused):
            run(after if command["kind"].endswith("bring") else before, parse_commands(json.dumps([command])))
    # Without its file it is the lay figure, and nothing is lost.
    find_files(lambda key: None)
    np.testing.assert_array_equal(
        Bake(read_scene(write_scene(after))).performance(figure).places, Bake(before).performance(was).places
    )


def test_the_khronos_validator_finds_no_error_in_it():
    _, content, _ = made("nameless")
    one = kept(content)
    scene = stage({"kind": "character.bring", "figure": "fig-a", "file": one.key, "name": "oarsman"})
    assert_valid(one.content, write_body(scene.figures[0]))


def test_it_goes_out_as_usd_and_comes_back_the_same(tmp_path):
    """UsdSkel's own skinning of what is written, and a character read from it, against ours."""
    _, content, _ = made("words")
    one = kept(content)
    scene = stage(
        {"kind": "character.bring", "figure": "fig-a", "file": one.key, "name": "oarsman"},
        {"kind": "figure.walk", "figure": "fig-a", "points": [[1, -2]], "first": 1010},
    )
    (tmp_path / "stage.usdc").write_bytes(write_usd(Bake(scene), ".usdc"))
    usd = Usd.Stage.Open(str(tmp_path / "stage.usdc"))
    cache, root = UsdSkel.Cache(), UsdSkel.Root(usd.GetPrimAtPath("/World/Figures/Bram"))
    cache.Populate(root, Usd.TraverseInstanceProxies())
    (bound,) = cache.ComputeSkelBindings(root, Usd.TraverseInstanceProxies())
    query, target = cache.GetSkelQuery(bound.GetSkeleton()), bound.GetSkinningTargets()[0]
    done = Bake(scene).performance(scene.figures[0])
    for row in (0, 40):
        points = UsdGeom.PointBased(target.GetPrim()).GetPointsAttr().Get()
        assert target.ComputeSkinnedPoints(query.ComputeSkinningTransforms(1001 + row), points, 1001 + row)
        np.testing.assert_allclose(np.array(points), worn(scene.figures[0], done, [row])[0], atol=2e-5)
    again = keep_character(
        read_found((tmp_path / "stage.usdc").read_bytes(), "stage.usdc", along), "stage.usdc"
    )
    STORE[again.key] = again.content
    was, now = character_of(one.key).proportions, character_of(again.key).proportions
    assert again.stature_m == pytest.approx(1.8, abs=2e-3)
    np.testing.assert_allclose(now.offsets, was.offsets, atol=2e-4)
    np.testing.assert_allclose([now.ankle, now.hip, now.foot], [was.ankle, was.hip, was.foot], atol=2e-4)


def legless(rig):
    """The same person cut off at the hips."""
    keep = [i for i, key in enumerate(rig.keys) if key[1:] not in ("thigh", "shin", "foot", "toe")]
    rig.parents = [keep.index(rig.parents[i]) if rig.parents[i] >= 0 else -1 for i in keep]
    rig.names, rig.keys, rig.rest = [rig.names[i] for i in keep], [rig.keys[i] for i in keep], rig.rest[keep]
    return rig


@pytest.mark.parametrize(
    "content, says",
    [
        (lambda: skinned(legless(walking())), "no legs"),
        (lambda: skinned(walking(), unit=0.0009), "unit"),
        (lambda: skinned(walking()).replace(b'"JOINTS_0"', b'"JOYNTS_0"'), "no skin"),
    ],
)
def test_a_bad_character_is_refused_with_what_is_missing(content, says):
    found = read_found(content(), "oarsman.glb", along)
    with pytest.raises(BadInput, match=says) as error:
        keep_character(found, "oarsman.glb")
    assert error.value.remedy


def test_the_command_line_gives_a_figure_the_body(tmp_path, capsys):
    _, content, _ = made("words")
    (tmp_path / "oarsman.glb").write_bytes(content)
    scene = stage({"kind": "figure.add", "id": "fig-b", "name": "Odile", "x": 3, "z": 1})
    (tmp_path / "scene.json").write_text(write_scene(scene))

    def heron(*words):
        code = main([str(word) for word in words])
        return code, capsys.readouterr()

    bring = ("bring", tmp_path / "scene.json", tmp_path / "oarsman.glb", "--as", "character")
    code, said = heron(*bring, "--out", tmp_path / "out.json")
    assert code == 2 and "Bram, Odile" in said.err and len(said.err.strip().splitlines()) == 1
    code, said = heron(*bring, "--figure", "Odile", "--out", tmp_path / "out.json")
    told = json.loads(said.out)
    assert code == 0 and told["joints"]["elbow_l"] == "LeftForeArm" and told["figure"] == "fig-b"
    after = read_scene((tmp_path / "out.json").read_text())
    assert (
        after.figures[1].character == told["file"] and (tmp_path / "files" / f"{told['file']}.glb").is_file()
    )
