"""Rig layers: what moves a camera besides its keys, each over a range, with a weight and channels of its own.

They run by kind, whatever their order of making: place (carrier, trail, arm, rail, flight), level, direction (aim),
lens (size hold), breath; within a kind in the camera's order.
"""

from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field, field_validator, model_validator

from heron.curves import Channel, ChannelSpec, Keyed
from heron.curves.feel import Feel
from heron.model import STAGE_LIMIT_M, Id, Metres, Model, new_id
from heron.stage.reference import OnFigure, OnPerch, Role, Spot
from heron.stage.skeleton import INDEX, LANDMARKS
from heron.timebase.frames import MAX_FRAMES, FrameNumber

#: The order in which kinds run.
STAGES: dict[str, int] = {
    "carrier": 0, "trail": 0, "arm": 0, "rail": 0, "flight": 0, "level": 1, "aim": 2, "size": 3, "breath": 4,
}  # fmt: skip
MOST_LAYERS = 64


def _spec(
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


def _metres(name: str, label: str, low: float = -STAGE_LIMIT_M, high: float = STAGE_LIMIT_M) -> ChannelSpec:
    return _spec(name, label, "m", low, high, 2, 0.05)


def _degrees(
    name: str, label: str, low: float = -36_000.0, high: float = 36_000.0, *, usual: float | None = None
) -> ChannelSpec:
    return _spec(name, label, "°", low, high, 1, 1.0, usual)


def _seconds(name: str, label: str) -> ChannelSpec:
    return _spec(name, label, "s", 0.0, 60.0, 2, 0.05)


WEIGHT = _spec("weight", "Weight", "", 0.0, 1.0, 2, 0.05, usual=1.0)
_TURNED = (
    _degrees("pan_deg", "Turned by", usual=0.0),
    _degrees("tilt_deg", "Tilted by", usual=0.0),
    _degrees("roll_deg", "Rolled by", usual=0.0),
)
_SHIFTED = (_metres("x_m", "Across"), _metres("y_m", "Up"), _metres("z_m", "Along"))
_ANGLES = ("pan_deg", "tilt_deg", "roll_deg")
_STILL = Channel()


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

    def idle(self, name: str) -> str:
        """Some numbers say nothing as the layer is set now."""
        for field, value, names in self.IDLE:
            if getattr(self, field) == value and name in names:
                chosen = next((one.values[value] for one in self.CHOICES if one.field == field), str(value))
                return f"{self.spec(name).label} does nothing while the {self.kind} is set to “{chosen}”."  # type: ignore[attr-defined]
        return super().idle(name)


class Turned(Layer):
    """What turns the camera by angles of its own."""

    pan_deg: Channel = _STILL
    tilt_deg: Channel = _STILL
    roll_deg: Channel = _STILL


class Shifted(Turned):
    """What shifts it too, metres."""

    x_m: Channel = _STILL
    y_m: Channel = _STILL
    z_m: Channel = _STILL


class Carrier(Shifted):
    """Rides on something: its place only, or turning with it. The offset is in stage axes, or in the thing's own."""

    CHANNELS: ClassVar[tuple[ChannelSpec, ...]] = (WEIGHT, *_SHIFTED, *_TURNED)
    CHOICES = (Choice("how", "Rides", {"place": "its place only", "all": "turning with it"}),)
    IDLE = (("how", "place", _ANGLES),)

    kind: Literal["carrier"] = "carrier"
    on: Annotated[Spot, Role("rides on", moves=True, needs="pose", left="what it did to {} is keys now")]
    how: Literal["place", "all"] = "place"
    #: It looks through the eyes of whom it rides on: that one's own head is not drawn.
    eyes: bool = False


class Trail(Turned):
    """Follows something, late by a time, or so many metres behind along its own path.

    `angle_deg` is round the subject: 0 in front, positive to its left. Times are how late it is at a steady speed.
    """

    CHANNELS: ClassVar[tuple[ChannelSpec, ...]] = (
        WEIGHT, _degrees("angle_deg", "Angle round it"), _metres("distance_m", "Distance", 0.0),
        _metres("height_m", "Height above it"), _seconds("lag_s", "Late by"), _seconds("lag_height_s", "Late in height by"),
        _metres("behind_m", "Behind along its path", 0.0), *_TURNED,
    )  # fmt: skip

    CHOICES = (
        Choice("how", "Follows", {"lag": "late", "distance": "its path"}),
        Choice("begins", "Begins", {"steady": "as if it had followed", "rest": "at rest"}),
    )
    IDLE = (
        ("how", "distance", ("angle_deg", "distance_m", "lag_s", "lag_height_s")),
        ("how", "lag", ("behind_m", "smooth_m")),
    )
    NUMBERS = (Plain("smooth_m", "Smoothed over", "m", 2, 0.1),)

    kind: Literal["trail"] = "trail"
    of: Annotated[Spot, Role("follows", moves=True, needs="pose", left="what it did to {} is keys now")]
    how: Literal["lag", "distance"] = "lag"
    begins: Literal["steady", "rest"] = "steady"
    #: The path is smoothed over so many metres before it is followed.
    smooth_m: float = Field(default=0.5, ge=0.0, le=100.0)
    angle_deg: Channel = Channel(rest=180.0)
    distance_m: Channel = Channel(rest=3.0)
    height_m: Channel = Channel(rest=1.6)
    lag_s: Channel = Channel(rest=0.4)
    lag_height_s: Channel = Channel(rest=0.4)
    behind_m: Channel = Channel(rest=3.0)


class Arm(Turned):
    """Swings round a pivot: bearing from in front of the subject, positive to its left; height angle; reach.

    Without a pivot of its own it swings round the place that the layer above gives.
    """

    CHANNELS: ClassVar[tuple[ChannelSpec, ...]] = (
        WEIGHT, _degrees("bearing_deg", "Bearing"), _degrees("height_deg", "Height angle", -89.9, 89.9),
        _metres("reach_m", "Reach", 0.01), *_TURNED,
    )  # fmt: skip

    CHOICES = (
        Choice("turns_with", "Bearing", {False: "stays with the stage", True: "turns with the subject"}),
        Choice("sun_rides", "Sun", {False: "stays with the set", True: "rides with the camera"}),
    )

    kind: Literal["arm"] = "arm"
    round: tuple[
        Annotated[Spot, Role("swings round", moves=True, needs="pose", left="what it did to {} is keys now")],
        ...,
    ] = Field(default=(), max_length=20)
    turns_with: bool = False
    #: The sun goes round with it, in this camera's picture alone.
    sun_rides: bool = False
    bearing_deg: Channel = _STILL
    height_deg: Channel = _STILL
    reach_m: Channel = Channel(rest=4.0)


class Rail(Shifted):
    """Runs along a drawn path by metres; the offset is in stage axes."""

    CHANNELS: ClassVar[tuple[ChannelSpec, ...]] = (
        WEIGHT,
        _metres("metres", "Along the rail"),
        *_SHIFTED,
        *_TURNED,
    )

    CHOICES = (Choice("faces", "Faces", {"keys": "as its keys say", "along": "the way it runs"}),)
    IDLE = (("faces", "keys", _ANGLES),)

    kind: Literal["rail"] = "rail"
    points: tuple[tuple[Metres, Metres, Metres], ...] = Field(min_length=2, max_length=200)
    #: Where it looks: as the keys say, or the way the rail runs.
    faces: Literal["keys", "along"] = "keys"
    metres: Channel = _STILL

    @model_validator(mode="after")
    def _goes_somewhere(self) -> "Rail":
        if all(max(abs(a - b) for a, b in zip(p, self.points[0], strict=True)) < 1e-6 for p in self.points):
            raise ValueError(
                "all points of the rail lie on one place, so it leads nowhere; draw at least two"
            )
        return self


class Leg(Model):
    """One leg of a flight: how long it takes to a perch, and how long it waits there, frames.

    The first leg's time is none: the flight begins on its perch.
    """

    to: Annotated[OnPerch, Role("flies to", moves=True, needs="pose", left="what it did to {} is keys now")]
    frames: int = Field(default=48, ge=1, le=MAX_FRAMES)
    wait: int = Field(default=0, ge=0, le=MAX_FRAMES)
    feel: Feel = "soft"
    #: Swung round this on its way, rather than straight.
    round: Annotated[
        Spot | None, Role("swings round", moves=True, needs="pose", left="what it did to {} is keys now")
    ] = None


class Flight(Shifted):
    """Goes along a list of perches; the offset is in stage axes."""

    CHANNELS: ClassVar[tuple[ChannelSpec, ...]] = (WEIGHT, *_SHIFTED, *_TURNED)

    kind: Literal["flight"] = "flight"
    legs: tuple[Leg, ...] = Field(min_length=2, max_length=200)


class Level(Layer):
    """Takes out the roll, or the tilt too."""

    CHOICES = (Choice("what", "Takes out", {"roll": "roll", "both": "roll and tilt"}),)

    kind: Literal["level"] = "level"
    what: Literal["roll", "both"] = "roll"


_SEEN = (
    _spec("x", "Across the frame", "", -10.0, 10.0, 3, 0.01),
    _spec("y", "Up the frame", "", -10.0, 10.0, 3, 0.01),
)
_WATCHES = Role("watches", turns=True, left="what it did to {} is keys now")


class Aim(Layer):
    """Watches something: puts it on a place in the frame (−1…1), or leaves it be within a calm zone."""

    CHANNELS: ClassVar[tuple[ChannelSpec, ...]] = (
        WEIGHT, *_SEEN, _seconds("lag_s", "Late by"), _spec("wide", "Calm across", "", 0.0, 2.0, 2, 0.02),
        _spec("high", "Calm upright", "", 0.0, 2.0, 2, 0.02), *_TURNED[:2],
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
    x: Channel = _STILL
    y: Channel = _STILL
    lag_s: Channel = _STILL
    wide: Channel = Channel(rest=0.3)
    high: Channel = Channel(rest=0.3)
    pan_deg: Channel = _STILL
    tilt_deg: Channel = _STILL


class SizeHold(Layer):
    """Keeps a figure's part this tall, as a share of the frame's height: the lens answers, or the arm's reach."""

    CHANNELS: ClassVar[tuple[ChannelSpec, ...]] = (
        WEIGHT,
        _spec("share", "Share of the frame", "", 0.001, 20.0, 3, 0.01),
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
        WEIGHT, _spec("place_mm", "Place", "mm", 0.0, 1000.0, 1, 0.5), _spec("turn_deg", "Turn", "°", 0.0, 45.0, 2, 0.05),
        _spec("hertz", "Pace", "Hz", 0.01, 20.0, 2, 0.05),
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


AnyLayer = Annotated[
    Carrier | Trail | Arm | Rail | Flight | Level | Aim | SizeHold | Breath, Field(discriminator="kind")
]


#: Every kind, in the order in which they run.
LAYERS: tuple[type[Layer], ...] = (Carrier, Trail, Arm, Rail, Flight, Level, Aim, SizeHold, Breath)


def in_order(layers: tuple[Any, ...]) -> list[Any]:
    """Layers in the order in which they run."""
    return sorted(layers, key=lambda layer: STAGES[layer.kind])
