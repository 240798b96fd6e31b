"""A boathouse by the water, as a `.glb`: some 300,000 triangles in a tree of parts, metres, Y up."""

import io
import math
from collections.abc import Iterator
from functools import lru_cache
from typing import Any

import numpy as np
from PIL import Image, ImageDraw

from heron.formats.glb import Glb
from heron.stage.shapes.mesh import Mesh, about_x, about_y, about_z, facets, join, lathe, rgb, shade

#: Inside it is so wide, so long and so high to the eaves; its ridge and its floor are so high. Metres.
WIDE, LONG, EAVES, RIDGE, FLOOR = 7.2, 9.6, 2.9, 5.0, 0.36
_OAK, _PALE, _SLATE, _TAR = "#8a6c48", "#b79b70", "#5a6670", "#3f3a36"


@lru_cache(maxsize=1)
def boathouse() -> bytes:
    """The file."""
    rng = np.random.default_rng(11)
    glb = Glb("Boathouse")
    top = glb.node("Boathouse")

    def add(name: str, parent: int, mesh: Mesh, at: tuple[float, float, float] = (0.0, 0.0, 0.0)) -> None:
        glb.node(name, parent=parent, mesh=glb.mesh(mesh, name), translation=list(at))

    ground = glb.node("Floor", parent=top)
    add("Boards", ground, join(*_floor(rng)))
    add(
        "Steps",
        ground,
        join(*(_beam(1.6, 0.18, 0.34, _OAK, rng).moved((0, 0.18 * i, -0.34 * i)) for i in (0, 1))),
        (1.9, 0, LONG / 2 + 0.42),
    )
    walls = glb.node("Walls", parent=top)
    for name, side in (("West wall", -1.0), ("East wall", 1.0)):
        add(
            name,
            walls,
            join(*_wall(LONG, rng, window=side > 0)).turned(about_y(90.0)),
            (side * WIDE / 2, FLOOR, 0),
        )
    add("Back wall", walls, join(*_wall(WIDE, rng, window=False)), (0, FLOOR, -LONG / 2))
    for name, side in (("Front wall, left", -1.0), ("Front wall, right", 1.0)):
        add(name, walls, join(*_wall(1.9, rng, window=False)), (side * (WIDE - 1.9) / 2, FLOOR, LONG / 2))
    roof = glb.node("Roof", parent=top)
    for name, side in (("West slope", -1.0), ("East slope", 1.0)):
        add(name, roof, join(*_slope(side, rng)))
    add("Rafters", roof, join(*_rafters(rng)))
    for name, end in (("Back gable", -1.0), ("Front gable", 1.0)):
        add(name, roof, _gable(), (0, FLOOR + EAVES, end * LONG / 2))
    things = glb.node("Things", parent=top)
    add("Workbench", things, _bench(rng), (-2.7, FLOOR, -2.2))
    add("Stool", things, _stool(), (-1.55, FLOOR, -2.0))
    add("Barrel", things, _barrel(), (2.9, FLOOR, -3.9))
    add("Rope", things, _rope(), (2.6, FLOOR, -2.2))
    add("Oar rack", things, join(*_rack(rng)), (3.35, FLOOR, 2.9))
    for i, (x, z) in enumerate(((-2.9, 1.4), (-2.9, 2.3), (-2.35, 1.9))):
        add(f"Crate {i + 1}", things, join(*_crate(rng)), (x, FLOOR, z))
    chart = glb.node("Chart", parent=things, translation=[-0.6, FLOOR + 1.25, -LONG / 2 + 0.09])
    glb.picture_mesh("Chart", chart, 1.4, 0.9, _chart())
    return glb.write()


