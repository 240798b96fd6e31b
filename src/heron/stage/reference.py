"""Where something is: one type for all that can be focused on, pointed at, looked at, ridden or followed.

A field that holds an id is marked with `LinkTo`, the field round it with `Role`; from these two
`heron.scene.links` finds every link there is.
"""

from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

from pydantic import Field, model_validator

from heron.model import Id, Label, Metres, Model
from heron.stage.skeleton import INDEX, LANDMARKS

Tables = Literal[
    "figures",
    "movers",
    "pieces",
    "perches",
    "lenses",
    "cameras",
    "shots",
    "cues",
    "passes",
    "lines",
    "sounds",
]


Needs = Literal["rest", "root", "place", "pose", "same"]


@dataclass(frozen=True)
class LinkTo:
    """Marks a field that holds the id of something in a table."""

    table: Tables


@dataclass(frozen=True)
class Role:
    """Marks a field that holds links: what they are for.

    Attributes:
        verb: between the two names, as in “Bram points at Odile”.
        moves: whether where the thing is, or how it stands, follows from what it is linked to.
        turns: whether only the way it faces follows from it.
        needs: what of the other it goes by: where that is, or how it is turned as well; of a figure where it stands
            alone; of a thing where that is while nobody holds it; or what is asked of the one that names it.
        root: whether where a figure stands follows from it.
        back: what the other does in turn, where that follows from the one that names it; `back_needs`, by what of it.
        bare: whether a figure that is named is taken without its own gazes, so that two may look at each other.
        goes: whether what names it is deleted with it.
        left: what is said of those that named something when it is deleted.
    """

    verb: str
    moves: bool = False
    turns: bool = False
    needs: Needs = "place"
    bare: bool = False
    root: bool = False
    back: str = ""
    back_needs: Needs = "same"
    goes: bool = False
    left: str = "{} goes on without it"


class Reference(Model):
    """A place that may go with something."""

    def needs(self, role: Role) -> Needs:
        """What of the thing it names must be known, for a role."""
        return role.needs


class AtPoint(Reference):
    """A place on the stage, and what stands there as a person would say it."""

    NOT_HASHED: ClassVar[frozenset[str]] = frozenset({"of"})

    kind: Literal["point"] = "point"
    x: Metres
    y: Metres
    z: Metres
    of: Label = ""


class OnFigure(Reference):
    """A joint or landmark of a figure."""

    kind: Literal["figure"] = "figure"
    figure: Annotated[Id, LinkTo("figures")]
    joint: str = Field(default="eyes", max_length=40)

    def needs(self, role: Role) -> Needs:
        """A joint goes with the way the figure looks; its root goes neither with that nor with its hands."""
        return "root" if self.joint == "root" else "place" if role.bare else "pose"

    @model_validator(mode="after")
    def _has_it(self) -> "OnFigure":
        if self.joint not in INDEX and self.joint not in LANDMARKS:
            raise ValueError(f"a figure has no joint “{self.joint}”")
        return self


class OnMover(Reference):
    """The middle of a mover."""

    kind: Literal["mover"] = "mover"
    mover: Annotated[Id, LinkTo("movers")]

    def needs(self, role: Role) -> Needs:
        """What is held goes with the way its holder looks."""
        return "place" if role.bare else "pose"


class OnPiece(Reference):
    """A place on a set piece, in shares of its width, height and depth from the middle of its foot."""

    kind: Literal["piece"] = "piece"
    piece: Annotated[Id, LinkTo("pieces")]
    across: float = Field(default=0.0, ge=-0.5, le=0.5)
    up: float = Field(default=0.5, ge=0.0, le=1.0)
    along: float = Field(default=0.0, ge=-0.5, le=0.5)


class OnCamera(Reference):
    """The lens of a camera."""

    kind: Literal["camera"] = "camera"
    camera: Annotated[Id, LinkTo("cameras")]


class OnPerch(Reference):
    """Where a perch is, and the way it looks."""

    kind: Literal["perch"] = "perch"
    perch: Annotated[Id, LinkTo("perches")]


Spot = Annotated[AtPoint | OnFigure | OnMover | OnPiece | OnCamera | OnPerch, Field(discriminator="kind")]


def joint_word(joint: str) -> str:
    """`wrist_r` as a person would say it."""
    stem, _, side = joint.partition("_")
    return f"{ {'r': 'right ', 'l': 'left '}.get(side, '') }{stem}"
