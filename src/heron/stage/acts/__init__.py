"""What figures do: acts, each on the lane of its kind."""

from typing import Annotated, Any, get_args, get_type_hints

from pydantic import Field

from heron.curves import Channel
from heron.stage.acts.base import ACT_FRAMES, LANES, Act, Lane
from heron.stage.acts.body import AnyBody
from heron.stage.acts.face import AnyFace, Express, Expression
from heron.stage.acts.hands import AnyHands
from heron.stage.acts.look import AnyLook
from heron.stage.acts.pose import AnyPose, Pose
from heron.stage.reference import LinkTo, Tables

AnyAct = Annotated[AnyBody | AnyHands | AnyLook | AnyFace | AnyPose, Field(discriminator="kind")]
#: Every kind of act, lane by lane.
KINDS: tuple[type[Act], ...] = (
    *get_args(AnyBody),
    *get_args(AnyHands),
    *get_args(AnyLook),
    *get_args(AnyFace),
    Pose,
)


def numbers_of(kind: type[Act]) -> list[dict[str, Any]]:
    """The numbers of a kind of act: name, label, unit, default, least and most."""
    out = []
    for name, field in kind.model_fields.items():
        extra = field.json_schema_extra
        if not isinstance(extra, dict) or "unit" not in extra:
            continue
        limits = {type(one).__name__: one for one in field.metadata}
        least = extra["least"] if "least" in extra else limits["Ge"].ge
        most = extra["most"] if "most" in extra else limits["Le"].le
        default = field.default.rest if isinstance(field.default, Channel) else field.default
        out.append(
            {
                "name": name, "label": extra["label"], "unit": extra["unit"], "default": default, "least": least, "most": most,
            }
        )  # fmt: skip
    return out


def flags_of(kind: type[Act]) -> dict[str, str]:
    """The fields of a kind of act that are yes or no, and their labels."""
    return {
        name: str(extra["label"])
        for name, field in kind.model_fields.items()
        if field.annotation is bool and isinstance(extra := field.json_schema_extra, dict)
    }


def choices_of(kind: type[Act]) -> dict[str, list[str]]:
    """The words that fields of a kind of act may hold, beside what every act has."""
    own = [name for name in kind.model_fields if name not in Act.model_fields and name != "kind"]
    found = {name: get_args(kind.model_fields[name].annotation) for name in own}
    return {
        name: list(words) for name, words in found.items() if words and all(isinstance(w, str) for w in words)
    }


def names_of(kind: type[Act]) -> dict[str, Tables]:
    """The fields of a kind of act that name something, and the table that it is in."""
    return {
        name: mark.table
        for name, hint in get_type_hints(kind, include_extras=True).items()
        for mark in getattr(hint, "__metadata__", ())
        if isinstance(mark, LinkTo)
    }


__all__ = [
    "ACT_FRAMES",
    "KINDS",
    "LANES",
    "Act",
    "AnyAct",
    "Express",
    "Expression",
    "Lane",
    "choices_of",
    "flags_of",
    "names_of",
    "numbers_of",
]
