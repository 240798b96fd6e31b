"""The base of every model in the document, and the value types they share."""

import hashlib
import math
import unicodedata
import uuid
from functools import cached_property
from typing import Annotated, Any, ClassVar, NoReturn, TypeVar

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, StringConstraints

M = TypeVar("M", bound=BaseModel)
#: Farther than this from the origin a float32 picture loses millimetres.
STAGE_LIMIT_M = 10_000.0


class Model(BaseModel):
    """Immutable, closed, and without NaN or infinity anywhere."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False, validate_default=True)
    #: Fields that nothing computed depends on: names, colours.
    NOT_HASHED: ClassVar[frozenset[str]] = frozenset()

    def model_copy(self, **_: Any) -> NoReturn:
        """Not for models of the document: it skips every rule. Use `changed`."""
        raise TypeError("model_copy skips the rules of a model; use heron.model.changed")

    @cached_property
    def plain(self) -> dict[str, Any]:
        """Its content as JSON holds it, made once, of parts made once: to be read, never changed."""
        return {name: _plain(getattr(self, name)) for name in type(self).model_fields}

    @cached_property
    def digest(self) -> str:
        """The fingerprint of all of its content that anything computed can depend on."""
        return self.digest_with()

    def digest_with(self, **instead: Any) -> str:
        """The fingerprint it would have with other values in some of its fields."""
        names = [n for n in type(self).model_fields if n not in self.NOT_HASHED]
        text = "\x1f".join(f"{n}={_digest(instead[n] if n in instead else getattr(self, n))}" for n in names)
        return hashlib.sha256(f"{type(self).__name__}\x1e{text}".encode()).hexdigest()[:24]


def _plain(value: Any) -> Any:
    if isinstance(value, Model):
        return value.plain
    if isinstance(value, tuple | list):
        return [_plain(one) for one in value]
    if isinstance(value, dict):
        return {key: _plain(one) for key, one in value.items()}
    return value


def _digest(value: Any) -> str:
    if isinstance(value, Model):
        return value.digest
    if isinstance(value, tuple | list):
        return f"({','.join(_digest(v) for v in value)})"
    return repr(value)


#: Joiners that some scripts need inside a word.
_JOINERS = "\u200c\u200d"
_BREAKS = "\t\n\v\f\r\x85\u2028\u2029"


def unseen(character: str) -> bool:
    """Whether a character shows nothing and may turn or break the line it stands in."""
    if character in _JOINERS:
        return False
    return unicodedata.category(character) in ("Cc", "Cf", "Cs", "Cn", "Zl", "Zp")


def _one_line(text: str) -> str:
    if text.isascii() and text.isprintable():
        return text
    if any(unseen(c) for c in text):
        raise ValueError("must be one line of plain text, without characters that cannot be seen")
    if text and not text.strip(_JOINERS + " "):
        raise ValueError("must have something in it that can be seen")
    return text


def legible(text: str, otherwise: str) -> str:
    """A text from before that rule, less what cannot be seen in it; `otherwise` if nothing is left."""
    plain = "".join(" " if c in _BREAKS else c for c in text if c in _BREAKS or not unseen(c))
    return " ".join(plain.split()) if plain.strip(_JOINERS + " ") else otherwise


Name = Annotated[
    str, StringConstraints(strip_whitespace=True, min_length=1, max_length=80), AfterValidator(_one_line)
]
Label = Annotated[str, StringConstraints(strip_whitespace=True, max_length=80), AfterValidator(_one_line)]
NoteText = Annotated[str, StringConstraints(strip_whitespace=True, max_length=400), AfterValidator(_one_line)]
Id = Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9_-]{1,40}$")]
Colour = Annotated[str, StringConstraints(pattern=r"^#[0-9a-f]{6}$")]
#: A file by the SHA-256 of its content.
FileKey = Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{64}$")]
Metres = Annotated[float, Field(ge=-STAGE_LIMIT_M, le=STAGE_LIMIT_M)]
Size = Annotated[float, Field(ge=0.001, le=STAGE_LIMIT_M)]
Degrees = Annotated[float, Field(ge=-36_000.0, le=36_000.0)]


def new_id(prefix: str) -> str:
    """A fresh id such as `cam-3f9a0c1b22d4`."""
    return f"{prefix}-{uuid.uuid4().hex[:12]}"


def fingerprint(*parts: Any) -> str:
    """The hash of some content: the same content gives the same 24 hex digits everywhere."""
    return hashlib.sha256("\x1f".join(map(_digest, parts)).encode()).hexdigest()[:24]


def wrap_degrees(angle: float) -> float:
    """The same direction within −180 (excluded) to 180."""
    wrapped = math.remainder(angle, 360.0)
    return 180.0 if wrapped == -180.0 else wrapped


def changed(model: M, **update: Any) -> M:
    """The model with some fields replaced and every rule checked again."""
    content = {name: getattr(model, name) for name in type(model).model_fields}
    return type(model).model_validate({**content, **update})
