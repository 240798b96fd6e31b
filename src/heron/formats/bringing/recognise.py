"""What a file from elsewhere is, by what stands in it, and what there is to say of it before it is brought in."""

from dataclasses import dataclass
from pathlib import PurePath
from typing import Any, Literal, get_args

import numpy as np

from heron.errors import BadInput
from heron.formats.bringing.bvh_in import Skeleton, read_bvh
from heron.formats.bringing.found import METRES, Along, Found, Unit, Up, turned_up
from heron.formats.bringing.gltf_in import read_gltf
from heron.formats.bringing.limits import MOST_BYTES, MOVIES
from heron.formats.bringing.mapping import joint_names
from heron.formats.bringing.picture_in import read_picture
from heron.formats.bringing.retarget import standing

Kind = Literal["set", "prop", "character", "motion", "picture", "movie", "sound", "edit", "lines", "cameras"]
Form = Literal["gltf", "usd", "obj", "bvh", "picture", "movie", "sound", "edit", "lines"]
#: What is at least so long is a set, metres; ours.
_SET_M = 3.0
#: Nothing on a stage is higher, or larger, or as small: then its unit is asked for, metres. Ours.
_HIGHEST_M, _LARGEST_M, _SMALLEST_M = 60.0, 3000.0, 0.02
#: How high things are in the unit that is likely, metres.
_LIKELY_M = (0.4, 12.0)
_ENDINGS: dict[str, Form] = {
    ".glb": "gltf", ".gltf": "gltf", ".usd": "usd", ".usda": "usd", ".usdc": "usd", ".usdz": "usd", ".obj": "obj", ".bvh": "bvh",
    ".png": "picture", ".jpg": "picture", ".jpeg": "picture", ".webp": "picture", ".wav": "sound", ".flac": "sound", ".ogg": "sound",
    ".mp3": "sound", **dict.fromkeys(MOVIES, "movie"), ".otio": "edit", ".edl": "edit", ".vtt": "lines", ".srt": "lines", ".fountain": "lines",
}  # fmt: skip
#: How some files begin, whatever they are called.
_BEGIN: tuple[tuple[bytes, Form], ...] = (
    (b"glTF", "gltf"), (b"PXR-USDC", "usd"), (b"#usda", "usd"), (b"HIERARCHY", "bvh"), (b"\x89PNG", "picture"), (b"\xff\xd8\xff", "picture"),
    (b"fLaC", "sound"), (b"OggS", "sound"), (b"ID3", "sound"), (b"WEBVTT", "lines"),
)  # fmt: skip
MODELS: tuple[Form, ...] = ("gltf", "usd", "obj")


def form_of(content: bytes, name: str) -> Form:
    """What kind of file it is, by how it begins, else by its ending.

    Raises:
        BadInput: it is empty, too large, or none that can be brought in.
    """
    if not content:
        raise BadInput(f"{name} is empty.", "Copy it again.")
    if len(content) > MOST_BYTES:
        raise BadInput(
            f"{name} is {len(content) / 2**20:,.0f} MB.",
            f"Up to {MOST_BYTES // 2**20} MB are read: make it lighter.",
        )
    begins = content[:64].lstrip(b"\xef\xbb\xbf \t\r\n")
    for start, form in _BEGIN:
        if begins.startswith(start):
            return form
    if content[:4] == b"RIFF":
        return "picture" if content[8:12] == b"WEBP" else "sound"
    if content[4:8] == b"ftyp":
        return "movie"
    ending = PurePath(name.lower()).suffix
    form_by_name = _ENDINGS.get(ending)
    if form_by_name is None:
        known = "glTF, USD, OBJ, BVH, PNG, JPEG, WebP, MP4, WAV, FLAC, Ogg, MP3, OTIO, EDL, WebVTT, SubRip and Fountain"
        raise BadInput(f"{name} can't be brought in.", f"Give one of these: {known}.")
    return form_by_name


def read_found(content: bytes, name: str, along: Along) -> Found:
    """A set, a prop, a character, motion or cameras from a glTF, USD or OBJ file, or a picture as a panel.

    Raises:
        BadInput: it is none of these, or cannot be read.
    """
    form = form_of(content, name)
    if form == "gltf":
        return read_gltf(content, name, along)
    if form == "picture":
        return read_picture(content, name)
    # These libraries take seconds to load, and most files need neither.
    if form == "usd":
        from heron.formats.bringing.usd_in import read_usd

        return read_usd(content, name, along)
    if form == "obj":
        from heron.formats.bringing.obj_in import read_obj

        return read_obj(content, name, along)
    raise BadInput(
        f"{name} holds no scene.", "Give a .glb, .gltf, .usd, .usda, .usdc, .usdz or .obj file, or a picture."
    )


@dataclass(frozen=True)
class Measure:
    """How large a file's content is.

    Attributes:
        unit: the one it says, or the likely one; told: whether it says one that can be right.
        metres: of that unit; height_m, size_m: how high it is and how wide, high and deep, then.
        hints: what there is to look at before it is brought in.
    """

    unit: Unit
    told: bool
    metres: float
    height_m: float
    size_m: tuple[float, float, float]
    hints: tuple[str, ...]


def measured(found: Found, unit: Unit | None = None, up: Up | None = None) -> Measure:
    """How large it is in a unit that was chosen, else in the file's own, else in the likely one."""
    axis = up or found.up or "y"
    low, high = found.box(axis)
    size = high - low
    hints = []
    told = found.metres is not None
    metres = found.metres if found.metres is not None else 1.0
    if unit is not None:
        metres, told = METRES[unit], True
    elif not told or not _can_be(size * metres):
        told = False
        likely = _likely(size)
        if found.metres is not None:
            hints.append(f"It says that it is {size[1] * metres:,.3g} m high: its unit is in doubt.")
        metres = METRES[likely]
    if up is None and found.up is None and _lies(found):
        hints.append("Most of its flat surfaces face along Z: choose Z up if it lies on its back.")
    nearest: Unit = min(get_args(Unit), key=lambda one: abs(np.log(METRES[one] / metres)))
    scaled = size * metres
    return Measure(
        nearest,
        told,
        metres,
        float(scaled[1]),
        (float(scaled[0]), float(scaled[1]), float(scaled[2])),
        tuple(hints),
    )


