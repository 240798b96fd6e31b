"""A camera: its letter and name, its film back and lens, and its keyed pose."""

from typing import Annotated

from pydantic import StringConstraints

from heron.curves import Channel
from heron.model import Id, Model, Name
from heron.optics import Lens

Letter = Annotated[str, StringConstraints(pattern=r"^[A-Z]{1,3}$")]
#: The channels one key on a camera sets together: place in metres, direction in degrees.
POSE = ("x", "y", "z", "pan", "tilt", "roll")


class Camera(Model):
    """Channels: `x` `y` `z` metres on the stage; `pan` `tilt` `roll` degrees; `focal` mm."""

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
    hidden: bool = False
    locked: bool = False

    def key_frames(self) -> list[int]:
        """Every frame that has a key on the pose, in order."""
        return sorted({key.frame for name in POSE for key in getattr(self, name).keys})


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
