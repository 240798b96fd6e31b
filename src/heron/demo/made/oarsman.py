"""An oarsman in oilskins, as a skinned `.glb`: one skin over forms that run into each other, on a skeleton of its own.

It stands with its arms away from its sides, faces +Z, and has a clip in which it hauls on a rope.
"""

from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
import pygltflib as g
from scipy.spatial.transform import Rotation

from heron.demo.made.oarsman_face import features
from heron.formats.glb import Glb
from heron.stage.colour import linear
from heron.stage.models.part import Surface
from heron.stage.shapes.mesh import rgb

Floats = np.ndarray[Any, np.dtype[np.float64]]
Ints = np.ndarray[Any, np.dtype[np.int64]]
_OILSKIN, _TROUSERS, _BOOT, _SKIN, _BEARD = (
    "#c9962f",
    "#3d4650",
    "#23211f",
    "#c98f6d",
    "#d8d3c6",
)
#: How finely its form is sampled, metres; how softly forms run into each other, and how far a joint's hold reaches.
_CELL, _SOFT, _HOLD = 0.0145, 0.020, 0.013
#: Each joint, the one above it, and where it is: metres, its left at +X.
_JOINTS: tuple[tuple[str, str | None, tuple[float, float, float]], ...] = (
    ("Hips", None, (0, 0.98, 0)), ("Waist", "Hips", (0, 1.08, -0.005)), ("Ribs", "Waist", (0, 1.24, -0.01)), ("Neck", "Ribs", (0, 1.47, -0.015)),
    ("Head", "Neck", (0, 1.55, 0)), ("Left Eye", "Head", (0.033, 1.625, 0.085)), ("Brim", "Head", (0, 1.69, -0.05)), ("Left Collar", "Ribs", (0.05, 1.41, 0)),
    ("Left Upper Arm", "Left Collar", (0.185, 1.405, -0.01)), ("Left Arm Twist", "Left Upper Arm", (0.31, 1.31, -0.012)),
    ("Left Forearm", "Left Upper Arm", (0.437, 1.222, -0.015)), ("Left Hand", "Left Forearm", (0.648, 1.062, 0.0)),
    ("Left Thigh", "Hips", (0.105, 0.95, 0)), ("Left Shin", "Left Thigh", (0.115, 0.52, 0.008)), ("Left Foot", "Left Shin", (0.12, 0.09, -0.015)),
    ("Left Toes", "Left Foot", (0.125, 0.025, 0.12)),
)  # fmt: skip


def _sides() -> tuple[list[str], list[int], Floats]:
    """Names, parents and places of all joints, those of the right side after the left's."""
    all_ = list(_JOINTS)
    all_ += [
        (name.replace("Left", "Right"), above and above.replace("Left", "Right"), (-x, y, z))
        for name, above, (x, y, z) in _JOINTS
        if name.startswith("Left")
    ]
    names = [name for name, _, _ in all_]
    return (
        names,
        [-1 if above is None else names.index(above) for _, above, _ in all_],
        np.array([at for _, _, at in all_]),
    )


@dataclass(frozen=True)
class _Form:
    """A tapered bar with round ends, or an egg: the joint that holds it, and its colour."""

    joint: str
    a: tuple[float, float, float]
    b: tuple[float, float, float]
    ra: float
    rb: float
    colour: str
    #: How much it is drawn out across and along.
    squash: tuple[float, float, float] = (1.0, 1.0, 1.0)

    def distance(self, points: Floats) -> Floats:
        """(n,) metres outside it, near enough."""
        k = np.array(self.squash)
        p, a, b = points / k, np.array(self.a) / k, np.array(self.b) / k
        way = b - a
        long = float(way @ way)
        u = np.clip((p - a) @ way / long, 0, 1) if long > 1e-12 else np.zeros(len(p))
        far = np.linalg.norm(p - a - u[:, None] * way, axis=1)
        return np.asarray((far - (self.ra + (self.rb - self.ra) * u)) * k.min())


