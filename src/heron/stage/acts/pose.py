"""A pose made by hand, over whatever else the figure does."""

from typing import ClassVar, Literal

from heron.curves import Channel
from heron.model import Label, changed
from heron.stage.acts.base import Act, Lane, keyed_number


def _by(label: str, far: float, least: float | None = None) -> Channel:
    """A number of metres that a part is moved by, 0 at rest."""
    value: Channel = keyed_number(0.0, -far if least is None else least, far, "m", label)
    return value


def _turned(label: str, far: float, least: float | None = None) -> Channel:
    value: Channel = keyed_number(0.0, -far if least is None else least, far, "°", label)
    return value


class Pose(Act):
    """Moves hips, hands and feet, and turns trunk and head, by so much from where they are.

    Across is to its right, ahead the way it faces. Angles stay within published ranges of motion (American Academy of
    Orthopaedic Surgeons 1965, from memory: a trunk bends by 80°, turns by 45° and to the side by 35°; a neck turns by 60°,
    is raised by 45° and tilts by 45°).
    """

    LANE: ClassVar[Lane] = "pose"
    LABEL, TIMED, USUAL_S = "Pose", False, 2.0
    NOT_HASHED: ClassVar[frozenset[str]] = frozenset({"id", "name"})

    kind: Literal["pose"] = "pose"
    name: Label = ""
    hips_across: Channel = _by("Hips across", 0.6)
    hips_up: Channel = _by("Hips up", 0.8)
    hips_ahead: Channel = _by("Hips ahead", 0.6)
    bend: Channel = _turned("Bend forward", 80.0, -30.0)
    twist: Channel = _turned("Turn left", 45.0)
    side_bend: Channel = _turned("Bend right", 35.0)
    head_turn: Channel = _turned("Head left", 60.0)
    head_raise: Channel = _turned("Head up", 45.0)
    head_tilt: Channel = _turned("Head tilt", 45.0)
    right_hand_across: Channel = _by("R hand across", 1.5)
    right_hand_up: Channel = _by("R hand up", 1.5)
    right_hand_ahead: Channel = _by("R hand ahead", 1.5)
    left_hand_across: Channel = _by("L hand across", 1.5)
    left_hand_up: Channel = _by("L hand up", 1.5)
    left_hand_ahead: Channel = _by("L hand ahead", 1.5)
    right_foot_across: Channel = _by("R foot across", 1.0)
    right_foot_up: Channel = _by("R foot up", 1.0, 0.0)
    right_foot_ahead: Channel = _by("R foot ahead", 1.0)
    left_foot_across: Channel = _by("L foot across", 1.0)
    left_foot_up: Channel = _by("L foot up", 1.0, 0.0)
    left_foot_ahead: Channel = _by("L foot ahead", 1.0)

    def scaled(self, by: float) -> "Pose":
        """The same pose of somebody so many times as tall."""
        metres = [spec.name for spec in self.CHANNELS if spec.unit == "m"]
        channels: dict[str, Channel] = {name: getattr(self, name) for name in metres}
        return changed(self, **{n: c.mapped(lambda value: round(value * by, 4)) for n, c in channels.items()})

    def mirrored(self) -> "Pose":
        """The same pose with right and left changed over."""
        other = {"right": "left", "left": "right"}
        swapped = {}
        for spec in self.CHANNELS:
            side, _, rest = spec.name.partition("_")
            name = f"{other[side]}_{rest}" if side in other else spec.name
            channel: Channel = getattr(self, spec.name)
            swapped[name] = channel.mapped(lambda value: -value) if _turns_over(spec.name) else channel
        return changed(self, **swapped)


def _turns_over(name: str) -> bool:
    """Whether a number changes its sign in a mirror."""
    return name.endswith("_across") or name in ("twist", "side_bend", "head_turn", "head_tilt")


AnyPose = Pose
