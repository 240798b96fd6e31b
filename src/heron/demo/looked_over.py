"""What somebody with a careful eye did to the demo: notes put aside with their reasons, and a camera that a lookout found."""

from heron.commands import AnyCommand
from heron.commands.cameras import AddCamera, Pose
from heron.commands.noting import PutAside
from heron.stage.reference import OnFigure
from heron.timebase import Frames

#: What was asked for when a lookout found camera M, and over which frames.
FOUND = ("Odile, Bram", Frames(first=1233, last=1283))


def looked_over() -> list[AnyCommand]:
    """The notes that are meant, and both of them from the water: the third view of those that were found."""
    pose = Pose(x=-2.176, y=2.024, z=-8.875, pan=-86.6, tilt=-4.2, roll=0.0)
    eyes = OnFigure(figure="fig-odile", joint="eyes")
    return [
        PutAside(
            id="aside-room", note="headroom-high", camera="cam-b",
            why="Over a shoulder: Bram's cap needs the room over her.",
        ),
        PutAside(id="aside-hips", note="joint-cut", camera="cam-b", why="What her hands do must be seen."),
        PutAside(
            id="aside-shore", note="line-through-head", why="The far shore is behind everybody here, and soft.",
        ),
        AddCamera(id="cam-found", name="Both, from the water", pose=pose, focal=32, focus=eyes, frame=1250),
    ]  # fmt: skip
