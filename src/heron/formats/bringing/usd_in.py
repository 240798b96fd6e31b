"""USD from elsewhere, as usd-core reads it: one stage, variants as they are chosen (`.usd`, `.usda`, `.usdc`, `.usdz`).

It is opened alone in an empty folder, with what was brought along beside it, so that nothing else can be found.
"""

import contextlib
import io
import os
import re
import subprocess
import sys
import tempfile
import zipfile
from pathlib import Path
from typing import Any

import numpy as np
from pxr import Ar, Gf, Sdf, Usd, UsdGeom, UsdShade

from heron.errors import BadInput
from heron.formats.bringing.found import Along, Eye, Floats, Found, Ints, Shape
from heron.formats.bringing.limits import APART, MOST_BYTES, MOST_DECODED, MOST_NODES
from heron.formats.bringing.pictures import kept_picture
from heron.formats.bringing.tree import blended, placed
from heron.formats.bringing.usd_cameras import usd_camera
from heron.formats.bringing.usd_skins import usd_skins

_MOST_ENTRIES, _LONGEST_S = 4000, 20
_AGAIN = "Export it again."


def read_usd(content: bytes, name: str, along: Along) -> Found:
    """A USD file, as its stage stands at its first time.

    Raises:
        BadInput: it is damaged, or has no stage.
    """
    ending = Path(name).suffix.lower() or ".usd"
    if content[:2] == b"PK":
        ending = ".usdz"
        _check_zip(content, name)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / f"stage{ending}"
        path.write_bytes(content)
        _beside(path, content, along)
        if not os.environ.get(APART):
            _survive(path, name)
        # What it names outside this folder must not be found.
        os.environ.pop("PXR_AR_DEFAULT_SEARCH_PATH", None)
        try:
            layer = Sdf.Layer.FindOrOpen(str(path))
            if layer is None:
                raise BadInput(f"{name} is not a USD file that can be read.", _AGAIN)
            outside = [one for one in layer.GetCompositionAssetDependencies() if _outside(one)]
            if outside:
                raise BadInput(
                    f"{name} points outside itself, at {outside[0][:60]!r}.",
                    "Write it as one file, or as .usdz.",
                )
            stage = Usd.Stage.Open(layer, Usd.Stage.LoadAll)
            return _Reader(stage, name, along).read()
        except BadInput:
            raise
        except Exception as error:  # whatever its parser says
            raise BadInput(f"{name} is not a USD file that can be read.", _AGAIN) from error


def _survive(path: Path, name: str) -> None:
    """Open a file in another process first: damaged ones can end the one that reads them."""
    look = "import sys; from heron.formats.bringing.usd_in import whole; whole(sys.argv[1])"
    try:
        ended = subprocess.run(
            [sys.executable, "-c", look, str(path)], env={**os.environ, APART: "1"}, capture_output=True, timeout=_LONGEST_S, check=False
        ).returncode  # fmt: skip
    except subprocess.TimeoutExpired:
        raise BadInput(f"{name} takes too long to read.", "Make it lighter where it was made.") from None
    if ended < 0:
        raise BadInput(f"{name} is a damaged USD file.", "Copy it again.")


def whole(path: str) -> None:
    """Read all that is read of a file, for what that does to the process."""
    with contextlib.suppress(BadInput):
        read_usd(Path(path).read_bytes(), path, lambda named: None)


def _check_zip(content: bytes, name: str) -> None:
    try:
        entries = zipfile.ZipFile(io.BytesIO(content)).infolist()
    except (zipfile.BadZipFile, ValueError, OSError, NotImplementedError):
        raise BadInput(f"{name} is a damaged package.", "Copy it again.") from None
    total = sum(one.file_size for one in entries)
    if len(entries) > _MOST_ENTRIES or total > 2 * MOST_BYTES:
        raise BadInput(
            f"{name} unpacks to {total / 2**20:,.0f} MB.",
            f"Give one of {2 * MOST_BYTES // 2**20} MB or less.",
        )
    for one in entries:
        if _outside(one.filename):
            raise BadInput(f"{name} has a file with a path out of it, {one.filename[:60]!r}.", _AGAIN)


def _outside(path: str) -> bool:
    plain = path.replace("\\", "/")
    return plain.startswith("/") or "://" in plain or plain[1:2] == ":" or ".." in plain.split("/")


