"""What is wrong with an angle at a frame, for whoever chooses between many at a glance."""

from heron.bake import Bake
from heron.framing.moved import first_met
from heron.framing.project import project
from heron.scene import Camera
from heron.stage.reference import OnFigure, OnMover
from heron.timebase import Frames

#: A figure is in an angle where one of these is.
_PARTS = ("eyes", "chest", "pelvis")


def angle_said(bake: Bake, camera: Camera, frame: int) -> str:
    """`Nothing in the frame`, what hides all that is in it, `Out of focus`; empty, where there is nothing to say."""
    one = Frames(first=frame, last=frame)
    here = bake.samples(camera, one)
    row, lens = here.at(frame), here.values[0, :3]

    def seen(spot: OnFigure | OnMover) -> float | None:
        """How far along the axis it is, metres; None outside the frame."""
        found = project(here, bake.place(spot, one.array()))
        return float(found.depth[0]) if found.inside[0] else None

    depths = [
        far for mover in bake.scene.visible.movers if (far := seen(OnMover(mover=mover.id))) is not None
    ]
    hidden: list[str] = []
    for figure in bake.scene.visible.figures:
        spots = [OnFigure(figure=figure.id, joint=part) for part in _PARTS]
        there = [(spot, far) for spot in spots if (far := seen(spot)) is not None]
        behind = [first_met(bake, lens, bake.place(spot, one.array())[0]) for spot, _ in there]
        if there and all(behind):
            hidden += [name for name in behind if name is not None]
        else:
            depths += [far for _, far in there]
    if not depths:
        return f"Hidden by {hidden[0]}" if hidden else "Nothing in the frame"
    sharp = [row["sharp_far_per_m"] <= 1 / far <= row["sharp_near_per_m"] for far in depths]
    return "" if any(sharp) else "Out of focus"
