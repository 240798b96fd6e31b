"""Lines laid over the frame: safe areas, thirds, centre, diagonals, and another aspect inside it."""

from typing import Literal

from heron.model import Model

SafeArea = Literal["smpte", "ebu"]
#: Share of the frame's width and height: SMPTE ST 2046-1 (safe action, safe title) and EBU R 95
#: (action safe, graphics safe; 3.5 % and 5 % in from each edge). From memory.
SAFE_AREAS: dict[SafeArea, tuple[tuple[str, float], ...]] = {
    "smpte": (("Safe action", 0.93), ("Safe title", 0.90)),
    "ebu": (("Action safe", 1 - 2 * 0.035), ("Graphics safe", 1 - 2 * 0.05)),
}
Segment = tuple[float, float, float, float]


class FrameLine(Model):
    """One set of lines: segments (x0, y0, x1, y1) in −1 to 1, Y up; and a box's half sides, if it is one."""

    group: Literal["safe", "thirds", "centre", "diagonals", "protect"]
    label: str
    segments: tuple[Segment, ...]
    box: tuple[float, float] | None = None


def frame_lines(aspect: float, safe: SafeArea = "smpte", protect: float | None = None) -> list[FrameLine]:
    """Every line that can be laid over a frame of an aspect.

    Args:
        protect: the aspect that must still work when the frame is cropped to it.
    """
    third, tick = 1 / 3, 0.06
    out = [_box("safe", label, share, share) for label, share in SAFE_AREAS[safe]]
    out.append(
        FrameLine(
            group="thirds",
            label="Thirds",
            segments=(
                (-third, -1, -third, 1), (third, -1, third, 1), (-1, -third, 1, -third), (-1, third, 1, third),
            ),
        )
    )  # fmt: skip
    cross = ((-tick / aspect, 0.0, tick / aspect, 0.0), (0.0, -tick, 0.0, tick))
    out.append(FrameLine(group="centre", label="Centre", segments=cross))
    out.append(FrameLine(group="diagonals", label="Diagonals", segments=((-1, -1, 1, 1), (-1, 1, 1, -1))))
    if protect is not None:
        wide, high = (protect / aspect, 1.0) if protect < aspect else (1.0, aspect / protect)
        out.append(_box("protect", "Protected", wide, high))
    return out


def _box(group: Literal["safe", "protect"], label: str, wide: float, high: float) -> FrameLine:
    sides = (
        (-wide, -high, wide, -high), (wide, -high, wide, high), (wide, high, -wide, high), (-wide, high, -wide, -high),
    )  # fmt: skip
    return FrameLine(group=group, label=label, segments=sides, box=(wide, high))
