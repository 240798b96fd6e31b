"""A carved face whose brows, lids and lips move: its skull, and the parts that go with the joints of a face."""

from dataclasses import replace

import numpy as np

from heron.stage.face.rig import (
    CORNER_UP,
    CORNER_Z,
    FACE,
    FACE_INDEX,
    HALF_MOUTH,
    LOWER_UP,
    MOUTH_Z,
    OUTWARDS,
    UPPER_UP,
    WHITE,
)
from heron.stage.shapes.mesh import Floats, Mesh, about_x, about_y, egg, join, lathe, rgb, rounded, shade
from heron.stage.skeleton import INDEX, JOINTS, REST

#: An eye's white: half its width, height and depth; its lids are shells about its own axis, so much wider and of such radii.
_EYE = (0.0100, 0.0070, 0.0058)
_LID_WIDE, _LID_UPPER, _LID_LOWER = 0.0124, 0.0082, 0.0079
#: Where the edge of each lid is with the face at rest, degrees above the way the eye faces.
_UPPER_EDGE, _LOWER_EDGE = 26.0, -40.0
Place = tuple[float, float, float]
#: Where the joint of the head is at rest, statures.
_HEAD: Place = tuple(REST[INDEX["head"]].tolist())
_WHITE, _PUPIL, _LIP, _MOUTH, _TEETH = "#efe7d6", "#3b2c20", "#8f5440", "#3a1d18", "#efe7d6"


def joint_of(name: str) -> int:
    """The number of a joint of the face in a figure's skin, behind those of its body."""
    return len(JOINTS) + FACE_INDEX[name]


def face(wood: str, hair: str) -> list[Mesh]:
    """The parts of a head, in statures, from the floor under the root, each fixed to its joints."""
    parts: list[Mesh] = []

    def put(mesh: Mesh, at: Place = (0.0, 0.0, 0.0), joint: int = INDEX["head"]) -> None:
        parts.append(mesh.moved(at).moved(_HEAD, joint))

    # One turned form from crown to chin, fuller at the brow than at the jaw.
    skull = lathe(
        rounded([(0.0, 0.120), (0.022, 0.117), (0.038, 0.106), (0.0465, 0.088), (0.0485, 0.068), (0.0470, 0.050), (0.0435, 0.034),
         (0.0375, 0.018), (0.0295, 0.004), (0.0190, -0.007), (0.0, -0.012)]),
        wood, 36, (1.0, 1.14),
    )  # fmt: skip
    put(skull, (0, 0, -0.002))
    put(egg((0.014, 0.007, 0.009), wood, 16), (0, 0.001, -0.0285), joint_of("jaw"))
    nose = lathe(
        [(0.0, 0.026), (0.0042, 0.018), (0.0070, 0.004), (0.0060, -0.001), (0.0, -0.003)],
        shade(wood, 0.96),
        12,
    )
    put(nose.turned(about_x(-14)), (0, 0.036, -0.0510))
    for sign in (1, -1):
        put(egg((0.006, 0.013, 0.009), shade(wood, 0.93), 12), (sign * 0.0480, 0.046, 0.004))
    return parts + eyes(wood, hair) + mouth()


def eyes(wood: str, hair: str) -> list[Mesh]:
    """Eyes with their lids and brows, in statures, from the floor under the root, each fixed to its joints."""
    parts: list[Mesh] = []

    def put(mesh: Mesh, at: Place, joint: int = INDEX["head"]) -> None:
        parts.append(mesh.moved(at).moved(_HEAD, joint))

    for sign, side in ((1, "r"), (-1, "l")):
        white = (sign * WHITE[0], WHITE[1], WHITE[2])
        outwards = about_y(-sign * OUTWARDS)
        put(egg(_EYE, _WHITE, 16).turned(outwards), white)
        # What is seen of an eye that turns is its pupil.
        eye = REST[INDEX[f"eye_{side}"]] - REST[INDEX["head"]]
        ahead = outwards @ np.array([0.0, 0.0, -0.97 * _EYE[2]]) + np.array(white) - eye
        pupil = egg((0.0040, 0.0046, 0.0009), _PUPIL, 14).turned(outwards)
        put(
            pupil,
            (float(eye[0] + ahead[0]), float(eye[1] + ahead[1]), float(eye[2] + ahead[2])),
            INDEX[f"eye_{side}"],
        )
        put(
            _lid(_LID_UPPER, _UPPER_EDGE, 125.0, shade(wood, 0.86)).turned(outwards),
            white,
            joint_of(f"lid_up_{side}"),
        )
        put(
            _lid(_LID_LOWER, _LOWER_EDGE, -115.0, shade(wood, 0.90)).turned(outwards),
            white,
            joint_of(f"lid_low_{side}"),
        )
        parts.append(_brow(side, hair).moved(_HEAD))
    return parts


