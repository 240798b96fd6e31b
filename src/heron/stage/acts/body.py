"""Acts of the whole body: where it goes, and how it stands there."""

from typing import Annotated, ClassVar, Literal

from pydantic import Field, model_validator

from heron.curves import Channel
from heron.model import Degrees, FileKey, Id, Metres, Name
from heron.stage.acts.base import Act, Lane, Side, flag, keyed_number, number
from heron.stage.reference import LinkTo, Role, Spot

Point2 = tuple[Metres, Metres]


class BodyAct(Act):
    """An act of the whole body."""

    LANE: ClassVar[Lane] = "body"
    MOVES_ROOT = True

    @property
    def comes_on(self) -> bool:
        """Whether it begins at the speed at which the act before it ends."""
        return False

    @property
    def goes_on(self) -> bool:
        """Whether it ends at speed, for the next act to take on."""
        return False


class Stand(BodyAct):
    """Stands, breathing, with its weight now on one leg and now on the other."""

    LABEL = "Stand"
    kind: Literal["stand"] = "stand"


class Way(BodyAct):
    """Goes from where it stands through points on the floor, (x, z) in metres.

    Attributes:
        soft_start, soft_stop: whether it gathers speed at its start and loses it before its end. Where neither the end
            of one nor the start of the next is soft, the two are one way without a stop.
    """

    TIMED = False
    points: tuple[Point2, ...] = Field(min_length=1, max_length=200)
    soft_start: bool = flag(True, "Soft start")
    soft_stop: bool = flag(True, "Soft stop")
    #: How quick it is along the way, against the rest of it: keyed, it hurries and dawdles within the same frames.
    pace: Channel = keyed_number(1.0, 0.2, 3.0, "×", "Pace")

    @property
    def comes_on(self) -> bool:
        """Without a soft start."""
        return not self.soft_start

    @property
    def goes_on(self) -> bool:
        """Without a soft stop."""
        return not self.soft_stop


class Walk(Way):
    """Walks from where it stands through points on the floor."""

    LABEL = "Walk"
    kind: Literal["walk"] = "walk"


class Run(Way):
    """Runs from where it stands through points on the floor."""

    LABEL = "Run"
    kind: Literal["run"] = "run"


class Start(BodyAct):
    """Sets off straight ahead, the weight first, and is at speed by its end for a walk to go on; without one it stops again."""

    LABEL, TIMED, USUAL_S = "Start walking", False, 1.2
    kind: Literal["start"] = "start"
    walks_at: float = number(1.3, 0.4, 2.2, "m/s", "Speed")

    @property
    def goes_on(self) -> bool:
        """Always."""
        return True


class StopShort(BodyAct):
    """Stops within a short way, as if held back: whoever walks up to it brakes, tips forward and comes to stand."""

    LABEL, TIMED, USUAL_S = "Stop short", False, 1.6
    kind: Literal["stop_short"] = "stop_short"
    far: float = number(0.5, 0.15, 2.0, "m", "Within")
    energy: float = number(1.0, 0.0, 2.0, "×", "Energy")

    @property
    def comes_on(self) -> bool:
        """Always."""
        return True


class Turn(BodyAct):
    """Turns on the spot to face a heading, degrees, positive to the left of −Z."""

    LABEL, TIMED = "Turn", False
    kind: Literal["turn"] = "turn"
    heading: Degrees


class StepAside(BodyAct):
    """Steps to one side and closes up."""

    LABEL, TIMED, USUAL_S = "Step aside", False, 1.0
    kind: Literal["step_aside"] = "step_aside"
    side: Side = "right"
    far: float = number(0.35, 0.05, 1.0, "m", "How far")


class WalkBack(BodyAct):
    """Walks backwards, straight away from where it faces."""

    LABEL, TIMED, USUAL_S = "Walk backwards", False, 2.5
    kind: Literal["walk_back"] = "walk_back"
    far: float = number(1.5, 0.2, 20.0, "m", "How far")


