"""A glTF 2.0 binary, put together piece by piece (Khronos glTF 2.0 specification)."""

import json
import re
import struct
from collections.abc import Iterable, Sequence
from typing import Any

import numpy as np
import pydantic_core
import pygltflib as g

from heron.stage.characters import CharacterFile
from heron.stage.colour import linear
from heron.stage.face.rig import called, half, numbered
from heron.stage.models.part import Surface
from heron.stage.shapes.mesh import Mesh

Array = np.ndarray[Any, Any]
_TYPES = {1: "SCALAR", 2: "VEC2", 3: "VEC3", 4: "VEC4", 16: "MAT4"}
_COMPONENTS = {
    "float32": g.FLOAT,
    "uint8": g.UNSIGNED_BYTE,
    "uint16": g.UNSIGNED_SHORT,
    "uint32": g.UNSIGNED_INT,
}


class Glb:
    """Collects nodes, meshes and animation, then writes one binary."""

    def __init__(self, title: str) -> None:
        self.doc = g.GLTF2(asset=g.Asset(version="2.0", generator="Mellow Heron"))
        self.doc.scenes = [g.Scene(name=title, nodes=[])]
        self.doc.scene = 0
        self.doc.materials = [
            g.Material(
                name="painted", doubleSided=False,
                pbrMetallicRoughness=g.PbrMetallicRoughness(metallicFactor=0.0, roughnessFactor=0.9),
            )
        ]  # fmt: skip
        #: Which rows of what moves are written.
        self.rows = slice(None)
        #: What its animation is called.
        self.clip = "stage"
        self._blob = bytearray()
        self._channels: list[g.AnimationChannel] = []
        self._samplers: list[g.AnimationSampler] = []
        self._times: int | None = None
        self._long: dict[str, str] = {}
        self._looks: dict[bytes | None, int] = {}

    def accessor(self, values: Array, target: int | None = None, bounds: bool = False) -> int:
        """Store an array, (n,) or (n, k) of float32 or an unsigned type; its accessor's index."""
        data = np.ascontiguousarray(values)
        while len(self._blob) % 4:
            self._blob.append(0)
        self.doc.bufferViews.append(
            g.BufferView(buffer=0, byteOffset=len(self._blob), byteLength=data.nbytes, target=target)
        )
        self._blob += data.tobytes()
        width = 1 if data.ndim == 1 else data.shape[1]
        flat = data.reshape(len(data), -1)
        self.doc.accessors.append(
            g.Accessor(
                bufferView=len(self.doc.bufferViews) - 1, componentType=_COMPONENTS[data.dtype.name],
                count=len(data), type=_TYPES[width],
                min=[v.item() for v in flat.min(0)] if bounds else None,
                max=[v.item() for v in flat.max(0)] if bounds else None,
            )
        )  # fmt: skip
        return len(self.doc.accessors) - 1

    def shares(self, values: Array) -> int:
        """Store colours, (n, 4) of 0 to 1, in 16 bits each; its accessor's index."""
        index = self.accessor(np.rint(np.clip(values, 0, 1) * 65_535).astype(np.uint16), g.ARRAY_BUFFER)
        self.doc.accessors[index].normalized = True
        return index

    def base_material(self, picture: bytes | None) -> int:
        """A material whose base colour is a picture, PNG or JPEG, or white; its index. The same picture is stored once."""
        if picture in self._looks:
            return self._looks[picture]
        look = g.PbrMetallicRoughness(metallicFactor=0.0, roughnessFactor=0.9)
        if picture is not None:
            while len(self._blob) % 4:
                self._blob.append(0)
            self.doc.bufferViews.append(
                g.BufferView(buffer=0, byteOffset=len(self._blob), byteLength=len(picture))
            )
            self._blob += picture
            kind = "image/png" if picture[:4] == b"\x89PNG" else "image/jpeg"
            self.doc.images.append(g.Image(bufferView=len(self.doc.bufferViews) - 1, mimeType=kind))
            self.doc.textures.append(g.Texture(source=len(self.doc.images) - 1))
            look.baseColorTexture = g.TextureInfo(index=len(self.doc.textures) - 1)
        self.doc.materials.append(g.Material(doubleSided=False, pbrMetallicRoughness=look))
        self._looks[picture] = len(self.doc.materials) - 1
        return self._looks[picture]

    def surface(self, one: Surface, material: int) -> g.Primitive:
        """Store a surface of what was brought in."""
        attributes = g.Attributes(
            POSITION=self.accessor(one.points.astype(np.float32), g.ARRAY_BUFFER, bounds=True),
            NORMAL=self.accessor(one.normals.astype(np.float32), g.ARRAY_BUFFER),
            COLOR_0=self.shares(np.concatenate([one.colours, np.ones((len(one.colours), 1))], axis=1)),
        )
        if one.uv is not None:
            attributes.TEXCOORD_0 = self.accessor(one.uv.astype(np.float32), g.ARRAY_BUFFER)
        small = np.uint16 if len(one.points) < 65_535 else np.uint32
        index = self.accessor(one.triangles.reshape(-1).astype(small), g.ELEMENT_ARRAY_BUFFER)
        return g.Primitive(attributes=attributes, indices=index, material=material)

    def _pictured(self, one: Surface, pictures: Sequence[bytes]) -> g.Primitive:
        """Store a surface with its picture, if it has one."""
        picture = None if one.picture is None else pictures[one.picture]
        return self.surface(one, self.base_material(picture))

    def model(self, surfaces: Iterable[Surface], pictures: Sequence[bytes], name: str) -> int:
        """Store surfaces of what was brought in, with their pictures; their mesh's index."""
        primitives = [self._pictured(one, pictures) for one in surfaces]
        self.doc.meshes.append(g.Mesh(name=name, primitives=primitives))
        return len(self.doc.meshes) - 1

    def skins_of(self, character: CharacterFile, name: str) -> int:
        """Store the skins of a character; their mesh's index."""
        primitives = []
        face = character.face
        for one in character.skins:
            made = self._pictured(one.surface, character.pictures)
            made.attributes.JOINTS_0 = self.accessor(one.joints.astype(np.uint8), g.ARRAY_BUFFER)
            made.attributes.WEIGHTS_0 = self.accessor(one.weights.astype(np.float32), g.ARRAY_BUFFER)
            made.targets = [self.morph(one.morphs.get(part), len(one.joints)) for part in face] or None
            primitives.append(made)
        mesh = g.Mesh(name=name, primitives=primitives)
        if face:
            # Names beside the mesh are what most programs write and read.
            told = [[*numbered(part), left] for part, left in map(half, face)]
            mesh.extras, mesh.weights = (
                {"targetNames": [called(part) for part in face], "parts": list(face), "face": told},
                [0.0] * len(face),
            )
        self.doc.meshes.append(mesh)
        return len(self.doc.meshes) - 1

    def morph(self, moves: Array | None, count: int) -> dict[str, int]:
        """Store how (count, 3) points move; only those that do."""
        rows = np.flatnonzero(np.abs(moves).max(axis=1) > 0) if moves is not None else np.zeros(0, np.int64)
        some = np.zeros((0, 3)) if moves is None else moves[rows]
        ends = np.zeros((1, 3)) if len(rows) < count else some[:1]
        each = np.concatenate([some, ends]).astype(np.float32)
        accessor = g.Accessor(
            componentType=g.FLOAT, count=count, type="VEC3", byteOffset=None,
            min=[v.item() for v in each.min(0)], max=[v.item() for v in each.max(0)],
        )  # fmt: skip
        if len(rows):
            index, value = self.accessor(rows.astype(np.uint32)), self.accessor(some.astype(np.float32))
            views = [self.doc.accessors.pop().bufferView for _ in (value, index)]
            accessor.sparse = g.Sparse(
                count=len(rows), values=g.AccessorSparseValues(bufferView=views[0]),
                indices=g.AccessorSparseIndices(bufferView=views[1], componentType=g.UNSIGNED_INT),
            )  # fmt: skip
        self.doc.accessors.append(accessor)
        return {"POSITION": len(self.doc.accessors) - 1}

    def mesh(self, mesh: Mesh, name: str, *, tint: Array | None = None, skinned: bool = False) -> int:
        """Store a mesh, its colours multiplied by `tint` (sRGB); its index."""
        colours = mesh.colours if tint is None else mesh.colours * tint
        attributes = g.Attributes(
            POSITION=self.accessor(mesh.points.astype(np.float32), g.ARRAY_BUFFER, bounds=True),
            NORMAL=self.accessor(mesh.normals.astype(np.float32), g.ARRAY_BUFFER),
            COLOR_0=self.accessor(linear(colours).astype(np.float32), g.ARRAY_BUFFER),
        )
        if skinned:
            joints = np.zeros((len(mesh.points), 4), dtype=np.uint8)
            joints[:, 0] = mesh.joints
            weights = np.zeros((len(mesh.points), 4), dtype=np.float32)
            if mesh.others is not None and mesh.shares is not None:
                # The standard asks that a joint without weight is the first one.
                joints[:, 1:3] = np.where(mesh.shares > 0, mesh.others, 0)
                weights[:, 1:3] = mesh.shares
            weights[:, 0] = 1.0 - weights[:, 1:3].sum(axis=1)
            joints[:, 0] = np.where(weights[:, 0] > 0, joints[:, 0], 0)
            attributes.JOINTS_0 = self.accessor(joints, g.ARRAY_BUFFER)
            attributes.WEIGHTS_0 = self.accessor(weights, g.ARRAY_BUFFER)
        small = np.uint16 if len(mesh.points) < 65_535 else np.uint32
        indices = self.accessor(mesh.triangles.reshape(-1).astype(small), g.ELEMENT_ARRAY_BUFFER)
        self.doc.meshes.append(
            g.Mesh(name=name, primitives=[g.Primitive(attributes=attributes, indices=indices, material=0)])
        )
        return len(self.doc.meshes) - 1

    def picture_mesh(self, name: str, node: int, wide: float, high: float, picture: bytes) -> None:
        """Give a node an upright picture in metres, facing +Z, its lower middle at the node's origin."""
        x = wide / 2
        points = np.array([(-x, 0, 0), (x, 0, 0), (x, high, 0), (-x, high, 0)], dtype=np.float32)
        attributes = g.Attributes(
            POSITION=self.accessor(points, g.ARRAY_BUFFER, bounds=True),
            NORMAL=self.accessor(np.tile(np.array([0, 0, 1], dtype=np.float32), (4, 1)), g.ARRAY_BUFFER),
            TEXCOORD_0=self.accessor(
                np.array([(0, 1), (1, 1), (1, 0), (0, 0)], dtype=np.float32), g.ARRAY_BUFFER
            ),
        )
        indices = self.accessor(np.array([0, 1, 2, 0, 2, 3], dtype=np.uint16), g.ELEMENT_ARRAY_BUFFER)
        material = self.base_material(picture)
        self.doc.meshes.append(
            g.Mesh(
                name=name, primitives=[g.Primitive(attributes=attributes, indices=indices, material=material)]
            )
        )
        self.doc.nodes[node].mesh = len(self.doc.meshes) - 1

    def node(self, name: str, *, parent: int | None = None, **what: Any) -> int:
        """Add a node under a parent, or at the top; its index."""
        self.doc.nodes.append(g.Node(name=name, **what))
        index = len(self.doc.nodes) - 1
        if parent is None:
            self.doc.scenes[0].nodes.append(index)
        else:
            above = self.doc.nodes[parent]
            above.children = [*(above.children or []), index]
        return index

    def skin(self, joints: list[int], rest: Array) -> int:
        """A skin whose joints rest, unturned, at (J, 3) places; its index."""
        inverse = np.tile(np.eye(4), (len(joints), 1, 1))
        inverse[:, :3, 3] = -rest
        return self.bound(joints, inverse)

    def bound(self, joints: list[int], inverse: Array) -> int:
        """A skin whose points (J, 4, 4) take to each joint; its index."""
        inverse = inverse.transpose(0, 2, 1).astype(np.float32)
        self.doc.skins.append(
            g.Skin(
                inverseBindMatrices=self.accessor(inverse.reshape(-1, 16)), joints=joints, skeleton=joints[0]
            )
        )
        return len(self.doc.skins) - 1

    def animate(self, node: int, path: str, seconds: Array, values: Array) -> None:
        """Give a node's translation, rotation or (n, m) weights over time; its first value also stands in the node."""
        values, seconds = values[self.rows], seconds[self.rows] - seconds[self.rows][0]
        if path == "rotation":
            values = continuous(values)
        first = [float(v) for v in values[0]]
        setattr(self.doc.nodes[node], path, first)
        if len(values) < 2 or np.all(np.abs(values - values[0]) < 1e-9):
            return
        if self._times is None:
            self._times = self.accessor(seconds.astype(np.float32), bounds=True)
        self._samplers.append(
            g.AnimationSampler(
                input=self._times,
                interpolation="LINEAR",
                output=self.accessor(
                    (values.reshape(-1) if path == "weights" else values).astype(np.float32)
                ),
            )
        )
        target = g.AnimationChannelTarget(node=node, path=path)
        self._channels.append(g.AnimationChannel(sampler=len(self._samplers) - 1, target=target))

    def later(self, values: list[Any] | None) -> Any:
        """A long list for the extras: a token that stands for it until the text is written. Infinity is null.

        The library copies all it is given, number by number, and leaves out what is null.
        """
        # No name in a scene can begin so.
        token = f"\u0001list {len(self._long)}"
        self._long[json.dumps(token)] = pydantic_core.to_json(values, inf_nan_mode="null").decode()
        return token

    def write(self) -> bytes:
        """The finished binary."""
        if self._channels:
            self.doc.animations = [
                g.Animation(name=self.clip, channels=self._channels, samplers=self._samplers)
            ]
        self.doc.buffers = [g.Buffer(byteLength=len(self._blob))] if self._blob else []
        text = self.doc.gltf_to_json(separators=(",", ":"), indent=None)
        text = re.sub(r'"\\u0001list \d+"', lambda found: self._long[found[0]], text)
        chunks = [(b"JSON", _padded(text.encode(), b" "))]
        if self._blob:
            chunks.append((b"BIN\0", _padded(bytes(self._blob), b"\0")))
        body = b"".join(struct.pack("<I", len(c)) + kind + c for kind, c in chunks)
        return struct.pack("<4sII", b"glTF", 2, 12 + len(body)) + body


def _padded(content: bytes, by: bytes) -> bytes:
    return content + by * (-len(content) % 4)


def continuous(quaternions: Array) -> Array:
    """(n, 4) with signs chosen so that neighbours are near, as linear interpolation needs."""
    dots = np.sum(quaternions[1:] * quaternions[:-1], axis=-1)
    return np.asarray(quaternions * np.cumprod(np.r_[1.0, np.where(dots < 0, -1.0, 1.0)])[:, None])
