"""Lines laid over the frame: safe areas, thirds, centre, diagonals, and another aspect inside it."""

from collections.abc import Sequence
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
    """One set of lines: segments (x0, y0, x1, y1) in −1 to 1, Y up; and a box's half sides and its middle, if it is one."""

    group: Literal["safe", "thirds", "centre", "diagonals", "golden", "protect"]
    label: str
    segments: tuple[Segment, ...]
    box: tuple[float, float] | None = None
    middle: tuple[float, float] = (0.0, 0.0)


def frame_lines(
    aspect: float, safe: SafeArea = "smpte", protect: Sequence[float] = (), follow: float = 0.0
) -> list[FrameLine]:
    """Every line that can be laid over a frame of an aspect.

    Args:
        protect: the aspects that must still work when the frame is cropped to them.
        follow: where across the frame what they follow is: as near to their middle as the frame lets it be.
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
    section = (5**0.5 - 1) / 2
    off = 2 * section - 1
    out.append(
        FrameLine(
            group="golden", label="Golden section",
            segments=((-off, -1, -off, 1), (off, -1, off, 1), (-1, -off, 1, -off), (-1, off, 1, off)),
        )
    )  # fmt: skip
    for one in protect:
        wide, high = (one / aspect, 1.0) if one < aspect else (1.0, aspect / one)
        label = "Protected" if len(protect) == 1 else f"Protected {one:.3g}"
        out.append(_box("protect", label, wide, high, min(max(follow, wide - 1), 1 - wide)))
    return out


def _box(
    group: Literal["safe", "protect"], label: str, wide: float, high: float, x: float = 0.0
) -> FrameLine:
    left, right = x - wide, x + wide
    sides = (
        (left, -high, right, -high), (right, -high, right, high), (right, high, left, high), (left, high, left, -high),
    )  # fmt: skip
    return FrameLine(group=group, label=label, segments=sides, box=(wide, high), middle=(x, 0.0))
