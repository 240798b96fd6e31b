"""The oarsman's face: eyes, brows and a mouth, with the shapes that move them (morph targets)."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from heron.stage.face import FACE, NUMBERS
from heron.stage.face.rig import CALLED, called, face_pose
from heron.stage.shapes.face import eyes, mouth
from heron.stage.shapes.mesh import Mesh, join
from heron.stage.skeleton import INDEX, JOINTS, REST
from heron.stage.turning import Turns

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: How tall somebody with such a face is, and where in the file its head begins, metres; its mouth lies that much further ahead.
_TALL, _HEAD, _MOUTH_AHEAD = 1.75, np.array([0.0, 1.527, 0.010]), 0.013
_UPPER = ("brow", "knit", "lid")


@dataclass(frozen=True)
class Features:
    """A face in the file's frame, metres.

    Attributes:
        on: (v,) what each point is fixed to: −1 and 1 the left and the right eye, 0 the head.
        shapes: how its points move, by name: (v, 3).
    """

    mesh: Mesh
    on: np.ndarray[Any, Any]
    shapes: dict[str, Floats]


def features(skin: str, hair: str) -> Features:
    """Eyes, brows and a mouth in such colours."""
    upper, lower = join(*eyes(skin, hair)), join(*mouth())
    mesh = join(upper, lower)
    # It faces the other way there.
    turn = np.diag([-1.0, 1.0, -1.0])
    head = REST[INDEX["head"]]
    ahead = np.zeros(len(mesh.points))
    ahead[len(upper.points) :] = _MOUTH_AHEAD
    points = (mesh.points - head) @ turn * _TALL + _HEAD
    points[:, 2] += ahead
    shapes: dict[str, Floats] = {}
    for part in CALLED:
        numbers = np.zeros((2, len(NUMBERS)))
        numbers[1, NUMBERS.index(part.rstrip("+-"))] = -1.0 if part.endswith("-") else 1.0
        moves = _moved(mesh, *face_pose(numbers)) @ turn * _TALL
        if part.startswith(_UPPER):
            right = points[:, 0] < 0
            shapes[called(f"{part}.r")] = moves * right[:, None]
            shapes[called(f"{part}.l")] = moves * ~right[:, None]
        else:
            shapes[called(part)] = moves
    on = np.zeros(len(points), dtype=np.int64)
    on[mesh.joints == INDEX["eye_r"]], on[mesh.joints == INDEX["eye_l"]] = 1, -1
    return Features(Mesh(points, mesh.normals @ turn, mesh.colours, mesh.triangles, mesh.joints), on, shapes)


def _moved(mesh: Mesh, places: Floats, turns: Floats) -> Floats:
    """(v, 3) how the points of a face move from the first to the second of two states, statures."""
    assert mesh.others is not None and mesh.shares is not None
    joints = np.concatenate([mesh.joints[:, None], mesh.others], axis=1) - len(JOINTS)
    weights = np.concatenate([1 - mesh.shares.sum(axis=1, keepdims=True), mesh.shares], axis=1)
    out = np.zeros_like(mesh.points)
    for i in range(len(FACE)):
        local = mesh.points - REST[INDEX["head"]] - places[0, i]
        moved = places[1, i] - places[0, i] + Turns(turns[1:, i]).apply(local) - local
        out += moved * np.where(joints == i, weights, 0.0).sum(axis=1)[:, None]
    return out
