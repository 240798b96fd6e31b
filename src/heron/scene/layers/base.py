"""What every rig layer has, and the pieces that kinds of layers are described by."""

from dataclasses import dataclass
from typing import Any, ClassVar

from pydantic import Field, model_validator

from heron.curves import Channel, ChannelSpec, Keyed
from heron.model import STAGE_LIMIT_M, Id, new_id
from heron.timebase.frames import MAX_FRAMES, FrameNumber


def spec(
    name: str,
    label: str,
    unit: str,
    low: float,
    high: float,
    digits: int,
    step: float,
    usual: float | None = None,
) -> ChannelSpec:
    measure: Any = {"m": "metres", "°": "degrees"}.get(unit, "plain")
    return ChannelSpec(
        name=name, label=label, unit=unit, low=low, high=high, measure=measure, digits=digits, step=step,
        group="layer", usual=usual,
    )  # fmt: skip


def metres(name: str, label: str, low: float = -STAGE_LIMIT_M, high: float = STAGE_LIMIT_M) -> ChannelSpec:
    return spec(name, label, "m", low, high, 2, 0.05)


def degrees(
    name: str, label: str, low: float = -36_000.0, high: float = 36_000.0, *, usual: float | None = None
) -> ChannelSpec:
    return spec(name, label, "°", low, high, 1, 1.0, usual)


def seconds(name: str, label: str) -> ChannelSpec:
    return spec(name, label, "s", 0.0, 60.0, 2, 0.05)


WEIGHT = spec("weight", "Weight", "", 0.0, 1.0, 2, 0.05, usual=1.0)
TURNED = (
    degrees("pan_deg", "Turned by", usual=0.0),
    degrees("tilt_deg", "Tilted by", usual=0.0),
    degrees("roll_deg", "Rolled by", usual=0.0),
)
SHIFTED = (metres("x_m", "Across"), metres("y_m", "Up"), metres("z_m", "Along"))
ANGLES = ("pan_deg", "tilt_deg", "roll_deg")
STILL = Channel()


@dataclass(frozen=True)
class Choice:
    """A field with a few values, as a person chooses among them."""

    field: str
    label: str
    values: dict[Any, str]


@dataclass(frozen=True)
class Plain:
    """A number of a layer that has no keys, as a person sets it."""

    field: str
    label: str
    unit: str
    digits: int
    step: float


class Layer(Keyed):
    """What every layer has.

    Attributes:
        first, last: its range; without them it begins, or ends, with the scene.
        blend_in, blend_out: frames inside the range. A layer without `blend_out` leaves the camera where it is.
        off: switched off.
    """

    #: What it is called, where that is not its kind.
    LABEL: ClassVar[str] = ""
    CHANNELS: ClassVar[tuple[ChannelSpec, ...]] = (WEIGHT,)
    #: Fields that are a choice: each with its label and what its values are called.
    CHOICES: ClassVar[tuple[Choice, ...]] = ()
    NUMBERS: ClassVar[tuple[Plain, ...]] = ()
    #: (field, value, numbers): channels and other numbers that do nothing while a field has a value.
    IDLE: ClassVar[tuple[tuple[str, Any, tuple[str, ...]], ...]] = ()

    id: Id = Field(default_factory=lambda: new_id("lay"))
    first: FrameNumber | None = None
    last: FrameNumber | None = None
    blend_in: int = Field(default=0, ge=0, le=MAX_FRAMES)
    blend_out: int = Field(default=0, ge=0, le=MAX_FRAMES)
    off: bool = False
    locked: bool = False
    weight: Channel = Channel(rest=1.0)

    @model_validator(mode="after")
    def _fits(self) -> "Layer":
        if self.first is None or self.last is None:
            return self
        if self.last < self.first:
            raise ValueError(f"a layer from {self.first} to {self.last} ends before it begins")
        if self.blend_in + self.blend_out > self.last - self.first:
            raise ValueError(
                f"the blends take {self.blend_in + self.blend_out} frames, but from {self.first} to {self.last} "
                f"there are only {self.last - self.first}; shorten them or lengthen the range"
            )
        return self

    def frame_of(self, _: str) -> int | None:
        """The frame from which what it names counts."""
        return self.first

    def why_idle(self, name: str) -> str:
        """Some numbers say nothing as the layer is set now."""
        for field, value, names in self.IDLE:
            if getattr(self, field) == value and name in names:
                chosen = next((one.values[value] for one in self.CHOICES if one.field == field), str(value))
                return f"{self.spec(name).label} does nothing while the {self.kind} is set to “{chosen}”."  # type: ignore[attr-defined]
        return super().why_idle(name)


class Turned(Layer):
    """What turns the camera by angles of its own."""

    pan_deg: Channel = STILL
    tilt_deg: Channel = STILL
    roll_deg: Channel = STILL


class Shifted(Turned):
    """What shifts it too, metres."""

    x_m: Channel = STILL
    y_m: Channel = STILL
    z_m: Channel = STILL
