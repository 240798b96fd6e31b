"""What a view is of: the thing a person would say it frames."""

import numpy as np

from heron.bake import Bake
from heron.framing.project import project
from heron.scene.camera import Camera
from heron.scene.focus import AtDistance, FocusOn
from heron.stage.piece import shares_on
from heron.stage.rays import meets
from heron.stage.reference import AtPoint, OnFigure, OnMover, OnPiece
from heron.stage.turning import pan_tilt_roll
from heron.timebase import Frames

#: A mover is what is framed when it lies this near the middle of the frame (1 is its edge).
_MIDDLE = 0.35


def framed(bake: Bake, camera: Camera, frame: int, without: str = "") -> FocusOn:
    """What a camera frames at a frame, to be focused on; never the figure that is left out.

    The eyes of the figure nearest the middle of the frame; else a mover near the middle; else what the
    axis meets first, a set piece or the ground; else, looking at the sky, infinity.
    """
    here = bake.samples(camera, Frames(first=frame, last=frame))
    at = np.array([frame])
    best: tuple[float, FocusOn] | None = None
    people: list[OnFigure] = [
        OnFigure(figure=f.id, joint="eyes") for f in bake.scene.visible.figures if f.id != without
    ]
    things: list[OnMover] = [OnMover(mover=m.id) for m in bake.scene.visible.movers]
    for spots, edge in ((people, 1.0), (things, _MIDDLE)):
        for spot in spots:
            seen = project(here, bake.place(spot, at))
            if not seen.inside[0]:
                continue
            off = float(np.hypot(seen.x[0], seen.y[0]))
            if max(abs(seen.x[0]), abs(seen.y[0])) <= edge and (best is None or off < best[0]):
                best = (off, spot)
        if best is not None:
            return best[1]
    row = here.at(frame)
    eye = np.array([row["x"], row["y"], row["z"]])
    axis = pan_tilt_roll(*(np.array([row[name]]) for name in ("pan", "tilt", "roll"))).apply(
        [0.0, 0.0, -1.0]
    )[0]
    hits = [
        (far, piece) for piece in bake.scene.visible.pieces if (far := meets(piece, eye, axis)) is not None
    ]
    ground = -eye[1] / axis[1] if axis[1] < -1e-6 and eye[1] > 0 else np.inf
    far, piece = min(hits, key=lambda hit: hit[0], default=(np.inf, None))
    if piece is not None and far <= ground:
        across, up, along = shares_on(piece, *(eye + far * axis))
        return OnPiece(piece=piece.id, across=round(across, 4), up=round(up, 4), along=round(along, 4))
    if np.isfinite(ground) and ground < row["far_m"]:
        x, _, z = (round(float(v), 3) for v in eye + ground * axis)
        return AtPoint(x=x, y=0.0, z=z, of="the ground")
    return AtDistance(metres=None)
