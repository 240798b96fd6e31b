"""What a hand works while the stage plays, and how far a push of it goes."""

from dataclasses import dataclass
from typing import Literal

#: Of a camera; of a mover that is driven or lifted; of a figure that is led.
Works = Literal["look", "lift", "ground", "zoom", "focus", "all", "drive", "rise", "lead"]


@dataclass(frozen=True)
class Working:
    """One way of working something by hand: what it is called, and the channels that it changes."""

    works: Works
    label: str
    channels: tuple[str, ...]


#: By table, the usual one first.
WORKING: dict[str, tuple[Working, ...]] = {
    "cameras": (
        Working("look", "pan and tilt", ("pan", "tilt")),
        Working("lift", "truck and boom", ("x", "y", "z")),
        Working("ground", "truck and dolly", ("x", "z")),
        Working("zoom", "zoom", ("focal",)),
        Working("focus", "focus", ("focus.distance",)),
        Working("all", "all of it, by gamepad", ("x", "y", "z", "pan", "tilt", "focal", "focus.distance")),
    ),
    "movers": (
        Working("drive", "where it goes", ("x", "z", "pan")),
        Working("rise", "how high it is", ("y",)),
    ),
    "figures": (Working("lead", "where they walk", ("x", "z")),),
}


@dataclass(frozen=True)
class Feel:
    """How far a hand goes: the numbers are ours, tried with a mouse, keys and a gamepad.

    Attributes:
        turn_deg, walk_m, lift_m, zoom_times, focus_times: what a full push comes to in a second.
        over: what a mouse over the whole picture moves by, as a share of what the picture is wide at the subject.
        over_zoom_times, over_focus_times: what it changes the lens and the distance by.
        count_in_s: counted before a recording, time to bring the hand to the mouse (common practice).
    """

    turn_deg: float = 40.0
    walk_m: float = 1.2
    lift_m: float = 0.7
    zoom_times: float = 2.0
    focus_times: float = 3.0
    over: float = 0.6
    over_zoom_times: float = 3.0
    over_focus_times: float = 6.0
    count_in_s: int = 3


FEEL = Feel()
