"""Skins of USD: the joints of its skeletons, and what each mesh is fixed to (UsdSkel of OpenUSD)."""

from dataclasses import dataclass
from typing import Any

import numpy as np
from pxr import Usd, UsdGeom, UsdSkel

from heron.errors import BadInput
from heron.formats.bringing.found import Floats, Found, Ints
from heron.formats.bringing.limits import MOST_JOINTS


@dataclass(frozen=True, eq=False)
class UsdSkin:
    """What the points of a mesh are fixed to.

    Attributes:
        joints: (v, k) nodes; weights: (v, k).
        bound: (4, 4) from the mesh's points to where the skin was fixed.
        morphs: how its points change, by name: (v, 3).
    """

    joints: Ints
    weights: Floats
    bound: Floats
    morphs: dict[str, Floats]


def usd_skins(stage: Any, found: Found, rest: list[Floats], name: str) -> dict[str, UsdSkin]:
    """Put the joints of all skeletons among a file's nodes; the skins of its meshes by their paths.

    Raises:
        BadInput: a skeleton has too many joints, or its bind pose is not whole.
    """
    out: dict[str, UsdSkin] = {}
    cache = UsdSkel.Cache()
    for prim in stage.Traverse():
        if not prim.IsA(UsdSkel.Root):
            continue
        root = UsdSkel.Root(prim)
        cache.Populate(root, Usd.TraverseInstanceProxies())
        for binding in cache.ComputeSkelBindings(root, Usd.TraverseInstanceProxies()):
            query = cache.GetSkelQuery(binding.GetSkeleton())
            if not query:
                continue
            nodes = _joints(query, found, rest, name)
            for target in binding.GetSkinningTargets():
                skin = _skin(target, query, nodes)
                if skin is not None:
                    out[str(target.GetPrim().GetPath())] = skin
    return out


def _matrices(values: Any) -> Floats:
    # Rows of vectors times matrices there; columns here.
    return np.array(values, dtype=np.float64).reshape(-1, 4, 4).transpose(0, 2, 1)


def _joints(query: Any, found: Found, rest: list[Floats], name: str) -> dict[str, int]:
    """The nodes of a skeleton's joints, by their tokens."""
    order = [str(token) for token in query.GetJointOrder()]
    if len(order) > MOST_JOINTS:
        raise BadInput(
            f"{name} has a skeleton of {len(order)} joints.", f"{MOST_JOINTS} are read: leave some out."
        )
    bind = _matrices(query.GetJointWorldBindTransforms())
    early = Usd.TimeCode.EarliestTime()
    world = np.array(UsdGeom.XformCache(early).GetLocalToWorldTransform(query.GetPrim()), dtype=np.float64).T
    posed = _matrices(query.ComputeJointSkelTransforms(early))
    if len(bind) != len(order) or len(posed) != len(order) or not (np.abs(np.linalg.det(bind)) > 1e-12).all():
        raise BadInput(f"{name} has a skeleton whose joints stand nowhere.", "Export it again.")
    parents = query.GetTopology().GetParentIndices()
    first = len(found.names)
    for i, token in enumerate(order):
        found.names.append(token.rsplit("/", 1)[-1][:80])
        found.parents.append(first + int(parents[i]) if int(parents[i]) >= 0 else -1)
        rest.append(world @ posed[i])
        found.bind[first + i] = bind[i]
    return {token: first + i for i, token in enumerate(order)}


def _skin(target: Any, query: Any, nodes: dict[str, int]) -> UsdSkin | None:
    if not target.HasJointInfluences():
        return None
    mesh = target.GetPrim()
    points = mesh.GetAttribute("points").Get(Usd.TimeCode.EarliestTime())
    if points is None:
        return None
    made = target.ComputeVaryingJointInfluences(len(points))
    if not made:
        return None
    which, weights = (np.array(one) for one in made)
    each = target.GetNumInfluencesPerComponent()
    which, weights = which.reshape(-1, each).astype(np.int64), weights.reshape(-1, each).astype(np.float64)
    order = [str(token) for token in (target.GetJointOrder() or query.GetJointOrder())]
    known = np.array([nodes.get(token, -1) for token in order])
    if len(which) != len(points) or which.min() < 0 or which.max() >= len(known) or (known[which] < 0).any():
        return None
    total = weights.sum(axis=1, keepdims=True)
    weights = np.where(total > 1e-9, weights / np.maximum(total, 1e-9), np.eye(each)[0])
    bound = np.array(target.GetGeomBindTransform(), dtype=np.float64).T
    return UsdSkin(known[which], weights, bound, _morphs(target, len(points)))


def _morphs(target: Any, count: int) -> dict[str, Floats]:
    """How a mesh's points change; shapes between two are left out."""
    binding = UsdSkel.BindingAPI(target.GetPrim())
    paths = binding.GetBlendShapeTargetsRel().GetTargets()
    out: dict[str, Floats] = {}
    for name, path in zip(target.GetBlendShapeOrder() or (), paths, strict=False):
        shape = UsdSkel.BlendShape(target.GetPrim().GetStage().GetPrimAtPath(path))
        offsets = shape.GetOffsetsAttr().Get() if shape else None
        if offsets is None:
            continue
        each = np.array(offsets, dtype=np.float64).reshape(-1, 3)
        rows = np.array(shape.GetPointIndicesAttr().Get() or range(len(each)), dtype=np.int64)
        if len(rows) != len(each) or len(rows) == 0 or rows.min() < 0 or rows.max() >= count:
            continue
        if not np.isfinite(each).all():
            continue
        moves = np.zeros((count, 3))
        moves[rows] = each
        out[str(name)[:80]] = moves
    return out