def _beam(
    wide: float, high: float, deep: float, colour: str, rng: np.random.Generator, worn: float = 0.12
) -> Mesh:
    """A board with its edges taken off, its underside's middle at the origin; each a little lighter or darker."""
    corner = min(wide, high, deep) * 0.12
    half = np.array([wide, high, deep]) / 2
    points = _SIGNS * half - _SIGNS * corner * _ASIDE + [0.0, high / 2, 0.0]
    each = points[_BEAM]
    normal = np.cross(each[:, 1] - each[:, 0], each[:, 2] - each[:, 0])
    normal /= np.linalg.norm(normal, axis=1, keepdims=True)
    tone = rgb(colour) * (1 + worn * float(rng.uniform(-1, 1)))
    n = 3 * len(_BEAM)
    return Mesh(
        each.reshape(-1, 3), np.repeat(normal, 3, axis=0), np.tile(np.clip(tone, 0, 1), (n, 1)), np.arange(n).reshape(-1, 3),
        np.zeros(n, dtype=np.int64),
    )  # fmt: skip


#: A board's points: three at each corner, each on one of the faces there.
_SIGNS = np.array(
    [(x, y, z) for _ in range(3) for x in (-1, 1) for y in (-1, 1) for z in (-1, 1)], dtype=np.float64
)
_ASIDE = np.repeat(1 - np.eye(3), 8, axis=0)


def _beam_triangles() -> np.ndarray[Any, np.dtype[np.int64]]:
    """Its six faces, twelve edges and eight corners as triangles, counter-clockwise from outside."""

    def at(k: int, x: int, y: int, z: int) -> int:
        return k * 8 + (x > 0) * 4 + (y > 0) * 2 + (z > 0)

    faces: list[list[int]] = []
    ring = ((-1, -1), (1, -1), (1, 1), (-1, 1))
    for a in (-1, 1):
        faces += [
            [at(0, a, *one) for one in ring],
            [at(1, one[0], a, one[1]) for one in ring],
            [at(2, *one, a) for one in ring],
        ]
        for b in (-1, 1):
            faces.append([at(1, -1, a, b), at(1, 1, a, b), at(2, 1, a, b), at(2, -1, a, b)])
            faces.append([at(0, a, -1, b), at(0, a, 1, b), at(2, a, 1, b), at(2, a, -1, b)])
            faces.append([at(0, a, b, -1), at(0, a, b, 1), at(1, a, b, 1), at(1, a, b, -1)])
            faces += [[at(0, a, b, c), at(1, a, b, c), at(2, a, b, c)] for c in (-1, 1)]
    points = _SIGNS - 0.2 * _SIGNS * _ASIDE
    out = []
    for face in faces:
        p = points[face]
        outward = float(np.cross(p[1] - p[0], p[2] - p[0]) @ p.mean(axis=0)) > 0
        turned = face if outward else face[::-1]
        out += [[turned[0], turned[k], turned[k + 1]] for k in range(1, len(turned) - 1)]
    return np.array(out)


_BEAM = _beam_triangles()


def _floor(rng: np.random.Generator) -> Iterator[Mesh]:
    across = np.arange(-WIDE / 2 + 0.06, WIDE / 2, 0.12)
    for x in across:
        for z in np.arange(-LONG / 2 + 0.4, LONG / 2, 0.8):
            if abs(x) < 1.15 and z > 0.4:
                continue
            yield _beam(0.116, 0.05, 0.796, _PALE, rng).moved((x, FLOOR - 0.05, z))
    for z in np.arange(-LONG / 2 + 0.2, LONG / 2, 0.9):
        yield _beam(WIDE, FLOOR - 0.06, 0.12, _TAR, rng).moved((0, 0, z))
    # The slip: it goes down to the water in the middle of the front.
    for i, z in enumerate(np.arange(0.45, 7.4, 0.14)):
        yield _beam(2.3, 0.05, 0.136, _OAK, rng).turned(about_x(4.2)).moved((0, FLOOR - 0.06 - 0.0102 * i, z))


