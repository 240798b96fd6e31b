"""A part of a model that was brought in: surfaces within a box of its own."""

from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np

from heron.stage.models.accessors import open_glb, values

Floats = np.ndarray[Any, np.dtype[np.float64]]
Ints = np.ndarray[Any, np.dtype[np.int64]]


@dataclass(frozen=True, eq=False)
class Surface:
    """Triangles with one picture or none.

    Attributes:
        points, normals: (v, 3) float64.
        colours: (v, 3) float64, linear light, 0 to 1.
        triangles: (t, 3) int64, counter-clockwise from outside.
        uv: (v, 2) float64, places on the picture as glTF has them, from its upper left corner; None without one.
        picture: which of the file's pictures, or None.
    """

    points: Floats
    normals: Floats
    colours: Floats
    triangles: Ints
    uv: Floats | None = None
    picture: int | None = None


@dataclass(frozen=True, eq=False)
class Part:
    """What can be moved by itself.

    Attributes:
        path: its names in the tree of its file, from the top.
        at: (3,) metres: the middle of its foot, in the file's own frame.
        size: (3,) metres: how wide, high and deep it is.
        surfaces: in shares of its size: between −½ and ½ across and along, 0 and 1 in height.
    """

    path: tuple[str, ...]
    at: Floats
    size: Floats
    surfaces: tuple[Surface, ...]

    @property
    def name(self) -> str:
        """Its own name."""
        return self.path[-1]

    @property
    def count(self) -> int:
        """How many triangles it has."""
        return sum(len(one.triangles) for one in self.surfaces)

    @cached_property
    def corners(self) -> Floats:
        """(t, 3, 3) of all its triangles, in shares of its size."""
        return np.concatenate([one.points[one.triangles] for one in self.surfaces])

    @cached_property
    def light(self) -> Floats:
        """(3,) its mean colour by area, linear light."""
        sides = [one.points[one.triangles] for one in self.surfaces]
        areas = [np.linalg.norm(np.cross(c[:, 1] - c[:, 0], c[:, 2] - c[:, 0]), axis=1) for c in sides]
        hues = [one.colours[one.triangles].mean(axis=1) for one in self.surfaces]
        total = max(sum(float(a.sum()) for a in areas), 1e-12)
        return np.asarray(sum((a @ h for a, h in zip(areas, hues, strict=True)), np.zeros(3)) / total)


@dataclass(frozen=True, eq=False)
class ModelFile:
    """A file of parts, as it is kept here: metres, Y up."""

    parts: tuple[Part, ...]
    pictures: tuple[bytes, ...] = ()


def read_model(content: bytes) -> ModelFile:
    """A model as `heron.formats.model_file` writes it.

    Raises:
        BadInput: it is damaged.
    """
    doc, blob = open_glb(content, "The file of a model")
    parts = []
    for node in doc.get("nodes", []):
        surfaces = [surface_in(doc, blob, one) for one in doc["meshes"][node["mesh"]]["primitives"]]
        parts.append(
            Part(tuple(node["extras"]["path"]), np.array(node["translation"], dtype=np.float64), np.array(node["scale"], dtype=np.float64), tuple(surfaces))
        )  # fmt: skip
    return ModelFile(tuple(parts), pictures_in(doc, blob))


def surface_in(doc: dict[str, Any], blob: bytes, primitive: dict[str, Any]) -> Surface:
    """A surface of a file as it is kept here."""
    have = primitive["attributes"]
    read = {k: values(doc, [blob], have[k]) for k in ("POSITION", "NORMAL", "COLOR_0")}
    texture = doc["materials"][primitive["material"]]["pbrMetallicRoughness"].get("baseColorTexture")
    return Surface(
        read["POSITION"], read["NORMAL"], read["COLOR_0"][:, :3],
        values(doc, [blob], primitive["indices"]).reshape(-1, 3).astype(np.int64),
        None if texture is None else values(doc, [blob], have["TEXCOORD_0"]),
        None if texture is None else int(doc["textures"][texture["index"]]["source"]),
    )  # fmt: skip


def pictures_in(doc: dict[str, Any], blob: bytes) -> tuple[bytes, ...]:
    """The pictures of a file as it is kept here."""
    views = [doc["bufferViews"][one["bufferView"]] for one in doc.get("images", [])]
    return tuple(blob[view["byteOffset"] :][: view["byteLength"]] for view in views)
