"""Wavefront OBJ with its materials, as trimesh reads it: one part for each object or group."""

import io
import logging
import posixpath
from typing import Any

import numpy as np
import trimesh
from PIL import Image

from heron.errors import BadInput
from heron.formats.bringing.found import Along, Found, Shape
from heron.formats.bringing.limits import MOST_DECODED
from heron.formats.bringing.pictures import kept_picture
from heron.stage.colour import linear

logging.getLogger("trimesh").setLevel(logging.CRITICAL)


class _Beside(trimesh.resolvers.Resolver):  # type: ignore[misc]
    """Gives a file what it names where that was brought along, and nothing else."""

    def __init__(self, along: Along) -> None:
        self.along, self.missing = along, list[str]()

    def get(self, name: str) -> bytes:
        """The file's content."""
        found = self.along(posixpath.basename(str(name).strip().replace("\\", "/")))
        if found is None:
            self.missing.append(str(name)[:60])
            raise FileNotFoundError(name)
        return found

    def write(self, name: str, data: bytes) -> None:
        """Nothing is written."""

    def namespaced(self, namespace: str) -> "_Beside":
        """The same: it has no folders."""
        return self

    def keys(self) -> list[str]:
        """None that it would list."""
        return []


def read_obj(content: bytes, name: str, along: Along) -> Found:
    """An OBJ file. It says neither a unit nor which axis is up.

    Raises:
        BadInput: it is no OBJ, has no surfaces, or too many.
    """
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = content.decode("latin-1")
    if "\0" in text[:4096] or not any(line.startswith("v ") for line in text.splitlines()[:100_000]):
        raise BadInput(f"{name} is not an OBJ file.", "Give a Wavefront OBJ.")
    if text.count("\nf ") > MOST_DECODED:
        raise BadInput(
            f"{name} has {text.count(chr(10) + 'f ') / 1e6:.1f} million faces.",
            "Make it lighter where it was made.",
        )
    beside = _Beside(along)
    try:
        loaded = trimesh.load_scene(
            io.StringIO(text),
            file_type="obj",
            resolver=beside,
            split_object=True,
            process=False,
            maintain_order=True,
        )
        found = _found(loaded, name)
    except BadInput:
        raise
    except Exception as error:  # the reader raises whatever its line led to
        raise BadInput(
            f"{name} is a damaged OBJ file ({type(error).__name__}).", "Export it again."
        ) from None
    for one in dict.fromkeys(beside.missing):
        found.tell(f"{one} was not brought along: its colours are left out.")
    return found


def _found(loaded: Any, name: str) -> Found:
    found = Found(rest=np.zeros((0, 4, 4)))
    for called, mesh in loaded.geometry.items():
        faces = getattr(mesh, "faces", None)
        if faces is None or not len(faces):
            continue
        points = np.asarray(mesh.vertices, dtype=np.float64)
        if not np.isfinite(points).all():
            raise BadInput(f"{name} has coordinates that aren't numbers.", "Export it again.")
        node = len(found.names)
        found.names.append(str(called)[:80] or f"Part {node + 1}")
        found.parents.append(-1)
        hue, uv, picture = _look(mesh, found)
        normals = np.asarray(mesh.vertex_normals) if "vertex_normals" in mesh._cache.cache else None
        found.shapes.append(
            Shape(
                node,
                points,
                normals,
                np.tile(hue, (len(points), 1)),
                np.asarray(faces, dtype=np.int64),
                uv,
                picture,
            )
        )
    if not found.shapes:
        raise BadInput(f"{name} has no surfaces.", "Give a file with faces.")
    found.rest = np.tile(np.eye(4), (len(found.names), 1, 1))
    return found


def _look(mesh: Any, found: Found) -> tuple[Any, Any, int | None]:
    """Its colour in linear light, and its picture with places on it."""
    material = getattr(mesh.visual, "material", None)
    diffuse = getattr(material, "diffuse", None)
    hue = linear(np.asarray(diffuse[:3], dtype=np.float64) / 255) if diffuse is not None else np.full(3, 0.6)
    image, uv = getattr(material, "image", None), getattr(mesh.visual, "uv", None)
    if image is None or uv is None:
        return hue, None, None
    out = io.BytesIO()
    image.convert("RGBA" if "A" in image.getbands() else "RGB").save(out, "PNG")
    try:
        kept, _ = kept_picture(out.getvalue(), "A picture")
    except (BadInput, Image.DecompressionBombError):
        found.tell("A picture that cannot be read is left out.")
        return hue, None, None
    if kept not in found.pictures:
        found.pictures.append(kept)
    # Its places on a picture count from the lower left corner.
    flipped = np.asarray(uv, dtype=np.float64) * [1.0, -1.0] + [0.0, 1.0]
    return np.ones(3), flipped, found.pictures.index(kept)
