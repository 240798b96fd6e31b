"""A set or a prop as it is kept: the file's content, its key, and what a command names of it."""

import hashlib
from dataclasses import dataclass

from heron.commands.bringing import PartIn
from heron.formats.bringing.found import Found, Unit, Up
from heron.formats.bringing.model_file import Tell, prepared, write_model
from heron.formats.bringing.recognise import unit_needed
from heron.stage.models.part import ModelFile

_LONGEST = 80


@dataclass(frozen=True)
class KeptModel:
    """What is kept of a file.

    Attributes:
        key: SHA-256 of the content, by which it is found.
        content: a `.glb` as `model_file` writes it.
        parts: as commands name them.
        height_m: how high the whole is.
    """

    key: str
    content: bytes
    parts: tuple[PartIn, ...]
    height_m: float


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
    return KeptModel(hashlib.sha256(content).hexdigest(), content, parts_of(model), measure.height_m)


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
