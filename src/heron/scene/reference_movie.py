"""A reference movie: something filmed or a story reel, shown beside the picture or through it, in step."""

from typing import Literal

from pydantic import Field

from heron.model import FileKey, Model, Name

#: The longest reference movie, seconds; ours.
LONGEST_S = 1200.0


class ReferenceMovie(Model):
    """Which movie, and where it begins.

    Attributes:
        file: its key; seconds, fps: how long it is and how many pictures a second it has.
        clock: what it goes in step with: the frames of the stage, or those of the cut.
        first: the frame of that clock at which it begins.
    """

    file: FileKey
    name: Name
    seconds: float = Field(gt=0, le=LONGEST_S)
    fps: float = Field(gt=0, le=1000)
    clock: Literal["stage", "cut"] = "cut"
    first: int = Field(default=0, ge=-100_000, le=1_000_000)
