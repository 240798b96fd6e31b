"""Faces of characters: shapes of a skin by what they are called, against glTF's and UsdSkel's own definitions of what they do."""

import json
import struct
from pathlib import Path

import numpy as np
import pytest
from kept_files import STORE, files  # noqa: F401
from khronos import assert_valid
from pxr import Gf, Usd, UsdGeom, UsdSkel
from rigs_made import skinned, tubes, walking
from scipy.spatial.transform import Rotation

from heron.bake import Bake
from heron.commands import parse_commands, run
from heron.formats.bringing.faces import shapes_of_face
from heron.formats.bringing.kept import keep_character, keep_model
from heron.formats.bringing.recognise import read_found
from heron.formats.gltf import write_stage
from heron.formats.usd import write_usd
from heron.scene import empty_scene
from heron.stage.characters import character_of
from heron.stage.face import NUMBERS
from heron.stage.face.rig import shares


def along(name):
    return None


def head_shapes(rig):
    """Shapes of the head of a rig, metres of its own: a jaw that drops, an eye's lid on each side, and one that is none of a face's."""
    points, _, joints, _ = tubes(rig)
    head = joints[:, 0] == rig.keys.index("head")
    low = head & (points[:, 1] < np.median(points[head][:, 1]))

    def moves(where, by):
        return np.where(where[:, None], np.array(by), 0.0)

    return {
        "Jaw_Open": moves(low, (0.0, -0.03, 0.01)),
        "eyeBlinkLeft": moves(head & ~low & (points[:, 0] > 0), (0.002, -0.02, 0.0)),
        "eyeBlinkRight": moves(head & ~low & (points[:, 0] < 0), (-0.002, -0.02, 0.0)),
        "earsFlap": moves(head, (0.01, 0.0, 0.0)),
        "mouthSmile": moves(head, (0.0, 0.0, 0.0)),
    }


def brought(unit=0.01, up="z", faces="-x", turned=4):
    rig = walking(names="prefixed", rest="A", fps=24)
    shapes = head_shapes(rig)
    found = read_found(skinned(rig, unit, up, faces, turned, shapes=shapes), "oarsman.glb", along)
    one = keep_character(found, "oarsman.glb", unit={0.01: "cm", 1.0: "m"}[unit])
    STORE[one.key] = one.content
    return rig, shapes, found, one


def acted(one, *acts):
    scene = empty_scene("Slack Tide").having(rate="24/1")
    commands = [
        {"kind": "figure.add", "id": "fig-a", "name": "Bram", "stature": 1.8, "x": 1, "z": 2, "heading": 40},
        {"kind": "character.bring", "figure": "fig-a", "file": one.key, "name": "oarsman"},
        *({"kind": "figure.act", "figure": "fig-a", "act": act} for act in acts),
    ]
    return run(scene, parse_commands(json.dumps(commands)))[0]


SURPRISE = {
    "kind": "express",
    "expression": "surprise",
    "amount": 1.0,
    "frames": {"first": 1010, "last": 1060},
}


