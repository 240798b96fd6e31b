"""Nods, shakes and glances of a head, on top of whatever it looks at."""

from typing import Any

import numpy as np

from heron.stage.acts.base import content_count, content_frames
from heron.stage.acts.look import LookAbout, Nod, ShakeHead
from heron.stage.body.postures import soft
from heron.stage.figure import Figure

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: Of such a movement so much is in the head's joint; the rest is the neck's.
IN_HEAD = 0.65


def head_gestures(figure: Figure, t: Floats, fps: float) -> Floats:
    """(n, 2) degrees: how far a head is raised and turned to the left by what it does over frames."""
    out = np.zeros((len(t), 2))
    for act in figure.acts:
        if not isinstance(act, Nod | ShakeHead | LookAbout):
            continue
        inside = (t >= act.frames.first) & (t <= act.frames.last)
        if not inside.any():
            continue
        s, total = content_frames(act, t[inside]) / fps, content_count(act) / fps
        ends = soft(s / 0.1) * soft((total - s) / 0.25)
        if isinstance(act, Nod):
            # Up a little first, then down and up, ever less.
            beats = -np.sin(2 * np.pi * 1.7 * np.maximum(s - 0.1, 0.0)) * np.exp(-s / 0.75)
            first = 0.24 * np.exp(-(((s - 0.08) / 0.06) ** 2))
            out[inside, 0] += act.energy * 13.0 * (beats + first) * ends
        elif isinstance(act, ShakeHead):
            out[inside, 1] += act.energy * 18.0 * np.sin(2 * np.pi * 1.5 * s) * 0.75 ** (1.5 * s) * ends
        else:
            one, two = 0.12 * total, 0.5 * total
            aside = (
                soft((s - 0.05 * total) / one)
                - 2 * soft((s - two) / (1.6 * one))
                + soft((s - 0.86 * total) / one)
            )
            out[inside, 1] += act.angle * aside
            if len(aside) > 1:
                out[inside, 0] -= 3.0 * np.abs(np.gradient(aside)) * fps * 0.1
    return out
