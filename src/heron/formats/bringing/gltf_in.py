"""glTF 2.0 from elsewhere (Khronos glTF 2.0 specification): the tree, surfaces with their base colour, skins, clips, cameras.

Everything is checked before it is used: a file may say anything. No address is followed and no path outside the file.
"""

import base64
import binascii
import math
from typing import Any
from urllib.parse import unquote

import numpy as np

from heron.errors import BadInput, HeronError
from heron.formats.bringing.cameras_in import gltf_camera
from heron.formats.bringing.clips import clips_of
from heron.formats.bringing.found import Along, Eye, Floats, Found, Ints, Shape
from heron.formats.bringing.limits import MOST_DECODED, MOST_JOINTS, MOST_NODES
from heron.formats.bringing.pictures import kept_picture
from heron.formats.bringing.tree import blended, downwards, placed, trs
from heron.stage.models.accessors import open_glb, parse_gltf, values

#: Extensions a file may insist on: they change nothing here, or are read.
_READ = {
    "KHR_materials_unlit",
    "KHR_texture_transform",
    "KHR_mesh_quantization",
    "KHR_materials_emissive_strength",
}
_ELSEWHERE = "Put what it needs beside it and bring all of it in together."


def read_gltf(content: bytes, name: str, along: Along) -> Found:
    """A `.glb`, or a `.gltf` with the files it names.

    Raises:
        BadInput: it is damaged, insists on what cannot be read, or is too large.
    """
    if content[:4] == b"glTF":
        doc, binary = open_glb(content, name)
    else:
        doc, binary = parse_gltf(content, name), b""
    try:
        return _Reader(doc, binary, name, along).read()
    except HeronError:
        raise
    except (KeyError, IndexError, TypeError, ValueError, AttributeError, OverflowError, RecursionError):
        raise BadInput(f"{name} is damaged: its parts do not fit together.", "Export it again.") from None  # fmt: skip


def bytes_of(uri: Any, name: str, along: Along) -> bytes:
    """What a `.gltf` names: data within it, or a file brought along.

    Raises:
        BadInput: it is somewhere else, or is not there.
    """
    if not isinstance(uri, str):
        raise BadInput(f"{name} names a file by something that isn't a name.", "Export it again.")
    if uri.startswith("data:"):
        try:
            return base64.b64decode(uri.partition(",")[2], validate=True)
        except (binascii.Error, ValueError):
            raise BadInput(f"{name} holds data that cannot be read.", "Export it again.") from None
    path = unquote(uri)
    if (
        "://" in path
        or path.startswith(("/", "\\", "file:"))
        or ".." in path.replace("\\", "/").split("/")
        or path[1:2] == ":"
    ):
        raise BadInput(f"{name} points outside itself, at {path[:60]!r}.", _ELSEWHERE)
    found = along(path)
    if found is None:
        raise BadInput(f"{name} needs {path[:60]}, which was not brought along.", _ELSEWHERE)
    return found