def _wall(long: float, rng: np.random.Generator, window: bool) -> Iterator[Mesh]:
    """Boards one above the other along X, its foot at the origin, with a window if asked for."""
    for y in np.arange(0.0, EAVES - 0.05, 0.145):
        open_ = window and 1.0 < y < 1.95
        spans = [(-long / 2, -0.7), (0.7, long / 2)] if open_ else [(-long / 2, long / 2)]
        for low, high in spans:
            pieces = max(round((high - low) / 1.2), 1)
            step = (high - low) / pieces
            for k in range(pieces):
                board = _beam(step - 0.004, 0.15, 0.028, _OAK, rng, 0.16).turned(about_x(-5.0))
                yield board.moved((low + (k + 0.5) * step, y, 0))
    for x in np.arange(-long / 2 + 0.08, long / 2, 1.2):
        if window and abs(x) < 0.7:
            continue
        yield _beam(0.11, EAVES, 0.11, _TAR, rng).moved((x, 0, -0.08))


def _slope(side: float, rng: np.random.Generator) -> Iterator[Mesh]:
    run = WIDE / 2 + 0.45
    high = RIDGE - EAVES + 0.25
    length, angle = math.hypot(run, high), math.degrees(math.atan2(high, run))
    for i, along in enumerate(np.arange(0.0, length - 0.06, 0.136)):
        share = along / length
        for z in np.arange(-LONG / 2 - 0.35 + 0.07 * (i % 2), LONG / 2 + 0.35, 0.145):
            tile = _beam(0.24, 0.016, 0.141, _SLATE, rng, 0.22).turned(about_z(-side * (angle - 4.0)))
            yield tile.moved((side * run * (1 - share), FLOOR + EAVES - 0.25 + high * share, z))


def _rafters(rng: np.random.Generator) -> Iterator[Mesh]:
    run, high = WIDE / 2 + 0.3, RIDGE - EAVES + 0.1
    length, angle = math.hypot(run, high), math.degrees(math.atan2(high, run))
    for z in np.arange(-LONG / 2 + 0.3, LONG / 2, 1.5):
        for side in (-1.0, 1.0):
            one = _beam(length, 0.14, 0.09, _OAK, rng).turned(about_z(-side * angle))
            yield one.moved((side * run / 2, FLOOR + EAVES - 0.22 + high / 2 - 0.22, z))
        yield _beam(WIDE, 0.16, 0.12, _OAK, rng).moved((0, FLOOR + EAVES - 0.1, z))
    yield _beam(0.14, 0.2, LONG, _OAK, rng).moved((0, FLOOR + RIDGE - 0.28, 0))


def _gable() -> Mesh:
    x, y, z = WIDE / 2, RIDGE - EAVES - 0.1, 0.02
    points = np.array([(-x, 0, z), (x, 0, z), (0, y, z), (-x, 0, -z), (x, 0, -z), (0, y, -z)])
    return facets(points, [[0, 1, 2], [4, 3, 5], [1, 4, 5, 2], [3, 0, 2, 5], [3, 4, 1, 0]], shade(_OAK, 0.85))


def _bench(rng: np.random.Generator) -> Mesh:
    boards = [_beam(0.14, 0.05, 2.2, _PALE, rng).moved((-0.22 + 0.145 * k, 0.82, 0)) for k in range(4)]
    legs = [_beam(0.09, 0.82, 0.09, _OAK, rng).moved((x, 0, z)) for x in (-0.2, 0.2) for z in (-0.95, 0.95)]
    return join(*boards, *legs)


def _stool() -> Mesh:
    seat = lathe([(0.0, 0.46), (0.17, 0.455), (0.185, 0.43), (0.17, 0.415), (0.0, 0.415)], _PALE, 28)
    legs = [
        lathe([(0.0, 0.42), (0.02, 0.42), (0.024, 0.0), (0.0, 0.0)], _OAK, 10).moved(
            (0.12 * math.cos(a), 0, 0.12 * math.sin(a))
        )
        for a in np.linspace(0, 2 * np.pi, 3, endpoint=False)
    ]
    return join(seat, *legs)