class WalkWith(BodyAct):
    """Walks beside or behind somebody or something that goes somewhere, at a distance, and stands where that stands."""

    LABEL, TIMED, USUAL_S = "Walk with", False, 4.0
    kind: Literal["walk_with"] = "walk_with"
    at: Annotated[Spot, Role("walks with", moves=True, bare=True, root=True, left="{} stops following")]
    place: Literal["beside", "behind"] = "beside"
    side: Side = "left"
    far: float = number(0.8, 0.4, 10.0, "m", "Distance")
    in_step: bool = flag(False, "In step")

    def frame_of(self, _: str) -> int | None:
        """The frame from which what it walks with counts."""
        return self.frames.first


class Spin(BodyAct):
    """Is turned evenly, as on a turntable, so many times round; positive to its left. After it faces as before."""

    LABEL, TIMED = "Turntable", False
    kind: Literal["spin"] = "spin"
    turns: int = Field(default=1, ge=-50, le=50, json_schema_extra={"unit": "turns", "label": "Turns"})

    @model_validator(mode="after")
    def _turns(self) -> "Spin":
        if self.turns == 0:
            raise ValueError("a turntable turns at least once; give it 1 to the left, or -1 to the right")
        return self


class Talk(BodyAct):
    """Talks with its hands."""

    LABEL = "Talk"
    kind: Literal["talk"] = "talk"
    energy: float = number(1.0, 0.0, 2.0, "×", "Energy")


class Sit(BodyAct):
    """Sits down on a piece with its back to it, and stays there until the next act of the body."""

    LABEL, TIMED, STAYS, USUAL_S = "Sit down", False, True, 2.0
    kind: Literal["sit"] = "sit"
    on: Annotated[
        Id | None,
        LinkTo("pieces"),
        Role("sits on", moves=True, root=True, left="{} stands where it would have sat"),
    ] = None


class StandUp(BodyAct):
    """Stands up from where it sits."""

    LABEL, TIMED, USUAL_S = "Stand up", False, 1.8
    kind: Literal["stand_up"] = "stand_up"


class Crouch(BodyAct):
    """Goes down on its heels and comes up again."""

    LABEL, USUAL_S = "Crouch", 2.4
    kind: Literal["crouch"] = "crouch"
    depth: float = number(0.30, 0.05, 0.32, "H", "Depth")


class Kneel(BodyAct):
    """Goes down on one knee and comes up again."""

    LABEL, USUAL_S = "Kneel", 3.0
    kind: Literal["kneel"] = "kneel"
    side: Side = "right"


class Lean(BodyAct):
    """Leans forward from the hips, or back."""

    LABEL, USUAL_S = "Lean", 2.0
    kind: Literal["lean"] = "lean"
    angle: float = number(15.0, -20.0, 45.0, "°", "Angle")


class LeanOn(BodyAct):
    """Leans on a piece with one hand."""

    LABEL, TIMED, USUAL_S = "Lean on", False, 4.0
    kind: Literal["lean_on"] = "lean_on"
    on: Annotated[
        Id | None, LinkTo("pieces"), Role("leans on", moves=True, left="{} stands where it would have leaned")
    ] = None
    hand: Side = "right"


class Laugh(BodyAct):
    """Laughs with its whole trunk."""

    LABEL, USUAL_S = "Laugh", 2.5
    kind: Literal["laugh"] = "laugh"
    energy: float = number(1.0, 0.1, 2.0, "×", "Energy")


class Flinch(BodyAct):
    """Starts back from something, and gets over it."""

    LABEL, USUAL_S = "Flinch", 1.2
    kind: Literal["flinch"] = "flinch"
    energy: float = number(1.0, 0.1, 2.0, "×", "Energy")


class Recorded(BodyAct):
    """Does what somebody did who was recorded, from where it stands and the way it faces.

    Attributes:
        file: the key of the motion as it is kept; name: what it is called.
        goes: whether it goes where that one went; else it stays where it is and turns alone.
    """

    LABEL, USUAL_S = "Recorded", 3.0
    kind: Literal["recorded"] = "recorded"
    file: FileKey
    name: Name
    goes: bool = flag(True, "Goes where it was recorded going")


AnyBody = (
    Stand | Walk | Run | Start | StopShort | Turn | StepAside | WalkBack | WalkWith | Spin | Talk | Sit | StandUp | Crouch | Kneel | Lean | LeanOn
    | Laugh | Flinch | Recorded
)  # fmt: skip
