"""The errors the core raises on purpose.

    HeronError            one sentence for a person: what is wrong, and the remedy
    ├── BadInput          a value, a document or a command that cannot be understood
    ├── NotFound          it names something that is not in the scene
    └── Refused           understood, but it cannot be done to this scene now

Nothing has changed when one of these is raised.
"""

from pydantic import ValidationError


class HeronError(Exception):
    """A refusal with its reason and its remedy.

    Attributes: `reason` and `remedy` are plain sentences; `field` names the value that
    is at fault, or is empty.
    """

    def __init__(self, reason: str, remedy: str = "", *, field: str = "") -> None:
        self.reason = reason
        self.remedy = remedy
        self.field = field
        super().__init__(f"{reason} {remedy}".strip())


class BadInput(HeronError):
    """A value, a document or a command that cannot be understood."""


class NotFound(HeronError):
    """A thing named that is not there."""


class Refused(HeronError):
    """Understood, but it cannot be done to this scene as it stands."""


def from_validation(error: ValidationError, what: str) -> BadInput:
    """Turn pydantic's first complaint into one sentence naming the field, the value and the rule."""
    first = error.errors(include_url=False)[0]
    names = [str(part) for part in first["loc"] if not str(part).startswith("function-")]
    field = ".".join(names)
    rule = first["msg"].removeprefix("Value error, ").removeprefix("Assertion failed, ")
    given = repr(first.get("input"))
    shown = "" if first["type"] == "missing" or len(given) > 60 else f" (it was {given})"
    where = f"{what}: {field}" if field else what
    return BadInput(f"{where}: {rule}{shown}.", "Correct it and send it again.", field=field)
