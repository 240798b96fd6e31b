"""People put at places of the frame: where OpenCV's pinhole sees them, and that no camera nearer by does."""

import json

import cv2
import numpy as np
import pytest
from scipy.optimize import minimize
from scipy.spatial.transform import Rotation

from heron.bake import Bake
from heron.cli import main
from heron.commands import parse_commands, run
from heron.errors import HeronError
from heron.scene import empty_scene, find, read_scene, write_scene
from heron.stage.reference import OnFigure
from heron.timebase import Frames

FRAME = 1010


def do(scene, *commands):
    return run(scene, parse_commands(json.dumps(list(commands))))[0]


def stage(**pose):
    people = [
        {"kind": "figure.add", "id": id_, "name": name, "stature": tall, "x": x, "z": z, "heading": heading}
        for id_, name, tall, x, z, heading in (
            ("o", "Odile", 1.68, 0.0, 0.0, 30),
            ("b", "Bram", 1.86, 0.9, -1.3, 200),
        )
    ]
    at = {"x": 1.5, "y": 1.7, "z": 4.2, "pan": 10, "tilt": -4, "roll": 0, **pose}
    return do(
        empty_scene("Composed"), {"kind": "scene.set", "frames": {"first": 1001, "last": 1100}}, *people,
        {"kind": "camera.add", "id": "c", "pose": at, "focal": 40},
    )  # fmt: skip


def compose(scene, *places, size=None, frame=FRAME):
    put = [
        {"on": {"kind": "figure", "figure": who, "joint": joint}, "x": x, "y": y}
        for who, joint, x, y in places
    ]
    asked = {"kind": "camera.compose", "camera": "c", "frame": frame, "put": put}
    return do(scene, asked | ({"size": {"figure": size[0], "share": size[1]}} if size else {}))


def point(scene, who, joint, frame=FRAME):
    return Bake(scene).place(OnFigure(figure=who, joint=joint), np.array([frame]))[0]


def seen(scene, points, frame=FRAME):
    """(k, 2) where OpenCV's pinhole sees points, −1 to 1, Y up."""
    row = Bake(scene).samples(find(scene, "cameras", "c"), Frames(first=frame, last=frame)).values[0]
    back = Rotation.from_euler("YXZ", row[[3, 4, 5]], degrees=True).inv()
    turn = np.diag([1.0, -1.0, -1.0]) @ back.as_matrix()
    wide, high = np.tan(np.radians(row[7:9]) / 2)
    inner = np.array([[1 / wide, 0, 0], [0, 1 / high, 0], [0, 0, 1.0]])
    return cv2.projectPoints(np.array(points), cv2.Rodrigues(turn)[0], -turn @ row[:3], inner, None)[0][
        :, 0
    ] * [1, -1]


def place(scene, frame=FRAME):
    return Bake(scene).samples(find(scene, "cameras", "c"), Frames(first=frame, last=frame)).values[0, :3]


@pytest.mark.parametrize("roll", [0.0, 7.0])
@pytest.mark.parametrize("at", [(-0.3, 0.33), (0.9, -0.8), (0.0, 0.0)])
def test_one_place_turns_the_camera_where_it_stands(at, roll):
    scene = stage(roll=roll)
    after = compose(scene, ("o", "eyes", *at))
    np.testing.assert_allclose(seen(after, [point(after, "o", "eyes")])[0], at, atol=1e-4)
    np.testing.assert_allclose(place(after), place(scene), atol=1e-9)
    assert find(after, "cameras", "c").roll.rest == roll and find(after, "cameras", "c").focal.rest == 40


@pytest.mark.parametrize(("share", "roll"), [(0.2, 0.0), (0.8, 0.0), (3.0, 0.0), (0.8, 25.0)])
def test_a_size_is_had_on_the_way_it_looks_from(share, roll):
    scene = stage(roll=roll)
    after = compose(scene, ("o", "eyes", -0.3, 0.33), size=("o", share))
    eyes, crown, *soles = (point(after, "o", joint) for joint in ("eyes", "crown", "sole_r", "sole_l"))
    there = seen(after, [eyes, crown, (soles[0] + soles[1]) / 2])
    np.testing.assert_allclose(there[0], (-0.3, 0.33), atol=1e-4)
    assert abs(there[1, 1] - there[2, 1]) / 2 == pytest.approx(share, abs=1e-3)
    ways = [(one - eyes) / np.linalg.norm(one - eyes) for one in (place(scene), place(after))]
    assert ways[0] @ ways[1] == pytest.approx(1, abs=1e-6)


