"""Every kind of note: when it speaks, how strictly, and where that comes from."""

from dataclasses import dataclass
from typing import Any, Literal

import numpy as np

Floats = np.ndarray[Any, np.dtype[np.float64]]
_HABIT = "common practice"
_OURS = "common practice; the number is ours"


@dataclass(frozen=True)
class Kind:
    """A kind of note.

    A measure is severe by how far it is past its threshold: 0.5 at it, 1 so far past it as `scale` says.

    Attributes:
        of: a frame of a camera, or a cut.
        worse: 1 where more is worse, −1 where less is.
        ends: a note that has begun goes on until it is less severe than this.
        shortest, joins: frames that it lasts at least, and over which two become one.
        gravity: how much of what is over the threshold counts.
    """

    name: str
    label: str
    of: Literal["frame", "cut"]
    unit: str
    threshold: float
    least: float
    most: float
    scale: float
    worse: Literal[1, -1]
    source: str
    ends: float = 0.35
    shortest: int = 8
    joins: int = 6
    gravity: float = 1.0

    def severity(self, measure: Any, threshold: float | None = None, usual: Any = 1.0) -> Floats:
        """0 to 1, 0.5 at the threshold; 0 where nothing was measured.

        Args:
            usual: what the threshold is multiplied by, where it is another for each frame.
        """
        at = (self.threshold if threshold is None else threshold) * np.asarray(usual)
        past = self.worse * (np.asarray(measure, dtype=np.float64) - at) / self.scale
        return np.nan_to_num(np.clip(0.5 + 0.5 * past, 0.0, 1.0), nan=0.0)

    def weight(self, severity: float) -> float:
        """What a note weighs beside others: its severity, less by its gravity."""
        return min(severity, 0.5 + (severity - 0.5) * self.gravity)


