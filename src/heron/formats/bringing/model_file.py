"""Sets and props as they are kept: a `.glb` in metres, Y up, one node for each part that can be moved by itself.

A node stands at the middle of its part's foot and is as large as its box, so that its mesh lies between −½ and ½ across and
along, 0 and 1 in height, as all set pieces do.
"""

from collections.abc import Callable

import numpy as np

from heron.errors import BadInput
from heron.formats.bringing.found import Floats, Found, Ints, Shape, Up, turned_up
from heron.formats.bringing.lighter import lightened
from heron.formats.bringing.limits import LIGHTER, MOST_KEPT, MOST_PARTS
from heron.formats.bringing.normals import normals_of
from heron.formats.bringing.tree import same_rows
from heron.formats.glb import Glb
from heron.model import STAGE_LIMIT_M
from heron.stage.models.part import ModelFile, Part, Surface

#: No part is thinner, metres.
_THIN = 0.001
Tell = Callable[[float], None]


def prepared(
    found: Found, name: str, metres: float, up: Up, lighter: bool = False, tell: Tell = lambda share: None
) -> ModelFile:
    """What a file holds as parts on the stage.

    Args:
        metres: of its unit; up: its axis; lighter: whether it is made to have fewer triangles; tell: is told how far it is, 0 to 1.

    Raises:
        BadInput: it has no surfaces, too many triangles, or does not fit on the stage.
    """
    reach = max(float(np.abs(shape.points).max()) for shape in found.shapes) * metres
    if reach > STAGE_LIMIT_M:
        raise BadInput(
            f"{name} reaches {reach:,.3g} m from its origin.", "Choose a smaller unit.", field="unit"
        )
    if found.triangles > MOST_KEPT and not lighter:
        raise BadInput(
            f"{name} has {found.triangles:,} triangles; up to {MOST_KEPT:,} stay quick to draw.", "Bring in a lighter copy of it.", field="lighter"
        )  # fmt: skip
    if any(shape.morphs for shape in found.shapes):
        found.tell("Shapes that change (morph targets) are left out: they are read of a character's face.")
    share = min(LIGHTER / found.triangles, 1.0) if lighter else 1.0
    parts = []
    groups = _groups(found)
    for i, (path, shapes) in enumerate(groups.items()):
        surfaces = [surface_of(shape, metres, up, share)[0] for shape in shapes]
        surfaces = [one for one in surfaces if len(one.triangles)]
        if surfaces:
            parts.append(_boxed(path, surfaces))
        tell((i + 1) / len(groups))
    if not parts:
        raise BadInput(f"{name} has no surfaces.", "Give a file with meshes.")
    return ModelFile(tuple(parts), tuple(found.pictures))


def _groups(found: Found) -> dict[tuple[str, ...], list[Shape]]:
    """Surfaces by the path of the part they are of: as deep in the tree as there are few enough."""
    paths = {shape.node: found.path(shape.node) for shape in found.shapes}
    shared = 0
    while all(
        len(path) > shared + 1 and path[shared] == next(iter(paths.values()))[shared]
        for path in paths.values()
    ):
        shared += 1
    paths = _apart({node: path[shared:] for node, path in paths.items()})
    deep = max(len(path) for path in paths.values())
    while deep > 1 and len({path[:deep] for path in paths.values()}) > MOST_PARTS:
        deep -= 1
    kept = list(dict.fromkeys(path[:deep] for path in paths.values()))
    if len(kept) > MOST_PARTS:
        found.tell(
            f"It has {len(kept):,} parts; all beyond the first {MOST_PARTS - 1} are one, “Other parts”."
        )
    named = {
        path: path if i < MOST_PARTS - 1 or len(kept) <= MOST_PARTS else ("Other parts",)
        for i, path in enumerate(kept)
    }
    out: dict[tuple[str, ...], list[Shape]] = {}
    for shape in found.shapes:
        out.setdefault(named[paths[shape.node][:deep]], []).append(shape)
    return out


def _apart(paths: dict[int, tuple[str, ...]]) -> dict[int, tuple[str, ...]]:
    """Nodes with paths of which no two are the same."""
    taken: set[tuple[str, ...]] = set()
    out = {}
    for node, path in paths.items():
        one, k = path, 2
        while one in taken:
            one, k = (*path[:-1], f"{path[-1]} {k}"), k + 1
        taken.add(one)
        out[node] = one
    return out


