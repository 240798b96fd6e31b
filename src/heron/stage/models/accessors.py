"""The arrays of a glTF 2.0 file (Khronos glTF 2.0 specification, 3.6 and 4.4)."""

import json
import struct
from collections.abc import Sequence
from typing import Any

import numpy as np

from heron.errors import BadInput

Array = np.ndarray[Any, Any]
#: No number in a file is larger.
LARGEST = 1e12
#: More values than this no array has.
MOST_VALUES = 50_000_000
#: More text than this is no description of a scene, bytes.
MOST_JSON = 16 * 2**20
_TYPES = {"SCALAR": 1, "VEC2": 2, "VEC3": 3, "VEC4": 4, "MAT2": 4, "MAT3": 9, "MAT4": 16}
_COMPONENTS: dict[int, tuple[str, float]] = {
    5120: ("i1", 127.0), 5121: ("u1", 255.0), 5122: ("<i2", 32767.0), 5123: ("<u2", 65535.0), 5125: ("<u4", 1.0), 5126: ("<f4", 1.0),
}  # fmt: skip
_AGAIN = "Export it again."


def open_glb(content: bytes, name: str = "The file") -> tuple[dict[str, Any], bytes]:
    """The description and the binary chunk of a `.glb`.

    Raises:
        BadInput: it is none, or is cut short.
    """
    if len(content) < 20 or content[:4] != b"glTF":
        raise BadInput(f"{name} is not a .glb file.", "Give a glTF 2.0 binary.")
    version, length = struct.unpack_from("<II", content, 4)
    if version != 2:
        raise BadInput(f"{name} is glTF version {version}.", "Write it as glTF 2.0.")
    if length > len(content):
        raise BadInput(
            f"{name} is cut short: {len(content):,} of {length:,} bytes are there.", "Copy it again."
        )
    text, binary, at = b"", b"", 12
    while at + 8 <= length:
        size, kind = struct.unpack_from("<I4s", content, at)
        if at + 8 + size > length:
            raise BadInput(f"{name} is damaged: one of its parts runs past its end.", "Copy it again.")
        chunk = content[at + 8 : at + 8 + size]
        if kind == b"JSON" and not text:
            text = chunk
        elif kind == b"BIN\0" and not binary:
            binary = chunk
        at += 8 + size
    return parse_gltf(text, name), binary


def parse_gltf(text: bytes, name: str = "The file") -> dict[str, Any]:
    """The description of a glTF file.

    Raises:
        BadInput: it is none of version 2.
    """
    if len(text) > MOST_JSON:
        raise BadInput(
            f"{name} describes its scene in {len(text) / 2**20:.0f} MB of text.",
            "Keep arrays in its buffers.",
        )
    try:
        doc = json.loads(text)
        version = str(doc["asset"]["version"])
    except (ValueError, KeyError, TypeError, RecursionError):
        raise BadInput(f"{name} has no description that can be read.", _AGAIN) from None
    if not version.startswith("2."):
        raise BadInput(f"{name} is glTF version {version:.10}.", "Write it as glTF 2.0.")
    return dict(doc)


def values(doc: dict[str, Any], buffers: Sequence[bytes], index: int, name: str = "The file") -> Array:
    """What an accessor holds: (n,) or (n, k); float64 where it is of floats or normalised, else int64.

    Raises:
        BadInput: it is not whole within its buffer, or holds what is no number.
    """
    try:
        accessor = doc["accessors"][_index(index)]
        width, (code, most) = _TYPES[accessor["type"]], _COMPONENTS[accessor["componentType"]]
        count = int(accessor["count"])
        if count > MOST_VALUES:
            raise IndexError(count)
        out = np.zeros((count, width), dtype=code)
        if "bufferView" in accessor:
            out[:] = _viewed(
                doc, buffers, accessor["bufferView"], int(accessor.get("byteOffset", 0)), code, count, width
            )
        if "sparse" in accessor:
            sparse = accessor["sparse"]
            which, to = sparse["indices"], sparse["values"]
            many, kind = int(sparse["count"]), _COMPONENTS[which["componentType"]][0]
            rows = _viewed(doc, buffers, which["bufferView"], int(which.get("byteOffset", 0)), kind, many, 1)[
                :, 0
            ]
            out[rows] = _viewed(
                doc, buffers, to["bufferView"], int(to.get("byteOffset", 0)), code, many, width
            )
    except (KeyError, IndexError, TypeError, ValueError, OverflowError, MemoryError):
        raise BadInput(f"{name} is damaged: array {index} does not lie within its buffer.", _AGAIN) from None
    if code == "<f4":
        found: Array = out.astype(np.float64)
        # What is no number is not less than anything either.
        if not (np.abs(found) < LARGEST).all():
            raise BadInput(f"{name} has coordinates that aren't numbers (array {index}).", _AGAIN)
    elif accessor.get("normalized"):
        found = np.maximum(out / most, -1.0)
    else:
        found = out.astype(np.int64)
    return found[:, 0] if width == 1 else found


def _index(index: Any) -> int:
    if not isinstance(index, int) or index < 0:
        raise IndexError(index)
    return index


def _viewed(
    doc: dict[str, Any], buffers: Sequence[bytes], view: Any, offset: int, code: str, count: int, width: int
) -> Array:
    there = doc["bufferViews"][_index(view)]
    buffer = buffers[_index(there["buffer"])]
    start, length = int(there.get("byteOffset", 0)), int(there["byteLength"])
    each = np.dtype(code).itemsize * width
    step = int(there.get("byteStride", each))
    if min(start, offset, count) < 0 or step < each or start + length > len(buffer):
        raise IndexError(view)
    if count and offset + step * (count - 1) + each > length:
        raise IndexError(view)
    raw = np.frombuffer(buffer, np.uint8, length - offset, start + offset)
    rows = np.lib.stride_tricks.as_strided(raw, (count, each), (step, 1))
    return np.ascontiguousarray(rows).view(code).reshape(count, width)
