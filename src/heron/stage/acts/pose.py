"""A pose made by hand, over whatever else the figure does."""

from typing import ClassVar, Literal

from heron.stage.acts.base import Act, Lane, number


def _by(label: str, far: float) -> float:
    """A number of metres that a part is moved by, 0 at rest."""
    value: float = number(0.0, -far, far, "m", label)
    return value


def _turned(label: str, far: float) -> float:
    value: float = number(0.0, -far, far, "°", label)
    return value


class Pose(Act):
    """Moves hips, hands and feet, and turns trunk and head, by so much from where they are.

    Across is to its right, ahead the way it faces. Angles stay within published ranges of motion (American Academy of
    Orthopaedic Surgeons 1965, from memory: a trunk bends by 80°, turns by 45° and to the side by 35°; a neck turns by 60°,
    is raised by 45° and tilts by 45°).
    """

    LANE: ClassVar[Lane] = "pose"
    LABEL, TIMED, USUAL_S = "Pose", False, 2.0
    kind: Literal["pose"] = "pose"
    hips_across: float = _by("Hips across", 0.6)
    hips_up: float = _by("Hips up", 0.8)
    hips_ahead: float = _by("Hips ahead", 0.6)
    bend: float = number(0.0, -30.0, 80.0, "°", "Bend forward")
    twist: float = _turned("Turn left", 45.0)
    side_bend: float = _turned("Bend right", 35.0)
    head_turn: float = _turned("Head left", 60.0)
    head_raise: float = _turned("Head up", 45.0)
    head_tilt: float = _turned("Head tilt", 45.0)
    right_hand_across: float = _by("R hand across", 1.5)
    right_hand_up: float = _by("R hand up", 1.5)
    right_hand_ahead: float = _by("R hand ahead", 1.5)
    left_hand_across: float = _by("L hand across", 1.5)
    left_hand_up: float = _by("L hand up", 1.5)
    left_hand_ahead: float = _by("L hand ahead", 1.5)
    right_foot_across: float = _by("R foot across", 1.0)
    right_foot_up: float = number(0.0, 0.0, 1.0, "m", "R foot up")
    right_foot_ahead: float = _by("R foot ahead", 1.0)
    left_foot_across: float = _by("L foot across", 1.0)
    left_foot_up: float = number(0.0, 0.0, 1.0, "m", "L foot up")
    left_foot_ahead: float = _by("L foot ahead", 1.0)

    def mirrored(self) -> "Pose":
        """The same pose with right and left changed over."""
        swapped = {}
        for name in type(self).model_fields:
            value = getattr(self, name)
            if name.startswith(("right_", "left_")):
                other = (
                    name.replace("right_", "left_")
                    if name.startswith("right_")
                    else name.replace("left_", "right_")
                )
                swapped[other] = -value if name.endswith("_across") else value
            elif name in ("hips_across", "twist", "side_bend", "head_turn", "head_tilt"):
                swapped[name] = -value
            else:
                swapped[name] = value
        return Pose.model_validate(swapped)


AnyPose = Pose
