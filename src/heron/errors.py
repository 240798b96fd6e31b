"""The errors the core raises on purpose.

    HeronError            one sentence for a person: what is wrong, and the remedy
    ├── BadInput          a value, a document or a command that cannot be understood
    ├── NotFound          it names something that is not in the scene
    └── Refused           understood, but it cannot be done to this scene now
        └── BeyondLens    the lens cannot; it may be forced

Nothing has changed when one of these is raised.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError


@dataclass(frozen=True)
class Alternative:
    """Something that can be done instead: what a button says, and the commands in turn, as JSON holds them."""

    label: str
    commands: tuple[dict[str, Any], ...]


class HeronError(Exception):
    """A refusal with its reason and its remedy.

    Attributes: `reason` and `remedy` are plain sentences; `field` names the value that
    is at fault, or is empty; `alternatives` can be done with a press.
    """

    def __init__(
        self, reason: str, remedy: str = "", *, field: str = "", alternatives: tuple[Alternative, ...] = ()
    ) -> None:
        self.reason = reason
        self.remedy = remedy
        self.field = field
        self.alternatives = alternatives
        super().__init__(f"{reason} {remedy}".strip())


class BadInput(HeronError):
    """A value, a document or a command that cannot be understood."""


class NotFound(HeronError):
    """A thing named that is not there."""


class Refused(HeronError):
    """Understood, but it cannot be done to this scene as it stands."""


class BeyondLens(Refused):
    """The lens cannot do it; the same command with `force` does it all the same.

    Attributes: `camera` is its id, `focals` the focal lengths that were asked for, mm.
    """

    def __init__(
        self, reason: str, remedy: str = "", *, camera: str = "", focals: tuple[float, ...] = (), **more: Any
    ) -> None:
        self.camera, self.focals = camera, focals
        super().__init__(reason, remedy, **more)


#: Words a person would use for a field, or for that of one command, where its name alone would not do.
_WORDS = {
    "focal": "focal length", "back": "film back", "width_mm": "film back's width", "height_mm": "film back's height",
    "cut_start": "start of the cut", "gap_before": "gap before the shot", "x": "place across (x)",
    "y": "height (y)", "z": "place along (z)", "first": "first frame", "last": "last frame",
    "dx": "move across", "dy": "move up", "dz": "move along", "metres": "distance", "near_m": "near distance",
    "far_m": "far distance", "shutter_deg": "shutter", "iso": "ISO", "confusion_mm": "circle of confusion",
    "aperture": "stop", "light_ev": "light", "shortest_mm": "shortest focal length", "base": "height off the floor",
    "longest_mm": "longest focal length", "widest": "widest stop", "nearest_m": "nearest focus", "camera.move.over": "overshoot", "over": "length of the rack",
    "spare": "number of spare frames", "jpeg": "JPEG quality", "movie_factor": "rate factor",
    "seconds": "time",
}  # fmt: skip


def plain_rule(first: Mapping[str, Any]) -> tuple[str, str]:
    """One of pydantic's complaints in plain words: (the field's name, what it must be)."""
    names = [str(p) for p in first["loc"] if isinstance(p, str) and "." not in p and "-" not in p]
    field = next((n for n in reversed(names) if n not in _CONTAINERS), "")
    limits: Mapping[str, Any] = first.get("ctx") or {}
    kind = first["type"]
    rules = {
        "missing": "is missing",
        "greater_than_equal": "must be at least {ge}",
        "greater_than": "must be more than {gt}",
        "less_than_equal": "must be at most {le}",
        "less_than": "must be less than {lt}",
        "finite_number": "must be an ordinary number",
        "float_parsing": "must be a number",
        "float_type": "must be a number",
        "int_parsing": "must be a whole number",
        "int_parsing_size": "must be a whole number of a usual size",
        "int_type": "must be a whole number",
        "int_from_float": "must be a whole number",
        "string_too_long": "must be at most {max_length} characters long",
        "string_too_short": "must not be empty",
        "too_short": "must have at least {min_length} parts",
        "too_long": "must have at most {max_length} parts",
        "string_type": "must be text",
        **dict.fromkeys(("tuple_type", "list_type"), "must be a list"),
        **dict.fromkeys(
            ("dict_type", "model_type", "model_attributes_type"), "must be an object with named fields"
        ),
        "extra_forbidden": "is not known here",
        "literal_error": "must be {expected}",
        "bool_type": "must be true or false",
        "bool_parsing": "must be true or false",
        "union_tag_invalid": "is not one of the known kinds",
        "union_tag_not_found": "needs a kind",
    }
    shown = {k: f"{v:g}" if isinstance(v, float) else v for k, v in limits.items()}
    rule = rules.get(kind, "").format(**shown) if kind in rules else ""
    return field, rule


def _capital(text: str) -> str:
    return text[:1].upper() + text[1:]


_CONTAINERS = {"body", "payload", "command", "pose", "lens", "look", "stage", "frames", "keys", "act", "acts"}


def from_validation(error: ValidationError, what: str) -> BadInput:
    """Turn pydantic's first complaint into one sentence naming the field, the value and the rule."""
    return from_complaint(error.errors(include_url=False)[0], what)


def from_complaint(first: Mapping[str, Any], what: str = "") -> BadInput:
    """One complaint of pydantic's as one sentence."""
    field, rule = plain_rule(first)
    if not rule:
        said = str(first["msg"]).removeprefix("Value error, ").removeprefix("Assertion failed, ")
        # Rules of the document's own end with what to do about them.
        reason, _, remedy = said.rstrip(".").partition("; ")
        remedy = remedy or "correct it and send it again"
        return BadInput(f"{_capital(reason)}.", f"{_capital(remedy)}.", field=field)
    given = "" if first["type"] == "missing" or "input" not in first else repr(first["input"])
    shown = f"; it was {given}" if 0 < len(given) <= 60 else ""
    command = next((p for p in first["loc"] if isinstance(p, str) and "." in p), "")
    word = _WORDS.get(f"{command}.{field}") or _WORDS.get(field, field.replace("_", " ")) or what or "this"
    sentence = f"{_capital(word)} {rule}{shown}."
    return BadInput(
        f"{what}: {sentence}" if what and field else sentence, "Correct it and send it again.", field=field
    )
