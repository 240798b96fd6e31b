"""Movers: things that follow keyed paths, ride on one another, turn on hinges and are held."""

from typing import Annotated, Any, ClassVar, Literal, get_args

from pydantic import Field, model_validator

from heron.curves import Channel, Keyed, pose_specs
from heron.curves.spec import ChannelSpec
from heron.model import Colour, Id, Name
from heron.stage.light import Light
from heron.stage.reference import LinkTo, Role

#: What it is drawn as: a shape of its own, or the set pieces that are part of it.
MoverShape = Literal["heron", "boat", "cart", "pony", "oar", "lamp", "pieces"]
SHAPES: tuple[MoverShape, ...] = get_args(MoverShape)
#: The place on a rigid shape that a person means by the thing itself, metres in its own frame.
MIDDLE: dict[str, tuple[float, float, float]] = {"boat": (0.0, 0.35, 0.0), "cart": (0.0, 0.6, 0.0)}
Axis = Literal["upright", "across", "along"]
#: Unit vectors in the mover's own frame.
AXES: dict[Axis, tuple[float, float, float]] = {
    "upright": (0.0, 1.0, 0.0), "across": (1.0, 0.0, 0.0), "along": (0.0, 0.0, 1.0),
}  # fmt: skip


class _Joint(Keyed):
    """How far a thing may go from where its pose has it, along or about one axis through its origin."""

    axis: Axis = "upright"
    open: Channel = Channel()

    @model_validator(mode="after")
    def _within(self) -> Any:
        spec, low, high = self.CHANNELS[0], self.least, self.most  # type: ignore[attr-defined]
        if low >= high:
            raise ValueError(f"a hinge must open by more than from {spec.said(low)} to {spec.said(high)}")
        least, most = self.open.span
        if least < low - 1e-9 or most > high + 1e-9:
            wrong = least if least < low else most
            raise ValueError(
                f"{spec.label} must be from {spec.said(low)} to {spec.said(high)}, as far as it opens; it was {spec.said(wrong)}"
            )
        return self


class Hinge(_Joint):
    """Turns about an axis through the thing's origin, right-handed, degrees."""

    CHANNELS = (
        ChannelSpec(
            name="open", label="Open", unit="°", low=-360, high=360, measure="degrees", digits=1, step=1.0, group="layer"
        ),
    )  # fmt: skip
    kind: Literal["hinge"] = "hinge"
    least: float = Field(default=0.0, ge=-360, le=360)
    most: float = Field(default=110.0, ge=-360, le=360)


class Slide(_Joint):
    """Slides along an axis of the thing, metres."""

    CHANNELS = (
        ChannelSpec(
            name="open", label="Open", unit="m", low=-20, high=20, measure="metres", step=0.02, group="layer"
        ),
    )  # fmt: skip
    kind: Literal["slide"] = "slide"
    least: float = Field(default=0.0, ge=-20, le=20)
    most: float = Field(default=1.0, ge=-20, le=20)


class Mover(Keyed):
    """A rigid thing; its channels are metres and degrees, as a camera's are: on the stage, or in the frame of what it is on.

    Where the scene's acts have somebody hold it, it goes with the hand from then on, and lies where it is put.
    """

    CHANNELS = pose_specs(pan="Faces", tilt="Pitch")
    NOT_HASHED: ClassVar[frozenset[str]] = frozenset({"id", "name", "colour", "hidden"})

    id: Id
    name: Name
    shape: MoverShape
    colour: Colour = "#7d8791"
    on: Annotated[
        Id | None,
        LinkTo("movers"),
        Role("is on", moves=True, needs="same", goes=True, left="{} goes with it"),
    ] = None
    #: A camera that it rides with, in place of something it is on.
    with_camera: Annotated[
        Id | None,
        LinkTo("cameras"),
        Role("rides with", moves=True, needs="pose", left="{} stays where it was beside it"),
    ] = None
    hinge: Annotated[Hinge | Slide, Field(discriminator="kind")] | None = None
    light: Light | None = None
    #: Neither seen in pictures nor lighting them; it is followed all the same.
    hidden: bool = False
    x: Channel = Channel()
    y: Channel = Channel()
    z: Channel = Channel()
    pan: Channel = Channel()
    tilt: Channel = Channel()
    roll: Channel = Channel()

    @model_validator(mode="after")
    def _on_one(self) -> "Mover":
        if self.on is not None and self.with_camera is not None:
            raise ValueError("a thing rides on another or with a camera, not both")
        return self
