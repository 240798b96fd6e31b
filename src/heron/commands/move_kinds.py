"""What a camera can be told to do: how it is said, its unit, its usual amount, and the words for either way."""

from dataclasses import dataclass
from typing import Literal

What = Literal[
    "pan", "tilt", "roll", "dolly", "truck", "boom", "zoom", "arc", "close in", "dolly zoom", "swing onto", "look as",
    "straighten", "upright", "view",
]  # fmt: skip


@dataclass(frozen=True)
class MoveKind:
    """One kind of move.

    Attributes:
        says: as somebody is told to do it: “go round”.
        unit, usual: of its amount, and how much it is before anyone says otherwise; without a unit it has none.
        ways: what more than nothing does, and less than nothing.
        of: whether it takes a subject.
        turns: whether it is a way of turning to something, without an amount.
        directions: whether it can use somebody's directions instead of the camera's.
    """

    says: str
    unit: str = ""
    usual: float = 0.0
    ways: tuple[str, str] = ("", "")
    of: bool = False
    turns: bool = False
    directions: bool = False


#: Usual amounts are ours: enough to be seen, too little to lose the subject.
KINDS: dict[What, MoveKind] = {
    "pan": MoveKind("pan", "°", 20, ("to the left", "to the right")),
    "tilt": MoveKind("tilt", "°", 10, ("up", "down")),
    "roll": MoveKind("roll", "°", 5, ("counter-clockwise", "clockwise")),
    "dolly": MoveKind("dolly", "m", 1, ("in", "out"), directions=True),
    "truck": MoveKind("truck", "m", 1, ("to the right", "to the left"), directions=True),
    "boom": MoveKind("boom", "m", 0.5, ("up", "down")),
    "zoom": MoveKind("zoom", "mm", 10, ("in", "out")),
    "arc": MoveKind("go round", "°", 30, ("to the right", "to the left"), of=True),
    "close in": MoveKind("close in on", "m", 0.5, ("nearer", "farther"), of=True),
    "dolly zoom": MoveKind("dolly zoom on", "mm", 20, ("lens in, camera back", "lens out, camera nearer"), of=True),
    "swing onto": MoveKind("to face", of=True, turns=True),
    "look as": MoveKind("the same way as", of=True, turns=True),
    "straighten": MoveKind("level: no roll", turns=True),
    "upright": MoveKind("upright: no roll, no tilt", turns=True),
    "view": MoveKind("go to a view"),
}  # fmt: skip
#: The verb for each in the history.
VERBS: dict[str, str] = {
    "pan": "pans", "tilt": "tilts", "roll": "rolls", "dolly": "dollies", "truck": "trucks", "boom": "booms",
    "zoom": "zooms", "arc": "goes", "close in": "closes in on", "dolly zoom": "dolly-zooms",
}  # fmt: skip