def _beside(path: Path, content: bytes, along: Along) -> None:
    """Put what it names beside it, where it was brought along."""
    for match in set(re.findall(rb"@([^@\n]{1,200})@", content[: 4 * 2**20])):
        named = match.decode("utf-8", "replace")
        # In a binary file what lies between two such signs is seldom a name.
        if _outside(named) or not named.isprintable():
            continue
        found = along(named)
        if found is not None:
            to = path.parent / named
            to.parent.mkdir(parents=True, exist_ok=True)
            to.write_bytes(found)


class _Reader:
    def __init__(self, stage: Any, name: str, along: Along) -> None:
        self.stage, self.name, self.along = stage, name, along
        says = stage.HasAuthoredMetadata("metersPerUnit")
        self.found = Found(
            metres=float(UsdGeom.GetStageMetersPerUnit(stage)) if says else None,
            up="z" if UsdGeom.GetStageUpAxis(stage) == UsdGeom.Tokens.z else "y",
        )
        self.nodes: dict[str, int] = {}
        self._pictures: dict[str, int | None] = {}

    def read(self) -> Found:
        found = self.found
        cache = UsdGeom.XformCache(Usd.TimeCode.EarliestTime())
        rest: list[Floats] = []
        total = 0
        self.skins = usd_skins(self.stage, found, rest, self.name)
        self.joint_rest = np.array(rest).reshape(-1, 4, 4)
        for prim in Usd.PrimRange(self.stage.GetPseudoRoot(), Usd.TraverseInstanceProxies()):
            if prim.IsPseudoRoot() or not prim.IsA(UsdGeom.Imageable):
                continue
            if len(self.nodes) >= MOST_NODES:
                raise BadInput(f"{self.name} has more than {MOST_NODES:,} prims.", "Join some of its parts.")
            path = prim.GetPath()
            node = self.nodes[str(path)] = len(found.names)
            found.names.append(prim.GetName()[:80])
            found.parents.append(self.nodes.get(str(path.GetParentPath()), -1))
            # Rows of vectors times matrices there; columns here.
            matrix = np.array(cache.GetLocalToWorldTransform(prim), dtype=np.float64).T
            if not np.isfinite(matrix).all():
                raise BadInput(f"{self.name} has a prim that stands nowhere: {path}.", _AGAIN)
            rest.append(matrix)
            imageable = UsdGeom.Imageable(prim)
            if imageable.ComputeVisibility() == UsdGeom.Tokens.invisible or imageable.ComputePurpose() in (
                UsdGeom.Tokens.guide, UsdGeom.Tokens.proxy,
            ):  # fmt: skip
                continue
            if prim.IsA(UsdGeom.Camera):
                self._eye(prim, node)
            elif prim.IsA(UsdGeom.Mesh):
                total += self._mesh(UsdGeom.Mesh(prim), node, matrix)
                if total > MOST_DECODED:
                    raise BadInput(
                        f"{self.name} has more than {MOST_DECODED / 1e6:g} million triangles.",
                        "Make it lighter where it was made.",
                    )
            elif prim.IsA(UsdGeom.Gprim):
                found.tell(f"{prim.GetTypeName()}s are left out: give them as meshes.")
            elif "Light" in str(prim.GetTypeName()):
                found.tell("Lights are left out: put lamps where they are needed.")
        found.rest = np.array(rest).reshape(-1, 4, 4)
        return found

    def _mesh(self, mesh: Any, node: int, matrix: Floats) -> int:
        time = Usd.TimeCode.EarliestTime()
        points = np.array(mesh.GetPointsAttr().Get(time) or [], dtype=np.float64).reshape(-1, 3)
        counts = np.array(mesh.GetFaceVertexCountsAttr().Get(time) or [], dtype=np.int64)
        index = np.array(mesh.GetFaceVertexIndicesAttr().Get(time) or [], dtype=np.int64)
        path = mesh.GetPath()
        if not len(points) or not len(index):
            return 0
        if not np.isfinite(points).all():
            raise BadInput(f"{self.name} has coordinates that aren't numbers, in {path}.", _AGAIN)
        if counts.sum() != len(index) or index.min() < 0 or index.max() >= len(points) or counts.min() < 0:
            raise BadInput(f"{self.name} has faces between points that are not there, in {path}.", _AGAIN)
        corners, face = _fans(counts)
        if str(mesh.GetOrientationAttr().Get() or "") == "leftHanded":
            corners = corners[:, ::-1]
        holes = mesh.GetHoleIndicesAttr().Get(time)
        if holes:
            stays = ~np.isin(face, np.array(holes))
            corners, face = corners[stays], face[stays]
        if not len(corners):
            return 0
        normals = self._normals(mesh, index, len(points))
        uv_of = self._uv(mesh, index)
        shared = self._colour(mesh, index, face)
        both = bool(mesh.GetDoubleSidedAttr().Get())
        for material, faces in self._bound(mesh, len(counts)):
            chosen = corners if faces is None else corners[np.isin(face, faces)]
            if not len(chosen):
                continue
            # Each corner has a point of its own, since its normal and its place on a picture may be its own.
            flat = chosen.reshape(-1)
            where = points[index[flat]]
            turned = None if normals is None else normals[flat]
            skin = self.skins.get(str(path))
            joints = weights = bound = bound_normals = None
            morphs: dict[str, Floats] = {}
            if skin is None:
                where, turned = placed(where, turned, matrix)
            else:
                joints, weights = skin.joints[index[flat]], skin.weights[index[flat]]
                bound, bound_normals = placed(where, turned, skin.bound)
                morphs = {
                    name: moves[index[flat]] @ skin.bound[:3, :3].T for name, moves in skin.morphs.items()
                }
                back = np.linalg.inv(np.array([self.found.bind[i] for i in range(len(self.joint_rest))]))
                where, turned = blended(bound, bound_normals, weights, (self.joint_rest @ back)[joints])
            hue, picture = self._look(material)
            uv = uv_of[flat] if picture is not None and uv_of is not None else None
            if uv is None:
                picture = None
            colours = (
                np.tile(hue, (len(flat), 1))
                if hue is not None
                else shared[flat]
                if shared is not None
                else np.full((len(flat), 3), 0.5)
            )
            order = np.arange(len(flat)).reshape(-1, 3)
            if np.linalg.det((matrix if skin is None else skin.bound)[:3, :3]) < 0:
                order = order[:, ::-1]
            self.found.shapes.append(
                Shape(
                    node,
                    where,
                    turned,
                    colours,
                    order,
                    uv,
                    picture,
                    both,
                    joints,
                    weights,
                    bound,
                    bound_normals,
                    morphs,
                )
            )
        return len(corners)

    def _normals(self, mesh: Any, index: Ints, count: int) -> Floats | None:
        """(c, 3) for each corner of each face, or None where the file has none that fit."""
        primvar = UsdGeom.PrimvarsAPI(mesh).GetPrimvar("normals")
        if primvar and primvar.HasValue():
            value, kind = primvar.ComputeFlattened(Usd.TimeCode.EarliestTime()), primvar.GetInterpolation()
        else:
            value, kind = (
                mesh.GetNormalsAttr().Get(Usd.TimeCode.EarliestTime()),
                mesh.GetNormalsInterpolation(),
            )
        return _by_corner(value, kind, index, count, 3)

    def _uv(self, mesh: Any, index: Ints) -> Floats | None:
        for primvar in UsdGeom.PrimvarsAPI(mesh).GetPrimvars():
            if (
                str(primvar.GetTypeName()) in ("texCoord2f[]", "float2[]", "texCoord2d[]", "texCoord2h[]")
                and primvar.HasValue()
            ):
                value = primvar.ComputeFlattened(Usd.TimeCode.EarliestTime())
                count = len(mesh.GetPointsAttr().Get(Usd.TimeCode.EarliestTime()))
                found = _by_corner(value, primvar.GetInterpolation(), index, count, 2)
                if found is not None:
                    return found * [1.0, -1.0] + [0.0, 1.0]
        return None

    def _colour(self, mesh: Any, index: Ints, face: Ints) -> Floats | None:
        primvar = mesh.GetDisplayColorPrimvar()
        if not primvar or not primvar.HasValue():
            return None
        value = np.clip(
            np.array(primvar.ComputeFlattened(Usd.TimeCode.EarliestTime()), dtype=np.float64).reshape(-1, 3),
            0,
            1,
        )
        kind = primvar.GetInterpolation()
        if kind == UsdGeom.Tokens.uniform:
            counts = np.array(mesh.GetFaceVertexCountsAttr().Get(Usd.TimeCode.EarliestTime()))
            return np.repeat(value, counts, axis=0) if len(value) == len(counts) else None
        if len(value) == 1:
            return np.tile(value, (len(index), 1))
        return _by_corner(value, kind, index, len(mesh.GetPointsAttr().Get(Usd.TimeCode.EarliestTime())), 3)

    def _bound(self, mesh: Any, faces: int) -> list[tuple[Any, Ints | None]]:
        """Materials and the faces they are on; None for all of them."""
        whole, _ = UsdShade.MaterialBindingAPI(mesh.GetPrim()).ComputeBoundMaterial()
        parts = []
        left = np.ones(faces, dtype=bool)
        for subset in UsdGeom.Subset.GetAllGeomSubsets(mesh):
            material, _ = UsdShade.MaterialBindingAPI(subset.GetPrim()).ComputeBoundMaterial()
            which = np.array(subset.GetIndicesAttr().Get() or [], dtype=np.int64)
            which = which[(which >= 0) & (which < faces)]
            if subset.GetElementTypeAttr().Get() == "face" and len(which):
                parts.append((material, which))
                left[which] = False
        if not parts:
            return [(whole, None)]
        return [*parts, (whole, np.flatnonzero(left))]

    def _look(self, material: Any) -> tuple[Floats | None, int | None]:
        """A material's base colour in linear light, and its picture."""
        if not material:
            return None, None
        shader, _, _ = material.ComputeSurfaceSource()
        if not shader or shader.GetIdAttr().Get() != "UsdPreviewSurface":
            self.found.tell("Materials other than UsdPreviewSurface are left out.")
            return None, None
        entry = shader.GetInput("diffuseColor")
        if not entry:
            return np.full(3, 0.18), None
        source = entry.GetConnectedSources()[0] if entry.HasConnectedSource() else []
        if not source:
            value = entry.Get()
            return (
                np.full(3, 0.18) if value is None else np.clip(np.array(value, dtype=np.float64), 0, 1)
            ), None
        texture = UsdShade.Shader(source[0].source.GetPrim())
        asset = texture.GetInput("file").Get() if texture.GetInput("file") else None
        picture = self._picture(asset) if isinstance(asset, Sdf.AssetPath) else None
        return np.ones(3), picture

    def _picture(self, asset: Any) -> int | None:
        named = asset.path
        if named not in self._pictures:
            self._pictures[named] = None
            try:
                kept, _ = kept_picture(self._content(asset), Path(named).name)
                self.found.pictures.append(kept)
                self._pictures[named] = len(self.found.pictures) - 1
            except BadInput as error:
                self.found.tell(f"{error.reason} It is left out.")
        return self._pictures[named]

    def _content(self, asset: Any) -> bytes:
        if _outside(asset.path):
            raise BadInput(f"{asset.path[:60]} lies outside the file.", "")
        resolved = asset.resolvedPath
        opened = Ar.GetResolver().OpenAsset(Ar.ResolvedPath(resolved)) if resolved else None
        if opened is not None:
            with opened:
                return bytes(opened.GetBuffer())
        found = self.along(asset.path)
        if found is None:
            raise BadInput(f"{asset.path[:60]} was not brought along.", "")
        return found

    def _eye(self, prim: Any, node: int) -> None:
        camera = UsdGeom.Camera(prim).GetCamera(Usd.TimeCode.EarliestTime())
        if camera.projection != Gf.Camera.Perspective:
            self.found.tell("A camera without perspective is left out.")
            return
        self.found.eyes.append(
            Eye(self.found.names[node], node, lambda rate: usd_camera(self.stage, prim, rate))
        )


def _fans(counts: Ints) -> tuple[Ints, Ints]:
    """(t, 3) corners of triangles that faces fall into, and (t,) which face each is of."""
    starts = np.cumsum(counts) - counts
    each = np.maximum(counts - 2, 0)
    face = np.repeat(np.arange(len(counts)), each)
    step = np.arange(len(face)) - np.repeat(np.cumsum(each) - each, each)
    first = starts[face]
    return np.stack([first, first + step + 1, first + step + 2], axis=1), face


def _by_corner(value: Any, kind: Any, index: Ints, count: int, width: int) -> Floats | None:
    if value is None or not len(value):
        return None
    array = np.array(value, dtype=np.float64).reshape(-1, width)
    if not np.isfinite(array).all():
        return None
    if kind == UsdGeom.Tokens.faceVarying and len(array) == len(index):
        return array
    if kind in (UsdGeom.Tokens.vertex, UsdGeom.Tokens.varying) and len(array) == count:
        return np.asarray(array[index])
    return None