_FRAME = (
    Kind("joint-cut", "An edge through a joint", "frame", "", 0.27, 0.05, 0.95, 0.73, 1, _HABIT, 0.45),
    Kind("headroom-low", "Too little headroom", "frame", "share of the height", 0.025, 0.0, 0.2, 0.025, -1, _OURS),
    Kind(
        "headroom-high", "Too much headroom", "frame", "eyes below the upper edge, share of the height",
        0.45, 0.34, 0.7, 0.12, 1, _OURS,
    ),
    Kind(
        "looking-room", "Too little looking room", "frame", "share of the width that is missing",
        0.0, -0.2, 0.5, 0.07, 1, _OURS, 0.38, 12, 10,
    ),
    Kind(
        "thirds", "Eyes off the upper third", "frame", "share of the height", 0.12, 0.02, 0.5, 0.12, 1, _HABIT,
        0.4, 16, 12, 0.2,
    ),
    Kind("growing-out", "Something grows out of a head", "frame", "", 0.3, 0.05, 0.95, 0.7, 1, _HABIT, 0.43, 8, 8),
    Kind(
        "touching-edge", "An outline touches an edge", "frame", "share of the height", 0.013, 0.0, 0.05, 0.013, -1,
        _OURS,
    ),
    Kind("heads-overlap", "Heads overlap", "frame", "head widths apart", 0.98, 0.3, 1.3, 0.3, -1, _OURS),
    Kind(
        "merges", "Nothing parts them from the ground", "frame", "stops of brightness", 0.55, 0.1, 2.0, 0.55, -1, _OURS,
        0.4, 12, 12, 0.8,
    ),
    Kind(
        "foreground", "Something across the picture", "frame", "share of its middle", 0.22, 0.05, 0.9, 0.4, 1, _OURS,
        0.35, 8, 8,
    ),
    Kind("face-hidden", "A face hidden", "frame", "share of the face", 0.35, 0.05, 0.95, 0.65, 1, _OURS, 0.4, 6, 6),
    Kind(
        "feet-cut", "Feet cut off", "frame", "share of the stature above the soles", 0.105, 0.0, 0.2, 0.1, -1, _HABIT,
    ),
    Kind(
        "too-small", "Too small to read", "frame", "share of the height", 0.095, 0.01, 0.5, 0.07, -1, _OURS,
        0.4, 12, 12,
    ),
    Kind(
        "line-through-head", "A line through a head", "frame", "stops of brightness", 0.75, 0.2, 4.0, 1.5, 1, _HABIT,
        0.38, 10, 10, 0.3,
    ),
    Kind(
        "lens", "The lens against the size", "frame", "times the shortest that is usual", 1.0, 0.3, 2.0, 0.4, -1,
        _HABIT, 0.4, 12, 12,
    ),
    Kind(
        "separation", "Too close to what is behind", "frame", "metres from it", 1.0, 0.2, 4.0, 1.0, -1, _OURS,
        0.4, 12, 12, 0.6,
    ),
    Kind("focus", "Out of focus", "frame", "pixels of 1,080", 4.0, 0.5, 60.0, 12.0, 1, _OURS, 0.4, 6, 6),
    Kind(
        "roll", "A roll that looks unmeant", "frame", "degrees", 0.45, 0.05, 4.5, 2.0, 1, _OURS, 0.4, 12, 12, 0.6,
    ),
    Kind("inside", "The camera inside something", "frame", "metres from it", 0.0, 0.0, 0.5, 0.2, -1, "a camera is solid", 0.5, 1, 2),
    Kind("under-floor", "The camera under the floor", "frame", "metres above it", 0.02, 0.0, 0.5, 0.2, -1, "a floor is solid", 0.5, 1, 2),
    Kind(
        "near-plane", "Cut open by the nearest that is drawn", "frame", "of that distance", 1.0, 1.0, 4.0, 1.0, -1,
        "what is nearer is not drawn", 0.5, 1, 2,
    ),
    Kind(
        "overshoot", "A move goes too far and comes back", "frame", "share of the width", 0.008, 0.002, 0.1, 0.03, 1,
        _OURS, 0.4, 4, 6, 0.6,
    ),
    Kind("leaves", "Whom it is about leaves", "frame", "frames out of the frame", 6, 1, 240, 40.0, 1, _OURS, 0.5, 6, 6),
)  # fmt: skip
_CUT = (
    Kind("gap", "Black between two shots", "cut", "frames", 1, 1, 240, 24.0, 1, _HABIT),
    Kind("short", "Too short to read", "cut", "frames", 12, 1, 48, 12.0, -1, _OURS),
    Kind("time", "Stage time skipped or shown twice", "cut", "frames", 1, 1, 240, 24.0, 1, _HABIT),
    Kind("line-of-action", "The line of action crossed", "cut", "degrees past it", 8, 0, 60, 52.0, 1, "the 180° rule"),
    Kind("jump", "A jump cut", "cut", "degrees round the subject", 28, 5, 60, 28.0, -1, "the 30° rule"),
    Kind("direction", "Screen direction turned round", "cut", "of its way across", 0.25, 0.05, 0.9, 0.75, 1, _HABIT),
    Kind("eye-jump", "Eyes must jump across", "cut", "times what is usual", 1.0, 0.3, 2.0, 1.0, 1, _OURS),
    Kind("eye-lines", "Eye lines do not meet", "cut", "of what is usual", 1.0, 0.3, 4.0, 2.0, 1, _HABIT),
    Kind("singles", "Singles do not match", "cut", "times what is usual", 1.0, 0.3, 3.0, 1.0, 1, _HABIT),
    Kind("late", "A cut after the movement", "cut", "frames after it", 3, 1, 24, 24.0, 1, _OURS, gravity=0.6),
    Kind("unsettled", "A move that has not come to rest", "cut", "of the frame in a frame", 0.0035, 0.0005, 0.02, 0.01, 1, _OURS),
    Kind("same-size", "The same size three times", "cut", "shots", 3, 2, 8, 4.0, 1, _OURS, gravity=0.3),
)  # fmt: skip
KINDS: dict[str, Kind] = {kind.name: kind for kind in (*_FRAME, *_CUT)}