def _forms() -> list[_Form]:
    wide = (1.12, 1.0, 0.86)
    out = [
        _Form("Hips", (0, 0.99, 0), (0, 1.06, 0), 0.150, 0.150, _OILSKIN, wide),
        _Form("Waist", (0, 1.08, 0), (0, 1.2, 0), 0.150, 0.158, _OILSKIN, wide),
        _Form("Ribs", (0, 1.24, 0), (0, 1.36, -0.01), 0.160, 0.145, _OILSKIN, wide),
        _Form("Hips", (0, 0.98, 0), (0, 0.74, 0.0), 0.150, 0.186, _OILSKIN, (1.16, 1.0, 0.9)),
        _Form("Ribs", (0, 1.45, -0.005), (0, 1.475, -0.005), 0.085, 0.072, _OILSKIN),
        _Form("Neck", (0, 1.47, -0.01), (0, 1.54, 0.0), 0.056, 0.054, _SKIN),
        _Form("Head", (0, 1.60, 0.0), (0, 1.65, -0.01), 0.082, 0.088, _SKIN, (0.94, 1.0, 1.1)),
        _Form("Head", (0, 1.607, 0.103), (0, 1.592, 0.112), 0.013, 0.018, _SKIN),
        _Form("Head", (0, 1.545, 0.035), (0, 1.50, 0.066), 0.068, 0.040, _BEARD, (1.0, 1.0, 0.9)),
        _Form("Brim", (0, 1.70, -0.005), (0, 1.715, -0.01), 0.094, 0.080, _OILSKIN, (1.0, 0.82, 1.12)),
        _Form("Brim", (0, 1.678, -0.02), (0, 1.655, -0.10), 0.132, 0.120, _OILSKIN, (1.0, 0.17, 1.05)),
    ]
    for side in ("Left", "Right"):
        s = 1.0 if side == "Left" else -1.0
        place = {name: (s * x, y, z) for name, _, (x, y, z) in _JOINTS if name.startswith("Left")}
        at = {name.removeprefix("Left "): where for name, where in place.items()}
        hand, shin, foot = at["Hand"], at["Shin"], at["Foot"]
        out += [
            _Form(f"{side} Collar", (s * 0.08, 1.405, -0.005), at["Upper Arm"], 0.078, 0.076, _OILSKIN),
            _Form(f"{side} Upper Arm", at["Upper Arm"], at["Forearm"], 0.072, 0.056, _OILSKIN),
            _Form(f"{side} Forearm", at["Forearm"], (hand[0] - s * 0.014, hand[1] + 0.011, 0), 0.056, 0.050, _OILSKIN),
            _Form(f"{side} Hand", hand, (hand[0] + s * 0.065, hand[1] - 0.049, 0.012), 0.033, 0.030, _SKIN, (1.0, 1.0, 1.15)),
            _Form(f"{side} Hand", (hand[0] + s * 0.065, hand[1] - 0.049, 0.012), (hand[0] + s * 0.11, hand[1] - 0.084, 0.022), 0.028, 0.020, _SKIN),
            _Form(f"{side} Hand", (hand[0] + s * 0.02, hand[1] - 0.015, 0.03), (hand[0] + s * 0.05, hand[1] - 0.04, 0.06), 0.016, 0.013, _SKIN),
            _Form(f"{side} Thigh", (s * 0.092, 0.93, 0), (shin[0], 0.56, 0.006), 0.086, 0.074, _TROUSERS),
            _Form(f"{side} Shin", (shin[0], 0.50, 0.004), (foot[0], 0.36, -0.008), 0.070, 0.074, _TROUSERS),
            _Form(f"{side} Shin", (shin[0], 0.40, -0.004), (foot[0], 0.13, -0.015), 0.082, 0.066, _BOOT),
            _Form(f"{side} Foot", (foot[0], 0.062, -0.03), (foot[0] + s * 0.004, 0.05, 0.10), 0.060, 0.052, _BOOT, (0.95, 0.92, 1.0)),
            _Form(f"{side} Toes", (foot[0] + s * 0.004, 0.044, 0.12), (foot[0] + s * 0.006, 0.040, 0.155), 0.048, 0.042, _BOOT, (1.0, 0.9, 1.0)),
        ]  # fmt: skip
    return out


def _united(distances: Floats) -> Floats:
    """(n,) forms (n, f) that run into each other."""
    near = distances.min(axis=1)
    return np.asarray(near - _SOFT * np.log(np.exp(-(distances - near[:, None]) / _SOFT).sum(axis=1)) * 0.5)


