"""Movers: things that follow keyed paths."""

from typing import ClassVar, Literal

from heron.curves import Channel, Keyed, pose_specs
from heron.model import Colour, Id, Name

#: The place on a rigid shape that a person means by the thing itself, metres in its own frame.
MIDDLE = {"boat": (0.0, 0.35, 0.0)}


class Mover(Keyed):
    """A rigid thing; its channels are metres and degrees, as a camera's are."""

    CHANNELS = pose_specs(pan="Faces", tilt="Pitch")
    NOT_HASHED: ClassVar[frozenset[str]] = frozenset({"id", "name", "colour"})

    id: Id
    name: Name
    shape: Literal["heron", "boat"]
    colour: Colour = "#7d8791"
    x: Channel = Channel()
    y: Channel = Channel()
    z: Channel = Channel()
    pan: Channel = Channel()
    tilt: Channel = Channel()
    roll: Channel = Channel()
