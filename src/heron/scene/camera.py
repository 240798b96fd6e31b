"""A camera: its letter and name, its film back and lens, and its keyed pose."""

from typing import Annotated, ClassVar

from pydantic import Field, StringConstraints, model_validator

from heron.curves import Channel, ChannelSpec, Keyed, pose_specs
from heron.model import Id, Label, Name
from heron.optics import Lens
from heron.optics.exposure import (
    FASTEST_ISO,
    LARGEST_SHUTTER,
    NARROWEST_STOP,
    SLOWEST_ISO,
    SMALLEST_SHUTTER,
    WIDEST_STOP,
)
from heron.optics.view import LONGEST_MM, SHORTEST_MM
from heron.scene.focus import Focus
from heron.scene.layers import MOST_LAYERS, AnyLayer, SizeHold
from heron.stage.reference import LinkTo, Role

Letter = Annotated[str, StringConstraints(pattern=r"^[A-Z]{1,3}$")]
#: The channels one key on a camera sets together: place in metres, direction in degrees.
POSE = ("x", "y", "z", "pan", "tilt", "roll")
#: Channels of the lens, keyed each on its own.
GLASS = (
    ChannelSpec(
        name="focal", label="Focal length", unit="mm", low=SHORTEST_MM, high=LONGEST_MM,
        measure="millimetres", digits=1, step=0.5, group="lens",
    ),
    ChannelSpec(
        name="aperture", label="Stop", unit="", front="f/", low=WIDEST_STOP, high=NARROWEST_STOP,
        measure="stops", shown_as="f-number", digits=1, step=0.1, group="lens",
    ),
    ChannelSpec(
        name="exposure", label="Exposure offset", unit="stops", low=-20.0, high=20.0,
        measure="stops", digits=2, step=0.1, group="exposure",
    ),
)  # fmt: skip


class Camera(Keyed):
    """Channels: `x` `y` `z` metres on the stage; `pan` `tilt` `roll` degrees; `focal` mm;
    `aperture` stops, 2·log2 of the f-number; `exposure` stops brighter than the exposure gives.
    """

    CHANNELS = (*pose_specs(), *GLASS)
    NOT_HASHED: ClassVar[frozenset[str]] = frozenset({"id", "name", "letter", "hidden", "locked", "group"})

    id: Id
    letter: Letter
    name: Name
    lens: Lens
    x: Channel = Channel()
    y: Channel = Channel()
    z: Channel = Channel()
    pan: Channel = Channel()
    tilt: Channel = Channel()
    roll: Channel = Channel()
    focal: Channel = Channel(rest=35.0)
    aperture: Channel = Channel(rest=4.0)  # f/4
    exposure: Channel = Channel()
    #: The lens of the kit that is on it, or none: then any focal length and stop will do.
    mounted: Annotated[Annotated[Id, LinkTo("lenses")] | None, Role("has on", left="it comes off {}")] = None
    focus: Focus = Focus()
    shutter_deg: float = Field(default=180.0, ge=SMALLEST_SHUTTER, le=LARGEST_SHUTTER)
    iso: float = Field(default=100.0, ge=SLOWEST_ISO, le=FASTEST_ISO)
    #: Circle of confusion; none for the film back's own.
    confusion_mm: float | None = Field(default=None, ge=0.001, le=1.0)
    #: What moves it besides its keys.
    layers: tuple[AnyLayer, ...] = Field(default=(), max_length=MOST_LAYERS)
    near_m: float = Field(default=0.1, ge=0.001, le=1000.0)
    far_m: float = Field(default=1000.0, ge=0.01, le=20_000.0)
    hidden: bool = False
    locked: bool = False
    #: Group (shown and hidden together).
    group: Label = ""

    @model_validator(mode="after")
    def _clips_in_order(self) -> "Camera":
        if self.far_m <= self.near_m:
            raise ValueError(
                f"camera {self.letter} would clip everything: its far distance {self.far_m:g} m is not beyond its near distance {self.near_m:g} m"
            )
        return self

    @model_validator(mode="after")
    def _layers_apart(self) -> "Camera":
        ids = [layer.id for layer in self.layers]
        if len(set(ids)) < len(ids):
            raise ValueError(f"camera {self.letter} has two layers of one id")
        return self

    @property
    def goes_by_sight(self) -> bool:
        """Whether where it is depends on what it sees: a reach that answers for a size."""
        return any(
            isinstance(one, SizeHold) and one.answers == "reach" and not one.off for one in self.layers
        )

    def why_idle(self, name: str) -> str:
        """Its focus distance does nothing while it is focused on things."""
        if name == "focus.distance" and not self.focus.pulled():
            return f"Camera {self.letter} is focused on other things, not on its own curve."
        layer = next((one for one in self.layers if name.startswith(f"{one.id}.")), None)
        if layer is not None:
            return layer.why_idle(name.removeprefix(f"{layer.id}."))
        return super().why_idle(name)

    def stop(self, kept: float) -> float:
        """The f-number of a value of the aperture's channel."""
        return self.spec("aperture").shown(kept)


def letter_after(taken: set[str]) -> str:
    """The first free letter: A to Z, then AA, AB and so on."""
    number = 1
    while True:
        text, n = "", number
        while n:
            n, digit = divmod(n - 1, 26)
            text = chr(65 + digit) + text
        if text not in taken:
            return text
        number += 1
