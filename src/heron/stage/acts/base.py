"""What every act has: a lane, its frames, and how its own content runs over them."""

from typing import Any, ClassVar, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from heron.curves import Channel, ChannelSpec, Keyed
from heron.curves.channel import OnWord
from heron.curves.spec import Measure
from heron.model import Id, changed
from heron.timebase.frames import MAX_FRAMES, Frames

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: What an act moves. Acts on different lanes run together.
Lane = Literal["body", "hands", "look", "face", "pose"]
LANES: tuple[Lane, ...] = ("body", "hands", "look", "face", "pose")
#: How the weight goes from one act to the next over their overlap.
Shape = Literal["soft", "even", "early", "late"]
Side = Literal["right", "left"]
#: Frames that an act takes before anyone says otherwise. The number is ours.
ACT_FRAMES = 36
#: How much slower and quicker than it was made an act's content may run.
SLOWEST, QUICKEST = 0.25, 4.0


def number(default: float, least: float, most: float, unit: str, label: str) -> Any:
    """A number of an act: its default, its range, its unit and what the desk calls it."""
    return Field(default=default, ge=least, le=most, json_schema_extra={"unit": unit, "label": label})


def keyed_number(default: float, least: float, most: float, unit: str, label: str) -> Any:
    """A number of an act that may have keys, at frames of the stage; as `number` otherwise."""
    extra: dict[str, Any] = {"unit": unit, "label": label, "least": least, "most": most}
    return Field(default=Channel(rest=default), json_schema_extra=extra)


def flag(default: bool, label: str) -> Any:
    """A choice of yes or no of an act, and what the desk calls it."""
    return Field(default=default, json_schema_extra={"label": label})


_MEASURES: dict[str, Measure] = {"m": "metres", "°": "degrees"}


class Act(Keyed):
    """Something a figure does over a range of frames, on the lane of its kind.

    Attributes:
        slip: frames of its content before the first that is played; less than 0, its first pose is held so long.
        speed: how much quicker its content runs than it was made.
        repeat: how often its content is played within its frames.
        shape: how the weight comes to this act from the one before it, over their overlap.
    """

    NOT_HASHED: ClassVar[frozenset[str]] = frozenset({"id", "bound"})
    LANE: ClassVar[Lane]
    LABEL: ClassVar[str]
    #: Whether its content can be slipped, stretched and repeated; of the others the frames alone say it.
    TIMED: ClassVar[bool] = True
    #: Whether it goes on at its last pose until the next act on its lane.
    STAYS: ClassVar[bool] = False
    #: Whether where the figure stands follows from it.
    MOVES_ROOT: ClassVar[bool] = False
    #: Seconds it usually takes.
    USUAL_S: ClassVar[float] = 1.5

    id: Id | None = None
    frames: Frames
    slip: int = Field(default=0, ge=-MAX_FRAMES, le=MAX_FRAMES)
    speed: float = Field(default=1.0, ge=SLOWEST, le=QUICKEST)
    repeat: int = Field(default=1, ge=1, le=1000)
    #: Goes on at its last pose until the next act on its lane.
    hold: bool = False
    shape: Shape = "soft"
    #: A word that it moves in time with.
    bound: OnWord | None = None

    @classmethod
    def __pydantic_init_subclass__(cls, **_: Any) -> None:
        """Its numbers that may have keys are its channels."""
        cls.CHANNELS = tuple(
            ChannelSpec(
                name=name, label=str(extra["label"]), unit=str(extra["unit"]), low=extra["least"], high=extra["most"],
                measure=_MEASURES.get(str(extra["unit"]), "plain"), step=1.0 if extra["unit"] == "°" else 0.01,
                digits=1 if extra["unit"] == "°" else 2, group="act",
            )
            for name, field in cls.model_fields.items()
            if isinstance(extra := field.json_schema_extra, dict) and "least" in extra
        )  # fmt: skip

    def later(self, by: int) -> Self:
        """The same act so many frames later, its keys with it."""
        keys = {spec.name: getattr(self, spec.name).later(by) for spec in self.CHANNELS}
        return changed(self, frames=Frames(first=self.frames.first + by, last=self.frames.last + by), **keys)

    @property
    def called(self) -> str:
        """What it is called in lists and on the command line."""
        return str(getattr(self, "kind", ""))

    @model_validator(mode="after")
    def _own_time(self) -> "Act":
        if not self.TIMED and (self.slip, self.speed, self.repeat) != (0, 1.0, 1):
            raise ValueError(
                f"the pace of “{self.LABEL}” follows from its frames; change the frames instead of slip, speed or repeat"
            )
        return self


def content_count(act: Act) -> float:
    """How many frames an act's content has at its own pace."""
    return max(act.slip + act.frames.count * act.speed / act.repeat, 1.0)


def content_frames(act: Act, t: Floats) -> Floats:
    """(n,) how many frames into its content an act is at frames (n,); before and after it, held at its ends."""
    each = act.frames.count * act.speed / act.repeat
    since = np.clip(t - act.frames.first, 0.0, act.frames.count - 1e-6) * act.speed
    return np.asarray(np.maximum(act.slip + np.mod(since, each), 0.0))


def shaped(u: Floats, shape: Shape) -> Floats:
    """(n,) weights, 0 to 1, for shares (n,) of an overlap; without a kick at either end unless it is even."""
    u = np.clip(u, 0.0, 1.0)
    if shape == "even":
        return u
    u = 1 - (1 - u) ** 2 if shape == "early" else u * u if shape == "late" else u
    return np.asarray(u**3 * (10 - 15 * u + 6 * u * u))