def test_names_that_faces_are_commonly_built_with_are_known():
    """Common practice; the action units behind them are of the published coding of faces (Ekman and Friesen 1978)."""
    says = {
        "jawOpen": "open", "Mouth_Open": "open", "viseme_aa": "open", "EYES_CLOSED": "lid_up-", "Lip Corner Up": "corner+", "smile": "corner+",
        "mouthFrown": "corner-", "browFrown": "knit", "mouthPucker": "wide-", "mouthStretch": "wide+", "upper_lip_raiser": "lip_up",
        "browInnerUp": "brow_in+", "eyeSquint": "lid_low", "cheekRaiser": "lid_low", "EyeWide": "lid_up+", "eyebrow outer lowered": "brow_out-",
    }  # fmt: skip
    says |= {
        "browLowerer": "brow_in-", "brow inner down": "brow_in-", "Eyebrow_Outer_Raise": "brow_out+", "BrowsTogether": "knit", "blink": "lid_up-",
        "lid shut": "lid_up-", "eyelidsWiden": "lid_up+", "squint": "lid_low", "jawDrop": "open", "aa": "open", "viseme_a": "open", "mouth_wide": "wide+",
        "ee": "wide+", "ih": "wide+", "viseme_E": "wide+", "lipsFunnel": "wide-", "mouth kiss": "wide-", "oo": "wide-", "viseme_ou": "wide-",
        "vowel_u": "wide-", "happy": "corner+", "mouthSad": "corner-", "Mouth Corners Down": "corner-", "sorrow": "corner-", "noseSneer": "lip_up",
        "nose_wrinkler": "lip_up", "sneer": "lip_up", "mouthUpperUp": "lip_up",
    }  # fmt: skip
    for name, part in says.items():
        assert shapes_of_face([name]) == {part: (name, 1.0)}, name
    for name in (
        "eyeLookUpLeft",
        "mouthClose",
        "cheekPuff",
        "jawForward",
        "mouthLowerDown",
        "tongueOut",
        "Basis",
    ):
        assert shapes_of_face([name]) == {}, name
    # One for each side comes before one for both; one for one side alone is not half a face.
    both = ["blink_L", "blink_R", "blink"]
    assert shapes_of_face(both) == {"lid_up-.r": ("blink_R", 1.0), "lid_up-.l": ("blink_L", 1.0)}
    assert shapes_of_face(["blink_L", "blink"]) == {"lid_up-": ("blink", 1.0)}
    assert shapes_of_face(["smileLeft"]) == {}
    # A whole brow is half its inner and half its outer end.
    assert shapes_of_face(["browUp"]) == {"brow_in+": ("browUp", 0.5), "brow_out+": ("browUp", 0.5)}


def test_numbers_of_a_face_move_the_shapes_of_each_side():
    numbers = np.zeros((2, len(NUMBERS)))
    for name, value in {"lid_up": -1.0, "side": 0.25, "open": 0.5, "wide": -0.4}.items():
        numbers[1, NUMBERS.index(name)] = value
    parts = ("lid_up-.r", "lid_up-.l", "lid_up+.r", "open", "wide-", "wide+")
    np.testing.assert_allclose(shares(numbers, parts), [[0] * 6, [1.0, 0.75, 0.0, 0.5, 0.4, 0.0]])


@pytest.mark.parametrize("kind", [(0.01, "z", "-x", 4), (1.0, "y", "+z", 0)])
def test_its_shapes_move_as_far_and_the_same_way_as_in_the_file(kind):
    rig, shapes, found, one = brought(*kind)
    character = character_of(one.key)
    assert character.face == ("lid_up-.r", "lid_up-.l", "open")
    assert one.face == "Its face follows expressions and speech: lids and mouth."
    assert [said for said in found.said if "earsFlap" in said] and not any("Smile" in s for s in found.said)
    (skin,) = character.skins
    # The rig faces +Z with its left at +X; what is kept faces −Z.
    axes = np.array([[-1, 0, 0], [0, 1, 0], [0, 0, -1]])
    own = tubes(rig)[0] @ axes.T
    own = (own - [0, own[:, 1].min(), 0]) / one.stature_m
    match = np.array([np.linalg.norm(skin.surface.points - point, axis=1).argmin() for point in own])
    for part, name in (("open", "Jaw_Open"), ("lid_up-.l", "eyeBlinkLeft"), ("lid_up-.r", "eyeBlinkRight")):
        theirs = shapes[name] @ axes.T / one.stature_m
        assert np.abs(theirs).max() > 0.01
        np.testing.assert_allclose(skin.morphs[part][match], theirs, atol=2e-5)