def _skin(forms: list[_Form]) -> tuple[Floats, Ints]:
    """Points on the surface of all forms, and triangles between them, counter-clockwise from outside: a surface net over a grid."""
    low, high = np.array([-0.78, -0.03, -0.34]), np.array([0.78, 1.87, 0.30])
    size = np.ceil((high - low) / _CELL).astype(int) + 1
    axes = [low[k] + _CELL * np.arange(size[k]) for k in range(3)]
    nearest, together = np.full(size, 1.0), np.full(size, 1e-300)
    for one in forms:
        # Farther off a form changes nothing.
        reach = max(one.ra, one.rb) * max(one.squash) + 6 * _SOFT
        ends = np.array([one.a, one.b])
        box = tuple(
            slice(
                max(int((ends[:, k].min() - reach - low[k]) / _CELL), 0),
                int((ends[:, k].max() + reach - low[k]) / _CELL) + 2,
            )
            for k in range(3)
        )
        grid = np.stack(np.meshgrid(*(axes[k][box[k]] for k in range(3)), indexing="ij"), axis=-1)
        far = one.distance(grid.reshape(-1, 3)).reshape(grid.shape[:3])
        nearest[box] = np.minimum(nearest[box], far)
        together[box] += np.exp(-far / _SOFT)
    inside = nearest - _SOFT * np.log(together) < 0
    corners = [
        inside[i : i + size[0] - 1, j : j + size[1] - 1, k : k + size[2] - 1]
        for i in (0, 1)
        for j in (0, 1)
        for k in (0, 1)
    ]
    crossed = np.any(corners, axis=0) & ~np.all(corners, axis=0)
    cells = np.argwhere(crossed)
    number = np.full(crossed.shape, -1)
    number[crossed] = np.arange(len(cells))
    points = low + (cells + 0.5) * _CELL
    for _ in range(2):
        value, slope = (
            _united(np.stack([one.distance(points) for one in forms], axis=1)),
            _slope(forms, points),
        )
        points = points - value[:, None] * slope
    faces = []
    for axis in range(3):
        a, b = (axis + 1) % 3, (axis + 2) % 3
        here, there = np.moveaxis(inside, axis, 0)[:-1], np.moveaxis(inside, axis, 0)[1:]
        where = np.argwhere(here != there)
        order = [axis, *[k for k in range(3) if k != axis]]
        at = np.empty_like(where)
        at[:, order] = where
        at = at[(at[:, a] > 0) & (at[:, b] > 0)]
        out = inside[tuple(at.T)]
        around = []
        for da, db in ((0, 0), (-1, 0), (-1, -1), (0, -1)):
            cell = at.copy()
            cell[:, a] += da
            cell[:, b] += db
            around.append(number[tuple(cell.T)])
        p, q, r, s = around
        quads = np.where(out[:, None], np.stack([p, q, r, s], axis=1), np.stack([s, r, q, p], axis=1))
        faces += [quads[:, [0, 1, 2]], quads[:, [0, 2, 3]]]
    return points, np.concatenate(faces)


def _slope(forms: list[_Form], points: Floats) -> Floats:
    """(n, 3) the way out of the forms."""
    step = 1e-4
    out = np.stack(
        [
            _united(np.stack([one.distance(points + step * way) for one in forms], axis=1))
            - _united(np.stack([one.distance(points - step * way) for one in forms], axis=1))
            for way in np.eye(3)
        ],
        axis=1,
    )
    return np.asarray(out / np.maximum(np.linalg.norm(out, axis=1, keepdims=True), 1e-12))


def _held(forms: list[_Form], points: Floats, names: list[str]) -> tuple[Ints, Floats]:
    """(n, 4) joints that hold each point, and by how much; the skirts of the coat go with both thighs."""
    distances = np.stack([one.distance(points) for one in forms], axis=1)
    shares = np.exp(-(distances - distances.min(axis=1, keepdims=True)) / _HOLD)
    total = np.zeros((len(points), len(names)))
    for k, one in enumerate(forms):
        total[:, names.index(one.joint)] += shares[:, k]
    hips = names.index("Hips")
    low = np.clip((0.97 - points[:, 1]) / 0.22, 0, 1) * total[:, hips]
    left = np.clip(0.5 + points[:, 0] / 0.16, 0, 1)
    for name, part in (("Left Thigh", left), ("Right Thigh", 1 - left)):
        total[:, names.index(name)] += 0.85 * low * part
    total[:, hips] -= 0.85 * low
    order = np.argsort(-total, axis=1)[:, :4]
    weights = np.take_along_axis(total, order, axis=1)
    weights /= weights.sum(axis=1, keepdims=True)
    return np.where(weights > 0, order, 0), weights


