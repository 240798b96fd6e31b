"""Trees of nodes, what they do to points, and points that are one."""

import numpy as np

from heron.errors import BadInput
from heron.formats.bringing.found import Floats, Ints


def trs(place: Floats, turn: Floats, size: Floats) -> Floats:
    """(n, 4, 4) of places (n, 3), turns (n, 4; x, y, z, w) and sizes (n, 3)."""
    length = np.linalg.norm(turn, axis=1, keepdims=True)
    x, y, z, w = (np.where(length > 1e-12, turn / np.maximum(length, 1e-12), [0.0, 0, 0, 1])).T
    out = np.zeros((len(place), 4, 4))
    out[:, 0, :3] = np.stack([1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w)], axis=-1)
    out[:, 1, :3] = np.stack([2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w)], axis=-1)
    out[:, 2, :3] = np.stack([2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y)], axis=-1)
    out[:, :3, :3] *= size[:, None, :]
    out[:, :3, 3] = place
    out[:, 3, 3] = 1.0
    return out


def placed(points: Floats, normals: Floats | None, matrix: Floats) -> tuple[Floats, Floats | None]:
    """Points and normals where a node has them."""
    out = points @ matrix[:3, :3].T + matrix[:3, 3]
    if normals is None or abs(np.linalg.det(matrix[:3, :3])) < 1e-18:
        return out, None
    # Normals go by the inverse's transpose; a mirrored part has them turned back again.
    return out, unit(normals @ np.linalg.inv(matrix[:3, :3]))


def blended(
    points: Floats, normals: Floats | None, weights: Floats, moves: Floats
) -> tuple[Floats, Floats | None]:
    """Points (v, 3) and normals moved by a mixture of matrices, (v, k, 4, 4), each by its weight, (v, k)."""
    mixed = np.einsum("vk,vkij->vij", weights, moves)
    out = np.einsum("vij,vj->vi", mixed[:, :3, :3], points) + mixed[:, :3, 3]
    return out, None if normals is None else unit(np.einsum("vij,vj->vi", mixed[:, :3, :3], normals))


def unit(vectors: Floats) -> Floats:
    """(n, 3) of length one; what has none points up."""
    length = np.linalg.norm(vectors, axis=1, keepdims=True)
    return np.where(length > 1e-12, vectors / np.maximum(length, 1e-12), [0.0, 1.0, 0.0])


def downwards(parents: list[int], name: str) -> list[int]:
    """The nodes in an order in which each comes after its parent."""
    children: dict[int, list[int]] = {}
    for i, parent in enumerate(parents):
        children.setdefault(parent, []).append(i)
    order: list[int] = []
    waiting = children.get(-1, [])[::-1]
    while waiting:
        i = waiting.pop()
        order.append(i)
        waiting += children.get(i, [])[::-1]
    if len(order) != len(parents):
        raise BadInput(
            f"{name} has a ring of nodes, each below the next.",
            "Export it again.",
        )
    return order


def same_places(points: Floats) -> tuple[Ints, Ints]:
    """Points at one place, to a micrometre of the unit, are one: the first at each place, and (v,) which place each is at."""
    return same_rows(np.rint(points * 1e6).astype(np.int64))


def same_rows(rows: Ints | Floats) -> tuple[Ints, Ints]:
    """Rows that are equal: the first of each, and (n,) which of them each row is."""
    order = np.lexsort(rows.T[::-1])
    sorted_rows = rows[order]
    new = np.r_[True, (sorted_rows[1:] != sorted_rows[:-1]).any(axis=1)]
    which = np.empty(len(rows), dtype=np.int64)
    which[order] = np.cumsum(new) - 1
    return order[new], which