def test_an_expression_goes_out_as_weights_and_the_validator_finds_no_error():
    *_, one = brought()
    content = write_stage(Bake(acted(one, SURPRISE)))
    assert_valid(content, one.content)
    (length,) = struct.unpack_from("<I", content, 12)
    doc, blob = json.loads(content[20 : 20 + length]), content[28 + length :]
    (motion,) = doc["animations"]
    (channel,) = [one for one in motion["channels"] if one["target"]["path"] == "weights"]
    accessor = doc["accessors"][motion["samplers"][channel["sampler"]]["output"]]
    start = doc["bufferViews"][accessor["bufferView"]]["byteOffset"]
    weights = np.frombuffer(blob, "<f4", accessor["count"], start).reshape(-1, 3)
    # The jaw drops, wide eyes have no blink but at their moments, and all is as it was once it has gone.
    assert weights[40, 2] == pytest.approx(0.75) and weights[100, 2] == 0.0
    assert weights.min() >= 0 and weights[:, 0].max() == pytest.approx(1.0, abs=0.05)
    mesh = doc["nodes"][channel["target"]["node"]]["mesh"]
    assert doc["meshes"][mesh]["extras"]["targetNames"] == ["Eye Blink Right", "Eye Blink Left", "Jaw Open"]


def test_usd_draws_the_face_as_we_do_and_gives_it_back(tmp_path):
    """Points that UsdSkel itself bakes, against linear blend skinning of moved points by its definition."""
    *_, one = brought()
    scene = acted(one, SURPRISE)
    path = str(tmp_path / "stage.usdc")
    Path(path).write_bytes(write_usd(Bake(scene), ".usdc"))
    usd = Usd.Stage.Open(path)
    assert UsdSkel.BakeSkinning(
        UsdSkel.Root(usd.GetPrimAtPath("/World/Figures/Bram")), Gf.Interval(1041, 1041)
    )
    theirs = np.array(UsdGeom.Mesh(usd.GetPrimAtPath("/World/Figures/Bram/Body")).GetPointsAttr().Get(1041))
    character, bake = character_of(one.key), Bake(scene)
    (skin,) = character.skins
    numbers = bake.face(scene.figures[0])[40:41]
    moved = skin.surface.points + sum(
        share * skin.morphs[part]
        for part, share in zip(character.face, shares(numbers, character.face)[0], strict=True)
    )
    done, figure = bake.performance(scene.figures[0]), scene.figures[0]
    world = np.tile(np.eye(4), (len(done.places[40]), 1, 1))
    world[:, :3, :3], world[:, :3, 3] = Rotation.from_quat(done.poses[40]).as_matrix(), done.places[40]
    inverse = character.inverse.copy()
    inverse[:, :3] *= figure.stature
    mixed = np.einsum("vk,vkij->vij", skin.weights, (world @ inverse)[skin.joints])
    ours = np.einsum("vij,vj->vi", mixed[:, :3, :3], moved) + mixed[:, :3, 3]
    still = np.einsum("vij,vj->vi", mixed[:, :3, :3], skin.surface.points) + mixed[:, :3, 3]
    assert np.linalg.norm(ours - still, axis=1).max() > 0.02
    np.testing.assert_allclose(theirs, ours, atol=3e-5)
    again = keep_character(read_found(Path(path).read_bytes(), "stage.usdc", along), "stage.usdc")
    STORE[again.key] = again.content
    back = character_of(again.key)
    assert set(back.face) == set(character.face)
    for part in character.face:
        assert np.abs(back.skins[0].morphs[part]).max() == pytest.approx(
            np.abs(skin.morphs[part]).max(), rel=1e-3
        )


def test_shapes_of_a_set_are_left_out_and_said_and_a_lighter_copy_keeps_its_face():
    _, _, found, one = brought()
    assert not any("morph" in said for said in found.said)
    keep_model(found, "oarsman.glb", "cm")
    assert any("morph targets" in said for said in found.said)
    bare = keep_character(read_found(skinned(walking()), "oarsman.glb", along), "oarsman.glb", unit="m")
    assert "stays as it is" in bare.face and character_of(one.key).face
    lighter = keep_character(found, "oarsman.glb", unit="cm", lighter=True)
    assert lighter.content == one.content
