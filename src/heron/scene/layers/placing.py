"""Layers that say where a camera is: carrier, trail, arm, rail, flight."""

from typing import Annotated, ClassVar, Literal

from pydantic import Field, model_validator

from heron.curves import Channel, ChannelSpec
from heron.curves.feel import Feel
from heron.model import Metres, Model
from heron.scene.layers.base import (
    ANGLES,
    SHIFTED,
    STILL,
    TURNED,
    WEIGHT,
    Choice,
    Plain,
    Shifted,
    Turned,
    degrees,
    metres,
    seconds,
)
from heron.stage.reference import OnPerch, Role, Spot
from heron.timebase.frames import MAX_FRAMES


class Carrier(Shifted):
    """Rides on something: its place only, or turning with it. The offset is in stage axes, or in the thing's own."""

    CHANNELS: ClassVar[tuple[ChannelSpec, ...]] = (WEIGHT, *SHIFTED, *TURNED)
    CHOICES = (Choice("how", "Rides", {"place": "its place only", "all": "turning with it"}),)
    IDLE = (("how", "place", ANGLES),)

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
        WEIGHT, degrees("angle_deg", "Angle round it"), metres("distance_m", "Distance", 0.0),
        metres("height_m", "Height above it"), seconds("lag_s", "Late by"), seconds("lag_height_s", "Late in height by"),
        metres("behind_m", "Behind along its path", 0.0), *TURNED,
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
        WEIGHT, degrees("bearing_deg", "Bearing"), degrees("height_deg", "Height angle", -89.9, 89.9),
        metres("reach_m", "Reach", 0.01), *TURNED,
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
    bearing_deg: Channel = STILL
    height_deg: Channel = STILL
    reach_m: Channel = Channel(rest=4.0)


class Rail(Shifted):
    """Runs along a drawn path by metres; the offset is in stage axes."""

    CHANNELS: ClassVar[tuple[ChannelSpec, ...]] = (
        WEIGHT,
        metres("metres", "Along the rail"),
        *SHIFTED,
        *TURNED,
    )

    CHOICES = (Choice("faces", "Faces", {"keys": "as its keys say", "along": "the way it runs"}),)
    IDLE = (("faces", "keys", ANGLES),)

    kind: Literal["rail"] = "rail"
    points: tuple[tuple[Metres, Metres, Metres], ...] = Field(min_length=2, max_length=200)
    #: Where it looks: as the keys say, or the way the rail runs.
    faces: Literal["keys", "along"] = "keys"
    metres: Channel = STILL

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

    CHANNELS: ClassVar[tuple[ChannelSpec, ...]] = (WEIGHT, *SHIFTED, *TURNED)

    kind: Literal["flight"] = "flight"
    legs: tuple[Leg, ...] = Field(min_length=2, max_length=200)
