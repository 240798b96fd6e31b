"""The base of every model in the document, and the value types they share."""

import hashlib
import json
import math
import uuid
from typing import Annotated, Any, TypeVar

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, StringConstraints

M = TypeVar("M", bound=BaseModel)
#: Farther than this from the origin a float32 picture loses millimetres.
STAGE_LIMIT_M = 10_000.0


class Model(BaseModel):
    """Immutable, closed, and without NaN or infinity anywhere."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False, validate_default=True)


def _one_line(text: str) -> str:
    if any(ord(c) < 32 for c in text):
        raise ValueError("must be one line of plain text")
    return text


Name = Annotated[
    str, StringConstraints(strip_whitespace=True, min_length=1, max_length=80), AfterValidator(_one_line)
]
Label = Annotated[str, StringConstraints(strip_whitespace=True, max_length=80), AfterValidator(_one_line)]
Id = Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9_-]{1,40}$")]
Colour = Annotated[str, StringConstraints(pattern=r"^#[0-9a-f]{6}$")]
Metres = Annotated[float, Field(ge=-STAGE_LIMIT_M, le=STAGE_LIMIT_M)]
Size = Annotated[float, Field(gt=0.0, le=STAGE_LIMIT_M)]
Degrees = Annotated[float, Field(ge=-36_000.0, le=36_000.0)]


def new_id(prefix: str) -> str:
    """A fresh id such as `cam-3f9a0c1b22d4`."""
    return f"{prefix}-{uuid.uuid4().hex[:12]}"


def fingerprint(*parts: Any) -> str:
    """The hash of some content: the same content gives the same 24 hex digits everywhere."""
    plain = [p.model_dump(mode="json") if isinstance(p, BaseModel) else p for p in parts]
    text = json.dumps(plain, sort_keys=True, separators=(",", ":"), default=_plain)
    return hashlib.sha256(text.encode()).hexdigest()[:24]


def _plain(value: Any) -> Any:
    if isinstance(value, BaseModel):
        return value.model_dump(mode="json")
    raise TypeError(f"{type(value).__name__} has no fingerprint")


def wrap_degrees(angle: float) -> float:
    """The same direction within −180 (excluded) to 180."""
    wrapped = math.remainder(angle, 360.0)
    return 180.0 if wrapped == -180.0 else wrapped


def changed(model: M, **update: Any) -> M:
    """The model with some fields replaced and every rule checked again."""
    content = {name: getattr(model, name) for name in type(model).model_fields}
    return type(model).model_validate({**content, **update})
