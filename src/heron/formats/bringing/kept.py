"""A set or a prop as it is kept: the file's content, its key, and what a command names of it."""

import hashlib
from dataclasses import dataclass

from heron.commands.bringing import PartIn
from heron.errors import BadInput
from heron.formats.bringing.bvh_in import Skeleton
from heron.formats.bringing.character_file import write_character
from heron.formats.bringing.faces import face_said
from heron.formats.bringing.found import Found, Unit, Up
from heron.formats.bringing.mapping import joint_names
from heron.formats.bringing.model_file import Tell, prepared, write_model
from heron.formats.bringing.recognise import unit_needed
from heron.formats.bringing.retarget import carried_over, standing
from heron.formats.bringing.side_by_side import SideBySide, side_by_side
from heron.formats.bringing.skin import read_skin
from heron.stage.models.part import ModelFile
from heron.stage.motions import write_recording

_LONGEST = 80


@dataclass(frozen=True)
class KeptModel:
    """What is kept of a file.

    Attributes:
        key: SHA-256 of the content, by which it is found.
        content: a `.glb` as `model_file` writes it.
        parts: as commands name them.
        height_m, size_m: how high the whole is, and how wide, high and deep; triangles: how many it came with.
    """

    key: str
    content: bytes
    parts: tuple[PartIn, ...]
    height_m: float
    size_m: tuple[float, float, float]
    triangles: int


def keep_model(
    found: Found, name: str, unit: Unit | None = None, up: Up | None = None, lighter: bool = False, tell: Tell = lambda share: None
) -> KeptModel:  # fmt: skip
    """A file's surfaces as they are kept here.

    Raises:
        BadInput: its unit cannot be told, it has no surfaces, or too many triangles.
    """
    measure = unit_needed(found, name, unit, up)
    model = prepared(found, name, measure.metres, up or found.up or "y", lighter, tell)
    content = write_model(model)
    return KeptModel(
        hashlib.sha256(content).hexdigest(),
        content,
        parts_of(model),
        measure.height_m,
        measure.size_m,
        found.triangles,
    )


@dataclass(frozen=True)
class KeptCharacter:
    """What is kept of a character: its key and content, its joints as they are called in its file, all joints of that, its stature,
    and what is said of its face.
    """

    key: str
    content: bytes
    joints: dict[str, str]
    names: list[str]
    stature_m: float
    triangles: int
    face: str


def keep_character(
    found: Found,
    name: str,
    asked: dict[str, str] | None = None,
    unit: Unit | None = None,
    lighter: bool = False,
) -> KeptCharacter:
    """A skinned file as it is kept here.

    Raises:
        BadInput: it is not a person, its unit cannot be told, or it has too many triangles.
    """
    try:
        made = read_skin(found, asked, lighter)
    except BadInput as error:
        raise _of(name, error) from None
    metres = unit_needed(found, name, unit, None).metres
    content = write_character(made.character)
    key = hashlib.sha256(content).hexdigest()
    stature, face = round(made.tall * metres, 3), face_said(made.character.face)
    return KeptCharacter(key, content, made.joints, made.names, stature, found.triangles, face)


def _of(name: str, error: BadInput) -> BadInput:
    """What is said of a file's content, with the file's name."""
    reason = error.reason.replace("Its ", "The ", 1) if error.reason.startswith("Its ") else error.reason
    return BadInput(f"{name}: {reason[:1].lower()}{reason[1:]}", error.remedy, field=error.field)


@dataclass(frozen=True)
class KeptMotion:
    """What is kept of a recorded motion: its key and content, the joints as they are called in its file, what was noticed, and
    what there is to look at.
    """

    key: str
    content: bytes
    joints: dict[str, str]
    seconds: float
    said: tuple[str, ...]
    beside: SideBySide


def keep_motion(skeleton: Skeleton, name: str, asked: dict[str, str] | None = None) -> KeptMotion:
    """A motion as it is kept here.

    Raises:
        BadInput: its skeleton is no person's, or it has no motion.
    """
    try:
        person, at_rest = standing(skeleton, asked)
        recording, bones, said = carried_over(skeleton, person, at_rest)
    except BadInput as error:
        raise _of(name, error) from None
    content = write_recording(recording)
    return KeptMotion(
        hashlib.sha256(content).hexdigest(),
        content,
        joint_names(person, skeleton.names),
        recording.seconds,
        said,
        side_by_side(recording, skeleton.parents, bones),
    )


def parts_of(model: ModelFile) -> tuple[PartIn, ...]:
    """The parts of a kept file, each with a name of its own."""
    alone = [part.name for part in model.parts]
    out = []
    for i, part in enumerate(model.parts):
        name = part.name if alone.count(part.name) == 1 else " / ".join(part.path)
        x, base, z = (round(float(v), 6) for v in part.at)
        width, height, depth = (round(float(v), 6) for v in part.size)
        shown = (
            "".join(c if c.isprintable() else " " for c in name).strip()[-_LONGEST:].strip()
            or f"Part {i + 1}"
        )
        out.append(PartIn(part=i, name=shown, x=x, base=base, z=z, width=width, height=height, depth=depth))
    return tuple(out)
