"""What is asked of a render, and what of it can be done."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from heron.errors import Refused
from heron.framing.lines import SafeArea
from heron.model import Id, Model, Name
from heron.optics import parse_deliveries
from heron.timebase import Frames

#: Heights of a picture, in pixels. The highest is twice 2160.
LOWEST, HIGHEST = 16, 4320
#: How many drawings make a fine picture; as many as the viewfinder's at rest.
FINE = 64
LineGroup = Literal["safe", "thirds", "centre", "diagonals", "golden", "protect"]


class Render(Model):
    """What is drawn, how, what is written on it, and what comes out.

    Attributes:
        of: the whole cut, some of its shots, or a camera over a range of the stage.
        high: of the picture, pixels; its width follows from the delivery aspect.
        quality: one drawing a frame; many, through the lens's opening and over the open shutter; or as many as fit
            some seconds.
        spare: frames drawn besides at both ends of each shot, for the editor.
        said: what is said at the frame, on the slate.
        jpeg: compression, 1 (small) to 100 (best).
        movie_factor: H.264's constant rate factor, 10 (large, hardly to be told from the pictures) to 40 (small).
    """

    of: Literal["cut", "shots", "camera"] = "cut"
    shots: tuple[Id, ...] = ()
    camera: Id | None = None
    frames: Frames | None = None
    high: int = Field(default=540, ge=LOWEST, le=HIGHEST)
    quality: Literal["quick", "fine", "timed"] = "quick"
    seconds: float = Field(default=2.0, ge=0.1, le=600.0)
    spare: int = Field(default=0, ge=0, le=240)
    slate: bool = True
    said: bool = False
    lines: tuple[LineGroup, ...] = ()
    safe: SafeArea = "smpte"
    protect: Annotated[str, Field(max_length=60)] = "9:16"
    leader: bool = False
    pictures: Literal["none", "png", "jpeg"] = "none"
    jpeg: int = Field(default=90, ge=1, le=100)
    movie: bool = True
    movie_factor: int = Field(default=20, ge=10, le=40)
    note: Annotated[str, Field(max_length=200)] = ""
    #: How the pictures are changed so that they can be judged; left and right changed over.
    judge: Literal["", "silhouettes", "lines", "values3", "values5", "squint"] = ""
    mirrored: bool = False

    @model_validator(mode="after")
    def _whole(self) -> "Render":
        if "protect" in self.lines:
            parse_deliveries(self.protect)
        return self

    @property
    def drawn_as(self) -> str:
        """How each frame is drawn, for the name that its picture is kept under."""
        how = {"quick": "quick", "fine": f"fine {FINE}", "timed": f"timed {self.seconds:g}"}[self.quality]
        # All other looks are made of a picture that was drawn as it is.
        return f"{how} silhouettes" if self.judge == "silhouettes" else how


class Preset(Model):
    """A way to render, kept under a name; what is rendered is chosen each time."""

    name: Name
    render: Render


def size(render: Render, aspect: float) -> tuple[int, int, str]:
    """Width and height in pixels, and what was done to them, in a sentence.

    A movie's sides are even (H.264 with 4:2:0 colour), so that what is drawn for one is rounded up.
    """
    wide, high = max(round(render.high * aspect), 1), render.high
    if not render.movie:
        return wide, high, ""
    even = (wide + wide % 2, high + high % 2)
    if high == even[1]:
        return *even, ""
    return *even, f"A movie's sides are even, so {wide} × {high} is drawn as {even[0]} × {even[1]}."


def check(render: Render) -> None:
    """See that something comes of it.

    Raises:
        Refused: neither a movie nor pictures are wanted, or it is said of no camera.
    """
    if render.of == "camera" and render.camera is None:
        raise Refused("No camera is chosen.", "Choose one; N makes one of the rover's view.", field="camera")
    if not render.movie and render.pictures == "none":
        raise Refused("This would render nothing.", "Choose a movie, pictures, or both.", field="movie")