def unit_needed(found: Found, name: str, unit: Unit | None, up: Up | None) -> Measure:
    """The same, where the unit must be known.

    Raises:
        BadInput: it cannot be told, and the likely one is named; or there is nothing to measure.
    """
    if not found.shapes:
        raise BadInput(f"{name} has no surfaces.", "Give a file with meshes.")
    measure = measured(found, unit, up)
    if not measure.told:
        raise BadInput(
            f"The unit of {name} cannot be told{': ' + measure.hints[0][:1].lower() + measure.hints[0][1:-1] if measure.hints else ''}.",
            f"Say which it is: in {measure.unit} it is {measure.height_m:.2f} m high.", field="unit",
        )  # fmt: skip
    return measure


def kind_of(found: Found) -> Kind:
    """What a file is mostly of."""
    if found.flat:
        return "picture"
    if not found.shapes:
        return "cameras" if found.eyes and not found.bind else "motion" if found.clips else "cameras"
    if any(shape.joints is not None for shape in found.shapes):
        return "character"
    return rigid_kind(found)


def rigid_kind(found: Found) -> Literal["set", "prop"]:
    """What surfaces are that no skeleton moves."""
    return "set" if max(measured(found).size_m) >= _SET_M else "prop"


def inspected(content: bytes, name: str, along: Along) -> dict[str, Any]:
    """What `heron inspect` says of a file.

    Raises:
        BadInput: it cannot be brought in.
    """
    form = form_of(content, name)
    out: dict[str, Any] = {
        "kind": {"bvh": "motion"}.get(form, form), "unit": None, "up": None, "triangles": 0, "height_m": None, "clips": [], "joints": {}, "left_out": [], "hints": [],
    }  # fmt: skip
    if form == "bvh":
        skeleton = read_bvh(content, name)
        out.update(
            up=None,
            clips=[{"name": PurePath(name).stem, "frames": len(skeleton.places)}],
            left_out=list(skeleton.said),
        )
        out.update(_person(skeleton))
    if form not in MODELS:
        return out
    found = read_found(content, name, along)
    kind = kind_of(found)
    out.update(kind=kind, up=found.up or "y", triangles=found.triangles, left_out=found.said)
    out["clips"] = [{"name": one.name, "frames": len(one.seconds)} for one in found.clips]
    if found.bind:
        out["joints"] = _person(at_rest(found)).get("joints", {})
    if found.shapes:
        measure = measured(found)
        out.update(unit=measure.unit, height_m=measure.height_m, hints=list(measure.hints))
    else:
        out["unit"] = "m"
    return out


def at_rest(found: Found) -> Skeleton:
    """The skeleton of a file's skins as they were fixed to it."""
    nodes = sorted(found.bind)
    rest = np.array([found.bind[node] for node in nodes])
    return Skeleton(
        [found.names[node] for node in nodes], found.parents_among(nodes), {}, rest, rest[None], 1.0
    )


def _person(skeleton: Skeleton) -> dict[str, Any]:
    """Which of a skeleton's joints is which, its up axis and the unit that is likely; what is missing where it is no person's."""
    try:
        person, at_rest = standing(skeleton)
    except BadInput as error:
        return {"joints": {}, "hints": [str(error)]}
    pose = skeleton.rest if at_rest else skeleton.places[0]
    high = float(np.ptp(pose[:, :3, 3] @ person.axes[1]))
    # Joints end at the top of a neck or a head: a person is a little higher.
    unit = min(get_args(Unit), key=lambda one: abs(np.log(max(high, 1e-9) * METRES[one] / 1.6)))
    up = "xyz"[int(np.argmax(np.abs(person.axes[1])))]
    return {
        "joints": joint_names(person, skeleton.names),
        "unit": unit,
        "up": up if up != "x" else None,
        "height_m": high * METRES[unit],
    }


def _can_be(size: Any) -> bool:
    return bool(size[1] <= _HIGHEST_M and size.max() <= _LARGEST_M and size.max() >= _SMALLEST_M)


def _likely(size: Any) -> Unit:
    fitting = [
        one
        for one in get_args(Unit)
        if _LIKELY_M[0] <= size[1] * METRES[one] <= _LIKELY_M[1] and _can_be(size * METRES[one])
    ]
    if fitting:
        return fitting[0]  # type: ignore[no-any-return]
    possible = [one for one in get_args(Unit) if _can_be(size * METRES[one])]
    middle = float(np.sqrt(_LIKELY_M[0] * _LIKELY_M[1]))
    return min(
        possible or get_args(Unit), key=lambda one: abs(np.log(max(size[1], 1e-9) * METRES[one] / middle))
    )


def _lies(found: Found) -> bool:
    """Whether what is level by area faces along Z more than along Y."""
    total = np.zeros(3)
    for shape in found.shapes:
        c = turned_up(shape.points[shape.triangles], "y")
        normal = np.cross(c[:, 1] - c[:, 0], c[:, 2] - c[:, 0])
        size = np.linalg.norm(normal, axis=1)
        along = np.abs(normal) > 0.95 * np.maximum(size, 1e-30)[:, None]
        total += (size[:, None] * along).sum(axis=0)
    return bool(total[2] > 1.5 * total[1] and total[2] > 1.5 * total[0])