def _grid(points: Floats, colour: str, joints: Floats | int, *, closed: bool = False) -> Mesh:
    """A surface over a (rows, columns, 3) grid of points; each row's ends meet if it is closed."""
    rows, columns, _ = points.shape
    index = np.arange(rows * columns).reshape(rows, columns)
    right = np.roll(index, -1, axis=1) if closed else index[:, 1:]
    here = index if closed else index[:, :-1]
    a, b, c, d = here[:-1], right[:-1], right[1:], here[1:]
    triangles = np.concatenate(
        [np.stack([a, b, c], -1).reshape(-1, 3), np.stack([a, c, d], -1).reshape(-1, 3)]
    )
    flat = points.reshape(-1, 3)
    p, q, r = (flat[triangles[:, i]] for i in range(3))
    face_normals = np.cross(q - p, r - p)
    normals = np.zeros_like(flat)
    for i in range(3):
        np.add.at(normals, triangles[:, i], face_normals)
    length = np.linalg.norm(normals, axis=1)[:, None]
    normals = np.where(length > 1e-14, normals / np.maximum(length, 1e-14), [0.0, 0.0, -1.0])
    carried = np.full(len(flat), joints) if isinstance(joints, int) else np.asarray(joints).reshape(-1)
    return Mesh(flat, normals, np.tile(rgb(colour), (len(flat), 1)), triangles, carried.astype(np.int64))


def _lid(radius: float, edge: float, back: float, colour: str) -> Mesh:
    """Part of a shell about the eye's own axis, from its edge to behind the eye; degrees above the way ahead."""
    around = np.radians(np.linspace(edge, back, 11))
    across = np.sin(np.radians(np.linspace(-90, 90, 15)))
    thick = radius * np.sqrt(np.maximum(1 - across**2, 0.0)) + 0.0004
    points = np.empty((len(around), len(across), 3))
    points[..., 0] = _LID_WIDE * across
    points[..., 1] = np.sin(around)[:, None] * thick
    points[..., 2] = -np.cos(around)[:, None] * thick
    outside = _grid(points if back > edge else points[:, ::-1], colour, 0)
    inside = replace(outside, triangles=outside.triangles[:, ::-1], normals=-outside.normals)
    return join(outside, inside)


def _tube(
    middle: Floats, high: Floats, deep: Floats, colour: str, joints: Floats, others: Floats, shares: Floats
) -> Mesh:
    """A tube through (k, 3) points, so high and so deep at each (k,); its rings go with joints by shares."""
    around = np.radians(np.arange(0, 360, 45))
    ring = np.stack([np.zeros(8), np.sin(around), np.cos(around)], axis=-1)
    points = middle[:, None] + ring * np.stack([np.ones(len(high)), high, deep], axis=-1)[:, None]
    # Seen from outside, whichever way it runs.
    points = points[:, ::-1] if middle[-1, 0] > middle[0, 0] else points
    mesh = _grid(points, colour, np.repeat(joints, 8), closed=True)
    return replace(mesh, others=np.repeat(others, 8, axis=0), shares=np.repeat(shares, 8, axis=0))


def _brow(side: str, hair: str) -> Mesh:
    """A bar of nine rings between the two joints of a brow, higher in its middle."""
    one, two = (np.array(FACE[FACE_INDEX[f"brow_{end}_{side}"]].at) for end in ("in", "out"))
    u = np.linspace(0.0, 1.0, 9)
    middle = one + u[:, None] * (two - one)
    bow = 4 * u * (1 - u)
    middle[:, 1] += 0.0026 * bow
    middle[:, 2] -= 0.0012 * bow
    thick = 0.35 + 0.65 * np.sqrt(np.maximum(1 - (2 * u - 0.9) ** 2 / 1.21, 0.0))
    joints = np.full(9, joint_of(f"brow_in_{side}"))
    others = np.tile([joint_of(f"brow_out_{side}"), 0], (9, 1))
    return _tube(middle, 0.0021 * thick, 0.0036 * thick, hair, joints, others, np.stack([u, 0 * u], -1))


def mouth() -> list[Mesh]:
    """Two lips through both corners, and what is seen between them once they part, as `eyes` has them."""
    x = np.linspace(-1.0, 1.0, 13)
    profile = 1 - x * x
    corners = np.where(x > 0, joint_of("corner_r"), joint_of("corner_l"))
    z = CORNER_Z + (MOUTH_Z - CORNER_Z) * profile

    def line(up: float, back: float) -> Floats:
        return np.stack([HALF_MOUTH * x, CORNER_UP + (up - CORNER_UP) * profile, z + back], axis=-1)

    def with_lip(name: str, share: Floats) -> tuple[Floats, Floats]:
        return np.tile([joint_of(name), 0], (13, 1)), np.stack([share, 0 * share], axis=-1)

    thin = 0.25 + 0.75 * np.sqrt(profile)
    upper = _tube(
        line(UPPER_UP + 0.0004, 0.0),
        0.0016 * thin,
        0.0026 * thin,
        _LIP,
        corners,
        *with_lip("lip_up", profile),
    )
    lower = _tube(
        line(LOWER_UP - 0.0006, 0.0),
        0.0019 * thin,
        0.0030 * thin,
        _LIP,
        corners,
        *with_lip("lip_low", profile),
    )
    inner = 0.9 * profile
    up, low = with_lip("lip_up", profile), with_lip("lip_low", profile)
    plate = _grid(
        np.stack([line(UPPER_UP, 0.0006), line(LOWER_UP, 0.0006)]), _MOUTH, np.stack([corners, corners])
    )
    plate = replace(plate, others=np.concatenate([up[0], low[0]]), shares=np.concatenate([up[1], low[1]]))
    top = line(UPPER_UP, 0.0001)
    bottom = top - np.array([0.0, 0.0042, 0.0]) * inner[:, None]
    teeth = _grid(np.stack([top, bottom]), _TEETH, np.stack([corners, corners]))
    teeth = replace(teeth, others=np.concatenate([up[0], up[0]]), shares=np.concatenate([up[1], up[1]]))
    return [one.moved(_HEAD) for one in (upper, lower, plate, teeth)]