def surface_of(shape: Shape, metres: float, up: Up, share: float) -> tuple[Surface, Ints]:
    """A shape as it is kept, lightened to a share of its triangles, and (v,) which of its points each point was."""
    order = np.arange(len(shape.points))
    points, triangles = turned_up(shape.points, up) * metres, shape.triangles
    # A triangle without a surface has no side that could be seen.
    c = points[triangles]
    large = np.linalg.norm(np.cross(c[:, 1] - c[:, 0], c[:, 2] - c[:, 0]), axis=1) > 1e-12
    triangles = triangles[large]
    normals = None if shape.normals is None else turned_up(shape.normals, up)
    colours, uv = shape.colours, shape.uv
    if share < 1 and len(triangles):
        kept, triangles = lightened(points, triangles, share)
        points, colours, order = points[kept], colours[kept], order[kept]
        uv, normals = None if uv is None else uv[kept], None
    if normals is None and len(triangles):
        flat = triangles.reshape(-1)
        order = order[flat]
        normals, points, colours = normals_of(points, triangles), points[flat], colours[flat]
        uv = None if uv is None else uv[flat]
        triangles = np.arange(len(flat)).reshape(-1, 3)
    if normals is None:
        normals = np.zeros_like(points)
    if shape.both:
        n = len(points)
        points, normals, colours = (
            np.tile(points, (2, 1)),
            np.concatenate([normals, -normals]),
            np.tile(colours, (2, 1)),
        )
        uv, order = None if uv is None else np.tile(uv, (2, 1)), np.tile(order, 2)
        triangles = np.concatenate([triangles, triangles[:, ::-1] + n])
    return Surface(points, normals, colours, triangles, uv, shape.picture if uv is not None else None), order


def _boxed(path: tuple[str, ...], surfaces: list[Surface]) -> Part:
    used = np.concatenate([one.points[one.triangles.reshape(-1)] for one in surfaces])
    low, high = used.min(axis=0), used.max(axis=0)
    size = np.maximum(high - low, _THIN)
    at = np.array([(low[0] + high[0]) / 2, low[1], (low[2] + high[2]) / 2])
    by_picture: dict[int | None, list[Surface]] = {}
    for one in surfaces:
        by_picture.setdefault(one.picture, []).append(one)
    return Part(
        path, at, size, tuple(_merged(some, at, size, picture) for picture, some in by_picture.items())
    )


def _merged(surfaces: list[Surface], at: Floats, size: Floats, picture: int | None) -> Surface:
    starts = np.cumsum([0, *(len(one.points) for one in surfaces[:-1])])
    triangles = np.concatenate([one.triangles + start for one, start in zip(surfaces, starts, strict=True)])
    points = (np.concatenate([one.points for one in surfaces]) - at) / size
    normals = np.concatenate([one.normals for one in surfaces]) * size
    normals /= np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-12)
    colours = np.concatenate([one.colours for one in surfaces])
    uv = None if picture is None else np.concatenate([one.uv for one in surfaces if one.uv is not None])
    columns = [points, normals, colours] if uv is None else [points, normals, colours, uv]
    kept, triangles = _welded(np.concatenate(columns, axis=1).astype(np.float32), triangles)
    return Surface(
        points[kept], normals[kept], colours[kept], triangles, None if uv is None else uv[kept], picture
    )


def _welded(rows: Floats, triangles: Ints) -> tuple[Ints, Ints]:
    """Which rows stay, so that no two are the same and each is used, and the triangles between them."""
    used, back = np.unique(triangles, return_inverse=True)
    first, again = same_rows(rows[used])
    return used[first], again[back.reshape(-1)].reshape(-1, 3)


def write_model(model: ModelFile) -> bytes:
    """A model as it is kept; the same model, the same bytes."""
    glb = Glb("model")
    glb.doc.materials = []
    for part in model.parts:
        mesh = glb.model(part.surfaces, model.pictures, part.name)
        glb.node(
            part.name, mesh=mesh, translation=part.at.tolist(), scale=part.size.tolist(), extras={"path": list(part.path)}
        )  # fmt: skip
    return glb.write()