class _Reader:
    def __init__(self, doc: dict[str, Any], binary: bytes, name: str, along: Along) -> None:
        self.doc, self.name, self.along = doc, name, along
        needs = [one for one in doc.get("extensionsRequired", []) if one not in _READ]
        if needs:
            raise BadInput(
                f"{name} cannot be read without {needs[0]:.60}.",
                "Write it without compression and without that extension.",
            )
        self.buffers = [
            bytes_of(one["uri"], name, along) if "uri" in one else binary for one in doc.get("buffers", [])
        ]
        for i, (one, there) in enumerate(zip(doc.get("buffers", []), self.buffers, strict=True)):
            if int(one["byteLength"]) > len(there):
                raise BadInput(
                    f"{name} lacks data: buffer {i} has {len(there):,} of {int(one['byteLength']):,} bytes.",
                    "Copy it again.",
                )
        self.found = Found(metres=1.0, up="y")
        self._pictures: dict[int, int | None] = {}

    def read(self) -> Found:
        doc, found = self.doc, self.found
        self._nodes()
        self._count()
        for node, one in enumerate(doc.get("nodes", [])):
            if "mesh" in one and self.seen[node]:
                self._mesh(node, doc["meshes"][one["mesh"]], one.get("skin"))
            if "camera" in one and self.seen[node]:
                self._eye(node, doc["cameras"][one["camera"]])
            if "KHR_lights_punctual" in one.get("extensions", {}):
                found.tell("Lights are left out: put lamps where they are needed.")
        found.clips = clips_of(doc, self._array, found)
        others = sum(
            key in material or key in material.get("pbrMetallicRoughness", {})
            for material in doc.get("materials", [])
            for key in ("normalTexture", "occlusionTexture", "emissiveTexture", "metallicRoughnessTexture")
        )
        if others:
            found.tell(f"{others} other pictures of its surfaces are left out: base colour alone is kept.")
        if any(m.get("alphaMode", "OPAQUE") == "BLEND" for m in doc.get("materials", [])):
            found.tell("What is see-through is drawn solid.")
        return found

    def _array(self, index: Any) -> Any:
        return values(self.doc, self.buffers, index, self.name)

    def _nodes(self) -> None:
        nodes = self.doc.get("nodes", [])
        if len(nodes) > MOST_NODES:
            raise BadInput(
                f"{self.name} has {len(nodes):,} nodes.",
                f"Join some of its parts: {MOST_NODES:,} are enough.",
            )
        parents = [-1] * len(nodes)
        for i, one in enumerate(nodes):
            for child in one.get("children", []):
                if not 0 <= child < len(nodes) or parents[child] != -1 or child == i:
                    raise BadInput(
                        f"{self.name} has a node with two parents, or one that is not there.",
                        "Export it again.",
                    )
                parents[child] = i
        local = np.array([_local(one) for one in nodes]).reshape(-1, 4, 4)
        if not np.isfinite(local).all():
            raise BadInput(f"{self.name} has a node that stands nowhere (no number).", "Export it again.")
        self.order = order = downwards(parents, self.name)
        rest = np.zeros_like(local)
        for i in order:
            rest[i] = local[i] if parents[i] < 0 else rest[parents[i]] @ local[i]
        scenes = self.doc.get("scenes", [])
        tops = (
            scenes[self.doc.get("scene", 0)].get("nodes", [])
            if scenes
            else [i for i, p in enumerate(parents) if p < 0]
        )
        self.seen = [False] * len(nodes)
        for i in order:
            self.seen[i] = i in tops or (parents[i] >= 0 and self.seen[parents[i]])
        found = self.found
        found.names = [str(one.get("name") or f"Part {i + 1}")[:80] for i, one in enumerate(nodes)]
        found.parents, found.rest = parents, rest
        for skin in self.doc.get("skins", []):
            joints = skin["joints"]
            if len(joints) > MOST_JOINTS:
                raise BadInput(
                    f"{self.name} has a skeleton of {len(joints)} joints.",
                    f"{MOST_JOINTS} are read: leave some out.",
                )
            inverse = self._inverse(skin)
            for joint, matrix in zip(joints, inverse, strict=True):
                found.bind.setdefault(joint, np.linalg.inv(matrix))

    def _inverse(self, skin: dict[str, Any]) -> Floats:
        joints = skin["joints"]
        if "inverseBindMatrices" not in skin:
            return np.tile(np.eye(4), (len(joints), 1, 1))
        inverse = self._array(skin["inverseBindMatrices"]).reshape(-1, 4, 4).transpose(0, 2, 1)
        if len(inverse) < len(joints) or (np.abs(np.linalg.det(inverse)) < 1e-12).any():
            raise BadInput(f"{self.name} has a skin whose joints stand nowhere.", "Export it again.")
        return np.asarray(inverse[: len(joints)])

    def _count(self) -> None:
        accessors = self.doc.get("accessors", [])
        uses = [self.doc["meshes"][one["mesh"]] for one in self.doc.get("nodes", []) if "mesh" in one]
        total = sum(
            accessors[p["indices"] if "indices" in p else p["attributes"]["POSITION"]]["count"] // 3
            for mesh in uses
            for p in mesh["primitives"]
            if p.get("mode", 4) == 4
        )
        if total > MOST_DECODED:
            raise BadInput(
                f"{self.name} has {total / 1e6:.1f} million triangles.",
                f"Make it lighter where it was made: up to {MOST_DECODED / 1e6:g} million are read.",
            )

    def _mesh(self, node: int, mesh: dict[str, Any], skin: int | None) -> None:
        found = self.found
        for primitive in mesh["primitives"]:
            have = primitive["attributes"]
            mode = primitive.get("mode", 4)
            if mode not in (4, 5, 6):
                found.tell("Loose lines and points are left out.")
                continue
            points = np.asarray(self._array(have["POSITION"]), dtype=np.float64)
            count = len(points)
            if any(self.doc["accessors"][index]["count"] != count for index in have.values()):
                raise BadInput(
                    f"{self.name} has a surface whose points and normals are not as many.", "Export it again."
                )
            index = self._array(primitive["indices"]) if "indices" in primitive else np.arange(count)
            triangles = _triangles(np.asarray(index, dtype=np.int64), mode)
            if len(triangles) and (triangles.min() < 0 or triangles.max() >= count):
                raise BadInput(
                    f"{self.name} has triangles between points that are not there.", "Export it again."
                )
            if not len(triangles):
                continue
            material = self.doc["materials"][primitive["material"]] if "material" in primitive else {}
            look = material.get("pbrMetallicRoughness", {})
            hue = np.clip(
                np.array(look.get("baseColorFactor", [1.0, 1.0, 1.0, 1.0])[:3], dtype=np.float64), 0, 1
            )
            own = (
                np.clip(np.asarray(self._array(have["COLOR_0"]), dtype=np.float64)[:, :3], 0, 1)
                if "COLOR_0" in have
                else np.ones((count, 3))
            )
            uv, picture = self._base_picture(look.get("baseColorTexture"), have)
            normals = np.asarray(self._array(have["NORMAL"]), dtype=np.float64) if "NORMAL" in have else None
            joints = weights = None
            bound: Floats | None = None
            bound_normals: Floats | None = None
            if skin is not None and "JOINTS_0" in have and "WEIGHTS_0" in have:
                skin_ = self.doc["skins"][skin]
                to = self._binding(skin_)
                bound, bound_normals = placed(points, normals, to)
                points, normals, joints, weights = self._skinned(points, normals, skin_, have)
            else:
                to = found.rest[node]
                points, normals = placed(points, normals, to)
                if np.linalg.det(found.rest[node][:3, :3]) < 0:
                    triangles = triangles[:, ::-1]
            found.shapes.append(
                Shape(
                    node, points, normals, own * hue, triangles, uv, picture, bool(material.get("doubleSided")), joints, weights, bound, bound_normals,
                    self._morphs(mesh, primitive, to, count),
                )
            )  # fmt: skip

    def _binding(self, skin: dict[str, Any]) -> Floats:
        """(4, 4) from a skin's points to where they were when it was fixed; skins of one file may each have a frame of their own."""
        return np.asarray(self.found.bind[skin["joints"][0]] @ self._inverse(skin)[0])

    def _morphs(
        self, mesh: dict[str, Any], primitive: dict[str, Any], to: Floats, count: int
    ) -> dict[str, Floats]:
        """How the points of a surface change, by the names that most programs write beside it (3.7.2.2)."""
        out: dict[str, Floats] = {}
        names = (mesh.get("extras") or {}).get("targetNames", [])
        for i, target in enumerate(primitive.get("targets", [])):
            if "POSITION" not in target:
                continue
            moves = np.asarray(self._array(target["POSITION"]), dtype=np.float64)
            if moves.shape != (count, 3):
                raise BadInput(
                    f"{self.name} has a shape that changes with other points than its surface.",
                    "Export it again.",
                )
            name = str(names[i]) if i < len(names) else f"shape {i + 1}"
            out[name[:80]] = moves @ to[:3, :3].T
        return out

    def _skinned(
        self, points: Floats, normals: Floats | None, skin: dict[str, Any], have: dict[str, int]
    ) -> tuple[Floats, Floats | None, Ints, Floats]:
        """A skin's points where its nodes have them at rest; its own node does not count (3.7.3.3)."""
        local = np.asarray(self._array(have["JOINTS_0"]), dtype=np.int64)
        weights = np.asarray(self._array(have["WEIGHTS_0"]), dtype=np.float64)
        if local.shape != weights.shape or local.min() < 0 or local.max() >= len(skin["joints"]):
            raise BadInput(f"{self.name} has a skin fixed to joints that are not there.", "Export it again.")
        total = weights.sum(axis=1, keepdims=True)
        if (np.abs(total - 1) > 0.02).any():
            self.found.tell("Weights of its skin that do not add up are made to.")
        weights = np.where(total > 1e-9, weights / np.maximum(total, 1e-9), np.eye(weights.shape[1])[0])
        nodes = np.array(skin["joints"], dtype=np.int64)
        move = self.found.rest[nodes] @ self._inverse(skin)
        return *blended(points, normals, weights, move[local]), nodes[local], weights

    def _base_picture(self, texture: Any, have: dict[str, int]) -> tuple[Floats | None, int | None]:
        if texture is None:
            return None, None
        moved = texture.get("extensions", {}).get("KHR_texture_transform", {})
        which = moved.get("texCoord", texture.get("texCoord", 0))
        source = self.doc["textures"][texture["index"]].get("source")
        if source is None or f"TEXCOORD_{which}" not in have:
            self.found.tell("A picture in a form that cannot be read is left out.")
            return None, None
        picture = self._picture(int(source))
        if picture is None:
            return None, None
        uv = np.asarray(self._array(have[f"TEXCOORD_{which}"]), dtype=np.float64)
        sx, sy = moved.get("scale", [1.0, 1.0])
        angle = float(moved.get("rotation", 0.0))
        c, s = math.cos(angle), math.sin(angle)
        uv = (uv * [sx, sy]) @ np.array([[c, -s], [s, c]]) + moved.get("offset", [0.0, 0.0])
        return uv, picture

    def _picture(self, index: int) -> int | None:
        if index not in self._pictures:
            image = self.doc["images"][index]
            called = str(image.get("name") or image.get("uri") or f"picture {index + 1}")[:40]
            if called.startswith("data:"):
                called = f"picture {index + 1}"
            try:
                if "bufferView" in image:
                    view = self.doc["bufferViews"][image["bufferView"]]
                    start = int(view.get("byteOffset", 0))
                    content = self.buffers[view["buffer"]][start : start + int(view["byteLength"])]
                else:
                    content = bytes_of(image.get("uri"), self.name, self.along)
                kept, (wide, high) = kept_picture(content, called)
                self.found.pictures.append(kept)
                self._pictures[index] = len(self.found.pictures) - 1
                if max(wide, high) > 2048:
                    self.found.tell(f"{called} is kept at 2,048 pixels of {max(wide, high):,}.")
            except BadInput as error:
                self._pictures[index] = None
                self.found.tell(f"{error.reason} It is left out.")
        return self._pictures[index]

    def _eye(self, node: int, camera: dict[str, Any]) -> None:
        if camera.get("type") != "perspective":
            self.found.tell("A camera without perspective is left out.")
            return
        told = self.doc["nodes"][node].get("extras") or {}
        look = camera["perspective"]
        yfov, aspect = float(look["yfov"]), float(look.get("aspectRatio", 16 / 9))
        if not (0.001 < yfov < 3.13 and 0.05 < aspect < 20):
            self.found.tell(
                f"{self.found.names[node]} has a field of view that no lens has, and is left out."
            )
            return
        self.found.eyes.append(
            Eye(
                self.found.names[node],
                node,
                lambda rate: gltf_camera(self.found, node, yfov, aspect, told, rate),
            )
        )


def _local(node: dict[str, Any]) -> Floats:
    if "matrix" in node:
        rows: Floats = np.array(node["matrix"], dtype=np.float64).reshape(4, 4).T
        return rows
    given = (("translation", [0, 0, 0]), ("rotation", [0, 0, 0, 1]), ("scale", [1, 1, 1]))
    return np.asarray(trs(*(np.array([node.get(name, usual)], dtype=np.float64) for name, usual in given))[0])


def _triangles(index: Ints, mode: int) -> Ints:
    if mode == 4:
        return index[: len(index) // 3 * 3].reshape(-1, 3)
    n = len(index) - 2
    if n < 1:
        return np.zeros((0, 3), dtype=np.int64)
    if mode == 6:
        return np.stack([np.full(n, index[0]), index[1:-1], index[2:]], axis=1)
    strip: Ints = np.stack([index[:-2], index[1:-1], index[2:]], axis=1)
    strip[1::2] = strip[1::2, ::-1]
    return strip
