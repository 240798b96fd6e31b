"""Layers that say how a camera is turned, how much its lens takes in, and how it breathes."""

from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field, field_validator, model_validator

from heron.curves import Channel, ChannelSpec
from heron.scene.layers.base import STILL, TURNED, WEIGHT, Choice, Layer, Plain, seconds, spec
from heron.stage.reference import OnFigure, Role, Spot
from heron.stage.skeleton import INDEX, LANDMARKS


class Level(Layer):
    """Takes out the roll, or the tilt too."""

    CHOICES = (Choice("what", "Takes out", {"roll": "roll", "both": "roll and tilt"}),)

    kind: Literal["level"] = "level"
    what: Literal["roll", "both"] = "roll"


_SEEN = (
    spec("x", "Across the frame", "", -10.0, 10.0, 3, 0.01),
    spec("y", "Up the frame", "", -10.0, 10.0, 3, 0.01),
)
_WATCHES = Role("watches", turns=True, left="what it did to {} is keys now")


class Aim(Layer):
    """Watches something: puts it on a place in the frame (−1…1), or leaves it be within a calm zone."""

    CHANNELS: ClassVar[tuple[ChannelSpec, ...]] = (
        WEIGHT, *_SEEN, seconds("lag_s", "Late by"), spec("wide", "Calm across", "", 0.0, 2.0, 2, 0.02),
        spec("high", "Calm upright", "", 0.0, 2.0, 2, 0.02), *TURNED[:2],
    )  # fmt: skip

    CHOICES = (
        Choice("how", "Keeps it", {"placed": "on its place in the frame", "calm": "within a calm zone"}),
        Choice("together", "Several by", {"middle": "their middle", "box": "their box"}),
    )
    IDLE = (("how", "placed", ("wide", "high")), ("how", "kept", ("wide", "high")))

    kind: Literal["aim"] = "aim"
    at: tuple[Annotated[Spot, _WATCHES], ...] = Field(min_length=1, max_length=20)
    how: Literal["placed", "kept", "calm"] = "placed"
    together: Literal["middle", "box"] = "middle"
    x: Channel = STILL
    y: Channel = STILL
    lag_s: Channel = STILL
    wide: Channel = Channel(rest=0.3)
    high: Channel = Channel(rest=0.3)
    pan_deg: Channel = STILL
    tilt_deg: Channel = STILL


class SizeHold(Layer):
    """Keeps a figure's part this tall, as a share of the frame's height: the lens answers, or the arm's reach."""

    LABEL = "Size hold"
    CHANNELS: ClassVar[tuple[ChannelSpec, ...]] = (
        WEIGHT,
        spec("share", "Share of the frame", "", 0.001, 20.0, 3, 0.01),
    )

    CHOICES = (
        Choice("answers", "Answers", {"lens": "lens", "reach": "arm's reach"}),
        Choice("measured", "Measured", {"upright": "upright", "posed": "as posed"}),
    )

    kind: Literal["size"] = "size"
    of: Annotated[OnFigure, Role("keeps the size of", moves=True, left="what it did to {} is keys now")]
    to: str = Field(default="crown", max_length=40)
    answers: Literal["lens", "reach"] = "lens"
    #: The size of an upright one of rest length, or as it is posed.
    measured: Literal["upright", "posed"] = "upright"
    share: Channel = Channel(rest=0.4)

    @model_validator(mode="after")
    def _spans(self) -> "SizeHold":
        if self.to not in INDEX and self.to not in LANDMARKS:
            raise ValueError(f"a figure has no joint “{self.to}”")
        if self.to == self.of.joint:
            raise ValueError("a size is from one landmark to another; choose two")
        return self


_BREATH_AXES = ("across", "up", "along", "pan", "tilt", "roll")


class Breath(Layer):
    """An operator's small movements: millimetres and degrees RMS on each of the camera's own axes."""

    CHANNELS: ClassVar[tuple[ChannelSpec, ...]] = (
        WEIGHT, spec("place_mm", "Place", "mm", 0.0, 1000.0, 1, 0.5), spec("turn_deg", "Turn", "°", 0.0, 45.0, 2, 0.05),
        spec("hertz", "Pace", "Hz", 0.01, 20.0, 2, 0.05),
    )  # fmt: skip

    NUMBERS = tuple(Plain(f"times_{axis}", axis.capitalize(), "×", 2, 0.1) for axis in _BREATH_AXES)

    kind: Literal["breath"] = "breath"
    seed: int = Field(default=1, ge=0, le=2**31 - 1)
    #: The main pace.
    hertz: Channel = Channel(rest=0.6)
    place_mm: Channel = Channel(rest=4.0)
    turn_deg: Channel = Channel(rest=0.3)
    #: How much of it goes along each axis: a shoulder bobs more than it rolls.
    times_across: float = Field(default=1.0, ge=0.0, le=10.0)
    times_up: float = Field(default=1.0, ge=0.0, le=10.0)
    times_along: float = Field(default=1.0, ge=0.0, le=10.0)
    times_pan: float = Field(default=1.0, ge=0.0, le=10.0)
    times_tilt: float = Field(default=1.0, ge=0.0, le=10.0)
    times_roll: float = Field(default=1.0, ge=0.0, le=10.0)

    @property
    def times(self) -> tuple[float, ...]:
        """(6,) of the camera's right, up and back, then pan, tilt and roll."""
        return tuple(getattr(self, f"times_{axis}") for axis in _BREATH_AXES)

    @field_validator("hertz", mode="before")
    @classmethod
    def _paced(cls, value: Any) -> Any:
        """A pace was one number before it could be keyed."""
        plain = isinstance(value, int | float) and not isinstance(value, bool)
        return Channel(rest=value) if plain else value