@pytest.mark.parametrize("roll", [0.0, -5.0])
@pytest.mark.parametrize(
    ("a", "b"), [((-0.3, 0.33), (0.3, 0.3)), ((0.55, 0.2), (-0.3, 0.4)), ((-0.1, 0.45), (0.2, 0.3))]
)
def test_two_places_are_had_exactly_and_from_no_place_nearer_by(a, b, roll):
    scene = stage(roll=roll)
    after = compose(scene, ("o", "eyes", *a), ("b", "eyes", *b))
    eyes = [point(after, who, "eyes") for who in "ob"]
    np.testing.assert_allclose(seen(after, eyes), [a, b], atol=1e-4)
    # By brute search: SciPy's solver from many beginnings, held to both places.
    start = place(scene)
    half = np.tan(np.radians(Bake(scene).samples(find(scene, "cameras", "c")).values[0, 7:9]) / 2)

    def off(pose):
        local = (
            Rotation.from_euler("YXZ", [*pose[3:], roll], degrees=True).inv().apply(np.array(eyes) - pose[:3])
        )
        return (local[:, :2] + np.array([a, b]) * half * local[:, 2:]).ravel()

    def ahead(pose):
        return (
            -Rotation.from_euler("YXZ", [*pose[3:], roll], degrees=True)
            .inv()
            .apply(np.array(eyes) - pose[:3])[:, 2]
            - 0.05
        )

    held = [{"type": "eq", "fun": off}, {"type": "ineq", "fun": ahead}]
    rng = np.random.default_rng(4)
    found = []
    for _ in range(25):
        begin = np.r_[start + rng.normal(0, 1.5, 3), 0, rng.uniform(-30, 30)]
        middle = np.mean(eyes, axis=0) - begin[:3]
        begin[3] = np.degrees(np.arctan2(-middle[0], -middle[2]))
        one = minimize(
            lambda pose: float(np.sum((pose[:3] - start) ** 2)),
            begin,
            method="SLSQP",
            constraints=held,
            options={"maxiter": 300},
        )
        if one.success and np.abs(off(one.x)).max() < 1e-5 and one.x[1] > 0.05 and abs(one.x[4]) < 89:
            found.append(float(np.linalg.norm(one.x[:3] - start)))
    assert len(found) > 3 and np.linalg.norm(place(after) - start) <= min(found) + 1e-3


def test_two_places_with_a_size_of_one_of_them():
    after = compose(stage(), ("o", "eyes", -0.35, 0.3), ("b", "eyes", 0.35, 0.35), size=("o", 0.9))
    crown, *soles = (point(after, "o", joint) for joint in ("crown", "sole_r", "sole_l"))
    there = seen(
        after, [crown, (soles[0] + soles[1]) / 2, point(after, "o", "eyes"), point(after, "b", "eyes")]
    )
    assert abs(there[0, 1] - there[1, 1]) / 2 == pytest.approx(0.9, abs=1e-3)
    np.testing.assert_allclose(there[2:], [(-0.35, 0.3), (0.35, 0.35)], atol=1e-4)


def test_keys_get_a_key_and_layers_their_offsets():
    keyed = do(stage(), {"kind": "keys.set", "keys": [{"thing": "c", "channel": "x", "frame": f, "value": v} for f, v in ((1001, 1.5), (1050, 2.5))]})  # fmt: skip
    after = compose(keyed, ("o", "eyes", -0.3, 0.33), ("b", "eyes", 0.3, 0.3))
    channel = find(after, "cameras", "c").x
    assert channel.key_at(FRAME) is not None and channel.key_at(1001).value == 1.5
    watching = do(
        stage(),
        {"kind": "rig.add", "camera": "c", "layer": {"kind": "aim", "id": "w", "at": [{"kind": "figure", "figure": "o", "joint": "eyes"}]}},
    )  # fmt: skip
    after = compose(watching, ("o", "eyes", -0.3, 0.33))
    np.testing.assert_allclose(seen(after, [point(after, "o", "eyes")])[0], (-0.3, 0.33), atol=1e-3)
    assert find(after, "cameras", "c").layers[0].kind == "aim"


def test_it_stands_outside_the_set():
    """The nearest camera is in a wall: it goes to the nearest one that is not."""
    scene = stage()
    inside = place(compose(scene, ("o", "eyes", -0.3, 0.33), ("b", "eyes", 0.3, 0.3)))
    wall = {"kind": "piece.add", "id": "p", "name": "Hut", "shape": "box", "width": 0.8, "depth": 0.8, "height": 3.0, "x": float(inside[0]), "z": float(inside[2])}  # fmt: skip
    there = place(compose(do(scene, wall), ("o", "eyes", -0.3, 0.33), ("b", "eyes", 0.3, 0.3)))
    assert max(abs(there - inside)[[0, 2]]) >= 0.4 + 0.14


@pytest.mark.parametrize(
    ("places", "size", "says"),
    [
        ((("o", "eyes", 0, 0), ("o", "eyes", 0.3, 0.3)), None, "one place"),
        ((("o", "eyes", 1.2, 0),), None, "less than or equal to 1|1"),
        # Bram's feet over his head: from upside down alone.
        ((("b", "sole_r", 0.0, 0.6), ("b", "crown", 0.0, -0.6)), None, "Nowhere"),
        # So far apart in the frame they are near: she cannot be small.
        ((("o", "eyes", -0.5, 0.3), ("b", "eyes", 0.5, 0.3)), ("o", 0.02), "Nowhere"),
    ],
)
def test_what_cannot_be_seen_so_is_refused(places, size, says):
    with pytest.raises(HeronError, match=says) as refused:
        compose(stage(), *places, size=size)
    assert refused.value.remedy


def test_the_command_line_composes(tmp_path, capsys):
    source, out = tmp_path / "s.json", tmp_path / "s2.json"
    source.write_text(write_scene(stage()), encoding="utf-8")
    said = ["compose", str(source), "--camera", "A", "--frame", str(FRAME), "--out", str(out)]
    assert (
        main([*said, "--put", "Odile/eyes=-0.3,0.33", "--put", "Bram/eyes=0.3,0.3", "--size", "Odile=0.8"])
        == 0
    )
    assert json.loads(capsys.readouterr().out)["out"] == str(out)
    after = read_scene(out.read_text(encoding="utf-8"))
    np.testing.assert_allclose(seen(after, [point(after, "b", "eyes")])[0], (0.3, 0.3), atol=1e-4)
    for wrong in (
        ["--put", "Odile=3"],
        ["--put", "Nobody/eyes=0,0"],
        ["--put", "Odile/eyes=0,0", "--size", "Bram=x"],
    ):
        assert main([*said, *wrong]) == 2
        assert capsys.readouterr().err.count("\n") == 1
