"""The seen strip: the subject as the audience sees it, the camera's own motion, and how large the background reads."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from heron.bake import Bake
from heron.framing.seen import seen_strip
from heron.motion.signals import Signals, signals
from heron.scene.camera import Camera
from heron.stage.reference import Spot
from heron.timebase import parse_rate

Floats = np.ndarray[Any, np.dtype[np.float64]]

#: What an operator with a camera can do: metres a second, degrees a second, metres a second squared (ours: a run, a whip
#: and a hard stop lie beyond).
LIMITS = {"travel": 3.0, "turn": 90.0, "push": 5.0}
#: The columns of a strip: share of the frame's height, place −1…1, shares of the frame's height a second; metres a second,
#: degrees a second, metres a second squared; how many times as large the background reads beside the subject as at first.
COLUMNS = ("height", "x", "y", "speed", "travel", "turn", "push", "background")


@dataclass(frozen=True)
class Strip:
    """(n, columns) over the scene's frames, NaN where there is nothing, and the signals it is made of."""

    values: Floats
    signals: Signals


def strip(bake: Bake, camera: Camera, spot: Spot) -> Strip:
    """What a camera's move is for the eye.

    Raises:
        NotFound: the subject is not in the scene.
    """
    fps = float(parse_rate(bake.scene.rate))
    seen = seen_strip(bake, camera, spot)
    s = signals(bake, camera, spot)
    n = len(s.size)
    here = bake.samples(camera).values
    still = np.zeros(n, dtype=bool)
    # A cut is not a motion of the camera; a jump of its own is none that an operator makes.
    for frame in bake.jumps(camera):
        if frame in bake.scene.frames:
            still[frame - s.first] = True
    went = np.diff(here[:, :3], axis=0, prepend=here[:1, :3]) * fps
    went[still] = 0.0
    turned = np.hypot(np.diff(here[:, 3], prepend=here[0, 3]), np.diff(here[:, 4], prepend=here[0, 4])) * fps
    turned[still] = 0.0
    push = np.linalg.norm(np.diff(went, axis=0, prepend=went[:1]), axis=1) * fps
    push[still | np.concatenate([[False], still[:-1]])] = 0.0
    height = np.exp(s.size) if seen.height is None else seen.height
    first = s.away[np.isfinite(s.away)][:1]
    background = s.away / max(float(first[0]) if len(first) else 1.0, 1e-9)
    values = np.column_stack(
        [height, seen.x, seen.y, seen.speed * fps, np.linalg.norm(went, axis=1), turned, push, background]
    )
    return Strip(values, s)


def beyond(found: Strip) -> list[tuple[int, int, str]]:
    """(first, last, sentence) of where no operator could follow: runs of frames above a limit."""
    out = []
    words = {
        "travel": "goes faster than an operator walks and runs", "turn": "turns faster than an operator can",
        "push": "starts or stops harder than an operator can",
    }  # fmt: skip
    units = {"travel": "m/s", "turn": "°/s", "push": "m/s²"}
    for name, most in LIMITS.items():
        values = found.values[:, COLUMNS.index(name)]
        edges = np.flatnonzero(np.diff(np.concatenate([[0], (values > most).astype(int), [0]])))
        for a, b in zip(edges[::2], edges[1::2], strict=True):
            top = float(values[a:b].max())
            out.append(
                (
                    found.signals.first + int(a), found.signals.first + int(b) - 1,
                    f"The camera {words[name]}: {top:.3g} {units[name]}, over {most:g}",
                )
            )  # fmt: skip
    return sorted(out)