def _barrel() -> Mesh:
    staves = [
        (0.0, 0.92),
        (0.26, 0.92),
        (0.28, 0.9),
        (0.33, 0.66),
        (0.345, 0.46),
        (0.33, 0.26),
        (0.28, 0.02),
        (0.26, 0.0),
        (0.0, 0.0),
    ]
    hoops = [
        lathe([(0.335, 0.72), (0.338, 0.7), (0.343, 0.66), (0.34, 0.65)], _TAR, 40),
        lathe([(0.343, 0.27), (0.34, 0.25), (0.332, 0.21)], _TAR, 40),
    ]
    return join(lathe(staves, _OAK, 40), *hoops)


def _rope() -> Mesh:
    """A coil: a tube round and round."""
    turns, sides, steps = 5, 10, 260
    t = np.linspace(0, 2 * np.pi * turns, steps)
    radius = 0.34 - 0.028 * t / (2 * np.pi) * 0.6
    middle = np.stack([radius * np.cos(t), 0.035 + 0.022 * t / (2 * np.pi), radius * np.sin(t)], axis=1)
    out = np.stack([np.cos(t), np.zeros(steps), np.sin(t)], axis=1)
    up = np.tile([0.0, 1.0, 0.0], (steps, 1))
    angle = np.linspace(0, 2 * np.pi, sides, endpoint=False)
    ring = middle[:, None] + 0.03 * (
        np.cos(angle)[:, None] * out[:, None] + np.sin(angle)[:, None] * up[:, None]
    )
    points = ring.reshape(-1, 3)
    faces = [
        [i * sides + j, i * sides + (j + 1) % sides, (i + 1) * sides + (j + 1) % sides, (i + 1) * sides + j]
        for i in range(steps - 1)
        for j in range(sides)
    ]
    return facets(points, faces, "#c9b48a")


def _rack(rng: np.random.Generator) -> Iterator[Mesh]:
    for y in (0.5, 1.6):
        yield _beam(0.1, 0.08, 2.4, _TAR, rng).moved((0, y, 0))
    for k in range(4):
        shaft = lathe([(0.0, 2.3), (0.022, 2.28), (0.026, 0.1), (0.0, 0.06)], _PALE, 14)
        blade = _beam(0.02, 0.62, 0.16, _PALE, rng).moved((0, 1.75, 0))
        yield join(shaft, blade).turned(about_z(4.0)).moved((-0.12, 0.0, -0.9 + 0.6 * k))


def _crate(rng: np.random.Generator) -> Iterator[Mesh]:
    for k in range(4):
        for side in (-1, 1):
            yield _beam(0.62, 0.11, 0.02, _PALE, rng, 0.2).moved((0, 0.015 + 0.13 * k, side * 0.3))
            yield _beam(0.02, 0.11, 0.58, _PALE, rng, 0.2).moved((side * 0.3, 0.015 + 0.13 * k, 0))
    for k in range(5):
        yield _beam(0.115, 0.02, 0.6, _PALE, rng, 0.2).moved((-0.245 + 0.1225 * k, 0.535, 0))


def _chart() -> bytes:
    """A chart of the bay, drawn by hand, as PNG."""
    picture = Image.new("RGB", (1120, 720), "#e6dcc0")
    pen = ImageDraw.Draw(picture)
    shore = [(x, 300 + 90 * math.sin(x / 130) + 40 * math.sin(x / 47)) for x in range(0, 1121, 8)]
    pen.polygon([(0, 0), *shore, (1120, 0)], fill="#b9a877")
    for k in range(1, 6):
        pen.line([(x, y + 42 * k + 6 * math.sin(x / 60 + k)) for x, y in shore], fill="#5d7f8c", width=3)
    pen.line([(180, 620), (470, 480), (690, 560), (930, 410)], fill="#8c3b2e", width=5)
    for x, y in ((180, 620), (470, 480), (690, 560), (930, 410)):
        pen.ellipse([x - 12, y - 12, x + 12, y + 12], outline="#8c3b2e", width=5)
    pen.rectangle([14, 14, 1105, 705], outline="#4a3f2c", width=8)
    out = io.BytesIO()
    picture.save(out, "PNG")
    return out.getvalue()
