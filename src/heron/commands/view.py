"""A view, as commands are given one."""

from pydantic import Field

from heron.model import Degrees, Metres, Model


class View(Model):
    """A pose on the stage, metres and degrees; the focal length and the focus distance where they count."""

    x: Metres
    y: Metres
    z: Metres
    pan: Degrees = 0.0
    tilt: Degrees = 0.0
    roll: Degrees = 0.0
    focal: float | None = Field(default=None, gt=0.0, le=5000.0)
    focus_m: float | None = Field(default=None, gt=0.0, le=1e6)
