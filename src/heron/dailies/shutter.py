"""When the shutter is open for a frame."""

from collections.abc import Iterable

from heron.timebase import Frames


def open_over(frame: int, angle_deg: float, jumps: Iterable[int], scene: Frames) -> tuple[float, float]:
    """The stage frames, with fractions, between which the shutter is open: centred on the frame.

    Angle / 360 of a frame long, as on any rotary shutter. It never reaches across a jump within a camera, which is
    suddenly elsewhere on the frame that is named: on both sides a frame is blurred by what lies on its own side. Nor
    does it reach out of the scene.

    Args:
        jumps: frames on which the camera is suddenly elsewhere.
    """
    half = angle_deg / 720.0
    opens = max(frame - half, float(scene.first))
    closes = min(frame + half, float(scene.last))
    for jump in jumps:
        if jump <= frame:
            opens = max(opens, float(jump))
        else:
            closes = min(closes, float(jump))
    return opens, closes
