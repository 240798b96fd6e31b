"""Movers: rigid things that follow keyed paths."""

from typing import Literal

from heron.curves import Channel
from heron.model import Colour, Id, Model, Name


class Mover(Model):
    """A rigid thing; its channels are metres and degrees, as a camera's are."""

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