@lru_cache(maxsize=1)
def oarsman() -> bytes:
    """The file."""
    names, parents, places = _sides()
    forms = _forms()
    points, triangles = _skin(forms)
    nearest = np.stack([one.distance(points) for one in forms], axis=1).argmin(axis=1)
    colours = np.array([rgb(one.colour) for one in forms])[nearest]
    glb = Glb("Oarsman")
    glb.doc.materials = []
    nodes: list[int] = []
    for name, above, at in zip(names, parents, places, strict=True):
        offset = at - (places[above] if above >= 0 else 0)
        nodes.append(glb.node(name, parent=nodes[above] if above >= 0 else None, translation=offset.tolist()))
    made = glb.surface(
        Surface(points, _slope(forms, points), linear(colours), triangles), glb.base_material(None)
    )
    joints, weights = _held(forms, points, names)
    made.attributes.JOINTS_0 = glb.accessor(joints.astype(np.uint8), g.ARRAY_BUFFER)
    made.attributes.WEIGHTS_0 = glb.accessor(weights.astype(np.float32), g.ARRAY_BUFFER)
    # His beard goes with his jaw.
    beard = np.array([one.colour == _BEARD for one in forms])[nearest]
    drops = np.clip((1.56 - points[:, 1]) / 0.05, 0, 1) * beard
    jaw = drops[:, None] * np.array([0.0, -0.012, 0.003])
    skin = glb.skin(nodes, places)
    _add_skin(glb, "Oarsman", made, skin, {"Jaw Open": jaw})
    face = features(_SKIN, _BEARD)
    look = glb.surface(
        Surface(face.mesh.points, face.mesh.normals, linear(face.mesh.colours), face.mesh.triangles), 0
    )
    on = np.array([names.index(name) for name in ("Left Eye", "Head", "Right Eye")])[face.on + 1]
    four = np.stack([on, *[np.zeros_like(on)] * 3], axis=1)
    look.attributes.JOINTS_0 = glb.accessor(four.astype(np.uint8), g.ARRAY_BUFFER)
    look.attributes.WEIGHTS_0 = glb.accessor(
        np.tile(np.array([1, 0, 0, 0], dtype=np.float32), (len(on), 1)), g.ARRAY_BUFFER
    )
    _add_skin(glb, "Face", look, skin, face.shapes)
    glb.clip = "Haul"
    _haul(glb, names, nodes)
    return glb.write()


def _add_skin(glb: Glb, name: str, surface: g.Primitive, skin: int, shapes: dict[str, Floats]) -> None:
    """A surface that is fixed to the skeleton, with the shapes that change it."""
    count = glb.doc.accessors[surface.attributes.POSITION].count
    surface.targets = [glb.morph(moves, count) for moves in shapes.values()]
    glb.doc.meshes.append(g.Mesh(name=name, primitives=[surface], extras={"targetNames": list(shapes)}))
    glb.node(name, mesh=len(glb.doc.meshes) - 1, skin=skin)


def _haul(glb: Glb, names: list[str], nodes: list[int]) -> None:
    """A clip of two seconds: hand over hand on a rope."""
    seconds = np.arange(61) / 30.0
    swing = np.sin(2 * np.pi * seconds)

    def turn(name: str, *angles: Any) -> None:
        each = np.stack([np.broadcast_to(one, seconds.shape) for one in angles], axis=1)
        glb.animate(
            nodes[names.index(name)],
            "rotation",
            seconds,
            Rotation.from_euler("xyz", each, degrees=True).as_quat(),
        )

    turn("Waist", 10 + 4 * np.abs(swing), 6 * swing, 0.0)
    turn("Ribs", 5.0, 9 * swing, 0.0)
    turn("Head", -10.0, -12 * swing, 0.0)
    for side, sign in (("Left", 1.0), ("Right", -1.0)):
        pull = sign * swing
        turn(f"{side} Upper Arm", -62 - 26 * pull, -sign * 34, -sign * 22)
        turn(f"{side} Forearm", -58 + 34 * pull, 0.0, 0.0)
